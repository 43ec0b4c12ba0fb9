#pragma once

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "media/reading/packet_store.hpp"

namespace aspen::media {

/// Where the frame times come from: the stream, or made from the nominal rate (missing), or repaired
/// (backward, repeated or partly missing; the good steps are kept, the others become the median step).
enum class TimeSource { stream, made, repaired };
std::string_view word(TimeSource s);

/// Where a frame comes from: the packet that carries it and, where decoding settled the order, its check sum.
struct FrameSource {
    int packet = 0;
    std::optional<std::uint32_t> sum;
    bool damaged = false;
};

/// Which picture is frame N: all frames of a clip in presentation order.
struct FrameOrder {
    std::vector<FrameSource> frames;
    std::vector<double> pts_s;  ///< rising, one a frame
    TimeSource time_source = TimeSource::stream;
    bool settled = false;              ///< by decoding once, not by the container's word
    std::vector<int> frame_of_packet;  ///< -1: none

    int count() const { return static_cast<int>(frames.size()); }
    /// Frame that this packet carries, -1 for none.
    int frame_of(int packet) const {
        return packet >= 0 && packet < static_cast<int>(frame_of_packet.size())
                   ? frame_of_packet[static_cast<std::size_t>(packet)]
                   : -1;
    }
};

/// Check sum of a decoded picture in the stream's own format, planes packed without padding.
std::uint32_t check_sum(const AVFrame& frame);
std::vector<std::uint8_t> packed_planes(const AVFrame& frame);

/// A folder that remembers what decoding once settled, by content hash. An empty path remembers nothing.
class OrderCache {
  public:
    OrderCache() = default;
    OrderCache(std::filesystem::path folder, std::string content_hash)
        : folder_(std::move(folder)), hash_(std::move(content_hash)) {}
    /// The frames kept for this clip if they were settled from these very packets.
    std::optional<std::vector<FrameSource>> find(const ClipSource& source, const PacketStore& packets);
    /// Keeps them; a folder that cannot be written is no error, the next opening settles again.
    void keep(const PacketStore& packets, const std::vector<FrameSource>& frames);

  private:
    std::filesystem::path file(const ClipSource* source);
    std::filesystem::path folder_;
    std::string hash_;
};

/// Frames that the decoder had to conceal, and those that lean on them until the next entry. Decodes all of
/// the clip in one thread; worth it only where something complained. Throws ReadCancelled.
std::vector<int> find_damage(const ClipSource& source, const PacketStore& packets, const FrameOrder& order,
                             const std::atomic<bool>* cancel);

/// Settles which picture is frame N.
///
/// Where times are present, unique and sensible, decoding times rise, codec and container are known to be
/// honest, and the first pictures that the decoder gives bear it out, the presentation order is that of the
/// times. Everything else is decoded once from the start, with a check sum of every picture, so that a later
/// seek can be compared with it. Throws core::Refused, ReadCancelled.
FrameOrder settle_order(ClipSource& source, const PacketStore& packets, OrderCache cache,
                        const ReadWatch& watch);

}  // namespace aspen::media
