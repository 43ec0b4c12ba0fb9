#include "ui/shared/save_place.hpp"

#include <QDir>
#include <QStandardPaths>

namespace aspen::ui {

QString save_place(Kept kind, const QString& name) {
    const auto where = kind == Kept::film      ? QStandardPaths::MoviesLocation
                       : kind == Kept::picture ? QStandardPaths::PicturesLocation
                                               : QStandardPaths::DocumentsLocation;
    const QDir folder(QStandardPaths::writableLocation(where));
    return (folder.exists() ? folder : QDir::home()).filePath(name);
}

}  // namespace aspen::ui
