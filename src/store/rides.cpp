#include "store/rides.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "store/statement.hpp"

namespace aspen::store {
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

RideId Rides::add(const Ride& r) { return {insert(database_, r)}; }

void Rides::update(const Ride& r) { change(database_, r); }

std::optional<Ride> Rides::ride(RideId id) const { return select_one<Ride>(database_, id); }

std::vector<Ride> Rides::rides_of(RiderId rider) const {
    return select<Ride>(database_, "WHERE rider = ? ORDER BY day DESC, id DESC",
                        [&](Binder& b) { b << rider; });
}

std::vector<Ride> Rides::rides_on(HorseId horse, const std::string& day) const {
    return select<Ride>(database_, "WHERE horse = ? AND day = ? ORDER BY id",
                        [&](Binder& b) { b << horse << day; });
}

ClipId Rides::add(const Clip& c) {
    ClipId id;
    within([&] {
        id = {insert(database_, c)};
        put_stretches(id, core::whole_clip());
    });
    return id;
}

void Rides::update(const Clip& c) { change(database_, c); }

std::optional<Clip> Rides::clip(ClipId id) const { return select_one<Clip>(database_, id); }

std::optional<Clip> Rides::clip_with_hash(const std::string& hash) const {
    return first(
        select<Clip>(database_, "WHERE hash = ? ORDER BY id LIMIT 1", [&](Binder& b) { b << hash; }));
}

std::vector<Clip> Rides::clips() const {
    return select<Clip>(database_, "WHERE trashed = 0 ORDER BY recorded_at DESC, id", kNothing);
}

std::vector<Clip> Rides::trashed_clips() const {
    return select<Clip>(database_, "WHERE trashed = 1 ORDER BY id DESC", kNothing);
}

std::vector<Clip> Rides::clips_of(RideId ride) const {
    return select<Clip>(database_,
                        "JOIN slot ON slot.clip = clip.id WHERE slot.ride = ? AND trashed = 0 ORDER BY "
                        "recorded_at, clip.id",
                        [&](Binder& b) { b << ride; });
}

std::vector<RiddenClip> Rides::ridden_by(RiderId rider) const {
    return ridden(database_, "ride.rider", rider.value);
}

std::vector<RiddenClip> Rides::ridden_on(HorseId horse) const {
    return ridden(database_, "ride.horse", horse.value);
}

void Rides::put(const Slot& s) {
    run(database_,
        "INSERT INTO slot(clip, slot, ride) VALUES(?,?,?) ON CONFLICT(clip, slot) DO UPDATE SET ride = "
        "excluded.ride",
        [&](Binder& b) { b << s.clip << s.slot << s.ride; });
}

void Rides::remove_slot(ClipId clip, int slot) {
    run(database_, "DELETE FROM slot WHERE clip = ? AND slot = ?", [&](Binder& b) { b << clip << slot; });
}

std::vector<Slot> Rides::places(ClipId clip) const {
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

void Rides::put_stretches(ClipId clip, const core::Stretches& all) {
    static const std::string sql = [] {
        std::string names = "clip", marks = "?", sets;
        for (const std::string& name : Table<core::Stretch>::column_names()) {
            names += ", \"" + name + "\"";
            marks += ",?";
            if (name != "first")
                sets += fmt::format("{}\"{}\"=excluded.\"{}\"", sets.empty() ? "" : ", ", name, name);
        }
        return fmt::format("INSERT INTO stretch({}) VALUES({}) ON CONFLICT(clip, first) DO UPDATE SET {}",
                           names, marks, sets);
    }();
    within([&] {
        core::Stretches stretches = all.empty() ? core::whole_clip() : all;
        for (const core::Stretch& old : this->stretches(clip)) {
            if (std::ranges::find(stretches, old.first, &core::Stretch::first) == stretches.end())
                run(database_, "DELETE FROM stretch WHERE clip = ? AND first = ?",
                    [&](Binder& b) { b << clip << old.first; });
        }
        for (core::Stretch& s : stretches) {
            run(database_, sql, [&](Binder& b) {
                b << clip;
                Table<core::Stretch>::write(b, s);
            });
        }
    });
}

core::Stretches Rides::stretches(ClipId clip) const {
    return query(
        database_, "SELECT " + columns<core::Stretch>() + " FROM stretch WHERE clip = ? ORDER BY first",
        [&](Binder& b) { b << clip; },
        [](SQLite::Statement& s) {
            core::Stretch out;
            Reader reader(s);
            read(reader, out);
            return out;
        });
}

}  // namespace aspen::store
