#include "media/pose/horse_strip.hpp"

#include <algorithm>
#include <boost/math/statistics/univariate_statistics.hpp>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "media/pose/horse_outline.hpp"
#include "media/reading/read_watch.hpp"

namespace aspen::media::strip {
namespace {

using core::Point;
using L = core::Landmark;

constexpr std::array kHorse{L::withers, L::poll, L::croup};
/// Neighbours on each side, and how far the background has gone by from one to the next, trunk lengths.
constexpr int kNeighbours = 7;
constexpr double kGoneBy = 0.25;
constexpr int kFarthestApart = 6;
constexpr double kSizeMayChange = 1.3;
/// A hand is carried behind and above the withers, a knee lies before and below (common practice, no source;
/// numbers from riders that were not drawn here); trunk lengths forward and down from them.
constexpr Point kFromHand{0.19, 0.31}, kFromKnee{0.51, -0.65};
/// One standard deviation of a sight and of a step, trunk lengths.
constexpr double kWithersSd = 0.1, kPollSd = 0.08, kCroupSd = 0.12, kHorseStepSd = 0.012;
/// How far a point of the horse goes its own way from one frame to the next at most, and usually.
constexpr double kFarFromUsual = 0.7;
constexpr double kNodsAtMost = 0.05, kWithKneeSd = 0.03;
/// Whoever was seen is about as sure as this.
constexpr double kHorseScore = 0.5;

/// Where the background of the strip's first frame lies on each.
std::vector<Point> background_way(const Strip& strip, const CameraSteps& camera) {
    const int first = strip.first, last = first + static_cast<int>(strip.frames.size()) - 1;
    FollowAnchor anchor{first, {PointToCarry{{0, 0}, {}, 0}}};
    std::vector<Point> out;
    for (const FollowedFrame& f : bend_through(first, last, {anchor}, {}, camera)) {
        // Of a picture's middle, so that a zoom moves it least.
        const Cut& cut = strip.frames.front().horse;
        const Point middle =
            cut.whole({static_cast<float>(cut.grey.cols) / 2, static_cast<float>(cut.grey.rows) / 2});
        out.push_back({f.cam_scale * middle.x + f.cam_x, f.cam_scale * middle.y + f.cam_y});
    }
    return out;
}

class HorseSearch {
  public:
    HorseSearch(const Strip& strip, const std::map<std::size_t, std::vector<core::Observed>>& rider,
                const CameraSteps& camera)
        : strip_(strip),
          knee_(rider.at(place_of(L::knee))),
          wrist_(rider.at(place_of(L::wrist))),
          background_(background_way(strip, camera)) {
        std::vector<double> gone;
        for (std::size_t f = 0; f + 1 < knee_.size(); ++f)
            gone.push_back(core::distance(by_rider(f), by_rider(f + 1)));
        const double each =
            gone.empty() ? 0 : boost::math::statistics::median(gone) / strip.frames.front().trunk;
        apart_ = static_cast<std::size_t>(
            std::clamp(static_cast<int>(std::lround(kGoneBy / std::max(1e-6, each))), 1, kFarthestApart));
    }

    void look(std::size_t frame, std::vector<core::SeenJoint>& seen) const {
        const double trunk = strip_.frames[frame].trunk, ahead = strip_.travel == core::Travel::left ? -1 : 1;
        const Point knee = knee_[frame].at, wrist = wrist_[frame].at;
        const auto from = [&](Point p, Point by) {
            return Point{p.x + ahead * by.x * trunk, p.y + by.y * trunk};
        };
        const Point a = from(wrist, kFromHand), b = from(knee, kFromKnee);
        seen.push_back({0, frame, {(a.x + b.x) / 2, (a.y + b.y) / 2}, kWithersSd * trunk});
        // What is thin and where to look is told by the rider's size.
        const double size = trunk * cut(frame).shrunk / horse::kTrunkPx;
        if (size < 1 / kSizeMayChange || size > kSizeMayChange) return;
        const horse::OutlinePoints points = outline(frame);
        if (points.poll) seen.push_back({1, frame, whole(frame, *points.poll), kPollSd * trunk});
        if (points.croup) seen.push_back({2, frame, whole(frame, *points.croup), kCroupSd * trunk});
    }

  private:
    const Cut& cut(std::size_t frame) const { return strip_.frames[frame].horse; }
    bool mirrored() const { return strip_.travel == core::Travel::left; }
    /// How far the rider went over the background.
    Point by_rider(std::size_t frame) const {
        return {knee_[frame].at.x - background_[frame].x, knee_[frame].at.y - background_[frame].y};
    }
    Point whole(std::size_t frame, cv::Point2d p) const {
        const Cut& c = cut(frame);
        const double x = mirrored() ? c.grey.cols - 1 - p.x : p.x;
        return c.whole({static_cast<float>(x), static_cast<float>(p.y)});
    }
    /// A neighbour laid over a frame so that what lies at `there` on it comes to `here`, travelling right.
    cv::Mat laid_over(std::size_t frame, std::size_t neighbour, Point here, Point there) const {
        const cv::Point2f to = cut(frame).small(here), at = cut(neighbour).small(there);
        const cv::Matx23d by(1, 0, to.x - at.x, 0, 1, to.y - at.y);
        cv::Mat out;
        cv::warpAffine(cut(neighbour).grey, out, by, cut(frame).grey.size(), cv::INTER_LINEAR,
                       cv::BORDER_REPLICATE);
        cv::GaussianBlur(out, out, {3, 3}, 0);
        if (mirrored()) cv::flip(out, out, 1);
        return out;
    }
    horse::OutlinePoints outline(std::size_t frame) const {
        std::vector<cv::Mat> rider{laid_over(frame, frame, {0, 0}, {0, 0})}, background{rider.front()};
        for (int k = -kNeighbours; k <= kNeighbours; ++k) {
            const auto at = static_cast<std::ptrdiff_t>(frame) + k * static_cast<std::ptrdiff_t>(apart_);
            if (k == 0 || at < 0 || at >= std::ssize(strip_.frames)) continue;
            const auto n = static_cast<std::size_t>(at);
            rider.push_back(laid_over(frame, n, knee_[frame].at, knee_[n].at));
            background.push_back(laid_over(frame, n, background_[frame], background_[n]));
        }
        cv::Point2f knee = cut(frame).small(knee_[frame].at);
        if (mirrored()) knee.x = static_cast<float>(cut(frame).grey.cols - 1) - knee.x;
        return horse::outline_points(rider, background, knee);
    }

    const Strip& strip_;
    const std::vector<core::Observed>&knee_, &wrist_;
    std::vector<Point> background_;
    std::size_t apart_ = 1;
};

/// Where a point of the horse lies from the knee, the middle of all its sights.
Point from_knee(const std::vector<core::Observed>& knee, std::size_t joint,
                const std::vector<core::SeenJoint>& seen) {
    std::vector<double> x, y;
    for (const core::SeenJoint& s : seen) {
        if (s.joint != joint) continue;
        x.push_back(s.at.x - knee[s.frame].at.x);
        y.push_back(s.at.y - knee[s.frame].at.y);
    }
    return {boost::math::statistics::median(x), boost::math::statistics::median(y)};
}

/// A tree's crown is nobody's head: what lies far from where the point mostly is was no sight of it.
void drop_far_ones(const Strip& strip, const std::vector<core::Observed>& knee, std::size_t joint,
                   std::vector<core::SeenJoint>& seen) {
    if (std::ranges::find(seen, joint, &core::SeenJoint::joint) == seen.end()) return;
    const Point usual = from_knee(knee, joint, seen);
    std::erase_if(seen, [&](const core::SeenJoint& s) {
        const Point there{knee[s.frame].at.x + usual.x, knee[s.frame].at.y + usual.y};
        return s.joint == joint && core::distance(s.at, there) > kFarFromUsual * strip.frames[s.frame].trunk;
    });
}

/// Beside the knee all the time: a sight of something else begins nothing.
std::vector<Point> start_beside(const std::vector<core::Observed>& knee, Point by) {
    std::vector<Point> out;
    for (const core::Observed& k : knee) out.push_back({k.at.x + by.x, k.at.y + by.y});
    return out;
}

/// What is followed that does not go about as the knee goes is background; there, and where nothing is sure,
/// the point goes with the knee, loosely: a head nods.
void go_with_knee(const Strip& strip, const std::vector<core::Observed>& knee, core::StretchToFuse& s) {
    for (std::size_t f = 0; f + 1 < s.frames; ++f) {
        const double trunk = strip.frames[f].trunk;
        const Point by{knee[f + 1].at.x - knee[f].at.x, knee[f + 1].at.y - knee[f].at.y};
        for (auto& steps : s.steps) {
            core::SeenStep& step = steps[f];
            const bool sure = std::isfinite(step.sd_px) && core::distance(step.by, by) < kNodsAtMost * trunk;
            if (!sure) step = {by, kWithKneeSd * trunk};
        }
    }
}

}  // namespace

std::map<std::size_t, std::vector<core::Observed>> read_horse(
    const Strip& strip, const std::map<std::size_t, std::vector<core::Observed>>& rider,
    const CameraSteps& camera, int every, const std::atomic<bool>* stop) {
    std::map<std::size_t, std::vector<core::Observed>> out;
    if (rider.empty() || strip.frames.front().horse.grey.empty()) return out;
    const HorseSearch search(strip, rider, camera);
    std::vector<core::SeenJoint> seen;
    for (std::size_t f = 0; f < strip.frames.size(); ++f) {
        if ((strip.first + static_cast<int>(f)) % every != 0) continue;
        stop_if_cancelled({stop, {}});
        search.look(f, seen);
    }
    std::vector<L> present;
    std::vector<std::size_t> place_in(kHorse.size());
    core::StretchToFuse s;
    s.frames = strip.frames.size();
    const std::vector<core::Observed>& knee = rider.at(place_of(L::knee));
    for (std::size_t j = 0; j < kHorse.size(); ++j) {
        drop_far_ones(strip, knee, j, seen);
        if (std::ranges::find(seen, j, &core::SeenJoint::joint) == seen.end()) continue;
        place_in[j] = present.size();
        present.push_back(kHorse[j]);
        s.start.push_back(start_beside(knee, from_knee(knee, j, seen)));
    }
    if (present.size() < 2) return out;  // no outline was seen at all
    s.joints = present.size();
    for (core::SeenJoint& o : seen) s.seen.push_back({place_in[o.joint], o.frame, o.at, o.sd_px});
    s.steps.assign(s.joints, std::vector<core::SeenStep>(s.frames));
    s.trunk_to = present.size() - 1;
    follow_surfaces(strip, {&Frame::horse, present, std::vector(present.size(), kHorseStepSd)}, s, stop);
    go_with_knee(strip, knee, s);
    auto path = core::fused(s);
    for (std::size_t j = 0; j < path.size(); ++j) {
        for (core::Observed& o : path[j]) o.score = kHorseScore;
        out[place_of(present[j])] = std::move(path[j]);
    }
    return out;
}

}  // namespace aspen::media::strip
