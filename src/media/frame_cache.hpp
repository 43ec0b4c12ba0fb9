#pragma once

#include <map>

#include "media/ffmpeg.hpp"

namespace aspen::media {

/// Decoded pictures around the hand, in the decoder's own format, within a budget of bytes as allocated. When it is
/// full the picture that is farthest from the hand goes; those against the direction of travel count twice as far.
/// One thread.
class FrameCache {
  public:
    explicit FrameCache(std::size_t budget_bytes) : budget_(budget_bytes) {}

    const AVFrame* find(int n) const {
        const auto it = frames_.find(n);
        return it == frames_.end() ? nullptr : it->second.get();
    }
    bool has(int n) const { return frames_.contains(n); }
    void keep(int n, const AVFrame& frame);
    /// Where the hand is and which way it goes: -1, 0 or 1.
    void hold(int hand, int direction) { hand_ = hand, direction_ = direction; }
    int hand() const { return hand_; }
    int direction() const { return direction_; }
    /// How many pictures fit, judged by those seen; a guess before the first.
    int capacity() const { return static_cast<int>(budget_ / each_); }
    std::size_t bytes() const { return bytes_; }
    std::size_t budget() const { return budget_; }
    void set_budget(std::size_t bytes);
    void clear();

  private:
    int cost(int n) const { return (n - hand_) * direction_ < 0 ? 2 * std::abs(n - hand_) : std::abs(n - hand_); }
    void drop_until_it_fits();
    std::map<int, ff::Frame> frames_;
    std::size_t budget_, bytes_ = 0, each_ = std::size_t{3} << 20;
    int hand_ = 0, direction_ = 0;
};

}  // namespace aspen::media
