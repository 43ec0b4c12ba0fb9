#pragma once

#include <Eigen/Core>

#include "core/arena/letters.hpp"

/// What is marked of the ground in a picture, and a place on it.
namespace aspen::core {

/// A place of the ground that is seen, where it was clicked: metres in the arena's frame, display pixels.
struct GroundMark {
    GroundPoint at;
    double x = 0, y = 0;
    double sd_px = 2;
};
/// Two places seen whose distance is known (a pole): one more equation.
struct GroundLength {
    double x1 = 0, y1 = 0, x2 = 0, y2 = 0;
    double length_m = 0;
    double sd_px = 2;
};

/// A place on the ground with its error.
struct GroundPlace {
    GroundPoint at;
    Eigen::Matrix2d covariance = Eigen::Matrix2d::Zero();  ///< metres squared
    double sd_m = 0;                                       ///< the larger principal standard deviation
};

}  // namespace aspen::core
