#include "store/people.hpp"

#include <algorithm>

#include "store/statement.hpp"

namespace aspen::store {
RiderId People::add(const Rider& r) {
    Rider kept = r;
    if (kept.key.empty())
        kept.key = database_.raw().execAndGet("SELECT lower(hex(randomblob(16)))").getString();
    return {insert(database_, kept)};
}

void People::update(const Rider& r) { change(database_, r); }

std::vector<Rider> People::riders() const {
    return select<Rider>(database_, "WHERE trashed = 0 ORDER BY name", kNothing);
}

std::vector<Rider> People::trashed_riders() const {
    return select<Rider>(database_, "WHERE trashed = 1 ORDER BY name", kNothing);
}

std::optional<Rider> People::rider(RiderId id) const { return select_one<Rider>(database_, id); }

std::vector<Limitation> People::limitations(RiderId rider) const {
    return select<Limitation>(database_, "WHERE rider = ? ORDER BY id", [&](Binder& b) { b << rider; });
}

void People::put_limitations(RiderId rider, const std::vector<Limitation>& all) {
    within([&] {
        run(database_, "DELETE FROM limitation WHERE rider = ?", [&](Binder& b) { b << rider; });
        for (Limitation l : all) {
            l.rider = rider;
            insert(database_, l);
        }
    });
}

void People::put(const Stirrup& s) {
    within([&] {
        run(database_, "DELETE FROM stirrup WHERE rider = ? AND saddle = ? AND job = ?",
            [&](Binder& b) { b << s.rider << s.saddle << s.job; });
        insert(database_, s);
    });
}

std::vector<Stirrup> People::stirrups(RiderId rider) const {
    return select<Stirrup>(database_, "WHERE rider = ? ORDER BY day DESC, id DESC",
                           [&](Binder& b) { b << rider; });
}

void People::put(const SignOff& s) {
    const auto all = sign_offs(s.rider);
    const bool known =
        std::ranges::any_of(all, [&](const SignOff& k) { return k.horse == s.horse && k.gate == s.gate; });
    if (!known) insert(database_, s);
}

void People::remove(SignOffId id) { erase(database_, "sign_off", id); }

std::vector<SignOff> People::sign_offs(RiderId rider) const {
    return select<SignOff>(database_, "WHERE rider = ? ORDER BY day, id", [&](Binder& b) { b << rider; });
}

HorseId People::add(const Horse& h) { return {insert(database_, h)}; }

void People::update(const Horse& h) { change(database_, h); }

std::vector<Horse> People::horses() const {
    return select<Horse>(database_, "WHERE trashed = 0 ORDER BY name", kNothing);
}

std::vector<RideId> People::rides_with_leads(HorseId id, int most) const {
    return query(
        database_,
        "SELECT DISTINCT ride.id FROM ride JOIN event ON event.ride = ride.id WHERE ride.horse = ? AND "
        "event.event IN ('lead_left', 'lead_right', 'wrong_lead') ORDER BY ride.day DESC, ride.id DESC LIMIT "
        "?",
        [&](Binder& b) { b << id << most; },
        [](SQLite::Statement& s) { return RideId{s.getColumn(0).getInt64()}; });
}

std::vector<std::pair<std::string, int>> People::named_on(HorseId id) const {
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

std::optional<Horse> People::horse(HorseId id) const { return select_one<Horse>(database_, id); }

}  // namespace aspen::store
