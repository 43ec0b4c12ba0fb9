#pragma once

#include <QByteArray>
#include <QString>
#include <optional>

#include "app/leaving/gate.hpp"
#include "app/review/bench.hpp"

namespace aspen::app {

/// A part of a clip that becomes a clip of its own: its frame 0 is the old frame `from`.
struct MarksPart {
    int from = 0, to = 0;
    QString file_name;
};

/// The marked moments of the open clip as COCO JSON, all of them or those of a part with the part's own frame
/// numbers and times.
QByteArray marks_json(Bench& bench, const Permit& permit,
                      const std::optional<MarksPart>& part = std::nullopt);

/// Writes them; passes the gate. Returns one line of trouble, or nothing.
QString export_marks(Bench& bench, const QString& file);

/// The open clip in words for the log of what left: its file, and the frames where it is a part.
std::string about_clip(Bench& bench, int from = -1, int to = -1);

/// Takes the moments of a COCO file into the open clip as one undo step; a moment at the same frame is
/// replaced joint by joint. Frames and times must be this clip's. Returns one line of trouble, or nothing.
QString import_marks(Bench& bench, const QString& file);

}  // namespace aspen::app
