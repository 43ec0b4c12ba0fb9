#pragma once

#include <QString>

namespace aspen::app {

/// Makes a folder, and those above it that are missing, for its owner alone (0700), also where it was there
/// before with more. False where it cannot be made.
bool make_private_folder(const QString& path);

}  // namespace aspen::app
