#pragma once

#include "app/rides/lanes.hpp"

/// A lane in sentences. Internal to rides.
namespace aspen::app {

/// A rider's ride by its horse and day, oldest first.
struct RiddenOn {
    store::HorseId horse;
    QString day;
};
/// Fills in what a lane says: change, why, trend, and why it stands still. `no_practice` is what the practice
/// log explains, "" for nothing.
void tell_story(Lane& lane, const std::vector<RiddenOn>& ridden, const QString& no_practice,
                const QString& today, const core::Knowledge& knowledge, const core::ToWhom& to);

}  // namespace aspen::app
