#pragma once

#include <deque>
#include <map>
#include <opencv2/core.hpp>

#include "media/reading/video_reader.hpp"

namespace aspen::media::flow {

/// A clip's pictures in grey, fitted into a size, as points are followed in them. The last ones are kept, so
/// that a stretch is not decoded again for the way back.
class GreyPictures {
  public:
    /// width, height as VideoReader::picture takes them; `keep` bytes of pictures at most, the last always.
    GreyPictures(VideoReader& reader, int width, int height, std::size_t keep = 0)
        : reader_(reader), width_(width), height_(height), keep_(keep) {}
    /// Throws what the reader throws.
    cv::Mat at(int frame);
    const ClipFacts& facts() const { return reader_.facts(); }

  private:
    VideoReader& reader_;
    int width_, height_;
    std::size_t keep_, held_ = 0;
    std::map<int, cv::Mat> kept_;
    std::deque<int> order_;
};

}  // namespace aspen::media::flow
