#pragma once

#include "core/judging/schools.hpp"

namespace aspen::core {

/// A rider seen from the side, travelling to the right, who sits in the middle of every range a school states
/// for this seat and phase: limbs of a grown rider of 170 cm (from memory, plausible), display pixels with
/// the hip at the origin and a trunk of `trunk_px`. What has no range hangs as it usually does. Of a range
/// that is open to one side its stated limit counts.
Figure middle_rider(const Schools& schools, const Setting& setting, double trunk_px = 200);

}  // namespace aspen::core
