#include "store/yard_store.hpp"

#include "store/statement.hpp"

namespace aspen::store {
namespace {

constexpr std::array kStateWords{"fresh", "started", "done"};

Rider read_rider(SQLite::Statement& s) {
    return {id_of<RiderId>(s.getColumn(0)),
            s.getColumn(1),
            whole(s.getColumn(2)),
            s.getColumn(3),
            s.getColumn(4),
            s.getColumn(5),
            s.getColumn(6),
            s.getColumn(7),
            s.getColumn(8),
            s.getColumn(9),
            s.getColumn(10).getInt() != 0};
}
constexpr const char* kRider =
    "SELECT id, name, birth_year, school, level, goal, limitations, consent_by, consent_on, consent_until, "
    "trashed FROM rider ";

Horse read_horse(SQLite::Statement& s) {
    return {id_of<HorseId>(s.getColumn(0)), s.getColumn(1), whole(s.getColumn(2)), s.getColumn(3)};
}
constexpr const char* kHorse = "SELECT id, name, height_cm, note FROM horse ";

constexpr const char* kClip =
    "SELECT id, path, hash, bytes, filmed_on, added_on, state, rider, horse, school, gait, seat, view, "
    "travel, "
    "roll_deg, roll_sd_deg, roll_marked, yaw_deg, yaw_sd_deg, yaw_marked, last_frame, trashed, filmed_fps, "
    "slow_from_s, slow_to_s, goal, question, hurts, px_per_m, px_per_m_sd, duration_s FROM clip ";

Clip read_clip(SQLite::Statement& s) {
    Clip c;
    c.id = id_of<ClipId>(s.getColumn(0));
    c.path = s.getColumn(1).getString();
    c.hash = s.getColumn(2).getString();
    c.bytes = s.getColumn(3).getInt64();
    c.filmed_on = s.getColumn(4).getString();
    c.added_on = s.getColumn(5).getString();
    c.state = static_cast<ClipState>(place(kStateWords, s.getColumn(6).getString()));
    c.context.rider = id_of<RiderId>(s.getColumn(7));
    c.context.horse = id_of<HorseId>(s.getColumn(8));
    c.context.school = s.getColumn(9).getString();
    c.context.gait = core::gait_from(s.getColumn(10).getString());
    c.context.seat = core::seat_from(s.getColumn(11).getString());
    c.context.view = core::view_from(s.getColumn(12).getString()).value_or(core::View::side);
    c.context.travel = core::travel_from(s.getColumn(13).getString()).value_or(core::Travel::unknown);
    c.context.camera = {s.getColumn(14),
                        s.getColumn(15),
                        s.getColumn(17),
                        s.getColumn(18),
                        s.getColumn(16).getInt() != 0,
                        s.getColumn(19).getInt() != 0};
    c.last_frame = s.getColumn(20);
    c.trashed = s.getColumn(21).getInt() != 0;
    c.context.capture = {s.getColumn(22), real(s.getColumn(23)), real(s.getColumn(24))};
    c.context.own = {s.getColumn(25), s.getColumn(26), s.getColumn(27)};
    c.context.px_per_m = s.getColumn(28);
    c.context.px_per_m_sd = s.getColumn(29);
    c.duration_s = s.getColumn(30);
    return c;
}

void bind_clip(Binder& b, const Clip& c) {
    const ClipContext& x = c.context;
    b << c.path << c.hash << c.bytes << c.filmed_on << c.added_on
      << kStateWords[static_cast<std::size_t>(c.state)] << x.rider << x.horse << x.school
      << (x.gait ? core::word(*x.gait) : std::string_view())
      << (x.seat ? core::word(*x.seat) : std::string_view()) << core::word(x.view) << core::word(x.travel)
      << x.camera.roll_deg << x.camera.roll_sd_deg << x.camera.roll_marked << x.camera.yaw_deg
      << x.camera.yaw_sd_deg << x.camera.yaw_marked << c.last_frame << c.trashed << x.capture.filmed_fps
      << x.capture.from_s << x.capture.to_s << x.own.goal << x.own.question << x.own.hurts << x.px_per_m
      << x.px_per_m_sd << c.duration_s;
}

Correction read_correction(SQLite::Statement& s) {
    Correction c;
    c.id = id_of<CorrectionId>(s.getColumn(0));
    c.rider = id_of<RiderId>(s.getColumn(1));
    c.horse = id_of<HorseId>(s.getColumn(2));
    c.fault = s.getColumn(3).getString();
    c.travel = core::travel_from(s.getColumn(4).getString()).value_or(core::Travel::unknown);
    c.gait = core::gait_from(s.getColumn(5).getString()).value_or(core::Gait::walk);
    c.view = core::view_from(s.getColumn(6).getString()).value_or(core::View::side);
    c.seat = core::seat_from(s.getColumn(7).getString()).value_or(core::Seat::sitting);
    c.noticed_on = s.getColumn(8).getString();
    c.focus = s.getColumn(9).getInt() != 0;
    return c;
}
constexpr const char* kCorrection =
    "SELECT id, rider, horse, fault, travel, gait, view, seat, noticed_on, focus FROM correction ";

void bind_correction(Binder& b, const Correction& c) {
    b << c.rider << c.horse << c.fault << core::word(c.travel) << core::word(c.gait) << core::word(c.view)
      << core::word(c.seat);
}

}  // namespace

void YardStore::within(const std::function<void()>& work) {
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

RiderId YardStore::add(const Rider& r) {
    return {run(database_,
                "INSERT INTO rider(name, birth_year, school, level, goal, limitations, consent_by, "
                "consent_on, consent_until) VALUES(?,?,?,?,?,?,?,?,?)",
                [&](Binder& b) {
                    b << r.name << r.birth_year << r.school << r.level << r.goal << r.limitations
                      << r.consent_by << r.consent_on << r.consent_until;
                })};
}
void YardStore::update(const Rider& r) {
    run(database_,
        "UPDATE rider SET name=?, birth_year=?, school=?, level=?, goal=?, limitations=?, consent_by=?, "
        "consent_on=?, consent_until=?, trashed=? WHERE id=?",
        [&](Binder& b) {
            b << r.name << r.birth_year << r.school << r.level << r.goal << r.limitations << r.consent_by
              << r.consent_on << r.consent_until << r.trashed << r.id;
        });
}
std::vector<Rider> YardStore::riders() {
    return query(database_, std::string(kRider) + "WHERE trashed = 0 ORDER BY name", kNothing, read_rider);
}
std::vector<Rider> YardStore::trashed_riders() {
    return query(database_, std::string(kRider) + "WHERE trashed = 1 ORDER BY name", kNothing, read_rider);
}
std::optional<Rider> YardStore::rider(RiderId id) {
    return first(query(
        database_, std::string(kRider) + "WHERE id = ?", [&](Binder& b) { b << id; }, read_rider));
}

HorseId YardStore::add(const Horse& h) {
    return {run(database_, "INSERT INTO horse(name, height_cm, note) VALUES(?,?,?)",
                [&](Binder& b) { b << h.name << h.height_cm << h.note; })};
}
std::vector<Horse> YardStore::horses() {
    return query(database_, std::string(kHorse) + "ORDER BY name", kNothing, read_horse);
}
std::optional<Horse> YardStore::horse(HorseId id) {
    return first(query(
        database_, std::string(kHorse) + "WHERE id = ?", [&](Binder& b) { b << id; }, read_horse));
}

ClipId YardStore::add(const Clip& c) {
    return {run(database_,
                "INSERT INTO clip(path, hash, bytes, filmed_on, added_on, state, rider, horse, school, gait, "
                "seat, view, travel, "
                "roll_deg, roll_sd_deg, roll_marked, yaw_deg, yaw_sd_deg, yaw_marked, last_frame, trashed, "
                "filmed_fps, slow_from_s, slow_to_s, goal, question, hurts, px_per_m, px_per_m_sd, "
                "duration_s) VALUES(?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)",
                [&](Binder& b) { bind_clip(b, c); })};
}
void YardStore::update(const Clip& c) {
    run(database_,
        "UPDATE clip SET path=?, hash=?, bytes=?, filmed_on=?, added_on=?, state=?, rider=?, horse=?, "
        "school=?, gait=?, seat=?, view=?, travel=?, "
        "roll_deg=?, roll_sd_deg=?, roll_marked=?, yaw_deg=?, yaw_sd_deg=?, yaw_marked=?, last_frame=?, "
        "trashed=?, filmed_fps=?, slow_from_s=?, slow_to_s=?, goal=?, question=?, hurts=?, px_per_m=?, "
        "px_per_m_sd=?, duration_s=? WHERE id=?",
        [&](Binder& b) {
            bind_clip(b, c);
            b << c.id;
        });
}
std::vector<Clip> YardStore::clips() {
    return query(database_, std::string(kClip) + "WHERE trashed = 0 ORDER BY filmed_on DESC, id DESC",
                 kNothing, read_clip);
}
std::vector<Clip> YardStore::trashed_clips() {
    return query(database_, std::string(kClip) + "WHERE trashed = 1 ORDER BY filmed_on DESC, id DESC",
                 kNothing, read_clip);
}
void YardStore::remove(ClipId id) {
    run(database_, "DELETE FROM clip WHERE id = ?", [&](Binder& b) { b << id; });
}
std::vector<Clip> YardStore::clips_of(RiderId rider) {
    return query(
        database_, std::string(kClip) + "WHERE trashed = 0 AND rider = ? ORDER BY filmed_on, id",
        [&](Binder& b) { b << rider; }, read_clip);
}
std::optional<Clip> YardStore::clip(ClipId id) {
    return first(query(
        database_, std::string(kClip) + "WHERE id = ?", [&](Binder& b) { b << id; }, read_clip));
}
std::optional<Clip> YardStore::clip_with_hash(const std::string& hash) {
    return first(query(
        database_, std::string(kClip) + "WHERE hash = ? ORDER BY trashed, id", [&](Binder& b) { b << hash; },
        read_clip));
}

CorrectionId YardStore::add(const Correction& c) {
    return {run(database_,
                "INSERT INTO correction(id, rider, horse, fault, travel, gait, view, seat, noticed_on, "
                "focus) VALUES(?,?,?,?,?,?,?,?,?,?)",
                [&](Binder& b) {
                    b << c.id;
                    bind_correction(b, c);
                    b << c.noticed_on << c.focus;
                })};
}
void YardStore::update(const Correction& c) {
    run(database_, "UPDATE correction SET noticed_on = ?, focus = ? WHERE id = ?",
        [&](Binder& b) { b << c.noticed_on << c.focus << c.id; });
}
void YardStore::remove(CorrectionId id) {
    run(database_, "DELETE FROM correction WHERE id = ?", [&](Binder& b) { b << id; });
}
std::vector<Correction> YardStore::corrections(RiderId rider) {
    return query(
        database_, std::string(kCorrection) + "WHERE rider = ? ORDER BY focus DESC, noticed_on, id",
        [&](Binder& b) { b << rider; }, read_correction);
}
std::optional<Correction> YardStore::correction_like(const Correction& c) {
    return first(query(
        database_,
        std::string(kCorrection) +
            "WHERE rider=? AND horse=? AND fault=? AND travel=? AND gait=? AND view=? AND seat=?",
        [&](Binder& b) { bind_correction(b, c); }, read_correction));
}

PrescriptionId YardStore::add(const Prescription& p) {
    return {run(database_,
                "INSERT INTO prescription(correction, exercise, given_on, until, step, withdrawn) "
                "VALUES(?,?,?,?,?,?)",
                [&](Binder& b) {
                    b << p.correction << p.exercise << p.given_on << p.until << p.step << p.withdrawn;
                })};
}
void YardStore::withdraw(PrescriptionId id, bool withdrawn) {
    run(database_, "UPDATE prescription SET withdrawn = ? WHERE id = ?",
        [&](Binder& b) { b << withdrawn << id; });
}
std::vector<Prescription> YardStore::prescriptions(CorrectionId correction) {
    return query(
        database_,
        "SELECT id, exercise, given_on, until, step, withdrawn FROM prescription WHERE correction = ? AND "
        "withdrawn = 0 ORDER BY given_on, id",
        [&](Binder& b) { b << correction; },
        [&](SQLite::Statement& s) {
            return Prescription{id_of<PrescriptionId>(s.getColumn(0)),
                                correction,
                                s.getColumn(1),
                                s.getColumn(2),
                                s.getColumn(3),
                                s.getColumn(4),
                                s.getColumn(5).getInt() != 0};
        });
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
