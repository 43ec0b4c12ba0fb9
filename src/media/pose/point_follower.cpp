#include "media/pose/point_follower.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include "media/pose/camera_reader.hpp"
#include "media/pose/flow_step.hpp"
#include "media/pose/grey_pictures.hpp"

namespace aspen::media {
namespace {

using flow::Traveller;
using PointsOnFrame = std::vector<std::optional<CarriedPoint>>;

/// Sizes of the pictures that are followed in and of those the camera's motion is read from.
struct Sizes {
    double shrunk = 1;          ///< of the clip's pixels
    int width = 0, height = 0;  ///< asked of the reader; 0: as the clip is
    double trunk = 0, reach = 0;

    Sizes(const ClipFacts& facts, const FollowWith& with) {
        if (with.seen_at_most_px > 0 && facts.width > with.seen_at_most_px) {
            shrunk = static_cast<double>(with.seen_at_most_px) / facts.width;
            width = with.seen_at_most_px;
            height = static_cast<int>(std::lround(facts.height * shrunk));
        }
        trunk = with.trunk_px * shrunk;
        reach = flow::reach_of(trunk);
    }
    cv::Point2f small(core::Point p) const {
        return {static_cast<float>(p.x * shrunk), static_cast<float>(p.y * shrunk)};
    }
    core::Point whole(cv::Point2f p) const { return {p.x / shrunk, p.y / shrunk}; }
};

std::vector<core::Point> places_of(const PointsOnFrame& points) {
    std::vector<core::Point> out;
    for (const auto& p : points) {
        if (p) out.push_back(p->at);
    }
    return out;
}

PointsOnFrame on_anchor(const FollowAnchor& anchor) {
    PointsOnFrame out(anchor.points.size());
    for (std::size_t i = 0; i < out.size(); ++i) {
        if (anchor.points[i]) out[i] = CarriedPoint{anchor.points[i]->at, 0, 1, true};
    }
    return out;
}

/// Where the points of a pass stand at its end, in small pixels, and which of the anchor's each is.
std::pair<std::vector<Traveller>, std::vector<std::size_t>> under_way(const FollowPass& pass,
                                                                      const Sizes& sizes) {
    std::pair<std::vector<Traveller>, std::vector<std::size_t>> out;
    for (std::size_t i = 0; i < pass.anchor.points.size(); ++i) {
        if (!pass.anchor.points[i]) continue;
        const PointToCarry& marked = *pass.anchor.points[i];
        PointUnderWay now{marked.at, marked.tied_to, marked.solid, marked.name, marked.hangs_on, marked.free};
        if (i < pass.end.size() && pass.end[i]) now = *pass.end[i];
        Traveller t{sizes.small(now.at), {}};
        t.solid = now.solid;
        t.name = now.name;
        t.hangs_on = now.hangs_on;
        t.free = now.free;
        t.variance = now.variance * sizes.shrunk * sizes.shrunk;
        t.least_share = now.least_share;
        for (const core::Point& end : now.tied_to) t.tied_to.push_back(sizes.small(end));
        out.first.push_back(std::move(t));
        out.second.push_back(i);
    }
    return out;
}

}  // namespace

std::optional<CarriedPoint> FollowPass::at(int frame, std::size_t point) const {
    if (!covers(frame) || point >= anchor.points.size()) return std::nullopt;
    if (frame != anchor.frame)
        return frames[static_cast<std::size_t>(way * (frame - anchor.frame) - 1)][point];
    if (!anchor.points[point]) return std::nullopt;
    return CarriedPoint{anchor.points[point]->at, 0, 1, true};
}

flow::GreyPictures pictures_for(VideoReader& reader, const FollowWith& with, std::size_t keep) {
    const Sizes sizes(reader.facts(), with);
    return {reader, sizes.width, sizes.height, keep};
}

bool follow_on(VideoReader& reader, FollowPass& pass, int to, CameraSteps& camera, const FollowWith& with,
               const std::function<void(int)>& each, const Stopped* cancel) {
    flow::GreyPictures pictures = pictures_for(reader, with);
    return follow_on(pictures, pass, to, &camera, with, each, cancel);
}

bool follow_on(flow::GreyPictures& pictures, FollowPass& pass, int to, CameraSteps* camera,
               const FollowWith& with, const std::function<void(int)>& each, const Stopped* cancel) {
    if (pass.way * (to - pass.reached()) <= 0) return true;
    const Sizes sizes(pictures.facts(), with);
    CameraSteps unread;
    CameraReader reads({sizes.shrunk, sizes.trunk / sizes.shrunk}, camera ? *camera : unread);
    auto [travellers, which] = under_way(pass, sizes);
    cv::Mat picture = pictures.at(pass.reached());
    if (camera)
        reads.take(pass.reached(), picture,
                   places_of(pass.frames.empty() ? on_anchor(pass.anchor) : pass.frames.back()));
    flow::Pyramid before = flow::pyramid_of(picture, sizes.reach);
    while (pass.reached() != to) {
        if (cancel && *cancel) return false;
        const int n = pass.reached() + pass.way;
        picture = pictures.at(n);
        flow::Pyramid after = flow::pyramid_of(picture, sizes.reach);
        flow::step_all(travellers, before, after, sizes.reach);
        before = std::move(after);
        PointsOnFrame points(pass.anchor.points.size());
        pass.end.assign(points.size(), std::nullopt);
        for (std::size_t k = 0; k < travellers.size(); ++k) {
            const Traveller& t = travellers[k];
            const bool inside =
                t.at.x >= 0 && t.at.y >= 0 && t.at.x < before.size.width && t.at.y < before.size.height;
            points[which[k]] = CarriedPoint{sizes.whole(t.at), std::sqrt(t.variance) / sizes.shrunk,
                                            t.least_share, inside && t.sure()};
            PointUnderWay now{sizes.whole(t.at),
                              {},
                              t.solid,
                              t.name,
                              t.hangs_on,
                              t.free,
                              t.variance / (sizes.shrunk * sizes.shrunk),
                              t.least_share};
            for (const cv::Point2f& end : t.tied_to) now.tied_to.push_back(sizes.whole(end));
            pass.end[which[k]] = std::move(now);
        }
        if (camera) reads.take(n, picture, places_of(points));
        pass.frames.push_back(std::move(points));
        if (each) each(1);
    }
    return true;
}

bool follow_camera(VideoReader& reader, int first, int last, const std::vector<FollowPass>& passes,
                   CameraSteps& camera, const FollowWith& with, const Stopped* cancel) {
    const Sizes sizes(reader.facts(), with);
    const auto points_on = [&](int n) -> PointsOnFrame {
        for (const FollowPass& p : passes) {
            if (!p.covers(n)) continue;
            return n == p.anchor.frame ? on_anchor(p.anchor)
                                       : p.frames[static_cast<std::size_t>(p.way * (n - p.anchor.frame) - 1)];
        }
        return {};
    };
    for (int n = first + (kCameraEvery - first % kCameraEvery) % kCameraEvery; n + kCameraEvery <= last;
         n += kCameraEvery) {
        if (camera.contains(n)) continue;
        if (cancel && *cancel) return false;
        CameraReader reads({sizes.shrunk, sizes.trunk / sizes.shrunk}, camera);
        for (const int k : {n, n + kCameraEvery})
            reads.take(k, flow::grey_of(reader.picture(k, sizes.width, sizes.height)),
                       places_of(points_on(k)));
    }
    return true;
}

namespace {

/// One point through a stretch.
class Way {
  public:
    Way(int first, int last, std::size_t point, const std::vector<FollowPass>& passes)
        : first_(first), last_(last), point_(point), passes_(passes) {
        out_.resize(static_cast<std::size_t>(last - first + 1));
    }
    void set(int frame, const CarriedPoint& p) { out_[static_cast<std::size_t>(frame - first_)] = p; }
    std::optional<CarriedPoint>& of(int frame) { return out_[static_cast<std::size_t>(frame - first_)]; }

    /// From an anchor on to a frame by what the passes say from frame to frame; the latest anchor's says it
    /// best. Stops where none goes on; true when it came all the way.
    bool walk(int from, int to, CarriedPoint* came) {
        const int way = to < from ? -1 : 1;
        CarriedPoint now = *of(from);
        for (int n = from + way;; n += way) {
            const FollowPass* best = nullptr;
            for (const FollowPass& p : passes_) {
                if (p.way != way || way * (n - p.anchor.frame) <= 0 || !p.at(n, point_) ||
                    !p.at(n - way, point_))
                    continue;
                if (!best || way * (p.anchor.frame - best->anchor.frame) > 0) best = &p;
            }
            // What was followed the other way says as well how the point moved between the two frames.
            for (const FollowPass& p : passes_) {
                if (!best && p.way != way && p.at(n, point_) && p.at(n - way, point_)) best = &p;
            }
            if (!best) return false;
            const CarriedPoint before = *best->at(n - way, point_), after = *best->at(n, point_);
            now.at.x += after.at.x - before.at.x;
            now.at.y += after.at.y - before.at.y;
            now.sd_px = after.sd_px;
            now.confidence = after.confidence;
            now.sure = after.sure;
            if (n == to) {
                if (came) *came = now;
                return true;
            }
            set(n, now);
        }
    }
    /// From one anchor to the next; what was missed there is spread back and tells how far off the way was.
    void between(int a, int b) {
        const core::Point should = of(b)->at;
        CarriedPoint came;
        if (!walk(a, b, &came)) return;
        const double dx = should.x - came.at.x, dy = should.y - came.at.y;
        for (int n = a + 1; n < b; ++n) {
            auto& p = of(n);
            if (!p) continue;
            const double share = static_cast<double>(n - a) / (b - a);
            p->at.x += share * dx;
            p->at.y += share * dy;
            p->sd_px = std::sqrt(share * (1 - share)) * std::max(2 * p->sd_px, std::hypot(dx, dy) / 2);
        }
    }
    void to_ends(int a, int b) {
        CarriedPoint end;
        if (a > first_ && walk(a, first_, &end)) set(first_, end);
        if (b < last_ && walk(b, last_, &end)) set(last_, end);
    }
    std::vector<std::optional<CarriedPoint>> take() { return std::move(out_); }

  private:
    int first_, last_;
    std::size_t point_;
    const std::vector<FollowPass>& passes_;
    std::vector<std::optional<CarriedPoint>> out_;
};

void put_camera(std::vector<FollowedFrame>& frames, const CameraSteps& steps) {
    const int first = frames.front().frame, last = frames.back().frame;
    double scale = 1, x = 0, y = 0;
    for (int n = first; n <= last;) {
        const auto step = steps.find(n);
        FollowedFrame& here = frames[static_cast<std::size_t>(n - first)];
        here.cam_scale = scale, here.cam_x = x, here.cam_y = y;
        if (step == steps.end()) {
            ++n;
            continue;
        }
        const double to_scale = step->second.scale * scale, to_x = step->second.scale * x + step->second.x,
                     to_y = step->second.scale * y + step->second.y;
        for (int k = n + 1; k < step->second.to && k <= last; ++k) {
            const double share = static_cast<double>(k - n) / (step->second.to - n);
            FollowedFrame& f = frames[static_cast<std::size_t>(k - first)];
            f.cam_scale = scale + share * (to_scale - scale);
            f.cam_x = x + share * (to_x - x);
            f.cam_y = y + share * (to_y - y);
        }
        scale = to_scale, x = to_x, y = to_y;
        n = step->second.to;
    }
}

}  // namespace

std::vector<FollowedFrame> bend_through(int first, int last, const std::vector<FollowAnchor>& anchors,
                                        const std::vector<FollowPass>& passes, const CameraSteps& camera) {
    if (anchors.empty() || last < first) return {};
    const std::size_t points = anchors.front().points.size();
    std::vector<FollowedFrame> out;
    for (int n = first; n <= last; ++n) out.push_back({n, PointsOnFrame(points)});
    for (std::size_t i = 0; i < points; ++i) {
        Way way(first, last, i, passes);
        std::vector<int> marked;
        for (const FollowAnchor& a : anchors) {
            if (a.frame < first || a.frame > last || !a.points[i]) continue;
            way.set(a.frame, {a.points[i]->at, 0, 1, true});
            marked.push_back(a.frame);
        }
        if (marked.empty()) continue;
        for (std::size_t k = 0; k + 1 < marked.size(); ++k) way.between(marked[k], marked[k + 1]);
        way.to_ends(marked.front(), marked.back());
        auto places = way.take();
        for (std::size_t n = 0; n < places.size(); ++n) out[n].points[i] = places[n];
    }
    put_camera(out, camera);
    return out;
}

}  // namespace aspen::media
