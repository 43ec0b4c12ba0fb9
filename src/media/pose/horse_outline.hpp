#pragma once

#include <opencv2/core.hpp>
#include <optional>
#include <span>

/// What goes with the rider and not with the background is the horse. Internal to pose.
namespace aspen::media::horse {

/// Trunk lengths of the rider in pixels of the pictures in which the horse is looked for, and how much of the
/// surroundings they show, trunk lengths from the knee: behind or ahead, above, below.
inline constexpr double kTrunkPx = 36;
inline constexpr double kShownAcross = 4.2, kShownAbove = 3.1, kShownBelow = 1.8;

/// Points of the outline, pixels of the picture; one that is not to be seen is missing.
struct OutlinePoints {
    std::optional<cv::Point2d> poll, croup;
};

/// One frame and its neighbours, laid over it twice: so that the rider stands still, and so that the
/// background does. Grey, all of one size, the first is the frame itself; travelling right, as far as the
/// knee is concerned at `knee`. What looks the same in most of the pictures laid by the rider, and is not
/// explained by those laid by the background, is rider and horse. Points of its outline, cleared of ears,
/// tail and reins; nothing where too little of the background went by to tell.
OutlinePoints outline_points(std::span<const cv::Mat> by_rider, std::span<const cv::Mat> by_background,
                             cv::Point2d knee);

}  // namespace aspen::media::horse
