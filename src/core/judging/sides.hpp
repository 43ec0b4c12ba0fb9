#pragma once

#include "core/judging/faults.hpp"
#include "core/judging/said.hpp"

/// Which findings belong to a side of the body.
namespace aspen::core {

/// Legs and arms seen from the side are the one nearer the camera's; trunk, head, seat and horse have no
/// side.
bool has_side(const Fault& fault);
/// What a finding of this fault is kept under, seen in a stretch like this.
SeenIn seen_for(const Fault& fault, SeenIn seen);
/// Whether two findings need their gait, seat or side said to be told apart.
bool told_apart(const SeenIn& a, const SeenIn& b);

}  // namespace aspen::core
