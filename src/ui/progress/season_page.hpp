#pragma once

#include "app/following/progress_desk.hpp"
#include "app/leaving/gate.hpp"

namespace aspen::ui {

/// A rider's season on two pages: what stands, then every correction as its lane with the sentences that go
/// with it; what has no room is named. Gives the line that is said.
QString print_season(const app::Permit& permit, const app::ProgressDesk& desk, const QString& file);

}  // namespace aspen::ui
