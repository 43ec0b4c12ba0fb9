#pragma once

#include <QString>

#include "app/bench.hpp"

namespace aspen::app {

/// Writes all marked moments of the open clip as COCO JSON. Passes the gate. Returns one line of trouble, or nothing.
QString export_marks(Bench& bench, const QString& file);

/// Takes the moments of a COCO file into the open clip as one undo step; a moment at the same frame is replaced joint by
/// joint. Frames and times must be this clip's. Returns one line of trouble, or nothing.
QString import_marks(Bench& bench, const QString& file);

}  // namespace aspen::app
