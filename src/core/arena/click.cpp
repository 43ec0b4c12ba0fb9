#include "core/arena/click.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <ostream>

#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

constexpr double kClickSeconds = 0.04;

void little_endian(std::ostream& out, std::uint32_t value, int bytes) {
    for (int i = 0; i < bytes; ++i) out.put(static_cast<char>(value >> (8 * i) & 0xff));
}

void check_wish(const ClickWish& w) {
    const auto within = [](const char* what, double v, double least, double most) {
        if (!(v >= least) || !(v <= most))
            throw Refused(fmt::format("{} {:g}: must be {:g} to {:g}", what, v, least, most));
    };
    within("tempo", w.tempo_per_min, 30, 150);
    within("beats", w.beats, 1, 4);
    within("count", w.count, 2, 20);
    within("seconds", w.seconds, 1, 3600);
    if (w.pattern == ClickPattern::two_up_one_down && w.beats != 2)
        throw Refused("two_up_one_down: is ridden in trot, which has two beats a stride");
}

}  // namespace

ClickPattern click_pattern_from(std::string_view word) {
    if (word == "strides") return ClickPattern::strides;
    if (word == "two_up_one_down") return ClickPattern::two_up_one_down;
    if (word == "count") return ClickPattern::count;
    throw Refused(fmt::format("pattern \"{}\": must be strides, two_up_one_down or count", word));
}

std::vector<Click> clicks(const ClickWish& w) {
    check_wish(w);
    const double beat = 60 / (w.tempo_per_min * w.beats);
    const int cycle = w.pattern == ClickPattern::strides           ? w.beats
                      : w.pattern == ClickPattern::two_up_one_down ? 3
                                                                   : w.beats * w.count;
    // Up, up, down: the third of each three is the sit.
    const int accented = w.pattern == ClickPattern::two_up_one_down ? 2 : 0;
    std::vector<Click> out;
    for (int i = 0; i * beat < w.seconds; ++i) out.push_back({i * beat, i % cycle == accented});
    return out;
}

std::vector<float> click_samples(const ClickWish& w) {
    std::vector<float> out(static_cast<std::size_t>(std::lround(w.seconds * kClickRate)), 0.0F);
    const int length = static_cast<int>(kClickSeconds * kClickRate);
    for (const Click& c : clicks(w)) {
        const auto start = static_cast<std::size_t>(std::lround(c.time_s * kClickRate));
        const double hz = c.accent ? 1600 : 1000, loud = c.accent ? 0.9 : 0.5;
        for (int i = 0; i < length && start + static_cast<std::size_t>(i) < out.size(); ++i) {
            const double t = static_cast<double>(i) / kClickRate;
            out[start + static_cast<std::size_t>(i)] +=
                static_cast<float>(loud * std::exp(-t / 0.008) * std::sin(2 * std::numbers::pi * hz * t));
        }
    }
    return out;
}

void write_wav(std::ostream& out, const std::vector<float>& samples, int rate) {
    const auto bytes = static_cast<std::uint32_t>(samples.size() * 2);
    const auto hz = static_cast<std::uint32_t>(rate);
    out << "RIFF";
    little_endian(out, 36 + bytes, 4);
    out << "WAVEfmt ";
    little_endian(out, 16, 4);
    little_endian(out, 1, 2);  // PCM
    little_endian(out, 1, 2);  // one channel
    little_endian(out, hz, 4);
    little_endian(out, hz * 2, 4);
    little_endian(out, 2, 2);
    little_endian(out, 16, 2);
    out << "data";
    little_endian(out, bytes, 4);
    for (const float s : samples) {
        const auto v = static_cast<std::int16_t>(std::lround(std::clamp(s, -1.0F, 1.0F) * 32767));
        little_endian(out, static_cast<std::uint16_t>(v), 2);
    }
}

}  // namespace aspen::core
