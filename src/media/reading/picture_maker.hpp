#pragma once

#include "media/reading/display.hpp"

namespace aspen::media {

/// Which lines of an interlaced frame are shown: the first or the second field in time, the missing lines
/// filled in. A frame that was not recorded interlaced is shown whole either way.
enum class Field { first, second };

enum class Quality { quick, accurate };

/// Turns decoded frames into pictures for display: size, pixel aspect, turn, the stream's own colour matrix
/// and range; high dynamic range brought to a plain display (zscale and tonemap of FFmpeg's filters),
/// interlaced frames deinterlaced within the field (estdif), so that each field is its own moment. One
/// thread.
class PictureMaker {
  public:
    /// Fits into max_width x max_height (0: full display size), keeping the shape; never enlarges. Throws
    /// core::Refused when the format cannot be converted.
    Picture make(const AVFrame& frame, const Display& display, int max_width, int max_height,
                 Quality quality = Quality::accurate, Field field = Field::first);

    static bool is_high_range(const AVFrame& frame);

  private:
    ff::Frame filtered(const AVFrame& frame, const std::string& chain, int take);
    Picture scaled(const AVFrame& frame, int width, int height, Quality quality);
    ff::Scaler scaler_;
};

}  // namespace aspen::media
