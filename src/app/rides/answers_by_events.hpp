#pragma once

#include <vector>

#include "core/body/stretches.hpp"
#include "store/records.hpp"

namespace aspen::app {

/// What logged events answer of eye checks: a wrong lead or diagonal is that fault, a right one is good. A
/// lead is held against the one that the last aid within 5 s asked for, else against the rein; where neither
/// was said it tells nothing; in a stretch of counter-canter the rein means the other lead. A `wrong_lead` up
/// to 5 s after a lead is said of that one. Seen at the frame of the event. `events`: of the ride; only those
/// of this place in the clip count.
std::vector<store::Answer> answers_by_events(const store::Clip& clip, int slot,
                                             const core::Stretches& stretches,
                                             std::vector<store::Event> events);

}  // namespace aspen::app
