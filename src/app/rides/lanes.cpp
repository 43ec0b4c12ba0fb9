#include "app/rides/lanes.hpp"

#include "app/jobs/beside.hpp"
#include "app/rides/answers_by_events.hpp"
#include "app/rides/ridden_in.hpp"
#include "app/training/rider_plan.hpp"
#include "core/judging/sides.hpp"

#include <QDate>
#include <QLocale>
#include <QObject>
#include <algorithm>
#include <cmath>
#include <memory>

namespace aspen::app {
namespace {

/// The moments of a rider's ride, each with its clip; read once for all lanes.
struct RiddenDay {
    store::Ride ride;
    core::RideData data;
    std::vector<std::vector<core::Judged>> judged;  ///< as data.moments
    std::vector<core::ObservedMoment> observed;     ///< likewise, once for all lanes
    struct Seen {
        std::shared_ptr<const store::Clip> film;
        int frame;
        int stretch;  ///< tells the stretches of the ride apart
    };
    std::vector<Seen> places;  ///< as data.moments
};

/// What the eye said in a clip; on frames that are not marked it makes moments without joints.
void add_answers(store::YardStore& records, const store::RiddenClip& r, const core::Stretches& stretches,
                 const RiddenIn& here, RiddenDay& day, const std::shared_ptr<const store::Clip>& film) {
    auto answers = records.answers(r.clip.id);
    for (store::Answer& a : answers_by_events(r.clip, r.slot, here.events())) answers.push_back(std::move(a));
    for (const store::Answer& a : answers) {
        if (a.slot != r.slot) continue;
        auto at = std::ranges::find_if(day.places, [&](const RiddenDay::Seen& s) {
            return s.film->id == r.clip.id && s.frame == a.frame;
        });
        if (at == day.places.end()) {
            store::Moment unmarked;
            unmarked.clip = r.clip.id;
            unmarked.slot = a.slot;
            unmarked.frame = a.frame;
            day.data.moments.push_back(here.moment(stretches, unmarked));
            day.places.push_back({film, a.frame, -1});
            at = std::prev(day.places.end());
        }
        day.data.checks.push_back({a.check, a.said, static_cast<std::size_t>(at - day.places.begin())});
    }
}

std::vector<RiddenDay> days_of(store::YardStore& records, const core::Knowledge& knowledge,
                               store::RiderId rider) {
    std::vector<RiddenDay> out;
    auto ridden = records.ridden_by(rider);
    std::ranges::reverse(ridden);  // oldest first
    std::ranges::stable_sort(
        ridden, {}, [](const store::RiddenClip& r) { return std::tie(r.ride.day, r.ride.id.value); });
    RiddenIn here;
    int stretches_before = 0;
    for (const store::RiddenClip& r : ridden) {
        if (out.empty() || out.back().ride.id != r.ride.id) {
            out.push_back({r.ride, {}, {}, {}, {}});
            here = RiddenIn(records, knowledge, r.ride);
        }
        RiddenDay& day = out.back();
        const auto stretches = records.stretches(r.clip.id);
        const auto film = std::make_shared<const store::Clip>(r.clip);
        const std::vector<store::Moment> moments = records.moments(r.clip.id);
        for (const store::Moment& m : moments) {
            if (m.slot != r.slot) continue;
            day.data.moments.push_back(here.moment(stretches, m));
            const int at = static_cast<int>(core::stretch_at(stretches, m.frame));
            day.places.push_back({film, m.frame, stretches_before + at});
        }
        add_answers(records, r, stretches, here, day, film);
        here.add_strides(r.clip, r.slot, stretches, moments, day.data);
        stretches_before += static_cast<int>(stretches.size());
    }
    // Years of rides at once: nothing of them hangs together, and judging reads only the knowledge.
    beside_each_other(out, [&](RiddenDay& day) {
        for (const core::RideMoment& m : day.data.moments)
            day.judged.push_back(core::judge_moment(m, knowledge));
        day.observed = core::observed_of(day.data, day.judged, knowledge);
    });
    return out;
}

/// The means of a ride's moments of one gait, seat and side, phases apart, each in its own phase's band.
std::vector<core::ReviewValue> means_of(const RiddenDay& day, const core::SeenIn& seen,
                                        const core::Fault& fault, const core::MeasureInfo& measure,
                                        const core::Body& body) {
    std::vector<std::pair<std::string, std::pair<core::Band, std::vector<core::MomentValue>>>> phases;
    for (std::size_t i = 0; i < day.judged.size(); ++i) {
        if (core::seen_for(fault, day.data.moments[i].seen) != seen) continue;
        const core::Judged* j = core::find(day.judged[i], measure.id);
        if (!j || !j->measured.value || !j->band) continue;
        const std::string& phase = day.data.moments[i].setting.phase;
        auto at = std::ranges::find(phases, phase, [](const auto& p) { return p.first; });
        if (at == phases.end()) {
            phases.push_back({phase, {*j->band, {}}});
            at = std::prev(phases.end());
        }
        const core::Measured& m = j->measured;
        at->second.second.push_back({*m.value, m.sd_random, m.sd_camera, m.sd_build, day.places[i].stretch});
    }
    std::vector<core::ReviewValue> out;
    for (const auto& [phase, values] : phases) {
        out.push_back(*core::mean_of(values.second, values.first, measure, body));
        out.back().phase = phase;
    }
    return out;
}

/// The mean over a ride's strides of one gait, seat and side.
std::vector<core::ReviewValue> means_of_strides(const RiddenDay& day, const core::SeenIn& seen,
                                                const core::Fault& fault, const core::MeasureInfo& measure,
                                                const core::Knowledge& knowledge) {
    std::vector<core::ReviewValue> out;
    for (const core::RideStrides& s : day.data.strides) {
        if (core::seen_for(fault, s.seen) != seen) continue;
        std::vector<core::MomentValue> values;
        std::optional<core::Band> band;
        for (const auto& stride : core::judge_strides(s, knowledge.schools)) {
            const core::Judged* j = core::find(stride, measure.id);
            if (!j || !j->measured.value || !j->band) continue;
            band = j->band;
            values.push_back({*j->measured.value, 0, j->measured.sd, 0, 0});
        }
        if (!band) continue;
        out.push_back(*core::mean_of(values, *band, measure, knowledge.body));
        break;  // one value a ride: the first stretch that was followed
    }
    return out;
}

/// What a ride shows of a correction: only moments of its own gait, seat and side count.
LanePoint point_of(const RiddenDay& day, const Lane& lane, const core::Knowledge& knowledge) {
    LanePoint point;
    point.ride = day.ride.id;
    point.day = QString::fromStdString(day.ride.day);
    point.verdict = core::verdict_on(lane.correction.fault, lane.correction.seen, day.data, day.judged,
                                     day.observed, knowledge);
    if (!lane.measure) return point;  // seen by eye, not measured
    point.phases = means_of(day, core::seen_for(*lane.fault, lane.correction.seen), *lane.fault,
                            *lane.measure, knowledge.body);
    const bool over_strides = point.phases.empty();
    if (over_strides)
        point.phases = means_of_strides(day, core::seen_for(*lane.fault, lane.correction.seen), *lane.fault,
                                        *lane.measure, knowledge);
    for (std::size_t i = 0; i < day.places.size(); ++i) {
        if (core::seen_for(*lane.fault, day.data.moments[i].seen) !=
            core::seen_for(*lane.fault, lane.correction.seen))
            continue;
        const core::Judged* j = core::find(day.judged[i], lane.measure->id);
        if (!over_strides && (!j || !j->measured.value)) continue;
        point.film = *day.places[i].film;
        point.clip = point.film.id;
        point.frame = day.places[i].frame;
        break;
    }
    return point;
}

/// The phase that most rides have a value of, the earliest of them; and every point's value in it.
void draw_one_phase(Lane& lane) {
    std::vector<std::pair<std::string, int>> counts;
    for (const LanePoint& p : lane.points) {
        for (const core::ReviewValue& v : p.phases) {
            const auto at = std::ranges::find(counts, v.phase, [](const auto& c) { return c.first; });
            if (at == counts.end())
                counts.emplace_back(v.phase, 1);
            else
                ++at->second;
        }
    }
    const auto most = std::ranges::max_element(counts, {}, [](const auto& c) { return c.second; });
    if (most != counts.end()) lane.phase = most->first;
    for (LanePoint& p : lane.points) {
        const auto in = std::ranges::find(p.phases, lane.phase, &core::ReviewValue::phase);
        p.value = in != p.phases.end() ? *in : p.phases.front();
    }
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
    if (lane.stage == core::Stage::overcorrected) return QObject::tr("now past the other limit of the band");
    std::vector<const LanePoint*> alike;  // only values of one phase are compared
    for (const LanePoint& p : lane.points) {
        if (p.value.phase == lane.phase) alike.push_back(&p);
    }
    if (alike.size() < 2) return QObject::tr("first review; the next clip shows whether it moves");
    const bool turn = lane.measure->full_turn;
    const core::ReviewValue& b = alike.back()->value;
    const LanePoint& previous = *alike[alike.size() - 2];
    // A step back since the last review is said first; else the whole way from the first review counts.
    const bool slipped = core::changed(previous.value, b, turn) && miss(b) > miss(previous.value);
    const core::ReviewValue& a = slipped ? previous.value : alike.front()->value;
    const QString since =
        slipped ? QObject::tr(" since ") + spoken_date(previous.day) : QObject::tr(" since the first review");
    const QString unit = lane.measure->unit == "deg" ? "°" : " %";
    const QString by = QString::number(std::abs(core::difference(a, b, turn)), 'f', 1) + unit;
    if (!core::changed(a, b, turn))
        return QObject::tr("not changed beyond measuring error (%1; %2 would tell)")
            .arg(by, QString::number(core::smallest_change(a, b), 'f', 1) + unit);
    if (miss(b) == 0 && miss(a) == 0)
        return QObject::tr("moved by ") + by + since + QObject::tr(", inside the band");
    return (miss(b) < miss(a) ? QObject::tr("better by ") : QObject::tr("worse by ")) + by + since +
           QObject::tr(", more than measuring error");
}

}  // namespace

std::vector<Lane> lanes_of(store::YardStore& records, const core::Knowledge& knowledge, store::RiderId rider,
                           const std::string& today) {
    std::vector<Lane> out;
    const auto corrections = records.corrections(rider);
    if (corrections.empty()) return out;
    const auto days = days_of(records, knowledge, rider);
    const auto plan = plan_for(records, knowledge, rider, today);
    for (const store::Correction& c : corrections) {
        Lane lane;
        lane.correction = c;
        lane.fault = knowledge.faults.find(c.fault);
        if (!lane.fault) continue;
        lane.measure = core::find_measure(core::leading_measure(*lane.fault));
        if (const auto horse = records.horse(c.horse)) lane.horse = QString::fromStdString(horse->name);
        lane.prescriptions = records.prescriptions(c.id);
        std::vector<core::RideVerdict> verdicts;
        for (const RiddenDay& day : days) {
            if (day.ride.horse != c.horse || day.ride.day < c.noticed_on) continue;
            LanePoint point = point_of(day, lane, knowledge);
            verdicts.push_back(point.verdict);
            lane.entries.push_back(point);
            if (!point.phases.empty()) lane.points.push_back(std::move(point));
        }
        draw_one_phase(lane);
        lane.stage = core::stage_of(verdicts, true, !lane.prescriptions.empty());
        lane.change = change_in_words(lane);
        // Missing practice explains a lane that stands still.
        if (plan && plan->given && plan->correction && plan->correction->id == c.id &&
            !plan->given->stalled.empty())
            lane.change += "; " + QString::fromStdString(plan->given->stalled);
        out.push_back(std::move(lane));
    }
    return out;
}

}  // namespace aspen::app
