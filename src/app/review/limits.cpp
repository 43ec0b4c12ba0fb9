#include "app/review/limits.hpp"

#include "app/training/rider_plan.hpp"

namespace aspen::app {

std::vector<core::Limitation> limits_on(Yard& yard, const store::Ride& ride) {
    if (ride.rider)
        return needs_of(yard.records(), yard.knowledge(), ride.rider, ride.horse, ride.day, &ride)
            .limitations;
    auto hurts = yard.knowledge().exercises.understood(ride.own.hurts, {}, {});
    if (ride.own.hurts.empty() || !hurts) return {};
    return {*std::move(hurts)};
}

}  // namespace aspen::app
