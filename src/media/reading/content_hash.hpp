#pragma once

#include <filesystem>
#include <string>

#include "media/reading/read_watch.hpp"

namespace aspen::media {

/// SHA-256 of a file's bytes in hex: the clip's name in the records, by which it is found again when moved.
/// Throws core::Refused when the file cannot be read, ReadCancelled once `watch` says stop.
std::string content_hash(const std::filesystem::path& file, const ReadWatch& watch = {});

}  // namespace aspen::media
