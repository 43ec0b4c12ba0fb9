#pragma once

#include "core/body/figure.hpp"
#include "media/pose/point_carrier.hpp"

namespace aspen::media {

/// How a landmark of a figure is followed to another frame: on which limbs, and with which others as one
/// solid.
PointToCarry to_carry(const core::Figure& figure, core::Landmark landmark);

}  // namespace aspen::media
