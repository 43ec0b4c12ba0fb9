#include "media/writing/film_tracks.hpp"

#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/reading/refused.hpp"

extern "C" {
#include <libavutil/channel_layout.h>
#include <libavutil/mem.h>
}

namespace aspen::media {
namespace {

constexpr int kVoiceBits = 96000;  // one voice: nothing is heard to be missing (common practice, no source)
constexpr int kTextClock = 1000;

void must(int result, const char* what) {
    if (result < 0) throw core::Refused(std::string("film: cannot ") + what + " (" + ff::words(result) + ")");
}

}  // namespace

VoiceTrack::VoiceTrack(AVFormatContext& output, const std::vector<std::int16_t>& voice, int rate_hz)
    : output_(output), voice_(voice), rate_hz_(rate_hz) {
    const AVCodec* codec = avcodec_find_encoder(AV_CODEC_ID_AAC);
    if (!codec) throw core::Refused("film: the AAC encoder is missing; install libavcodec");
    encoder_.reset(avcodec_alloc_context3(codec));
    encoder_->sample_fmt = AV_SAMPLE_FMT_FLTP;
    encoder_->sample_rate = rate_hz;
    encoder_->bit_rate = kVoiceBits;
    encoder_->time_base = {1, rate_hz};
    av_channel_layout_default(&encoder_->ch_layout, 1);
    if (output.oformat->flags & AVFMT_GLOBALHEADER) encoder_->flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
    must(avcodec_open2(encoder_.get(), codec, nullptr), "start the sound encoder");
    stream_ = avformat_new_stream(&output, nullptr);
    must(avcodec_parameters_from_context(stream_->codecpar, encoder_.get()), "describe the sound");
    stream_->time_base = encoder_->time_base;
    frame_.reset(av_frame_alloc());
}

void VoiceTrack::write_until(double time_s) {
    const auto until = static_cast<std::size_t>(std::max(0.0, time_s) * rate_hz_);
    const auto block = static_cast<std::size_t>(encoder_->frame_size);
    while (at_ + block <= std::min(until, voice_.size())) encode(encoder_->frame_size);
}

void VoiceTrack::encode(int samples) {
    av_frame_unref(frame_.get());
    frame_->format = AV_SAMPLE_FMT_FLTP;
    frame_->sample_rate = rate_hz_;
    frame_->nb_samples = samples;
    frame_->pts = static_cast<std::int64_t>(at_);
    av_channel_layout_default(&frame_->ch_layout, 1);
    must(av_frame_get_buffer(frame_.get(), 0), "get memory");
    auto* to = reinterpret_cast<float*>(frame_->data[0]);
    for (int i = 0; i < samples; ++i)
        to[i] = static_cast<float>(voice_[at_ + static_cast<std::size_t>(i)]) / 32768.0F;
    at_ += static_cast<std::size_t>(samples);
    must(avcodec_send_frame(encoder_.get(), frame_.get()), "encode the sound");
    drain();
}

void VoiceTrack::drain() {
    const ff::Packet packet(av_packet_alloc());
    while (avcodec_receive_packet(encoder_.get(), packet.get()) >= 0) {
        av_packet_rescale_ts(packet.get(), encoder_->time_base, stream_->time_base);
        packet->stream_index = stream_->index;
        must(av_interleaved_write_frame(&output_, packet.get()), "write the sound");
    }
}

void VoiceTrack::finish() {
    write_until(static_cast<double>(voice_.size()) / rate_hz_ + 1);
    if (at_ < voice_.size()) encode(static_cast<int>(voice_.size() - at_));
    must(avcodec_send_frame(encoder_.get(), nullptr), "encode the sound");
    drain();
}

CaptionTrack::CaptionTrack(AVFormatContext& output, std::vector<core::Caption> captions)
    : output_(output), captions_(std::move(captions)) {
    stream_ = avformat_new_stream(&output, nullptr);
    stream_->codecpar->codec_type = AVMEDIA_TYPE_SUBTITLE;
    stream_->codecpar->codec_id = AV_CODEC_ID_MOV_TEXT;
    stream_->time_base = {1, kTextClock};
    stream_->disposition |= AV_DISPOSITION_DEFAULT;
    // The sample entry of 3GPP TS 26.245, 5.16: no scrolling, centred at the bottom, white on clear, one
    // font.
    static constexpr std::uint8_t kEntry[] = {0,    0,    0, 0,   1,   0xFF, 0,   0,   0,    0,
                                              0,    0,    0, 0,   0,   0,    0,   0,  // box at the bottom
                                              0,    0,    0, 0,   0,   1,    0,   18,  0xFF, 0xFF,
                                              0xFF, 0xFF,  // style
                                              0,    0,    0, 18,  'f', 't',  'a', 'b', 0,    1,
                                              0,    1,    5, 'S', 'e', 'r',  'i', 'f'};  // font table
    auto* extra = static_cast<std::uint8_t*>(av_mallocz(sizeof kEntry + AV_INPUT_BUFFER_PADDING_SIZE));
    std::memcpy(extra, kEntry, sizeof kEntry);
    stream_->codecpar->extradata = extra;
    stream_->codecpar->extradata_size = sizeof kEntry;
}

void CaptionTrack::write(double from_s, double to_s, const std::string& words) {
    const auto from = std::llround(from_s * kTextClock), to = std::llround(to_s * kTextClock);
    if (to <= from) return;
    const auto length = static_cast<int>(std::min<std::size_t>(words.size(), 0xFFFF));
    const ff::Packet packet(av_packet_alloc());
    must(av_new_packet(packet.get(), length + 2), "get memory");
    packet->data[0] = static_cast<std::uint8_t>(length >> 8);
    packet->data[1] = static_cast<std::uint8_t>(length & 0xFF);
    std::copy_n(words.data(), length, packet->data + 2);
    packet->pts = packet->dts = from;
    packet->duration = to - from;
    av_packet_rescale_ts(packet.get(), {1, kTextClock}, stream_->time_base);
    packet->stream_index = stream_->index;
    packet->flags |= AV_PKT_FLAG_KEY;
    must(av_interleaved_write_frame(&output_, packet.get()), "write the captions");
}

void CaptionTrack::write_until(double time_s) {
    for (; next_ < captions_.size() && captions_[next_].from_s <= time_s; ++next_) {
        const core::Caption& c = captions_[next_];
        write(told_until_s_, c.from_s,
              "");  // a text track has no holes: where nothing is read stands nothing
        write(c.from_s, c.to_s, c.words);
        told_until_s_ = c.to_s;
    }
}

void CaptionTrack::finish(double length_s) {
    write_until(length_s);
    write(told_until_s_, length_s, "");
}

void add_chapters(AVFormatContext& output, const std::vector<core::Chapter>& chapters, double length_s) {
    if (chapters.empty()) return;
    output.chapters = static_cast<AVChapter**>(av_calloc(chapters.size(), sizeof(AVChapter*)));
    for (std::size_t i = 0; i < chapters.size(); ++i) {
        auto* c = static_cast<AVChapter*>(av_mallocz(sizeof(AVChapter)));
        const double end = i + 1 < chapters.size() ? chapters[i + 1].at_s : length_s;
        c->id = static_cast<std::int64_t>(i);
        c->time_base = {1, kTextClock};
        c->start = std::llround(chapters[i].at_s * kTextClock);
        c->end = std::llround(end * kTextClock);
        av_dict_set(&c->metadata, "title", chapters[i].title.c_str(), 0);
        output.chapters[i] = c;
        output.nb_chapters = static_cast<unsigned>(i + 1);
    }
}

}  // namespace aspen::media
