#pragma once

#include <cstdint>
#include <vector>

#include "media/reading/clip_source.hpp"
#include "media/reading/read_watch.hpp"

namespace aspen::media {

/// One compressed picture as the container states it.
struct PacketFacts {
    std::int64_t pts = AV_NOPTS_VALUE;
    std::int64_t dts = AV_NOPTS_VALUE;
    bool key = false;
    bool discard = false;
};

/// All packets of a clip's picture stream in decoding order: what the container says of each, and its bytes
/// when they are asked for. Where the container lists its samples in its head (MP4, MOV without fragments)
/// the pictures' bytes are not touched until they are wanted and stay in the file. Elsewhere all packets are
/// read once; those beyond a memory budget go to a nameless spool file, so that a long clip costs disk and
/// not memory. One thread.
class PacketStore {
  public:
    static constexpr std::size_t kMemoryBytes = std::size_t{64} << 20;
    static constexpr std::size_t kMostPackets = 4'000'000;
    static constexpr std::int64_t kMostPacketBytes = std::int64_t{256} << 20;

    /// Reads the list of packets. Throws core::Refused, ReadCancelled.
    PacketStore(ClipSource& source, const ReadWatch& watch);
    ~PacketStore();
    PacketStore(const PacketStore&) = delete;
    PacketStore& operator=(const PacketStore&) = delete;

    const std::vector<PacketFacts>& facts() const { return facts_; }
    int count() const { return static_cast<int>(facts_.size()); }
    /// The packet itself. Throws core::Refused when the file changed or cannot be read any more.
    ff::Packet packet(int number) const;
    /// A number that two different packet lists share only by chance: of all times, sizes and flags.
    std::uint32_t sum() const { return sum_; }
    std::size_t bytes_in_memory() const { return in_memory_; }

  private:
    struct Place {
        ff::Packet head;
        std::int64_t at = -1;
        int size = 0;
        bool spooled = false;
    };
    bool list(const ReadWatch& watch);
    void read_all(const ReadWatch& watch);
    void add(ff::Packet packet);
    void spool(const AVPacket& packet, Place& place);
    ClipSource& source_;
    std::vector<PacketFacts> facts_;
    std::vector<Place> places_;
    std::size_t in_memory_ = 0;
    std::uint32_t sum_ = 1;
    bool in_file_ = false;
    int spool_ = -1;
    std::int64_t spool_end_ = 0;
};

}  // namespace aspen::media
