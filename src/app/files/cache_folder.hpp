#pragma once

#include <QString>

namespace aspen::app {

/// The folder for what can be made again (frame orders, previews), in the desktop's cache folder. What is
/// oldest there goes when it is larger than the budget. Called once at start.
QString cache_folder();

}  // namespace aspen::app
