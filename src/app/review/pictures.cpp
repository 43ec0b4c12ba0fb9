#include "app/review/pictures.hpp"

#include <QObject>
#include <QSaveFile>
#include <algorithm>
#include <memory>

namespace aspen::app {

QImage to_image(media::Picture picture) {
    auto* kept = new media::Picture(std::move(picture));
    return QImage(
        kept->bgra.data(), kept->width, kept->height, kept->width * 4, QImage::Format_RGB32,
        [](void* p) { delete static_cast<media::Picture*>(p); }, kept);
}

media::Picture to_picture(const QImage& image) {
    const QImage plain =
        image.convertToFormat(QImage::Format_RGB32);  // blue, green, red, filler on this byte order
    media::Picture out;
    out.width = plain.width();
    out.height = plain.height();
    out.bgra.resize(static_cast<std::size_t>(out.width) * static_cast<std::size_t>(out.height) * 4);
    for (int y = 0; y < out.height; ++y)
        std::copy_n(plain.constScanLine(y), out.width * 4,
                    out.bgra.data() + static_cast<std::ptrdiff_t>(y) * out.width * 4);
    return out;
}

QString write_picture(const QImage& picture, const QString& file) {
    QSaveFile out(file);
    if (out.open(QIODevice::WriteOnly) && picture.save(&out, "PNG") && out.commit()) return {};
    return QObject::tr("%1: cannot be written; choose another folder.").arg(file);
}

}  // namespace aspen::app
