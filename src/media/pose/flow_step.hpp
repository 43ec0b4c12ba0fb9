#pragma once

#include <algorithm>
#include <opencv2/core.hpp>
#include <vector>

#include "media/reading/picture.hpp"

/// One step of points from picture to picture by optical flow. Internal to pose.
namespace aspen::media::flow {

inline constexpr double kSureShare = 0.3;  // of a cloud that has to come along at every step
/// Of a solid's, which has more points and an outline where many are lost.
inline constexpr double kSureOfSolid = 0.1;

/// Pixels about a joint that are its own surroundings: a tenth of the rider's trunk in the picture.
inline double reach_of(double trunk_px) { return std::clamp(0.1 * trunk_px, 4.0, 60.0); }

cv::Mat grey_of(const Picture& picture);

/// A point on its way with what is known of its errors.
struct Traveller {
    cv::Point2f at;
    std::vector<cv::Point2f> tied_to;  ///< travel along
    int solid = 0, name = 0, hangs_on = 0;
    double free = 1;
    double variance = 0, least_share = 1;

    bool sure() const { return least_share >= (solid != 0 || hangs_on != 0 ? kSureOfSolid : kSureShare); }
};

/// Turn, size and shift on which a cloud agrees (least squares, what disagrees counts less and less).
struct Motion {
    double a = 1, b = 0;  ///< x' = a x - b y, about the middle
    cv::Point2d from, to;
    double scatter = 0;
    cv::Point2f apply(cv::Point2f p) const;
};
Motion motion_of(const std::vector<cv::Point2f>& before, const std::vector<cv::Point2f>& after);

/// A picture in halved sizes, made once and used for every step from and to it.
struct Pyramid {
    cv::Size size;
    std::vector<cv::Mat> levels;
};
Pyramid pyramid_of(const cv::Mat& grey, double reach);

/// Moves all points from one picture to the next; those of a solid together, what hangs on another after it.
void step_all(std::vector<Traveller>& travellers, const Pyramid& before, const Pyramid& after, double reach);

/// Which of some points of the background come along and back again, and how they move.
struct Background {
    std::vector<cv::Point2f> before, after;
};
Background background_step(const cv::Mat& before, const cv::Mat& after, const cv::Rect& without);

}  // namespace aspen::media::flow
