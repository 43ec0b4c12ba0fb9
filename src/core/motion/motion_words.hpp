#pragma once

#include <string>
#include <vector>

#include "core/judging/amounts.hpp"
#include "core/motion/motion.hpp"

namespace aspen::core {

/// What happens over the strides in a coach's words, the most telling first; what could not be said stays
/// out, but for why nothing could be.
struct StrideSaying {
    std::string words;
    std::string measure{};  ///< what it was read from; "" for none
};
std::vector<StrideSaying> sayings(const MotionReport& report, const MotionSetting& setting,
                                  const SpokenAmounts& amounts);
/// The words alone.
std::vector<std::string> in_words(const MotionReport& report, const MotionSetting& setting,
                                  const SpokenAmounts& amounts);

/// One fence without its number: "the seat leaves 80 ms before the horse, folds 12° further".
std::string said_of(const FenceSeen& fence, const SpokenAmounts& amounts);

/// What a curve shows, in a line: how far it swings a stride and what of it is quiet, or where it lies.
std::string said_of(const MotionReport& report, const MotionCurve& curve, const SpokenAmounts& amounts);

}  // namespace aspen::core
