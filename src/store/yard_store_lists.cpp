#include <fmt/format.h>

#include <algorithm>
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

std::vector<RideLine> RideRecords::waiting() {
    return lines(database_,
                 "WHERE ride.state IN ('fresh', 'started') AND clips > 0 ORDER BY ride.day, ride.id",
                 kNothing);
}
std::vector<RideLine> RideRecords::done(int skip, int most) {
    return lines(database_, "WHERE ride.state = 'done' ORDER BY ride.day DESC, ride.id DESC LIMIT ? OFFSET ?",
                 [&](Binder& b) { b << most << skip; });
}
std::vector<RideLine> RideRecords::all_rides() {
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
int RideRecords::count_done() {
    return first(query(database_, "SELECT count(*) FROM ride WHERE state = 'done'", kNothing,
                       [](SQLite::Statement& s) { return s.getColumn(0).getInt(); }))
        .value_or(0);
}

std::map<RiderId, std::string> RideRecords::last_days() {
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

std::vector<WorkRecords::Running> WorkRecords::running() {
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
    std::vector<Hit> out;
    if (match.empty()) return out;
    struct Kind {
        HitKind kind;
        int row;           ///< of the row number modulo eight
        const char* ride;  ///< where it leads
    };
    static constexpr Kind kinds[] = {{HitKind::rider, 1, nullptr},
                                     {HitKind::horse, 2, nullptr},
                                     {HitKind::ride, 3, "SELECT id FROM ride WHERE id = ?"},
                                     {HitKind::note, 4, "SELECT ride FROM note_ride WHERE id = ?"},
                                     {HitKind::remark, 5, "SELECT ride FROM remark WHERE id = ?"},
                                     {HitKind::finding, 6, "SELECT ride FROM finding WHERE id = ?"}};
    // The newest of each kind; weighing every place of a common word against the others would take longer
    // than looking.
    std::vector<std::int64_t> newest[8];
    query(
        database_, "SELECT rowid FROM search WHERE search MATCH ? ORDER BY rowid DESC",
        [&](Binder& b) { b << match; },
        [&](SQLite::Statement& s) {
            const std::int64_t row = s.getColumn(0).getInt64();
            auto& of_kind = newest[row % 8];
            if (of_kind.size() < static_cast<std::size_t>(std::max(1, most / 4))) of_kind.push_back(row);
            return 0;
        });
    for (const Kind& k : kinds) {
        for (const std::int64_t row : newest[k.row]) {
            Hit hit{k.kind, row / 8, {}, {}, {}};
            query(
                database_, "SELECT words, about FROM search WHERE rowid = ?", [&](Binder& b) { b << row; },
                [&](SQLite::Statement& s) {
                    hit.text = s.getColumn(0).getString();
                    if (hit.text.empty()) hit.text = s.getColumn(1).getString();
                    return 0;
                });
            while (!hit.text.empty() && hit.text.back() == ' ') hit.text.pop_back();
            if (k.ride) {
                for (const RideId id : query(
                         database_, k.ride, [&](Binder& b) { b << hit.id; },
                         [](SQLite::Statement& s) {
                             RideId read;
                             Reader(s) >> read;
                             return read;
                         }))
                    hit.ride = id;
                if (const auto r = ride(hit.ride)) hit.day = r->day;
            }
            out.push_back(std::move(hit));
        }
    }
    std::ranges::stable_sort(out, [](const Hit& a, const Hit& b) {
        const bool first_a = a.day.empty(), first_b = b.day.empty();  // riders and horses
        return first_a != first_b ? first_a : a.day > b.day;
    });
    if (out.size() > static_cast<std::size_t>(most)) out.resize(static_cast<std::size_t>(most));
    return out;
}

}  // namespace aspen::store
