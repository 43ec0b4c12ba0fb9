#pragma once

#include "app/leaving/gate.hpp"
#include "app/review/bench.hpp"

namespace aspen::app {

/// Writes what happened in the open clip's shown slot as CSV; passes the gate. Returns one line of trouble,
/// or nothing.
QString export_events(Bench& bench, const QString& file);
/// Takes events into the open clip's shown slot, as one step; those that are there already are not doubled.
/// Returns one line of trouble, or nothing.
QString import_events(Bench& bench, const QString& file);

}  // namespace aspen::app
