#pragma once

#include <functional>
#include <opencv2/core.hpp>
#include <optional>
#include <vector>

#include "media/way/camera_turns.hpp"

/// Horse and rider told from the background by what moves against it: where the whole pair is, far away and
/// small, as it is filmed from the edge of an arena.
namespace aspen::media {

/// The silhouette of a pair in a picture: its middle (of area) and its box, pixels of that picture.
struct PairSeen {
    double x = 0, y = 0;
    double left = 0, right = 0, top = 0, bottom = 0;
    double area = 0;
};

/// A place the pair is known to be at in one of the pictures.
struct PairHint {
    std::size_t picture = 0;
    double x = 0, y = 0;
};

/// What differs in each picture from the background as other pictures of the clip show it (laid over this one
/// by the camera's turns), without its shadow: the largest few, largest first. False from `going_on` stops it
/// and gives nothing.
using PairParts = std::vector<std::vector<PairSeen>>;
std::optional<PairParts> see_parts(const std::vector<cv::Mat>& grey, const CameraTurns& camera,
                                   const std::function<bool(double)>& going_on = {});

/// One silhouette a picture, or none: the chain through all pictures that is large, goes at a horse's pace
/// and passes the hints (dynamic programming).
std::vector<std::optional<PairSeen>> pair_among(const PairParts& parts, const std::vector<PairHint>& hints);

}  // namespace aspen::media
