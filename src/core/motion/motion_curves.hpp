#pragma once

#include <optional>
#include <vector>

#include "core/motion/motion.hpp"

/// Curves of a followed stretch, stride by stride.
namespace aspen::core {

inline constexpr int kPlacesOfStride = 51;  ///< 0, 2 … 100 % of the stride

/// A curve cut at its strides and laid over each other.
struct StridesLaidOver {
    /// One for each stride of the report, kPlacesOfStride values; empty where it was not followed throughout.
    std::vector<std::vector<double>> strides;
    std::vector<double> mean, spread;  ///< over the strides, place by place; empty below one
};
StridesLaidOver lay_over(const MotionReport& report, const MotionCurve& curve);

/// Whether two mean strides lie better over each other when one is moved on by half a stride: without a known
/// diagonal, either of two beats may have been taken for the first.
bool half_a_stride_apart(const StridesLaidOver& one, const StridesLaidOver& other);
/// The same strides, begun half a stride later.
StridesLaidOver begun_half_later(StridesLaidOver over);

/// The measure over strides that a curve shows ("lower_leg": "leg_swing"); "" for none.
std::string_view stride_measure_of(std::string_view curve);

/// The stride that stands out most in a measure: the largest, or for shares of the stride the one farthest
/// off their middle. Empty where fewer than three were followed.
std::optional<std::size_t> worst_stride(const MotionMeasure& measure);
/// When in a stride the curve lies farthest from its own mean over the whole stretch, real seconds: what one
/// goes there to see. The stride's start where it was not followed.
double farthest_in(const MotionReport& report, const MotionCurve& curve, std::size_t stride);
/// Strides whose whole 90 % interval lies outside the measure's band, in order.
std::vector<std::size_t> strides_outside(const MotionMeasure& measure);
/// The same of any measure of the report.
std::vector<std::size_t> strides_outside(const MotionReport& report);

}  // namespace aspen::core
