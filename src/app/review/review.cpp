#include "app/review/review.hpp"

#include "app/rides/answers_by_events.hpp"
#include "app/rides/ridden_ground.hpp"
#include "app/rides/ride_data_builder.hpp"
#include "core/motion/happenings.hpp"

#include <algorithm>
#include <set>

#include "app/yard/changes.hpp"

namespace aspen::app {
namespace {

/// The events that answer a check, those that say which lead was wanted, and what strides are read by.
std::vector<store::Event> judged_of(std::vector<store::Event> events) {
    std::erase_if(events, [](const store::Event& e) {
        const std::string_view w = e.event;
        return !w.starts_with("lead_") && !w.starts_with("diagonal_") && !w.starts_with("wrong_") &&
               !w.starts_with("rein_") && !w.starts_with("stride_") && !w.starts_with("hoof_") &&
               w != "sit" && core::detail_of(e.detail, "lead").empty();
    });
    return events;
}

}  // namespace

Review::Review(Yard& yard, ClipDeck& deck, BenchNews& news, QObject* parent)
    : QObject(parent),
      yard_(yard),
      deck_(deck),
      news_(news),
      elsewhere_(std::make_unique<core::RideData>()) {}

void Review::follow(const store::Touched& t) {
    if (!clip_) return;
    const store::ClipId here = clip_->id;
    if (t.notes.contains(here)) {
        notes_ = yard_.records().reviews.notes(here);
        news_.add(BenchPart::notes);
    }
    if (t.clips.contains(here) && only_counted()) return;
    // The rider's body and the horse's notes move bands.
    if (t.clips.contains(here) || t.stretches.contains(here) || t.rides.contains(ride_.id) || t.riders ||
        t.horses)
        return reload();
    const auto elsewhere = [&](const std::set<store::ClipId>& clips) {
        return std::ranges::any_of(clips, [&](store::ClipId id) {
            if (id == here) return false;
            const auto places = yard_.records().rides.places(id);
            return std::ranges::find(places, ride_.id, &store::Slot::ride) != places.end();
        });
    };
    if (t.marks.contains(here)) {
        moments_ = yard_.records().reviews.moments(here);
        answers_ = yard_.records().reviews.answers(here);
        sketches_ = yard_.records().reviews.sketches(here);
        news_.add(BenchPart::records);
    }
    if (elsewhere(t.marks) || elsewhere(t.clips) || elsewhere(t.stretches)) {
        read_elsewhere();
        news_.add(BenchPart::records);
    }
    if (t.findings.contains(ride_.id)) {
        read_ride();
        news_.add(BenchPart::decided);
    }
    if (t.events.contains(here) || elsewhere(t.events)) follow_events();
}

/// True when nothing of the clip is new but its length, which whoever brought it in may have counted before
/// the deck did: the deck says it when it is ready.
bool Review::only_counted() {
    if (deck_.ready()) return false;
    auto now = yard_.records().rides.clip(clip_->id);
    if (!now || yard_.records().rides.places(clip_->id) != places_) return false;
    store::Clip was = *clip_;
    was.frames = now->frames;
    was.duration_s = now->duration_s;
    if (was != *now) return false;
    clip_ = std::move(now);
    return true;
}

void Review::follow_events() {
    read_events();
    news_.add(BenchPart::events);
    // An aid decides what its instant is judged by, leads and diagonals are judged themselves.
    RiddenIn now(yard_.records(), yard_.knowledge(), ride_);
    if (now.same_aids(ridden_) && judged_of(now.events()) == judged_of(ridden_.events())) return;
    ridden_ = std::move(now);
    read_elsewhere();
    news_.add(BenchPart::records);
}

void Review::come_to_frame() {
    const int field = moment() ? moment()->field : 0;
    if (clip_ && field != deck_.field()) deck_.show_field(field);
}

Review::~Review() = default;

const std::vector<core::RideMoment>& Review::elsewhere() const { return elsewhere_->moments; }

void Review::open(store::ClipId id, int slot) {
    clear();
    clip_ = yard_.records().rides.clip(id);
    if (!clip_) return;
    slot_ = slot;
    reload();
    if (ride_.id && ride_.state == store::RideState::fresh)
        set_ride_state(yard_, ride_.id, store::RideState::started);
    notes_ = yard_.records().reviews.notes(id);
    news_.add(BenchPart::clip | BenchPart::notes);
}

void Review::close() {
    if (!clip_) return;
    clear();
    news_.add(BenchPart::clip | BenchPart::records);
}

void Review::clear() {
    clip_.reset();
    ride_ = {};
    rider_card_.reset();
    horse_card_.reset();
    places_.clear();
    moments_.clear();
    *elsewhere_ = {};
    answers_.clear();
    sketches_.clear();
    events_.clear();
    ground_.clear();
    by_ground_.clear();
    stretches_ = core::whole_clip();
    notes_.clear();
    remarks_.clear();
    decided_.clear();
    slot_ = 0;
}

void Review::reload() {
    auto now = yard_.records().rides.clip(clip_->id);
    if (!now) return close();  // it is gone for good
    clip_ = std::move(now);
    deck_.set_capture(clip_->capture);
    places_ = yard_.records().rides.places(clip_->id);
    moments_ = yard_.records().reviews.moments(clip_->id);
    answers_ = yard_.records().reviews.answers(clip_->id);
    sketches_ = yard_.records().reviews.sketches(clip_->id);
    stretches_ = yard_.records().rides.stretches(clip_->id);
    if (std::ranges::find(places_, slot_, &store::Slot::slot) == places_.end())
        slot_ = places_.empty() ? 0 : places_.front().slot;
    read_ride();
    read_elsewhere();
    read_events();
    news_.add(BenchPart::records | BenchPart::events);
}

void Review::read_events() {
    events_ = yard_.records().reviews.events_in(clip_->id);
    ground_ = yard_.records().reviews.ground_marks(clip_->id);
    read_ground();
}

void Review::read_ground() {
    if (clip_) by_ground_ = answers_by_ground(yard_.records(), *clip_, slot_);
}

void Review::read_ride() {
    const auto at = std::ranges::find(places_, slot_, &store::Slot::slot);
    ride_ =
        at == places_.end() ? store::Ride{} : yard_.records().rides.ride(at->ride).value_or(store::Ride{});
    rider_card_ = ride_.rider ? yard_.records().people.rider(ride_.rider) : std::nullopt;
    horse_card_ = ride_.horse ? yard_.records().people.horse(ride_.horse) : std::nullopt;
    ridden_ = RiddenIn(yard_.records(), yard_.knowledge(), ride_);
    decided_ = yard_.records().reviews.findings(ride_.id);
    remarks_ = yard_.records().reviews.remarks(ride_.id);
}

void Review::read_elsewhere() {
    RideDataBuilder builder(ridden_);
    for (const store::Clip& other : yard_.records().rides.clips_of(ride_.id)) {
        if (other.id == clip_->id) continue;
        std::vector<int> mine;
        for (const store::Slot& s : yard_.records().rides.places(other.id)) {
            if (s.ride == ride_.id) mine.push_back(s.slot);
        }
        builder.add_clip(yard_.records(), other, mine);
    }
    *elsewhere_ = std::move(builder.data);
}

core::RideData Review::gathered(const std::optional<core::Figure>& here) const {
    RideDataBuilder builder(ridden_);
    builder.data = *elsewhere_;
    for (const store::Moment& m : moments_) {
        if (m.slot != slot_) continue;
        builder.add(stretches_, m);
        if (here && m.frame == deck_.frame()) builder.data.moments.back().figure = *here;
    }
    for (const store::Answer& a : answers_) {
        if (a.slot == slot_) builder.add(stretches_, a);
    }
    for (const store::Answer& a : answers_by_events(*clip_, slot_, stretches_, ridden_.events()))
        builder.add(stretches_, a);
    for (const store::Answer& a : by_ground_) builder.add(stretches_, a);
    builder.add_strides(*clip_, slot_, stretches_, moments_);
    return std::move(builder.data);
}

const store::Moment* Review::moment_at(int frame) const {
    const auto it = std::ranges::find_if(
        moments_, [&](const store::Moment& m) { return m.frame == frame && m.slot == slot_; });
    return it == moments_.end() ? nullptr : &*it;
}

core::Figure Review::figure_of(const store::Moment* m) const {
    core::Figure f;
    if (m) f = m->figure;
    const core::Stretch& seen = core::ridden_at(stretches_, m ? m->frame : deck_.frame());
    f.view = seen.view;
    f.travel = seen.travel;
    f.camera = seen.camera;
    return f;
}

core::Setting Review::setting() const {
    const store::Moment* m = moment();
    return setting_of(deck_.frame(), m ? m->phase : std::string());
}
core::Setting Review::setting_of(int frame, const std::string& phase) const {
    if (!clip_) return {};
    const store::Moment* there = moment_at(frame);
    store::Moment here = there ? *there : store::Moment{};
    if (!there) {
        here.clip = clip_->id;
        here.frame = frame;
        here.slot = slot_;
        here.time_s = deck_.stream_s(frame);
    }
    here.phase = phase;
    return ridden_.setting(stretches_, here);
}

std::vector<std::string> Review::missing() const {
    if (!clip_) return {};
    std::vector<std::string> out = ride_.missing();
    for (std::string& what : stretch().missing()) out.push_back(std::move(what));
    return out;
}

void Review::show_slot(int slot) {
    if (!clip_ || slot == slot_ || std::ranges::find(places_, slot, &store::Slot::slot) == places_.end())
        return;
    slot_ = slot;
    read_ride();
    read_elsewhere();
    news_.add(BenchPart::rider | BenchPart::records);
}

bool Review::travel_doubtful() const { return clip_ && core::bit_behind_hip(figure_of(moment())); }

void Review::keep_place() {
    if (clip_ && deck_.ready()) leave_at(yard_, clip_->id, deck_.frame());
}

}  // namespace aspen::app

#include "moc_review.cpp"
