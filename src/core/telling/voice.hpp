#pragma once

#include <cstdint>
#include <vector>

#include "core/telling/telling.hpp"

/// Sums on a recorded voice: one channel of 16-bit samples.
namespace aspen::core {

using Voice = std::vector<std::int16_t>;

/// The parts that are told, one after the other, each joint crossed over within 5 ms so that it does not
/// click. The result is as long as the cuts, to the sample; what was not recorded is silent.
Voice told_voice(const Voice& recorded, int rate_hz, const std::vector<Cut>& cuts);

/// The loudest sample of each of `count` equal parts, 0 to 1: what a sound wave is drawn from.
std::vector<float> peaks(const Voice& voice, std::size_t count);

/// Where nobody speaks for at least so long: short-time power (20 ms) below a fiftieth of what speech has
/// here (its 90th percentile; common practice, no source). Seconds of this voice.
std::vector<Cut> pauses(const Voice& voice, int rate_hz, double at_least_s = 0.7);

}  // namespace aspen::core
