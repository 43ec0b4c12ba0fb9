#include "core/arena/ridden_words.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace aspen::core {
namespace {

constexpr double kNinetyWide = 1.645;
constexpr double kSquareTold = 2.45;  // standard deviations: one of a hundred round circles is called square
constexpr double kSpeedSd = 0.15;     // m/s of a mean over an eighth, of a way read eight times a second
constexpr GroundCustom kCustom{};

std::string metres(double m) { return fmt::format("{:.1f} m", std::abs(m)); }

GroundPoint on_circle(const RiddenFigure& r, double deg) {
    const double a = deg * std::numbers::pi / 180, radius = *r.diameter_m / 2;
    return {r.centre->x + radius * std::cos(a), r.centre->y + radius * std::sin(a)};
}

/// Neighbouring eighths that are certainly off to the same side are one thing.
struct OffPart {
    double from_deg = 0, to_deg = 0, most_m = 0;
};
std::vector<OffPart> off_parts(const RiddenFigure& r) {
    std::vector<OffPart> out;
    for (const Eighth& e : r.eighths) {
        if (!e.certain || std::abs(e.deviation_m) < kCustom.off_m) continue;
        const bool goes_on =
            !out.empty() && out.back().to_deg == e.from_deg && (out.back().most_m > 0) == (e.deviation_m > 0);
        if (!goes_on) out.push_back({e.from_deg, e.from_deg, 0});
        out.back().to_deg = e.from_deg + 45;
        if (std::abs(e.deviation_m) > std::abs(out.back().most_m)) out.back().most_m = e.deviation_m;
    }
    std::ranges::sort(out, std::ranges::greater{}, [](const OffPart& p) { return std::abs(p.most_m); });
    return out;
}

/// A quarter that falls in or out has something of a square in it; where it is the larger, it is what is
/// said.
bool is_square(const RiddenFigure& r) {
    if (!r.square_m || !r.square_sd_m) return false;
    const auto parts = off_parts(r);
    return *r.square_m > kSquareTold * *r.square_sd_m && *r.square_m > kCustom.square_m &&
           (parts.empty() || std::abs(parts.front().most_m) < *r.square_m);
}

void circle_words(std::vector<std::string>& out, const RiddenFigure& r, const AskedFigure& asked,
                  const ArenaFrame& arena) {
    const double wide = kNinetyWide * *r.diameter_sd_m;
    std::string across = fmt::format("{} across, give or take {}", metres(*r.diameter_m), metres(wide));
    if (asked.diameter_m) {
        const double by = *r.diameter_m - *asked.diameter_m;
        across += std::abs(by) <= wide
                      ? fmt::format("; {} was asked: it may be just that", metres(*asked.diameter_m))
                      : fmt::format("; {} was asked: {} by {}", metres(*asked.diameter_m),
                                    by > 0 ? "too large" : "too small", metres(by));
    }
    if (is_square(r))
        out.push_back(fmt::format("square rather than round: its corners stand {} outside its sides",
                                  metres(*r.square_m)));
    else if (kSquareTold * *r.square_sd_m > kCustom.square_m)
        out.push_back("whether it is round cannot be told from so far away");
    else if (off_parts(r).empty())
        out.push_back("round");
    for (const OffPart& p : off_parts(r))
        out.push_back(fmt::format("falls {} by {} {}", p.most_m > 0 ? "out" : "in", metres(p.most_m),
                                  place_words(arena, on_circle(r, (p.from_deg + p.to_deg) / 2))));
    out.push_back(across);
}

void line_words(std::vector<std::string>& out, const RiddenFigure& r, const AskedFigure& asked) {
    if (r.sway_m) {
        const double sway = kNinetyWide * r.sway_sd_m.value_or(0);
        out.push_back(*r.sway_m - sway > kCustom.sway_m
                          ? fmt::format("sways by {} from side to side", metres(*r.sway_m))
                      : *r.sway_m + sway < kCustom.sway_m
                          ? std::string("straight")
                          : fmt::format("straight or swaying by up to {} cannot be told "
                                        "from here",
                                        metres(*r.sway_m + sway)));
    }
    if (!r.off_m || !r.off_sd_m) return;
    const double wide = kNinetyWide * *r.off_sd_m;
    const std::string give = fmt::format(", give or take {}", metres(wide));
    if (asked.kind == FigureKind::wall) {
        out.push_back(fmt::format("{} off the wall{}", metres(*r.off_m), give));
    } else if (std::abs(*r.off_m) <= wide) {
        out.push_back("on the line, as far as can be told" + give);
    } else {
        const char* side = asked.kind == FigureKind::centre_line
                               ? (*r.off_m > 0 ? "to the side of K, E, H" : "to the side of F, B, M")
                               : (*r.off_m > 0 ? "to the left of it" : "to the right of it");
        out.push_back(fmt::format("{} {}{}", metres(*r.off_m), side, give));
    }
}

void corner_words(std::vector<std::string>& out, const RiddenFigure& r) {
    const double wide = kNinetyWide * *r.off_sd_m;
    const char* how = *r.off_m - wide > kCustom.corner_m   ? "cut"
                      : *r.off_m + wide < kCustom.corner_m ? "ridden into"
                                                           : "whether it is ridden into cannot be told";
    out.push_back(
        fmt::format("{}: {} from the corner, give or take {}", how, metres(*r.off_m), metres(wide)));
}

void loop_words(std::vector<std::string>& out, const RiddenFigure& r, const ArenaFrame& arena) {
    if (r.loops.size() < 2) {
        out.push_back("no two loops that cross the centre line");
        return;
    }
    const auto by_depth = [](const RiddenFigure::Loop& l) { return std::abs(l.depth_m); };
    const auto [least, most] = std::ranges::minmax_element(r.loops, {}, by_depth);
    const double apart = by_depth(*most) - by_depth(*least),
                 wide = kNinetyWide * std::hypot(most->sd_m, least->sd_m);
    out.push_back(apart <= wide + kCustom.off_m
                      ? fmt::format("{} loops alike", r.loops.size())
                      : fmt::format("{} loops, the one {} {} smaller than the one {}", r.loops.size(),
                                    place_words(arena, {least->x_m, least->depth_m}), metres(apart),
                                    place_words(arena, {most->x_m, most->depth_m})));
}

}  // namespace

std::string place_words(const ArenaFrame& arena, GroundPoint at) {
    struct Near {
        double away;
        std::string name;
    };
    std::vector<Near> near;
    for (const auto& [name, place] : arena.places()) {
        if (!arena.is_corner(name)) near.push_back({distance(place, at), name});
    }
    if (near.empty()) return "";
    std::ranges::sort(near, {}, &Near::away);
    constexpr double kAtIt = 3.5;
    if (near.front().away < kAtIt || near.size() == 1) return "at " + near.front().name;
    return fmt::format("between {} and {}", near[0].name, near[1].name);
}

std::optional<SpeedSpan> speeds_over(const std::vector<WayPoint>& way, double from_s, double to_s) {
    constexpr int kParts = 8;
    SpeedSpan out;
    int told = 0;
    for (int k = 0; k < kParts; ++k) {
        const double from = from_s + (to_s - from_s) * k / kParts,
                     to = from_s + (to_s - from_s) * (k + 1) / kParts;
        double sum = 0;
        int n = 0;
        for (const WayPoint& p : way) {
            if (p.time_s >= from && p.time_s < to && p.speed_m_per_s) sum += *p.speed_m_per_s, ++n;
        }
        constexpr int kFewestPoints = 4;
        if (n < kFewestPoints) continue;
        const double v = sum / n;
        if (told == 0 || v < out.slowest) out.slowest = v, out.slowest_s = (from + to) / 2;
        if (told == 0 || v > out.fastest) out.fastest = v, out.fastest_s = (from + to) / 2;
        ++told;
    }
    out.sd = kSpeedSd;
    constexpr int kFewestTold = 5;
    return told >= kFewestTold ? std::optional(out) : std::nullopt;
}

std::vector<PoleCrossing> crossings_of(const std::vector<WayPoint>& way, GroundPoint from, GroundPoint to) {
    std::vector<PoleCrossing> out;
    const double dx = to.x - from.x, dy = to.y - from.y, length = std::hypot(dx, dy);
    if (length < 1e-9) return out;
    const auto side = [&](const WayPoint& p) {
        return (dx * (p.place.at.y - from.y) - dy * (p.place.at.x - from.x)) / length;
    };
    for (std::size_t i = 1; i < way.size(); ++i) {
        const double a = side(way[i - 1]), b = side(way[i]);
        if (a * b > 0 || a == b) continue;
        const double share = a / (a - b);
        const auto between = [&](double one, double other) { return one + share * (other - one); };
        const GroundPoint at{between(way[i - 1].place.at.x, way[i].place.at.x),
                             between(way[i - 1].place.at.y, way[i].place.at.y)};
        const double along = ((at.x - from.x) * dx + (at.y - from.y) * dy) / length;
        if (along < 0 || along > length) continue;
        // Left of who rides: over the pole from its right (b > a) its beginning lies to the left.
        const double off = (length / 2 - along) * (b > a ? 1 : -1);
        out.push_back({between(way[i - 1].time_s, way[i].time_s), off, way[i].place.sd_m});
    }
    return out;
}

std::vector<std::string> in_words(const RiddenFigure& ridden, const AskedFigure& asked,
                                  const ArenaFrame& arena, const std::vector<WayPoint>& way) {
    std::vector<std::string> out;
    if (asked.kind == FigureKind::circle)
        circle_words(out, ridden, asked, arena);
    else if (asked.kind == FigureKind::corner)
        corner_words(out, ridden);
    else if (asked.kind == FigureKind::serpentine)
        loop_words(out, ridden, arena);
    else
        line_words(out, ridden, asked);
    if (const auto speed = speeds_over(way, asked.from_s, asked.to_s)) {
        const double apart = speed->fastest - speed->slowest;
        if (apart > kCustom.speed_share * speed->slowest && apart > 2 * kNinetyWide * speed->sd)
            out.push_back(fmt::format("the speed changes: {:.1f} to {:.1f} m a second", speed->slowest,
                                      speed->fastest));
        else
            out.push_back(fmt::format("one speed: {:.1f} m a second", (speed->slowest + speed->fastest) / 2));
    }
    return out;
}

std::vector<GroundEvidence> evidence_of(const RiddenFigure& ridden, const AskedFigure& asked,
                                        const std::vector<WayPoint>& way) {
    std::vector<GroundEvidence> out;
    if (asked.kind == FigureKind::circle && ridden.square_sd_m) {
        // A circle that nobody said is the best one through the way: where it falls in by much, the rest
        // seems to fall out.
        const bool said = asked.centre && asked.diameter_m;
        for (const OffPart& p : said ? off_parts(ridden) : std::vector<OffPart>{}) {
            const double wanted = (p.from_deg + p.to_deg) / 2 * std::numbers::pi / 180;
            double least = 10, when = asked.from_s;
            for (const WayPoint& w : way) {
                if (w.time_s < asked.from_s || w.time_s > asked.to_s) continue;
                const double a =
                    std::atan2(w.place.at.y - ridden.centre->y, w.place.at.x - ridden.centre->x) - wanted;
                const double off = std::abs(std::atan2(std::sin(a), std::cos(a)));
                if (off < least) least = off, when = w.time_s;
            }
            out.push_back({p.most_m > 0 ? "falling_out" : "falling_in", when, false});
        }
        if (is_square(ridden))
            out.push_back({"square_circle", ridden.worst_s, false});
        else if (*ridden.square_m + kNinetyWide * *ridden.square_sd_m < kCustom.square_m)
            out.push_back({"square_circle", ridden.worst_s, true});
    } else if (asked.kind == FigureKind::corner && ridden.off_m) {
        const double wide = kNinetyWide * *ridden.off_sd_m;
        if (std::abs(*ridden.off_m - kCustom.corner_m) > wide)
            out.push_back({"loses_the_corner", ridden.worst_s, *ridden.off_m < kCustom.corner_m});
    } else if (ridden.sway_m) {
        const double wide = kNinetyWide * ridden.sway_sd_m.value_or(0);
        if (*ridden.sway_m - wide > kCustom.sway_m) {
            out.push_back({"drifting_line", ridden.worst_s, false});
            out.push_back({"drifting", ridden.worst_s, false});
        } else if (*ridden.sway_m + wide < kCustom.sway_m) {
            out.push_back({"drifting_line", ridden.worst_s, true});
        }
    }
    if (asked.kind != FigureKind::circle && asked.kind != FigureKind::corner) return out;
    if (const auto speed = speeds_over(way, asked.from_s, asked.to_s)) {
        const double apart = speed->fastest - speed->slowest;
        if (apart > kCustom.speed_share * speed->slowest && apart > 2 * kNinetyWide * speed->sd)
            out.push_back({"speed_changes_in_the_turn", speed->fastest_s, false});
    }
    return out;
}

}  // namespace aspen::core
