#pragma once

#include "app/following/progress_desk.hpp"
#include "app/leaving/gate.hpp"

namespace aspen::ui {

/// A rider's season on two pages: what stands, then every correction as its lane with the sentences that go
/// with it; what has no room is named. Gives the line that is said.
QString print_season(const app::Permit& permit, const app::ProgressDesk& desk, const QString& file);

/// One correction as a picture to send or to pin up: whose, its sentence, its lane; no frame of a film in it.
/// Gives the line that is said.
QString save_lane_picture(const app::Permit& permit, const app::ProgressDesk& desk, const app::Lane& lane,
                          const QString& file);

}  // namespace aspen::ui
