#include "core/motion/capture_map.hpp"

#include <algorithm>
#include <cmath>

namespace aspen::core {

CaptureMap::CaptureMap(const Capture& capture, double stored_fps) : from_(capture.from_s), to_(capture.to_s) {
    const bool said = std::isfinite(capture.filmed_fps) && capture.filmed_fps > 0 && stored_fps > 0;
    if (said && !(from_ && to_ && *to_ <= *from_)) slow_ = capture.filmed_fps / stored_fps;
}

double CaptureMap::real_s(double stream_s) const {
    // Time spent inside the slowed part counts 1/slow; the part's own start keeps real and stream time
    // together before it.
    const double start = from_.value_or(0), before = std::min(stream_s, start);
    const double inside = std::max(0.0, (to_ ? std::min(stream_s, *to_) : stream_s) - start);
    const double after = to_ ? std::max(0.0, stream_s - std::max(*to_, start)) : 0.0;
    if (!from_ && stream_s < 0) return stream_s / slow_;
    return before + inside / slow_ + after;
}

double CaptureMap::stream_s(double real_s) const {
    const double start = from_.value_or(0);
    if (!from_ && real_s < 0) return real_s * slow_;
    if (real_s <= start) return real_s;
    const double within = start + (real_s - start) * slow_;
    if (!to_ || within <= *to_) return within;
    return *to_ + (real_s - start - (*to_ - start) / slow_);
}

double CaptureMap::slowed(double stream_s) const {
    return (!from_ || stream_s >= *from_) && (!to_ || stream_s < *to_) ? slow_ : 1;
}

}  // namespace aspen::core
