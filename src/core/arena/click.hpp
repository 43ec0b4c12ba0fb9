#pragma once

#include <cstdint>
#include <iosfwd>
#include <string>
#include <string_view>
#include <vector>

/// A click track at a horse's own good tempo, with accents that say when to sit or when a count begins.
namespace aspen::core {

enum class ClickPattern {
    strides,          ///< the first beat of every stride accented
    two_up_one_down,  ///< trot: rise for two beats, sit for one; the sit is accented
    count             ///< the first beat of every N strides accented
};
/// strides, two_up_one_down or count. Throws Refused.
ClickPattern click_pattern_from(std::string_view word);

struct ClickWish {
    double tempo_per_min = 78;  ///< strides a minute, 30 … 150
    int beats = 2;              ///< a stride: walk 4, trot 2, canter 3
    ClickPattern pattern = ClickPattern::strides;
    int count = 5;        ///< strides a count, 2 … 20
    double seconds = 60;  ///< 1 … 3600
};

struct Click {
    double time_s = 0;
    bool accent = false;
};
/// Every beat with its time, the first at 0. Throws Refused naming what is out of range.
std::vector<Click> clicks(const ClickWish& wish);

inline constexpr int kClickRate = 44100;
/// Mono, −1 … 1, `kClickRate` a second: a short sine of 1 kHz for a beat and of 1.6 kHz for an accent, each
/// starting exactly at the nearest sample and dying away within 40 ms.
std::vector<float> click_samples(const ClickWish& wish);
/// As a WAV file of 16-bit PCM (RIFF, format tag 1).
void write_wav(std::ostream& out, const std::vector<float>& samples, int rate = kClickRate);

}  // namespace aspen::core
