#include "app/rides/lanes.hpp"

#include "app/jobs/beside.hpp"
#include "app/rides/answers_by_events.hpp"
#include "app/rides/lane_story.hpp"
#include "app/rides/ridden_ground.hpp"
#include "app/rides/ridden_in.hpp"
#include "app/rides/rider_plan.hpp"
#include "core/judging/sides.hpp"
#include "core/ride/ride.hpp"

#include <QDate>
#include <QLocale>
#include <QObject>
#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <memory>
#include <set>

namespace aspen::app {

/// The moments of a rider's ride, each with its clip; read once for all lanes.
struct RiddenDay {
    store::Ride ride;
    core::RideData data;
    std::vector<std::vector<core::Judged>> judged;  ///< as data.moments
    std::vector<core::ObservedMoment> observed;     ///< likewise, once for all lanes
    struct Seen {
        std::shared_ptr<const store::Clip> film;
        int frame;
        /// Which marks of the camera it rests on: 0 where nothing was marked.
        int roll_mark = 0, yaw_mark = 0;
    };
    std::vector<Seen> places;         ///< as data.moments
    std::set<std::size_t> by_events;  ///< of data.checks, those that logged events told
};

namespace {

/// What the eye said in a clip; on frames that are not marked it makes moments without joints.
void add_answers(const store::YardStore& records, const store::RiddenClip& r,
                 const core::Stretches& stretches, const RiddenIn& here, RiddenDay& day,
                 const std::shared_ptr<const store::Clip>& film) {
    auto answers = records.reviews.answers(r.clip.id);
    const std::size_t said = answers.size();
    for (store::Answer& a : answers_by_events(r.clip, r.slot, stretches, here.events()))
        answers.push_back(std::move(a));
    for (store::Answer& a : answers_by_ground(records, r.clip, r.slot)) answers.push_back(std::move(a));
    for (std::size_t i = 0; i < answers.size(); ++i) {
        const store::Answer& a = answers[i];
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
            day.places.push_back({film, a.frame});
            at = std::prev(day.places.end());
        }
        if (i >= said) day.by_events.insert(day.data.checks.size());
        day.data.checks.push_back({a.check, a.said, static_cast<std::size_t>(at - day.places.begin())});
    }
}

/// Numbers for the camera marks of a ride: an upright drawn or an angle said is one for all stretches of a
/// clip that it was said for, the ears tell it for one stretch, and nothing marked is one tripod for the
/// whole day.
class CameraMarks {
  public:
    void mark(RiddenDay::Seen& place, const core::Figure& figure, std::size_t stretch) {
        const core::CameraPose& c = figure.camera;
        const auto clip = static_cast<double>(place.film->id.value);
        if (c.roll_marked) place.roll_mark = number({0, clip, c.roll_deg, c.roll_sd_deg});
        if (c.yaw_marked)
            place.yaw_mark = number({1, clip, c.yaw_deg, c.yaw_sd_deg});
        else if (figure.view != core::View::side && figure.measurable(core::Landmark::ears_mid))
            place.yaw_mark = number({2, clip, static_cast<double>(stretch), 0});
    }

  private:
    int number(const std::array<double, 4>& what) {
        return marks_.emplace(what, static_cast<int>(marks_.size()) + 1).first->second;
    }
    std::map<std::array<double, 4>, int> marks_;
};

std::vector<RiddenDay> days_of(const store::YardStore& records, const core::Knowledge& knowledge,
                               store::RiderId rider) {
    std::vector<RiddenDay> out;
    auto ridden = records.rides.ridden_by(rider);
    std::ranges::reverse(ridden);  // oldest first
    std::ranges::stable_sort(
        ridden, {}, [](const store::RiddenClip& r) { return std::tie(r.ride.day, r.ride.id.value); });
    RiddenIn here;
    CameraMarks marks;
    for (const store::RiddenClip& r : ridden) {
        if (out.empty() || out.back().ride.id != r.ride.id) {
            out.push_back({r.ride, {}, {}, {}, {}, {}});
            here = RiddenIn(records, knowledge, r.ride);
        }
        RiddenDay& day = out.back();
        const auto stretches = records.rides.stretches(r.clip.id);
        const auto film = std::make_shared<const store::Clip>(r.clip);
        const std::vector<store::Moment> moments = records.reviews.moments(r.clip.id);
        for (const store::Moment& m : moments) {
            if (m.slot != r.slot) continue;
            day.data.moments.push_back(here.moment(stretches, m));
            day.places.push_back({film, m.frame});
            marks.mark(day.places.back(), day.data.moments.back().figure,
                       core::stretch_at(stretches, m.frame));
        }
        add_answers(records, r, stretches, here, day, film);
        here.add_strides(r.clip, r.slot, stretches, moments, day.data);
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
        at->second.second.push_back({*m.value, m.sd_random, m.sd_roll, m.sd_yaw, m.sd_build,
                                     day.places[i].roll_mark, day.places[i].yaw_mark});
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
        std::vector<std::optional<double>> values;
        std::optional<core::Band> band;
        double sd = 0;
        for (const auto& stride : core::judge_strides(s, knowledge.schools)) {
            const core::Judged* j = core::find(stride, measure.id);
            values.emplace_back();
            if (!j || !j->measured.value || !j->band) continue;
            band = j->band;
            values.back() = *j->measured.value;
            sd = std::max(sd, j->measured.sd);
        }
        const auto mean = band ? core::mean_of_strides(values, sd, *band) : std::nullopt;
        if (!mean) continue;
        out.push_back(*mean);
        break;  // one value a ride: the first stretch that was followed
    }
    return out;
}

bool belongs(const RiddenDay& day, std::size_t moment, const Lane& lane) {
    return core::seen_for(*lane.fault, day.data.moments[moment].seen) ==
           core::seen_for(*lane.fault, lane.correction.seen);
}

/// How many moments and strides said something, and what the eye answered.
void count_what_judged(LanePoint& point, const RiddenDay& day, const Lane& lane) {
    for (std::size_t i = 0; i < day.observed.size(); ++i) {
        if (!belongs(day, i, lane)) continue;
        for (const core::Observation& o : day.observed[i].observations)
            point.moments += o.fault == lane.fault ? 1 : 0;
    }
    using Said = core::CheckAnswer::Said;
    for (std::size_t i = 0; i < day.data.checks.size(); ++i) {
        const core::CheckAnswer& a = day.data.checks[i];
        if (a.id != lane.correction.fault || a.said == Said::cannot_see || !belongs(day, a.moment, lane))
            continue;
        point.logged += day.by_events.contains(i) ? 1 : 0;
        ++point.eye.of;
        point.eye.good += a.said == Said::good ? 1 : 0;
    }
    for (const core::RideStrides& s : day.data.strides) {
        if (!lane.measure ||
            core::seen_for(*lane.fault, s.seen) != core::seen_for(*lane.fault, lane.correction.seen))
            continue;
        const auto of = std::ranges::find(s.values, lane.measure->id, &core::StrideValues::measure);
        if (of != s.values.end())
            point.strides += static_cast<int>(
                std::ranges::count_if(of->by_stride, [](const auto& v) { return v.has_value(); }));
    }
}

/// The frame on which the eye answered first.
void show_first_answer(LanePoint& point, const RiddenDay& day, const Lane& lane) {
    for (const core::CheckAnswer& a : day.data.checks) {
        if (a.id != lane.correction.fault || !belongs(day, a.moment, lane)) continue;
        point.film = *day.places[a.moment].film;
        point.clip = point.film.id;
        point.frame = day.places[a.moment].frame;
        return;
    }
}

/// What a ride shows of a correction: only moments of its own gait, seat and side count.
LanePoint point_of(const RiddenDay& day, const Lane& lane, const core::Knowledge& knowledge) {
    LanePoint point;
    point.ride = day.ride.id;
    point.day = QString::fromStdString(day.ride.day);
    const core::RideSays says = core::verdict_on(lane.correction.fault, lane.correction.seen, day.data,
                                                 day.judged, day.observed, knowledge);
    point.verdict = says.verdict;
    point.by = says.by;
    point.of = says.of;
    bool here = false;
    for (std::size_t i = 0; i < day.places.size(); ++i) here |= belongs(day, i, lane);
    point.elsewhere = says.verdict == core::RideVerdict::not_judged && !here && !day.places.empty();
    count_what_judged(point, day, lane);
    if (!lane.measure) {  // seen by eye, not measured
        show_first_answer(point, day, lane);
        return point;
    }
    point.phases = means_of(day, core::seen_for(*lane.fault, lane.correction.seen), *lane.fault,
                            *lane.measure, knowledge.body);
    const bool over_strides = point.phases.empty();
    if (over_strides)
        point.phases = means_of_strides(day, core::seen_for(*lane.fault, lane.correction.seen), *lane.fault,
                                        *lane.measure, knowledge);
    for (std::size_t i = 0; i < day.places.size(); ++i) {
        if (!belongs(day, i, lane)) continue;
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

/// Which rides were known when the coach said something of it.
std::size_t known_then(const Lane& lane, const store::CorrectionWord& w) {
    std::size_t known = 0;
    for (std::size_t i = 0; i < lane.entries.size(); ++i) {
        const LanePoint& p = lane.entries[i];
        if (w.ride ? p.ride == w.ride : p.day.toStdString() <= w.day) known = i + 1;
    }
    return known;
}

void live(Lane& lane) {
    std::vector<core::RideSays> verdicts;
    for (const LanePoint& p : lane.entries) verdicts.emplace_back(p.verdict, p.by, p.of);
    std::vector<core::StageSaid> said;
    for (const store::CorrectionWord& w : lane.words) {
        if (const auto stage = core::stage_from(w.stage)) said.push_back({*stage, known_then(lane, w)});
        for (LanePoint& p : lane.entries) {
            if (!w.words.empty() && p.ride == w.ride) p.coach_word = QString::fromStdString(w.words);
        }
    }
    lane.life = core::life_of(verdicts, said, true, !lane.prescriptions.empty());
    lane.stage = lane.life.shown();
}

/// The drawn values of a lane by their days since the first.
core::OwnLine line_of(const Lane& lane) {
    core::OwnLine out;
    for (const LanePoint& p : lane.points) {
        if (p.value.phase != lane.phase) continue;
        const QDate first = QDate::fromString(lane.points.front().day, Qt::ISODate);
        out.days.push_back(static_cast<double>(first.daysTo(QDate::fromString(p.day, Qt::ISODate))));
        out.values.push_back(p.value);
    }
    return out;
}

/// The form of the day, as all the rider's lines of a measure show it, and the trend beside it.
void draw_trends(std::vector<Lane>& lanes, const core::Body& body) {
    for (Lane& lane : lanes) {
        if (!lane.measure) continue;
        std::vector<core::OwnLine> alike;
        for (const Lane& other : lanes) {
            if (other.measure == lane.measure) alike.push_back(line_of(other));
        }
        const bool turn = lane.measure->full_turn;
        lane.form = core::learned_form(alike, core::usual_form(*lane.measure, body), turn);
        const core::OwnLine own = line_of(lane);
        lane.trend = core::trend_of(own.days, own.values, lane.form, turn);
    }
}

void take_in_exercises(Lane& lane, const core::Knowledge& knowledge,
                       const std::vector<store::PracticeEntry>& log) {
    for (const store::Prescription& p : lane.prescriptions) {
        const core::Exercise* e = knowledge.exercises.find(p.exercise);
        LaneExercise one{QString::fromStdString(e ? e->name : p.exercise), QString::fromStdString(p.given_on),
                         QString::fromStdString(p.until), p.withdrawn};
        // Given again before it ran out: one span.
        const bool goes_on = !lane.exercises.empty() && lane.exercises.back().name == one.name &&
                             one.from <= lane.exercises.back().until;
        if (goes_on)
            lane.exercises.back().until = std::max(lane.exercises.back().until, one.until);
        else
            lane.exercises.push_back(std::move(one));
    }
    for (const store::PracticeEntry& entry : log) {
        const bool its = std::ranges::any_of(lane.prescriptions, [&](const store::Prescription& p) {
            return p.exercise == entry.done.exercise && p.given_on <= entry.done.day;
        });
        if (its && (!entry.horse || !lane.correction.horse || entry.horse == lane.correction.horse))
            lane.practice.push_back(entry.done);
    }
}

}  // namespace

struct RiddenYears {
    std::vector<RiddenDay> days;
};

std::shared_ptr<const RiddenYears> read_years(const store::YardStore& records,
                                              const core::Knowledge& knowledge, store::RiderId rider) {
    return std::make_shared<RiddenYears>(RiddenYears{days_of(records, knowledge, rider)});
}

std::vector<Lane> lanes_of(const store::YardStore& records, const core::Knowledge& knowledge,
                           store::RiderId rider, const std::string& today) {
    if (records.work.corrections(rider).empty()) return {};
    return lanes_of(records, knowledge, rider, today, *read_years(records, knowledge, rider));
}

std::vector<Lane> lanes_of(const store::YardStore& records, const core::Knowledge& knowledge,
                           store::RiderId rider, const std::string& today, const RiddenYears& years) {
    std::vector<Lane> out;
    const auto corrections = records.work.corrections(rider);
    const std::vector<RiddenDay>& days = years.days;
    const auto plan = plan_for(records, knowledge, rider, today);
    const auto log = records.training.practice_of(rider);
    std::vector<RiddenOn> ridden;
    for (const RiddenDay& day : days)
        ridden.push_back({day.ride.horse, QString::fromStdString(day.ride.day)});
    for (const store::Correction& c : corrections) {
        Lane lane;
        lane.correction = c;
        lane.fault = knowledge.faults.find(c.fault);
        if (!lane.fault) continue;
        lane.measure = core::find_measure(core::leading_measure(*lane.fault));
        if (const auto horse = records.people.horse(c.horse))
            lane.horse = QString::fromStdString(horse->name);
        lane.prescriptions = records.work.prescriptions(c.id);
        lane.words = records.following.words_on(c.id);
        for (const store::Correction& other : corrections) {
            if (other.fault != c.fault || other.horse == c.horse || other.seen.side != c.seen.side) continue;
            const auto horse = records.people.horse(other.horse);
            const QString name =
                horse ? QString::fromStdString(horse->name) : QObject::tr("the mechanical horse");
            if (!lane.also_on.contains(name)) lane.also_on << name;
        }
        for (const RiddenDay& day : days) {
            if (day.ride.horse != c.horse || day.ride.day < c.noticed_on) continue;
            LanePoint point = point_of(day, lane, knowledge);
            lane.entries.push_back(point);
            if (!point.phases.empty()) lane.points.push_back(std::move(point));
        }
        draw_one_phase(lane);
        take_in_exercises(lane, knowledge, log);
        live(lane);
        out.push_back(std::move(lane));
    }
    draw_trends(out, knowledge.body);
    const auto card = records.people.rider(rider);
    const core::ToWhom to{card ? card->height_cm : std::nullopt, false};
    for (Lane& lane : out) {
        // Missing practice explains a lane that stands still.
        const bool planned =
            plan && plan->given && plan->correction && plan->correction->id == lane.correction.id;
        tell_story(lane, ridden, planned ? QString::fromStdString(plan->given->stalled) : QString(),
                   QString::fromStdString(today), knowledge, to);
    }
    return out;
}

}  // namespace aspen::app
