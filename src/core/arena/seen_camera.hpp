#pragma once

#include <Eigen/Core>
#include <optional>
#include <vector>

#include "core/arena/ground_mark.hpp"

/// The camera that sees the ground: what is said of it helps where few marks are to be seen.
namespace aspen::core {

/// What is known of a camera besides the marks. Square pixels, the optical axis in the middle of the picture.
struct CameraSaid {
    double picture_width_px = 1920, picture_height_px = 1080;
    std::optional<double> height_m{};  ///< of the lens above the ground
    double height_sd_m = 0.3;
    double wide_deg = 65, wide_sd_deg = 10;  ///< across the longer side
    double roll_deg = 0, roll_sd_deg = 1.5;  ///< the picture's, clockwise
};

/// A camera fitted to marks and to what is said of it: place, three turns, focal length.
struct SeenCamera {
    Eigen::Matrix3d homography = Eigen::Matrix3d::Identity();  ///< ground to picture
    Eigen::Vector3d at{0, 0, 0};                               ///< metres
    double focal_px = 0;
    double chi2_per_dof = 0;  ///< of marks, lengths and what was said; 0 where nothing is left over
    /// How the homography moves with one standard deviation of each of the seven numbers.
    std::vector<Eigen::Matrix3d> moved{};
};

/// The most probable camera (Gauss and Newton, damped; begun on all sides of the marks). At least two marks;
/// with two, the height must be said or is 2.5 m give or take a factor of 1.6 (from memory). Throws Refused
/// in one line: fewer than two, two in one place, no camera that sees them from above.
SeenCamera see_camera(const std::vector<GroundMark>& marks, const std::vector<GroundLength>& lengths,
                      const CameraSaid& said);

}  // namespace aspen::core
