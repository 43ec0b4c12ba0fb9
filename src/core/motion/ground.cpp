#include "core/motion/ground.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

#include "core/motion/small_numbers.hpp"

namespace aspen::core {
namespace {

constexpr double kBeforePoleS = 3;
constexpr std::size_t kLastSteps = 3;
constexpr double kNotable = 0.07;  // from memory: less is not to be seen

}  // namespace

std::vector<double> crossings(const std::vector<PlaceAt>& way, Point a, Point b) {
    constexpr double kOneLapS = 3, kPastTheEnds = 0.25;
    const double dx = b.x - a.x, dy = b.y - a.y, squared = dx * dx + dy * dy;
    std::vector<double> out;
    if (squared <= 0) return out;
    /// How far to one side of the line, and how far along it (0 at a, 1 at b).
    const auto side = [&](Point p) { return (p.x - a.x) * dy - (p.y - a.y) * dx; };
    const auto along = [&](Point p) { return ((p.x - a.x) * dx + (p.y - a.y) * dy) / squared; };
    double first = 0;
    for (std::size_t i = 1; i < way.size(); ++i) {
        const double was = side(way[i - 1].at), is = side(way[i].at);
        if (was == is || (was > 0) == (is > 0)) continue;
        const double share = was / (was - is);
        const double at = along(way[i - 1].at) + share * (along(way[i].at) - along(way[i - 1].at));
        if (at < -kPastTheEnds || at > 1 + kPastTheEnds) continue;
        if (first == 0) first = is > was ? 1 : -1;
        const double t = way[i - 1].time_s + share * (way[i].time_s - way[i - 1].time_s);
        if ((is > was) == (first > 0) && (out.empty() || t - out.back() >= kOneLapS)) out.push_back(t);
    }
    return out;
}

GroundSums ground_sums(const std::vector<PrintPair>& oversteps, const std::vector<PrintPair>& steps,
                       const std::vector<double>& poles_s) {
    GroundSums out;
    for (const PrintPair& o : oversteps) {
        if (o.px_per_m > 0)
            out.overstep_hooves.push_back(o.forward_px / o.px_per_m / kHoofM);
        else
            ++out.overstep_unscaled;
    }
    std::vector<std::size_t> by_time(steps.size());
    std::iota(by_time.begin(), by_time.end(), std::size_t{0});
    std::ranges::stable_sort(by_time, {}, [&](std::size_t i) { return steps[i].time_s; });
    std::set<std::size_t> taken;
    std::vector<std::vector<double>> last;
    for (const double pole : poles_s) {
        std::vector<std::size_t> before;
        for (const std::size_t i : by_time) {
            const double s = pole - steps[i].time_s;
            if (s >= 0 && s <= kBeforePoleS && !taken.contains(i)) before.push_back(i);
        }
        if (before.size() > kLastSteps) before.erase(before.begin(), before.end() - kLastSteps);
        if (before.empty()) continue;
        last.emplace_back();
        for (const std::size_t i : before) {
            taken.insert(i);
            last.back().push_back(std::abs(steps[i].forward_px));
        }
    }
    std::vector<double> usual;
    for (std::size_t i = 0; i < steps.size(); ++i) {
        if (taken.contains(i)) continue;
        usual.push_back(std::abs(steps[i].forward_px));
        if (steps[i].px_per_m > 0) out.steps_m.push_back(std::abs(steps[i].forward_px) / steps[i].px_per_m);
    }
    if (const auto middle = median(usual); middle && *middle > 0) {
        for (const auto& l : last) out.before_pole.push_back(*median(l) / *middle);
    }
    return out;
}

std::vector<std::string> in_words(const GroundSums& s) {
    std::vector<std::string> out;
    if (const auto o = median(s.overstep_hooves))
        out.push_back(
            std::abs(*o) < 0.25
                ? fmt::format("Overstep none: the hind foot lands in the fore's print ({} measured)",
                              s.overstep_hooves.size())
                : fmt::format("{} {:.1f} hooves ({} measured)",
                              *o > 0 ? "Overstep" : "The hind foot falls short by", std::abs(*o),
                              s.overstep_hooves.size()));
    if (s.overstep_unscaled > 0)
        out.push_back("Overstep needs a scale: draw along a known length, or mark the rider once");
    if (const auto m = median(s.steps_m))
        out.push_back(fmt::format("Step {:.2f} m in the middle ({} measured)", *m, s.steps_m.size()));
    if (const auto share = median(s.before_pole))
        out.push_back(fmt::format("Last steps before the pole {:.0f} % of the usual: {}", 100 * *share,
                                  *share < 1 - kNotable   ? "they shorten"
                                  : *share > 1 + kNotable ? "they reach"
                                                          : "as always"));
    return out;
}

}  // namespace aspen::core
