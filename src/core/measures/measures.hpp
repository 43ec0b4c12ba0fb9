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
};

/// All measures of a view in scan order (19 from the side, 10 from front or rear).
std::span<const MeasureInfo> measures_of(View view);
const MeasureInfo* find_measure(std::string_view id);

/// A measured value. Empty value means not judged, and `reason` says why in words.
struct Measured {
    const MeasureInfo* info = nullptr;
    std::optional<double> value;
    double sd = 0;  ///< one standard deviation, the measure's unit
    std::string reason;
};

/// Yaw beyond which side measures are not judged, degrees.
inline constexpr double kLargestYawDeg = 30.0;

/// Every measure of the figure's view, with first-order (delta method) propagation of the errors of
/// landmarks, roll, yaw and nominal depth: sd^2 = sum over inputs of (dm/dq * sd_q)^2, derivatives by central
/// differences. Formulas: the definitions page docs/measures.md. The error holds while the errors are small
/// beside the segment lengths; for a segment shorter than about five click errors it is too small.
std::vector<Measured> measure(const Figure& figure, const Body& body);

}  // namespace aspen::core
