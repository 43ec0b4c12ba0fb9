#include "media/way/camera_turns.hpp"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <opencv2/calib3d.hpp>
#include <opencv2/imgproc.hpp>
#include <opencv2/video/tracking.hpp>

namespace aspen::media {
namespace {

constexpr int kMostCorners = 400;
constexpr double kBackPx = 0.7;      // there and back again ends within this
constexpr double kAgreesPx = 1.5;    // of a point and the homography
constexpr int kFewestAgreeing = 24;  // points
constexpr double kLeastShare = 0.35;
constexpr double kStandsPx = 0.7, kStandsShare = 0.8;
constexpr double kStillPx = 1.5;     // a corner of the picture, of a camera that stands
constexpr double kStillShare = 0.9;  // of the pictures: wind shakes it at times
constexpr double kSharedView = 0.5;  // of the picture, with the one it hangs on
constexpr int kAnchorEvery = 6;      // pictures: how thick those lie that others hang on

cv::Mat matrix(const Eigen::Matrix3d& h) {
    cv::Mat out(3, 3, CV_64F);
    for (int i = 0; i < 3; ++i)
        for (int k = 0; k < 3; ++k) out.at<double>(i, k) = h(i, k);
    return out;
}
Eigen::Matrix3d matrix(const cv::Mat& h) {
    Eigen::Matrix3d out;
    for (int i = 0; i < 3; ++i)
        for (int k = 0; k < 3; ++k) out(i, k) = h.at<double>(i, k);
    return out;
}
cv::Point2f through(const Eigen::Matrix3d& h, cv::Point2f at) {
    const Eigen::Vector3d p = h * Eigen::Vector3d(at.x, at.y, 1);
    return {static_cast<float>(p.x() / p.z()), static_cast<float>(p.y() / p.z())};
}

/// How much of a picture lies inside the other once it is carried there.
double shared(const Eigen::Matrix3d& h, cv::Size size) {
    constexpr int kGrid = 8;
    int inside = 0;
    for (int i = 0; i < kGrid; ++i) {
        for (int k = 0; k < kGrid; ++k) {
            const Eigen::Vector3d p =
                h * Eigen::Vector3d((i + 0.5) * size.width / kGrid, (k + 0.5) * size.height / kGrid, 1);
            inside += p.z() > 0 && p.x() >= 0 && p.x() < p.z() * size.width && p.y() >= 0 &&
                      p.y() < p.z() * size.height;
        }
    }
    return static_cast<double>(inside) / (kGrid * kGrid);
}

double farthest_corner(const Eigen::Matrix3d& h, cv::Size size) {
    double out = 0;
    for (const cv::Point2f c : {cv::Point2f(0, 0), cv::Point2f(static_cast<float>(size.width), 0),
                                cv::Point2f(0, static_cast<float>(size.height)),
                                cv::Point2f(static_cast<float>(size.width), static_cast<float>(size.height))})
        out = std::max(out, cv::norm(through(h, c) - c));
    return out;
}

/// Points that came along and back again.
struct Came {
    std::vector<cv::Point2f> from, to;
};
Came points_between(const cv::Mat& from, const cv::Mat& to, const cv::Mat& where) {
    std::vector<cv::Point2f> a, b, back;
    Came out;
    cv::goodFeaturesToTrack(from, a, kMostCorners, 0.001, 7, where);
    if (static_cast<int>(a.size()) < kFewestAgreeing) return out;
    std::vector<std::uint8_t> went, came;
    cv::calcOpticalFlowPyrLK(from, to, a, b, went, cv::noArray(), {15, 15}, 3);
    cv::calcOpticalFlowPyrLK(to, from, b, back, came, cv::noArray(), {15, 15}, 3);
    for (std::size_t i = 0; i < a.size(); ++i) {
        if (!went[i] || !came[i] || cv::norm(back[i] - a[i]) > kBackPx) continue;
        out.from.push_back(a[i]);
        out.to.push_back(b[i]);
    }
    return out;
}

/// Nearly all of the background lies where it lay.
bool stands(const cv::Mat& now, const cv::Mat& before) {
    const Came points = points_between(now, before, {});
    if (static_cast<int>(points.from.size()) < kFewestAgreeing) return false;
    int there = 0;
    for (std::size_t i = 0; i < points.from.size(); ++i)
        there += cv::norm(points.to[i] - points.from[i]) < kStandsPx ? 1 : 0;
    return there >= kStandsShare * static_cast<double>(points.from.size());
}

}  // namespace

std::optional<Eigen::Matrix3d> homography_between(const cv::Mat& from, const cv::Mat& to,
                                                  const Eigen::Matrix3d& near) {
    // Laid over the other first: what flows then are the few pixels that are left.
    cv::Mat laid, seen;
    const bool moved = !near.isIdentity(1e-9);
    if (moved) {
        cv::warpPerspective(from, laid, matrix(near), to.size());
        cv::warpPerspective(cv::Mat(from.size(), CV_8U, cv::Scalar(255)), seen, matrix(near), to.size());
        cv::erode(seen, seen, cv::getStructuringElement(cv::MORPH_RECT, {15, 15}));
    } else {
        laid = from;
    }
    const Came points = points_between(laid, to, seen);
    if (static_cast<int>(points.from.size()) < kFewestAgreeing) return std::nullopt;
    cv::Mat agrees;
    cv::theRNG().state = 1;  // the same pictures give the same homography
    const cv::Mat h = cv::findHomography(points.from, points.to, cv::RANSAC, kAgreesPx, agrees);
    const int n = h.empty() ? 0 : cv::countNonZero(agrees);
    if (n < kFewestAgreeing || n < kLeastShare * static_cast<double>(points.from.size())) return std::nullopt;
    return Eigen::Matrix3d(matrix(h) * near);
}

std::optional<CameraTurns> read_turns(const std::vector<cv::Mat>& grey,
                                      const std::function<bool(double)>& going_on) {
    CameraTurns out;
    if (grey.empty()) return out;
    const cv::Size size = grey.front().size();
    out.to_first.assign(grey.size(), std::nullopt);
    out.steps.assign(grey.size(), 0);
    out.to_first.front() = Eigen::Matrix3d::Identity();
    std::vector<std::size_t> anchors{0};
    int moved = 0;
    for (std::size_t i = 1; i < grey.size(); ++i) {
        if (going_on && !going_on(static_cast<double>(i) / static_cast<double>(grey.size())))
            return std::nullopt;
        // A tripod: nothing adds up.
        if (moved == 0 && stands(grey[i], grey.front())) {
            out.to_first[i] = Eigen::Matrix3d::Identity();
            continue;
        }
        // Roughly, by the picture before; then exactly, on the earliest one that shares enough.
        const auto step = homography_between(grey[i], grey[i - 1]);
        if (!step) break;
        const Eigen::Matrix3d rough = *out.to_first[i - 1] * *step;
        for (const std::size_t anchor : anchors) {
            const Eigen::Matrix3d near = out.to_first[anchor]->inverse() * rough;
            if (shared(near, size) < kSharedView) continue;
            const auto there = homography_between(grey[i], grey[anchor], near);
            if (!there) continue;
            out.to_first[i] = *out.to_first[anchor] * *there;
            out.steps[i] = out.steps[anchor] + 1;
            break;
        }
        if (!out.to_first[i]) {
            out.to_first[i] = rough;
            out.steps[i] = out.steps[i - 1] + 1;
        }
        *out.to_first[i] /= (*out.to_first[i])(2, 2);
        if (i % kAnchorEvery == 0) anchors.push_back(i);
        moved += farthest_corner(*out.to_first[i], size) > kStillPx ? 1 : 0;
    }
    out.still =
        out.to_first.back().has_value() && moved <= (1 - kStillShare) * static_cast<double>(grey.size());
    if (out.still) {
        for (auto& h : out.to_first) h = Eigen::Matrix3d::Identity();
    }
    return out;
}

}  // namespace aspen::media
