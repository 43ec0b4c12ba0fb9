#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/motion/happenings.hpp"

/// Whether a rider keeps a count (two up, one down), from `rise` and `sit` logged by key.
namespace aspen::core {

struct CountsKept {
    int rises = 0, sits = 0;  ///< the count that comes most often
    int kept = 0, rounds = 0;
    std::vector<double> off_s{};  ///< where a round that was not kept began
};
/// Rounds of rises and the sits after them; the last is left out, because it may go on. Empty below three
/// rounds.
std::optional<CountsKept> counts_kept(std::vector<Happening> events);
/// "Up 2, sit 1, kept in 7 of 8 rounds; not at 12.3 s"; "" for nothing.
std::string in_words(const std::optional<CountsKept>& counts);

}  // namespace aspen::core
