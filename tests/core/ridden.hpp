#pragma once

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>
#include <numbers>
#include <random>

#include "core/core_support.hpp"
#include "core/motion/motion.hpp"

/// Riders whose motion is known: every joint goes by sines that are written down here.
namespace aspen::core::ridden {

using L = Landmark;

inline constexpr double kTrunkPx = 200, kShankPx = 168, kLegPx = 340;

/// A rider on a horse that goes evenly, seen from the side; lengths in pixels, upwards positive.
struct Ridden {
    double fps = 30, seconds = 9, stride_s = 0.77, noise_px = 0, keeps = 0,
           roll_deg = 0;  ///< keeps: of its noise from frame to frame
    bool canter = false;
    double swing_deg = 10, rise_pct = 8,
           late = 0.05;               ///< lower leg; seat in per cent of the leg; of the stride
    double loop_f = 15, loop_u = 10;  ///< half extents of the hip's loop in canter
    unsigned seed = 1;
    std::function<double(double)> lean_deg = [](double) { return 10.0; };
    std::function<double(double)> heel_back_px = [](double) { return 0.0; };
    std::function<double(double)> travel_px = [](double) { return 0.0; };
    std::function<bool(double, L)> seen = [](double, L) { return true; };
    bool withers = true, camera = false;
    double swings_at = 0;  ///< place in the stride at which the leg is furthest forward
    double uneven = 0;     ///< once-per-stride part of the bounce, of the bounce
    /// What one stride is more than the usual one: swing, degrees.
    std::function<double(double)> more_swing_deg = [](double) { return 0.0; };
    std::function<double(double)> leg_deg = [](double) { return 0.0; };  ///< beside the swing
    std::function<double(double)> hand_px = [](double) { return 0.0; };
};
inline Tracks tracks_of(const Ridden& r) {
    Tracks out;
    std::mt19937 engine(r.seed);
    std::normal_distribution<double> normal(0, 1);
    std::map<L, PlanePoint> wander;
    const int n = static_cast<int>(r.seconds * r.fps);
    for (int i = 0; i < n; ++i) {
        const double t = i / r.fps, w = 2 * std::numbers::pi * t / r.stride_s;
        const double up = (r.canter ? -12 * std::cos(w)
                                    : -6 * std::cos(2 * w) - 6 * r.uneven * std::cos(w + 1)),
                     on = r.travel_px(t);
        std::map<L, PlanePoint> at;
        at[L::withers] = {on + 80, up};
        at[L::croup] = {on - 200, up};
        const double rise = r.rise_pct / 100 * kLegPx / 2;
        at[L::hip] =
            r.canter ? PlanePoint{on + r.loop_f * std::cos(w), 20 + up + r.loop_u * std::sin(w)}
                     : PlanePoint{on, 20 + up + rise * std::cos(w - 2 * std::numbers::pi * (0.25 + r.late))};
        const PlanePoint hip = at[L::hip];
        const double lean = radians(r.lean_deg(t)),
                     leg = radians(-20 + r.leg_deg(t) +
                                   (r.swing_deg + r.more_swing_deg(t)) / 2 *
                                       std::cos(w - 2 * std::numbers::pi * r.swings_at));
        at[L::shoulder] = {hip.f + kTrunkPx * std::sin(lean), hip.u + kTrunkPx * std::cos(lean)};
        at[L::knee] = {hip.f + 120, hip.u - std::sqrt(172 * 172 - 120 * 120)};
        at[L::ankle] = {at[L::knee].f + kShankPx * std::sin(leg), at[L::knee].u - kShankPx * std::cos(leg)};
        at[L::heel] = {at[L::ankle].f - 20 - r.heel_back_px(t), at[L::ankle].u - 28};
        at[L::toe] = {at[L::heel].f + 98, at[L::heel].u + 17};
        at[L::knuckle] = {on + 90 + r.hand_px(t), up + 30 + 5 * std::cos(2 * w)};
        if (!r.withers) at.erase(L::withers);
        for (const auto& [l, p] : at) {
            if (!r.seen(t, l)) continue;
            // The true vertical leans to the right by the roll.
            const double a = radians(r.roll_deg), x = 400 + p.f, y = 500 - p.u;
            TrackPoint point{i, t, l, {x * std::cos(a) - y * std::sin(a), x * std::sin(a) + y * std::cos(a)}};
            PlanePoint& off = wander[l];
            const double fresh = r.noise_px * std::sqrt(1 - r.keeps * r.keeps);
            off = {r.keeps * off.f + fresh * normal(engine), r.keeps * off.u + fresh * normal(engine)};
            point.at.x += off.f;
            point.at.y += off.u;
            out.points.push_back(point);
        }
        if (r.camera) out.camera[i] = {0, 0, 1};
    }
    return out;
}

inline MotionSetting setting_of(const Ridden& r, const char* school = "classical") {
    MotionSetting s;
    s.setting.school = school;
    s.setting.gait = r.canter ? Gait::canter : Gait::trot;
    s.setting.seat = r.canter ? Seat::sitting : Seat::rising;
    s.seat_said = true;
    s.camera.roll_deg = r.roll_deg;
    return s;
}
inline MotionReport report_of(const Ridden& r, MotionSetting s) {
    return motion_of(tracks_of(r), s, aspen::test::knowledge().body, aspen::test::knowledge().schools);
}
inline MotionReport report_of(const Ridden& r) { return report_of(r, setting_of(r)); }
inline const MotionMeasure& of(const MotionReport& r, const char* id) {
    return *std::ranges::find(r.measures, id, &MotionMeasure::id);
}

}  // namespace aspen::core::ridden
