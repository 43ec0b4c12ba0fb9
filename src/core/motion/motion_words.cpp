#include "core/motion/motion_words.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace aspen::core {
namespace {

const MotionMeasure* find(const MotionReport& r, const char* id) {
    const auto at = std::ranges::find(r.measures, id, &MotionMeasure::id);
    return at == r.measures.end() || !at->value ? nullptr : &*at;
}

/// "14.0° ± 2.0° a stride; up to 7° is quiet": the value, of what, and what the band says of it.
std::string held(const MotionMeasure& m, const char* of, const char* quiet = "quiet") {
    const char* unit = m.unit == "deg" ? "°" : " %";
    std::string out = fmt::format("{:.1f} ± {:.1f}{} {}", *m.value, m.sd, unit, of);
    if (m.band && m.band->hi) out += fmt::format("; up to {:.3g}{} is {}", *m.band->hi, unit, quiet);
    return out;
}

void add_held(const MotionReport& r, std::vector<std::string>& out) {
    const MotionMeasure* m = find(r, "strides_held");
    if (!m) return;
    const int n = static_cast<int>(*m->value);
    const auto first = m->words.find("lets_go_first");
    const MeasureInfo* what = first == m->words.end() ? nullptr : find_measure(first->second);
    if (n == 0)
        out.push_back(what ? fmt::format("It holds for no whole stride: {} is out", what->spoken)
                           : std::string("It holds for no whole stride"));
    else if (what)
        out.push_back(
            fmt::format("It holds for {} of {} strides, then {} goes first", n, m->strides, what->spoken));
    else
        out.push_back(fmt::format("It holds for all {} strides", n));
}

void add_rise(const MotionReport& r, const MotionSetting& s, std::vector<std::string>& out) {
    const bool rising = s.seat_said && s.setting.seat == Seat::rising;
    if (const MotionMeasure* m = find(r, "seat_rise"))
        out.push_back(fmt::format("{} {}", rising ? "The seat rises by" : "A gap opens under the seat of",
                                  held(*m, "of the leg", "little")));
    if (const MotionMeasure* m = find(r, "rise_phase")) {
        const double pct = 100 * *m->value, sd = 100 * m->sd;
        out.push_back(std::abs(pct) < 1.645 * sd || std::abs(pct) < 2
                          ? std::string("The rise comes with the horse")
                          : fmt::format("The rise comes {:.0f} % ± {:.0f} of a stride {}", std::abs(pct), sd,
                                        pct > 0 ? "late" : "early"));
    }
}

void add_loop(const MotionReport& r, std::vector<std::string>& out) {
    const MotionMeasure *wide = find(r, "hip_loop_width"), *high = find(r, "hip_loop_height");
    if (!wide || !high) return;
    std::string line = fmt::format("The hip's loop is {:.0f} % of the trunk long and {:.0f} % high",
                                   *wide->value, *high->value);
    if (const MotionMeasure* still = find(r, "hip_still_pct"); still && *still->value > 5)
        line += fmt::format("; it stands still for {:.0f} % of the stride", *still->value);
    out.push_back(line);
}

}  // namespace

std::vector<std::string> in_words(const MotionReport& r, const MotionSetting& s) {
    std::vector<std::string> out;
    if (!r.tempo_per_min) {
        const auto why = std::ranges::find_if(r.measures, [](const auto& m) { return !m.reason.empty(); });
        out.push_back(r.strides.empty()         ? "No strides can be told here: nothing comes again evenly"
                      : why == r.measures.end() ? "Fewer than three whole strides"
                                                : "Fewer than three whole strides were followed");
        return out;
    }
    if (const MotionMeasure* m = find(r, "leg_swing"))
        out.push_back("The lower leg swings " + held(*m, "a stride"));
    add_held(r, out);
    add_rise(r, s, out);
    add_loop(r, out);
    const std::pair<const char*, const char*> others[] = {{"hand_bounce", "The hand bounces by {}"},
                                                          {"heel_bob", "The heel bobs by {}"},
                                                          {"trunk_swing", "The trunk swings {}"},
                                                          {"head_bob", "The head bobs by {}"},
                                                          {"chin_nod", "The head nods {}"}};
    for (const auto& [id, form] : others) {
        if (const MotionMeasure* m = find(r, id))
            out.push_back(
                fmt::format(fmt::runtime(form), held(*m, m->unit == "deg" ? "a stride" : "of the trunk")));
    }
    out.push_back(fmt::format("{} strides, {:.0f} a minute, spread {:.0f} %{}", r.strides.size(),
                              *r.tempo_per_min, *r.tempo_cv_pct,
                              r.stride_source == "rider" ? ", told by the rider alone" : ""));
    const double usual = typical_tempo_per_min(s.setting.gait);
    if (usual > 0 && (*r.tempo_per_min < 0.6 * usual || *r.tempo_per_min > 1.6 * usual))
        out.push_back(
            "No horse goes at that tempo in this gait: is the clip slow motion, or the gait another?");
    return out;
}

}  // namespace aspen::core
