#include <fmt/format.h>

#include <cmath>
#include <functional>

#include "core/motion/motion_parts.hpp"
#include "core/motion/series.hpp"

/// What is read around an instant: a marked change, a fence.
namespace aspen::core::detail {
namespace {

using L = Landmark;
using Series = EvenTracks::Series;

constexpr double kSmallestTurnDeg = 1;
constexpr double kWithinS = 2, kEarliestS = -0.2, kLatestS = 0.6, kAgree = 0.5;
constexpr double kOffSeat = 0.05, kAfterLandingS = 0.3;
constexpr std::size_t kFewestSamples = 8;

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

/// Pearson's correlation of one series with another so many samples later, around an instant.
double correlation(const Series& a, const Series& b, int shift, const std::vector<double>& grid, double at) {
    double sa = 0, sb = 0, saa = 0, sbb = 0, sab = 0, count = 0;
    const int n = static_cast<int>(a.size());
    for (int i = 0; i < n; ++i) {
        const int j = i + shift;
        if (std::abs(grid[static_cast<std::size_t>(i)] - at) > kWithinS || j < 0 || j >= n) continue;
        const double x = a[static_cast<std::size_t>(i)], y = b[static_cast<std::size_t>(j)];
        if (std::isnan(x) || std::isnan(y)) continue;
        sa += x, sb += y, saa += x * x, sbb += y * y, sab += x * y, ++count;
    }
    if (count < kFewestSamples) return 0;
    const double va = saa - sa * sa / count, vb = sbb - sb * sb / count;
    return va > 0 && vb > 0 ? (sab - sa * sb / count) / std::sqrt(va * vb) : 0;
}

double value_at(const EvenTracks& even, const Series& x, double t) {
    const double place = (t - even.grid().front()) / even.step_s();
    const auto i = static_cast<std::size_t>(std::clamp(place, 0.0, static_cast<double>(x.size()) - 2));
    const double share = std::clamp(place - static_cast<double>(i), 0.0, 1.0);
    return x[i] + share * (x[i + 1] - x[i]);
}

std::optional<double> event_at(const MotionSetting& in, const char* event) {
    for (const Happening& e : in.events) {
        if (e.event == event) return e.time_s * in.time_scale;
    }
    return std::nullopt;
}

MotionMeasure seat_early(const MotionParts& p, std::optional<double> off) {
    std::string why = missing(p.in, p.even, {L::hip, L::withers, L::knee, L::ankle});
    if (why.empty() && !off) why = "no take-off was logged";
    MotionMeasure m = unjudged("seat_early_ms", "ms", why);
    if (!why.empty()) return m;
    const Series u = p.even.in_horse(L::hip, p.even.nominal()).u;
    double sum = 0, n = 0;
    for (std::size_t i = 0; i < u.size(); ++i) {
        if (p.even.grid()[i] >= *off || std::isnan(u[i])) continue;
        sum += u[i];
        ++n;
    }
    if (n < kFewestStrides) {
        m.reason = "no approach was followed";
        return m;
    }
    const double line = sum / n + kOffSeat * p.leg_px;
    std::optional<double> crossed;
    for (std::size_t i = 1; i < u.size() && p.even.grid()[i] <= *off + 1e-9; ++i) {
        if (u[i - 1] < line && u[i] >= line)
            crossed = p.even.grid()[i - 1] + p.even.step_s() * (line - u[i - 1]) / (u[i] - u[i - 1]);
    }
    if (crossed)
        settle(m, 1000 * (*off - *crossed), 1000 * p.even.step_s() / std::sqrt(12.0));
    else
        m.reason = "the seat does not leave before take-off";
    return m;
}

/// How far a direction goes in flight from where it was at take-off.
MotionMeasure in_flight(const MotionParts& p, const char* id, const char* measure, bool forward_only,
                        std::optional<double> off, std::optional<double> landing) {
    std::string why = missing(p.in, p.even, formula_of(measure).info.needs);
    if (why.empty() && (!off || !landing)) why = "no take-off and landing were logged";
    MotionMeasure m = unjudged(id, "deg", why);
    if (!why.empty()) return m;
    const Series x = p.even.measured(formula_of(measure), p.even.nominal());
    const double start = value_at(p.even, x, *off);
    if (std::isnan(start)) {
        m.reason = "not followed at take-off";
        return m;
    }
    double furthest = 0;
    for (std::size_t i = 0; i < x.size(); ++i) {
        const double t = p.even.grid()[i];
        if (t < *off || t > *landing || std::isnan(x[i])) continue;
        const double d = x[i] - start;
        if (forward_only ? d > furthest : std::abs(d) > std::abs(furthest)) furthest = d;
    }
    settle(m, furthest, 0);
    return m;
}

MotionMeasure after_landing(const MotionParts& p, std::optional<double> landing) {
    std::string why = missing(p.in, p.even, {L::knee, L::ankle});
    if (why.empty() && !landing) why = "no landing was logged";
    MotionMeasure m = unjudged("after_landing_leg", "deg", why);
    if (!why.empty()) return m;
    const double t = *landing + kAfterLandingS;
    const Series x = p.even.measured(formula_of("lower_leg"), p.even.nominal());
    const double value = t <= p.even.grid().back() ? value_at(p.even, x, t) : std::nan("");
    if (std::isnan(value))
        m.reason = "not followed after the landing";
    else
        settle(m, value, p.in.camera.roll_sd_deg);
    return m;
}

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
    const auto r = [&](int shift) { return correlation(a, b, shift, p.even.grid(), at); };
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
        settle(m, 1000 * h * (best + off), 1000 * h / std::sqrt(12.0));
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

std::vector<MotionMeasure> fence_measures(const MotionParts& p) {
    const auto off = event_at(p.in, "take_off"), landing = event_at(p.in, "landing");
    return {seat_early(p, off), in_flight(p, "leg_slip", "lower_leg", false, off, landing),
            in_flight(p, "fold", "trunk_lean", true, off, landing), after_landing(p, landing)};
}

}  // namespace aspen::core::detail
