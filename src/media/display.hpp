#pragma once

#include "media/ffmpeg.hpp"
#include "media/picture.hpp"

namespace aspen::media {

/// How stored pixels become display pixels: pixel aspect first (the width is stretched), then one of the eight
/// turns and mirrorings of the display matrix. Maps storage (x, y) to (a x + c y, b x + d y) plus an offset.
class Display {
  public:
    Display() = default;
    Display(const AVStream& stream, const AVCodecParameters& stored);

    int width() const { return swaps() ? stored_height_ : wide_; }
    int height() const { return swaps() ? wide_ : stored_height_; }
    /// Clockwise turn that the display matrix asks for: 0, 90, 180 or 270.
    int rotation_deg() const { return rotation_deg_; }

    /// Converts a decoded frame to a picture that fits into max_width x max_height (0: full display size), keeping
    /// the shape. Uses the stream's colour matrix and range. Throws Refused when the format cannot be converted.
    Picture convert(const AVFrame& frame, int max_width, int max_height, ff::Scaler& scaler) const;

  private:
    bool swaps() const { return a_ == 0; }
    Picture turned(Picture flat) const;
    int wide_ = 0, stored_height_ = 0, rotation_deg_ = 0;
    int a_ = 1, b_ = 0, c_ = 0, d_ = 1;
};

}  // namespace aspen::media
