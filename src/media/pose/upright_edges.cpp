#include "media/pose/upright_edges.hpp"

#include <algorithm>
#include <opencv2/imgproc.hpp>

#include "media/pose/flow_step.hpp"

namespace aspen::media {
namespace {

constexpr double kLongerSide = 640;

}  // namespace

std::vector<core::StraightEdge> straight_edges(const Picture& picture) {
    if (picture.width < 1 || picture.height < 1) return {};
    const double shrunk = std::min(1.0, kLongerSide / std::max(picture.width, picture.height));
    cv::Mat grey;
    cv::resize(flow::grey_of(picture), grey, cv::Size(), shrunk, shrunk, cv::INTER_AREA);
    std::vector<cv::Vec4f> found;
    cv::createLineSegmentDetector()->detect(grey, found);
    std::vector<core::StraightEdge> out;
    for (const cv::Vec4f& e : found)
        out.push_back({{e[0] / shrunk, e[1] / shrunk}, {e[2] / shrunk, e[3] / shrunk}});
    return out;
}

}  // namespace aspen::media
