#pragma once

#include <optional>
#include <span>

/// The loop the hip goes through in a stride: the ellipse that fits it best.
namespace aspen::core {

struct Loop {
    double width = 0, height = 0;  ///< full extents along the first and the second axis
    double tilt_deg = 0;           ///< of the long axis, -90 … 90, rising with the first axis is positive
    double longer = 1;             ///< long over short axis
};
/// Direct least squares of an ellipse (Halir & Flusser 1998, after Fitzgibbon, Pilu & Fisher). Empty where no
/// ellipse fits: fewer than six points, all on a line.
std::optional<Loop> fit_loop(std::span<const double> a, std::span<const double> b);

}  // namespace aspen::core
