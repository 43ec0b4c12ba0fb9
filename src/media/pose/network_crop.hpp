#pragma once

#include <algorithm>
#include <filesystem>
#include <opencv2/core.hpp>
#include <opencv2/dnn.hpp>

#include "core/proposal/proposal.hpp"
#include "media/reading/picture.hpp"

/// What the networks are shown. Internal to pose.
namespace aspen::media {

inline constexpr int kNetworkSide = 256;  // of a network's picture

/// A square of a picture as a network sees it: RGB, one byte a channel, black where the picture ends.
class NetworkCrop {
  public:
    NetworkCrop(const Picture& picture, const core::Crop& crop, bool mirrored);
    const cv::Mat& rgb() const { return rgb_; }
    /// From the network's picture to the whole one's pixels; what was seen in a mirror is turned back before.
    core::Point whole(core::Point p) const;

  private:
    cv::Mat rgb_;
    double k_;  ///< pixels of the network's picture in one of the whole
    core::Point centre_;
};

/// Throws core::Refused when the file is missing or no network.
cv::dnn::Net network_from(const std::filesystem::path& onnx);

}  // namespace aspen::media
