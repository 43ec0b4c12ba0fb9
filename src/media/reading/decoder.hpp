#pragma once

#include "media/reading/packet_store.hpp"

namespace aspen::media {

/// The decoder of a clip, fed by packet number; every picture names the packet it came from in `pts`. One
/// thread.
class Decoder {
  public:
    Decoder(const ClipSource& source, const PacketStore& packets, int threads = 2)
        : packets_(packets), codec_(source.open_decoder(threads)), frame_(av_frame_alloc()) {}

    /// Forgets all that was sent.
    void restart() { avcodec_flush_buffers(codec_.get()); }
    /// Sends a packet. With `references_only` a picture that nothing refers to is not decoded at all. A
    /// damaged packet gives no picture; that is no error here.
    void send(int packet, bool references_only = false) {
        codec_->skip_frame = references_only ? AVDISCARD_NONREF : AVDISCARD_DEFAULT;
        const ff::Packet numbered = packets_.packet(packet);
        numbered->pts = numbered->dts = packet;
        avcodec_send_packet(codec_.get(), numbered.get());
    }
    /// Asks for all that is still inside; restart() before the next packet.
    void drain() { avcodec_send_packet(codec_.get(), nullptr); }
    /// The next picture that is ready, or null. Valid until the next call.
    const AVFrame* receive() {
        av_frame_unref(frame_.get());
        return avcodec_receive_frame(codec_.get(), frame_.get()) >= 0 ? frame_.get() : nullptr;
    }
    AVCodecContext& context() { return *codec_; }

  private:
    const PacketStore& packets_;
    ff::Codec codec_;
    ff::Frame frame_;
};

}  // namespace aspen::media
