#include "core/body/figure.hpp"

#include <algorithm>

namespace aspen::core {
namespace {
constexpr std::array<std::string_view, 4> kOriginWords{"clicked", "carried", "proposed", "laid"};
}

std::string_view word(Origin o) { return kOriginWords[static_cast<std::size_t>(o)]; }

std::optional<Origin> origin_from(std::string_view w) {
    const auto it = std::ranges::find(kOriginWords, w);
    if (it == kOriginWords.end()) return std::nullopt;
    return static_cast<Origin>(it - kOriginWords.begin());
}

double click_sd_px(int width_px, int height_px, double zoom) {
    const double at_fit = kClickSdAt1080Px * std::min(width_px, height_px) / 1080.0;
    return std::max(0.25, at_fit / std::max(zoom, 1.0));
}

int Figure::marked() const {
    return static_cast<int>(
        std::ranges::count_if(marks, [](const Mark& m) { return m.visibility != Visibility::absent; }));
}

double marked_trunk_px(const Figure& f) {
    using L = Landmark;
    const auto there = [&](std::initializer_list<L> all) {
        return std::ranges::all_of(all, [&](L l) { return f[l].visibility != Visibility::absent; });
    };
    if (f.view == View::side)
        return there({L::shoulder, L::hip}) ? distance(f[L::shoulder].at, f[L::hip].at) : 0;
    if (!there({L::left_shoulder, L::right_shoulder, L::left_hip, L::right_hip})) return 0;
    const auto middle = [&](L a, L b) {
        return Point{(f[a].at.x + f[b].at.x) / 2, (f[a].at.y + f[b].at.y) / 2};
    };
    return distance(middle(L::left_shoulder, L::right_shoulder), middle(L::left_hip, L::right_hip));
}

bool bit_behind_hip(const Figure& figure) {
    if (figure.view != View::side || figure.travel == Travel::unknown) return false;
    const Mark& bit = figure[Landmark::bit];
    const Mark& hip = figure[Landmark::hip];
    if (bit.visibility == Visibility::absent || hip.visibility == Visibility::absent) return false;
    const double ahead = unrolled(bit.at, radians(figure.camera.roll_deg)).x -
                         unrolled(hip.at, radians(figure.camera.roll_deg)).x;
    return figure.travel == Travel::right ? ahead < 0 : ahead > 0;
}

}  // namespace aspen::core
