#include "core/arena/letters.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <numbers>

#include "core/reading/refused.hpp"

namespace aspen::core {

double distance(GroundPoint a, GroundPoint b) { return std::hypot(a.x - b.x, a.y - b.y); }

Arena::Arena(int length_m) : length_(length_m) {
    if (length_m != 40 && length_m != 60)
        throw Refused(fmt::format("arena of {} m: must be 40 or 60 m long", length_m));
    const bool large = length_m == 60;
    const double half = kWidthM / 2.0, last = length_m - 6.0, step = large ? 12 : 14;
    const auto put = [&](char letter, double x, double y) { letters_.push_back({letter, {x, y}}); };
    put('A', 0, 0);
    const std::string_view left = large ? "KVESH" : "KEH", right = large ? "FPBRM" : "FBM",
                           centre = large ? "DLXIG" : "DXG";
    for (std::size_t i = 0; i < left.size(); ++i) {
        const double x = 6 + step * static_cast<double>(i);
        put(left[i], x, half);
        put(right[i], x, -half);
        put(centre[i], std::min(x, last), 0);
    }
    put('C', length_m, 0);
}

GroundPoint Arena::at(char letter) const {
    const char upper = static_cast<char>(std::toupper(static_cast<unsigned char>(letter)));
    const auto it = std::ranges::find(letters_, upper, &ArenaLetter::letter);
    if (it != letters_.end()) return it->at;
    std::string known;
    for (const ArenaLetter& l : letters_) known += fmt::format(" {}", l.letter);
    throw Refused(fmt::format("letter {}: is not in a 20 x {} m arena; it has{}", letter, length_, known));
}

double Arena::between(char from, char to) const { return distance(at(from), at(to)); }

std::string Arena::track(std::string_view rein) const {
    // On the right rein the inside of the arena lies to the right: from A along K, E, H to C.
    const std::string right = length_ == 60 ? "AKVESHCMRBPF" : "AKEHCMBF";
    if (rein == "right") return right;
    return 'A' + std::string(right.rbegin(), right.rend() - 1);
}

RiddenCircle circle_at(const Arena& arena, char letter, double diameter_m) {
    const GroundPoint at = arena.at(letter);
    const double r = diameter_m / 2, half = Arena::kWidthM / 2.0;
    if (!(diameter_m >= 6) || diameter_m > 2 * half)
        throw Refused(fmt::format("circle of {:g} m: must be 6 to 20 m across", diameter_m));
    RiddenCircle out;
    out.radius_m = r;
    out.length_m = 2 * std::numbers::pi * r;
    // Inwards from the track; from X towards B's side, which a 20 m circle covers whole.
    const double side = at.y == half ? -1 : at.y == -half ? 1 : 0;
    const double end = at.x == 0 ? 1 : at.x == arena.length_m() ? -1 : 0;
    out.centre = {at.x + end * r, at.y + side * r};
    if (side == 0 && end == 0) out.centre = diameter_m > half ? at : GroundPoint{at.x, at.y - r};
    const GroundPoint c = out.centre;
    if (c.x - r < -1e-9 || c.x + r > arena.length_m() + 1e-9 || std::abs(c.y) + r > half + 1e-9)
        throw Refused(
            fmt::format("circle of {:g} m at {}: does not fit; make it smaller", diameter_m, letter));
    const double start = std::atan2(at.y - c.y, at.x - c.x);
    for (int i = 0; i < 4; ++i) {
        const double a = start + i * std::numbers::pi / 2;
        out.touches.push_back({c.x + r * std::cos(a), c.y + r * std::sin(a)});
    }
    return out;
}

double serpentine_m(const Arena& arena, int loops) {
    if (loops < 2 || loops > 6) throw Refused(fmt::format("serpentine of {} loops: must be 2 to 6", loops));
    // Each loop takes its share of the length, turns in half circles of that width and runs straight across
    // between them; the first and the last begin and end in the middle of the short side.
    const double width = static_cast<double>(arena.length_m()) / loops;
    const double r = std::min(width / 2, Arena::kWidthM / 2.0), along = width - 2 * r;
    const double across = Arena::kWidthM - 2 * r;
    return loops * (std::numbers::pi * r + along + across);
}

TapeMark tape_mark(const Arena& arena, GroundPoint at) {
    std::vector<ArenaLetter> on_track;
    for (const ArenaLetter& l : arena.letters()) {
        if (l.at.x == 0 || l.at.x == arena.length_m() || std::abs(l.at.y) == Arena::kWidthM / 2.0)
            on_track.push_back(l);
    }
    std::ranges::sort(on_track, {}, [&](const ArenaLetter& l) { return distance(l.at, at); });
    // Two letters and the point on one line say nothing of which side it lies.
    std::size_t second = 1;
    const auto area = [&](std::size_t i) {
        const GroundPoint a = on_track[0].at, b = on_track[i].at;
        return std::abs((b.x - a.x) * (at.y - a.y) - (b.y - a.y) * (at.x - a.x));
    };
    const bool at_letter = distance(on_track[0].at, at) < 1e-9;
    while (!at_letter && second + 1 < on_track.size() && area(second) < 1e-6) ++second;
    if (!at_letter && area(second) < 1e-6) second = 1;
    return {on_track[0].letter, on_track[second].letter, distance(on_track[0].at, at),
            distance(on_track[second].at, at)};
}

}  // namespace aspen::core
