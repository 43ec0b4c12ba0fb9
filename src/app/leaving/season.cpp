#include "app/leaving/season.hpp"

#include <fmt/format.h>

#include "app/files/whole_file.hpp"
#include "core/body/vocabulary.hpp"
#include "exchange/csv.hpp"

namespace aspen::app {
namespace {

/// The row's part that is the same for all phases of an entry.
std::string entry_columns(const std::string& rider, const Lane& lane, const LanePoint& e) {
    const core::SeenIn& seen = lane.correction.seen;
    return fmt::format("{},{},{},{},{},{},{},{}", exchange::csv_quoted(rider),
                       exchange::csv_quoted(lane.horse.toStdString()), lane.correction.fault, seen.side,
                       seen.gait ? core::word(*seen.gait) : "", seen.seat ? core::word(*seen.seat) : "",
                       core::word(lane.stage), e.day.toStdString());
}

std::string limit(const std::optional<double>& v) { return v ? fmt::format("{:.2f}", *v) : ""; }

std::string entry_rows(const std::string& rider, const Lane& lane, const LanePoint& e) {
    std::string out;
    const std::string tail =
        fmt::format("{},{},{},{},{},{}", core::word(e.verdict), e.moments, e.strides, e.eye.good, e.eye.of,
                    exchange::csv_quoted(e.coach_word.toStdString()));
    const std::string head = entry_columns(rider, lane, e);
    for (const core::ReviewValue& v : e.phases)
        out +=
            fmt::format("{},{},{},{:.3f},{:.3f},{},{},{},{},{}\r\n", head, lane.measure->id, v.phase, v.value,
                        v.sd, lane.measure->unit, v.moments, limit(v.band.lo), limit(v.band.hi), tail);
    if (e.phases.empty()) out += fmt::format("{},,,,,,,,,{}\r\n", head, tail);
    return out;
}

}  // namespace

QString write_entries(Yard& yard, const Permit& permit, const QString& rider, const std::vector<Lane>& lanes,
                      const QString& file) {
    std::string out =
        "rider,horse,fault,side,gait,seat,stage,day,measure,phase,value,sd,unit,n,band_lo,band_hi,verdict,"
        "moments,"
        "strides,eye_good,eye_of,coach_word\r\n";
    int rows = 0;
    for (const Lane& lane : lanes) {
        for (const LanePoint& e : lane.entries) {
            out += entry_rows(rider.toStdString(), lane, e);
            ++rows;
        }
    }
    const QString line =
        leave(yard, permit, {"table", QObject::tr("all entries").toStdString(), file, false},
              [&](const QString& to) { return write_whole(to, QByteArray::fromStdString(out)); });
    return line.isEmpty() ? QObject::tr("%1 entries written: %2").arg(rows).arg(file) : line;
}

}  // namespace aspen::app
