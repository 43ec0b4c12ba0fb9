#pragma once

#include "app/review/ride_findings.hpp"
#include "core/ride/ride.hpp"

namespace aspen::app {

/// A fault of the ride as it is listed: what all its moments together say and what the coach decided.
struct FindingRow : core::RideFinding {
    int frame = -1;        ///< the moment attached to it; -1 none
    store::ClipId clip{};  ///< in which the attached moment lies
    /// Names the row: the same fault in another gait, seat or on the other side is another row.
    std::string key() const;
};

}  // namespace aspen::app
