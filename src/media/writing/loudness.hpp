#pragma once

#include <cstdint>
#include <vector>

namespace aspen::media {

/// How loud one channel of samples is, by EBU R 128 / ITU-R BS.1770 as FFmpeg's `ebur128` measures it.
struct Loudness {
    double integrated_lufs = -70;  ///< -70: silent, or shorter than a gate
    double true_peak_dbfs = -100;
};
Loudness loudness_of(const std::vector<std::int16_t>& voice, int rate_hz);

/// EBU R 128: programmes lie at -23 LUFS, and no true peak above -1 dBTP.
inline constexpr double kTargetLufs = -23, kHighestPeak_dbtp = -1;

/// The same voice at the target loudness, peaks held below the highest. Silence stays silence. Throws
/// core::Refused when the filters are missing.
std::vector<std::int16_t> levelled(const std::vector<std::int16_t>& voice, int rate_hz);

}  // namespace aspen::media
