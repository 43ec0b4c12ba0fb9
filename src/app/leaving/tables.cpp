#include "app/leaving/tables.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "app/files/whole_file.hpp"
#include "app/review/ride_findings.hpp"
#include "app/rides/ridden_in.hpp"
#include "core/ride/ride.hpp"
#include "exchange/csv.hpp"

namespace aspen::app {
namespace {

using exchange::csv_quoted;

constexpr const char* kEnd = "\r\n";

std::string three_digits(const std::optional<double>& v) {
    return v ? fmt::format("{:.3f}", *v) : std::string();
}
template <typename Enum>
std::string word_of(const std::optional<Enum>& v) {
    return v ? std::string(core::word(*v)) : std::string();
}

/// A rider's rides, oldest first, each with its clips.
struct RideOf {
    store::Ride ride;
    std::string rider, horse;
    std::vector<store::RiddenClip> clips;
    std::string head() const {
        return fmt::format("{},{},{},{}", ride.id.value, ride.day, csv_quoted(rider), csv_quoted(horse));
    }
};
std::vector<RideOf> rides_of(Yard& yard, store::RiderId id) {
    std::vector<RideOf> out;
    const auto rider = yard.records().people.rider(id);
    auto all = yard.records().rides.ridden_by(id);
    std::ranges::reverse(all);
    for (const store::RiddenClip& r : all) {
        auto at = std::ranges::find_if(out, [&](const RideOf& o) { return o.ride.id == r.ride.id; });
        if (at == out.end()) {
            const auto horse = yard.records().people.horse(r.ride.horse);
            out.push_back({r.ride, rider ? rider->name : "", horse ? horse->name : "", {}});
            at = std::prev(out.end());
        }
        at->clips.push_back(r);
    }
    return out;
}

std::string rides_rows(Yard& yard, const RideOf& r) {
    static constexpr const char* kPlaces[] = {"", "lesson", "home", "show"};
    const core::RideAssessment said = core::assess_ride(ride_data(yard, r.ride), yard.knowledge());
    return fmt::format("{},{},{},{},{},{},{}{}", r.head(), kPlaces[static_cast<int>(r.ride.place)],
                       r.ride.school, csv_quoted(r.ride.level), csv_quoted(r.ride.saddle), r.clips.size(),
                       said.focus ? said.focus->fault->id : "", kEnd);
}

std::string finding_rows(Yard& yard, const RideOf& r) {
    static constexpr const char* kDecisions[] = {"open", "accepted", "changed", "rejected", "asked_back"};
    core::RideData data = ride_data(yard, r.ride);
    for (const store::Finding& f : yard.records().reviews.findings(r.ride.id))
        data.decided.push_back(to_core(f));
    std::string out;
    for (const core::RideFinding& f : core::assess_ride(data, yard.knowledge()).findings)
        out +=
            fmt::format("{},{},{},{},{},{},{:.3f},{:.3f},{},{},{}{}", r.head(), f.found.fault->id,
                        f.seen.side, word_of(f.seen.gait), word_of(f.seen.seat), core::word(f.found.verdict),
                        f.found.severity, f.found.share, f.moments, kDecisions[static_cast<int>(f.decision)],
                        f.changed_to ? f.changed_to->id : "", kEnd);
    return out;
}

std::string measure_rows(Yard& yard, const RideOf& r) {
    const RiddenIn ridden(yard.records(), yard.knowledge(), r.ride);
    std::string out;
    for (const store::RiddenClip& c : r.clips) {
        const core::Stretches stretches = yard.records().rides.stretches(c.clip.id);
        for (const store::Moment& m : yard.records().reviews.moments(c.clip.id)) {
            if (m.slot != c.slot) continue;
            const core::RideMoment here = ridden.moment(stretches, m);
            for (const core::Judged& j : core::judge_moment(here, yard.knowledge())) {
                if (!j.measured.value) continue;
                out += fmt::format("{},{},{},{},{},{},{},{:.4f},{:.4f},{},{},{},{}{}", r.head(),
                                   c.clip.id.value, m.frame, csv_quoted(m.phase), word_of(here.seen.gait),
                                   word_of(here.seen.seat), j.info().id, *j.measured.value, j.measured.sd,
                                   j.info().unit, three_digits(j.band ? j.band->lo : std::nullopt),
                                   three_digits(j.band ? j.band->hi : std::nullopt), core::word(j.verdict),
                                   kEnd);
            }
        }
    }
    return out;
}

std::string stride_rows(Yard& yard, const RideOf& r) {
    std::string out;
    for (const core::RideStrides& s : ride_data(yard, r.ride).strides) {
        for (const core::StrideValues& v : s.values) {
            for (std::size_t i = 0; i < v.by_stride.size(); ++i) {
                if (v.by_stride[i])
                    out += fmt::format("{},{},{},{},{},{:.4f}{}", r.head(), word_of(s.seen.gait),
                                       word_of(s.seen.seat), v.measure, i + 1, *v.by_stride[i], kEnd);
            }
        }
    }
    return out;
}

std::string log_rows(Yard& yard, store::RiderId id) {
    const auto rider = yard.records().people.rider(id);
    std::string out;
    for (const store::PracticeEntry& e : yard.records().training.practice_of(id)) {
        const auto horse = yard.records().people.horse(e.horse);
        const core::Practice& p = e.done;
        out +=
            fmt::format("{},{},{},{},{},{},{},{:g},{},{},{},{},{},{}{}", p.day,
                        csv_quoted(rider ? rider->name : ""), csv_quoted(horse ? horse->name : ""),
                        p.exercise, p.rung < 0 ? "" : std::to_string(p.rung + 1), p.attempts, p.good, p.held,
                        p.feel == 0 ? "" : std::to_string(p.feel), p.pain ? 1 : 0, p.tired_rider ? 1 : 0,
                        p.tired_horse ? 1 : 0, p.by_rider ? "rider" : "coach", csv_quoted(p.words), kEnd);
    }
    return out;
}

std::string table_head(Table table) {
    const std::string ride = "ride,day,rider,horse,";
    switch (table) {
        case Table::rides:
            return ride + "place,school,level,saddle,clips,focus";
        case Table::findings:
            return ride + "fault,side,gait,seat,verdict,severity,share,moments,decision,called";
        case Table::measures:
            return ride + "clip,frame,phase,gait,seat,measure,value,sd,unit,band_lo,band_hi,verdict";
        case Table::strides:
            return ride + "gait,seat,measure,stride,value";
        case Table::log:
            return "day,rider,horse,exercise,rung,attempts,good,held,feel,pain,tired_rider,tired_horse,by,"
                   "words";
    }
    return {};
}

}  // namespace

std::string word(Table table) {
    static constexpr const char* kWords[] = {"rides", "findings", "measures", "strides", "log"};
    return kWords[static_cast<int>(table)];
}

std::string table_csv(Yard& yard, const Permit& permit, Table table) {
    std::string out = table_head(table) + kEnd;
    for (const store::RiderId id : permit.riders()) {
        if (table == Table::log) {
            out += log_rows(yard, id);
            continue;
        }
        for (const RideOf& r : rides_of(yard, id))
            out += table == Table::rides      ? rides_rows(yard, r)
                   : table == Table::findings ? finding_rows(yard, r)
                   : table == Table::measures ? measure_rows(yard, r)
                                              : stride_rows(yard, r);
    }
    return out;
}

QString write_table(Yard& yard, const Permit& permit, Table table, const QString& file) {
    return leave(yard, permit, {"table", word(table), file, false}, [&](const QString& to) {
        return write_whole(to, QByteArray::fromStdString(table_csv(yard, permit, table)));
    });
}

}  // namespace aspen::app
