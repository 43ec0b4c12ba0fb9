#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/body/geometry.hpp"

/// What two prints of hooves on the ground say: overstep, and whether steps shorten before a pole.
namespace aspen::core {

/// A hoof's length on the ground, from memory; a horse's own differs by about a tenth.
inline constexpr double kHoofM = 0.13;

/// Two prints in one frame.
struct PrintPair {
    double time_s = 0;
    double forward_px = 0;  ///< from the first to the second, the way the horse goes
    double px_per_m = 0;    ///< at the horse; 0 where no scale is known
};

struct GroundSums {
    std::vector<double> overstep_hooves;  ///< behind the fore print is negative; only where a scale is known
    int overstep_unscaled = 0;
    std::vector<double> steps_m;  ///< of the usual steps
    /// Last three steps before a pole against the usual ones, each as a share; one for each pole.
    std::vector<double> before_pole;
};
/// `poles_s`: when a pole was logged. The three last steps that start within three seconds before a pole are
/// its own; all others are usual. Shares need no scale.
GroundSums ground_sums(const std::vector<PrintPair>& oversteps, const std::vector<PrintPair>& steps,
                       const std::vector<double>& poles_s);
std::vector<std::string> in_words(const GroundSums& sums);

/// Where a point lies at a time.
struct PlaceAt {
    double time_s = 0;
    Point at;
};
/// When a way crosses a line from a to b, always the way it crossed first: once a lap. Crossings less than
/// three seconds after another are that one. `way` by time.
std::vector<double> crossings(const std::vector<PlaceAt>& way, Point a, Point b);

}  // namespace aspen::core
