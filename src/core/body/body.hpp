#pragma once

#include <array>
#include <iosfwd>
#include <string>

#include "core/body/landmarks.hpp"

namespace aspen::core {

/// Nominal depths of the side landmarks and typical limb lengths (data/body.json, from memory).
struct Body {
    /// Distance from the horse's mid-plane towards the camera, in trunk lengths, by landmark; 0 for frontal
    /// ones.
    std::array<double, kLandmarkCount> depth{};
    /// Standard deviation of each depth, trunk lengths, independent between landmarks.
    double depth_sd = 0.08;
    double trunk_m = 0.5, thigh_m = 0.43, shank_m = 0.42, foot_m = 0.25, upper_arm_m = 0.30, forearm_m = 0.27;
};

/// Throws Refused naming file, entry and field.
Body load_body(std::istream& in, const std::string& file);

}  // namespace aspen::core
