#pragma once

#include <functional>
#include <vector>

#include "core/body/face_cover.hpp"
#include "media/pose/point_follower.hpp"

namespace aspen::media {

/// A face on a frame where it is known: by joints that mark it, or by an ellipse the coach set.
struct FaceAnchor {
    int frame = 0;
    core::Ellipse face;
    std::vector<core::Point> points;  ///< on the face, to be followed; two at least
};
/// Five points inside an ellipse.
FaceAnchor anchor_of(int frame, const core::Ellipse& face);

/// Where the face surely is in first..last: on the anchors, and where following it from the nearest ones
/// still looks like them. Where two ways that both are believed in do not meet, nothing is
/// sure. A place is not sure either where its error is over a fifth of the face. Anchors by frame; `each` is
/// told the share that is done. Throws what the reader throws, and ReadCancelled.
std::vector<core::FaceSeen> follow_face(VideoReader& reader, const std::vector<FaceAnchor>& anchors,
                                        int first, int last, const std::function<void(double)>& each = {},
                                        const Stopped* cancel = nullptr);

}  // namespace aspen::media
