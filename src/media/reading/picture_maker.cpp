#include "media/reading/picture_maker.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/reading/refused.hpp"

extern "C" {
#include <libavfilter/buffersink.h>
#include <libavfilter/buffersrc.h>
#include <libavutil/pixdesc.h>
}

namespace aspen::media {
namespace {

/// Conversion matrix of a frame; where the stream does not say, small pictures are taken as BT.601, others
/// BT.709.
int colour_matrix(const AVFrame& frame) {
    switch (frame.colorspace) {
        case AVCOL_SPC_BT709:
            return SWS_CS_ITU709;
        case AVCOL_SPC_BT470BG:
        case AVCOL_SPC_SMPTE170M:
            return SWS_CS_ITU601;
        case AVCOL_SPC_SMPTE240M:
            return SWS_CS_SMPTE240M;
        case AVCOL_SPC_FCC:
            return SWS_CS_FCC;
        case AVCOL_SPC_BT2020_NCL:
        case AVCOL_SPC_BT2020_CL:
            return SWS_CS_BT2020;
        default:
            return frame.height >= 720 ? SWS_CS_ITU709 : SWS_CS_ITU601;
    }
}

bool full_range(const AVFrame& frame) {
    return frame.color_range == AVCOL_RANGE_JPEG || frame.format == AV_PIX_FMT_YUVJ420P ||
           frame.format == AV_PIX_FMT_YUVJ422P || frame.format == AV_PIX_FMT_YUVJ444P;
}

/// What zscale must be told where the stream says nothing; the container's usual meaning of high dynamic
/// range.
std::string tone_mapping(int width, int height) {
    return fmt::format(
        "zscale=w={}:h={}:f=bilinear,zscale=tin={{}}:min={{}}:pin={{}}:t=linear:npl=100,format=gbrpf32le,"
        "zscale=p=bt709,"
        "tonemap=tonemap=hable:desat=0,zscale=t=bt709:m=bt709:r=tv,format=yuv420p",
        width, height);
}

std::string or_default(const char* name, const char* otherwise) {
    return name && std::string_view(name) != "unknown" ? name : otherwise;
}

}  // namespace

bool PictureMaker::is_high_range(const AVFrame& frame) {
    return frame.color_trc == AVCOL_TRC_SMPTE2084 || frame.color_trc == AVCOL_TRC_ARIB_STD_B67;
}

ff::Frame PictureMaker::filtered(const AVFrame& frame, const std::string& chain, int take) {
    const ff::Graph graph(avfilter_graph_alloc());
    graph->nb_threads = 2;
    AVFilterContext *from = nullptr, *to = nullptr;
    const std::string source = fmt::format("video_size={}x{}:pix_fmt={}:time_base=1/50:pixel_aspect=1/1",
                                           frame.width, frame.height, frame.format);
    bool good = avfilter_graph_create_filter(&from, avfilter_get_by_name("buffer"), "in", source.c_str(),
                                             nullptr, graph.get()) >= 0 &&
                avfilter_graph_create_filter(&to, avfilter_get_by_name("buffersink"), "out", nullptr, nullptr,
                                             graph.get()) >= 0;
    AVFilterInOut* outputs = avfilter_inout_alloc();
    AVFilterInOut* inputs = avfilter_inout_alloc();
    outputs->name = av_strdup("in");
    outputs->filter_ctx = from;
    inputs->name = av_strdup("out");
    inputs->filter_ctx = to;
    good = good && avfilter_graph_parse_ptr(graph.get(), chain.c_str(), &inputs, &outputs, nullptr) >= 0 &&
           avfilter_graph_config(graph.get(), nullptr) >= 0;
    avfilter_inout_free(&inputs);
    avfilter_inout_free(&outputs);
    ff::Frame out(av_frame_alloc());
    if (!good) return nullptr;
    ff::Frame numbered(av_frame_clone(&frame));
    numbered->pts = 0;
    if (av_buffersrc_add_frame(from, numbered.get()) < 0 || av_buffersrc_add_frame(from, nullptr) < 0)
        return nullptr;
    for (int i = 0; i <= take; ++i) {
        av_frame_unref(out.get());
        if (av_buffersink_get_frame(to, out.get()) < 0) return nullptr;
    }
    return out;
}

Picture PictureMaker::scaled(const AVFrame& frame, int width, int height, Quality quality) {
    Picture flat;
    flat.width = width;
    flat.height = height;
    const bool smaller = width < frame.width;
    const int flags = smaller || quality == Quality::quick
                          ? SWS_BILINEAR
                          : SWS_BICUBIC | SWS_ACCURATE_RND | SWS_FULL_CHR_H_INT;
    scaler_.reset(sws_getCachedContext(scaler_.release(), frame.width, frame.height,
                                       static_cast<AVPixelFormat>(frame.format), width, height,
                                       AV_PIX_FMT_BGRA, flags, nullptr, nullptr, nullptr));
    if (!scaler_) throw core::Refused("clip: its pixel format cannot be shown; convert it to H.264 MP4");
    sws_setColorspaceDetails(scaler_.get(), sws_getCoefficients(colour_matrix(frame)), full_range(frame),
                             sws_getCoefficients(SWS_CS_DEFAULT), 1, 0, 1 << 16, 1 << 16);
    flat.bgra.resize(static_cast<std::size_t>(width) * static_cast<std::size_t>(height) * 4);
    std::uint8_t* planes[4] = {flat.bgra.data(), nullptr, nullptr, nullptr};
    const int strides[4] = {width * 4, 0, 0, 0};
    sws_scale(scaler_.get(), frame.data, frame.linesize, 0, frame.height, planes, strides);
    return flat;
}

Picture PictureMaker::make(const AVFrame& frame, const Display& display, int max_width, int max_height,
                           Quality quality, Field field) {
    const double scale = display.fitting(max_width, max_height);
    const int width = std::max(1, static_cast<int>(std::lround(display.flat_width() * scale)));
    const int height = std::max(1, static_cast<int>(std::lround(display.flat_height() * scale)));
    ff::Frame changed;
    if (frame.interlaced_frame) {
        changed = filtered(
            frame,
            fmt::format("estdif=mode=field:parity={}:deint=all", frame.top_field_first ? "tff" : "bff"),
            field == Field::second ? 1 : 0);
    }
    if (is_high_range(frame)) {
        const AVFrame& now = changed ? *changed : frame;
        const std::string chain =
            fmt::format(fmt::runtime(tone_mapping(width + width % 2, height + height % 2)),
                        or_default(av_color_transfer_name(now.color_trc), "smpte2084"),
                        or_default(av_color_space_name(now.colorspace), "bt2020nc"),
                        or_default(av_color_primaries_name(now.color_primaries), "bt2020"));
        if (ff::Frame plain = filtered(now, chain, 0)) {
            plain->colorspace = AVCOL_SPC_BT709;
            plain->color_range = AVCOL_RANGE_MPEG;
            changed = std::move(plain);
        }
    }
    return display.turned(scaled(changed ? *changed : frame, width, height, quality));
}

}  // namespace aspen::media
