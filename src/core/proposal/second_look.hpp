#pragma once

#include <map>

#include "core/body/figure.hpp"
#include "core/motion/motion.hpp"

/// Joints that were followed from marks are held against the reader, which sees every frame by itself: what
/// left its joint is found out, and found again.
namespace aspen::core {

/// Followed joints with those hidden that lie elsewhere than the reader sees them. `read`: the reader's
/// joints of the same clip, both sorted by frame; `marked`: the marks that were followed from, by frame. The
/// reader sees another spot of the clothes: its way is first bent through the marks, linearly between two of
/// them. A joint is lost where the followed one lies apart from that by more than 6 % of the trunk (withers 5
/// %, poll and croup 12 %, which the reader sees roughly; or three times the reader's own error, where that
/// is more), and a joint of the rider's body that is lost or hidden is found again where the reader has it.
/// Limits measured on riders that were not drawn here, tools/measure/riders.py. `trunk_px` > 0. Where the
/// reader's rider is not the one who was marked (further than 0.4 of the trunk off on some mark), or saw
/// nothing, nothing changes.
Tracks held_against_the_reader(Tracks followed, const Tracks& read, const std::map<int, Figure>& marked,
                               double trunk_px);

}  // namespace aspen::core
