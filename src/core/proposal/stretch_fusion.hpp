#pragma once

#include <limits>
#include <span>
#include <vector>

#include "core/body/geometry.hpp"

/// A rider's joints over a stretch of frames, put together from all that was seen of them.
namespace aspen::core {

/// Where a joint was seen, display pixels, with one standard deviation along each axis.
struct Observed {
    Point at;
    double sd_px = 0;  ///< above 0
    double score = 0;  ///< 0 to 1: how sure whoever saw it was
};

/// A joint seen on a frame by somebody who looked at that frame alone (a run of the network, a click).
struct SeenJoint {
    std::size_t joint = 0;  ///< of the stretch's list
    std::size_t frame = 0;  ///< from 0
    Point at;
    double sd_px = 1;  ///< above 0
};
/// How a joint moved from one frame to the next; infinite: nobody saw it.
struct SeenStep {
    Point by;
    double sd_px = std::numeric_limits<double>::infinity();
};
/// Two joints of the list between which a limb stays as long as it is.
struct LimbBetween {
    std::size_t from = 0, to = 0;
    double sd_share = 0.04;  ///< how much its length in the picture changes, a share of it (from memory)
};

struct StretchToFuse {
    std::size_t frames = 0, joints = 0;
    std::vector<SeenJoint> seen;
    std::vector<std::vector<SeenStep>> steps;  ///< by joint and frame, the last to nowhere
    std::vector<LimbBetween> limbs;
    std::size_t trunk_from = 0, trunk_to = 1;  ///< the two joints whose distance is the rider's size
    /// Where to begin: by joint and frame.
    std::vector<std::vector<Point>> start;
};

/// The most likely places, by joint and frame: least squares over what was seen, the steps between and limbs
/// as long as over the whole stretch (their median, by the rider's size at the time), where what disagrees
/// counts less and less (Cauchy's weights; Gauss-Newton on the sparse normal equations). The error is that
/// of a chain of the joint's own steps and sights with their last weights: limbs are left out of it, and it
/// does not know of errors that every sight shares.
/// Throws std::invalid_argument where the lists do not fit together.
std::vector<std::vector<Observed>> fused(const StretchToFuse& stretch);

}  // namespace aspen::core
