#pragma once

#include <string>

#include "core/body/figure.hpp"

namespace aspen::core {

/// Top or bottom of the rise, proposed from where the hip stands above the cantle (trunk lengths; from
/// memory: seated it lies less than a ninth of the trunk above it, at the top more than a sixth). "" in
/// between, from front and rear, and where hip, shoulder or cantle are not marked.
std::string rise_phase(const Figure& figure);

}  // namespace aspen::core
