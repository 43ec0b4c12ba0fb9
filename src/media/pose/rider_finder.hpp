#pragma once

#include <atomic>
#include <optional>

#include "core/body/figure.hpp"
#include "media/pose/pose_network.hpp"

namespace aspen::media {

/// A rider whom nobody pointed at.
struct FoundRider {
    core::Figure figure;  ///< from the side: joints good enough to be followed, proposed and not confirmed
    double score = 0;     ///< mean of the network's scores
};

/// Looks for one rider seen from the side anywhere in a picture: first for a head in large squares over all
/// of it, then in squares of several sizes under it. The travel is told by where nose and knee point. About a
/// dozen runs of the network. Empty where nobody is found surely enough, where the rider is seen from
/// the front or behind, and when stopped.
std::optional<FoundRider> find_rider(PoseNetwork& network, const Picture& picture,
                                     const std::atomic<bool>* stop = nullptr);

/// The square round a whole rider seen from the side, by ear, hip and the trunk's length in display pixels.
core::Crop crop_round(core::Point ear, core::Point hip, double trunk_px);

}  // namespace aspen::media
