#pragma once

#include "app/leaving/gate.hpp"
#include "app/review/stride_work.hpp"

namespace aspen::app {

/// Writes where the joints of the stretch shown were followed to as CSV, on the stream's clock; passes the
/// gate. Returns one line of trouble, or nothing.
QString export_tracks(Bench& bench, const StrideWork& work, const QString& file);

}  // namespace aspen::app
