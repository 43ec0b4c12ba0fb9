#pragma once

#include <string>
#include <string_view>

#include "media/reading/ffmpeg.hpp"
#include "media/reading/picture.hpp"

namespace aspen::media {

/// Writes small pictures as JPEG; keeps its encoder between pictures of one size. One thread.
class JpegWriter {
  public:
    /// Throws core::Refused when the encoder is missing.
    std::string write(const Picture& picture);

  private:
    void start(int width, int height);
    ff::Codec encoder_;
    ff::Scaler scaler_;
    ff::Frame frame_;
};

/// Reads a JPEG; an empty picture when it is none. Any thread.
Picture read_jpeg(std::string_view bytes);

}  // namespace aspen::media
