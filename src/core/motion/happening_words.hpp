#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/motion/happenings.hpp"

/// What was counted, in a coach's words.
namespace aspen::core {

/// "aid off", "position let go"; the word itself where it is not known.
std::string_view spoken_event(std::string_view event);
/// "at K", "in the corner between A and K", "left of the pole's middle".
std::string spoken_place(std::string_view place);
/// "aid, with the heel, left lead asked": the event with its detail.
std::string spoken(const Happening& happening);

/// One line for each thing that was counted, the most telling first; none for nothing. `tempo_per_min`:
/// strides a minute of the gait that was ridden, to say times in strides.
std::vector<std::string> in_words(const HappeningReport& report, std::optional<double> tempo_per_min);

/// "left 5 of 7 right, right 9 of 9 right"; "" where no lead was logged.
std::string leads_in_words(const HappeningSums& sums);

}  // namespace aspen::core
