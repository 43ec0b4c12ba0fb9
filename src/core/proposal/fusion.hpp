#pragma once

#include "core/body/geometry.hpp"

/// Several observations of one joint put together.
namespace aspen::core {

/// Where a joint was seen, display pixels, with one standard deviation along each axis.
struct Observed {
    Point at;
    double sd_px = 0;  ///< above 0
    double score = 0;  ///< 0 to 1, whoever saw it; the higher one is kept
};

/// Two that lie further apart than this many of their joint standard deviations are not of one joint.
inline constexpr double kApartSd = 3;

/// The likelier place of a joint that was seen twice, each weighed by the inverse of its variance (the
/// maximum of the likelihood for independent normal errors). Where the two contradict each other the surer
/// one stands as it is.
Observed fused(const Observed& a, const Observed& b);

}  // namespace aspen::core
