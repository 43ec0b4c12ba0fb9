#pragma once

#include <QString>

namespace aspen::ui {

/// What is saved, by where people keep such things.
enum class Kept { film, picture, paper };

/// The file a save dialog begins with: in the desktop's folder for films, pictures or papers, never where the
/// program happened to be started; the home folder where the desktop has none.
QString save_place(Kept kind, const QString& name);

}  // namespace aspen::ui
