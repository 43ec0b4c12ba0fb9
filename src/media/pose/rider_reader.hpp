#pragma once

#include <atomic>
#include <functional>
#include <optional>
#include <span>
#include <vector>

#include "core/body/figure.hpp"
#include "core/proposal/stretch_fusion.hpp"
#include "media/pose/limb_ends_network.hpp"
#include "media/pose/point_follower.hpp"
#include "media/pose/pose_network.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::media {

/// Where a rider was found, from where it is read on both ways: from the side, with the travel, shoulder and
/// hip seen.
struct RiderAnchor {
    int frame = 0;
    core::Figure figure;
};

/// The joints that are read, head to heel.
std::span<const core::Landmark> read_joints();

/// A rider's joints on frames without a gap.
struct ReadRun {
    int first = 0;
    /// By the order of read_joints() and by frame; nothing where a heel, toe or knuckle was not seen.
    std::vector<std::vector<std::optional<core::Observed>>> joints;
    int last() const { return first + static_cast<int>(joints.front().size()) - 1; }
};

struct RiderNetworks {
    PoseNetwork& joints;
    LimbEndsNetwork* ends = nullptr;  ///< none: heel, toe and knuckle are not read
};

struct ReadWith {
    const std::atomic<bool>* stop = nullptr;
    std::function<void(double)> progress;  ///< 0 to 1; may be empty
};

/// Reads the rider on every frame that one can be read on and that `runs` does not hold yet, into `runs` (by
/// frame): the networks look four times a second, plain and mirrored in turns; between, the surfaces of all
/// limbs are followed from picture to picture along the path as it is known so far; both are put together
/// (core::fused), twice over. Where the network no longer sees a rider the run ends, and the next
/// anchor begins another. `found` by frame, all with the same travel. Pictures of at most 400 frames are
/// held, cut out around the rider. The camera's motion on those frames goes into `camera`. Throws
/// ReadCancelled when stopped, and what the reader throws.
void read_rider(VideoReader& reader, const RiderNetworks& networks, const std::vector<RiderAnchor>& found,
                std::vector<ReadRun>& runs, CameraSteps& camera, const ReadWith& with);

}  // namespace aspen::media
