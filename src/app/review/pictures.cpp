#include "app/review/pictures.hpp"

#include <QObject>
#include <QSaveFile>
#include <memory>

namespace aspen::app {

QImage to_image(media::Picture picture) {
    auto* kept = new media::Picture(std::move(picture));
    return QImage(
        kept->bgra.data(), kept->width, kept->height, kept->width * 4, QImage::Format_RGB32,
        [](void* p) { delete static_cast<media::Picture*>(p); }, kept);
}

QString write_picture(const QImage& picture, const QString& file) {
    QSaveFile out(file);
    if (out.open(QIODevice::WriteOnly) && picture.save(&out, "PNG") && out.commit()) return {};
    return QObject::tr("%1: cannot be written; choose another folder.").arg(file);
}

}  // namespace aspen::app
