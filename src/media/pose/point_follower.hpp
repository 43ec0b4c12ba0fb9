#pragma once

#include <atomic>
#include <functional>
#include <optional>
#include <vector>

#include "media/pose/point_carrier.hpp"

namespace aspen::media {

/// Where points lie on one frame that was marked; in the order of all that are followed, empty where that one
/// was not marked here.
struct FollowAnchor {
    int frame = 0;
    std::vector<std::optional<PointToCarry>> points;
};

/// What came of one frame.
struct FollowedFrame {
    int frame = 0;
    std::vector<std::optional<CarriedPoint>> points;  ///< empty: not followed to here
    /// Where the background of the first followed frame lies in this one: p -> scale p + (x, y).
    double cam_x = 0, cam_y = 0, cam_scale = 1;
};

/// Follows points through frames [first, last], anchored at every marked one: from each to the next, and what
/// misses it there is spread back over the way; before the first and after the last as far as it goes. A
/// point that is lost stays lost until the next anchor. The camera's own motion is read from the background
/// at every third frame. `seen_at_most_px`: pictures are fitted into this width for following; places are the
/// clip's own. `trunk_px`: of the rider, in the clip's pixels. Nothing when cancelled. Throws what the reader
/// throws.
std::vector<FollowedFrame> follow_points(VideoReader& reader, int first, int last,
                                         const std::vector<FollowAnchor>& anchors, double trunk_px,
                                         int seen_at_most_px, const std::function<void(double)>& progress,
                                         const std::atomic<bool>* cancel = nullptr);

}  // namespace aspen::media
