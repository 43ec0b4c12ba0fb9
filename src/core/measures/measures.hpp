#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/body/body.hpp"
#include "core/body/figure.hpp"

namespace aspen::core {

/// Which part of the rider a measure belongs to, head to heel; the horse last. The column hangs them by it.
enum class BodyPart { head, shoulder, elbow, hand, trunk, hip, knee, lower_leg, heel, iron, horse };
std::string_view word(BodyPart p);
std::string_view spoken(BodyPart p);
std::optional<BodyPart> body_part_from(std::string_view w);

/// A measure as it is defined: its formula lives in measures_side.cpp or measures_frontal.cpp.
struct MeasureInfo {
    std::string_view id;      ///< the word in files
    std::string_view spoken;  ///< the words on screen
    std::string_view unit;    ///< "deg" or "%"
    BodyPart part;
    View view;  ///< side; rear stands for front and rear
    std::vector<Landmark> needs;
    int decimals = 1;
    bool full_turn = false;  ///< an angle that can turn right round: compared and averaged modulo 360
};

/// All measures of a view in scan order (19 from the side, 11 from front or rear).
std::span<const MeasureInfo> measures_of(View view);
/// Measures taken over strides instead of in a moment; bands are stated for them in the same way.
std::span<const MeasureInfo> measures_of_strides();
const MeasureInfo* find_measure(std::string_view id);
/// Whether it is taken over strides.
bool stride_measure(std::string_view id);
/// Whether a value of it tends to the rider's left or right: what is levelled or centred from front and rear.
bool says_side(const MeasureInfo& info);

/// A measured value. Empty value means not judged, and `reason` says why in words. The error has three parts:
/// `sd_random` of the clicks, `sd_camera` of roll and turn of the view (`sd_roll` and `sd_yaw`, each common
/// to all that rests on the same mark, and where nothing was marked to all of one place and day), and
/// `sd_build` of what is common to all of a ride: nominal places out of the picture's plane, and what the
/// horse stands on; `sd` is all together.
struct Measured {
    const MeasureInfo* info = nullptr;
    std::optional<double> value;
    double sd = 0;  ///< one standard deviation, the measure's unit
    std::string reason;
    double sd_random = 0, sd_camera = 0, sd_build = 0;
    double sd_roll = 0, sd_yaw = 0;
    /// Held against the horse's middle, and neither said nor read from its ears how the camera stood to it:
    /// at most doubtful.
    bool axis_unknown = false;
};

/// Turn of the view off its axis beyond which nothing is judged, degrees; from front and rear what is held
/// against the horse's middle already beyond 10.
inline constexpr double kLargestYawDeg = 30.0;

/// What the situation says of how a figure is to be measured.
struct MeasuredIn {
    /// Middle of the trunk-lean band, degrees: from front and rear it sets how far ahead of the hips
    /// shoulders and chin are.
    double trunk_lean_deg = 0;
    /// On a circle or turn: from front and rear the rider is held against the horse's own axis.
    bool turned = false;
};

/// The turn of a view off its axis and its standard deviation, degrees: as said; from front and rear, on a
/// straight line, read from the middle of the ears against the horse's middle (+- 5: a horse carries its head
/// a hand to one side without being crooked); else 0 with the error of a camera nobody marked.
struct ViewTurn {
    double yaw_deg = 0, sd_deg = 0;
    bool from_ears = false;
};
ViewTurn view_turn(const Figure& figure, const Body& body, const MeasuredIn& in = {});

/// Every measure of the figure's view, with first-order (delta method) propagation of the errors of
/// landmarks, roll, yaw and nominal places: sd^2 = sum over inputs of (dm/dq * sd_q)^2, derivatives by
/// central differences. A nominal place out of the plane is off by sd * trunk * sqrt(tan^2 yaw + (sd_yaw /
/// cos^2 yaw)^2) within it. A segment shorter than five of its own errors judges nothing. Formulas:
/// docs/measures.md.
std::vector<Measured> measure(const Figure& figure, const Body& body, const MeasuredIn& in = {});

}  // namespace aspen::core
