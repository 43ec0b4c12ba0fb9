#pragma once

#include <optional>

namespace aspen::core {

/// The bands of a cell that leave the hip its room, degrees and per cent as the measures count them.
struct HipCell {
    struct Limits {
        double lo = 0, hi = 0;
        friend auto operator<=>(const Limits&, const Limits&) = default;
    };
    Limits trunk_lean, heel_offset, knee_angle, heel_drop;
    std::optional<double> shoulder_past_knee{};  ///< its upper limit, where the cell holds one
    friend auto operator<=>(const HipCell&, const HipCell&) = default;
};

/// How the drawn poses of a cell came out.
struct HipBand {
    double lo = 0, hi = 0;  ///< whole degrees
    double stay = 1;        ///< share of the drawn poses that keep shoulder_past_knee
};

/// The fewest of the drawn poses that must keep `shoulder_past_knee`, or the cell contradicts itself.
inline constexpr double kFewestStay = 0.7;

/// The band of `hip_angle` that follows from the others (a consequence, never an opinion): 20,000
/// poses from a fixed seed with trunk lean, heel offset, knee angle and heel drop uniformly inside their
/// bands and trunk 0.50 m, thigh 0.43, shank 0.42, each uniformly +- 8 %, the heel 5 cm behind and 7 cm below
/// the ankle and turning with the heel drop; those that break `shoulder_past_knee` are thrown away; the 1.5th
/// and 98.5th percentile, rounded outwards to whole degrees. Lengths and shares from memory.
HipBand hip_band(const HipCell& cell);

}  // namespace aspen::core
