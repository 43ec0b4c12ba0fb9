#include "media/reading/clip_source.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cstdlib>
#include <string_view>

#include "core/reading/refused.hpp"
#include "media/reading/accepted.hpp"
#include "media/reading/read_watch.hpp"
#include "media/reading/still_orientation.hpp"

namespace aspen::media {
namespace {

using core::Refused;

constexpr std::int64_t kMostPixels = std::int64_t{8192} * 8192;
constexpr unsigned kMostStreams = 64;
constexpr std::chrono::seconds kLongestOpening{10};

bool named(const char* name, std::initializer_list<std::string_view> known) {
    return std::ranges::any_of(
        known, [&](std::string_view k) { return std::string_view(name).find(k) != std::string_view::npos; });
}

}  // namespace

ClipSource::ClipSource(const std::filesystem::path& file, const std::atomic<bool>* stop)
    : bytes_(file, stop) {
    ff::quiet();
    bytes_.give_up_at(ByteFile::Clock::now() + kLongestOpening);
    open();
    bytes_.give_up_at(std::nullopt);
    choose_stream();
    display_ = Display(*stream_, *stream_->codecpar);
}

void ClipSource::open() {
    const std::string where = path().string();
    AVFormatContext* raw = avformat_alloc_context();
    raw->pb = bytes_.io();
    raw->flags |= AVFMT_FLAG_CUSTOM_IO;
    raw->max_streams = static_cast<int>(kMostStreams);
    raw->interrupt_callback = {&ByteFile::interrupted, &bytes_};
    // A clip is one file: nothing that a play list or a lying file names is opened beside it, least of all a
    // network.
    raw->io_open = [](AVFormatContext*, AVIOContext**, const char*, int, AVDictionary**) {
        return AVERROR(EPERM);
    };
    static const std::string codecs = std::string(kPictureCodecs) + "," + kSoundCodecs;
    AVDictionary* options = nullptr;
    av_dict_set(&options, "format_whitelist", kContainers, 0);
    av_dict_set(&options, "codec_whitelist", codecs.c_str(), 0);
    av_dict_set(&options, "protocol_whitelist", "file", 0);
    // Without its name, which would be believed more than its content.
    const int opened = avformat_open_input(&raw, "", nullptr, &options);
    av_dict_free(&options);
    if (opened < 0) refuse_unopened();
    input_.reset(raw);
    const bool by_head = container_is({"mov", "mp4"}) && bytes_.lists_its_samples();
    bool complete = by_head;
    for (unsigned i = 0; i < input_->nb_streams && complete; ++i) {
        const AVCodecParameters* p = input_->streams[i]->codecpar;
        complete = p->codec_type != AVMEDIA_TYPE_VIDEO ||
                   (p->codec_id != AV_CODEC_ID_NONE && p->width > 0 && p->height > 0);
    }
    if (complete) return;
    const int found = avformat_find_stream_info(input_.get(), nullptr);
    if (bytes_.stopped() || bytes_.given_up()) refuse_unopened();
    if (found < 0) {
        throw Refused(
            fmt::format("{}: its streams cannot be read; the file may be cut off: copy it again", where));
    }
}

void ClipSource::refuse_unopened() {
    if (bytes_.stopped()) throw ReadCancelled{};
    if (bytes_.given_up())
        throw Refused(fmt::format("{}: does not open within {} seconds; export it as MP4 and try again",
                                  path().string(), kLongestOpening.count()));
    throw Refused(
        fmt::format("{}: not a video that can be read; export it as MP4 and try again", path().string()));
}

void ClipSource::choose_stream() {
    const auto area = [&](const AVStream& s) { return std::int64_t{s.codecpar->width} * s.codecpar->height; };
    for (unsigned i = 0; i < input_->nb_streams; ++i) {  // covers and thumbnails are no clip
        AVStream* s = input_->streams[i];
        if (s->codecpar->codec_type != AVMEDIA_TYPE_VIDEO || (s->disposition & AV_DISPOSITION_ATTACHED_PIC))
            continue;
        if (!stream_ || area(*s) > area(*stream_)) stream_ = s;
    }
    const std::string where = path().string();
    if (!stream_)
        throw Refused(
            fmt::format("{}: there is no picture in it, only sound or data; choose the video file", where));
    codec_ = avcodec_find_decoder(stream_->codecpar->codec_id);
    if (codec_ && !is_among(kPictureCodecs, codec_->name)) codec_ = nullptr;
    if (!codec_ || stream_->codecpar->width <= 0 || stream_->codecpar->height <= 0) {
        throw Refused(fmt::format("{}: its picture format is not known here; export it as H.264 MP4", where));
    }
    if (area(*stream_) > kMostPixels) {
        throw Refused(fmt::format("{}: its picture is larger than 8192 x 8192; export it smaller", where));
    }
    for (unsigned i = 0; i < input_->nb_streams; ++i) {
        if (input_->streams[i] != stream_) input_->streams[i]->discard = AVDISCARD_ALL;
    }
}

void ClipSource::learn_from(const AVFrame& first) {
    if (stream_->sample_aspect_ratio.num == 0 && stream_->codecpar->sample_aspect_ratio.num == 0) {
        stream_->codecpar->sample_aspect_ratio = first.sample_aspect_ratio;
    }
    if (first.width > 0 && first.height > 0) {
        stream_->codecpar->width = first.width;
        stream_->codecpar->height = first.height;
    }
    display_ = Display(*stream_, *stream_->codecpar);
    // A photograph says in the picture how the camera was held (Exif, tag 0x0112), a film in its container.
    if (const AVDictionaryEntry* held = av_dict_get(first.metadata, "Orientation", nullptr, 0))
        display_.held_as(std::atoi(held->value));
    else if (container_is({"png_pipe", "tiff_pipe"}))
        display_.held_as(still_orientation(path()));
}

double ClipSource::nominal_fps() const {
    for (const AVRational rate : {stream_->avg_frame_rate, stream_->r_frame_rate}) {
        if (rate.num > 0 && rate.den > 0) return av_q2d(rate);
    }
    return 0;
}

bool ClipSource::container_is(std::initializer_list<std::string_view> names) const {
    return named(input_->iformat->name, names);
}

bool ClipSource::has_sound() const {
    return std::any_of(input_->streams, input_->streams + input_->nb_streams,
                       [](const AVStream* s) { return s->codecpar->codec_type == AVMEDIA_TYPE_AUDIO; });
}

std::string ClipSource::tag(const char* name) const {
    for (const AVDictionary* tags : {input_->metadata, stream_->metadata}) {
        if (const AVDictionaryEntry* e = av_dict_get(tags, name, nullptr, 0)) return e->value;
    }
    return {};
}

std::optional<double> ClipSource::capture_fps() const {
    // The key that phones' recorders write for slow motion, as FFmpeg's MOV reader passes it on.
    for (const char* key : {"com.android.capture.fps", "capture_fps"}) {
        const std::string text = tag(key);
        if (text.empty()) continue;
        const double fps = std::strtod(text.c_str(), nullptr);
        if (fps >= 1 && fps <= 10'000) return fps;
    }
    return std::nullopt;
}

std::string ClipSource::filmed_on() const {
    for (const char* key : {"com.apple.quicktime.creationdate", "creation_time", "date"}) {
        const std::string text = tag(key);
        const bool dated = text.size() >= 10 && text[4] == '-' && text[7] == '-' &&
                           std::all_of(text.begin(), text.begin() + 10,
                                       [](char c) { return c == '-' || (c >= '0' && c <= '9'); });
        if (dated && text.substr(0, 4) >= "1990") return text;  // clocks that were never set say 1904 or 1970
    }
    return {};
}

ff::Codec ClipSource::open_decoder(int threads) const {
    ff::Codec decoder(avcodec_alloc_context3(codec_));
    avcodec_parameters_to_context(decoder.get(), stream_->codecpar);
    decoder->max_pixels = kMostPixels;  // whatever a picture further on claims
    decoder->thread_count = threads;
    decoder->thread_type = FF_THREAD_FRAME;
    if (avcodec_open2(decoder.get(), codec_, nullptr) < 0)
        throw Refused("clip: its decoder does not start; export it as H.264 MP4");
    return decoder;
}

}  // namespace aspen::media
