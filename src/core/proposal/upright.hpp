#pragma once

#include <optional>
#include <span>

#include "core/body/geometry.hpp"

/// The upright read from what stands in the picture.
namespace aspen::core {

/// A straight edge, display pixels.
struct StraightEdge {
    Point from, to;
};

struct ReadUpright {
    double roll_deg = 0;  ///< as CameraPose has it: positive where the true vertical leans to the right
    double sd_deg = 0;
    int edges = 0;  ///< that agree
};

/// The camera's roll from edges that stand nearly upright in pictures this large, of one or several frames
/// (`frames`, over which the same posts come again). Posts, trees and walls stand upright and seem to lean
/// apart or together when the camera looks up or down: the lean at the picture's middle and its change across
/// are the most likely ones, each edge with its length, where what disagrees counts less and less (Geman and
/// McClure's weights, as in Black and Rangarajan, IJCV 19, 1996; from memory). What leans in common, trees
/// and old posts, is an error of its own. Nothing where too few stand or they do not agree.
std::optional<ReadUpright> read_upright(std::span<const StraightEdge> edges, int width, int height,
                                        int frames = 1);

}  // namespace aspen::core
