#include "app/files/whole_file.hpp"

#include <QFileInfo>
#include <QObject>
#include <QSaveFile>

namespace aspen::app {

bool is_stream(const QString& file) {
    const QFileInfo there(file);
    return there.exists() && !there.isFile() && !there.isDir();
}

QString write_whole(const QString& file, const QByteArray& bytes) {
    const auto done = [&](bool written) {
        return written ? QString() : QObject::tr("%1: cannot be written; choose another folder.").arg(file);
    };
    if (is_stream(file)) {
        QFile target(file);
        return done(target.open(QIODevice::WriteOnly | QIODevice::Unbuffered) &&
                    target.write(bytes) == bytes.size());
    }
    QSaveFile target(file);
    return done(target.open(QIODevice::WriteOnly) && target.write(bytes) == bytes.size() && target.commit());
}

}  // namespace aspen::app
