#pragma once

#include <compare>
#include <cstddef>
#include <optional>
#include <string>
#include <vector>

#include "core/body/stretches.hpp"

/// What is said of a ride: how it was ridden, what a finding was seen in, and the coach's word on it.
namespace aspen::core {

/// What a finding was seen in: the same fault in another gait, seat or on the other side is another finding.
struct SeenIn {
    std::optional<Gait> gait;
    std::optional<Seat> seat;
    std::string side;  ///< of the body that was seen: left, right; "" from front and rear
    friend auto operator<=>(const SeenIn&, const SeenIn&) = default;
};
/// What a stretch is seen in. From the side the rider's side nearer the camera: travelling right shows the
/// right one.
SeenIn seen_in(const Stretch& stretch);
/// "trot rising, left side"; what was not said is left out.
std::string spoken(const SeenIn& seen);

/// A part of the rider's body that does not do what is asked of everyone.
struct LimitedPart {
    std::string part, side;  ///< side: left, right, both or ""
};
/// What a whole ride says of the bands of its moments.
struct RideContext {
    std::string school, level;         ///< "" when not said
    std::vector<std::string> horse{};  ///< its notes, as Setting has them
    std::optional<Mount> mount{};
    std::vector<LimitedPart> body{};
};
/// What the coach says of a fault. `asked_back`: waiting for the rider's answer to "did you ask for that?".
enum class Decision { open, accepted, changed, rejected, asked_back };

struct Decided {
    std::string fault;
    SeenIn seen;
    Decision decision = Decision::open;
    std::string changed_to;  ///< the fault the coach calls it instead
    double measured_severity = 0;
};

/// What the coach's eye said of a fault in a moment.
struct CheckAnswer {
    enum class Said { good, fault, cannot_see };
    std::string id;  ///< of a check, fault, state, strength or the horse's answer
    Said said = Said::good;
    std::size_t moment = 0;  ///< in RideData::moments
};

}  // namespace aspen::core
