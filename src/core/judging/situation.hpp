#pragma once

#include <string>
#include <string_view>

#include "core/judging/schools.hpp"

namespace aspen::core {

/// What the situation makes of a measure (TRADE, common practice): without stirrups, with the hands busy, on
/// a circle and in the moment of an aid some measures are not judged and some bands move.
struct Situated {
    std::string suspended;  ///< why the measure is not judged; "" when it is
    std::string note;       ///< why the band was moved; "" when it was not
};

/// Moves `band` as the setting asks, and says so. `half_width` stays the band's own.
Situated situate(std::string_view measure, const Setting& setting, Band& band);

}  // namespace aspen::core
