#pragma once

#include "app/yard/yard.hpp"

namespace aspen::app {

/// What the rider's body does not allow on the day of a ride, as it is understood: limitations that hold that
/// day, and what hurts, which counts like one for that ride.
std::vector<core::Limitation> limits_on(Yard& yard, const store::Ride& ride);

}  // namespace aspen::app
