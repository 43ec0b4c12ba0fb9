#include "media/writing/video_writer.hpp"

#include <fmt/format.h>

#include <cmath>
#include <optional>

#include "core/reading/refused.hpp"
#include "media/reading/ffmpeg.hpp"
#include "media/writing/film_tracks.hpp"

extern "C" {
#include <libavutil/display.h>
#include <libavutil/opt.h>
}

namespace aspen::media {
namespace {
constexpr int kClock = 90000;

void must(int result, const std::filesystem::path& file, const char* what) {
    if (result < 0) {
        throw core::Refused(fmt::format("{}: cannot {} ({}); check the folder and the free space",
                                        file.string(), what, ff::words(result)));
    }
}
}  // namespace

class VideoWriter::Impl {
  public:
    Impl(std::filesystem::path file, const WriterOptions& o, FilmExtras extras)
        : file_(std::move(file)), extras_(std::move(extras)) {
        ff::quiet();
        part_ = file_.parent_path() / ("." + file_.filename().string() + ".part");
        AVFormatContext* raw = nullptr;
        must(avformat_alloc_output_context2(&raw, nullptr, "mp4", part_.c_str()), file_, "write");
        output_.reset(raw);
        open_encoder(o);
        stream_ = avformat_new_stream(output_.get(), nullptr);
        avcodec_parameters_from_context(stream_->codecpar, encoder_.get());
        stream_->time_base = encoder_->time_base;
        stream_->sample_aspect_ratio = encoder_->sample_aspect_ratio;
        stream_->avg_frame_rate = encoder_->framerate;
        if (o.rotation_deg != 0) {
            auto* matrix = reinterpret_cast<std::int32_t*>(
                av_stream_new_side_data(stream_, AV_PKT_DATA_DISPLAYMATRIX, 9 * sizeof(std::int32_t)));
            // The matrix of a positive angle turns clockwise on screen, whatever older headers say.
            av_display_rotation_set(matrix, o.rotation_deg);
        }
        if (!extras_.voice.empty()) voice_.emplace(*output_, extras_.voice, extras_.rate_hz);
        if (!extras_.captions.empty()) captions_.emplace(*output_, extras_.captions);
        add_chapters(*output_, extras_.chapters, extras_.length_s);
        must(avio_open(&output_->pb, part_.c_str(), AVIO_FLAG_WRITE), file_, "open it for writing");
        must(avformat_write_header(output_.get(), nullptr), file_, "write its head");
        frame_.reset(av_frame_alloc());
        frame_->format = AV_PIX_FMT_YUV420P;
        frame_->width = o.width;
        frame_->height = o.height;
        must(av_frame_get_buffer(frame_.get(), 0), file_, "get memory");
        // On two threads: converting a large picture takes as long as encoding it.
        scaler_.reset(sws_alloc_context());
        const auto set = [&](const char* what, std::int64_t value) {
            av_opt_set_int(scaler_.get(), what, value, 0);
        };
        for (const char* from_to : {"src", "dst"}) {
            set((std::string(from_to) + "w").c_str(), o.width);
            set((std::string(from_to) + "h").c_str(), o.height);
        }
        set("src_format", AV_PIX_FMT_BGRA);
        set("dst_format", AV_PIX_FMT_YUV420P);
        set("sws_flags", SWS_BILINEAR);
        set("threads", 2);
        must(sws_init_context(scaler_.get(), nullptr, nullptr), file_, "convert its pictures");
        sws_setColorspaceDetails(scaler_.get(), sws_getCoefficients(SWS_CS_ITU709), 1,
                                 sws_getCoefficients(SWS_CS_ITU709), 0, 0, 1 << 16, 1 << 16);
    }

    ~Impl() {
        if (finished_) return;
        output_.reset();
        std::error_code ignored;
        std::filesystem::remove(part_, ignored);
    }

    void add(const std::uint8_t* bgra, int bytes_per_row, double time_s) {
        must(av_frame_make_writable(frame_.get()), file_, "get memory");
        const ff::Frame from(av_frame_alloc());
        from->format = AV_PIX_FMT_BGRA;
        from->width = frame_->width;
        from->height = frame_->height;
        from->data[0] = const_cast<std::uint8_t*>(bgra);
        from->linesize[0] = bytes_per_row;
        // The pixels stay the caller's: without a buffer that says so they would be copied.
        from->buf[0] = av_buffer_create(
            from->data[0], static_cast<std::size_t>(bytes_per_row) * static_cast<std::size_t>(from->height),
            [](void*, std::uint8_t*) {}, nullptr, AV_BUFFER_FLAG_READONLY);
        must(sws_scale_frame(scaler_.get(), frame_.get(), from.get()), file_, "convert its pictures");
        add_same(time_s);
    }

    void add_same(double time_s) {
        frame_->pts = std::llround(time_s * kClock);
        if (voice_) voice_->write_until(time_s);
        if (captions_) captions_->write_until(time_s);
        must(avcodec_send_frame(encoder_.get(), frame_.get()), file_, "encode");
        drain();
    }

    void finish() {
        must(avcodec_send_frame(encoder_.get(), nullptr), file_, "encode");
        drain();
        if (voice_) voice_->finish();
        if (captions_) captions_->finish(extras_.length_s);
        must(av_write_trailer(output_.get()), file_, "finish it");
        must(avio_closep(&output_->pb), file_, "close it");
        std::error_code error;
        std::filesystem::rename(part_, file_, error);
        if (error)
            throw core::Refused(
                fmt::format("{}: cannot be named ({}); check the folder", file_.string(), error.message()));
        finished_ = true;
    }

  private:
    void open_encoder(const WriterOptions& o) {
        const AVCodec* codec = avcodec_find_encoder_by_name("libx264");
        if (!codec)
            throw core::Refused("video: the H.264 encoder is missing; install libavcodec with libx264");
        encoder_.reset(avcodec_alloc_context3(codec));
        encoder_->width = o.width;
        encoder_->height = o.height;
        encoder_->pix_fmt = AV_PIX_FMT_YUV420P;
        encoder_->time_base = {1, kClock};
        encoder_->framerate = av_d2q(o.fps, 100000);
        encoder_->gop_size = o.group;
        encoder_->max_b_frames = o.swift ? 0 : o.b_frames;
        encoder_->sample_aspect_ratio = {o.shape_num, o.shape_den};
        encoder_->colorspace = AVCOL_SPC_BT709;
        encoder_->color_primaries = AVCOL_PRI_BT709;
        encoder_->color_trc = AVCOL_TRC_BT709;
        encoder_->color_range = AVCOL_RANGE_MPEG;
        encoder_->thread_count = 2;
        if (output_->oformat->flags & AVFMT_GLOBALHEADER) encoder_->flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
        av_opt_set(encoder_->priv_data, "preset", o.swift ? "ultrafast" : o.preset, 0);
        if (o.swift)
            av_opt_set(encoder_->priv_data, "x264-params",
                       "rc-lookahead=10:mbtree=1:aq-mode=1:cabac=1:no-deblock=0:deblock=0,0", 0);
        if (extras_.bits_per_s > 0) {
            encoder_->bit_rate = extras_.bits_per_s;
            encoder_->rc_max_rate = extras_.bits_per_s * 3 / 2;
            encoder_->rc_buffer_size = static_cast<int>(extras_.bits_per_s * 2);
        } else {
            av_opt_set(encoder_->priv_data, "crf", fmt::format("{}", o.quality_crf).c_str(), 0);
        }
        must(avcodec_open2(encoder_.get(), codec, nullptr), file_, "start the encoder");
    }

    void drain() {
        const ff::Packet packet(av_packet_alloc());
        while (avcodec_receive_packet(encoder_.get(), packet.get()) >= 0) {
            av_packet_rescale_ts(packet.get(), encoder_->time_base, stream_->time_base);
            packet->stream_index = stream_->index;
            must(av_interleaved_write_frame(output_.get(), packet.get()), file_, "write");
        }
    }

    std::filesystem::path file_, part_;
    FilmExtras extras_;
    ff::Output output_;
    ff::Codec encoder_;
    ff::Scaler scaler_;
    ff::Frame frame_;
    std::optional<VoiceTrack> voice_;
    std::optional<CaptionTrack> captions_;
    AVStream* stream_ = nullptr;
    bool finished_ = false;
};

VideoWriter::VideoWriter(std::filesystem::path file, const WriterOptions& options)
    : VideoWriter(std::move(file), options, {}) {}
VideoWriter::VideoWriter(std::filesystem::path file, const WriterOptions& options, FilmExtras extras)
    : impl_(std::make_unique<Impl>(std::move(file), options, std::move(extras))) {}
VideoWriter::~VideoWriter() = default;
void VideoWriter::add(const std::uint8_t* bgra, int bytes_per_row, double time_s) {
    impl_->add(bgra, bytes_per_row, time_s);
}
void VideoWriter::add_same(double time_s) { impl_->add_same(time_s); }
void VideoWriter::finish() { impl_->finish(); }

}  // namespace aspen::media
