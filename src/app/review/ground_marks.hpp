#pragma once

#include <QStringList>

#include "app/review/bench.hpp"

/// The lap line, and prints of hooves that are measured on the ground.
namespace aspen::app {

/// Keeps two points as what they are. For a lap line the clip's earlier one makes room.
void mark_ground(Bench& bench, store::GroundMarkKind kind, core::Point a, core::Point b);
/// Takes the last mark of this frame away, else the lap line; false where there is none.
bool unmark_ground(Bench& bench);
/// What the prints of this clip say.
QStringList ground_in_words(Bench& bench);

}  // namespace aspen::app
