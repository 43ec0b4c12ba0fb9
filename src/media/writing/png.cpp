#include "media/writing/png.hpp"

#include <fmt/format.h>

#include <fstream>

#include "core/reading/refused.hpp"
#include "media/reading/ffmpeg.hpp"

namespace aspen::media {
namespace {

/// Blue, green, red, filler as the pictures have it, into the red, green, blue that PNG holds.
ff::Frame rgb_frame(const Picture& p) {
    ff::Frame frame(av_frame_alloc());
    frame->format = AV_PIX_FMT_RGB24;
    frame->width = p.width;
    frame->height = p.height;
    if (av_frame_get_buffer(frame.get(), 0) < 0)
        throw core::Refused("picture: no memory for it; close something");
    for (int y = 0; y < p.height; ++y) {
        const auto* from = p.bgra.data() + static_cast<std::ptrdiff_t>(y) * p.width * 4;
        auto* to = frame->data[0] + static_cast<std::ptrdiff_t>(y) * frame->linesize[0];
        for (int x = 0; x < p.width; ++x) {
            to[3 * x] = from[4 * x + 2];
            to[3 * x + 1] = from[4 * x + 1];
            to[3 * x + 2] = from[4 * x];
        }
    }
    return frame;
}

}  // namespace

void write_png(const Picture& picture, const std::filesystem::path& file) {
    const AVCodec* codec = avcodec_find_encoder(AV_CODEC_ID_PNG);
    ff::Codec encoder(codec ? avcodec_alloc_context3(codec) : nullptr);
    if (!encoder) throw core::Refused("PNG: this FFmpeg cannot write it; install libavcodec whole");
    encoder->width = picture.width;
    encoder->height = picture.height;
    encoder->pix_fmt = AV_PIX_FMT_RGB24;
    encoder->time_base = {1, 25};
    const ff::Frame frame = rgb_frame(picture);
    ff::Packet packet(av_packet_alloc());
    if (avcodec_open2(encoder.get(), codec, nullptr) < 0 ||
        avcodec_send_frame(encoder.get(), frame.get()) < 0 ||
        avcodec_receive_packet(encoder.get(), packet.get()) < 0)
        throw core::Refused("PNG: the picture could not be written; report this clip");
    const auto bytes = reinterpret_cast<const char*>(packet->data);
    const auto refuse = [&] {
        throw core::Refused(fmt::format("{}: cannot be written; choose another folder", file.string()));
    };
    if (std::filesystem::exists(file) && !std::filesystem::is_regular_file(file)) {
        // A device or a pipe is written to as it stands; replacing it would take it from everybody.
        std::ofstream out(file, std::ios::binary);
        if (!out.write(bytes, packet->size).flush()) refuse();
        return;
    }
    const std::filesystem::path part = file.string() + ".part";
    {
        std::ofstream out(part, std::ios::binary);
        out.write(bytes, packet->size);
        out.flush();
        std::error_code error;
        if (out) std::filesystem::rename(part, file, error);
        if (out && !error) return;
    }
    std::error_code ignored;
    std::filesystem::remove(part, ignored);
    refuse();
}

}  // namespace aspen::media
