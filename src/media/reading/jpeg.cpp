#include "media/reading/jpeg.hpp"

#include <cstring>

#include "core/reading/refused.hpp"

namespace aspen::media {
namespace {

constexpr int kQuality = 4;  // of FFmpeg's scale 2 (best) to 31

}  // namespace

void JpegWriter::start(int width, int height) {
    const AVCodec* codec = avcodec_find_encoder(AV_CODEC_ID_MJPEG);
    encoder_.reset(codec ? avcodec_alloc_context3(codec) : nullptr);
    if (!encoder_) throw core::Refused("pictures: the JPEG encoder is missing; install libavcodec whole");
    encoder_->width = width;
    encoder_->height = height;
    encoder_->pix_fmt = AV_PIX_FMT_YUVJ420P;
    encoder_->time_base = {1, 25};
    encoder_->flags |= AV_CODEC_FLAG_QSCALE;
    encoder_->global_quality = kQuality * FF_QP2LAMBDA;
    encoder_->thread_count = 1;
    if (avcodec_open2(encoder_.get(), codec, nullptr) < 0)
        throw core::Refused("pictures: the JPEG encoder does not start");
    frame_.reset(av_frame_alloc());
    frame_->format = AV_PIX_FMT_YUVJ420P;
    frame_->width = width;
    frame_->height = height;
    frame_->quality = encoder_->global_quality;
    av_frame_get_buffer(frame_.get(), 0);
    scaler_.reset(sws_getContext(width, height, AV_PIX_FMT_BGRA, width, height, AV_PIX_FMT_YUVJ420P,
                                 SWS_BILINEAR, nullptr, nullptr, nullptr));
}

std::string JpegWriter::write(const Picture& picture) {
    if (!encoder_ || encoder_->width != picture.width || encoder_->height != picture.height)
        start(picture.width, picture.height);
    av_frame_make_writable(frame_.get());
    const std::uint8_t* planes[4] = {picture.bgra.data(), nullptr, nullptr, nullptr};
    const int strides[4] = {picture.width * 4, 0, 0, 0};
    sws_scale(scaler_.get(), planes, strides, 0, picture.height, frame_->data, frame_->linesize);
    const ff::Packet packet(av_packet_alloc());
    avcodec_send_frame(encoder_.get(), frame_.get());
    if (avcodec_receive_packet(encoder_.get(), packet.get()) < 0) return {};
    return {reinterpret_cast<const char*>(packet->data), static_cast<std::size_t>(packet->size)};
}

Picture read_jpeg(std::string_view bytes) {
    const AVCodec* codec = avcodec_find_decoder(AV_CODEC_ID_MJPEG);
    const ff::Codec decoder(codec ? avcodec_alloc_context3(codec) : nullptr);
    const ff::Packet packet(av_packet_alloc());
    const ff::Frame frame(av_frame_alloc());
    if (!decoder || bytes.empty()) return {};
    decoder->thread_count = 1;
    if (avcodec_open2(decoder.get(), codec, nullptr) < 0 ||
        av_new_packet(packet.get(), static_cast<int>(bytes.size())) < 0)
        return {};
    std::memcpy(packet->data, bytes.data(), bytes.size());
    if (avcodec_send_packet(decoder.get(), packet.get()) < 0 ||
        avcodec_receive_frame(decoder.get(), frame.get()) < 0)
        return {};
    Picture out{frame->width, frame->height, {}};
    out.bgra.resize(static_cast<std::size_t>(frame->width) * static_cast<std::size_t>(frame->height) * 4);
    const ff::Scaler scaler(
        sws_getContext(frame->width, frame->height, static_cast<AVPixelFormat>(frame->format), frame->width,
                       frame->height, AV_PIX_FMT_BGRA, SWS_BILINEAR, nullptr, nullptr, nullptr));
    if (!scaler) return {};
    std::uint8_t* planes[4] = {out.bgra.data(), nullptr, nullptr, nullptr};
    const int strides[4] = {out.width * 4, 0, 0, 0};
    sws_scale(scaler.get(), frame->data, frame->linesize, 0, frame->height, planes, strides);
    return out;
}

}  // namespace aspen::media
