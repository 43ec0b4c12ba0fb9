#pragma once

#include <QString>

#include "app/leaving/gate.hpp"
#include "app/rides/lanes.hpp"

namespace aspen::app {

/// All entries of a rider's corrections as a table (docs/formats.md): a row an entry and phase. Gives the
/// line that is said: what was written, or why not.
QString write_entries(Yard& yard, const Permit& permit, const QString& rider, const std::vector<Lane>& lanes,
                      const QString& file);

}  // namespace aspen::app
