#pragma once

#include "core/figure.hpp"
#include "store/records.hpp"

namespace aspen::app {

/// What decides the bands at a frame of a clip: what its stretch says of gait, seat and movement, else what
/// was said of the whole clip. Without gait or seat the school stays empty, and there are no bands.
inline core::Setting setting_at(const store::ClipContext& context, const core::Stretches& stretches,
                                int frame, const std::string& phase) {
    core::Setting s;
    const auto at = core::stretch_at(stretches, frame);
    const core::Stretch none;
    const core::Stretch& stretch = at ? stretches[*at] : none;
    const auto gait = stretch.gait ? stretch.gait : context.gait;
    const auto seat = stretch.seat ? stretch.seat : context.seat;
    if (gait && seat) s.school = context.school;
    s.gait = gait.value_or(core::Gait::walk);
    s.seat = seat.value_or(core::Seat::sitting);
    s.phase = phase;
    s.movement = stretch.shown;
    return s;
}

/// False where the stretch was marked as one that the view cannot judge.
inline bool judged_at(const core::Stretches& stretches, int frame) {
    const auto at = core::stretch_at(stretches, frame);
    return !at || stretches[*at].judged;
}

}  // namespace aspen::app
