#include "core/arena/arena_frame.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <numbers>

#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

constexpr double kLongestArenaM = 200;  // metres: nobody films a larger ground from one place

std::string upper(std::string_view name) {
    std::string out(name);
    std::ranges::transform(out, out.begin(),
                           [](unsigned char c) { return static_cast<char>(std::toupper(c)); });
    return out;
}

}  // namespace

ArenaFrame::ArenaFrame(double length_m, double width_m, std::map<std::string, GroundPoint> own)
    : length_(length_m), width_(width_m) {
    if (!(length_m > 0 && length_m <= kLongestArenaM && width_m > 0 && width_m <= kLongestArenaM))
        throw Refused(fmt::format("arena of {:g} x {:g} m: must be over 0 and at most {:g} m each way",
                                  length_m, width_m, kLongestArenaM));
    const bool known = width_m == Arena::kWidthM && (length_m == 40 || length_m == 60);
    if (own.empty() && !known)
        throw Refused(
            fmt::format("arena of {:g} x {:g} m: only 20 x 40 and 20 x 60 have letters of their own; "
                        "say \"letters\"",
                        length_m, width_m));
    if (own.empty()) {
        const Arena lettered(static_cast<int>(length_m));
        for (const ArenaLetter& l : lettered.letters()) places_[std::string(1, l.letter)] = l.at;
    }
    places_["AK"] = {0, width_ / 2};
    places_["AF"] = {0, -width_ / 2};
    places_["CH"] = {length_, width_ / 2};
    places_["CM"] = {length_, -width_ / 2};
    for (const auto& [name, at] : own) places_[upper(name)] = at;
}

GroundPoint ArenaFrame::at(std::string_view name) const {
    if (const auto it = places_.find(upper(name)); it != places_.end()) return it->second;
    std::string all;
    for (const auto& [known, at] : places_) all += " " + known;
    throw Refused(
        fmt::format("\"{}\" is not in this arena of {:g} x {:g} m; it has{}", name, length_, width_, all));
}

bool ArenaFrame::is_corner(std::string_view name) const {
    const std::string known = upper(name);
    return known == "AK" || known == "AF" || known == "CH" || known == "CM";
}

std::string ArenaFrame::next_clockwise(std::string_view name) const {
    const auto round = [this](GroundPoint at) { return std::atan2(-at.y, at.x - length_ / 2); };
    const auto on_track = [this](GroundPoint at) {
        return at.x <= 0 || at.x >= length_ || std::abs(at.y) >= width_ / 2;
    };
    const auto here = places_.find(upper(name));
    if (here == places_.end() || !on_track(here->second)) return {};
    std::string best;
    double least = 2 * std::numbers::pi;
    for (const auto& [other, at] : places_) {
        if (other == here->first || is_corner(other) || !on_track(at)) continue;
        double by = round(at) - round(here->second);
        while (by <= 0) by += 2 * std::numbers::pi;
        if (by < least) least = by, best = other;
    }
    return best;
}

}  // namespace aspen::core
