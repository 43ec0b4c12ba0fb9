#pragma once

#include <filesystem>

#include "media/reading/picture.hpp"

namespace aspen::media {

/// Writes a picture as PNG without loss; the file bears its name only when it is whole. Throws core::Refused
/// when it cannot be written.
void write_png(const Picture& picture, const std::filesystem::path& file);

}  // namespace aspen::media
