#pragma once

#include <QStringList>

#include "app/review/bench.hpp"
#include "core/motion/motion.hpp"

/// The lap line, and prints of hooves that are measured on the ground.
namespace aspen::app {

/// Keeps two points as what they are. For a lap line the clip's earlier one makes room.
void mark_ground(Bench& bench, store::GroundMarkKind kind, core::Point a, core::Point b);
/// Takes the last mark of this frame away, else the lap line; false where there is none.
bool unmark_ground(Bench& bench);
/// What the prints of this clip say.
QStringList ground_in_words(const BenchState& bench);

/// When the followed rider crosses the lap line, the stream's own clock, where no crossing is logged near:
/// laps proposed. Empty without a line.
std::vector<double> laps_seen(Bench& bench, const core::Tracks& tracks);
/// Logs them as one step; gives how many.
int log_laps_seen(Bench& bench, const core::Tracks& tracks);

}  // namespace aspen::app
