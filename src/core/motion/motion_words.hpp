#pragma once

#include <string>
#include <vector>

#include "core/motion/motion.hpp"

namespace aspen::core {

/// What happens over the strides in a coach's words, the most telling first; what could not be said stays
/// out, but for why nothing could be.
std::vector<std::string> in_words(const MotionReport& report, const MotionSetting& setting);

}  // namespace aspen::core
