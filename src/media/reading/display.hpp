#pragma once

#include "media/reading/ffmpeg.hpp"
#include "media/reading/picture.hpp"

namespace aspen::media {

/// How stored pixels become display pixels: pixel aspect first (the width is stretched), then one of the
/// eight turns and mirrorings of the display matrix. Maps storage (x, y) to (a x + c y, b x + d y) plus an
/// offset.
class Display {
  public:
    Display() = default;
    Display(const AVStream& stream, const AVCodecParameters& stored);

    /// Turned and mirrored as Exif says of a photograph: 1 as it is stored, to 8; anything else changes
    /// nothing (Exif 2.3, 4.6.4, Orientation; from memory).
    void held_as(int orientation);

    int width() const { return swaps() ? stored_height_ : wide_; }
    int height() const { return swaps() ? wide_ : stored_height_; }
    /// Size of the picture before it is turned, pixels made square.
    int flat_width() const { return wide_; }
    int flat_height() const { return stored_height_; }
    /// Clockwise turn that the display matrix asks for: 0, 90, 180 or 270.
    int rotation_deg() const { return rotation_deg_; }
    /// Scale (at most 1) at which the picture fits into max_width x max_height; 1 where either is 0.
    double fitting(int max_width, int max_height) const;
    /// The flat picture turned and mirrored as the display matrix asks.
    Picture turned(Picture flat) const;

  private:
    bool swaps() const { return a_ == 0; }
    int wide_ = 0, stored_height_ = 0, rotation_deg_ = 0;
    int a_ = 1, b_ = 0, c_ = 0, d_ = 1;
};

}  // namespace aspen::media
