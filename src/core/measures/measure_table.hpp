#pragma once

#include <functional>
#include <span>

#include "core/measures/measures.hpp"

/// How the two families of measures are evaluated. Internal to core.
namespace aspen::core::detail {

/// Inputs of one evaluation, each of which can be nudged to find a derivative.
struct Inputs {
    std::array<Point, kLandmarkCount> at{};
    /// Out of the picture's plane, trunk lengths: depth from the side, along from front and rear.
    std::array<double, kLandmarkCount> out_of_plane{};
    /// Moved within the plane by so much, pixels: forward from the side, to the rider's right from front and
    /// rear. Zero in the value; where a nominal place is uncertain its error comes in here.
    std::array<double, kLandmarkCount> shift{};
    double roll_rad = 0;
    double yaw_rad = 0;
    /// Pixels of a trunk where it cannot be read from the figure; 0 where it can.
    double guessed_trunk_px = 0;
    bool turned = false;  ///< on a circle or turn: held against the horse's own axis
};

/// Two ends of a length or direction that a measure is read from; an end is a landmark or the middle of two.
struct Span {
    Landmark a, b;
    std::optional<Landmark> a_pair{}, b_pair{};
};

/// A measure's value before folding. `folded` measures are magnitudes of a signed angle: the derivative is
/// taken of the signed one, which has no kink at a straight joint.
struct Formula {
    MeasureInfo info;
    double (*raw)(const Inputs&, const Figure&);
    std::vector<Span> spans;  ///< what must be long enough for the value to mean anything
    bool folded = false;
    /// The largest turn of the view off its axis at which the measure is judged, degrees.
    double largest_yaw_deg = kLargestYawDeg;
    /// Seen from front or rear on a circle: held against the horse's own axis, and not judged without it.
    bool by_horses_axis = false;
    /// Measured from the horse's middle, which lies off the rider on a bent horse.
    bool from_horses_middle = false;
};

std::span<const Formula> side_formulas();
std::span<const Formula> frontal_formulas();
/// The trunk in pixels as the formulas of a view read it.
double side_trunk_px(const Inputs& in, const Figure& figure);
double frontal_trunk_px(const Inputs& in, const Figure& figure);
/// Length of a span in the plane the figure is measured in, pixels.
double side_length(const Span& span, const Inputs& in, const Figure& figure);
double frontal_length(const Span& span, const Inputs& in, const Figure& figure);

}  // namespace aspen::core::detail
