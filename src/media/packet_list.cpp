#include "media/packet_list.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cstring>
#include <string_view>

#include "core/refused.hpp"

namespace aspen::media {
namespace {

using core::Refused;

void check_file(const std::filesystem::path& file) {
    namespace fs = std::filesystem;
    std::error_code error;
    const auto status = fs::status(file, error);
    if (!fs::exists(status)) throw Refused(fmt::format("{}: no such file; check the path", file.string()));
    if (fs::is_directory(status)) throw Refused(fmt::format("{}: is a folder; choose a clip in it", file.string()));
    if (fs::is_regular_file(status) && fs::file_size(file, error) == 0) {
        throw Refused(fmt::format("{}: the file is empty; copy it again from where it came", file.string()));
    }
}

bool one_of(const char* name, std::initializer_list<std::string_view> known) {
    return std::ranges::any_of(known, [&](std::string_view k) { return std::string_view(name).find(k) != std::string_view::npos; });
}

}  // namespace

PacketList::PacketList(const std::filesystem::path& file, const ReadWatch& watch, bool first_only) {
    ff::quiet();
    check_file(file);
    AVFormatContext* raw = nullptr;
    if (const int error = avformat_open_input(&raw, file.c_str(), nullptr, nullptr); error < 0) {
        if (error == AVERROR(EACCES)) throw Refused(fmt::format("{}: may not be read; change its permissions", file.string()));
        throw Refused(fmt::format("{}: not a video that can be read; export it as MP4 and try again", file.string()));
    }
    input_.reset(raw);
    if (avformat_find_stream_info(input_.get(), nullptr) < 0) {
        throw Refused(fmt::format("{}: its streams cannot be read; the file may be cut off: copy it again", file.string()));
    }
    int best = -1;
    for (unsigned i = 0; i < input_->nb_streams; ++i) {  // covers and thumbnails are no clip
        const AVStream* s = input_->streams[i];
        if (s->codecpar->codec_type != AVMEDIA_TYPE_VIDEO || (s->disposition & AV_DISPOSITION_ATTACHED_PIC)) continue;
        const auto area = [&](int k) {
            const AVCodecParameters* p = input_->streams[k]->codecpar;
            return std::int64_t{p->width} * p->height;
        };
        if (best < 0 || area(static_cast<int>(i)) > area(best)) best = static_cast<int>(i);
    }
    if (best < 0) throw Refused(fmt::format("{}: there is no picture in it, only sound or data; choose the video file", file.string()));
    stream_ = input_->streams[best];
    codec_ = avcodec_find_decoder(stream_->codecpar->codec_id);
    if (!codec_ || stream_->codecpar->width <= 0 || stream_->codecpar->height <= 0) {
        throw Refused(fmt::format("{}: its picture format is not known here; export it as H.264 MP4", file.string()));
    }
    if (std::int64_t{stream_->codecpar->width} * stream_->codecpar->height > std::int64_t{8192} * 8192) {
        throw Refused(fmt::format("{}: its picture is larger than 8192 x 8192; export it smaller", file.string()));
    }
    display_ = Display(*stream_, *stream_->codecpar);
    read_all(file, watch, first_only);
}

void PacketList::read_all(const std::filesystem::path& file, const ReadWatch& watch, bool first_only) {
    std::size_t bytes = 0;
    while (true) {
        if (watch.cancel && *watch.cancel) throw ReadCancelled{};
        ff::Packet packet(av_packet_alloc());
        if (av_read_frame(input_.get(), packet.get()) < 0) break;
        if (packet->stream_index != stream_->index || packet->size == 0) continue;
        bytes += static_cast<std::size_t>(packet->size);
        if (bytes > VideoReader::kMostBytes) {
            throw Refused(fmt::format("{}: holds more than {} MB of video; cut it into shorter clips", file.string(), VideoReader::kMostBytes >> 20));
        }
        ListedPacket listed{nullptr, packet->pts, packet->dts, (packet->flags & AV_PKT_FLAG_KEY) != 0,
                            (packet->flags & AV_PKT_FLAG_DISCARD) != 0};
        av_packet_make_refcounted(packet.get());
        listed.packet = std::move(packet);
        packets_.push_back(std::move(listed));
        if (first_only) break;
    }
    if (packets_.empty()) throw Refused(fmt::format("{}: no picture could be read; the file is cut off: copy it again", file.string()));
}

double PacketList::nominal_fps() const {
    for (const AVRational rate : {stream_->avg_frame_rate, stream_->r_frame_rate}) {
        if (rate.num > 0 && rate.den > 0) return av_q2d(rate);
    }
    return 25.0;
}

bool PacketList::order_is_stated() const {
    if (!one_of(input_->iformat->name, {"mov", "mp4", "matroska"})) return false;
    const AVCodecID id = stream_->codecpar->codec_id;
    if (id != AV_CODEC_ID_H264 && id != AV_CODEC_ID_HEVC && id != AV_CODEC_ID_MJPEG) return false;
    if (!packets_.front().key) return false;
    std::vector<std::int64_t> times;
    for (std::size_t i = 0; i < packets_.size(); ++i) {
        const ListedPacket& p = packets_[i];
        if (p.discard || p.pts == AV_NOPTS_VALUE || p.dts == AV_NOPTS_VALUE || p.pts < packets_.front().pts) return false;
        if (i > 0 && p.dts <= packets_[i - 1].dts) return false;
        times.push_back(p.pts);
    }
    std::ranges::sort(times);
    return std::ranges::adjacent_find(times) == times.end();
}

ff::Codec PacketList::open_decoder() const {
    ff::Codec decoder(avcodec_alloc_context3(codec_));
    avcodec_parameters_to_context(decoder.get(), stream_->codecpar);
    decoder->thread_count = 2;
    decoder->thread_type = FF_THREAD_FRAME;
    if (avcodec_open2(decoder.get(), codec_, nullptr) < 0) throw Refused("clip: its decoder does not start; export it as H.264 MP4");
    return decoder;
}

}  // namespace aspen::media
