#pragma once

#include <filesystem>
#include <memory>

#include "core/proposal/proposal.hpp"
#include "media/reading/picture.hpp"

namespace aspen::media {

/// A general body-pose network (MoveNet single pose Thunder, 256 px, Apache License 2.0; made by
/// tools/make_pose_model.py) run by OpenCV. Knows nothing of riders: it is handed a square crop with one
/// person in it. One thread at a time.
class PoseNetwork {
  public:
    /// Throws core::Refused when the file is missing or no such network.
    explicit PoseNetwork(const std::filesystem::path& onnx);
    ~PoseNetwork();

    /// Joints of the person nearest the crop's middle, in display pixels, with scores 0..1. `centre` and
    /// `side` of the square crop in display pixels; what lies outside the picture is black. `mirrored`: the
    /// crop is shown to the network mirrored, and the answer turned back, left and right exchanged.
    core::NetworkRun run(const Picture& picture, core::Point centre, double side, bool mirrored);

  private:
    struct Net;
    std::unique_ptr<Net> net_;
};

}  // namespace aspen::media
