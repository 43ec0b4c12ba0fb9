#pragma once

#include <string>
#include <vector>

#include "core/knowledge/knowledge.hpp"

/// Why a fault was said: its rule in words a coach can read and disagree with.
namespace aspen::core {

/// One condition of a rule, in words. `depth`: conditions under "one of these" stand one deeper.
struct RuleLine {
    std::string words;
    std::string measure;  ///< "" for a check or a heading
    int depth = 0;
};
std::vector<RuleLine> rule_in_words(const Fault& fault, const Knowledge& knowledge);

/// Where a rule is asked, "in trot and canter, in rising"; "" when everywhere.
std::string asked_in_words(const WhereAsked& where);

/// What a measure was in this moment against its band: "26.0° ± 1.9, band 0 to 12 of Classical; moved because
/// …". "not judged: …" where it was not.
std::string held_against(const Judged& judged, const Schools& schools);

}  // namespace aspen::core
