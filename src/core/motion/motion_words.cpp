#include "core/motion/motion_words.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/motion/motion_curves.hpp"

namespace aspen::core {
namespace {

const MotionMeasure* told_measure(const MotionReport& r, const char* id) {
    const MotionMeasure* m = find(r, id);
    return m && m->value ? m : nullptr;
}

/// "14° a stride, give or take 2°; up to 7° is quiet": the value, over what, and what the band says of it.
std::string held_words(const MotionMeasure& m, const SpokenAmounts& said, const char* quiet = "quiet") {
    std::string out = said.of(m.id, m.unit, *m.value) + " a stride";
    if (const std::string off = said.doubt(m.id, m.unit, m.sd); !off.empty()) out += ", " + off;
    if (m.band && m.band->hi)
        out += fmt::format("; up to {} is {}", said.of(m.id, m.unit, *m.band->hi), quiet);
    return out;
}

/// Of the strides' lengths in time, by their spread in per cent (common practice, no source).
const char* evenness(double spread_pct) {
    constexpr double kVeryEven = 4, kFairlyEven = 8;
    return spread_pct < kVeryEven ? "evenly" : spread_pct < kFairlyEven ? "fairly evenly" : "unevenly";
}

void add_held(const MotionReport& r, std::vector<StrideSaying>& out) {
    const MotionMeasure* m = told_measure(r, "strides_held");
    if (!m) return;
    const int n = static_cast<int>(*m->value);
    const auto first = m->words.find("lets_go_first");
    const std::string goes = first == m->words.end() ? "" : first->second;
    const MeasureInfo* what = first == m->words.end() ? nullptr : find_measure(first->second);
    if (n == 0)
        out.push_back(
            {"It holds for no whole stride" + (what ? fmt::format(": {} is out", what->spoken) : ""), goes});
    else if (what)
        out.push_back(
            {fmt::format("It holds for {} of {} strides, then {} goes first", n, m->strides, what->spoken),
             goes});
    else if (m->words.contains("at_least"))
        out.push_back({fmt::format("It holds for at least {} of {} strides; then something of it was lost", n,
                                   m->strides)});
    else
        out.push_back({fmt::format("It holds for all {} strides", n)});
}

void say_rise(const MotionReport& r, const MotionSetting& s, const SpokenAmounts& said,
              std::vector<StrideSaying>& out) {
    const bool rising = s.seat_said && s.setting.seat == Seat::rising;
    if (const MotionMeasure* m = told_measure(r, "seat_rise"))
        out.push_back({fmt::format("{} {}", rising ? "The seat rises by" : "A gap opens under the seat of",
                                   held_words(*m, said, "little")),
                       m->id});
    if (const MotionMeasure* m = told_measure(r, "rise_phase")) {
        const double pct = 100 * *m->value, sd = 100 * m->sd;
        constexpr double kOtherDiagonal = 35;
        if (r.parity == "diagonal" && std::abs(pct) > kOtherDiagonal)
            out.push_back({fmt::format("The rider sits on the other diagonal than was logged: the rise comes "
                                       "{} of a stride off",
                                       said.of("hip_still_pct", "%", pct)),
                           "seat_rise"});
        else {
            // "With the horse" only where the whole interval is close to it.
            constexpr double kWithPct = 6;
            const double reach = kNinetyPercent * sd;
            out.push_back({std::abs(pct) > reach && std::abs(pct) >= 2
                               ? fmt::format("The rise comes {} of a stride {}",
                                             said.of("hip_still_pct", "%", pct), pct > 0 ? "late" : "early")
                           : std::abs(pct) + reach <= kWithPct
                               ? std::string("The rise comes with the horse")
                               : std::string("Whether the rise comes early or late cannot be told"),
                           "seat_rise"});
        }
    }
}

std::string paced(std::optional<double> speed, double speed_sd, double tempo) {
    return speed ? fmt::format("{:.1f} ± {:.1f} m/s", *speed, speed_sd)
                 : fmt::format("{:.0f} strides a minute", tempo);
}

void add_around(const MotionReport& r, std::vector<StrideSaying>& out) {
    constexpr double kSame = 0.05;
    for (const AroundEvent& e : r.around) {
        const std::string before = paced(e.speed_before, e.speed_sd, *e.tempo_before);
        if (e.event == "break") {
            out.push_back({fmt::format("The gait breaks at {:.1f} s, out of {}", e.time_s, before)});
            continue;
        }
        const auto& was = e.speed_before && e.speed_after ? e.speed_before : e.tempo_before;
        const auto& is = e.speed_before && e.speed_after ? e.speed_after : e.tempo_after;
        if (!is) continue;
        const double change = *is / *was - 1;
        const std::string what = e.event == "pole"        ? "Over the pole"
                                 : e.event == "rein_left" ? "Turning to the left rein"
                                                          : "Turning to the right rein";
        out.push_back(
            {std::abs(change) < kSame
                 ? fmt::format("{} at {:.1f} s the pace stays: {}", what, e.time_s, before)
                 : fmt::format("{} at {:.1f} s it gets {}, from {} to {}", what, e.time_s,
                               change > 0 ? "quicker" : "slower", before,
                               e.speed_before && e.speed_after ? fmt::format("{:.1f} m/s", *e.speed_after)
                                                               : fmt::format("{:.0f}", *e.tempo_after))});
    }
}

/// How far the outer leg went with the aid for a lead, and what the trunk did (common practice, no source: a
/// hand's breadth at most, about a tenth of the leg, and a trunk that stays).
void add_aid(const MotionReport& r, const SpokenAmounts& said, std::vector<StrideSaying>& out) {
    constexpr double kHandPct = 12, kStaysDeg = 4;
    const MotionMeasure *leg = told_measure(r, "aid_leg_back"), *trunk = told_measure(r, "aid_trunk");
    std::string line;
    if (leg && *leg->value >= 0)
        line = "the outer leg does not go back";
    else if (leg)
        line = fmt::format("the outer leg goes back by {}{}", said.of("aid_leg_back", "%", *leg->value),
                           -*leg->value > kHandPct ? ", further than a hand's breadth" : "");
    if (trunk)
        line += (line.empty() ? "" : ", ") +
                (std::abs(*trunk->value) < kStaysDeg
                     ? std::string("the trunk stays")
                     : fmt::format("the trunk tips {} by {:.0f}°", *trunk->value > 0 ? "forward" : "back",
                                   std::abs(*trunk->value)));
    if (line.empty()) return;
    const MotionMeasure& asked = leg ? *leg : *trunk;
    if (const auto in = asked.words.find("asked_in"); in != asked.words.end())
        line += fmt::format("; asked {}", in->second == "sitting" ? "sitting" : "out of the rise");
    out.push_back({"At the aid for the canter " + line});
}

/// Speed, for gaited horses in miles an hour as their riders say it, and which of the walks it is (ranges:
/// common practice, strides from memory).
void add_speed(const MotionReport& r, const MotionSetting& s, std::vector<StrideSaying>& out) {
    const bool gaited = s.setting.gait == Gait::flat_walk || s.setting.gait == Gait::running_walk;
    const MotionMeasure* m = told_measure(r, "speed");
    if (m && gaited)
        out.push_back(
            {fmt::format("{:.1f} mph over the ground, give or take {:.1f}; the flat walk goes 3 to "
                         "5, the running walk 5 to 7",
                         2.23694 * *m->value, 2.23694 * kNinetyPercent * m->sd)});
    else if (m)
        out.push_back({fmt::format("{:.1f} ± {:.1f} m/s over the ground, {:.0f} km/h", *m->value, m->sd,
                                   3.6 * *m->value)});
    constexpr double kRunningFrom = 75, kFlatTo = 70;
    if (s.setting.gait == Gait::flat_walk && *r.tempo_per_min >= kRunningFrom)
        out.push_back({"At this tempo it is in running walk now"});
    if (s.setting.gait == Gait::running_walk && *r.tempo_per_min <= kFlatTo)
        out.push_back({"At this tempo it is in flat walk still"});
}

void add_fences(const MotionReport& r, const SpokenAmounts& said, std::vector<StrideSaying>& out) {
    int n = 0;
    for (const FenceSeen& f : r.fences) {
        const std::string line = said_of(f, said);
        out.push_back({fmt::format("Fence {} at {:.1f} s: {}", ++n, f.take_off_s,
                                   line.empty() ? "nothing of it was followed" : line)});
    }
}

void add_loop(const MotionReport& r, const SpokenAmounts& said, std::vector<StrideSaying>& out) {
    const MotionMeasure *wide = told_measure(r, "hip_loop_width"), *high = told_measure(r, "hip_loop_height");
    if (!wide || !high) return;
    std::string line =
        fmt::format("The hip's loop is {} long and {} high", said.of(wide->id, "%", *wide->value),
                    said.of(high->id, "%", *high->value));
    if (const MotionMeasure* still = told_measure(r, "hip_still_pct"); still && *still->value > 5)
        line += fmt::format("; it stands still for {} of the stride", said.of(still->id, "%", *still->value));
    out.push_back({line});
}

}  // namespace

std::string said_of(const FenceSeen& f, const SpokenAmounts& said) {
    std::string line;
    const auto say = [&](const std::string& words) { line += (line.empty() ? "" : ", ") + words; };
    /// Which way, where the error leaves that open nothing is made of it.
    const auto add = [&](const char* id, const char* more, const char* less, const char* open) {
        const auto m = std::ranges::find(f.measures, std::string(id), &MotionMeasure::id);
        if (m == f.measures.end() || !m->value) return;
        const bool told = std::abs(*m->value) > kNinetyPercent * m->sd;
        say(told ? fmt::format(fmt::runtime(*m->value > 0 ? more : less), said.of(m->id, m->unit, *m->value))
                 : std::string(open));
    };
    add("seat_early_ms", "the seat leaves {} before the horse", "the seat leaves {} after the horse",
        "the seat leaves with the horse, or nearly");
    add("leg_slip", "the leg slips forward by {}", "the leg slips back by {}",
        "whether the leg slips cannot be told");
    add("fold", "folds {} further", "opens by {}", "whether it folds further cannot be told");
    add("release", "the hand goes forward by {}", "the hand comes back by {}",
        "the hand stays, as far as can be told");
    const auto leg = std::ranges::find(f.measures, std::string("after_landing_leg"), &MotionMeasure::id);
    if (leg != f.measures.end() && leg->value)
        say(fmt::format("lower leg {:.0f}° {} the plumb line after landing", std::abs(*leg->value),
                        *leg->value < 0 ? "behind" : "ahead of"));
    if (!f.drift.empty()) say("drifts " + f.drift);
    return line;
}

std::string said_of(const MotionReport& r, const MotionCurve& curve, const SpokenAmounts& said) {
    const MotionMeasure* m = told_measure(r, std::string(stride_measure_of(curve.id)).c_str());
    if (m) {
        std::string out = held_words(*m, said);
        const auto past = strides_outside(*m);
        const auto judged = std::ranges::count_if(m->by_stride, [](const auto& v) { return v.has_value(); });
        if (m->band) out += fmt::format(" · {} of {} strides past it", past.size(), judged);
        return out;
    }
    double low = 0, high = 0, sum = 0;
    int n = 0;
    for (const double v : curve.values) {
        if (std::isnan(v)) continue;
        low = n == 0 ? v : std::min(low, v);
        high = n == 0 ? v : std::max(high, v);
        sum += v;
        ++n;
    }
    if (n == 0) return "not followed";
    // Where it lies: a length from its own zero is a place, so how far it goes is what is said of it.
    if (curve.unit != "deg") return fmt::format("moves over {}", said.of(curve.id, curve.unit, high - low));
    std::string out = fmt::format("{:.0f}° on average, from {:.0f} to {:.0f}", sum / n, low, high);
    if (curve.band && curve.band->lo && curve.band->hi)
        out += fmt::format("; the band is {:.0f} to {:.0f}", *curve.band->lo, *curve.band->hi);
    for (std::size_t at = out.find('-'); at != std::string::npos; at = out.find('-', at))
        out.replace(at, 1, "−");
    return out;
}

std::vector<StrideSaying> sayings(const MotionReport& r, const MotionSetting& s, const SpokenAmounts& said) {
    std::vector<StrideSaying> out;
    add_fences(r, said, out);
    if (!r.tempo_per_min) {
        const auto why = std::ranges::find_if(r.measures, [](const auto& m) { return !m.reason.empty(); });
        std::string words = "Fewer than three whole strides";
        if (r.strides.empty())
            words = "No strides can be told here: nothing comes again evenly";
        else if (why != r.measures.end())
            words += " were followed";
        out.push_back({std::move(words)});
        return out;
    }
    if (r.uneven)
        out.push_back({fmt::format(
            "The trot is uneven: one beat throws the withers higher than the other, {} of the bounce "
            "once a stride. Have the horse looked at before it works on",
            said.of("hip_still_pct", "%", 100 * *r.uneven))});
    if (const MotionMeasure* m = told_measure(r, "leg_swing"))
        out.push_back({"The lower leg swings " + held_words(*m, said), m->id});
    add_held(r, out);
    say_rise(r, s, said, out);
    add_loop(r, said, out);
    add_aid(r, said, out);
    const std::pair<const char*, const char*> others[] = {{"hand_bounce", "The hand bounces by {}"},
                                                          {"heel_bob", "The heel bobs by {}"},
                                                          {"trunk_swing", "The trunk swings {}"},
                                                          {"head_bob", "The head bobs by {}"},
                                                          {"chin_nod", "The head nods {}"}};
    for (const auto& [id, form] : others) {
        if (const MotionMeasure* m = told_measure(r, id))
            out.push_back({fmt::format(fmt::runtime(form), held_words(*m, said)), m->id});
    }
    out.push_back({fmt::format("{} strides, {:.0f} a minute, {}{}", r.strides.size(), *r.tempo_per_min,
                               evenness(*r.tempo_cv_pct),
                               r.stride_source == "rider" ? ", told by the rider alone" : "")});
    add_speed(r, s, out);
    if (r.hooves) {
        for (std::string& line : in_words(*r.hooves)) out.push_back({std::move(line)});
    }
    add_around(r, out);
    const double usual = typical_tempo_per_min(s.setting.gait);
    if (usual > 0 && (*r.tempo_per_min < 0.6 * usual || *r.tempo_per_min > 1.6 * usual))
        out.push_back({fmt::format(
            "No horse goes at that tempo at the {}: is the clip slow motion, or the gait another?",
            spoken(s.setting.gait))});
    return out;
}

std::vector<std::string> in_words(const MotionReport& r, const MotionSetting& s, const SpokenAmounts& said) {
    std::vector<std::string> out;
    for (StrideSaying& one : sayings(r, s, said)) out.push_back(std::move(one.words));
    return out;
}

}  // namespace aspen::core
