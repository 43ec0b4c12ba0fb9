#pragma once

#include <atomic>
#include <optional>

#include "core/body/figure.hpp"
#include "media/pose/pose_network.hpp"
#include "media/reading/picture.hpp"

namespace aspen::media {

/// One rider from the side in pictures that come one after the other, each read by itself: one run of the
/// network where the rider stood before; where nobody stood, or was lost, the rider is looked for in the
/// whole picture (about a dozen runs). One thread at a time.
class LiveReader {
  public:
    explicit LiveReader(PoseNetwork& network) : network_(network) {}
    /// The joints that were seen, proposed and not confirmed, display pixels; empty where no rider was seen,
    /// and when stopped.
    std::optional<core::Figure> read(const Picture& picture, const std::atomic<bool>* stop = nullptr);

  private:
    std::optional<core::Figure> where_it_was(const Picture& picture);
    PoseNetwork& network_;
    std::optional<core::Figure> last_;
    int missed_ = 0;  ///< readings in a row that saw nobody where the rider stood
    int turned_ = 0;  ///< readings in a row that look the other way
};

}  // namespace aspen::media
