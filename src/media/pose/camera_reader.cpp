#include "media/pose/camera_reader.hpp"

#include <algorithm>
#include <opencv2/imgproc.hpp>

#include "media/pose/flow_step.hpp"

namespace aspen::media {
namespace {

constexpr double kAroundRider =
    1.6;  // of the trunk: what lies this near the rider is rider and horse, no background
constexpr int kCameraWidth = 480;

}  // namespace

void CameraReader::take(int frame, const cv::Mat& grey, const std::vector<core::Point>& points) {
    if (frame % kCameraEvery != 0) return;
    Kept now{frame, {}, {}};
    const double share = std::min(1.0, static_cast<double>(kCameraWidth) / grey.cols);
    cv::resize(grey, now.picture, {}, share, share, cv::INTER_AREA);
    share_ = share * seen_.shrunk;
    now.rider = rider(points);
    if (!last_.picture.empty() && std::abs(last_.frame - frame) == kCameraEvery)
        last_.frame < frame ? read(last_, now) : read(now, last_);
    last_ = std::move(now);
}

/// The rectangle that rider and horse fill.
cv::Rect CameraReader::rider(const std::vector<core::Point>& points) const {
    if (points.empty()) return {};
    double left = 1e9, right = -1e9, top = 1e9, bottom = -1e9;
    for (const core::Point& p : points) {
        left = std::min(left, p.x * share_), right = std::max(right, p.x * share_);
        top = std::min(top, p.y * share_), bottom = std::max(bottom, p.y * share_);
    }
    const double wide = kAroundRider * seen_.trunk_px * share_;
    return cv::Rect(cv::Point(static_cast<int>(left - wide), static_cast<int>(top - wide / 2)),
                    cv::Point(static_cast<int>(right + wide), static_cast<int>(bottom + wide)));
}

void CameraReader::read(const Kept& from, const Kept& to) {
    if (steps_.contains(from.frame)) return;
    const auto seen = flow::background_step(from.picture, to.picture, from.rider | to.rider);
    CameraStep& step = steps_[from.frame];
    step.to = to.frame;
    if (seen.before.size() < 6) return;
    const flow::Motion m = flow::motion_of(seen.before, seen.after);
    step.scale = m.a;  // p' = a (p - from) + to
    step.x = (m.to.x - m.a * m.from.x) / share_;
    step.y = (m.to.y - m.a * m.from.y) / share_;
}

}  // namespace aspen::media
