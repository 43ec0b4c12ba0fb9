#pragma once

#include <string>
#include <vector>

#include "core/arena/ridden_figure.hpp"

/// How a figure was ridden, in riding words.
namespace aspen::core {

/// What a way says of a fault or an answer of the horse, with when.
struct GroundEvidence {
    std::string check;  ///< falling_in, falling_out, square_circle, drifting_line, loses_the_corner …
    double time_s = 0;
    bool good = false;  ///< certain that it is not so
};

/// The nearest letters of the track to a place: "at B", "between B and M", "at X".
std::string place_words(const ArenaFrame& arena, GroundPoint at);

/// What is asked of a horse on the ground, by common practice (no source): a corner is a quarter of a circle
/// of at most 10 m, a circle's quarter may be off by 0.4 m, a straight line may sway by 0.5 m, the speed may
/// change by a fifth.
struct GroundCustom {
    double off_m = 0.4, square_m = 0.4, sway_m = 0.5, corner_m = 3.4, speed_share = 0.2;
};

/// One line each, the worst first; what the error leaves open is said. "14.6 m across, give or take 0.2 m".
std::vector<std::string> in_words(const RiddenFigure& ridden, const AskedFigure& asked,
                                  const ArenaFrame& arena, const std::vector<WayPoint>& way);
/// Only what is certain.
std::vector<GroundEvidence> evidence_of(const RiddenFigure& ridden, const AskedFigure& asked,
                                        const std::vector<WayPoint>& way);

/// Mean speeds of the slowest and the fastest eighth of a time, with when; nothing where too little was
/// ridden.
struct SpeedSpan {
    double slowest = 0, fastest = 0, slowest_s = 0, fastest_s = 0, sd = 0;
};
std::optional<SpeedSpan> speeds_over(const std::vector<WayPoint>& way, double from_s, double to_s);

/// Where a way crosses a pole: from its middle to the left of who rides over it, metres.
struct PoleCrossing {
    double time_s = 0, off_m = 0, sd_m = 0;
};
std::vector<PoleCrossing> crossings_of(const std::vector<WayPoint>& way, GroundPoint from, GroundPoint to);

}  // namespace aspen::core
