#include "app/review/lanes.hpp"

#include "core/judging/ride.hpp"

#include <QLocale>
#include <algorithm>
#include <cmath>
#include <memory>

namespace aspen::app {
namespace {

/// The moments of a rider's ride, each with its stretch; read once for all lanes.
struct RiddenDay {
    store::Ride ride;
    struct Seen {
        store::Moment moment;
        const store::Clip* film;
        core::Stretch stretch;
        std::vector<core::Judged> judged;
    };
    std::vector<Seen> moments;
    std::vector<std::shared_ptr<const store::Clip>> films;
};

std::vector<RiddenDay> days_of(Yard& yard, store::RiderId rider) {
    std::vector<RiddenDay> out;
    auto ridden = yard.records().ridden_by(rider);
    std::ranges::reverse(ridden);  // oldest first
    std::ranges::stable_sort(
        ridden, {}, [](const store::RiddenClip& r) { return std::tie(r.ride.day, r.ride.id.value); });
    for (const store::RiddenClip& r : ridden) {
        if (out.empty() || out.back().ride.id != r.ride.id) out.push_back({r.ride, {}, {}});
        const auto stretches = yard.records().stretches(r.clip.id);
        out.back().films.push_back(std::make_shared<const store::Clip>(r.clip));
        const store::Clip* film = out.back().films.back().get();
        for (store::Moment& m : yard.records().moments(r.clip.id)) {
            if (m.slot != r.slot) continue;
            const core::Stretch& s = core::ridden_at(stretches, m.frame);
            core::RideMoment one{m.figure, core::setting_in(s, r.ride.school, m.phase), core::seen_in(s),
                                 s.judged};
            out.back().moments.push_back({std::move(m), film, s, core::judge_moment(one, yard.knowledge())});
        }
    }
    return out;
}

/// What a ride shows of a correction: only moments of its own gait, seat and side count.
std::optional<LanePoint> point_of(const RiddenDay& day, const store::Correction& c,
                                  const core::MeasureInfo& measure) {
    std::vector<core::MomentValue> values;
    std::optional<core::Band> band;
    LanePoint point;
    point.ride = day.ride.id;
    point.day = QString::fromStdString(day.ride.day);
    for (const auto& [m, film, stretch, judged] : day.moments) {
        if (core::seen_in(stretch) != c.seen) continue;
        const core::Judged* j = core::find(judged, measure.id);
        if (!j || !j->measured.value || !j->band) continue;
        if (values.empty()) {
            point.clip = m.clip;
            point.film = *film;
            point.frame = m.frame;
        }
        values.push_back({*j->measured.value, j->measured.sd});
        band = j->band;
    }
    if (!band) return std::nullopt;
    point.value = *core::mean_of(values, *band);
    return point;
}

double miss(const core::ReviewValue& v) {
    if (v.band.lo && v.value < *v.band.lo) return *v.band.lo - v.value;
    if (v.band.hi && v.value > *v.band.hi) return v.value - *v.band.hi;
    return 0;
}

QString spoken_date(const QString& iso) {
    return QLocale().toString(QDate::fromString(iso, Qt::ISODate), "d MMM");
}

QString change_in_words(const Lane& lane) {
    if (!lane.measure) return QObject::tr("seen by eye, not measured");
    if (lane.points.empty()) return QObject::tr("no picture measures it yet");
    if (lane.points.size() == 1) return QObject::tr("first review; the next clip shows whether it moves");
    const core::ReviewValue& b = lane.points.back().value;
    const LanePoint& previous = lane.points[lane.points.size() - 2];
    // A step back since the last review is said first; else the whole way from the first review counts.
    const bool slipped = core::changed(previous.value, b) && miss(b) > miss(previous.value);
    const core::ReviewValue& a = slipped ? previous.value : lane.points.front().value;
    const QString since =
        slipped ? QObject::tr(" since ") + spoken_date(previous.day) : QObject::tr(" since the first review");
    const QString unit = lane.measure->unit == "deg" ? "°" : " %";
    const QString by = QString::number(std::abs(b.value - a.value), 'f', 1) + unit;
    if (!core::changed(a, b)) return QObject::tr("not changed beyond measuring error (") + by + ")";
    if (miss(b) == 0 && miss(a) == 0)
        return QObject::tr("moved by ") + by + since + QObject::tr(", inside the band");
    return (miss(b) < miss(a) ? QObject::tr("better by ") : QObject::tr("worse by ")) + by + since +
           QObject::tr(", more than measuring error");
}

}  // namespace

std::vector<Lane> lanes_of(Yard& yard, store::RiderId rider) {
    std::vector<Lane> out;
    const auto corrections = yard.records().corrections(rider);
    if (corrections.empty()) return out;
    const auto days = days_of(yard, rider);
    for (const store::Correction& c : corrections) {
        Lane lane;
        lane.correction = c;
        lane.fault = yard.knowledge().faults.find(c.fault);
        if (!lane.fault) continue;
        lane.measure = core::find_measure(core::leading_measure(*lane.fault));
        if (const auto horse = yard.records().horse(c.horse))
            lane.horse = QString::fromStdString(horse->name);
        lane.prescriptions = yard.records().prescriptions(c.id);
        std::vector<core::Verdict> verdicts;
        for (const RiddenDay& day : days) {
            if (!lane.measure || day.ride.horse != c.horse || day.ride.day < c.noticed_on) continue;
            if (auto point = point_of(day, c, *lane.measure)) {
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
