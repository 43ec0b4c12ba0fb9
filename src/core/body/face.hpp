#pragma once

#include <optional>

#include "core/body/figure.hpp"

namespace aspen::core {

/// An upright-free ellipse in display pixels.
struct Ellipse {
    Point centre;
    double long_half = 0, short_half = 0;  ///< half axes, pixels
    double angle_deg = 0;                  ///< of the long axis from +x, clockwise on screen
    bool contains(Point p) const;
};

/// The ellipse that covers a rider's face, from ear, eye and chin where marked (any two of them, hidden ones
/// too), or around the one that is; from front and rear around the chin. Generous: half as large again as the
/// points ask, because what is covered must stay covered. Empty when none of the three is marked.
std::optional<Ellipse> face_ellipse(const Figure& figure);

/// The figure without those of the three that nobody placed or looked at: a guess may lie beside the face.
Figure without_guesses(Figure figure);

}  // namespace aspen::core
