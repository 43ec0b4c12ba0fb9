#include "core/motion/motion_parts.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <stdexcept>

namespace aspen::core::detail {

double mean_of(const std::vector<double>& v) {
    return std::accumulate(v.begin(), v.end(), 0.0) / static_cast<double>(v.size());
}

double spread_of(const std::vector<double>& v) {
    if (v.size() < 2) return 0;
    const double m = mean_of(v);
    double ss = 0;
    for (const double x : v) ss += (x - m) * (x - m);
    return std::sqrt(ss / static_cast<double>(v.size() - 1));
}

const Formula& formula_of(std::string_view id) {
    for (const auto all : {side_formulas(), frontal_formulas()}) {
        const auto at = std::ranges::find_if(all, [&](const Formula& f) { return f.info.id == id; });
        if (at != all.end()) return *at;
    }
    throw std::logic_error("no measure " + std::string(id));
}

std::optional<StridePart> part_of(const EvenTracks& even, const EvenTracks::Series& x, const StrideSpan& s) {
    StridePart out;
    const double long_s = s.end_s - s.start_s;
    for (std::size_t i = 0; i < even.size(); ++i) {
        const double t = even.grid()[i];
        if (t < s.start_s - 1e-9 || t >= s.end_s - 1e-9) continue;
        if (std::isnan(x[i])) return std::nullopt;
        out.places.push_back((t - s.start_s) / long_s);
        out.values.push_back(x[i]);
    }
    return out;
}

MotionMeasure unjudged(const char* id, const char* unit, std::string reason) {
    MotionMeasure m;
    m.id = id;
    m.unit = unit;
    m.reason = std::move(reason);
    return m;
}
void settle(MotionMeasure& m, double value, double sd) {
    m.value = value;
    m.sd = sd;
    m.verdict = Verdict::no_band;
    m.reason = "no band";
}

double value_at(const EvenTracks& even, const EvenTracks::Series& x, double t) {
    const double place = (t - even.grid().front()) / even.step_s();
    const auto i = static_cast<std::size_t>(std::clamp(place, 0.0, static_cast<double>(x.size()) - 2));
    const double share = std::clamp(place - static_cast<double>(i), 0.0, 1.0);
    return x[i] + share * (x[i + 1] - x[i]);
}

std::string missing(const MotionSetting& in, const EvenTracks& even, const std::vector<Landmark>& needs) {
    if (in.view != View::side) return "seen from the side only";
    for (const Landmark l : needs) {
        if (!even.has(l)) return fmt::format("{} not followed", spoken(l));
    }
    return {};
}

}  // namespace aspen::core::detail
