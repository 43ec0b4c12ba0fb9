#include "store/following.hpp"

#include "store/statement.hpp"

namespace aspen::store {
CorrectionWordId Following::add(const CorrectionWord& w) { return {insert(database_, w)}; }

void Following::remove(CorrectionWordId id) { erase(database_, "correction_word", id); }

std::vector<CorrectionWord> Following::words_on(CorrectionId correction) const {
    return select<CorrectionWord>(database_, "WHERE correction = ? ORDER BY id",
                                  [&](Binder& b) { b << correction; });
}

MilestoneId Following::add(const Milestone& m) { return {insert(database_, m)}; }

void Following::update(const Milestone& m) { change(database_, m); }

void Following::remove(MilestoneId id) { erase(database_, "milestone", id); }

std::vector<Milestone> Following::milestones_of(RiderId rider) const {
    return select<Milestone>(database_,
                             "WHERE rider = ?1 OR (rider IS NULL AND horse IN (SELECT horse FROM ride WHERE "
                             "rider = ?1)) ORDER BY day, id",
                             [&](Binder& b) { b << rider; });
}

std::vector<Milestone> Following::milestones_of(HorseId horse) const {
    return select<Milestone>(database_, "WHERE horse = ? ORDER BY day, id", [&](Binder& b) { b << horse; });
}

PromiseId Following::add(const Promise& p) { return {insert(database_, p)}; }

void Following::update(const Promise& p) { change(database_, p); }

void Following::remove(PromiseId id) { erase(database_, "promise", id); }

std::vector<Promise> Following::open_promises() const {
    return select<Promise>(database_,
                           "WHERE closed_on = '' AND rider IN (SELECT id FROM rider WHERE trashed = 0) ORDER "
                           "BY due_on, id",
                           [](Binder&) {});
}

std::vector<Promise> Following::promises_of(RiderId rider) const {
    return select<Promise>(database_, "WHERE rider = ? ORDER BY asked_on, id",
                           [&](Binder& b) { b << rider; });
}

OutgoingId Following::add(const Outgoing& o) { return {insert(database_, o)}; }

void Following::update(const Outgoing& o) { change(database_, o); }

void Following::remove(OutgoingId id) { erase(database_, "outgoing", id); }

std::vector<Outgoing> Following::outbox(RiderId rider, int most) const {
    return select<Outgoing>(database_,
                            "WHERE ?1 IS NULL OR rider = ?1 ORDER BY made_at DESC, id DESC LIMIT ?2",
                            [&](Binder& b) { b << rider << most; });
}

DrillId Following::add(const DrillAnswer& d) { return {insert(database_, d)}; }

void Following::remove(DrillId id) { erase(database_, "drill", id); }

std::vector<DrillAnswer> Following::drills(const std::string& kind) const {
    return select<DrillAnswer>(database_, "WHERE ?1 = '' OR kind = ?1 ORDER BY at, id",
                               [&](Binder& b) { b << kind; });
}

std::optional<std::pair<ClipId, std::string>> Following::first_clip_since(RiderId rider, HorseId horse,
                                                                          const std::string& day) const {
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
