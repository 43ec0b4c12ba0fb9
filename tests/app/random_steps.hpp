#pragma once

#include <random>

#include "app/yard/changes.hpp"

namespace aspen::app {

/// Carries out one random step of a coach's work, the same for the same engine and records; some are refused
/// on purpose. Gives the step's name.
QString random_step(Yard& yard, std::mt19937& engine);
/// A yard's beginnings for them: riders, horses, clips with their rides.
void plant_yard(Yard& yard);

}  // namespace aspen::app
