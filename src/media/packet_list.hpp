#pragma once

#include <filesystem>
#include <vector>

#include "media/display.hpp"
#include "media/ffmpeg.hpp"
#include "media/video_reader.hpp"

namespace aspen::media {

/// One compressed picture as the container states it.
struct ListedPacket {
    ff::Packet packet;
    std::int64_t pts = AV_NOPTS_VALUE;
    std::int64_t dts = AV_NOPTS_VALUE;
    bool key = false;
    bool discard = false;
};

/// All packets of a clip's picture stream, in decoding order, and what is needed to decode and show them.
class PacketList {
  public:
    /// Throws core::Refused in one line. `first_only`: stops after the first packet, enough to know it is a clip.
    PacketList(const std::filesystem::path& file, const ReadWatch& watch, bool first_only = false);

    const std::vector<ListedPacket>& packets() const { return packets_; }
    const AVCodecParameters& parameters() const { return *stream_->codecpar; }
    const Display& display() const { return display_; }
    double seconds(std::int64_t stamp) const { return static_cast<double>(stamp) * av_q2d(stream_->time_base); }
    double nominal_fps() const;
    /// True when the presentation order can be read off the times without decoding.
    bool order_is_stated() const;
    ff::Codec open_decoder() const;

  private:
    void read_all(const std::filesystem::path& file, const ReadWatch& watch, bool first_only);
    ff::Input input_;
    AVStream* stream_ = nullptr;
    const AVCodec* codec_ = nullptr;
    Display display_;
    std::vector<ListedPacket> packets_;
};

}  // namespace aspen::media
