#include "store/statement.hpp"
#include "store/yard_store.hpp"

/// Practice, plans and lessons.
namespace aspen::store {

PracticeId TrainingRecords::add(const PracticeEntry& e) { return {insert(database_, e)}; }
void TrainingRecords::update(const PracticeEntry& e) { change(database_, e); }
void TrainingRecords::remove(PracticeId id) { erase(database_, "practice", id); }
std::vector<PracticeEntry> TrainingRecords::practice_of(RiderId rider) {
    return select<PracticeEntry>(database_, "WHERE rider = ? ORDER BY day, id",
                                 [&](Binder& b) { b << rider; });
}

void TrainingRecords::put(const RiderPlan& plan) {
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
RiderPlan TrainingRecords::plan_of(RiderId rider) {
    const auto found = first(select<RiderPlan>(database_, "WHERE rider = ?", [&](Binder& b) { b << rider; }));
    if (found) return *found;
    RiderPlan out;
    out.rider = rider;
    return out;
}

LessonId TrainingRecords::add(const Lesson& l) { return {insert(database_, l)}; }
void TrainingRecords::update(const Lesson& l) { change(database_, l); }
void TrainingRecords::remove(LessonId id) {
    within([&] {
        run(database_, "DELETE FROM lesson_place WHERE lesson = ?", [&](Binder& b) { b << id; });
        erase(database_, "lesson", id);
    });
}
std::optional<Lesson> TrainingRecords::lesson(LessonId id) { return select_one<Lesson>(database_, id); }
std::vector<Lesson> TrainingRecords::lessons(int most) {
    return select<Lesson>(database_, "ORDER BY day DESC, id DESC LIMIT ?", [&](Binder& b) { b << most; });
}
LessonPlaceId TrainingRecords::add(const LessonPlace& p) { return {insert(database_, p)}; }
void TrainingRecords::update(const LessonPlace& p) { change(database_, p); }
void TrainingRecords::remove(LessonPlaceId id) { erase(database_, "lesson_place", id); }
std::vector<LessonPlace> TrainingRecords::places(LessonId id) {
    return select<LessonPlace>(database_, "WHERE lesson = ? ORDER BY turn, id", [&](Binder& b) { b << id; });
}
std::vector<Note> TrainingRecords::clock_notes(RideId ride) {
    return select<Note>(database_, "WHERE ride = ? AND clip IS NULL ORDER BY at, id",
                        [&](Binder& b) { b << ride; });
}
std::vector<Event> TrainingRecords::clock_events(RideId ride) {
    return select<Event>(database_, "WHERE ride = ? AND clip IS NULL ORDER BY at, id",
                         [&](Binder& b) { b << ride; });
}
std::vector<std::pair<Lesson, LessonPlace>> TrainingRecords::lessons_of(HorseId horse,
                                                                        const std::string& day) {
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

}  // namespace aspen::store
