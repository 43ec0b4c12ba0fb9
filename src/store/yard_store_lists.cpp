#include <cctype>

#include "store/statement.hpp"
#include "store/yard_store.hpp"

/// What the yard's lists show at once, and the search.
namespace aspen::store {
namespace {

const std::string& line_columns() {
    static const std::string text =
        "ride.id, " + columns<Ride>() +
        ", coalesce(rider.name, ''), coalesce(horse.name, ''), "
        "(SELECT count(*) FROM slot JOIN clip ON clip.id = slot.clip WHERE slot.ride = ride.id AND "
        "clip.trashed = 0) AS clips, "
        "(SELECT coalesce(sum(clip.duration_s), 0) FROM slot JOIN clip ON clip.id = slot.clip WHERE "
        "slot.ride = ride.id AND clip.trashed = 0), "
        "(SELECT clip.id FROM slot JOIN clip ON clip.id = slot.clip WHERE slot.ride = ride.id AND "
        "clip.trashed = 0 ORDER BY recorded_at, clip.id LIMIT 1), "
        "coalesce((SELECT fault FROM correction WHERE correction.rider = ride.rider AND correction.horse IS "
        "ride.horse AND focus = 1 LIMIT 1), '') "
        "FROM ride LEFT JOIN rider ON rider.id = ride.rider LEFT JOIN horse ON horse.id = ride.horse ";
    return text;
}

template <typename Bind>
std::vector<RideLine> lines(Database& database, const std::string& rest, Bind bind) {
    auto out = query(database, "SELECT " + line_columns() + rest, bind, [](SQLite::Statement& s) {
        RideLine line;
        Reader reader(s);
        reader >> line.ride.id;
        read(reader, line.ride);
        reader >> line.rider >> line.horse >> line.clips >> line.duration_s >> line.first.id >> line.focus;
        return line;
    });
    for (RideLine& line : out) {
        if (!line.first.id) continue;
        if (auto clip = select_one<Clip>(database, line.first.id)) line.first = std::move(*clip);
    }
    return out;
}

/// Every word as a phrase, the last one as a beginning: whatever is typed is looked for, nothing is syntax.
std::string match_of(const std::string& words) {
    std::string out, word;
    const auto flush = [&](bool last) {
        if (word.empty()) return;
        out += fmt::format("{}\"{}\"{}", out.empty() ? "" : " ", word, last ? "*" : "");
        word.clear();
    };
    for (const char c : words) {
        if (std::isspace(static_cast<unsigned char>(c)))
            flush(false);
        else if (c != '"')
            word += c;
    }
    flush(true);
    return out;
}

}  // namespace

std::vector<RideLine> YardStore::waiting() {
    return lines(database_,
                 "WHERE ride.state IN ('fresh', 'started') AND clips > 0 ORDER BY ride.day, ride.id",
                 kNothing);
}
std::vector<RideLine> YardStore::done(int skip, int most) {
    return lines(database_, "WHERE ride.state = 'done' ORDER BY ride.day DESC, ride.id DESC LIMIT ? OFFSET ?",
                 [&](Binder& b) { b << most << skip; });
}
std::vector<RideLine> YardStore::all_rides() {
    return query(database_,
                 "SELECT ride.id, " + columns<Ride>() +
                     ", coalesce(rider.name, ''), coalesce(horse.name, ''), "
                     "(SELECT count(*) FROM slot JOIN clip ON clip.id = slot.clip WHERE slot.ride = ride.id "
                     "AND clip.trashed = 0), "
                     "coalesce((SELECT fault FROM prescription JOIN correction ON correction.id = "
                     "prescription.correction WHERE "
                     "prescription.ride = ride.id AND withdrawn = 0 ORDER BY prescription.id DESC LIMIT 1), "
                     "'') FROM ride LEFT JOIN "
                     "rider ON rider.id = ride.rider LEFT JOIN horse ON horse.id = ride.horse ORDER BY "
                     "ride.day DESC, ride.id DESC",
                 kNothing, [](SQLite::Statement& s) {
                     RideLine line;
                     Reader reader(s);
                     reader >> line.ride.id;
                     read(reader, line.ride);
                     reader >> line.rider >> line.horse >> line.clips >> line.focus;
                     return line;
                 });
}
int YardStore::count_done() {
    return first(query(database_, "SELECT count(*) FROM ride WHERE state = 'done'", kNothing,
                       [](SQLite::Statement& s) { return s.getColumn(0).getInt(); }))
        .value_or(0);
}

std::map<RiderId, std::string> YardStore::last_days() {
    std::map<RiderId, std::string> out;
    query(database_, "SELECT rider, max(day) FROM ride WHERE rider IS NOT NULL GROUP BY rider", kNothing,
          [&](SQLite::Statement& s) {
              RiderId id;
              std::string day;
              Reader(s) >> id >> day;
              out[id] = day;
              return 0;
          });
    return out;
}

std::vector<YardStore::Running> YardStore::running() {
    return query(
        database_,
        "SELECT correction.rider, correction.fault, prescription.exercise, max(prescription.until) FROM "
        "correction "
        "LEFT JOIN prescription ON prescription.correction = correction.id AND prescription.withdrawn = 0 "
        "WHERE correction.focus = 1 GROUP BY correction.rider",
        kNothing, [](SQLite::Statement& s) {
            Running out;
            Reader(s) >> out.rider >> out.fault >> out.exercise >> out.until;
            return out;
        });
}

std::vector<Hit> YardStore::search(const std::string& words, int most) {
    const std::string match = match_of(words);
    if (match.empty()) return {};
    constexpr HitKind kKinds[] = {HitKind::rider, HitKind::rider,  HitKind::horse,  HitKind::ride,
                                  HitKind::note,  HitKind::remark, HitKind::finding};
    auto hits = query(
        database_, "SELECT rowid, words, about FROM search WHERE search MATCH ? ORDER BY rank LIMIT ?",
        [&](Binder& b) { b << match << most; },
        [&](SQLite::Statement& s) {
            const std::int64_t row = s.getColumn(0).getInt64();
            Hit hit{kKinds[static_cast<std::size_t>(row % 8) % std::size(kKinds)],
                    row / 8,
                    s.getColumn(1),
                    {},
                    {}};
            const std::string about = s.getColumn(2);
            if (hit.text.empty()) hit.text = about;
            return hit;
        });
    const auto ride_of = [&](const Hit& hit) -> RideId {
        const char* sql = hit.kind == HitKind::note     ? "SELECT ride FROM note_ride WHERE id = ?"
                          : hit.kind == HitKind::remark ? "SELECT ride FROM remark WHERE id = ?"
                                                        : "SELECT ride FROM finding WHERE id = ?";
        return first(query(
                         database_, sql, [&](Binder& b) { b << hit.id; },
                         [](SQLite::Statement& s) {
                             RideId id;
                             Reader(s) >> id;
                             return id;
                         }))
            .value_or(RideId{});
    };
    for (Hit& hit : hits) {
        while (!hit.text.empty() && hit.text.back() == ' ') hit.text.pop_back();
        if (hit.kind == HitKind::rider || hit.kind == HitKind::horse) continue;
        hit.ride = hit.kind == HitKind::ride ? RideId{hit.id} : ride_of(hit);
        if (const auto r = ride(hit.ride)) hit.day = r->day;
    }
    return hits;
}

}  // namespace aspen::store
