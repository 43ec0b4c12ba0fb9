#pragma once

#include <functional>

#include "app/leaving/gate.hpp"
#include "app/review/bench.hpp"

namespace aspen::app {

/// Writes the marked moments of the open clip beside each other as one picture, each with its phase, figure
/// and findings, faces covered: a job that passes the gate. Gives one line when it cannot start; `said` is
/// told how it ended.
QString write_phases(Bench& bench, const QString& file, const std::function<void(const QString&)>& said);

}  // namespace aspen::app
