#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/arena/arena_frame.hpp"
#include "core/arena/laid_ground.hpp"

/// Where the horse went, and that held against the figure that was asked.
namespace aspen::core {

/// How far the point between the hooves may lie above or below the ground, metres (ARCHITECTURE, Ground).
inline constexpr double kHoofHeightSd = 0.04;

/// The point between the hooves at an instant: where it was seen, and where it lies.
struct WayPoint {
    double time_s = 0;
    double x = 0, y = 0, sd_px = 3;  ///< display pixels, in the frame `under` was laid into
    double height_m = 0;
    double height_sd_m = kHoofHeightSd;  ///< common to all points of a way
    std::size_t under = 0;               ///< which of the laid grounds
    GroundPlace place;
    std::optional<double> speed_m_per_s{};
};

/// Speeds along a way: the slope of its places over half a second to either side; nothing where fewer than
/// three lie there.
void add_speeds(std::vector<WayPoint>& way);

/// Places along a way less jumpy: each the middle of a parabola through the third of a second to either side
/// (Savitzky and Golay's, for uneven steps), weighted by nothing. Speeds are read anew.
std::vector<WayPoint> smoothed(std::vector<WayPoint> way);

enum class FigureKind { circle, line, wall, centre_line, diagonal, corner, serpentine };
inline constexpr FigureKind kFigureKinds[] = {
    FigureKind::circle,   FigureKind::line,   FigureKind::wall,      FigureKind::centre_line,
    FigureKind::diagonal, FigureKind::corner, FigureKind::serpentine};
std::string_view word(FigureKind kind);

/// A figure as it was asked, between two instants.
struct AskedFigure {
    FigureKind kind = FigureKind::circle;
    double from_s = 0, to_s = 0;
    std::optional<double> diameter_m{};
    std::optional<GroundPoint> centre{};
    std::string side{};  ///< of a wall: left or right, as one looks from A to C
    /// Where a diagonal begins and ends; `from` is the corner of a corner.
    std::optional<GroundPoint> from{}, until{};
};

/// An eighth of a circle: where it lies (degrees against the clock from the way to C) and how far outside (+)
/// or inside (-) the circle it was ridden.
struct Eighth {
    double from_deg = 0, deviation_m = 0, sd_m = 0;
    bool certain = false;  ///< its 90 % interval lies on one side
};

/// How it was ridden; what the kind does not have stays empty.
struct RiddenFigure {
    FigureKind kind = FigureKind::circle;
    std::size_t points = 0;
    std::optional<double> diameter_m{}, diameter_sd_m{};
    std::optional<GroundPoint> centre{};
    std::vector<Eighth> eighths{};
    /// Corners out and sides in: the fourth harmonic of the radius from peak to peak.
    std::optional<double> square_m{}, square_sd_m{};
    /// From the wall inwards, from the centre line to the left, from a diagonal to the left of who rides it;
    /// of a line that runs along nothing, nothing. Of a corner: from it to the nearest place of the way.
    std::optional<double> off_m{}, off_sd_m{};
    /// From side to side about the straight line that was ridden, peak to peak.
    std::optional<double> sway_m{}, sway_sd_m{};
    /// Of a serpentine: how far each loop comes from the centre line (to the left, or negative), and where
    /// along it.
    struct Loop {
        double x_m = 0, depth_m = 0, sd_m = 0, time_s = 0;
    };
    std::vector<Loop> loops{};
    /// When it was farthest off, and how far: outwards and to the left positive.
    double worst_s = 0, worst_m = 0;
};

/// The circle is the geometric least-squares one (Gander, Golub, Strebel, Least-squares fitting of circles
/// and ellipses, 1994), begun at the algebraic one. Against the asked circle where centre and diameter are
/// said, else against the ridden one. Errors: what is common to all places (the laid grounds, the hooves'
/// height) moves them together; what is not shrinks with the half seconds ridden. Throws Refused where too
/// little was ridden in that time.
RiddenFigure hold_against(const AskedFigure& asked, const std::vector<WayPoint>& way,
                          const std::vector<LaidGround>& grounds, const ArenaFrame& arena);

}  // namespace aspen::core
