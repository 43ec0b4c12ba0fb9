#include "media/reading/sound_track.hpp"

#include <algorithm>
#include <memory>

#include "core/reading/refused.hpp"
#include "media/reading/accepted.hpp"
#include "media/reading/clip_source.hpp"

extern "C" {
#include <libavutil/channel_layout.h>
#include <libswresample/swresample.h>
}

namespace aspen::media {
namespace {

struct FreeResampler {
    void operator()(SwrContext* s) const { swr_free(&s); }
};
using Resampler = std::unique_ptr<SwrContext, FreeResampler>;

Resampler resampler_for(const AVFrame& frame) {
    AVChannelLayout stereo = AV_CHANNEL_LAYOUT_STEREO;
    AVChannelLayout from{};
    if (frame.ch_layout.order == AV_CHANNEL_ORDER_UNSPEC)
        av_channel_layout_default(&from, frame.ch_layout.nb_channels);
    else
        av_channel_layout_copy(&from, &frame.ch_layout);
    SwrContext* raw = nullptr;
    const bool good =
        swr_alloc_set_opts2(&raw, &stereo, AV_SAMPLE_FMT_S16, SoundTrack::kRate, &from,
                            static_cast<AVSampleFormat>(frame.format), frame.sample_rate, 0, nullptr) >= 0;
    av_channel_layout_uninit(&from);
    Resampler out(raw);
    return good && swr_init(out.get()) >= 0 ? std::move(out) : nullptr;
}

void append(SoundTrack& track, SwrContext& resampler, const AVFrame* frame) {
    const int room = static_cast<int>(swr_get_out_samples(&resampler, frame ? frame->nb_samples : 0));
    if (room <= 0) return;
    const std::size_t before = track.samples.size();
    track.samples.resize(before + static_cast<std::size_t>(room) * 2);
    auto* to = reinterpret_cast<std::uint8_t*>(track.samples.data() + before);
    const int got = swr_convert(&resampler, &to, room,
                                frame ? const_cast<const std::uint8_t**>(frame->extended_data) : nullptr,
                                frame ? frame->nb_samples : 0);
    track.samples.resize(before + static_cast<std::size_t>(std::max(0, got)) * 2);
}

}  // namespace

std::optional<SoundTrack> read_sound(const std::filesystem::path& file, const ReadWatch& watch) {
    std::optional<ClipSource> source;
    try {
        source.emplace(file, watch.cancel);
    } catch (const core::Refused&) {
        return std::nullopt;
    }
    AVFormatContext& input = *source->input();
    const int index = av_find_best_stream(&input, AVMEDIA_TYPE_AUDIO, -1, -1, nullptr, 0);
    const AVCodec* codec =
        index < 0 ? nullptr : avcodec_find_decoder(input.streams[index]->codecpar->codec_id);
    if (codec && !is_among(kSoundCodecs, codec->name)) codec = nullptr;
    const ff::Codec decoder(codec ? avcodec_alloc_context3(codec) : nullptr);
    if (!decoder) return std::nullopt;
    for (unsigned i = 0; i < input.nb_streams; ++i)
        input.streams[i]->discard = static_cast<int>(i) == index ? AVDISCARD_DEFAULT : AVDISCARD_ALL;
    avcodec_parameters_to_context(decoder.get(), input.streams[index]->codecpar);
    decoder->pkt_timebase = input.streams[index]->time_base;
    if (avcodec_open2(decoder.get(), codec, nullptr) < 0) return std::nullopt;
    SoundTrack track;
    Resampler resampler;
    bool first = true;
    const ff::Packet packet(av_packet_alloc());
    const ff::Frame frame(av_frame_alloc());
    const auto longest = static_cast<std::size_t>(SoundTrack::kLongest_s * SoundTrack::kRate) * 2;
    const auto take = [&] {
        while (avcodec_receive_frame(decoder.get(), frame.get()) >= 0) {
            if (first && frame->pts != AV_NOPTS_VALUE)
                track.start_s = static_cast<double>(frame->pts) * av_q2d(input.streams[index]->time_base);
            if (first) resampler = resampler_for(*frame);
            first = false;
            if (resampler && track.samples.size() < longest) append(track, *resampler, frame.get());
        }
    };
    while (track.samples.size() < longest && av_read_frame(&input, packet.get()) >= 0) {
        stop_if_cancelled(watch);
        if (packet->stream_index == index) avcodec_send_packet(decoder.get(), packet.get());
        av_packet_unref(packet.get());
        take();
    }
    stop_if_cancelled(watch);
    avcodec_send_packet(decoder.get(), nullptr);
    take();
    if (resampler) append(track, *resampler, nullptr);
    if (track.samples.empty()) return std::nullopt;
    return track;
}

}  // namespace aspen::media
