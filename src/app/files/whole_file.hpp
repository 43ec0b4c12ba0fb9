#pragma once

#include <QByteArray>
#include <QString>

namespace aspen::app {

/// Whether there is something of that name that bytes are poured into, a device or a pipe: it is written to
/// as it stands, never replaced.
bool is_stream(const QString& file);

/// Writes a file that gets its name only when it is whole. Gives one line of trouble, or nothing. Any thread.
QString write_whole(const QString& file, const QByteArray& bytes);

}  // namespace aspen::app
