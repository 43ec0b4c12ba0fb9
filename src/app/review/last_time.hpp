#pragma once

#include <QString>
#include <optional>

#include "app/review/bench.hpp"

namespace aspen::app {

/// What was worked on before this ride, and whether this one shows it.
struct LastTime {
    QString focus;       ///< the fault in work
    QString exercise;    ///< "" when none was given
    QString rung;        ///< "rung 2 of 5: rising trot, every third stride"
    QString to_show;     ///< what the next clip was to show
    bool shown = false;  ///< this ride can judge it
    QString says;        ///< "inside now", "still outside", …; or what to film again
};
/// Nothing for a rider without a focus from an earlier ride on this horse.
std::optional<LastTime> last_time(const BenchState& bench);

}  // namespace aspen::app
