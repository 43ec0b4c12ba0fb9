#pragma once

#include <map>
#include <string>
#include <string_view>

#include "core/arena/letters.hpp"

namespace aspen::core {

/// The arena as a film is laid onto it, metres: the origin where the centre line meets A's short side, x
/// along the centre line towards C, y to the left of one who looks from A to C. A hall of own measures brings
/// its own letters; a field with two cones is a hall with two.
class ArenaFrame {
  public:
    /// 20 × 40 or 20 × 60 m with the letters of the rule books (core/arena/letters.hpp), or another size with
    /// `own` names and places. Corners are called AK AF CH CM. Throws Refused for a size that is none, and
    /// for one without letters of its own that is neither.
    ArenaFrame(double length_m, double width_m, std::map<std::string, GroundPoint> own = {});
    double length_m() const { return length_; }
    double width_m() const { return width_; }
    const std::map<std::string, GroundPoint>& places() const { return places_; }
    /// In upper or lower case. Throws Refused naming what there is.
    GroundPoint at(std::string_view name) const;
    /// AK, AF, CH or CM where the arena has such letters: the corners are places, not letters.
    bool is_corner(std::string_view name) const;
    /// The next place of the track as one turns to the right inside: letters are met in this order from left
    /// to right by who looks at the far wall. Nothing for a name that is not on the track.
    std::string next_clockwise(std::string_view name) const;

  private:
    double length_, width_;
    std::map<std::string, GroundPoint> places_;
};

}  // namespace aspen::core
