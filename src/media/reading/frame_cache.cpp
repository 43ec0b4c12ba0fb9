#include "media/reading/frame_cache.hpp"

#include <algorithm>
#include <cstdlib>

namespace aspen::media {

ff::Frame FrameCache::find(int n) const {
    const std::lock_guard lock(mutex_);
    const auto it = frames_.find(n);
    return ff::Frame(it == frames_.end() ? nullptr : av_frame_clone(it->second.get()));
}

bool FrameCache::has(int n) const {
    const std::lock_guard lock(mutex_);
    return frames_.contains(n);
}

void FrameCache::keep(int n, const AVFrame& frame) {
    const std::lock_guard lock(mutex_);
    if (frames_.contains(n)) return;
    each_ = std::max<std::size_t>(1, ff::bytes_of(frame));
    frames_[n].reset(av_frame_clone(&frame));
    bytes_ += each_;
    while (bytes_ > budget_ && frames_.size() > 1) {
        const auto first = frames_.begin(), last = std::prev(frames_.end());
        const auto gone = cost(first->first) > cost(last->first) ? first : last;
        bytes_ -= std::min(bytes_, ff::bytes_of(*gone->second));
        frames_.erase(gone);
    }
}

void FrameCache::hold(int hand, int direction) {
    const std::lock_guard lock(mutex_);
    hand_ = hand;
    direction_ = direction;
}

int FrameCache::hand() const {
    const std::lock_guard lock(mutex_);
    return hand_;
}

int FrameCache::direction() const {
    const std::lock_guard lock(mutex_);
    return direction_;
}

int FrameCache::capacity() const {
    const std::lock_guard lock(mutex_);
    return static_cast<int>(budget_ / each_);
}

std::size_t FrameCache::bytes() const {
    const std::lock_guard lock(mutex_);
    return bytes_;
}

}  // namespace aspen::media
