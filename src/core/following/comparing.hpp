#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/judging/judgement.hpp"

/// Two moments held against each other.
namespace aspen::core {

/// One measure at both moments, the second less the first. `real`: beyond the smallest detectable change,
/// 1.96 times `sd`, and on two days beyond what a good and a bad day differ by: one moment each carries only
/// three times the root of two forms.
struct MeasureDifference {
    const MeasureInfo* info = nullptr;
    Judged first, second;
    double by = 0, sd = 0;
    bool real = false;
};
/// Every measure that both moments give a value for, in the column's order. Errors of both count; what a
/// clip's camera shares between two moments of one clip is counted twice, which is on the safe side.
/// `on_two_days`: says how much days differ; nullptr for moments of one ride.
std::vector<MeasureDifference> differences_between(const std::vector<Judged>& first,
                                                   const std::vector<Judged>& second,
                                                   const Body* on_two_days = nullptr);

/// A moment as it was filmed and ridden, as far as that can spoil a comparison.
struct Shown {
    View view = View::side;
    Travel travel = Travel::unknown;
    double yaw_deg = 0, yaw_sd_deg = 7;
    bool yaw_said = false;
    Setting setting;
    std::string horse;  ///< name
    std::string saddle;
    bool slowed = false;    ///< the clip's slow motion was said by hand
    bool time_sure = true;  ///< its times are the stream's own
};
/// What spoils the comparison, each in one sentence that says what to do about it, the worst first; empty
/// where nothing does. `same_side_wanted` is false where two reins are held against each other on purpose.
std::vector<std::string> spoilers(const Shown& first, const Shown& second, bool same_side_wanted = true);

}  // namespace aspen::core
