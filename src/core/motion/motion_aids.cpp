#include <algorithm>
#include <cmath>

#include "core/motion/motion_parts.hpp"

/// What is read around the aid for a lead: how far the outer leg goes, and what the trunk does with it.
namespace aspen::core::detail {
namespace {

using L = Landmark;
using Series = EvenTracks::Series;

constexpr double kFewestBefore = 3;  // samples of the stride before

struct CanterAid {
    double at_s = 0;  ///< real seconds
    std::string lead;
};

std::optional<CanterAid> first_canter_aid(const MotionSetting& in) {
    std::optional<CanterAid> out;
    for (const Happening& e : in.events) {
        const std::string lead = detail_of(e.detail, "lead");
        const double at = e.time_s * in.time_scale;
        if (e.event == "aid" && (lead == "left" || lead == "right") && (!out || at < out->at_s))
            out = CanterAid{at, lead};
    }
    return out;
}

/// Travelling right shows the rider's right side; the outer leg lies opposite the lead.
bool outer_leg_seen(Travel travel, const std::string& lead) {
    return (travel == Travel::right) == (lead == "left");
}

/// Why it cannot be read; "" where it can.
std::string no_aid(const MotionParts& p, const std::optional<CanterAid>& aid,
                   const std::vector<Landmark>& needs) {
    std::string why = missing(p.in, p.even, needs);
    if (why.empty() && !aid) why = "no aid for a lead was logged";
    if (why.empty() && !outer_leg_seen(p.in.travel, aid->lead)) why = "the outer leg is not seen";
    if (why.empty() && !p.report.tempo_per_min) why = "fewer than three whole strides";
    return why;
}

/// The value furthest from the mean of the stride before, from the aid to one stride later, less that mean.
std::optional<double> furthest_from_before(const MotionParts& p, const Series& x, double at, double stride) {
    double sum = 0, n = 0, furthest = 0;
    bool seen = false;
    for (std::size_t i = 0; i < x.size(); ++i) {
        const double t = p.even.grid()[i];
        if (t < at - stride || t >= at || std::isnan(x[i])) continue;
        sum += x[i];
        ++n;
    }
    if (n < kFewestBefore) return std::nullopt;
    for (std::size_t i = 0; i < x.size(); ++i) {
        const double t = p.even.grid()[i];
        if (t < at || t > at + stride || std::isnan(x[i])) continue;
        if (const double d = x[i] - sum / n; !seen || std::abs(d) > std::abs(furthest)) furthest = d;
        seen = true;
    }
    return seen ? std::optional(furthest) : std::nullopt;
}

/// In which part of the rise it was asked: how high the hip stood between its lowest and highest of the
/// stride before.
void say_rise(MotionMeasure& m, const MotionParts& p, double at, double stride) {
    if (p.in.setting.seat != Seat::rising || !p.even.has(L::withers)) return;
    const Series u = p.even.in_horse(L::hip, p.even.nominal()).u;
    double low = 0, high = 0;
    bool any = false;
    for (std::size_t i = 0; i < u.size(); ++i) {
        const double t = p.even.grid()[i];
        if (t < at - stride || t > at || std::isnan(u[i])) continue;
        low = any ? std::min(low, u[i]) : u[i];
        high = any ? std::max(high, u[i]) : u[i];
        any = true;
    }
    const double now = value_at(p.even, u, at);
    if (!any || !(high > low) || std::isnan(now)) return;
    const double share = (now - low) / (high - low);
    m.words["asked_in"] = share < 1.0 / 3 ? "sitting" : share > 2.0 / 3 ? "top of the rise" : "between";
}

}  // namespace

std::vector<MotionMeasure> aid_measures(const MotionParts& p) {
    const auto aid = first_canter_aid(p.in);
    const auto stand = p.even.nominal();
    const auto read = [&](const char* id, const char* unit, const std::vector<Landmark>& needs, double scale,
                          const auto& series) {
        const std::string why = no_aid(p, aid, needs);
        MotionMeasure m = unjudged(id, unit, why);
        if (!why.empty()) return m;
        const double stride = 60 / *p.report.tempo_per_min;
        const auto moved = furthest_from_before(p, series(), aid->at_s, stride);
        if (!moved) {
            m.reason = "not followed from a stride before the aid to one after it";
            return m;
        }
        settle(m, scale * *moved, 0);
        say_rise(m, p, aid->at_s, stride);
        return m;
    };
    return {read("aid_leg_back", "%", {L::heel, L::hip, L::knee, L::ankle}, 100 / p.leg_px,
                 [&] {
                     Series f = p.even.plane(L::heel, stand).f;
                     const Series hip = p.even.plane(L::hip, stand).f;
                     for (std::size_t i = 0; i < f.size(); ++i) f[i] -= hip[i];
                     return f;
                 }),
            read("aid_trunk", "deg", formula_of("trunk_lean").info.needs, 1,
                 [&] { return p.even.measured(formula_of("trunk_lean"), stand); })};
}

}  // namespace aspen::core::detail
