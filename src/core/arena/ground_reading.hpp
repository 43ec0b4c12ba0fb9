#pragma once

#include <iosfwd>
#include <map>
#include <string>
#include <vector>

#include "core/arena/ridden_figure.hpp"

namespace aspen::core {

/// What GROUND.json holds (docs/formats.md): the arena, what was marked of it in which frames, how the camera
/// moved between frames, the way of the horse, and the figures it is held against.
struct GroundAsk {
    ArenaFrame arena{40, 20};
    bool still = true;
    struct Marked {
        std::vector<GroundMark> points;
        std::vector<GroundLength> lengths;
    };
    std::map<int, Marked> marks;              ///< by frame
    std::map<int, Eigen::Matrix3d> motion{};  ///< from that frame's pixels to those of the frame before
    struct Seen {
        int frame = 0;
        double time_s = 0, x = 0, y = 0, sd_px = 3, height_m = 0;
    };
    std::vector<Seen> path;
    std::vector<AskedFigure> figures;
};
/// Throws Refused in one line naming file, entry and field.
GroundAsk read_ground(std::istream& in, const std::string& file);

/// What comes of it.
struct GroundSaid {
    struct Laid {
        int frame = 0;
        std::size_t points = 0;
        double residual_px = 0;
    };
    std::vector<Laid> camera;
    std::vector<WayPoint> path;
    std::vector<RiddenFigure> figures;
};
/// A still camera is laid once, by all its marks; one that moves at every frame that has marks, by all marks
/// as far as the motion between carries them, each the less exact the longer its way. Every place is read in
/// the frame of the nearest marks. Throws Refused.
GroundSaid say_ground(const GroundAsk& ask);
void write_ground(const GroundSaid& said, std::ostream& out);

}  // namespace aspen::core
