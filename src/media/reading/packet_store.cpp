#include "media/reading/packet_store.hpp"

#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

#include <cstdlib>

#include "core/reading/refused.hpp"

extern "C" {
#include <libavutil/adler32.h>
}

namespace aspen::media {
namespace {

using core::Refused;

/// Codecs whose packets in MP4 and MOV are the file's own bytes, with nothing that a reader adds or takes
/// away.
bool packets_are_file_bytes(AVCodecID id) {
    return id == AV_CODEC_ID_H264 || id == AV_CODEC_ID_HEVC || id == AV_CODEC_ID_MPEG4 ||
           id == AV_CODEC_ID_MJPEG || id == AV_CODEC_ID_AV1 || id == AV_CODEC_ID_VP9 ||
           id == AV_CODEC_ID_PRORES;
}

}  // namespace

PacketStore::PacketStore(ClipSource& source, const ReadWatch& watch) : source_(source) {
    if (!list(watch)) read_all(watch);
    if (facts_.empty())
        throw Refused(fmt::format("{}: no picture could be read; the file is cut off: copy it again",
                                  source_.path().string()));
}

PacketStore::~PacketStore() {
    if (spool_ >= 0) ::close(spool_);
}

bool PacketStore::list(const ReadWatch& watch) {
    if (!source_.container_is({"mov", "mp4"}) || !packets_are_file_bytes(source_.parameters().codec_id) ||
        !source_.bytes().lists_its_samples())
        return false;
    source_.input()->flags |= AVFMT_FLAG_NOPARSE;  // there is nothing to parse in bytes that are made up
    source_.bytes().make_hollow();
    in_file_ = true;
    read_all(watch);
    return true;
}

void PacketStore::read_all(const ReadWatch& watch) {
    while (true) {
        stop_if_cancelled(watch);
        ff::Packet packet(av_packet_alloc());
        if (av_read_frame(source_.input(), packet.get()) < 0) break;
        if (packet->stream_index != source_.stream().index || packet->size <= 0) continue;
        if (facts_.size() >= kMostPackets) {
            throw Refused(fmt::format("{}: holds more than {} pictures; cut it into shorter clips",
                                      source_.path().string(), kMostPackets));
        }
        if (packet->size > kMostPacketBytes) {
            throw Refused(
                fmt::format("{}: one of its pictures claims {} MB; the file is damaged: copy it again",
                            source_.path().string(), packet->size >> 20));
        }
        add(std::move(packet));
    }
    stop_if_cancelled(watch);  // what looked like the end was the stop
}

void PacketStore::add(ff::Packet packet) {
    const PacketFacts facts{packet->pts, packet->dts, (packet->flags & AV_PKT_FLAG_KEY) != 0,
                            (packet->flags & AV_PKT_FLAG_DISCARD) != 0};
    const std::int64_t told[] = {facts.pts, facts.dts, packet->size, packet->flags};
    sum_ = static_cast<std::uint32_t>(
        av_adler32_update(sum_, reinterpret_cast<const std::uint8_t*>(told), sizeof told));
    facts_.push_back(facts);
    Place place;
    place.size = packet->size;
    if (in_file_) {
        place.at = packet->pos;
    } else if (in_memory_ + static_cast<std::size_t>(packet->size) > kMemoryBytes) {
        spool(*packet, place);
    } else {
        in_memory_ += static_cast<std::size_t>(packet->size);
        av_packet_make_refcounted(packet.get());
        place.head = std::move(packet);
        places_.push_back(std::move(place));
        return;
    }
    if (packet->side_data_elems > 0 || packet->flags & AV_PKT_FLAG_DISCARD) {  // what goes with the bytes
        place.head.reset(av_packet_alloc());
        av_packet_copy_props(place.head.get(), packet.get());
    }
    places_.push_back(std::move(place));
}

void PacketStore::spool(const AVPacket& packet, Place& place) {
    if (spool_ < 0) {
        const char* folder = std::getenv("TMPDIR");
        spool_ = ::open(folder ? folder : "/var/tmp", O_TMPFILE | O_RDWR | O_CLOEXEC, 0600);
    }
    place.at = spool_end_;
    place.spooled = true;
    std::int64_t written = 0;
    while (spool_ >= 0 && written < packet.size) {
        const ssize_t n = ::pwrite(spool_, packet.data + written,
                                   static_cast<std::size_t>(packet.size - written), spool_end_ + written);
        if (n <= 0) break;
        written += n;
    }
    if (written < packet.size) {
        throw Refused(
            fmt::format("{}: there is no room for its pictures in the temporary folder; free some space "
                        "there and open it again",
                        source_.path().string()));
    }
    spool_end_ += packet.size;
}

ff::Packet PacketStore::packet(int number) const {
    const Place& place = places_.at(static_cast<std::size_t>(number));
    if (place.at < 0) return ff::Packet(av_packet_clone(place.head.get()));
    ff::Packet out(av_packet_alloc());
    if (av_new_packet(out.get(), place.size) < 0)
        throw Refused("clip: there is not enough memory for one of its pictures; close other programs");
    if (place.head) av_packet_copy_props(out.get(), place.head.get());
    if (place.spooled) {
        if (::pread(spool_, out->data, static_cast<std::size_t>(place.size), place.at) != place.size) {
            throw Refused(fmt::format("{}: the temporary folder cannot be read any more; open the clip again",
                                      source_.path().string()));
        }
        return out;
    }
    source_.bytes().check_unchanged();
    if (!source_.bytes().read_at(place.at, out->data, static_cast<std::size_t>(place.size))) {
        throw Refused(fmt::format("{}: cannot be read any more; check the disk and open it again",
                                  source_.path().string()));
    }
    return out;
}

}  // namespace aspen::media
