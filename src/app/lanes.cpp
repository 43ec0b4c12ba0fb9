#include "app/lanes.hpp"

#include "app/review_setting.hpp"

#include <QLocale>
#include <algorithm>
#include <cmath>

namespace aspen::app {
namespace {

std::optional<LanePoint> point_of(Yard& yard, const store::Clip& clip, int slot,
                                  const core::MeasureInfo& measure) {
    std::vector<core::MomentValue> values;
    std::optional<core::Band> band;
    LanePoint point{clip.id, QString::fromStdString(clip.filmed_on), 0, {}};
    const auto stretches = yard.records().stretches(clip.id);
    for (const store::Moment& m : yard.records().moments(clip.id)) {
        const core::Setting setting = setting_at(clip.context, stretches, m.frame, m.phase);
        // What another gait or seat in the same clip shows belongs to another lane.
        if (m.slot != slot || setting.gait != clip.context.gait || setting.seat != clip.context.seat ||
            !judged_at(stretches, m.frame))
            continue;
        const auto judged = core::judge(m.figure, setting, yard.knowledge().body, yard.knowledge().schools);
        const core::Judged* j = core::find(judged, measure.id);
        if (!j || !j->measured.value || !j->band) continue;
        if (values.empty()) point.frame = m.frame;
        values.push_back({*j->measured.value, j->measured.sd});
        band = j->band;
    }
    if (!band) return std::nullopt;
    point.value = *core::mean_of(values, *band);
    return point;
}

bool belongs(const store::Clip& clip, const store::Correction& c) {
    return clip.context.missing().empty() && clip.context.horse == c.horse &&
           clip.context.travel == c.travel && clip.context.gait == c.gait && clip.context.view == c.view &&
           clip.context.seat == c.seat && clip.filmed_on >= c.noticed_on;
}

double miss(const core::ReviewValue& v) {
    if (v.band.lo && v.value < *v.band.lo) return *v.band.lo - v.value;
    if (v.band.hi && v.value > *v.band.hi) return v.value - *v.band.hi;
    return 0;
}

QString spoken_date(const QString& iso) {
    return QLocale(QLocale::English).toString(QDate::fromString(iso, Qt::ISODate), "d MMM");
}

QString change_in_words(const Lane& lane) {
    if (!lane.measure) return "seen by eye, not measured";
    if (lane.points.empty()) return "no picture measures it yet";
    if (lane.points.size() == 1) return "first review; the next clip shows whether it moves";
    const core::ReviewValue& b = lane.points.back().value;
    const LanePoint& previous = lane.points[lane.points.size() - 2];
    // A step back since the last review is said first; else the whole way from the first review counts.
    const bool slipped = core::changed(previous.value, b) && miss(b) > miss(previous.value);
    const core::ReviewValue& a = slipped ? previous.value : lane.points.front().value;
    const QString since = slipped ? " since " + spoken_date(previous.filmed_on) : " since the first review";
    const QString unit = lane.measure->unit == "deg" ? "°" : " %";
    const QString by = QString::number(std::abs(b.value - a.value), 'f', 1) + unit;
    if (!core::changed(a, b)) return "not changed beyond measuring error (" + by + ")";
    if (miss(b) == 0 && miss(a) == 0) return "moved by " + by + since + ", inside the band";
    return (miss(b) < miss(a) ? "better by " : "worse by ") + by + since + ", more than measuring error";
}

}  // namespace

std::vector<Lane> lanes_of(Yard& yard, store::RiderId rider) {
    std::vector<std::pair<store::Clip, int>> ridden =
        yard.records().clips_as_companion(rider);  // lessons of several
    for (store::Clip& clip : yard.records().clips_of(rider)) ridden.emplace_back(std::move(clip), 0);
    std::ranges::stable_sort(ridden, {},
                             [](const auto& r) { return std::tie(r.first.filmed_on, r.first.id.value); });
    std::vector<Lane> out;
    for (const store::Correction& c : yard.records().corrections(rider)) {
        Lane lane;
        lane.correction = c;
        lane.fault = yard.knowledge().faults.find(c.fault);
        if (!lane.fault) continue;
        lane.measure = core::find_measure(core::leading_measure(*lane.fault));
        if (const auto horse = yard.records().horse(c.horse))
            lane.horse = QString::fromStdString(horse->name);
        lane.prescriptions = yard.records().prescriptions(c.id);
        std::vector<core::Verdict> verdicts;
        for (const auto& [clip, slot] : ridden) {
            if (!lane.measure || !belongs(clip, c)) continue;
            if (auto point = point_of(yard, clip, slot, *lane.measure)) {
                verdicts.push_back(point->value.verdict);
                lane.points.push_back(std::move(*point));
            }
        }
        lane.stage = core::stage_of(verdicts, true, !lane.prescriptions.empty());
        lane.change = change_in_words(lane);
        out.push_back(std::move(lane));
    }
    return out;
}

}  // namespace aspen::app
