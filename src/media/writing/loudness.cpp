#include "media/writing/loudness.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>

#include "core/reading/refused.hpp"
#include "media/reading/ffmpeg.hpp"

extern "C" {
#include <libavfilter/buffersink.h>
#include <libavfilter/buffersrc.h>
#include <libavutil/channel_layout.h>
}

namespace aspen::media {
namespace {

constexpr int kLoudnessBlock = 4800;
constexpr double kSilent_lufs = -69;  // the filter says -70 where nothing passes its gate
constexpr int kMostRounds = 3;        // holding the peaks takes a little loudness away again
constexpr double kNearEnough_lu = 0.1;

/// Samples through FFmpeg's filters, block by block.
class Filtering {
  public:
    Filtering(const std::string& filters, int rate_hz) {
        graph_.reset(avfilter_graph_alloc());
        const std::string from =
            fmt::format("sample_rate={}:sample_fmt=s16:channel_layout=mono:time_base=1/{}", rate_hz, rate_hz);
        AVFilterInOut *in = avfilter_inout_alloc(), *out = avfilter_inout_alloc();
        bool good = avfilter_graph_create_filter(&source_, avfilter_get_by_name("abuffer"), "in",
                                                 from.c_str(), nullptr, graph_.get()) >= 0 &&
                    avfilter_graph_create_filter(&sink_, avfilter_get_by_name("abuffersink"), "out", nullptr,
                                                 nullptr, graph_.get()) >= 0;
        if (good) {
            *out = {av_strdup("in"), source_, 0, nullptr};
            *in = {av_strdup("out"), sink_, 0, nullptr};
            good = avfilter_graph_parse_ptr(graph_.get(), filters.c_str(), &in, &out, nullptr) >= 0 &&
                   avfilter_graph_config(graph_.get(), nullptr) >= 0;
        }
        avfilter_inout_free(&in);
        avfilter_inout_free(&out);
        if (!good)
            throw core::Refused("sound: FFmpeg's filters for loudness are missing; install libavfilter");
    }

    void run(const std::vector<std::int16_t>& voice, int rate_hz,
             const std::function<void(const AVFrame&)>& each) {
        const ff::Frame block(av_frame_alloc());
        for (std::size_t i = 0; i <= voice.size(); i += kLoudnessBlock) {
            const auto n = static_cast<int>(std::min<std::size_t>(kLoudnessBlock, voice.size() - i));
            if (n == 0) break;
            block->format = AV_SAMPLE_FMT_S16;
            block->sample_rate = rate_hz;
            block->nb_samples = n;
            block->pts = static_cast<std::int64_t>(i);
            av_channel_layout_default(&block->ch_layout, 1);
            if (av_frame_get_buffer(block.get(), 0) < 0) throw core::Refused("sound: not enough memory");
            std::copy_n(voice.begin() + static_cast<std::ptrdiff_t>(i), n,
                        reinterpret_cast<std::int16_t*>(block->data[0]));
            if (av_buffersrc_add_frame(source_, block.get()) < 0) break;
            drain(each);
        }
        if (av_buffersrc_add_frame(source_, nullptr) >= 0) drain(each);
    }

  private:
    void drain(const std::function<void(const AVFrame&)>& each) {
        const ff::Frame out(av_frame_alloc());
        while (av_buffersink_get_frame(sink_, out.get()) >= 0) {
            each(*out);
            av_frame_unref(out.get());
        }
    }
    ff::Graph graph_;
    AVFilterContext *source_ = nullptr, *sink_ = nullptr;
};

double said(const AVFrame& frame, const char* key, double other) {
    const AVDictionaryEntry* e = av_dict_get(frame.metadata, key, nullptr, 0);
    return e ? std::atof(e->value) : other;
}

}  // namespace

Loudness loudness_of(const std::vector<std::int16_t>& voice, int rate_hz) {
    ff::quiet();
    Loudness out;
    Filtering("ebur128=metadata=1:peak=true", rate_hz).run(voice, rate_hz, [&](const AVFrame& f) {
        out.integrated_lufs = said(f, "lavfi.r128.I", out.integrated_lufs);
        const double peak = said(f, "lavfi.r128.true_peak", 0);
        if (peak > 0) out.true_peak_dbfs = std::max(out.true_peak_dbfs, 20 * std::log10(peak));
    });
    return out;
}

std::vector<std::int16_t> levelled(const std::vector<std::int16_t>& voice, int rate_hz) {
    const double now = loudness_of(voice, rate_hz).integrated_lufs;
    if (now < kSilent_lufs) return voice;
    double gain_db = kTargetLufs - now;
    std::vector<std::int16_t> out;
    for (int round = 0; round < kMostRounds; ++round) {
        // A sample's peak lies below the true one between samples: half a decibel for that.
        const double limit = std::pow(10.0, (kHighestPeak_dbtp - 0.5) / 20);
        out.clear();
        Filtering(
            fmt::format("aformat=sample_fmts=dbl,volume={:.3f}dB,alimiter=limit={:.5f}:level=false:attack=5:"
                        "release=50,aformat=sample_fmts=s16",
                        gain_db, limit),
            rate_hz)
            .run(voice, rate_hz, [&](const AVFrame& f) {
                const auto* s = reinterpret_cast<const std::int16_t*>(f.data[0]);
                out.insert(out.end(), s, s + f.nb_samples);
            });
        out.resize(voice.size());
        const double off = kTargetLufs - loudness_of(out, rate_hz).integrated_lufs;
        if (std::abs(off) < kNearEnough_lu) break;
        gain_db += off;
    }
    return out;
}

}  // namespace aspen::media
