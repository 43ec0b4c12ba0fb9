#pragma once

#include <QByteArray>
#include <QString>

namespace aspen::app {

/// Writes a file that gets its name only when it is whole. Gives one line of trouble, or nothing. Any thread.
QString write_whole(const QString& file, const QByteArray& bytes);

}  // namespace aspen::app
