#pragma once

#include <map>
#include <mutex>

#include "media/reading/ffmpeg.hpp"

namespace aspen::media {

/// Decoded pictures around the hand, in the decoder's own format, within a budget of bytes as allocated. When
/// it is full the picture that is farthest from the hand goes; those against the direction of travel count
/// twice as far. Any thread; a picture that was found stays whole however long it is held.
class FrameCache {
  public:
    explicit FrameCache(std::size_t budget_bytes) : budget_(budget_bytes) {}

    /// A reference of its own to the picture, or null.
    ff::Frame find(int n) const;
    bool has(int n) const;
    void keep(int n, const AVFrame& frame);
    /// Where the hand is and which way it goes: -1, 0 or 1.
    void hold(int hand, int direction);
    int hand() const;
    int direction() const;
    /// How many pictures fit, judged by those seen; a guess before the first.
    int capacity() const;
    std::size_t bytes() const;

  private:
    int cost(int n) const {
        return (n - hand_) * direction_ < 0 ? 2 * std::abs(n - hand_) : std::abs(n - hand_);
    }
    mutable std::mutex mutex_;
    std::map<int, ff::Frame> frames_;
    std::size_t budget_, bytes_ = 0, each_ = std::size_t{3} << 20;
    int hand_ = 0, direction_ = 0;
};

}  // namespace aspen::media
