#include "store/statement.hpp"
#include "store/yard_store.hpp"

/// How corrections go on.
namespace aspen::store {

CorrectionWordId FollowRecords::add(const CorrectionWord& w) { return {insert(database_, w)}; }
void FollowRecords::remove(CorrectionWordId id) { erase(database_, "correction_word", id); }
std::vector<CorrectionWord> FollowRecords::words_on(CorrectionId correction) {
    return select<CorrectionWord>(database_, "WHERE correction = ? ORDER BY id",
                                  [&](Binder& b) { b << correction; });
}

MilestoneId FollowRecords::add(const Milestone& m) { return {insert(database_, m)}; }
void FollowRecords::update(const Milestone& m) { change(database_, m); }
void FollowRecords::remove(MilestoneId id) { erase(database_, "milestone", id); }
std::vector<Milestone> FollowRecords::milestones_of(RiderId rider) {
    return select<Milestone>(database_,
                             "WHERE rider = ?1 OR (rider IS NULL AND horse IN (SELECT horse FROM ride WHERE "
                             "rider = ?1)) ORDER BY day, id",
                             [&](Binder& b) { b << rider; });
}
std::vector<Milestone> FollowRecords::milestones_of(HorseId horse) {
    return select<Milestone>(database_, "WHERE horse = ? ORDER BY day, id", [&](Binder& b) { b << horse; });
}

PromiseId FollowRecords::add(const Promise& p) { return {insert(database_, p)}; }
void FollowRecords::update(const Promise& p) { change(database_, p); }
void FollowRecords::remove(PromiseId id) { erase(database_, "promise", id); }
std::vector<Promise> FollowRecords::open_promises() {
    return select<Promise>(database_,
                           "WHERE closed_on = '' AND rider IN (SELECT id FROM rider WHERE trashed = 0) ORDER "
                           "BY due_on, id",
                           [](Binder&) {});
}
std::vector<Promise> FollowRecords::promises_of(RiderId rider) {
    return select<Promise>(database_, "WHERE rider = ? ORDER BY asked_on, id",
                           [&](Binder& b) { b << rider; });
}

OutgoingId FollowRecords::add(const Outgoing& o) { return {insert(database_, o)}; }
void FollowRecords::update(const Outgoing& o) { change(database_, o); }
void FollowRecords::remove(OutgoingId id) { erase(database_, "outgoing", id); }
std::vector<Outgoing> FollowRecords::outbox(RiderId rider, int most) {
    return select<Outgoing>(database_,
                            "WHERE ?1 IS NULL OR rider = ?1 ORDER BY made_at DESC, id DESC LIMIT ?2",
                            [&](Binder& b) { b << rider << most; });
}

DrillId FollowRecords::add(const DrillAnswer& d) { return {insert(database_, d)}; }
void FollowRecords::remove(DrillId id) { erase(database_, "drill", id); }
std::vector<DrillAnswer> FollowRecords::drills(const std::string& kind) {
    return select<DrillAnswer>(database_, "WHERE ?1 = '' OR kind = ?1 ORDER BY at, id",
                               [&](Binder& b) { b << kind; });
}

std::vector<Correction> FollowRecords::all_corrections() {
    return select<Correction>(database_,
                              "WHERE rider IN (SELECT id FROM rider WHERE trashed = 0) ORDER BY rider, id",
                              [](Binder&) {});
}

std::vector<std::pair<Lesson, LessonPlace>> FollowRecords::lessons_with(HorseId horse, int most) {
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

std::optional<std::pair<ClipId, std::string>> FollowRecords::first_clip_since(RiderId rider, HorseId horse,
                                                                              const std::string& day) {
    return first(query(
        database_,
        "SELECT clip.id, ride.day FROM ride JOIN slot ON slot.ride = ride.id JOIN clip ON clip.id = "
        "slot.clip "
        "WHERE ride.rider = ?1 AND ride.day >= ?3 AND clip.trashed = 0 AND (?2 IS NULL OR ride.horse = ?2) "
        "ORDER BY ride.day, ride.id, clip.id LIMIT 1",
        [&](Binder& b) { b << rider << horse << day; },
        [](SQLite::Statement& s) {
            return std::pair{ClipId{s.getColumn(0).getInt64()}, s.getColumn(1).getString()};
        }));
}

}  // namespace aspen::store
