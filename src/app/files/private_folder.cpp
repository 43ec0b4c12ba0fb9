#include "app/files/private_folder.hpp"

#include <QDir>
#include <QFile>

namespace aspen::app {

bool make_private_folder(const QString& path) {
    constexpr auto kOwner = QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner;
    const QDir dir(QDir::cleanPath(path));
    if (!dir.exists()) {
        const QString above = QFileInfo(dir.absolutePath()).path();
        if (above != dir.absolutePath() && !QDir(above).exists() && !make_private_folder(above)) return false;
        if (!QDir().mkdir(dir.absolutePath()) && !dir.exists()) return false;
    }
    QFile::setPermissions(dir.absolutePath(), kOwner);
    return true;
}

}  // namespace aspen::app
