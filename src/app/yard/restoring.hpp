#pragma once

#include <QDir>
#include <QString>

namespace aspen::app {

/// A backup that was chosen for restoring takes the place of the records, which stay beside it under the
/// day's name. Whole at every instant: yard.db is the old one or the new one. A bad backup is set aside and
/// said in one line; "" when there was nothing to do. Throws core::Refused when the folder does not allow it.
QString put_restored(const QDir& folder);

}  // namespace aspen::app
