#include "core/telling/voice.hpp"

#include <algorithm>
#include <cmath>

namespace aspen::core {
namespace {

constexpr double kCross_s = 0.005, kWindow_s = 0.02, kQuietShare = 0.02;

double sample(const Voice& voice, std::int64_t at) {
    return at < 0 || at >= static_cast<std::int64_t>(voice.size()) ? 0 : voice[static_cast<std::size_t>(at)];
}

}  // namespace

Voice told_voice(const Voice& recorded, int rate_hz, const std::vector<Cut>& cuts) {
    Voice out;
    const auto cross = static_cast<std::int64_t>(kCross_s * rate_hz);
    double told_s = 0;
    for (std::size_t i = 0; i < cuts.size(); ++i) {
        const auto from = std::llround(cuts[i].from_s * rate_hz);
        const auto begin = static_cast<std::int64_t>(out.size());
        told_s += cuts[i].length_s();
        const auto n = std::llround(told_s * rate_hz) - begin;  // rounding does not add up over many cuts
        const auto end_before = i > 0 ? std::llround(cuts[i - 1].to_s * rate_hz) : 0;
        for (std::int64_t k = 0; k < n; ++k) {
            double s = sample(recorded, from + k);
            if (i > 0 && k < cross) {
                const double share = static_cast<double>(k) / static_cast<double>(cross);
                s = share * s + (1 - share) * sample(recorded, end_before + k);
            }
            out.push_back(static_cast<std::int16_t>(std::lround(s)));
        }
    }
    return out;
}

std::vector<float> peaks(const Voice& voice, std::size_t count) {
    std::vector<float> out(count, 0);
    for (std::size_t i = 0; i < count; ++i) {
        const std::size_t from = voice.size() * i / count, to = voice.size() * (i + 1) / count;
        for (std::size_t k = from; k < to; ++k)
            out[i] = std::max(out[i], static_cast<float>(std::abs(static_cast<int>(voice[k]))) / 32768.0F);
    }
    return out;
}

std::vector<Cut> pauses(const Voice& voice, int rate_hz, double at_least_s) {
    const auto window = static_cast<std::size_t>(kWindow_s * rate_hz);
    std::vector<double> power;
    for (std::size_t i = 0; i + window <= voice.size(); i += window) {
        double sum = 0;
        for (std::size_t k = i; k < i + window; ++k) sum += static_cast<double>(voice[k]) * voice[k];
        power.push_back(sum / static_cast<double>(window));
    }
    if (power.empty()) return {};
    std::vector<double> sorted = power;
    std::ranges::sort(sorted);
    const double quiet = kQuietShare * sorted[sorted.size() * 9 / 10];
    std::vector<Cut> out;
    for (std::size_t i = 0; i < power.size();) {
        std::size_t j = i;
        while (j < power.size() && power[j] <= quiet) ++j;
        const Cut c{static_cast<double>(i) * kWindow_s, static_cast<double>(j) * kWindow_s};
        if (c.length_s() >= at_least_s) out.push_back(c);
        i = std::max(j, i + 1);
    }
    return out;
}

}  // namespace aspen::core
