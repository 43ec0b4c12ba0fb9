#pragma once

#include <span>
#include <string>

#include "core/body/vocabulary.hpp"

namespace aspen::core {

/// A moment already named, for guessing when the same comes again.
struct NamedInstant {
    double real_s;
    std::string phase;
};

/// Seconds of one stride: from the two nearest moments of the same phase that lie 0.6 to 1.7 typical strides
/// apart, else what the gait usually has. 0 for a gait without strides.
double stride_guess_s(std::span<const NamedInstant> named, const std::string& phase, Gait gait);

}  // namespace aspen::core
