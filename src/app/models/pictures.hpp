#pragma once

#include <QImage>

#include "media/reading/picture.hpp"

namespace aspen::app {

/// The same pixels as a Qt image; the picture's memory goes along.
QImage to_image(media::Picture picture);

}  // namespace aspen::app
