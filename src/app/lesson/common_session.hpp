#pragma once

#include <QString>
#include <string>
#include <utility>
#include <vector>

#include "app/rides/rider_plan.hpp"
#include "app/yard/yard.hpp"

/// What is ridden in a lesson and by whom: nothing that one of its riders may not ride. Knows nothing of the
/// clock.
namespace aspen::app {

/// Why a rider may not ride at all today, or "".
QString held_today(Yard& yard, store::RiderId rider);

/// The session that all ride, as JSON, and what it is for.
struct CommonSession {
    std::string json, task;
    /// The coach's own order of the blocks was left, because something in it has become forbidden.
    bool own_order_left = false;
};
/// The first rider's plan, of which every other rides a variant: the coach's own order where one rides alone
/// and nothing in it has become forbidden, else planned for all of them. Throws Refused as plan_session does,
/// and where the first rider is not in the yard.
CommonSession common_session(Yard& yard, const std::vector<std::pair<store::RiderId, store::HorseId>>& pairs,
                             int minutes);

/// Why a rider does not ride a block, on the horse of this ride and after what that horse has done today; ""
/// where nothing keeps from it.
QString shut_for(Yard& yard, const store::Ride& ride, const std::optional<RidersPlan>& plan,
                 const core::Block& block, const HorseLoad& load);

}  // namespace aspen::app
