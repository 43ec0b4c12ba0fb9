#pragma once

#include <QString>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "app/review/prepared.hpp"
#include "core/proposal/stretch_fusion.hpp"
#include "media/reading/video_reader.hpp"

namespace aspen::app {

/// A joint as it was read from a frame, display pixels.
struct ReadJoint {
    core::Landmark landmark;
    core::Point at;
    double sd_px = 0;         ///< of where the reader's own place of it lies
    double offset_sd_px = 0;  ///< of that place from the landmark; in every frame alike
    double confidence = 0;    ///< 0 to 1
};
struct ReadRider {
    double score = 0;  ///< 0 to 1: how sure a rider is there
    std::vector<ReadJoint> joints;
};

/// What the program finds of a rider by itself: a clip is looked through (prepared.hpp), and each frame's
/// figure lies ready. From the side, ear to toe. Any one thread; throws core::Refused where the clip or the
/// network is not there, and what the reader throws.
class RiderReading {
  public:
    RiderReading(const std::string& clip, const core::Knowledge& knowledge);
    const media::ClipFacts& facts() const { return reader_.facts(); }
    /// Looks through it, unless that was done and kept.
    void look_through();
    const Prepared& prepared() const { return prepared_; }
    /// Nothing where nobody was found; after look_through().
    std::optional<ReadRider> on(int frame) const;

  private:
    std::string file_, hash_;
    const core::Knowledge& knowledge_;
    media::VideoReader reader_;
    Prepared prepared_;
    std::map<int, std::map<core::Landmark, core::Observed>> followed_;
};

}  // namespace aspen::app
