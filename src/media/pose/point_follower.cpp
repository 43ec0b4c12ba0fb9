#include "media/pose/point_follower.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <opencv2/imgproc.hpp>

#include "media/pose/flow_step.hpp"

namespace aspen::media {
namespace {

constexpr double kReachOfTrunk = 0.1;
constexpr double kAroundRider =
    1.6;  // of the trunk: what lies this near the rider is rider and horse, no background
constexpr int kCameraEvery = 3, kCameraWidth = 480;

using flow::Traveller;

class Following {
  public:
    Following(VideoReader& reader, int first, int last, const std::vector<FollowAnchor>& anchors,
              double trunk_px, int at_most, const std::function<void(double)>& progress,
              const std::atomic<bool>* cancel)
        : reader_(reader), first_(first), anchors_(anchors), progress_(progress), cancel_(cancel) {
        const int width = reader.facts().width;
        if (at_most > 0 && width > at_most) {
            shrunk_ = static_cast<double>(at_most) / width;
            small_width_ = at_most;
            small_height_ = static_cast<int>(std::lround(reader.facts().height * shrunk_));
        }
        trunk_ = trunk_px * shrunk_;
        reach_ = std::clamp(kReachOfTrunk * trunk_, 4.0, 60.0);
        total_ = 0;
        for (int n = first; n <= last; ++n) {
            out_.push_back(
                {n, std::vector<std::optional<CarriedPoint>>(anchors.front().points.size()), 0, 0, 1});
            ++total_;
        }
    }

    std::vector<FollowedFrame> run() {
        if (!along(0, anchors_.front().frame, first_)) return {};
        for (std::size_t a = 0; a < anchors_.size(); ++a) {
            const bool last = a + 1 == anchors_.size();
            if (!along(a, anchors_[a].frame, last ? out_.back().frame : anchors_[a + 1].frame)) return {};
            if (!last) bend(a);
        }
        if (!camera()) return {};
        return std::move(out_);
    }

  private:
    bool stopped() const { return cancel_ && *cancel_; }
    cv::Point2f small(core::Point p) const {
        return {static_cast<float>(p.x * shrunk_), static_cast<float>(p.y * shrunk_)};
    }
    /// The picture for following; every third is kept small for the camera's motion.
    flow::Pyramid picture(int n) {
        const cv::Mat grey = flow::grey_of(reader_.picture(n, small_width_, small_height_));
        if ((n - first_) % kCameraEvery == 0 || n == out_.back().frame) {
            cv::Mat& kept = kept_[n];
            const double share = std::min(1.0, static_cast<double>(kCameraWidth) / grey.cols);
            if (kept.empty()) cv::resize(grey, kept, {}, share, share, cv::INTER_AREA);
            camera_share_ = share * shrunk_;
        }
        return flow::pyramid_of(grey, reach_);
    }
    FollowedFrame& of(int frame) { return out_[static_cast<std::size_t>(frame - first_)]; }

    /// From an anchor frame by frame to another frame; what stands in `of(to)` of an anchor itself is left
    /// alone.
    bool along(std::size_t a, int from, int to) {
        const FollowAnchor& anchor = anchors_[a];
        std::vector<Traveller> travellers;
        std::vector<std::size_t> which;
        for (std::size_t i = 0; i < anchor.points.size(); ++i) {
            if (!anchor.points[i]) continue;
            Traveller t{small(anchor.points[i]->at), {}};
            t.solid = anchor.points[i]->solid;
            for (const core::Point& end : anchor.points[i]->tied_to) t.tied_to.push_back(small(end));
            travellers.push_back(t);
            which.push_back(i);
            of(from).points[i] = CarriedPoint{anchor.points[i]->at, 0, 1, true};
        }
        const int way = to < from ? -1 : 1;
        flow::Pyramid before = picture(from);
        for (int n = from; n != to; n += way) {
            if (stopped()) return false;
            flow::Pyramid after = picture(n + way);
            flow::step_all(travellers, before, after, reach_);
            before = std::move(after);
            for (std::size_t k = 0; k < travellers.size(); ++k) {
                const Traveller& t = travellers[k];
                const bool inside =
                    t.at.x >= 0 && t.at.y >= 0 && t.at.x < before.size.width && t.at.y < before.size.height;
                of(n + way).points[which[k]] = CarriedPoint{{t.at.x / shrunk_, t.at.y / shrunk_},
                                                            std::sqrt(t.variance) / shrunk_,
                                                            t.least_share,
                                                            inside && t.sure()};
            }
            if (progress_) progress_(std::min(1.0, ++done_ / (1.3 * total_)));
        }
        return true;
    }

    /// What was missed at the next anchor is spread back over the way to it, and tells how far off that was.
    void bend(std::size_t a) {
        const FollowAnchor &from = anchors_[a], &to = anchors_[a + 1];
        const double frames = to.frame - from.frame;
        for (std::size_t i = 0; i < to.points.size(); ++i) {
            if (!to.points[i] || !of(to.frame).points[i]) continue;
            const core::Point came = of(to.frame).points[i]->at, should = to.points[i]->at;
            const double dx = should.x - came.x, dy = should.y - came.y;
            for (int n = from.frame + 1; n < to.frame; ++n) {
                auto& p = of(n).points[i];
                if (!p) continue;
                const double share = (n - from.frame) / frames;
                p->at.x += share * dx;
                p->at.y += share * dy;
                p->sd_px = std::sqrt(share * (1 - share)) * std::max(2 * p->sd_px, std::hypot(dx, dy) / 2);
            }
        }
    }

    /// The rectangle that rider and horse fill on a frame, in the small picture.
    cv::Rect rider(int frame) {
        double left = 1e9, right = -1e9, top = 1e9, bottom = -1e9;
        for (const auto& p : of(frame).points) {
            if (!p) continue;
            left = std::min(left, p->at.x * camera_share_), right = std::max(right, p->at.x * camera_share_);
            top = std::min(top, p->at.y * camera_share_), bottom = std::max(bottom, p->at.y * camera_share_);
        }
        if (right < left) return {};
        const double wide = kAroundRider * trunk_ * camera_share_ / shrunk_;
        return cv::Rect(cv::Point(static_cast<int>(left - wide), static_cast<int>(top - wide / 2)),
                        cv::Point(static_cast<int>(right + wide), static_cast<int>(bottom + wide)));
    }

    bool camera() {
        double x = 0, y = 0, scale = 1;
        cv::Mat before = kept_[first_];
        for (int n = first_; n < out_.back().frame;) {
            if (stopped()) return false;
            const int next = std::min(n + kCameraEvery, out_.back().frame);
            const cv::Mat after = kept_[next];
            if (before.empty() || after.empty()) return true;
            const auto seen = flow::background_step(before, after, rider(n) | rider(next));
            if (seen.before.size() >= 6) {
                const flow::Motion m = flow::motion_of(seen.before, seen.after);
                // p' = a (p - from) + to: put after what was there before.
                x = m.a * (x - m.from.x) + m.to.x;
                y = m.a * (y - m.from.y) + m.to.y;
                scale *= m.a;
            }
            const FollowedFrame start = of(n);
            for (int k = n + 1; k <= next; ++k) {
                const double share = static_cast<double>(k - n) / (next - n);
                FollowedFrame& f = of(k);
                f.cam_x = start.cam_x + share * (x / camera_share_ - start.cam_x);
                f.cam_y = start.cam_y + share * (y / camera_share_ - start.cam_y);
                f.cam_scale = start.cam_scale + share * (scale - start.cam_scale);
            }
            before = after;
            n = next;
            if (progress_) progress_(std::min(1.0, ++done_ / (1.3 * total_)));
        }
        return true;
    }

    VideoReader& reader_;
    int first_;
    const std::vector<FollowAnchor>& anchors_;
    int small_width_ = 0, small_height_ = 0;  ///< 0: as the clip is
    const std::function<void(double)>& progress_;
    const std::atomic<bool>* cancel_;
    double shrunk_ = 1, trunk_ = 0, reach_ = 0, camera_share_ = 1;
    std::map<int, cv::Mat> kept_;
    double done_ = 0, total_ = 0;
    std::vector<FollowedFrame> out_;
};

}  // namespace

std::vector<FollowedFrame> follow_points(VideoReader& reader, int first, int last,
                                         const std::vector<FollowAnchor>& anchors, double trunk_px,
                                         int seen_at_most_px, const std::function<void(double)>& progress,
                                         const std::atomic<bool>* cancel) {
    if (anchors.empty() || last <= first) return {};
    return Following(reader, first, last, anchors, trunk_px, seen_at_most_px, progress, cancel).run();
}

}  // namespace aspen::media
