#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/judging/faults.hpp"

namespace aspen::core {

/// A fault that could be worked on, in one gait and seat and on one side of the body.
struct FocusCandidate {
    FoundFault found;
    std::optional<Gait> gait;
    std::optional<Seat> seat;
    std::string side;      ///< of the body; "" when the fault has none
    bool covered = false;  ///< only a part of another: weighs nothing, and passes on what it drives
};
/// A fault that is worked on, and in what; empty where it was not said, which is all of it.
struct InWork {
    std::string fault;
    std::optional<Gait> gait{};
    std::optional<Seat> seat{};
    std::string side{};
    bool inside_before =
        false;  ///< the last ride before this one that showed it was inside, if by one moment
    InWork(std::string id) : fault(std::move(id)) {}
    InWork(std::string id, std::optional<Gait> g, std::optional<Seat> s, std::string body_side)
        : fault(std::move(id)), gait(g), seat(s), side(std::move(body_side)) {}
    /// Whether a finding of this gait, seat and side says something of it; a side left unsaid is both.
    bool in(std::optional<Gait> g, std::optional<Seat> s, std::string_view body_side) const {
        return (!gait || gait == g) && (!seat || seat == s) &&
               (side.empty() || body_side.empty() || side == body_side);
    }
};
/// Moments or strides inside from which on a ride is inside for what is in work; one is enough where the ride
/// before was inside as well.
inline constexpr int kFewestInside = 3;
/// What this ride says of what is in work.
struct WorkSeen {
    InWork work;
    bool held = false;   ///< inside for it: the next one is looked at
    int inside = 0;      ///< moments or strides
    bool shown = false;  ///< this ride could judge it, in the gait and seat below
    std::optional<Gait> gait{};
    std::optional<Seat> seat{};
};
struct FocusRequest {
    std::vector<FocusCandidate> candidates;
    std::vector<WorkSeen> in_work;  ///< faults of earlier rides that are worked on, foremost first
    std::string level;              ///< "beginner" holds back what needs an independent seat first
};

/// The one thing to work on, and one sentence of reason.
struct Focus {
    struct RunnerUp {
        const Fault* fault = nullptr;
        std::string why_not;
    };
    const Fault* fault = nullptr;
    std::string why;
    std::optional<Gait> gait{};  ///< empty too where a focus in work was not judged in this ride
    std::optional<Seat> seat{};
    std::vector<RunnerUp> runners_up{};
};

/// Edges of the book between candidates of one gait and seat (or of the two gaits that an edge joins), of the
/// same side of the body or with one side unsaid.
std::vector<Cause> causes_among(const std::vector<FocusCandidate>& candidates,
                                const std::vector<Cause>& book);

/// Chooses among the certain faults that are not seen once. Safety interrupts; then a focus in work stays
/// until this ride is inside for it, in the gait, seat and side it is worked on; then base, trunk, head,
/// arms, fine, within a class by own weight plus the weights of the certain effects it reaches (together
/// counted up to three times its own). A fault that weighs less than a fifth of the heaviest is slight:
/// chosen only when nothing else stands. An ancestor of a later class goes first when everything between is
/// certain or covered and it weighs at least a quarter of all it reaches.
std::optional<Focus> choose_focus(const FocusRequest& request, const FaultBook& book);

}  // namespace aspen::core
