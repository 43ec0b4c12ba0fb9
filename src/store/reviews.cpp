#include "store/reviews.hpp"

#include <algorithm>
#include <map>

#include "core/body/stretches.hpp"
#include "store/statement.hpp"

namespace aspen::store {
namespace {

void take_view(core::Figure& figure, const core::Stretch& s) {
    figure.view = s.view;
    figure.travel = s.travel;
    figure.camera = s.camera;
}

std::optional<double> x_of(const std::optional<core::Point>& p) {
    return p ? std::optional(p->x) : std::nullopt;
}
std::optional<double> y_of(const std::optional<core::Point>& p) {
    return p ? std::optional(p->y) : std::nullopt;
}

void read_mark(SQLite::Statement& s, int from, core::Figure& figure) {
    std::string name;
    Reader reader(s, from);
    reader >> name;
    if (const auto l = core::landmark_from(name)) read(reader, figure[*l]);
}

/// One figure a moment, joined with the stretch it lies in; rows come moment by moment.
std::vector<core::Figure> read_figures(Database& database, const std::string& moments,
                                       const std::function<void(Binder&)>& bind) {
    const std::string sql =
        "SELECT moment.id, stretch.view, stretch.travel, stretch.roll_deg, stretch.roll_sd_deg, "
        "stretch.yaw_deg, "
        "stretch.yaw_sd_deg, mark.landmark, " +
        columns<core::Mark>() + " FROM (" + moments +
        ") AS chosen CROSS JOIN moment ON moment.id = chosen.id "
        "CROSS JOIN stretch ON stretch.clip = moment.clip AND stretch.first = (SELECT max(s.first) FROM "
        "stretch s "
        "WHERE s.clip = "
        "moment.clip AND s.first <= moment.frame) JOIN mark ON mark.moment = moment.id ORDER BY moment.id "
        "DESC";
    std::vector<core::Figure> out;
    std::int64_t last = 0;
    query(database, sql, bind, [&](SQLite::Statement& s) {
        Reader reader(s);
        std::int64_t id = 0;
        reader >> id;
        if (id != last) {
            last = id;
            core::Figure& f = out.emplace_back();
            reader >> f.view >> f.travel >> f.camera.roll_deg >> f.camera.roll_sd_deg >> f.camera.yaw_deg >>
                f.camera.yaw_sd_deg;
        }
        read_mark(s, 7, out.back());
        return 0;
    });
    return out;
}

}  // namespace

MomentId Reviews::add(const Moment& m) {
    MomentId id;
    within([&] {
        id = {insert(database_, m)};
        for (std::size_t i = 0; i < core::kLandmarkCount; ++i) {
            if (m.figure.marks[i].visibility != core::Visibility::absent)
                put(id, static_cast<core::Landmark>(i), m.figure.marks[i]);
        }
    });
    return id;
}

void Reviews::set_phase(MomentId id, const std::string& phase) {
    run(database_, "UPDATE moment SET phase = ? WHERE id = ?", [&](Binder& b) { b << phase << id; });
}

void Reviews::set_head_top(MomentId id, std::optional<core::Point> at) {
    run(database_, "UPDATE moment SET top_x = ?, top_y = ? WHERE id = ?",
        [&](Binder& b) { b << x_of(at) << y_of(at) << id; });
}

void Reviews::trash(MomentId id, bool trashed) {
    run(database_, "UPDATE moment SET trashed = ? WHERE id = ?", [&](Binder& b) { b << trashed << id; });
}

void Reviews::remove(MomentId id) {
    within([&] {
        run(database_, "DELETE FROM mark WHERE moment = ?", [&](Binder& b) { b << id; });
        erase(database_, "moment", id);
    });
}

void Reviews::put(MomentId id, core::Landmark landmark, const core::Mark& m) {
    if (m.visibility == core::Visibility::absent) {
        run(database_, "DELETE FROM mark WHERE moment = ? AND landmark = ?",
            [&](Binder& b) { b << id << core::id(landmark); });
        return;
    }
    run(database_,
        "INSERT INTO mark(moment, landmark, x, y, visibility, sd_px, origin, confirmed, put_x, put_y) "
        "VALUES(?,?,?,?,?,?,?,?,?,?) ON CONFLICT(moment, landmark) DO UPDATE SET x = excluded.x, y = "
        "excluded.y, "
        "visibility = excluded.visibility, sd_px = excluded.sd_px, origin = excluded.origin, confirmed = "
        "excluded.confirmed, put_x = excluded.put_x, put_y = excluded.put_y",
        [&](Binder& b) {
            b << id << core::id(landmark) << m.at.x << m.at.y << m.visibility << m.sd_px << m.origin
              << m.confirmed << m.put_at;
        });
}

std::vector<Moment> Reviews::moments(ClipId clip) const {
    auto moments = select<Moment>(database_, "WHERE clip = ? AND trashed = 0 ORDER BY frame, slot",
                                  [&](Binder& b) { b << clip; });
    if (moments.empty()) return moments;
    const core::Stretches ridden = rides_.stretches(clip);
    std::map<std::int64_t, core::Figure*> by_id;
    for (Moment& m : moments) {
        take_view(m.figure, core::ridden_at(ridden, m.frame));
        by_id[m.id.value] = &m.figure;
    }
    query(
        database_,
        "SELECT mark.moment, mark.landmark, " + columns<core::Mark>() +
            " FROM moment JOIN mark ON mark.moment = moment.id WHERE moment.clip = ? AND moment.trashed = 0",
        [&](Binder& b) { b << clip; },
        [&](SQLite::Statement& s) {
            if (const auto it = by_id.find(s.getColumn(0).getInt64()); it != by_id.end())
                read_mark(s, 1, *it->second);
            return 0;
        });
    return moments;
}

std::optional<Moment> Reviews::moment(MomentId id) const {
    auto m = select_one<Moment>(database_, id);
    if (!m) return m;
    take_view(m->figure, core::ridden_at(rides_.stretches(m->clip), m->frame));
    query(
        database_, "SELECT landmark, " + columns<core::Mark>() + " FROM mark WHERE moment = ?",
        [&](Binder& b) { b << id; },
        [&](SQLite::Statement& s) {
            read_mark(s, 0, m->figure);
            return 0;
        });
    return m;
}

std::vector<Moment> Reviews::trashed_moments() const {
    return select<Moment>(
        database_,
        "WHERE trashed = 1 AND clip NOT IN (SELECT id FROM clip WHERE trashed = 1) ORDER BY id DESC",
        kNothing);
}

std::vector<core::Figure> Reviews::figures_of(RiderId rider, int most) const {
    return read_figures(database_,
                        "SELECT moment.id FROM ride JOIN slot ON slot.ride = ride.id JOIN moment ON "
                        "moment.clip = slot.clip AND moment.slot = "
                        "slot.slot JOIN clip ON clip.id = moment.clip WHERE ride.rider = ? AND "
                        "moment.trashed = 0 AND clip.trashed = 0 "
                        "ORDER BY ride.day DESC, moment.id DESC LIMIT ?",
                        [&](Binder& b) { b << rider << most; });
}

std::vector<core::Figure> Reviews::placed_figures(int most) const {
    return read_figures(
        database_,
        "SELECT DISTINCT mark.moment AS id FROM mark WHERE put_x IS NOT NULL AND EXISTS (SELECT 1 "
        "FROM moment JOIN clip ON clip.id = moment.clip WHERE moment.id = mark.moment AND "
        "moment.trashed = 0 AND clip.trashed = 0) ORDER BY mark.moment DESC LIMIT ?",
        [&](Binder& b) { b << most; });
}

std::vector<std::vector<core::Figure>> Reviews::placed_figures_of_others(RiderId own, int most_riders,
                                                                         int most_each) const {
    std::vector<std::vector<core::Figure>> out;
    const auto riders = query(
        database_,
        "SELECT ride.rider FROM ride JOIN slot ON slot.ride = ride.id JOIN moment ON moment.clip = slot.clip "
        "AND moment.slot = slot.slot JOIN clip ON clip.id = moment.clip WHERE ride.rider IS NOT NULL AND "
        "ride.rider IS NOT ? AND moment.trashed = 0 AND clip.trashed = 0 AND EXISTS (SELECT 1 FROM mark "
        "WHERE "
        "mark.moment = moment.id AND mark.put_x IS NOT NULL) GROUP BY ride.rider ORDER BY max(moment.id) "
        "DESC "
        "LIMIT ?",
        [&](Binder& b) { b << own << most_riders; },
        [](SQLite::Statement& s) { return RiderId{s.getColumn(0).getInt64()}; });
    for (const RiderId rider : riders) out.push_back(figures_of(rider, most_each));
    return out;
}

NoteId Reviews::add(const Note& n) { return {insert(database_, n)}; }

void Reviews::update(const Note& n) { change(database_, n); }

void Reviews::remove(NoteId id) { erase(database_, "note", id); }

std::vector<Note> Reviews::notes(ClipId clip) const {
    return select<Note>(database_, "WHERE clip = ? ORDER BY frame, id", [&](Binder& b) { b << clip; });
}

RemarkId Reviews::add(const Remark& r) { return {insert(database_, r)}; }

void Reviews::remove(RemarkId id) { erase(database_, "remark", id); }

std::vector<Remark> Reviews::remarks(RideId ride) const {
    return select<Remark>(database_, "WHERE ride = ? ORDER BY id", [&](Binder& b) { b << ride; });
}

EventId Reviews::add(const Event& e) { return {insert(database_, e)}; }

void Reviews::update(const Event& e) { change(database_, e); }

void Reviews::remove(EventId id) { erase(database_, "event", id); }

std::vector<Event> Reviews::events_in(ClipId clip) const {
    return select<Event>(database_, "WHERE clip = ? ORDER BY time_s, id", [&](Binder& b) { b << clip; });
}

std::vector<Event> Reviews::events(RideId ride) const {
    return select<Event>(database_, "WHERE ride = ? ORDER BY clip, time_s, at, id",
                         [&](Binder& b) { b << ride; });
}

void Reviews::put(const Answer& a) {
    within([&] {
        run(database_, "DELETE FROM answer WHERE clip = ? AND slot = ? AND frame = ? AND name = ?",
            [&](Binder& b) { b << a.clip << a.slot << a.frame << a.check; });
        insert(database_, a);
    });
}

void Reviews::remove(AnswerId id) { erase(database_, "answer", id); }

std::vector<Answer> Reviews::answers(ClipId clip) const {
    return select<Answer>(database_, "WHERE clip = ? ORDER BY frame, id", [&](Binder& b) { b << clip; });
}

GroundMarkId Reviews::add(const GroundMark& g) {
    GroundMarkId id;
    within([&] {
        if (g.kind == GroundMarkKind::lap_line)
            run(database_, "DELETE FROM ground_mark WHERE clip = ? AND kind = 'lap_line'",
                [&](Binder& b) { b << g.clip; });
        id = {insert(database_, g)};
    });
    return id;
}

void Reviews::remove(GroundMarkId id) { erase(database_, "ground_mark", id); }

std::vector<GroundMark> Reviews::ground_marks(ClipId clip) const {
    return select<GroundMark>(database_, "WHERE clip = ? ORDER BY frame, id", [&](Binder& b) { b << clip; });
}

SketchId Reviews::add(const Sketch& s) { return {insert(database_, s)}; }

void Reviews::remove(SketchId id) { erase(database_, "sketch", id); }

std::vector<Sketch> Reviews::sketches(ClipId clip) const {
    return select<Sketch>(database_, "WHERE clip = ? ORDER BY frame, id", [&](Binder& b) { b << clip; });
}

RepeatId Reviews::add(const Repeat& r) { return {insert(database_, r)}; }

std::vector<Repeat> Reviews::repeats(int most) const {
    return select<Repeat>(database_, "ORDER BY id DESC LIMIT ?", [&](Binder& b) { b << most; });
}

void Reviews::use_phrase(const std::string& words, int by) {
    run(database_,
        "INSERT INTO phrase(words, used) VALUES(?, ?) ON CONFLICT(words) DO UPDATE SET used = used + "
        "excluded.used",
        [&](Binder& b) { b << words << by; });
    run(database_, "DELETE FROM phrase WHERE words = ? AND used <= 0", [&](Binder& b) { b << words; });
}

std::vector<std::string> Reviews::phrases(int most) const {
    return query(
        database_, "SELECT words FROM phrase ORDER BY used DESC, words LIMIT ?",
        [&](Binder& b) { b << most; }, [](SQLite::Statement& s) { return s.getColumn(0).getString(); });
}

void Reviews::put(const Finding& f) {
    const auto there = findings(f.ride);
    const auto same =
        std::ranges::find_if(there, [&](const Finding& t) { return t.fault == f.fault && t.seen == f.seen; });
    Finding kept = f;
    if (same == there.end()) {
        insert(database_, kept);
        return;
    }
    kept.id = same->id;
    change(database_, kept);
}

std::vector<Finding> Reviews::findings(RideId ride) const {
    return select<Finding>(database_, "WHERE ride = ? ORDER BY fault, gait, seat, side",
                           [&](Binder& b) { b << ride; });
}

}  // namespace aspen::store
