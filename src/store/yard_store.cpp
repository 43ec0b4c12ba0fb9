#include "store/yard_store.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "store/statement.hpp"

/// Riders, horses, rides and clips. What belongs to a review is in yard_store_review.cpp, merging and
/// removing in yard_store_merge.cpp, lists and search in yard_store_lists.cpp.
namespace aspen::store {

void Transactions::within(const std::function<void()>& work) {
    if (depth_ > 0) return work();
    try {
        SQLite::Transaction transaction(database_.raw());
        ++depth_;
        try {
            work();
        } catch (...) {
            --depth_;
            throw;
        }
        --depth_;
        transaction.commit();
    } catch (const SQLite::Exception& e) {
        refuse(e);
    }
}

RiderId PeopleRecords::add(const Rider& r) {
    Rider kept = r;
    if (kept.key.empty())
        kept.key = database_.raw().execAndGet("SELECT lower(hex(randomblob(16)))").getString();
    return {insert(database_, kept)};
}
void PeopleRecords::update(const Rider& r) { change(database_, r); }
std::vector<Rider> PeopleRecords::riders() {
    return select<Rider>(database_, "WHERE trashed = 0 ORDER BY name", kNothing);
}
std::vector<Rider> PeopleRecords::trashed_riders() {
    return select<Rider>(database_, "WHERE trashed = 1 ORDER BY name", kNothing);
}
std::optional<Rider> PeopleRecords::rider(RiderId id) { return select_one<Rider>(database_, id); }

std::vector<Limitation> PeopleRecords::limitations(RiderId rider) {
    return select<Limitation>(database_, "WHERE rider = ? ORDER BY id", [&](Binder& b) { b << rider; });
}
void PeopleRecords::put_limitations(RiderId rider, const std::vector<Limitation>& all) {
    within([&] {
        run(database_, "DELETE FROM limitation WHERE rider = ?", [&](Binder& b) { b << rider; });
        for (Limitation l : all) {
            l.rider = rider;
            insert(database_, l);
        }
    });
}

void PeopleRecords::put(const Stirrup& s) {
    within([&] {
        run(database_, "DELETE FROM stirrup WHERE rider = ? AND saddle = ? AND job = ?",
            [&](Binder& b) { b << s.rider << s.saddle << s.job; });
        insert(database_, s);
    });
}
std::vector<Stirrup> PeopleRecords::stirrups(RiderId rider) {
    return select<Stirrup>(database_, "WHERE rider = ? ORDER BY day DESC, id DESC",
                           [&](Binder& b) { b << rider; });
}

void PeopleRecords::put(const SignOff& s) {
    const auto all = sign_offs(s.rider);
    const bool known =
        std::ranges::any_of(all, [&](const SignOff& k) { return k.horse == s.horse && k.gate == s.gate; });
    if (!known) insert(database_, s);
}
void PeopleRecords::remove(SignOffId id) { erase(database_, "sign_off", id); }
std::vector<SignOff> PeopleRecords::sign_offs(RiderId rider) {
    return select<SignOff>(database_, "WHERE rider = ? ORDER BY day, id", [&](Binder& b) { b << rider; });
}

HorseId PeopleRecords::add(const Horse& h) { return {insert(database_, h)}; }
void PeopleRecords::update(const Horse& h) { change(database_, h); }
std::vector<Horse> PeopleRecords::horses() {
    return select<Horse>(database_, "WHERE trashed = 0 ORDER BY name", kNothing);
}
std::vector<RideId> PeopleRecords::rides_with_leads(HorseId id, int most) {
    return query(
        database_,
        "SELECT DISTINCT ride.id FROM ride JOIN event ON event.ride = ride.id WHERE ride.horse = ? AND "
        "event.event IN ('lead_left', 'lead_right', 'wrong_lead') ORDER BY ride.day DESC, ride.id DESC LIMIT "
        "?",
        [&](Binder& b) { b << id << most; },
        [](SQLite::Statement& s) { return RideId{s.getColumn(0).getInt64()}; });
}
std::vector<std::pair<std::string, int>> PeopleRecords::named_on(HorseId id) {
    return query(
        database_,
        "SELECT answer.name, count(DISTINCT ride.id) FROM ride JOIN slot ON slot.ride = ride.id JOIN answer "
        "ON "
        "answer.clip = slot.clip AND answer.slot = slot.slot WHERE ride.horse = ? AND answer.said <> "
        "'cannot_see' "
        "GROUP BY answer.name ORDER BY 2 DESC, 1",
        [&](Binder& b) { b << id; },
        [](SQLite::Statement& s) { return std::pair(s.getColumn(0).getString(), s.getColumn(1).getInt()); });
}
std::optional<Horse> PeopleRecords::horse(HorseId id) { return select_one<Horse>(database_, id); }

RideId RideRecords::add(const Ride& r) { return {insert(database_, r)}; }
void RideRecords::update(const Ride& r) { change(database_, r); }
std::optional<Ride> RideRecords::ride(RideId id) { return select_one<Ride>(database_, id); }
std::vector<Ride> RideRecords::rides_of(RiderId rider) {
    return select<Ride>(database_, "WHERE rider = ? ORDER BY day DESC, id DESC",
                        [&](Binder& b) { b << rider; });
}
std::vector<Ride> RideRecords::rides_on(HorseId horse, const std::string& day) {
    return select<Ride>(database_, "WHERE horse = ? AND day = ? ORDER BY id",
                        [&](Binder& b) { b << horse << day; });
}
void YardStore::remove(RideId id) {
    within([&] {
        for (const char* table : {"finding", "remark", "note", "event", "lesson_place", "parcel"}) {
            run(database_, fmt::format("DELETE FROM {} WHERE ride = ?", table), [&](Binder& b) { b << id; });
        }
        for (const char* table : {"prescription", "practice", "correction_word"})
            run(database_, fmt::format("UPDATE {} SET ride = NULL WHERE ride = ?", table),
                [&](Binder& b) { b << id; });
        run(database_, "UPDATE correction SET focus_since = NULL WHERE focus_since = ?",
            [&](Binder& b) { b << id; });
        erase(database_, "ride", id);
    });
}

ClipId RideRecords::add(const Clip& c) {
    ClipId id;
    within([&] {
        id = {insert(database_, c)};
        put_stretches(id, core::whole_clip());
    });
    return id;
}
void RideRecords::update(const Clip& c) { change(database_, c); }
std::optional<Clip> RideRecords::clip(ClipId id) { return select_one<Clip>(database_, id); }
std::optional<Clip> RideRecords::clip_with_hash(const std::string& hash) {
    return first(
        select<Clip>(database_, "WHERE hash = ? ORDER BY id LIMIT 1", [&](Binder& b) { b << hash; }));
}
std::vector<Clip> RideRecords::clips() {
    return select<Clip>(database_, "WHERE trashed = 0 ORDER BY recorded_at DESC, id", kNothing);
}
std::vector<Clip> RideRecords::trashed_clips() {
    return select<Clip>(database_, "WHERE trashed = 1 ORDER BY id DESC", kNothing);
}
std::vector<Clip> RideRecords::clips_of(RideId ride) {
    return select<Clip>(database_,
                        "JOIN slot ON slot.clip = clip.id WHERE slot.ride = ? AND trashed = 0 ORDER BY "
                        "recorded_at, clip.id",
                        [&](Binder& b) { b << ride; });
}
namespace {

std::vector<RiddenClip> ridden(Database& database, const char* whose, std::int64_t id) {
    const std::string sql =
        "SELECT ride.id, " + columns<Ride>() + ", clip.id, " + columns<Clip>() +
        ", slot.slot FROM ride JOIN slot ON slot.ride = ride.id JOIN clip ON clip.id = slot.clip "
        "WHERE " +
        whose + " = ? AND clip.trashed = 0 ORDER BY ride.day DESC, clip.id DESC";
    return query(
        database, sql, [&](Binder& b) { b << id; },
        [](SQLite::Statement& s) {
            RiddenClip out;
            Reader reader(s);
            reader >> out.ride.id;
            read(reader, out.ride);
            reader >> out.clip.id;
            read(reader, out.clip);
            reader >> out.slot;
            return out;
        });
}

}  // namespace

std::vector<RiddenClip> RideRecords::ridden_by(RiderId rider) {
    return ridden(database_, "ride.rider", rider.value);
}
std::vector<RiddenClip> RideRecords::ridden_on(HorseId horse) {
    return ridden(database_, "ride.horse", horse.value);
}

void RideRecords::put(const Slot& s) {
    run(database_,
        "INSERT INTO slot(clip, slot, ride) VALUES(?,?,?) ON CONFLICT(clip, slot) DO UPDATE SET ride = "
        "excluded.ride",
        [&](Binder& b) { b << s.clip << s.slot << s.ride; });
}
void RideRecords::remove_slot(ClipId clip, int slot) {
    run(database_, "DELETE FROM slot WHERE clip = ? AND slot = ?", [&](Binder& b) { b << clip << slot; });
}
std::vector<Slot> RideRecords::places(ClipId clip) {
    return query(
        database_, "SELECT clip, slot, ride FROM slot WHERE clip = ? ORDER BY slot",
        [&](Binder& b) { b << clip; },
        [](SQLite::Statement& s) {
            Slot out;
            Reader reader(s);
            read(reader, out);
            return out;
        });
}

std::vector<std::pair<std::string, std::string>> YardStore::own_data(const std::string& kind) {
    return query(
        database_, "SELECT id, body FROM own_data WHERE kind = ? ORDER BY id", [&](Binder& b) { b << kind; },
        [](SQLite::Statement& s) {
            return std::pair{s.getColumn(0).getString(), s.getColumn(1).getString()};
        });
}
void YardStore::put_own_data(const std::string& kind, const std::string& id, const std::string& body) {
    run(database_,
        "INSERT INTO own_data(kind, id, body) VALUES(?,?,?) ON CONFLICT(kind, id) DO UPDATE SET body = "
        "excluded.body",
        [&](Binder& b) { b << kind << id << body; });
}
void YardStore::remove_own_data(const std::string& kind, const std::string& id) {
    run(database_, "DELETE FROM own_data WHERE kind = ? AND id = ?", [&](Binder& b) { b << kind << id; });
}

std::string YardStore::setting(const std::string& key, const std::string& otherwise) {
    return first(query(
                     database_, "SELECT value FROM setting WHERE key = ?", [&](Binder& b) { b << key; },
                     [](SQLite::Statement& s) { return s.getColumn(0).getString(); }))
        .value_or(otherwise);
}
void YardStore::set_setting(const std::string& key, const std::string& value) {
    run(database_, "INSERT OR REPLACE INTO setting(key, value) VALUES(?,?)",
        [&](Binder& b) { b << key << value; });
}

}  // namespace aspen::store
