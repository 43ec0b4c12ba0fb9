#pragma once

#include "app/review/marking.hpp"
#include "app/review/review.hpp"
#include "app/review/ride_findings.hpp"
#include "core/knowledge/knowledge.hpp"

namespace aspen::app {

/// What stands on the bench, to be looked at: whole after every step, good until the next. Whoever shows it
/// changes nothing through it; what the coach wants is said to whoever may change it.
struct BenchState {
    const ClipDeck& deck;
    const Review& review;
    const Marking& marking;
    const RideFindings& findings;
    const core::Knowledge& knowledge;

    bool is_open() const { return review.is_open(); }
};

}  // namespace aspen::app
