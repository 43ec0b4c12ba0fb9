#pragma once

#include <Eigen/Core>
#include <optional>
#include <vector>

#include "core/arena/seen_camera.hpp"

/// The ground laid into a picture: which metre of it lies under which pixel, and how sure that is.
namespace aspen::core {

/// The homography from the ground to the picture, with its covariance.
class LaidGround {
  public:
    /// Normalised DLT (Hartley and Zisserman, Multiple View Geometry, 2nd ed., algorithm 4.2), refined on the
    /// reprojection error weighted by the clicks' sd; covariance from the Jacobian, times max(1, χ²/dof).
    /// Throws Refused in one line: fewer than four points, no four of which no three lie on a line, the
    /// ground seen from below (two names swapped), points behind the camera, marks that contradict each
    /// other.
    LaidGround(const std::vector<GroundMark>& marks, const std::vector<GroundLength>& lengths = {});
    /// By a camera that was fitted to the marks: seven numbers instead of eight.
    LaidGround(const SeenCamera& camera, const std::vector<GroundMark>& marks);

    /// Where a point of the ground is seen, display pixels.
    Eigen::Vector2d picture(GroundPoint at) const;
    /// The place under a pixel, clicked or followed to `sd_px`, of something `height_m` ± `height_sd_m` above
    /// the ground: its parallax is taken out as far as the camera's own place can be told, and is in the
    /// error. Throws Refused above the horizon.
    GroundPlace place(double x, double y, double sd_px, double height_m = 0, double height_sd_m = 0) const;
    /// The place under a pixel with the homography moved by this many standard deviations along one of its
    /// eight directions: for what an error common to all places does to a figure.
    GroundPoint place_moved(double x, double y, int direction, double by) const;
    static constexpr int kDirections = 8;

    double residual_px() const { return residual_; }
    std::size_t points() const { return points_; }
    const Eigen::Matrix3d& homography() const { return h_; }
    /// The camera's own place above the ground, metres: x, y, height; nothing where the marks do not tell.
    const std::optional<Eigen::Vector3d>& camera() const { return camera_; }

  private:
    void normalise(const std::vector<GroundMark>& marks);
    void lay_basis();
    void start(const std::vector<GroundMark>& marks);
    void refine(const std::vector<GroundMark>& marks, const std::vector<GroundLength>& lengths);
    void find_camera(const std::vector<GroundMark>& marks);
    Eigen::Vector2d ground(const Eigen::Matrix3d& h, double x, double y) const;
    Eigen::Matrix3d moved(const Eigen::Matrix<double, 8, 1>& by) const;
    Eigen::Matrix3d h_ = Eigen::Matrix3d::Identity();
    Eigen::Matrix3d to_ground_ = Eigen::Matrix3d::Identity(), to_picture_ = Eigen::Matrix3d::Identity();
    Eigen::Matrix<double, 9, 8> basis_ = Eigen::Matrix<double, 9, 8>::Zero();
    Eigen::Matrix<double, 9, 1> unit_ = Eigen::Matrix<double, 9, 1>::Zero();
    Eigen::Matrix<double, 8, 8> covariance_ = Eigen::Matrix<double, 8, 8>::Zero(),
                                roots_ = Eigen::Matrix<double, 8, 8>::Zero();
    std::optional<Eigen::Vector3d> camera_;
    double residual_ = 0;
    std::size_t points_ = 0;
};

/// Throws Refused unless some four of the marks have no three on a line, in the picture to within three of
/// their clicks' sd and on the ground at all.
void check_spread(const std::vector<GroundMark>& marks);

/// Two marks or more, with what is said of the camera: a first guess that gets better with every mark. Four
/// that spread are checked as above; where a plain camera cannot have seen them (a cut picture), they are
/// laid without one. Throws Refused.
LaidGround lay_ground(const std::vector<GroundMark>& marks, const std::vector<GroundLength>& lengths,
                      const CameraSaid& said);

}  // namespace aspen::core
