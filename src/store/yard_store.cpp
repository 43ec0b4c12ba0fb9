#include "store/yard_store.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/body/face.hpp"
#include "core/reading/refused.hpp"
#include "store/statement.hpp"

/// Two records that turn out to be one, and records that go for good.
namespace aspen::store {
namespace {

/// Gives a correction another rider or horse; where one of the same thing is there already the two become
/// one.
void move_correction(YardStore& store, Database& database, const Correction& c, const Correction& moved) {
    auto there = store.work.correction_like(moved);
    if (!there) return store.update(moved);
    for (const char* table : {"prescription", "correction_word", "promise"})
        run(database, fmt::format("UPDATE {} SET correction = ? WHERE correction = ?", table),
            [&](Binder& b) { b << there->id << c.id; });
    there->focus |= c.focus;
    there->noticed_on = std::min(there->noticed_on, c.noticed_on);
    store.update(*there);
    store.remove(c.id);
}

}  // namespace

void YardStore::remove(RideId id) {
    within([&] {
        for (const char* table : {"finding", "remark", "note", "event", "lesson_place", "parcel"}) {
            run(database(), fmt::format("DELETE FROM {} WHERE ride = ?", table), [&](Binder& b) { b << id; });
        }
        for (const char* table : {"prescription", "practice", "correction_word"})
            run(database(), fmt::format("UPDATE {} SET ride = NULL WHERE ride = ?", table),
                [&](Binder& b) { b << id; });
        run(database(), "UPDATE correction SET focus_since = NULL WHERE focus_since = ?",
            [&](Binder& b) { b << id; });
        erase(database(), "ride", id);
    });
}

void YardStore::merge(RiderId from, RiderId into) {
    within([&] {
        const auto gone = people.rider(from);
        auto kept = people.rider(into);
        if (!gone || !kept || from == into)
            throw core::Refused("rider: there is nobody to merge; choose two riders");
        // What only one of the two cards says is kept.
        // Of two ages the younger, until one of them is mended: a child does not grow up by it.
        if (!kept->birth_year || gone->birth_year.value_or(0) > *kept->birth_year)
            kept->birth_year = gone->birth_year ? gone->birth_year : kept->birth_year;
        if (!kept->height_cm) kept->height_cm = gone->height_cm;
        for (auto field : {&Rider::school, &Rider::level, &Rider::goal}) {
            if ((*kept).*field == "") (*kept).*field = (*gone).*field;
        }
        update(*kept);
        run(database(), "UPDATE ride SET rider = ? WHERE rider = ?", [&](Binder& b) { b << into << from; });
        for (const Correction& c : work.corrections(from)) {
            Correction moved = c;
            moved.rider = into;
            move_correction(*this, database(), c, moved);
        }
        run(database(),
            "UPDATE limitation SET rider = ? WHERE rider = ? AND words NOT IN (SELECT words FROM limitation "
            "WHERE rider = ?)",
            [&](Binder& b) { b << into << from << into; });
        run(database(), "DELETE FROM limitation WHERE rider = ?", [&](Binder& b) { b << from; });
        for (const Stirrup& s : people.stirrups(from)) {
            const auto known = people.stirrups(into);
            const bool later = std::any_of(known.begin(), known.end(), [&](const Stirrup& k) {
                return k.saddle == s.saddle && k.job == s.job && k.day >= s.day;
            });
            Stirrup moved = s;
            moved.id = {};
            moved.rider = into;
            if (!later) put(moved);
        }
        run(database(), "DELETE FROM stirrup WHERE rider = ?", [&](Binder& b) { b << from; });
        run(database(), "UPDATE OR IGNORE sign_off SET rider = ? WHERE rider = ?",
            [&](Binder& b) { b << into << from; });
        run(database(), "DELETE FROM sign_off WHERE rider = ?", [&](Binder& b) { b << from; });
        run(database(), "UPDATE practice SET rider = ? WHERE rider = ?",
            [&](Binder& b) { b << into << from; });
        run(database(), "UPDATE OR IGNORE rider_plan SET rider = ? WHERE rider = ?",
            [&](Binder& b) { b << into << from; });
        run(database(), "DELETE FROM rider_plan WHERE rider = ?", [&](Binder& b) { b << from; });
        withdraw_alike(from, into);
        withdraw_alike(into, from);
        for (const char* table : {"milestone", "promise", "outgoing", "consent", "departure"})
            run(database(), fmt::format("UPDATE {} SET rider = ? WHERE rider = ?", table),
                [&](Binder& b) { b << into << from; });
        const auto named = [](RiderId id) { return fmt::format(" {} ", id.value); };
        run(database(), "UPDATE outgoing SET others = replace(others, ?, ?) WHERE instr(others, ?) > 0",
            [&](Binder& b) { b << named(from) << named(into) << named(from); });
        erase(database(), "rider", from);
    });
}

/// Of two cards of one rider the stricter holds: what was withdrawn on either is withdrawn on both, until it
/// is said anew.
void YardStore::withdraw_alike(RiderId one, RiderId other) {
    for (const Consent& c : leaving.consents_of(one)) {
        if (c.withdrawn_on.empty() || newest_word(leaving.consents_of(one), c.use)->id != c.id) continue;
        for (Consent theirs : leaving.consents_of(other)) {
            if (theirs.use != c.use || !theirs.withdrawn_on.empty()) continue;
            theirs.withdrawn_on = std::max(c.withdrawn_on, theirs.given_on);
            update(theirs);
        }
    }
}

void YardStore::merge(HorseId from, HorseId into) {
    within([&] {
        const auto gone = people.horse(from);
        auto kept = people.horse(into);
        if (!gone || !kept || from == into)
            throw core::Refused("horse: there is nothing to merge; choose two horses");
        if (!kept->height_cm) kept->height_cm = gone->height_cm;
        for (auto field : {&Horse::words, &Horse::stage, &Horse::stiff_side}) {
            if ((*kept).*field == "") (*kept).*field = (*gone).*field;
        }
        kept->half_seat_better |= gone->half_seat_better;
        kept->cold_backed |= gone->cold_backed;
        update(*kept);
        run(database(), "UPDATE ride SET horse = ? WHERE horse = ?", [&](Binder& b) { b << into << from; });
        for (const Correction& c :
             select<Correction>(database(), "WHERE horse = ?", [&](Binder& b) { b << from; })) {
            Correction moved = c;
            moved.horse = into;
            move_correction(*this, database(), c, moved);
        }
        // Two names of one horse: what was signed off for either holds.
        run(database(), "UPDATE OR IGNORE sign_off SET horse = ? WHERE horse = ?",
            [&](Binder& b) { b << into << from; });
        run(database(), "DELETE FROM sign_off WHERE horse = ?", [&](Binder& b) { b << from; });
        run(database(), "UPDATE practice SET horse = ? WHERE horse = ?",
            [&](Binder& b) { b << into << from; });
        for (const char* table : {"milestone", "promise"})
            run(database(), fmt::format("UPDATE {} SET horse = ? WHERE horse = ?", table),
                [&](Binder& b) { b << into << from; });
        erase(database(), "horse", from);
    });
}

void YardStore::merge(RideId from, RideId into) {
    within([&] {
        const auto gone = rides.ride(from);
        auto kept = rides.ride(into);
        if (!gone || !kept || from == into)
            throw core::Refused("ride: there is nothing to join; choose two rides");
        if (!kept->rider) kept->rider = gone->rider;
        if (!kept->horse) kept->horse = gone->horse;
        for (auto field : {&Ride::saddle, &Ride::school, &Ride::level, &Ride::coach_word, &Ride::promised}) {
            if ((*kept).*field == "") (*kept).*field = (*gone).*field;
        }
        for (auto field : {&OwnSide::goal, &OwnSide::question, &OwnSide::hurts}) {
            std::string& words = kept->own.*field;
            const std::string& more = gone->own.*field;
            if (words.find(more) == std::string::npos) words += words.empty() ? more : "; " + more;
        }
        if (kept->place == Place::unknown) kept->place = gone->place;
        if (gone->state != RideState::done && kept->state == RideState::done)
            kept->state = RideState::started;
        update(*kept);
        run(database(), "UPDATE slot SET ride = ? WHERE ride = ?", [&](Binder& b) { b << into << from; });
        for (Finding f : reviews.findings(from)) {
            const auto there = reviews.findings(into);
            const auto same = std::find_if(there.begin(), there.end(), [&](const Finding& t) {
                return t.fault == f.fault && t.seen == f.seen;
            });
            if (same != there.end() && same->decided_on > f.decided_on) continue;
            f.id = {};
            f.ride = into;
            put(f);
        }
        for (const char* table : {"remark", "note", "event", "prescription", "practice", "lesson_place",
                                  "correction_word", "parcel"}) {
            run(database(), fmt::format("UPDATE {} SET ride = ? WHERE ride = ?", table),
                [&](Binder& b) { b << into << from; });
        }
        run(database(), "UPDATE correction SET focus_since = ? WHERE focus_since = ?",
            [&](Binder& b) { b << into << from; });
        remove(from);
    });
}

void YardStore::erase_if_bare(RideId id) {
    run(database(),
        "DELETE FROM ride WHERE id = ?1 AND NOT EXISTS (SELECT 1 FROM correction WHERE focus_since = ?1) AND "
        "NOT EXISTS (SELECT 1 FROM slot WHERE ride = ?1) AND NOT EXISTS "
        "(SELECT 1 FROM "
        "finding WHERE ride = ?1) AND NOT EXISTS (SELECT 1 FROM remark WHERE ride = ?1) AND NOT EXISTS "
        "(SELECT 1 FROM "
        "prescription WHERE ride = ?1) AND NOT EXISTS (SELECT 1 FROM event WHERE ride = ?1) AND NOT EXISTS "
        "(SELECT 1 FROM practice WHERE ride = ?1) AND NOT EXISTS (SELECT 1 FROM correction_word WHERE ride = "
        "?1) AND NOT EXISTS (SELECT 1 FROM lesson_place WHERE ride = "
        "?1) AND NOT EXISTS (SELECT 1 FROM parcel WHERE ride = ?1) AND NOT EXISTS "
        "(SELECT 1 FROM "
        "note WHERE ride = ?1) AND coach_word = ''",
        [&](Binder& b) { b << id; });
}

void YardStore::remove(ClipId id) {
    within([&] {
        const auto held = rides.places(id);
        run(database(), "DELETE FROM mark WHERE moment IN (SELECT id FROM moment WHERE clip = ?)",
            [&](Binder& b) { b << id; });
        for (const char* table :
             {"moment", "answer", "sketch", "repeat_mark", "ground_mark", "laid_arena", "arena_mark",
              "asked_line", "note", "event", "spoken", "face_mark", "slot", "stretch"}) {
            run(database(), fmt::format("DELETE FROM {} WHERE clip = ?", table), [&](Binder& b) { b << id; });
        }
        for (const char* table : {"finding", "remark", "drill"}) {
            run(database(), fmt::format("UPDATE {} SET clip = NULL WHERE clip = ?", table),
                [&](Binder& b) { b << id; });
        }
        erase(database(), "clip", id);
        for (const Slot& s : held) erase_if_bare(s.ride);
    });
}

/// A rider goes out of a clip that others keep: the face in it stays covered in all that leaves, as that of
/// somebody else. Where nothing marks it, that somebody is there whose face is not known.
void YardStore::keep_face(ClipId clip, int slot) {
    int person = -1;
    std::map<int, FaceMark> known;
    for (const Moment& m : reviews.moments(clip)) {
        const auto face = m.slot == slot ? core::face_ellipse(core::without_guesses(m.figure)) : std::nullopt;
        if (face)
            known[m.frame] = {
                {}, clip, 0, m.frame, face->centre.x, face->centre.y, face->long_half, face->long_half};
    }
    for (const FaceMark& m : leaving.face_marks(clip)) {
        person = std::min(person, m.person - 1);
        if (m.person != slot) continue;
        known[m.frame] = m;
        remove(m.id);
    }
    if (known.empty()) known[0] = {{}, clip, 0, 0};
    for (auto& [frame, mark] : known) {
        mark.id = {};
        mark.person = person;
        put(mark);
    }
}

std::vector<Clip> YardStore::remove(RiderId id) {
    std::vector<Clip> gone;
    within([&] {
        for (const Ride& r : rides.rides_of(id)) {
            std::vector<Clip> all =
                select<Clip>(database(), "JOIN slot ON slot.clip = clip.id WHERE slot.ride = ?",
                             [&](Binder& b) { b << r.id; });
            for (Clip& c : all) {
                const auto held = rides.places(c.id);
                const bool alone = std::all_of(held.begin(), held.end(), [&](const Slot& s) {
                    const auto other = rides.ride(s.ride);
                    return !other || other->rider == id || !other->rider;
                });
                if (alone) {
                    remove(c.id);
                    gone.push_back(std::move(c));
                    continue;
                }
                // Somebody else rides in it too: it stays, without this rider's figure.
                for (const Slot& s : held) {
                    if (s.ride != r.id) continue;
                    keep_face(c.id, s.slot);
                    run(database(),
                        "DELETE FROM mark WHERE moment IN (SELECT id FROM moment WHERE clip = ? AND slot = "
                        "?)",
                        [&](Binder& b) { b << c.id << s.slot; });
                    run(database(), "DELETE FROM moment WHERE clip = ? AND slot = ?",
                        [&](Binder& b) { b << c.id << s.slot; });
                    for (const char* table :
                         {"answer", "sketch", "repeat_mark", "ground_mark", "asked_line", "spoken"})
                        run(database(), fmt::format("DELETE FROM {} WHERE clip = ? AND slot = ?", table),
                            [&](Binder& b) { b << c.id << s.slot; });
                    run(database(), "DELETE FROM arena_mark WHERE clip = ? AND slot = ? AND kind = 'horse'",
                        [&](Binder& b) { b << c.id << s.slot; });
                    run(database(), "DELETE FROM note WHERE clip = ? AND slot = ?",
                        [&](Binder& b) { b << c.id << s.slot; });
                    rides.remove_slot(c.id, s.slot);
                }
            }
            remove(r.id);
        }
        for (const Correction& c : work.corrections(id)) remove(c.id);
        for (const char* table : {"limitation", "stirrup", "sign_off", "practice", "rider_plan", "milestone",
                                  "promise", "outgoing", "consent"})
            run(database(), fmt::format("DELETE FROM {} WHERE rider = ?", table),
                [&](Binder& b) { b << id; });
        // That something left, on which day, for what use, stays; whose it was does not.
        run(database(), "UPDATE departure SET rider = 0, about = '', file = '' WHERE rider = ?",
            [&](Binder& b) { b << id; });
        erase(database(), "rider", id);
    });
    return gone;
}

}  // namespace aspen::store
