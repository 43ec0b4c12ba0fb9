#pragma once

#include <span>
#include <string>
#include <vector>

#include "core/judging/amounts.hpp"
#include "core/ride/ride.hpp"

/// What the strides of a ride say when its stretches are held against each other: the first bout against the
/// last, one rein against the other, sitting against rising.
namespace aspen::core {

struct StrideChange {
    enum class Between { first_last, left_right, sitting_rising };
    Between between = Between::first_last;
    std::string measure;  ///< as in StrideValues
    Gait gait = Gait::walk;
    double one = 0, other = 0;  ///< means over the strides of each
    double sd = 0;              ///< of their difference
    int strides_one = 0, strides_other = 0;
    double chance = 1;  ///< of so large a difference between strides that do not differ
    /// Whether it stands beside all that was compared with it, at 5 % over all of them.
    bool real = false;
};

/// `strides` in the order they were ridden. A bout is a stretch of one gait, seat and side; one long stretch
/// of at least eighteen strides is held against itself, its first third against its last. Only measures with
/// six strides on both sides, by Welch's t with what neighbouring strides are worth, corrected for how many
/// are compared (Holm); both reins and both seats are compared over all their strides, the seats in tempo and
/// speed alone.
std::vector<StrideChange> stride_changes(std::span<const RideStrides> strides);
/// Each change that is real, in a line; and where bouts were compared and none is, that.
std::vector<std::string> in_words(const std::vector<StrideChange>& changes, const SpokenAmounts& amounts);

}  // namespace aspen::core
