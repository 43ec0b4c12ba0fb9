#pragma once

#include <optional>

#include "app/review/bench.hpp"
#include "core/motion/motion.hpp"

namespace aspen::app {

/// What the strides say on the other rein: the followed stretch of this ride, in any of its clips, at the
/// gait and seat of the one shown, with the most strides. Empty where there is none, or no rein was said
/// here. Reads the cache and, for another clip, the list of its frames.
std::optional<core::MotionReport> report_of_other_rein(const BenchState& bench);

}  // namespace aspen::app
