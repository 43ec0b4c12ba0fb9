#include "store/statement.hpp"
#include "store/yard_store.hpp"

/// What belongs to the review of a clip: moments and joints, stretches, notes, remarks, findings, phrases.
namespace aspen::store {
namespace {

constexpr std::array kDecisionWords{"open", "accepted", "changed", "rejected", "asked_back"};
constexpr std::array kNoteWords{"good", "look", "words"};
constexpr std::array kRemarkWords{"finding", "strength"};

constexpr const char* kMoment =
    "SELECT id, clip, frame, time_s, phase, field, slot, top_x, top_y FROM moment ";

Moment read_moment(SQLite::Statement& s) {
    Moment m;
    m.id = id_of<MomentId>(s.getColumn(0));
    m.clip = id_of<ClipId>(s.getColumn(1));
    m.frame = s.getColumn(2);
    m.time_s = s.getColumn(3);
    m.phase = s.getColumn(4).getString();
    m.field = s.getColumn(5);
    m.slot = s.getColumn(6);
    if (!s.getColumn(7).isNull() && !s.getColumn(8).isNull())
        m.head_top = core::Point{s.getColumn(7), s.getColumn(8)};
    return m;
}

constexpr const char* kMarkColumns = "landmark, x, y, visibility, sd_px, origin, confirmed, put_x, put_y";

/// Reads a row of kMarkColumns, which start at a column, into a figure.
void read_mark(SQLite::Statement& s, int from, core::Figure& figure) {
    const auto l = core::landmark_from(s.getColumn(from).getString());
    if (!l) return;
    core::Mark& m = figure[*l];
    m = {{s.getColumn(from + 1), s.getColumn(from + 2)},
         static_cast<core::Visibility>(s.getColumn(from + 3).getInt()),
         s.getColumn(from + 4),
         core::origin_from(s.getColumn(from + 5).getString()).value_or(core::Origin::clicked),
         s.getColumn(from + 6).getInt() != 0,
         {}};
    const auto x = real(s.getColumn(from + 7)), y = real(s.getColumn(from + 8));
    if (x && y) m.put_at = core::Point{*x, *y};
}

void take_camera(core::Figure& figure, const ClipContext& context) {
    figure.view = context.view;
    figure.travel = context.travel;
    figure.camera = context.camera;
}

std::optional<double> x_of(const std::optional<core::Point>& p) {
    return p ? std::optional(p->x) : std::nullopt;
}
std::optional<double> y_of(const std::optional<core::Point>& p) {
    return p ? std::optional(p->y) : std::nullopt;
}

/// One figure a moment from rows "moment id, view, travel, roll, roll sd, yaw, yaw sd, mark columns", in
/// moment order.
constexpr const char* kFigures =
    "SELECT moment.id, clip.view, clip.travel, clip.roll_deg, clip.roll_sd_deg, clip.yaw_deg, "
    "clip.yaw_sd_deg, "
    "mark.landmark, mark.x, mark.y, mark.visibility, mark.sd_px, mark.origin, mark.confirmed, mark.put_x, "
    "mark.put_y "
    "FROM moment JOIN clip ON clip.id = moment.clip JOIN mark ON mark.moment = moment.id WHERE "
    "moment.trashed = 0 AND clip.trashed = 0 ";

template <typename Bind>
std::vector<core::Figure> read_figures(Database& database, const std::string& where, Bind bind) {
    std::vector<core::Figure> out;
    std::int64_t last = 0;
    query(database, kFigures + where + " ORDER BY moment.id", bind, [&](SQLite::Statement& s) {
        if (const std::int64_t id = s.getColumn(0).getInt64(); id != last) {
            last = id;
            core::Figure f;
            f.view = core::view_from(s.getColumn(1).getString()).value_or(core::View::side);
            f.travel = core::travel_from(s.getColumn(2).getString()).value_or(core::Travel::unknown);
            f.camera.roll_deg = s.getColumn(3);
            f.camera.roll_sd_deg = s.getColumn(4);
            f.camera.yaw_deg = s.getColumn(5);
            f.camera.yaw_sd_deg = s.getColumn(6);
            out.push_back(f);
        }
        read_mark(s, 7, out.back());
        return 0;
    });
    return out;
}

template <typename Enum>
std::string_view word_or_none(const std::optional<Enum>& e) {
    return e ? core::word(*e) : std::string_view();
}

}  // namespace

MomentId YardStore::add(const Moment& m) {
    MomentId id;
    within([&] {
        id = {run(database_,
                  "INSERT INTO moment(id, clip, frame, time_s, phase, field, slot, top_x, top_y) "
                  "VALUES(?,?,?,?,?,?,?,?,?)",
                  [&](Binder& b) {
                      b << m.id << m.clip << m.frame << m.time_s << m.phase << m.field << m.slot
                        << x_of(m.head_top) << y_of(m.head_top);
                  })};
        for (std::size_t i = 0; i < core::kLandmarkCount; ++i) {
            if (m.figure.marks[i].visibility != core::Visibility::absent)
                put(id, static_cast<core::Landmark>(i), m.figure.marks[i]);
        }
    });
    return id;
}
void YardStore::set_phase(MomentId id, const std::string& phase) {
    run(database_, "UPDATE moment SET phase = ? WHERE id = ?", [&](Binder& b) { b << phase << id; });
}
void YardStore::set_head_top(MomentId id, std::optional<core::Point> at) {
    run(database_, "UPDATE moment SET top_x = ?, top_y = ? WHERE id = ?",
        [&](Binder& b) { b << x_of(at) << y_of(at) << id; });
}
void YardStore::trash(MomentId id, bool trashed) {
    run(database_, "UPDATE moment SET trashed = ? WHERE id = ?", [&](Binder& b) { b << trashed << id; });
}
void YardStore::remove(MomentId id) {
    run(database_, "DELETE FROM moment WHERE id = ?", [&](Binder& b) { b << id; });
}

void YardStore::put(MomentId id, core::Landmark landmark, const core::Mark& m) {
    if (m.visibility == core::Visibility::absent) {
        run(database_, "DELETE FROM mark WHERE moment = ? AND landmark = ?",
            [&](Binder& b) { b << id << core::id(landmark); });
        return;
    }
    run(database_,
        "INSERT OR REPLACE INTO mark(moment, landmark, x, y, visibility, sd_px, origin, confirmed, put_x, "
        "put_y) VALUES(?,?,?,?,?,?,?,?,?,?)",
        [&](Binder& b) {
            b << id << core::id(landmark) << m.at.x << m.at.y << static_cast<int>(m.visibility) << m.sd_px
              << core::word(m.origin) << m.confirmed << x_of(m.put_at) << y_of(m.put_at);
        });
}

std::vector<Moment> YardStore::moments(ClipId clip_id) {
    const auto owner = clip(clip_id);
    if (!owner) return {};
    auto moments = query(
        database_, std::string(kMoment) + "WHERE clip = ? AND trashed = 0 ORDER BY frame, slot",
        [&](Binder& b) { b << clip_id; }, read_moment);
    std::map<std::int64_t, core::Figure*> by_id;
    for (Moment& m : moments) {
        take_camera(m.figure, owner->context);
        by_id[m.id.value] = &m.figure;
    }
    query(
        database_,
        std::string("SELECT moment, ") + kMarkColumns +
            " FROM mark WHERE moment IN (SELECT id FROM moment WHERE clip = ?)",
        [&](Binder& b) { b << clip_id; },
        [&](SQLite::Statement& s) {
            if (const auto it = by_id.find(s.getColumn(0).getInt64()); it != by_id.end())
                read_mark(s, 1, *it->second);
            return 0;
        });
    return moments;
}
std::vector<Moment> YardStore::trashed_moments() {
    return query(database_,
                 std::string(kMoment) +
                     "WHERE trashed = 1 AND clip IN (SELECT id FROM clip WHERE trashed = 0) ORDER BY id DESC",
                 kNothing, read_moment);
}
std::vector<core::Figure> YardStore::figures_of(RiderId rider) {
    return read_figures(database_,
                        "AND ((moment.slot = 0 AND clip.rider = ?) OR moment.slot IN (SELECT slot FROM "
                        "companion WHERE companion.clip = clip.id AND companion.rider = ?))",
                        [&](Binder& b) { b << rider << rider; });
}
std::vector<core::Figure> YardStore::placed_figures() {
    return read_figures(database_, "AND moment.id IN (SELECT moment FROM mark WHERE put_x IS NOT NULL)",
                        kNothing);
}

void YardStore::put_stretches(ClipId clip, const core::Stretches& stretches) {
    within([&] {
        run(database_, "DELETE FROM stretch WHERE clip = ?", [&](Binder& b) { b << clip; });
        for (const core::Stretch& s : stretches) {
            run(database_,
                "INSERT INTO stretch(clip, first, gait, rein, seat, asked, shown, name, judged) "
                "VALUES(?,?,?,?,?,?,?,?,?)",
                [&](Binder& b) {
                    b << clip << s.first << word_or_none(s.gait) << word_or_none(s.rein)
                      << word_or_none(s.seat) << s.asked << s.shown << s.name << s.judged;
                });
        }
    });
}
core::Stretches YardStore::stretches(ClipId clip) {
    return query(
        database_,
        "SELECT first, gait, rein, seat, asked, shown, name, judged FROM stretch WHERE clip = ? ORDER BY "
        "first",
        [&](Binder& b) { b << clip; },
        [](SQLite::Statement& s) {
            return core::Stretch{s.getColumn(0),
                                 core::gait_from(s.getColumn(1).getString()),
                                 core::rein_from(s.getColumn(2).getString()),
                                 core::seat_from(s.getColumn(3).getString()),
                                 s.getColumn(4),
                                 s.getColumn(5),
                                 s.getColumn(6),
                                 s.getColumn(7).getInt() != 0};
        });
}

void YardStore::put_companions(ClipId clip, const std::vector<Companion>& companions) {
    within([&] {
        run(database_, "DELETE FROM companion WHERE clip = ?", [&](Binder& b) { b << clip; });
        for (const Companion& c : companions) {
            run(database_, "INSERT INTO companion(clip, slot, rider, horse) VALUES(?,?,?,?)",
                [&](Binder& b) { b << clip << c.slot << c.rider << c.horse; });
        }
    });
}
std::vector<Companion> YardStore::companions(ClipId clip) {
    return query(
        database_, "SELECT slot, rider, horse FROM companion WHERE clip = ? ORDER BY slot",
        [&](Binder& b) { b << clip; },
        [](SQLite::Statement& s) {
            return Companion{s.getColumn(0), id_of<RiderId>(s.getColumn(1)), id_of<HorseId>(s.getColumn(2))};
        });
}

std::vector<std::pair<Clip, int>> YardStore::clips_as_companion(RiderId rider) {
    struct Row {
        ClipId clip;
        Companion companion;
    };
    const auto rows = query(
        database_, "SELECT clip, slot, rider, horse FROM companion WHERE rider = ?",
        [&](Binder& b) { b << rider; },
        [](SQLite::Statement& s) {
            return Row{id_of<ClipId>(s.getColumn(0)),
                       {s.getColumn(1), id_of<RiderId>(s.getColumn(2)), id_of<HorseId>(s.getColumn(3))}};
        });
    std::vector<std::pair<Clip, int>> out;
    for (const Row& row : rows) {
        auto c = clip(row.clip);
        if (!c || c->trashed) continue;
        c->context.rider = row.companion.rider;
        c->context.horse = row.companion.horse;
        out.emplace_back(std::move(*c), row.companion.slot);
    }
    return out;
}

NoteId YardStore::add(const Note& n) {
    return {run(database_, "INSERT INTO note(id, clip, frame, kind, words, slot) VALUES(?,?,?,?,?,?)",
                [&](Binder& b) {
                    b << n.id << n.clip << n.frame << kNoteWords[static_cast<std::size_t>(n.kind)] << n.words
                      << n.slot;
                })};
}
void YardStore::update(const Note& n) {
    run(database_, "UPDATE note SET frame = ?, kind = ?, words = ?, slot = ? WHERE id = ?", [&](Binder& b) {
        b << n.frame << kNoteWords[static_cast<std::size_t>(n.kind)] << n.words << n.slot << n.id;
    });
}
void YardStore::remove(NoteId id) {
    run(database_, "DELETE FROM note WHERE id = ?", [&](Binder& b) { b << id; });
}
std::vector<Note> YardStore::notes(ClipId clip) {
    return query(
        database_, "SELECT id, frame, kind, words, slot FROM note WHERE clip = ? ORDER BY frame, id",
        [&](Binder& b) { b << clip; },
        [&](SQLite::Statement& s) {
            return Note{id_of<NoteId>(s.getColumn(0)),
                        clip,
                        s.getColumn(1),
                        static_cast<NoteKind>(place(kNoteWords, s.getColumn(2).getString())),
                        s.getColumn(3),
                        s.getColumn(4)};
        });
}

RemarkId YardStore::add(const Remark& r) {
    return {run(database_,
                "INSERT INTO remark(id, clip, kind, part, words, frame, slot) VALUES(?,?,?,?,?,?,?)",
                [&](Binder& b) {
                    b << r.id << r.clip << kRemarkWords[static_cast<std::size_t>(r.kind)] << r.part << r.words
                      << r.frame << r.slot;
                })};
}
void YardStore::remove(RemarkId id) {
    run(database_, "DELETE FROM remark WHERE id = ?", [&](Binder& b) { b << id; });
}
std::vector<Remark> YardStore::remarks(ClipId clip) {
    return query(
        database_, "SELECT id, kind, part, words, frame, slot FROM remark WHERE clip = ? ORDER BY id",
        [&](Binder& b) { b << clip; },
        [&](SQLite::Statement& s) {
            return Remark{id_of<RemarkId>(s.getColumn(0)),
                          clip,
                          static_cast<RemarkKind>(place(kRemarkWords, s.getColumn(1).getString())),
                          s.getColumn(2),
                          s.getColumn(3),
                          s.getColumn(4),
                          s.getColumn(5)};
        });
}

void YardStore::use_phrase(const std::string& words, int by) {
    run(database_,
        "INSERT INTO phrase(words, used) VALUES(?, ?) ON CONFLICT(words) DO UPDATE SET used = used + "
        "excluded.used",
        [&](Binder& b) { b << words << by; });
    run(database_, "DELETE FROM phrase WHERE words = ? AND used <= 0", [&](Binder& b) { b << words; });
}
std::vector<std::string> YardStore::phrases(int most) {
    return query(
        database_, "SELECT words FROM phrase ORDER BY used DESC, words LIMIT ?",
        [&](Binder& b) { b << most; }, [](SQLite::Statement& s) { return s.getColumn(0).getString(); });
}

void YardStore::put(const Finding& f) {
    run(database_,
        "INSERT OR REPLACE INTO finding(clip, slot, fault, measured_verdict, measured_severity, decision, "
        "changed_to, decided_on, frame) VALUES(?,?,?,?,?,?,?,?,?)",
        [&](Binder& b) {
            b << f.clip << f.slot << f.fault << f.measured_verdict << f.measured_severity
              << kDecisionWords[static_cast<std::size_t>(f.decision)] << f.changed_to << f.decided_on
              << f.frame;
        });
}
void YardStore::remove_finding(ClipId clip, const std::string& fault, int slot) {
    run(database_, "DELETE FROM finding WHERE clip = ? AND fault = ? AND slot = ?",
        [&](Binder& b) { b << clip << fault << slot; });
}
std::vector<Finding> YardStore::findings(ClipId clip) {
    return query(
        database_,
        "SELECT fault, measured_verdict, measured_severity, decision, changed_to, decided_on, slot, frame "
        "FROM finding WHERE clip = ? ORDER BY slot, fault",
        [&](Binder& b) { b << clip; },
        [&](SQLite::Statement& s) {
            return Finding{clip,
                           s.getColumn(0),
                           s.getColumn(1),
                           s.getColumn(2),
                           static_cast<Decision>(place(kDecisionWords, s.getColumn(3).getString())),
                           s.getColumn(4),
                           s.getColumn(5),
                           s.getColumn(6),
                           s.getColumn(7)};
        });
}

}  // namespace aspen::store
