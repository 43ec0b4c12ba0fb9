#pragma once

#include <QFileInfo>
#include <QString>

/// The one place where words become names of files.
namespace aspen::app {

/// Words as the name of a file, or a part of one, on any disk or stick: letters and digits of any script in
/// lower case, all else a hyphen, at most 80 bytes, never empty, never a path, never hidden.
QString as_file_name(const QString& words);
/// The same of a file that is there, its ending kept where it is a plain one.
QString as_file_name(const QFileInfo& file);

}  // namespace aspen::app
