#include <algorithm>
#include <array>
#include <cmath>

#include "core/motion/motion_parts.hpp"

/// Tempo and speed before and after something that was logged.
namespace aspen::core::detail {
namespace {

constexpr std::size_t kStridesAround = 3;
constexpr double kBelongsWithinS = 3, kJustS = 0.1;

/// Mean over strides [from, to) of the report; empty where none of them was told.
std::optional<double> mean_over(const std::vector<std::optional<double>>& by_stride, std::size_t from,
                                std::size_t to) {
    double sum = 0;
    int n = 0;
    for (std::size_t i = from; i < std::min(to, by_stride.size()); ++i) {
        if (by_stride[i]) sum += *by_stride[i], ++n;
    }
    return n > 0 ? std::optional(sum / n) : std::nullopt;
}

}  // namespace

std::vector<AroundEvent> around_events(const MotionParts& p) {
    static constexpr std::array kWhich{"break", "pole", "rein_left", "rein_right"};
    std::vector<AroundEvent> out;
    const auto& strides = p.report.strides;
    if (strides.empty()) return out;
    std::vector<std::optional<double>> tempo;
    for (const StrideSpan& s : strides) tempo.emplace_back(60 / (s.end_s - s.start_s));
    const MotionMeasure* speed = find(p.report, "speed");
    for (const Happening& e : p.in.events) {
        if (std::ranges::find(kWhich, e.event, [](const char* w) { return std::string(w); }) == kWhich.end())
            continue;
        const double t = e.time_s * p.in.time_scale;
        if (t < strides.front().start_s || t > strides.back().end_s + kBelongsWithinS) continue;
        std::size_t before = 0;  // strides that ended by then
        while (before < strides.size() && strides[before].end_s <= t + kJustS) ++before;
        std::size_t after = before;
        while (after < strides.size() && strides[after].start_s < t - kJustS) ++after;
        const std::size_t from = before - std::min(before, kStridesAround);
        AroundEvent around{e.event, t};
        around.tempo_before = mean_over(tempo, from, before);
        if (e.event != "break") around.tempo_after = mean_over(tempo, after, after + kStridesAround);
        if (speed && speed->value) {
            around.speed_before = mean_over(speed->by_stride, from, before);
            if (e.event != "break")
                around.speed_after = mean_over(speed->by_stride, after, after + kStridesAround);
            around.speed_sd = speed->stride_sd;
        }
        if (around.tempo_before) out.push_back(std::move(around));
    }
    return out;
}

}  // namespace aspen::core::detail
