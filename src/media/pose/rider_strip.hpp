#pragma once

#include <algorithm>
#include <array>
#include <atomic>
#include <deque>
#include <map>
#include <opencv2/core.hpp>
#include <vector>

#include "core/body/figure.hpp"
#include "core/proposal/stretch_fusion.hpp"

/// What was gathered of a rider over some seconds, and what it comes to. Internal to pose.
namespace aspen::media::strip {

inline constexpr std::array kJoints{core::Landmark::ear,   core::Landmark::eye,   core::Landmark::shoulder,
                                    core::Landmark::elbow, core::Landmark::wrist, core::Landmark::hip,
                                    core::Landmark::knee,  core::Landmark::ankle, core::Landmark::knuckle,
                                    core::Landmark::heel,  core::Landmark::toe,   core::Landmark::withers,
                                    core::Landmark::poll,  core::Landmark::croup};
/// The first so many are seen by the one network, then those by the one for the limbs' ends; the last are the
/// horse's (horse_strip.hpp).
inline constexpr std::size_t kBodyJoints = 8;
constexpr std::size_t place_of(core::Landmark l) {
    return static_cast<std::size_t>(std::ranges::find(kJoints, l) - kJoints.begin());
}
using Places = std::array<core::Point, kJoints.size()>;

/// A picture in grey, cut out around the rider.
struct Cut {
    cv::Mat grey;
    cv::Point2d origin;  ///< of the cut in the shrunk picture
    double shrunk = 1;   ///< of the clip's pixels
    cv::Point2f small(core::Point p) const {
        return {static_cast<float>(p.x * shrunk) - static_cast<float>(origin.x),
                static_cast<float>(p.y * shrunk) - static_cast<float>(origin.y)};
    }
    core::Point whole(cv::Point2f p) const {
        return {(p.x + static_cast<float>(origin.x)) / shrunk, (p.y + static_cast<float>(origin.y)) / shrunk};
    }
};

/// What the networks saw of one joint on one frame.
struct Sight {
    std::size_t joint = 0;  ///< of kJoints
    core::Point at;
    double score = 0;
};

struct Frame {
    Cut cut;
    Cut horse;                  ///< more of the surroundings, smaller
    core::Point carried;        ///< how far the rider as a whole came since the strip's beginning
    double trunk = 0;           ///< display pixels, about
    std::vector<Sight> sights;  ///< at most one a joint; none: nobody looked
};

/// Frames without a gap, of the same size of cut.
struct Strip {
    int first = 0;
    core::Travel travel = core::Travel::right;
    std::deque<Frame> frames;
};

/// What is followed in which of the cuts, with the error of one step of each, trunk lengths.
struct SurfacesToFollow {
    Cut Frame::*cut = &Frame::cut;
    std::vector<core::Landmark> landmarks;
    std::vector<double> step_sd;
};
/// How the surfaces beside all these points go from one frame to the next, where they lie now (s.start), into
/// s.steps. Throws ReadCancelled once `stop` is set.
void follow_surfaces(const Strip& strip, const SurfacesToFollow& what, core::StretchToFuse& s,
                     const std::atomic<bool>* stop);

/// The joints on every frame of the strip, without those that were seen on none; nothing where no frame was
/// looked at. Throws ReadCancelled once `stop` is set.
std::map<std::size_t, std::vector<core::Observed>> read(const Strip& strip, const std::atomic<bool>* stop);

}  // namespace aspen::media::strip
