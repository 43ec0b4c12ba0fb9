#pragma once

#include <Eigen/Core>
#include <atomic>
#include <functional>
#include <opencv2/core.hpp>
#include <optional>
#include <vector>

/// How a camera that stands in one place turned while it filmed.
namespace aspen::media {

/// From one frame's display pixels to another's: a homography, since the camera turns about its own place.
struct CameraTurns {
    bool still = true;
    /// By the order of the pictures, to the first one's pixels; nothing from where it was lost on.
    std::vector<std::optional<Eigen::Matrix3d>> to_first;
    /// Steps by which a picture hangs on the first: what its error grows with.
    std::vector<int> steps;
};

/// Background points of a picture followed into another (the pyramidal Lucas and Kanade flow, both ways), and
/// the homography most of them agree on (RANSAC, then least squares). `near` carries a point roughly there.
/// Nothing where too few agree.
std::optional<Eigen::Matrix3d> homography_between(const cv::Mat& from, const cv::Mat& to,
                                                  const Eigen::Matrix3d& near = Eigen::Matrix3d::Identity());

/// Grey pictures in the order of time. Each hangs on the earliest picture that it still shares half its view
/// with, so that turning back and forth brings no error. False from `going_on` stops it and gives nothing.
std::optional<CameraTurns> read_turns(const std::vector<cv::Mat>& grey,
                                      const std::function<bool(double)>& going_on = {});

}  // namespace aspen::media
