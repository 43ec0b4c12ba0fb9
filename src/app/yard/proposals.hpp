#pragma once

#include <optional>

#include "app/yard/yard.hpp"

namespace aspen::app {

/// What a ride that came in seems to be, from its file's name and when it was filmed. Nothing of it counts
/// until the coach says yes.
struct RideProposal {
    store::RiderId rider;
    store::HorseId horse;
    std::optional<store::RideId>
        with;  ///< one ride with this one: filmed shortly before, nothing speaks against it
    bool empty() const { return !rider && !horse && !with; }
};

/// Names of riders and horses as words in a file's name ("joss-fig-canter.mp4"), each only where one alone
/// fits; else the rider's only horse so far. Films of one day that follow each other within twenty minutes
/// seem to be one ride.
RideProposal propose(Yard& yard, const store::RideLine& line, const std::vector<store::RideLine>& waiting);
/// "Joss Penhallow on Fig?", "one ride with the one above?"; "" for nothing.
QString in_words(Yard& yard, const RideProposal& proposal);
/// Does what was proposed, as one step.
void accept_proposal(Yard& yard, store::RideId ride, const RideProposal& proposal);

}  // namespace aspen::app
