#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>

#include "core/motion/motion_parts.hpp"
#include "core/motion/series.hpp"

/// What is read around a marked change.
namespace aspen::core::detail {
namespace {

using L = Landmark;
using Series = EvenTracks::Series;

constexpr double kSmallestTurnDeg = 1;
/// What the parabola through the three best shifts leaves of a step, from ridden examples at 24 to 120 a
/// second.
constexpr double kOffThePeak = 0.05;
constexpr double kWithinS = 2, kEarliestS = -0.2, kLatestS = 0.6, kAgree = 0.5;

/// The shift at which the rider's answer agrees best with the pull of the horse.
MotionMeasure lag(const MotionParts& p, const char* id, std::string why,
                  const std::function<Series()>& position, const std::function<Series()>& answer) {
    if (why.empty() && !p.in.change_at_s) why = "no change was marked";
    if (why.empty() && !p.camera_known) why = "the camera's motion is not known";
    if (why.empty() && !p.report.tempo_per_min) why = "fewer than three whole strides";
    MotionMeasure m = unjudged(id, "ms", why);
    if (!why.empty()) return m;
    const double h = p.even.step_s(), at = *p.in.change_at_s * p.in.time_scale;
    const Series f = position();
    Series pull(f.size(), std::nan(""));
    for (std::size_t i = 1; i + 1 < f.size(); ++i) pull[i] = (f[i - 1] - 2 * f[i] + f[i + 1]) / (h * h);
    const int stride = static_cast<int>(std::round(60 / *p.report.tempo_per_min / h));
    const Series a = moving_mean(pull, stride), b = moving_mean(answer(), stride);
    const auto& grid = p.even.grid();
    const auto first = std::ranges::lower_bound(grid, at - kWithinS) - grid.begin(),
               past = std::ranges::upper_bound(grid, at + kWithinS) - grid.begin();
    const auto r = [&](int shift) {
        return correlation(a, b, shift, static_cast<std::size_t>(first), static_cast<std::size_t>(past));
    };
    const int from = static_cast<int>(std::ceil(kEarliestS / h)),
              to = static_cast<int>(std::floor(kLatestS / h));
    int best = from;
    for (int k = from; k <= to; ++k) {
        if (std::abs(r(k)) > std::abs(r(best))) best = k;
    }
    m.numbers["r"] = r(best);
    if (std::abs(r(best)) < kAgree) {
        m.reason = "rider and horse do not move together enough";
    } else if (best == from || best == to) {
        m.reason = "the answer lies outside what is looked at";
    } else {
        const double before = std::abs(r(best - 1)), here = std::abs(r(best)), after = std::abs(r(best + 1));
        const double bend = before - 2 * here + after, off = bend < 0 ? 0.5 * (before - after) / bend : 0;
        settle(m, 1000 * h * (best + off), 1000 * h * kOffThePeak);
    }
    return m;
}

/// How far the lean passes the value it settles at, in per cent of the change: before is the second before
/// the turn, settled the second that begins a second after it.
MotionMeasure overshoot(const MotionParts& p, std::string why, const std::function<Series()>& lean) {
    if (why.empty() && !p.in.change_at_s) why = "no change was marked";
    if (why.empty() && !p.report.tempo_per_min) why = "fewer than three whole strides";
    MotionMeasure m = unjudged("overshoot_pct", "%", why);
    if (!why.empty()) return m;
    const double at = *p.in.change_at_s * p.in.time_scale;
    const int stride = static_cast<int>(std::round(60 / *p.report.tempo_per_min / p.even.step_s()));
    const Series x = moving_mean(lean(), stride);
    const auto mean = [&](double from, double to) {
        double sum = 0, n = 0;
        for (std::size_t i = 0; i < x.size(); ++i) {
            if (p.even.grid()[i] < from || p.even.grid()[i] > to || std::isnan(x[i])) continue;
            sum += x[i];
            ++n;
        }
        return n > 0 ? sum / n : std::nan("");
    };
    const double before = mean(at - 1, at), settled = mean(at + 1, at + kWithinS), change = settled - before;
    if (std::isnan(change) || std::abs(change) < kSmallestTurnDeg) {
        m.reason = "the lean hardly changes";
        return m;
    }
    double furthest = 0;
    for (std::size_t i = 0; i < x.size(); ++i) {
        const double t = p.even.grid()[i];
        if (t < at || t > at + kWithinS || std::isnan(x[i])) continue;
        furthest = std::max(furthest, (x[i] - settled) / change);
    }
    settle(m, 100 * furthest, 0);
    return m;
}

}  // namespace

std::vector<MotionMeasure> change_measures(const MotionParts& p) {
    const auto stand = p.even.nominal();
    std::string why = missing(p.in, p.even, {L::withers, L::shoulder, L::hip});
    std::vector<MotionMeasure> out{lag(
        p, "trunk_lag_ms", why, [&] { return p.even.plane(L::withers, stand).f; },
        [&] { return p.even.measured(formula_of("trunk_lean"), stand); })};
    why = p.in.view == View::side ? "seen from front or rear only" : "";
    for (const Landmark l : {L::horse_mid, L::left_shoulder, L::right_shoulder, L::left_hip, L::right_hip}) {
        if (why.empty() && !p.even.has(l)) why = fmt::format("{} not followed", spoken(l));
    }
    const auto lean = [&] { return p.even.measured(formula_of("lateral_lean"), stand); };
    out.push_back(lag(
        p, "lateral_lag_ms", why,
        [&] {
            Series y = p.even.plane(L::horse_mid, stand).f;
            if (p.in.view == View::front)
                for (double& v : y) v = -v;  // towards the rider's right, as the lean
            return y;
        },
        lean));
    out.push_back(overshoot(p, why, lean));
    return out;
}

}  // namespace aspen::core::detail
