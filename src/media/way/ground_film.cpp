#include "media/way/ground_film.hpp"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace aspen::media {
namespace {

constexpr int kSeenWidth = 960;
constexpr double kPicturesASecond = 8.3, kLongestS = 90;
constexpr double kSameStandPx = 2;

cv::Mat grey_picture(VideoReader& reader, int frame) {
    const Picture p = reader.picture(frame, kSeenWidth, kSeenWidth);
    const cv::Mat whole(p.height, p.width, CV_8UC4, const_cast<std::uint8_t*>(p.bgra.data()));
    cv::Mat out;
    cv::cvtColor(whole, out, cv::COLOR_BGRA2GRAY);
    return out;
}

}  // namespace

std::optional<GroundFilm> read_ground_film(VideoReader& reader, const std::function<bool(double)>& going_on) {
    GroundFilm out;
    const ClipFacts& facts = reader.facts();
    std::vector<cv::Mat> grey;
    double next = facts.pts_s.front();
    for (int n = 0; n < facts.frames; ++n) {
        const double t = facts.pts_s[static_cast<std::size_t>(n)];
        if (t + 1e-6 < next) continue;
        if (t - facts.pts_s.front() > kLongestS) break;
        next += std::max(1 / kPicturesASecond, t - next);
        if (going_on && !going_on(0.3 * n / facts.frames)) return std::nullopt;
        grey.push_back(grey_picture(reader, n));
        out.frames.push_back(n);
    }
    const auto later = [&](double from, double to) {
        return
            [&going_on, from, to](double share) { return !going_on || going_on(from + (to - from) * share); };
    };
    auto camera = read_turns(grey, later(0.3, 0.6));
    if (!camera) return std::nullopt;
    auto parts = see_parts(grey, *camera, later(0.6, 1));
    if (!parts) return std::nullopt;
    // From pixels that were looked at to the clip's own.
    const double k = static_cast<double>(facts.width) / grey.front().cols;
    out.px_of_picture = k;
    const Eigen::Matrix3d up = Eigen::Vector3d(k, k, 1).asDiagonal();
    for (auto& h : camera->to_first) {
        if (h) *h = up * *h * up.inverse();
    }
    for (auto& all : *parts) {
        for (PairSeen& p : all) {
            for (double* v : {&p.x, &p.y, &p.left, &p.right, &p.top, &p.bottom}) *v *= k;
            p.area *= k * k;
        }
    }
    out.camera = *std::move(camera);
    out.parts = *std::move(parts);
    return out;
}

bool same_stand(VideoReader& one, VideoReader& other) {
    if (one.facts().width != other.facts().width || one.facts().height != other.facts().height) return false;
    const cv::Mat a = grey_picture(one, 0), b = grey_picture(other, 0);
    const auto h = homography_between(a, b);
    if (!h) return false;
    const Eigen::Vector3d corners[] = {
        {0, 0, 1}, {a.cols - 1.0, 0, 1}, {0, a.rows - 1.0, 1}, {a.cols - 1.0, a.rows - 1.0, 1}};
    return std::ranges::all_of(corners, [&](const Eigen::Vector3d& c) {
        const Eigen::Vector3d p = *h * c;
        return (p.head<2>() / p.z() - c.head<2>()).norm() < kSameStandPx;
    });
}

}  // namespace aspen::media
