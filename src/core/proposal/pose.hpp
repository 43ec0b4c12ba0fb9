#pragma once

#include <array>
#include <optional>
#include <span>
#include <vector>

#include "core/body/body.hpp"
#include "core/body/figure.hpp"
#include "core/judging/schools.hpp"

/// A rider seen from the side as a chain of limbs: where joints must lie that were not clicked, and how they
/// follow one that is moved.
namespace aspen::core {

/// Limb lengths in trunk lengths (greater trochanter to acromion = 1).
struct Limbs {
    double neck = 0.47;   ///< shoulder to ear
    double crown = 0.28;  ///< ear to the top of the head, helmet on
    double upper_arm = 0.60, forearm = 0.54, hand = 0.16;
    double thigh = 0.86, shank = 0.84, foot = 0.50;
    double ankle_up = 0.14, ankle_ahead = 0.10;  ///< of the heel's edge, across and along the sole
    double tread = 0.34;  ///< from the heel's edge to the middle of the tread, along the sole
    friend bool operator==(const Limbs&, const Limbs&) = default;
};

/// Limb lengths of data/body.json.
Limbs typical_limbs(const Body& body);

/// This rider's own lengths: the median over figures whose joints were measured, drawn towards the typical
/// ones as long as there are few (n figures count n, the typical ones 2). Figures seen obliquely are left
/// out; a limb that no figure shows keeps its typical length.
Limbs limbs_of(std::span<const Figure> figures, const Body& body);

/// The pose that a seat usually has, in degrees as the measures define them; heel_offset in % of the leg.
struct UsualPose {
    double trunk_lean = 1, neck = 3, head_pitch = 0, upper_arm = 14, elbow_angle = 112, knee_angle = 118,
           heel_offset = 0, heel_drop = 7;
    double leg_sd = 1;  ///< how much looser than in the saddle the leg is: more while rising
    friend bool operator==(const UsualPose&, const UsualPose&) = default;
};

/// The middle of the school's bands where it has them, else typical values of the seat (from memory).
UsualPose usual_pose(const Setting& setting, const Schools& schools);

/// What is known of a joint before a pose is fitted. sd_px: one standard deviation.
struct KnownJoint {
    Landmark landmark;
    Point at;
    double sd_px;
};

/// A whole pose in display pixels.
struct Pose {
    std::array<Point, kLandmarkCount> at{};
    Point head_top;
    double trunk_px = 0;
    Point operator[](Landmark l) const { return at[index(l)]; }
};

/// The landmarks a pose places, head to heel.
std::span<const Landmark> posed_landmarks();

/// What stands beside the joints when a pose is fitted.
struct PoseFrame {
    Travel travel = Travel::right;  ///< unknown is taken as right
    CameraPose camera;
    Limbs limbs;
    UsualPose usual;
    std::optional<double> trunk_px{};  ///< the rider's size in the picture where it is known: held within 1 %
};

/// The pose that bends least from the usual one while it meets what is known: least squares over the chain's
/// angles, its size and its place (Levenberg-Marquardt). Each known joint counts with its sd plus 3 % of the
/// trunk, because no rider has exactly these limbs. Nothing when fewer than two points are known or all lie
/// on one spot.
std::optional<Pose> fit_pose(const PoseFrame& frame, const Body& body, std::span<const KnownJoint> known,
                             std::optional<Point> head_top);

/// Moves one joint of a figure and lets those not yet confirmed follow as the limbs pull them; confirmed ones
/// stay. The moved joint lies exactly where it was put, even out of reach of its neighbours. Side view; from
/// front or rear and where no pose can be fitted only the joint moves.
Figure drag_joint(const Figure& figure, const Body& body, const Limbs& limbs, const UsualPose& usual,
                  Landmark moved, Point to);

/// Where the middle joint of two limbs lies, on the side given (+1: to the left of the line from a to b in
/// (f, u), which is forward for a knee below its hip). Out of reach: on the line, both limbs stretched or
/// folded alike.
PlanePoint bend_between(PlanePoint a, PlanePoint b, double first, double second, double side);

/// Joints whose limb became much longer or shorter between two figures of one rider a short time apart
/// (beyond 15 %): whoever followed them lost them. A shin that fails takes the whole foot along.
std::vector<Landmark> doubtful_by_limbs(const Figure& before, const Figure& after);

/// Joints that lie where no joint goes, from the side with the travel known: a knee or elbow bent the wrong
/// way by more than 15°, folded past 150°, an ankle stretched past 170° or folded under 50°, a thigh folded
/// into the trunk (limits from memory, generous). The joint in the middle is named.
std::vector<Landmark> against_the_joints(const Figure& figure);

/// The figure as a mirror shows it in a picture this wide; travel and roll turn with it. Twice gives the same
/// again.
Figure mirrored(const Figure& figure, double width_px);

/// Lays a figure onto three points by the similarity that carries its own head top, heel and toe nearest to
/// them (least squares). The joints are laid, not confirmed.
Figure laid_onto(const Figure& figure, std::optional<Point> own_top, Point head_top, Point heel, Point toe);

}  // namespace aspen::core
