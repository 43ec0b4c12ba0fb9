#pragma once

#include <cstdint>
#include <filesystem>
#include <optional>
#include <vector>

#include "media/reading/read_watch.hpp"

namespace aspen::media {

/// A clip's sound as it is sent to a loudspeaker.
struct SoundTrack {
    static constexpr int kRate = 48'000;           ///< samples a second and channel
    static constexpr double kLongest_s = 15 * 60;  ///< longer clips stay silent past this
    std::vector<std::int16_t> samples;             ///< two channels, interleaved
    double start_s = 0;                            ///< the stream's own time of the first sample
};

/// Reads all of a clip's sound. Nothing where there is none or it cannot be decoded: a silent clip is no
/// error. Throws ReadCancelled.
std::optional<SoundTrack> read_sound(const std::filesystem::path& file, const ReadWatch& watch);

}  // namespace aspen::media
