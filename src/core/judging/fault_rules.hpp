#pragma once

#include <functional>
#include <map>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <string_view>
#include <vector>

#include "core/judging/judgement.hpp"
#include "core/reading/refused.hpp"

namespace aspen::core::reading {
class Entry;
}

/// What the rules of faults and strengths are made of: conditions on measures and on what the coach's eye
/// answered.
namespace aspen::core {

/// One condition of a rule.
struct Condition {
    /// inward: towards the inside of the circle that is ridden.
    enum class Side { below, above, either, inside, inward };
    std::string measure;
    Side side = Side::below;
    std::string check;                ///< instead of a measure: an eye check
    bool answered_good = false;       ///< of the check: which answer is asked for
    std::vector<View> views;          ///< asked only in these views; empty: in all
    std::vector<Condition> any, all;  ///< instead of either: one of them, or all of them
};

/// What the eye said in a moment: check by id, true where the fault is there, false where it is good.
using EyeAnswers = std::map<std::string, bool, std::less<>>;

/// Where a rule is asked: empty lists mean everywhere.
struct WhereAsked {
    std::vector<View> views;
    std::vector<Seat> seats;
    std::vector<Gait> gaits;
    std::vector<std::string> phases, not_phases, movements;
    bool needs_stirrups = false;

    bool holds(const Setting& setting, View view) const;
};
WhereAsked read_where(const reading::Entry& entry);
/// The list of conditions of a rule; throws Refused naming file, entry and field.
std::vector<Condition> read_conditions(const nlohmann::json& list, const std::string& file,
                                       const std::string& entry);

/// What one moment says of a rule.
struct RuleSays {
    /// In rising order of what stands for it; unknown: the moment cannot tell.
    enum class How { no, unsure, doubtful, yes, unknown };
    How how = How::unknown;
    double severity = 0;
    Beyond toward = Beyond::neither;  ///< of the first measure that says so
    double past = 0;                  ///< of the same: how far off zero it certainly is, its unit
    std::vector<std::string> evidence{};
    std::vector<std::string> wanted{};  ///< checks that would settle it, when all else is certain
};
/// All conditions must hold.
RuleSays evaluate(const std::vector<Condition>& when, const std::vector<Judged>& judged,
                  const Setting& setting, View view, const EyeAnswers& eye);

/// The first measure a rule asks; "" when it asks none.
std::string_view leading_measure(const std::vector<Condition>& when);
/// Every condition of a rule, whatever it is nested in.
void each_condition(const std::vector<Condition>& when, const std::function<void(const Condition&)>& f);

}  // namespace aspen::core
