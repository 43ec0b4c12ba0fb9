#pragma once

#include <filesystem>
#include <memory>
#include <optional>

#include "core/body/figure.hpp"
#include "core/proposal/proposal.hpp"
#include "media/reading/picture.hpp"

namespace aspen::media {

struct SeenEnd {
    core::Point at;    ///< display pixels
    double score = 0;  ///< 0 to 1: how sure the network is that it is to be seen
};
/// Where the limbs of the side that the camera sees end.
struct LimbEnds {
    SeenEnd heel, toe, knuckle;
};

/// A general body-pose network that sees hands and feet as well (BlazePose full, 256 px, Apache License 2.0;
/// made by tools/make_pose_model.py), run by OpenCV. Knows nothing of riders. One thread at a time.
class LimbEndsNetwork {
  public:
    /// Throws core::Refused when the file is missing or no such network.
    explicit LimbEndsNetwork(const std::filesystem::path& onnx);
    ~LimbEndsNetwork();

    /// Of the rider in the crop, seen from the side; nothing where no person is. `mirrored`: the crop is
    /// shown to the network mirrored, and the answer turned back. The edges of the sole lie below and beyond
    /// what the network calls heel and foot: they are put where soles are, by the foot's own length.
    std::optional<LimbEnds> run(const Picture& picture, const core::Crop& crop, core::Travel travel,
                                bool mirrored);

  private:
    struct Net;
    std::unique_ptr<Net> net_;
};

}  // namespace aspen::media
