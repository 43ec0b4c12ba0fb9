#include "app/review/review_changes.hpp"

#include "app/yard/changes.hpp"

namespace aspen::app {

void add_companion(Review& review, store::RiderId rider, store::HorseId horse) {
    if (review.is_open()) review.show_slot(app::add_companion(review.yard(), review.clip().id, rider, horse));
}
void set_pair(Review& review, store::RiderId rider, store::HorseId horse, const QString& what) {
    if (review.is_open() && review.ride().id)
        app::set_pair(review.yard(), review.ride().id, rider, horse, what);
}
void set_ride(Review& review, const store::Ride& ride, const QString& what) {
    if (review.is_open() && ride.id && !(ride == review.ride())) change_ride(review.yard(), ride, what);
}
void set_clip(Review& review, const store::Clip& clip, const QString& what) {
    if (review.is_open()) change_clip(review.yard(), clip, what);
}

store::Moment ensure_moment(Review& review) {
    if (const store::Moment* here = review.moment()) return *here;
    store::Moment m;
    m.clip = review.clip().id;
    m.frame = review.deck().frame();
    m.time_s = review.deck().stream_s(m.frame);
    m.field = review.deck().field();
    m.slot = review.slot();
    m.id = add_moment(review.yard(), m);
    m.figure = review.figure_of(nullptr);
    return m;
}

void mark_moment(Review& review) {
    if (!review.is_open() || !review.deck().ready() || review.moment()) return;
    ensure_moment(review);
    review.keep_place();
}
void set_phase(Review& review, const std::string& phase) {
    if (const store::Moment* m = review.moment()) app::set_phase(review.yard(), *m, phase);
}
void remove_moment(Review& review) {
    if (const store::Moment* m = review.moment()) app::remove_moment(review.yard(), store::Moment(*m));
}

void set_view(Review& review, core::View view) {
    if (!review.is_open()) return;
    set_stretches(review.yard(), review.clip().id,
                  core::seen_at(review.stretches(), review.deck().frame(), false,
                                [&](core::Stretch& s) { s.view = view; }),
                  QObject::tr("Change view"));
}
void set_travel(Review& review, core::Travel travel) {
    if (!review.is_open()) return;
    // Said for the first time it holds wherever nothing was said; turned, from this stretch on.
    const bool first = review.stretch().travel == core::Travel::unknown;
    set_stretches(review.yard(), review.clip().id,
                  core::seen_at(review.stretches(), review.deck().frame(), !first,
                                [&](core::Stretch& s) { s.travel = travel; }),
                  QObject::tr("Change direction of travel"));
}
void turn_travel(Review& review) {
    set_travel(review,
               review.stretch().travel == core::Travel::left ? core::Travel::right : core::Travel::left);
}
void set_camera(Review& review, const core::CameraPose& camera, const QString& what) {
    if (!review.is_open()) return;
    set_stretches(review.yard(), review.clip().id,
                  core::seen_at(review.stretches(), review.deck().frame(), false,
                                [&](core::Stretch& s) { s.camera = camera; }),
                  QObject::tr("Change ") + what);
}

}  // namespace aspen::app
