#pragma once

#include "core/arena/ridden_words.hpp"
#include "exchange/ground_plan.hpp"

namespace aspen::exchange {

/// The way of a horse as a quiet line; where it breaks off for a second it is not joined.
void add_ridden(GroundPlan& plan, const std::vector<core::WayPoint>& way);
/// How a figure was ridden: what was asked dashed, what is certainly off strong, the rest as ridden well.
void add_held(GroundPlan& plan, const core::AskedFigure& asked, const core::RiddenFigure& ridden,
              const std::vector<core::WayPoint>& way);

}  // namespace aspen::exchange
