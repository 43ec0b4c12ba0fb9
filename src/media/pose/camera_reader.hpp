#pragma once

#include <opencv2/core.hpp>
#include <vector>

#include "media/pose/point_follower.hpp"

namespace aspen::media {

/// Reads how the background moves, from the pictures of every third frame, smaller still. Internal to pose.
class CameraReader {
  public:
    struct Seen {
        double shrunk = 1;    ///< the pictures that are handed in, of the clip's pixels
        double trunk_px = 0;  ///< the rider's, the clip's pixels
    };
    CameraReader(Seen seen, CameraSteps& steps) : seen_(seen), steps_(steps) {}

    /// Takes a picture in; reads the step to its neighbour when that was the one before. `points`: what of
    /// rider and horse is known, the clip's pixels; the background lies around them.
    void take(int frame, const cv::Mat& grey, const std::vector<core::Point>& points);

  private:
    struct Kept {
        int frame = 0;
        cv::Mat picture;
        cv::Rect rider;
    };
    cv::Rect rider(const std::vector<core::Point>& points) const;
    void read(const Kept& from, const Kept& to);

    Seen seen_;
    CameraSteps& steps_;
    Kept last_;
    double share_ = 1;  ///< the small pictures, of the clip's pixels
};

}  // namespace aspen::media
