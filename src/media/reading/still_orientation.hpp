#pragma once

#include <filesystem>
#include <span>

namespace aspen::media {

/// How a photograph was held, as Exif numbers it (tag 0x0112, 1 … 8): in a PNG's eXIf chunk (PNG, third
/// edition, 11.3.3.4) and in a TIFF's first directory (TIFF 6.0, section 8). The video libraries say it of
/// JPEG and WebP. 1 where it is not said, or not sayable.
int still_orientation(const std::filesystem::path& file);

/// The same in a TIFF header with its first directory.
int orientation_in_tiff(std::span<const unsigned char> bytes);

}  // namespace aspen::media
