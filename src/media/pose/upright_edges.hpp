#pragma once

#include <vector>

#include "core/proposal/upright.hpp"
#include "media/reading/picture.hpp"

namespace aspen::media {

/// Straight edges of a picture, by OpenCV's line segment detector (von Gioi and others, IPOL 2, 2012) on a
/// smaller copy; display pixels.
std::vector<core::StraightEdge> straight_edges(const Picture& picture);

}  // namespace aspen::media
