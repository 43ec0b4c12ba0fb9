#pragma once

#include <optional>

namespace aspen::core {

/// How a clip was filmed where that is not how it plays: phones store slow motion by filming fast, sometimes
/// only a middle part of it.
struct Capture {
    double filmed_fps = 0;               ///< pictures a second in real life; 0: not said
    std::optional<double> from_s, to_s;  ///< the slowed part in the stream's own time; empty ends: the clip's
    friend bool operator==(const Capture&, const Capture&) = default;
};

/// Piecewise-linear map from a stream's own time to real time. Outside the slowed part the two run alike;
/// inside, real time runs stored_fps / filmed_fps as fast. Real time 0 is stream time 0.
class CaptureMap {
  public:
    /// Real time is the stream's.
    CaptureMap() = default;
    /// stored_fps: pictures a second as the stream has them. A rate that is not said, or an empty part, slows
    /// nothing.
    CaptureMap(const Capture& capture, double stored_fps);

    double real_s(double stream_s) const;
    double stream_s(double real_s) const;
    /// How many times slower than life the clip plays at a stream time.
    double slowed(double stream_s) const;
    bool is_plain() const { return slow_ == 1; }

  private:
    double slow_ = 1;
    std::optional<double> from_, to_;
};

}  // namespace aspen::core
