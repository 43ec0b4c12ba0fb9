#include "store/rides.hpp"
#include "store/statement.hpp"

/// What the yard's lists show at once.
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

}  // namespace

std::vector<RideLine> Rides::waiting() const {
    return lines(database_,
                 "WHERE ride.state IN ('fresh', 'started') AND clips > 0 ORDER BY ride.day, ride.id",
                 kNothing);
}

std::vector<RideLine> Rides::done(int skip, int most) const {
    return lines(database_, "WHERE ride.state = 'done' ORDER BY ride.day DESC, ride.id DESC LIMIT ? OFFSET ?",
                 [&](Binder& b) { b << most << skip; });
}

std::vector<RideLine> Rides::all_rides() const {
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

int Rides::count_done() const {
    return first(query(database_, "SELECT count(*) FROM ride WHERE state = 'done'", kNothing,
                       [](SQLite::Statement& s) { return s.getColumn(0).getInt(); }))
        .value_or(0);
}

std::map<RiderId, std::string> Rides::last_days() const {
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

}  // namespace aspen::store
