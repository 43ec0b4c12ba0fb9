#pragma once

#include <array>
#include <iosfwd>
#include <map>
#include <span>
#include <string>
#include <vector>

#include "core/proposal/pose.hpp"

/// Joints proposed by a body-pose network: what its runs say together, which of them to trust, and how far
/// off a joint nobody moved may still be.
namespace aspen::core {

/// The network's joints in COCO's order: nose, then left and right eye, ear, shoulder, elbow, wrist, hip,
/// knee, ankle.
inline constexpr std::size_t kNetworkJoints = 17;

/// One run of the network: display pixels and scores 0..1.
struct NetworkRun {
    std::array<Point, kNetworkJoints> at{};
    std::array<double, kNetworkJoints> score{};
};

/// What a run on a mirrored picture of this width says of the picture itself: x turned back, left and right
/// exchanged.
NetworkRun unmirrored(const NetworkRun& run, double width_px);

/// A square crop, display pixels.
struct Crop {
    Point centre;
    double side;
};
/// The three crops that the six runs look at (each also mirrored): 1.2 x the distance from head top to heel,
/// around the middle of the two, and the same a little larger and shifted.
std::array<Crop, 3> crops_for(Point head_top, Point heel);

/// Limits measured for this network on drawn riders (docs/accuracy.md).
inline constexpr double kLowestScore = 0.35, kLargestSpread = 0.04, kNoRiderScore = 0.25;

/// How far joints lie off that were placed by the program and confirmed without being moved: one standard
/// deviation in trunk lengths, by landmark and way (data/figure_errors.json, measured on held-out clips).
struct FigureErrors {
    std::map<Origin, std::map<Landmark, double>> sd_trunk;
    double otherwise = 0.12;
    double of(Origin way, Landmark l) const;
};
FigureErrors load_figure_errors(std::istream& in, const std::string& file);

/// Constant offsets of the network's joints from where this coach puts them, in trunk lengths forward and up.
using JointOffsets = std::map<Landmark, PlanePoint>;
/// What corrections teach: the mean of moved minus proposed over the figures' confirmed joints, drawn to
/// nothing while there are few (n joints count n, nothing counts 4).
JointOffsets learned_offsets(std::span<const Figure> figures);

struct ProposedJoint {
    Landmark landmark;
    Point at;
    double score = 0;
    double spread_px = 0;  ///< median distance of the runs from their median
    bool sure = false;
};

/// What the runs say together.
struct Proposal {
    bool rider_found = false;
    double mean_score = 0;
    std::vector<ProposedJoint> joints;  ///< by landmark, head to heel; those of the near side
};

/// The six runs put together for a rider seen from the side (near side by the travel) or from front or rear.
Proposal combine(std::span<const NetworkRun> runs, View view, Travel travel, double trunk_px);

/// The whole figure: heel and toe as clicked, sure joints where the network sees them (offsets taken off),
/// the ankle from the heel and the knee from the rider's own thigh and shin where the network doubts,
/// everything else laid. Sure and laid joints are seen but not confirmed, and carry the error they keep when
/// confirmed unmoved; what the network doubts stays laid. Joints of `figure` that are confirmed stay as they
/// are.
Figure proposed_figure(const Figure& figure, const Proposal& proposal, const PoseFrame& frame,
                       const Body& body, const FigureErrors& errors, const JointOffsets& offsets,
                       Point head_top);

/// The figure laid from three clicks alone: heel and toe of `figure` and the head's top. Joints that are
/// there stay. Side view: the usual pose bent as little as needed; from front or rear a rider's typical shape
/// between the three.
Figure laid_figure(const Figure& figure, const PoseFrame& frame, const Body& body, const FigureErrors& errors,
                   Point head_top);

/// Standard deviation of a joint that was laid from the limbs and then found right in place, trunk lengths
/// (from memory).
inline constexpr double kLaidInPlaceSdTrunk = 0.03;
/// Confirms every joint that the picture supports, or one. What was only laid from the limbs is confirmed one
/// by one: a usual pose must not judge itself; so is what was moved far from where it was seen. What was
/// carried or proposed and not moved keeps its larger
/// error.
Figure confirmed(const Figure& figure, std::optional<Landmark> only = {});

}  // namespace aspen::core
