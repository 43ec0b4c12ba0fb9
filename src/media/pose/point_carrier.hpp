#pragma once

#include <atomic>
#include <functional>
#include <vector>

#include "core/body/geometry.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::media {

/// A point to follow, and the joints it is tied to by a limb: the limb's own surface near the point is what
/// is followed, not the background beside it. Without any, the point's surroundings are. Points with the same
/// number of a solid (a foot in its boot) move as one, by the clouds of all of them; 0 is none.
struct PointToCarry {
    core::Point at;
    std::vector<core::Point> tied_to;
    int solid = 0;
    /// A number of its own, and that of the point it hangs on (an ankle on its knee): 0 for none. What moves
    /// otherwise than that one, by more than `free` of the reach from picture to picture, is background.
    int name = 0, hangs_on = 0;
    double free = 1;
};

/// A point as it was followed to another frame. sd_px: how far off it may be, from following it back again
/// and from how its surroundings agree. `sure` is false when it was lost, left the picture or its
/// surroundings disagree.
struct CarriedPoint {
    core::Point at;
    double sd_px = 0;
    double confidence = 0;  ///< 0..1: share of the surroundings that came along and back
    bool sure = false;
};

/// Follows points from one frame to another, picture by picture, by pyramidal optical flow (Lucas and
/// Kanade): a small cloud on the limbs beside every point is followed forwards and back again, and the point
/// moves with the turn and shift on which most of those agree that came back to where they started.
/// `reach_px`: about a tenth of the rider's trunk. Returns one for each point, in order; nothing when
/// cancelled. Throws what the reader throws. Any thread, one at a time for a reader.
std::vector<CarriedPoint> carry_points(VideoReader& reader, int from, int to,
                                       const std::vector<PointToCarry>& points, double reach_px,
                                       const std::atomic<bool>* cancel = nullptr);

}  // namespace aspen::media
