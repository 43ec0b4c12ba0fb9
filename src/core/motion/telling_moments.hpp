#pragma once

#include <string>
#include <vector>

#include "core/motion/motion.hpp"

/// Which instants of a followed stretch are worth marking, and what the stretch seems to be: proposals, from
/// motion alone.
namespace aspen::core {

struct TellingMoment {
    double time_s = 0;  ///< real
    std::string phase;  ///< "rise_top", "beat_1", "take_off" …; "" where the gait has no phases that tell
    friend bool operator==(const TellingMoment&, const TellingMoment&) = default;
};
/// Top and bottom of the rise, beats of the canter, take-off, top and landing; in at most so many strides,
/// spread over the stretch, by time. Beats from the hooves where they are known, else from the withers'
/// lowest point by a canter's usual shares (from memory). A stride without phases gives its start.
std::vector<TellingMoment> telling_moments(const MotionReport& report, const MotionSetting& setting,
                                           int strides = 3);

/// What a part of a clip seems to be, from how often and how far withers (or, without them, the rider's
/// trunk) go up and down. Thresholds from memory, tried on simulated rides.
struct GaitGuess {
    Gait gait = Gait::walk;
    bool rising = false;
    friend bool operator==(const GaitGuess&, const GaitGuess&) = default;
};
struct GuessedStretch {
    double from_s = 0, to_s = 0;  ///< real
    GaitGuess guess;
};
/// Parts of at least two seconds that seem one gait each, in order; what nothing can be said of is left out.
/// `setting`: view, travel and camera; its gait is not looked at.
std::vector<GuessedStretch> guess_stretches(const Tracks& tracks, const MotionSetting& setting,
                                            const Body& body);

}  // namespace aspen::core
