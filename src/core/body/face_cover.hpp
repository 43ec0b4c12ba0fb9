#pragma once

#include <optional>
#include <vector>

#include "core/body/face.hpp"

/// What has to be covered so that a face that was followed through a clip cannot be seen.
namespace aspen::core {

/// A place where a face surely is.
struct FaceSeen {
    int frame = 0;
    Ellipse face;
};

/// What is covered of one face on one frame: where both lie, or the first alone.
struct FaceCover {
    Ellipse reach;
    std::optional<Ellipse> also{};
    bool contains(Point p) const { return reach.contains(p) && (!also || also->contains(p)); }
    /// Square pixels; of two that are circles, where they overlap.
    double area_px() const;
};

/// How far a head may move from one frame to the next: half as much again as it was ever seen to, and a fifth
/// of its own size at least (from memory).
double head_px_per_frame(const std::vector<FaceSeen>& sure);

/// The cover on each frame first..last; nothing where the face is not in the picture. Where it surely is, its
/// ellipse; elsewhere all that it can have reached from the last sure place and can reach the next one from.
/// `sure` by frame, none twice; `gone`: frames from which on it is out of the picture until it is next seen.
/// Throws std::invalid_argument when nothing is sure.
std::vector<std::optional<FaceCover>> covers_through(const std::vector<FaceSeen>& sure,
                                                     const std::vector<int>& gone, int first, int last);

/// The first frame (counted from `covers`' own start) on which more than a third of the picture would be
/// covered.
std::optional<int> first_too_large(const std::vector<std::optional<FaceCover>>& covers, int width,
                                   int height);

}  // namespace aspen::core
