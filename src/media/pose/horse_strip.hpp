#pragma once

#include <atomic>
#include <map>
#include <vector>

#include "core/proposal/stretch_fusion.hpp"
#include "media/pose/point_follower.hpp"
#include "media/pose/rider_strip.hpp"

/// Withers, poll and croup over a strip whose rider was read. Internal to pose.
namespace aspen::media::strip {

/// Of the horse, places of kJoints by frame, without those that were seen on none: the withers from where
/// riders' hands and knees are, poll and croup on the outline of what goes with the rider
/// (horse_outline.hpp), looked for `every` so many frames; between, the surfaces are followed. `rider`: what
/// read() gave. Throws ReadCancelled once `stop` is set.
std::map<std::size_t, std::vector<core::Observed>> read_horse(
    const Strip& strip, const std::map<std::size_t, std::vector<core::Observed>>& rider,
    const CameraSteps& camera, int every, const std::atomic<bool>* stop);

}  // namespace aspen::media::strip
