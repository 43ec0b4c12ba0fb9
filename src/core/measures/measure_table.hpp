#pragma once

#include <functional>
#include <span>

#include "core/measures/measures.hpp"

/// How the two families of measures are evaluated. Internal to core.
namespace aspen::core::detail {

/// Inputs of one evaluation, each of which can be nudged to find a derivative.
struct Inputs {
    std::array<Point, kLandmarkCount> at{};
    std::array<double, kLandmarkCount> depth{};  ///< trunk lengths
    double roll_rad = 0;
    double yaw_rad = 0;
    bool trunk_known = true;  ///< shoulder and hip measurable; otherwise depth is taken as 0
};

/// A measure's value before folding. `folded` measures are magnitudes of a signed angle: the derivative is
/// taken of the signed one, which has no kink at a straight joint.
struct Formula {
    MeasureInfo info;
    double (*raw)(const Inputs&, const Figure&);
    bool folded = false;
    bool angular = false;  ///< differences are taken modulo 360 degrees
};

std::span<const Formula> side_formulas();
std::span<const Formula> frontal_formulas();

}  // namespace aspen::core::detail
