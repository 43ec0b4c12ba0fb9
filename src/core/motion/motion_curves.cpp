#include "core/motion/motion_curves.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <utility>

#include "core/motion/motion_parts.hpp"
#include "core/motion/series.hpp"

namespace aspen::core {
namespace {

/// The value of a curve at a time, straight between its samples; NaN where one of them is missing.
double value_at(const MotionReport& r, const MotionCurve& c, double time_s) {
    const auto after = std::ranges::lower_bound(r.times, time_s);
    if (after == r.times.end()) return kNaN;
    const auto i = static_cast<std::size_t>(after - r.times.begin());
    if (i == 0 || *after == time_s) return c.values[i];
    const double share = (time_s - r.times[i - 1]) / (r.times[i] - r.times[i - 1]);
    return c.values[i - 1] + share * (c.values[i] - c.values[i - 1]);
}

}  // namespace

StridesLaidOver lay_over(const MotionReport& r, const MotionCurve& curve) {
    StridesLaidOver out;
    std::vector<double> sum(kPlacesOfStride, 0), squares(kPlacesOfStride, 0);
    int n = 0;
    for (const StrideSpan& s : r.strides) {
        std::vector<double> one;
        for (int k = 0; k < kPlacesOfStride; ++k) {
            const double t = s.start_s + (s.end_s - s.start_s) * k / (kPlacesOfStride - 1);
            const double v = value_at(r, curve, t);
            if (std::isnan(v)) break;
            one.push_back(v);
        }
        if (static_cast<int>(one.size()) < kPlacesOfStride) one.clear();
        for (std::size_t k = 0; k < one.size(); ++k) sum[k] += one[k], squares[k] += one[k] * one[k];
        n += !one.empty();
        out.strides.push_back(std::move(one));
    }
    if (n == 0) return out;
    for (std::size_t k = 0; k < sum.size(); ++k) {
        const double mean = sum[k] / n;
        out.mean.push_back(mean);
        out.spread.push_back(n < 2 ? 0 : std::sqrt(std::max(0.0, squares[k] - n * mean * mean) / (n - 1)));
    }
    return out;
}

StridesLaidOver begun_half_later(StridesLaidOver over) {
    // The last place is the first again.
    const auto turn = [](std::vector<double>& v) {
        if (v.size() != kPlacesOfStride) return;
        v.pop_back();
        std::rotate(v.begin(), v.begin() + kPlacesOfStride / 2, v.end());
        v.push_back(v.front());
    };
    for (auto& s : over.strides) turn(s);
    turn(over.mean);
    turn(over.spread);
    return over;
}

bool half_a_stride_apart(const StridesLaidOver& one, const StridesLaidOver& other) {
    if (one.mean.size() != kPlacesOfStride || other.mean.size() != kPlacesOfStride) return false;
    const auto middle = [](const std::vector<double>& v) {
        return std::accumulate(v.begin(), v.end(), 0.0) / static_cast<double>(v.size());
    };
    const auto apart = [&](const std::vector<double>& b) {
        double sum = 0;
        for (std::size_t k = 0; k < b.size(); ++k)
            sum += std::pow(one.mean[k] - middle(one.mean) - (b[k] - middle(b)), 2);
        return sum;
    };
    return apart(begun_half_later(other).mean) < apart(other.mean);
}

std::string_view stride_measure_of(std::string_view curve) {
    static constexpr std::pair<std::string_view, std::string_view> kOf[] = {
        {"lower_leg", "leg_swing"},   {"trunk_lean", "trunk_swing"}, {"head_pitch", "chin_nod"},
        {"poll_height", "horse_nod"}, {"seat_height", "seat_rise"},  {"hand_bob", "hand_bounce"},
        {"heel_bob", "heel_bob"}};
    const auto at = std::ranges::find(kOf, curve, &std::pair<std::string_view, std::string_view>::first);
    return at == std::end(kOf) ? std::string_view() : at->second;
}

std::optional<std::size_t> worst_stride(const MotionMeasure& m) {
    std::optional<std::size_t> out;
    int n = 0;
    const auto off = [&](std::size_t i) {
        return m.unit == "stride" ? std::abs(*m.by_stride[i]) : *m.by_stride[i];
    };
    for (std::size_t i = 0; i < m.by_stride.size(); ++i) {
        if (!m.by_stride[i]) continue;
        ++n;
        if (!out || off(i) > off(*out)) out = i;
    }
    return n < detail::kFewestStrides ? std::nullopt : out;
}

double farthest_in(const MotionReport& r, const MotionCurve& curve, std::size_t stride) {
    const StrideSpan& s = r.strides[stride];
    double sum = 0;
    int n = 0;
    for (const double v : curve.values) {
        if (!std::isnan(v)) sum += v, ++n;
    }
    double best = -1, at = s.start_s;
    for (std::size_t i = 0; i < r.times.size(); ++i) {
        if (r.times[i] < s.start_s || r.times[i] > s.end_s || std::isnan(curve.values[i])) continue;
        const double off = std::abs(curve.values[i] - sum / n);
        if (off > best) best = off, at = r.times[i];
    }
    return at;
}

std::vector<std::size_t> strides_outside(const MotionMeasure& m) {
    std::vector<std::size_t> out;
    for (std::size_t i = 0; m.band && i < m.by_stride.size(); ++i) {
        if (m.by_stride[i] && verdict_of(*m.by_stride[i], m.stride_sd, *m.band) == Verdict::outside)
            out.push_back(i);
    }
    return out;
}

std::vector<std::size_t> strides_outside(const MotionReport& r) {
    std::vector<std::size_t> out;
    for (const MotionMeasure& m : r.measures) {
        for (const std::size_t i : strides_outside(m)) out.push_back(i);
    }
    std::ranges::sort(out);
    out.erase(std::unique(out.begin(), out.end()), out.end());  // clang 14 does not take GCC's range version
    return out;
}

namespace detail {
namespace {

using L = Landmark;

bool any(const std::vector<double>& values) {
    return std::ranges::any_of(values, [](double v) { return !std::isnan(v); });
}

/// The band where the setting has one for the whole stretch: phases have their own.
std::optional<Band> band_of(const MotionParts& p, const std::string& id) {
    if (p.in.setting.school.empty()) return std::nullopt;
    const BandHere here = p.schools.here(id, p.in.setting);
    const auto* band = std::get_if<Band>(&here.band);
    return band && here.suspended.empty() ? std::optional(*band) : std::nullopt;
}

/// Heights stand about their own middle: where the withers lie is nobody's doing.
void about_the_middle(std::vector<double>& values, double whole_px) {
    double sum = 0;
    int n = 0;
    for (const double v : values) {
        if (std::isnan(v)) continue;
        sum += v;
        ++n;
    }
    for (double& v : values) v = 100 * (v - (n > 0 ? sum / n : 0)) / whole_px;
}

}  // namespace

std::vector<MotionCurve> curves_of(const MotionParts& p, double trunk_px) {
    std::vector<MotionCurve> out;
    if (p.in.view != View::side) return out;
    for (const Formula& f : side_formulas()) {
        if (!missing(p.in, p.even, f.info.needs).empty()) continue;
        MotionCurve c{std::string(f.info.id), std::string(f.info.spoken), std::string(f.info.unit),
                      p.even.measured(f, p.even.nominal()), band_of(p, std::string(f.info.id))};
        if (any(c.values)) out.push_back(std::move(c));
    }
    struct Height {
        const char *id, *spoken;
        L landmark;
        double whole_px;
    };
    for (const Height& h : {Height{"seat_height", "seat over the horse", L::hip, p.leg_px},
                            {"hand_bob", "hand over the horse", L::knuckle, trunk_px},
                            {"heel_bob", "heel over the horse", L::heel, trunk_px}}) {
        if (!missing(p.in, p.even, {h.landmark, L::withers}).empty() || !(h.whole_px > 0)) continue;
        MotionCurve c{h.id, h.spoken, "%", p.even.in_horse(h.landmark, p.even.nominal()).u, {}};
        about_the_middle(c.values, h.whole_px);
        if (any(c.values)) out.push_back(std::move(c));
    }
    return out;
}

}  // namespace detail

}  // namespace aspen::core
