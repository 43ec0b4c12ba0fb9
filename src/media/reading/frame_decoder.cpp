#include "media/reading/frame_decoder.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/reading/refused.hpp"

namespace aspen::media {
namespace {

/// Of the pictures that a seek passes on its way only the last few are kept: each one kept is memory to be
/// got anew.
constexpr int kKeptBefore = 4;

}  // namespace

ff::Frame FrameDecoder::exact(int n, const std::atomic<bool>* cancel) {
    if (ff::Frame hit = cache_.find(n)) return hit;
    running_ = false;
    cache_.hold(n, cache_.direction());
    const int entry = entry_before(n);
    if (seek(entry, n, Way::quick, cancel)) return cache_.find(n);
    for (int e = entry; e >= 0; e = e > 0 ? earlier_key(e) : -1) {
        if (seek(e, n, Way::whole, cancel)) return cache_.find(n);
    }
    throw core::Refused(fmt::format("clip: frame {} cannot be decoded; go on with another frame", n));
}

bool FrameDecoder::seek(int entry, int n, Way way, const std::atomic<bool>* cancel) {
    decoder_.restart();
    const int target = order_.frames[static_cast<std::size_t>(n)].packet;
    const bool counting =
        entry == 0 && order_.settled && way == Way::whole;  // the very run that settled the order
    counted_ = 0;
    bool passed = false;
    for (int i = entry; i < packets_.count(); ++i) {
        if (cancel && *cancel) throw ReadCancelled{};
        const int frame = order_.frame_of(i);
        decoder_.send(i, way == Way::quick && !order_.settled && i != target && frame >= 0);
        ++decoded_;
        if (take(n, n - kKeptBefore, counting, passed)) return cache_.has(n);
        if (passed) return false;
        if (way == Way::quick && i == target) break;
    }
    decoder_.drain();
    return take(n, n - kKeptBefore, counting, passed) && cache_.has(n);
}

bool FrameDecoder::take(int n, int lowest, bool counting, bool& passed) {
    bool found = false;
    while (const AVFrame* frame = decoder_.receive()) {
        int m = counting ? counted_++ : order_.frame_of(static_cast<int>(frame->pts));
        if (m < 0 || m >= order_.count()) continue;
        const auto& sum = order_.frames[static_cast<std::size_t>(m)].sum;
        if (sum && !counting && *sum != check_sum(*frame)) m = -1;
        if (m < 0) continue;
        if (m >= lowest) cache_.keep(m, *frame);
        run_out_ = std::max(run_out_, m);
        found = found || m == n;
        passed = passed || m > n;
    }
    if (found) passed = false;
    return found;
}

int FrameDecoder::entry_before(int n) const {
    const auto& facts = packets_.facts();
    const int target = order_.frames[static_cast<std::size_t>(n)].packet;
    const std::int64_t wanted = facts[static_cast<std::size_t>(target)].pts;
    for (int i = target; i > 0; --i) {
        const PacketFacts& p = facts[static_cast<std::size_t>(i)];
        if (p.key && (p.pts == AV_NOPTS_VALUE || wanted == AV_NOPTS_VALUE || p.pts <= wanted)) return i;
    }
    return 0;
}

int FrameDecoder::earlier_key(int entry) const {
    int i = entry - 1;
    while (i > 0 && !packets_.facts()[static_cast<std::size_t>(i)].key) --i;
    return i;
}

int FrameDecoder::first_missing(int lo, int hi) const {
    int n = lo;
    while (n <= hi && cache_.has(n)) ++n;
    return n;
}

void FrameDecoder::aim(int lo, int hi) {
    lo = std::max(lo, 0);
    hi = std::min(hi, order_.count() - 1);
    const int first = first_missing(lo, hi);
    if (first > hi) {
        if (running_ && run_out_ < lo) running_ = false;
        run_hi_ = std::min(run_hi_, hi);
        return;
    }
    const int entry = entry_before(first);
    const bool goes_on = running_ && first > run_out_ && entry <= run_next_;
    if (!goes_on) {
        decoder_.restart();
        running_ = true;
        run_next_ = entry;
        run_counts_ = order_.settled && entry == 0;
        counted_ = 0;
        run_out_ = -1;
    }
    run_lo_ = first;
    run_hi_ = hi;
}

bool FrameDecoder::advance() {
    if (!running_) return false;
    bool passed = false;
    if (run_next_ >= packets_.count()) {
        decoder_.drain();
        take(run_hi_, run_lo_, run_counts_, passed);
        running_ = false;
        return false;
    }
    const int frame = order_.frame_of(run_next_);
    decoder_.send(run_next_++, !order_.settled && frame >= 0 && frame < run_lo_);
    ++decoded_;
    take(run_hi_, run_lo_, run_counts_, passed);
    return run_out_ < run_hi_;
}

bool FrameDecoder::comes_soon(int n, int packets) const {
    if (!running_ || n <= run_out_) return false;
    const int target = order_.frames[static_cast<std::size_t>(n)].packet;
    return target - run_next_ <= packets && entry_before(n) <= run_next_;
}

}  // namespace aspen::media
