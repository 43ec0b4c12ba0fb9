#pragma once

#include <atomic>
#include <memory>

#include "media/reading/decoder.hpp"
#include "media/reading/frame_cache.hpp"
#include "media/reading/frame_order.hpp"

namespace aspen::media {

/// Exact pictures by frame number: single ones by a seek, stretches of them by a run that is advanced packet
/// by packet, so that whoever drives it can turn to something more urgent in between. Both fill the same
/// cache; a seek ends the run. One thread.
///
/// A seek enters at the latest key at or before the target in decoding and in presentation order, leaves out
/// pictures that nothing refers to, and asks for what is inside as soon as the target's packet is sent. Where
/// that does not give the target (intra refresh, open groups, damage) it decodes everything, and then from
/// ever earlier entries. Where the order was settled by decoding every picture is compared with its check
/// sum.
class FrameDecoder {
  public:
    FrameDecoder(const ClipSource& source, const PacketStore& packets, const FrameOrder& order,
                 std::size_t cache_bytes)
        : packets_(packets), order_(order), decoder_(source, packets), cache_(cache_bytes) {}

    FrameCache& cache() { return cache_; }
    const FrameCache& cache() const { return cache_; }

    /// Exactly frame n, from the cache or by a seek. Throws core::Refused when it cannot be decoded,
    /// ReadCancelled.
    ff::Frame exact(int n, const std::atomic<bool>* cancel = nullptr);

    /// Sets the run's aim: frames lo..hi into the cache. Goes on from where the run is when that is the
    /// shorter way.
    void aim(int lo, int hi);
    bool running() const { return running_; }
    /// Decodes one packet of the run. False when the aim is reached or the clip ends.
    bool advance();
    /// Whether a run already on its way comes to frame n within so many packets.
    bool comes_soon(int n, int packets) const;
    const FrameOrder& order() const { return order_; }
    /// The frame of the entry that a seek to n starts from; -1 where its packet carries none.
    int entry_frame(int n) const { return order_.frame_of(entry_before(n)); }
    /// Packets decoded since the start, for measuring.
    long packets_decoded() const { return decoded_; }

  private:
    enum class Way { quick, whole };
    bool seek(int entry, int n, Way way, const std::atomic<bool>* cancel);
    /// Takes ready pictures from `lowest` on into the cache; true when frame n was among them, `passed` when
    /// a later one came.
    bool take(int n, int lowest, bool counting, bool& passed);
    int entry_before(int n) const;
    int earlier_key(int entry) const;
    int first_missing(int lo, int hi) const;
    const PacketStore& packets_;
    const FrameOrder& order_;
    Decoder decoder_;
    FrameCache cache_;
    bool running_ = false, run_counts_ = false;
    int run_next_ = 0, run_lo_ = 0, run_hi_ = 0, run_out_ = -1, counted_ = 0;
    long decoded_ = 0;
};

}  // namespace aspen::media
