#include "store/training.hpp"

#include "store/statement.hpp"

namespace aspen::store {
PracticeId Training::add(const PracticeEntry& e) { return {insert(database_, e)}; }

void Training::update(const PracticeEntry& e) { change(database_, e); }

void Training::remove(PracticeId id) { erase(database_, "practice", id); }

std::vector<PracticeEntry> Training::practice_of(RiderId rider) const {
    return select<PracticeEntry>(database_, "WHERE rider = ? ORDER BY day, id",
                                 [&](Binder& b) { b << rider; });
}

void Training::put(const RiderPlan& plan) {
    within([&] {
        const RiderPlan there = plan_of(plan.rider);
        RiderPlan kept = plan;
        kept.id = there.id;
        if (there.id)
            change(database_, kept);
        else
            insert(database_, kept);
    });
}

RiderPlan Training::plan_of(RiderId rider) const {
    const auto found = first(select<RiderPlan>(database_, "WHERE rider = ?", [&](Binder& b) { b << rider; }));
    if (found) return *found;
    RiderPlan out;
    out.rider = rider;
    return out;
}

LessonId Training::add(const Lesson& l) { return {insert(database_, l)}; }

void Training::update(const Lesson& l) { change(database_, l); }

void Training::remove(LessonId id) {
    within([&] {
        run(database_, "DELETE FROM lesson_place WHERE lesson = ?", [&](Binder& b) { b << id; });
        erase(database_, "lesson", id);
    });
}

std::optional<Lesson> Training::lesson(LessonId id) const { return select_one<Lesson>(database_, id); }

std::vector<Lesson> Training::lessons(int most) const {
    return select<Lesson>(database_, "ORDER BY day DESC, id DESC LIMIT ?", [&](Binder& b) { b << most; });
}

LessonPlaceId Training::add(const LessonPlace& p) { return {insert(database_, p)}; }

void Training::update(const LessonPlace& p) { change(database_, p); }

void Training::remove(LessonPlaceId id) { erase(database_, "lesson_place", id); }

std::vector<LessonPlace> Training::places(LessonId id) const {
    return select<LessonPlace>(database_, "WHERE lesson = ? ORDER BY turn, id", [&](Binder& b) { b << id; });
}

std::vector<Note> Training::clock_notes(RideId ride) const {
    return select<Note>(database_, "WHERE ride = ? AND clip IS NULL ORDER BY at, id",
                        [&](Binder& b) { b << ride; });
}

std::vector<Event> Training::clock_events(RideId ride) const {
    return select<Event>(database_, "WHERE ride = ? AND clip IS NULL ORDER BY at, id",
                         [&](Binder& b) { b << ride; });
}

std::vector<std::pair<Lesson, LessonPlace>> Training::lessons_of(HorseId horse,
                                                                 const std::string& day) const {
    std::vector<std::pair<Lesson, LessonPlace>> out;
    const auto all = select<LessonPlace>(database_,
                                         "JOIN ride ON ride.id = lesson_place.ride WHERE ride.horse = ? AND "
                                         "ride.day = ? ORDER BY lesson_place.id",
                                         [&](Binder& b) { b << horse << day; });
    for (const LessonPlace& p : all) {
        if (const auto l = lesson(p.lesson)) out.emplace_back(*l, p);
    }
    return out;
}

std::vector<std::pair<Lesson, LessonPlace>> Training::lessons_with(HorseId horse, int most) const {
    std::vector<std::pair<Lesson, LessonPlace>> out;
    const auto all =
        select<LessonPlace>(database_,
                            "JOIN ride ON ride.id = lesson_place.ride WHERE ride.horse = ? ORDER BY "
                            "ride.day DESC, lesson_place.id DESC LIMIT ?",
                            [&](Binder& b) { b << horse << most; });
    for (const LessonPlace& p : all) {
        if (const auto l = lesson(p.lesson)) out.emplace_back(*l, p);
    }
    return out;
}

}  // namespace aspen::store
