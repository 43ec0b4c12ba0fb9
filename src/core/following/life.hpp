#pragma once

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/following/following.hpp"

/// A correction's life: what the rule proposes, and what the coach says.
namespace aspen::core {

/// The coach's word on a stage, and how many of the correction's rides were known when it was said.
struct StageSaid {
    Stage stage = Stage::noticed;
    std::size_t rides = 0;
};

struct Life {
    Stage stands = Stage::noticed;  ///< by the coach: what was said last, else what was accepted and given
    std::optional<Stage> proposes;  ///< the rule's, where it is another one and not answered yet
    std::optional<std::size_t> because_of;  ///< the ride that brought what is proposed, from 0
    std::vector<Stage> along;               ///< after each ride, by the rule

    /// What is shown: the proposal where there is one.
    Stage shown() const { return proposes.value_or(stands); }
};
/// The rule is stage_of over the rides, oldest first. Holding, settled, back again and overcorrected come
/// from rides and are proposed; the coach's answer holds until the rule says something else than it did then.
Life life_of(std::span<const RideSays> rides, std::span<const StageSaid> said, bool accepted,
             bool prescribed);

/// Share of good answers of the coach's eye over a correction that nothing measures, ride by ride.
struct GoodOf {
    int good = 0, of = 0;
};

/// How an exercise did against a fault: given, could be judged within its term, held by then. Corrections
/// that no ride judged after the exercise was given count in `given` alone.
struct Moved {
    int given = 0, judged = 0, held = 0;
};
/// Adds one giving: the verdicts of rides after it and within its term, in order. It held when the last that
/// says inside or outside says inside.
void add_giving(Moved& moved, std::span<const RideVerdict> within_term);

}  // namespace aspen::core
