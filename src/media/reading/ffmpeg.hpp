#pragma once

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavfilter/avfilter.h>
#include <libavformat/avformat.h>
#include <libswscale/swscale.h>
}

#include <memory>
#include <string>

/// Owning handles for FFmpeg's objects. Internal to media.
namespace aspen::media::ff {

struct CloseInput {
    void operator()(AVFormatContext* c) const { avformat_close_input(&c); }
};
struct FreeOutput {
    void operator()(AVFormatContext* c) const {
        if (c->pb) avio_closep(&c->pb);
        avformat_free_context(c);
    }
};
struct FreeIo {
    void operator()(AVIOContext* c) const {
        av_freep(&c->buffer);
        avio_context_free(&c);
    }
};
struct FreeCodec {
    void operator()(AVCodecContext* c) const { avcodec_free_context(&c); }
};
struct FreeFrame {
    void operator()(AVFrame* f) const { av_frame_free(&f); }
};
struct FreePacket {
    void operator()(AVPacket* p) const { av_packet_free(&p); }
};
struct FreeScaler {
    void operator()(SwsContext* s) const { sws_freeContext(s); }
};
struct FreeGraph {
    void operator()(AVFilterGraph* g) const { avfilter_graph_free(&g); }
};

using Input = std::unique_ptr<AVFormatContext, CloseInput>;
using Output = std::unique_ptr<AVFormatContext, FreeOutput>;
using Io = std::unique_ptr<AVIOContext, FreeIo>;
using Codec = std::unique_ptr<AVCodecContext, FreeCodec>;
using Frame = std::unique_ptr<AVFrame, FreeFrame>;
using Packet = std::unique_ptr<AVPacket, FreePacket>;
using Scaler = std::unique_ptr<SwsContext, FreeScaler>;
using Graph = std::unique_ptr<AVFilterGraph, FreeGraph>;

/// FFmpeg's own words for an error code.
std::string words(int error);
/// Keeps the libraries from writing to standard error; the program says its own one line.
void quiet();
/// How often the libraries complained of damage since the program started, all clips together. With frame
/// threads a picture's own flags are copied before its decoding ends; that there was damage at all is told
/// only here.
long complaints();
/// Bytes a decoded frame occupies, as allocated.
std::size_t bytes_of(const AVFrame& frame);

}  // namespace aspen::media::ff
