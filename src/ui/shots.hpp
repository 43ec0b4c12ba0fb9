#pragma once

#include <QString>

#include "ui/main_window.hpp"

namespace aspen::ui {

/// Goes through the demo yard as a coach would and saves a picture of every view. Returns the exit code.
int take_shots(MainWindow& window, app::Yard& yard, const QString& folder);

}  // namespace aspen::ui
