#pragma once

#include <atomic>
#include <functional>
#include <map>
#include <optional>
#include <vector>

#include "media/pose/point_carrier.hpp"

namespace aspen::media {

namespace flow {
class GreyPictures;
}

/// Where points lie on one frame that was marked; in the order of all that are followed, empty where that one
/// was not marked here.
struct FollowAnchor {
    int frame = 0;
    std::vector<std::optional<PointToCarry>> points;
};

/// A point as it stands at the end of a pass, from where it can be followed on. Clip's pixels.
struct PointUnderWay {
    core::Point at;
    std::vector<core::Point> tied_to;
    int solid = 0, name = 0, hangs_on = 0;
    double free = 1;
    double variance = 0;  ///< squared pixels
    double least_share = 1;
};

/// The points of one anchor followed one way, frame by frame, as the flow gave them: nothing of other anchors
/// is in it. It can be stopped anywhere, kept, and gone on with later.
struct FollowPass {
    FollowAnchor anchor;
    int way = 1;  ///< 1 forwards, -1 backwards
    /// Of the frames anchor.frame + way, anchor.frame + 2 way ...
    std::vector<std::vector<std::optional<CarriedPoint>>> frames;
    std::vector<std::optional<PointUnderWay>> end;  ///< at the last of them; empty before the first

    int reached() const { return anchor.frame + way * static_cast<int>(frames.size()); }
    bool covers(int frame) const {
        return way * (frame - anchor.frame) >= 0 && way * (reached() - frame) >= 0;
    }
    /// A point on a frame that it covers; the anchor's own place on its own frame.
    std::optional<CarriedPoint> at(int frame, std::size_t point) const;
};

/// How the background moves from one frame to a later one: p -> scale p + (x, y).
struct CameraStep {
    int to = 0;
    double scale = 1, x = 0, y = 0;
};
/// By the frame a step starts at. They need not be whole: what is missing stands still.
using CameraSteps = std::map<int, CameraStep>;
/// The camera's motion is read at every third frame.
inline constexpr int kCameraEvery = 3;

/// What came of one frame.
struct FollowedFrame {
    int frame = 0;
    std::vector<std::optional<CarriedPoint>> points;  ///< empty: not followed to here
    /// Where the background of the first followed frame lies in this one: p -> scale p + (x, y).
    double cam_x = 0, cam_y = 0, cam_scale = 1;
};

struct FollowWith {
    double trunk_px = 100;  ///< of the rider, the clip's pixels
    int seen_at_most_px =
        960;  ///< pictures are fitted into this width for following; places are the clip's own
};
using Stopped = std::atomic<bool>;

/// Follows the points of a pass on to a frame, and reads the camera's motion on the way where `camera` lacks
/// it. `each`: called with the number of frames done, may be empty. False when cancelled; what was done until
/// then stands in the pass. Throws what the reader throws.
bool follow_on(VideoReader& reader, FollowPass& pass, int to, CameraSteps& camera, const FollowWith& with,
               const std::function<void(int)>& each = {}, const Stopped* cancel = nullptr);
/// The same in pictures that are at hand, which are fitted into with.seen_at_most_px; without `camera` its
/// motion is not read.
bool follow_on(flow::GreyPictures& pictures, FollowPass& pass, int to, CameraSteps* camera,
               const FollowWith& with, const std::function<void(int)>& each = {},
               const Stopped* cancel = nullptr);
/// Pictures of that size, `keep` bytes of them kept.
flow::GreyPictures pictures_for(VideoReader& reader, const FollowWith& with, std::size_t keep = 0);
/// Reads the steps of the camera's motion in [first, last] that are still missing, where rider and horse
/// stand known from passes.
bool follow_camera(VideoReader& reader, int first, int last, const std::vector<FollowPass>& passes,
                   CameraSteps& camera, const FollowWith& with, const Stopped* cancel = nullptr);

/// Puts the passes of a stretch [first, last] together for these anchors (sorted by frame): from each anchor
/// to the next, and what misses it there is spread back over the way; before the first and after the last as
/// far as it goes. Where an anchor was not followed itself yet, the way of an earlier one is shifted so that
/// it goes through it. No pictures are read: a joint that is moved bends the way between its neighbours at
/// once.
std::vector<FollowedFrame> bend_through(int first, int last, const std::vector<FollowAnchor>& anchors,
                                        const std::vector<FollowPass>& passes, const CameraSteps& camera);

}  // namespace aspen::media
