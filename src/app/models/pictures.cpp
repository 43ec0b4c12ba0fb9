#include "app/models/pictures.hpp"

#include <memory>

namespace aspen::app {

QImage to_image(media::Picture picture) {
    auto* kept = new media::Picture(std::move(picture));
    return QImage(
        kept->bgra.data(), kept->width, kept->height, kept->width * 4, QImage::Format_RGB32,
        [](void* p) { delete static_cast<media::Picture*>(p); }, kept);
}

}  // namespace aspen::app
