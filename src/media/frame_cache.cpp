#include "media/frame_cache.hpp"

#include <algorithm>

namespace aspen::media {

void FrameCache::keep(int n, const AVFrame& frame) {
    if (frames_.contains(n)) return;
    each_ = std::max<std::size_t>(1, ff::bytes_of(frame));
    frames_[n].reset(av_frame_clone(&frame));
    bytes_ += each_;
    drop_until_it_fits();
}

void FrameCache::drop_until_it_fits() {
    while (bytes_ > budget_ && frames_.size() > 1) {
        const auto first = frames_.begin(), last = std::prev(frames_.end());
        const auto gone = cost(first->first) > cost(last->first) ? first : last;
        bytes_ -= std::min(bytes_, ff::bytes_of(*gone->second));
        frames_.erase(gone);
    }
}

void FrameCache::set_budget(std::size_t bytes) {
    budget_ = bytes;
    drop_until_it_fits();
}

void FrameCache::clear() {
    frames_.clear();
    bytes_ = 0;
}

}  // namespace aspen::media
