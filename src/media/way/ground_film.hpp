#pragma once

#include <functional>
#include <vector>

#include "media/reading/video_reader.hpp"
#include "media/way/camera_turns.hpp"
#include "media/way/pair_seen.hpp"

namespace aspen::media {

/// What a clip filmed from the edge of an arena says without anyone's help: how the camera turned, and what
/// moves before the background. Display pixels of the clip.
struct GroundFilm {
    std::vector<int> frames;  ///< the pictures that were looked at, about eight a second
    CameraTurns camera;
    PairParts parts;
    double px_of_picture = 1;  ///< display pixels a pixel that was looked at
};

/// False from `going_on` (0 to 1) stops it and gives nothing. At most 90 s of a clip, its pictures held in
/// grey. Throws what the reader throws.
std::optional<GroundFilm> read_ground_film(VideoReader& reader,
                                           const std::function<bool(double)>& going_on = {});

/// Whether two pictures were taken by one camera that stood still.
bool same_stand(VideoReader& one, VideoReader& other);

}  // namespace aspen::media
