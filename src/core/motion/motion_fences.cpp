#include <algorithm>
#include <cmath>

#include "core/motion/motion_parts.hpp"
#include "core/motion/series.hpp"

/// What is read around a fence, and where the withers show that there is one.
namespace aspen::core::detail {
namespace {

using L = Landmark;
using Series = EvenTracks::Series;

constexpr double kOffSeat = 0.05, kAfterLandingS = 0.3;
/// Over the bounce of the approach, in its own standard deviations; how long a flight may last.
constexpr double kOverBounce = 2.5, kShortestFlightS = 0.2, kLongestFlightS = 1.2;
constexpr double kHalfFallS = 0.12;  // around the top, by which the fall is measured
constexpr double kFewestSamples = 5;

MotionMeasure seat_early(const MotionParts& p, std::optional<double> off, std::optional<double> from) {
    std::string why = missing(p.in, p.even, {L::hip, L::withers, L::knee, L::ankle});
    if (why.empty() && !off) why = "no take-off was logged";
    MotionMeasure m = unjudged("seat_early_ms", "ms", why);
    if (!why.empty()) return m;
    const Series u = p.even.in_horse(L::hip, p.even.nominal()).u;
    double sum = 0, n = 0;
    for (std::size_t i = 0; i < u.size(); ++i) {
        if (p.even.grid()[i] >= *off || (from && p.even.grid()[i] < *from) || std::isnan(u[i])) continue;
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
        if (from && p.even.grid()[i] < *from) continue;
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

/// How far the hand goes forward in flight from where it was at take-off, in the horse's frame, % of the
/// trunk.
MotionMeasure release(const MotionParts& p, std::optional<double> off, std::optional<double> landing) {
    std::string why = missing(p.in, p.even, {L::knuckle, L::withers, L::shoulder, L::hip});
    if (why.empty() && (!off || !landing)) why = "no take-off and landing were logged";
    MotionMeasure m = unjudged("release", "%", why);
    if (!why.empty()) return m;
    const Series f = p.even.in_horse(L::knuckle, p.even.nominal()).f;
    const double start = value_at(p.even, f, *off), trunk = p.even.trunk_px();
    if (std::isnan(start) || !(trunk > 0)) {
        m.reason = "not followed at take-off";
        return m;
    }
    double furthest = 0;
    for (std::size_t i = 0; i < f.size(); ++i) {
        if (p.even.grid()[i] < *off || p.even.grid()[i] > *landing || std::isnan(f[i])) continue;
        furthest = std::max(furthest, f[i] - start);
    }
    settle(m, 100 * furthest / trunk, 0);
    return m;
}

/// The parabola through what lies around the top: how fast it falls (per s squared, upwards positive), and by
/// how much less than it really would when it was only smoothed.
struct Fall {
    double top_s = 0, height = 0, bend = 0;
};
Fall fall_around(const EvenTracks& even, const Series& u, std::size_t top) {
    const double h = even.step_s();
    const auto reach = std::max<std::size_t>(2, static_cast<std::size_t>(kHalfFallS / h));
    double s2 = 0, s4 = 0, sy = 0, s2y = 0, s1y = 0, n = 0;
    for (std::size_t i = top - std::min(top, reach); i <= std::min(u.size() - 1, top + reach); ++i) {
        if (std::isnan(u[i])) continue;
        const double t = (static_cast<double>(i) - static_cast<double>(top)) * h;
        s2 += t * t, s4 += t * t * t * t, sy += u[i], s1y += t * u[i], s2y += t * t * u[i], ++n;
    }
    const double under = n * s4 - s2 * s2;
    if (n < kFewestSamples || !(under > 0) || !(s2 > 0)) return {even.grid()[top], u[top], 0};
    const double bend = (n * s2y - s2 * sy) / under, slope = s1y / s2, at_0 = (sy - bend * s2) / n;
    const double off = bend < 0 ? std::clamp(-slope / (2 * bend), -kHalfFallS, kHalfFallS) : 0;
    return {even.grid()[top] + off, at_0 + slope * off + bend * off * off, bend};
}

}  // namespace

std::vector<FenceAt> fences_logged(const MotionSetting& in) {
    std::vector<Happening> events = in.events;
    std::ranges::stable_sort(events, {}, &Happening::time_s);
    std::vector<FenceAt> out;
    for (const Happening& e : events) {
        const double t = e.time_s * in.time_scale;
        if (e.event == "take_off") {
            FenceAt fence;
            fence.take_off_s = t;
            if (!out.empty() && out.back().landing_s)
                fence.approach_from_s = *out.back().landing_s + kAfterLandingS;
            out.push_back(fence);
        } else if (e.event == "landing") {
            if (out.empty() || out.back().landing_s) out.emplace_back();
            out.back().landing_s = t;
        }
        if (e.event == "fence" || e.event == "landing") {
            const std::string drift = detail_of(e.detail, "drift");
            if (!drift.empty() && !out.empty()) out.back().drift = drift;
        }
    }
    return out;
}

std::vector<MotionMeasure> fence_measures(const MotionParts& p, const FenceAt& fence) {
    const auto off = fence.take_off_s, landing = fence.landing_s;
    return {seat_early(p, off, fence.approach_from_s),
            in_flight(p, "leg_slip", "lower_leg", false, off, landing),
            in_flight(p, "fold", "trunk_lean", true, off, landing), after_landing(p, landing),
            release(p, off, landing)};
}

std::vector<FenceSeen> fences_of(const MotionParts& p) {
    std::vector<FenceSeen> out;
    if (p.in.view != View::side || p.even.size() < 2) return out;
    for (const FenceAt& f : fences_logged(p.in)) {
        if (!f.take_off_s || !f.landing_s || *f.landing_s < p.even.grid().front() ||
            *f.take_off_s > p.even.grid().back())
            continue;
        out.push_back({*f.take_off_s, *f.landing_s, f.drift, fence_measures(p, f)});
    }
    return out;
}

std::vector<FlightSeen> flights_of(const MotionParts& p) {
    std::vector<FlightSeen> out;
    if (p.in.view != View::side || !p.even.has(L::withers) || p.even.size() < 8) return out;
    const Series u = p.even.plane(L::withers, p.even.nominal()).u;
    double sum = 0, squares = 0, n = 0;
    std::vector<double> all;
    for (const double v : u) {
        if (!std::isnan(v)) all.push_back(v);
    }
    if (all.size() < 8) return out;
    // The bounce without the jumps: the middle half of all heights, whose width says what is usual.
    std::ranges::sort(all);
    const double low = all[all.size() / 4], high = all[3 * all.size() / 4], middle = all[all.size() / 2];
    for (const double v : all) {
        if (v >= low - (high - low) && v <= high + (high - low)) sum += v, squares += v * v, ++n;
    }
    const double bounce = std::sqrt(std::max(0.0, squares / n - sum / n * sum / n));
    for (std::size_t i = 1; i + 1 < u.size(); ++i) {
        if (!(u[i] > u[i - 1]) || !(u[i] >= u[i + 1]) || u[i] < middle + kOverBounce * bounce) continue;
        const Fall fall = fall_around(p.even, u, i);
        if (!(fall.bend < 0)) continue;
        // What is thrown comes down as it went up: half its flight is the time to fall from the top to where
        // it took off, which lies about the height of its usual way.
        const double half = std::sqrt((fall.height - sum / n) / -fall.bend);
        if (2 * half < kShortestFlightS || 2 * half > kLongestFlightS) continue;
        if (!out.empty() && fall.top_s - out.back().top_s < kLongestFlightS / 2) {
            if (fall.height > value_at(p.even, u, out.back().top_s))
                out.back() = {fall.top_s - half, fall.top_s, fall.top_s + half};
            continue;
        }
        out.push_back({fall.top_s - half, fall.top_s, fall.top_s + half});
    }
    return out;
}

}  // namespace aspen::core::detail
