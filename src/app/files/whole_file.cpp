#include "app/files/whole_file.hpp"

#include <QObject>
#include <QSaveFile>

namespace aspen::app {

QString write_whole(const QString& file, const QByteArray& bytes) {
    QSaveFile target(file);
    const bool written =
        target.open(QIODevice::WriteOnly) && target.write(bytes) == bytes.size() && target.commit();
    return written ? QString() : QObject::tr("%1: cannot be written; choose another folder.").arg(file);
}

}  // namespace aspen::app
