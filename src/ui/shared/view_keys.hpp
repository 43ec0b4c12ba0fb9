#pragma once

#include <QKeySequence>
#include <QList>
#include <QString>

namespace aspen::ui {

/// The keys of an action outside the bench: of the yard's lists, Prescribe, and what works everywhere. All in
/// one table beside the bench's own (key_map.cpp); an id that is not there has none.
QList<QKeySequence> view_keys(const QString& id);
/// Every id of that table with the view it belongs to; "everywhere" for those of the window.
QList<std::pair<QString, QString>> view_key_ids();

}  // namespace aspen::ui
