#pragma once

#include <QImage>

#include "media/reading/picture.hpp"

namespace aspen::app {

/// The same pixels as a Qt image; the picture's memory goes along.
QImage to_image(media::Picture picture);

/// The other way; copied.
media::Picture to_picture(const QImage& image);

/// Writes it as PNG, whole or not at all. Gives one line of trouble, or nothing. Any thread.
QString write_picture(const QImage& picture, const QString& file);

}  // namespace aspen::app
