#pragma once

#include <array>
#include <iosfwd>
#include <string>

#include "core/body/landmarks.hpp"

namespace aspen::core {

/// Nominal places of the landmarks out of the picture's plane and typical lengths (data/body.json, from
/// memory).
struct Body {
    /// Distance from the horse's mid-plane towards the camera, in trunk lengths, by landmark; 0 for frontal
    /// ones.
    std::array<double, kLandmarkCount> depth{};
    /// Standard deviation of each depth, trunk lengths, independent between landmarks.
    double depth_sd = 0.08;
    /// Place of each frontal landmark along the horse, trunk lengths ahead of the hips, from behind and from
    /// the front.
    std::array<double, kLandmarkCount> along_rear{}, along_front{};
    /// Standard deviation of each place, one for both of a pair.
    double along_sd = 0.15;
    /// Spread of a measure between the moments of one ride where too few were marked to see it.
    double typical_spread_deg = 3, typical_spread_pct = 4;
    /// Standard deviation of one day about a rider's own line, by unit: degrees, per cent, milliseconds,
    /// shares of a stride, a minute.
    double form_deg = 2, form_pct = 2.5, form_ms = 20, form_stride = 0.03, form_per_min = 2;
    /// How far off a trunk is, as a share of it, that is guessed from another segment.
    double trunk_guess_sd = 0.15;
    double shoulder_width_m = 0.40, hip_width_m = 0.34, withers_croup_m = 0.95, cantle_withers_m = 0.62,
           poll_bit_m = 0.55;
    double trunk_m = 0.5, thigh_m = 0.43, shank_m = 0.42, foot_m = 0.25, upper_arm_m = 0.30, forearm_m = 0.27;
};

/// Throws Refused naming file, entry and field.
Body load_body(std::istream& in, const std::string& file);

}  // namespace aspen::core
