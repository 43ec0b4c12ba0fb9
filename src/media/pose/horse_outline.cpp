#include "media/pose/horse_outline.hpp"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <utility>
#include <vector>

namespace aspen::media::horse {
namespace {

/// A pixel looks like the frame's own in this share of the pictures laid by the rider where it is the rider's
/// or the horse's, and in that share of those laid by the background where it is background: what is covered
/// for a while is background still.
constexpr double kMostly = 0.8, kAtTimes = 0.3;
/// Grey levels, of 255, and times as much as by the other explanation, from which a pixel is background.
constexpr double kChanges = 4, kChangesMore = 1.5;
/// Pictures in which less than this share is background tell nothing.
constexpr double kLeastBackground = 0.3;
/// Gaps that reins make are closed, what is thinner than this (ears, tail) goes; trunk lengths across.
constexpr double kReins = 0.19, kEars = 0.31;
// Trunk lengths from the knee, with the travel and up: a place inside the horse; where poll and croup may be.
constexpr double kHipBehind = 0.42, kHipAbove = 0.72;
constexpr double kInsideAhead = -0.1, kInsideUnder = 0.7;
constexpr double kPollAhead = 1.6, kCroupNear = 0.8, kCroupFar = 1.8;
/// The outline's farthest point in a direction: up and so much forward, or backward.
constexpr double kPollForward = 0.5, kCroupBackward = 0.1;
constexpr int kFewestPixels = 40;

/// How far each pixel of the frame is off its neighbours', in the given share of them: the largest (or, for a
/// small share, smallest) few are kept in order, a whole picture at a time.
cv::Mat off_in(std::span<const cv::Mat> pictures, double share) {
    const auto others = pictures.subspan(1);
    const auto which = static_cast<std::size_t>(share * static_cast<double>(others.size() - 1) + 0.5);
    const bool from_above = share > 0.5;
    const std::size_t keep = from_above ? others.size() - which : which + 1;
    std::vector<cv::Mat> kept(keep,
                              cv::Mat(pictures.front().size(), CV_8U, cv::Scalar(from_above ? 0 : 255)));
    for (cv::Mat& k : kept) k = k.clone();
    cv::Mat off, pushed;
    for (const cv::Mat& other : others) {
        cv::absdiff(pictures.front(), other, off);
        for (cv::Mat& k : kept) {
            // The one that stays, and the one that is pushed on to the next place.
            from_above ? cv::min(k, off, pushed) : cv::max(k, off, pushed);
            from_above ? cv::max(k, off, k) : cv::min(k, off, k);
            std::swap(off, pushed);
        }
    }
    cv::Mat out;
    cv::GaussianBlur(kept.back(), out, {3, 3}, 0);
    return out;
}

cv::Mat round_of(double across) {
    const int side = 2 * static_cast<int>(std::lround(across * kTrunkPx / 2)) + 1;
    return cv::getStructuringElement(cv::MORPH_ELLIPSE, {side, side});
}

/// The part of a mask that a place lies in.
cv::Mat part_at(const cv::Mat& mask, cv::Point at) {
    if (!cv::Rect({0, 0}, mask.size()).contains(at)) return {};
    cv::Mat parts;
    cv::connectedComponents(mask, parts, 8, CV_32S);
    const int which = parts.at<int>(at);
    if (which == 0) return {};
    return parts == which;
}

/// The farthest point of a mask between two columns, (forward, 1 up) being the direction.
std::optional<cv::Point2d> farthest(const cv::Mat& mask, double from, double to, double forward) {
    const int first = std::max(0, static_cast<int>(std::ceil(from))),
              last = std::min(mask.cols - 1, static_cast<int>(to));
    std::optional<cv::Point2d> out;
    double most = 0;
    int pixels = 0;
    for (int y = 0; y < mask.rows; ++y) {
        for (int x = first; x <= last; ++x) {
            if (!mask.at<std::uint8_t>(y, x)) continue;
            ++pixels;
            const double how_far = forward * x - y;
            if (out && how_far <= most) continue;
            most = how_far;
            out = cv::Point2d(x, y);
        }
    }
    // What runs out of the picture has its end elsewhere.
    if (pixels < kFewestPixels || (out && (out->x < 2 || out->x > mask.cols - 3 || out->y < 2)))
        return std::nullopt;
    return out;
}

}  // namespace

OutlinePoints outline_points(std::span<const cv::Mat> by_rider, std::span<const cv::Mat> by_background,
                             cv::Point2d knee) {
    if (by_rider.size() < 4 || by_background.size() < 4) return {};
    const cv::Mat changes = off_in(by_rider, kMostly), explained = off_in(by_background, kAtTimes);
    cv::Mat background;
    {
        cv::Mat c, e;
        changes.convertTo(c, CV_32F);
        explained.convertTo(e, CV_32F, kChangesMore, kChanges);
        background = c > e;
    }
    if (cv::countNonZero(background) < kLeastBackground * static_cast<double>(background.total())) return {};
    cv::Mat rest = ~background;
    cv::morphologyEx(rest, rest, cv::MORPH_CLOSE, round_of(kReins));
    cv::morphologyEx(rest, rest, cv::MORPH_OPEN, round_of(kEars));
    const cv::Point2d hip{knee.x - kHipBehind * kTrunkPx, knee.y - kHipAbove * kTrunkPx};
    const cv::Mat horse = part_at(rest, {static_cast<int>(hip.x + kInsideAhead * kTrunkPx),
                                         static_cast<int>(hip.y + kInsideUnder * kTrunkPx)});
    if (horse.empty()) return {};
    return {farthest(horse, hip.x + kPollAhead * kTrunkPx, horse.cols, kPollForward),
            farthest(horse, hip.x - kCroupFar * kTrunkPx, hip.x - kCroupNear * kTrunkPx, -kCroupBackward)};
}

}  // namespace aspen::media::horse
