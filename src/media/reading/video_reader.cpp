#include "media/reading/video_reader.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <stdexcept>

#include "core/reading/refused.hpp"
#include "media/reading/frame_decoder.hpp"

extern "C" {
#include <libavutil/md5.h>
}

namespace aspen::media {

ClipFacts facts_of(const ClipSource& source, const FrameOrder& order) {
    ClipFacts facts;
    facts.frames = order.count();
    facts.width = source.display().width();
    facts.height = source.display().height();
    facts.rotation_deg = source.display().rotation_deg();
    facts.time_source = order.time_source;
    facts.pts_s = order.pts_s;
    facts.capture_fps = source.capture_fps().value_or(0);
    facts.has_sound = source.has_sound();
    for (int n = 0; n < order.count(); ++n) {
        if (order.frames[static_cast<std::size_t>(n)].damaged) facts.damaged.push_back(n);
    }
    const double span = facts.pts_s.back() - facts.pts_s.front();
    const double nominal = source.nominal_fps() > 0 ? source.nominal_fps() : 25.0;
    const double step = facts.frames > 1 ? span / (facts.frames - 1) : 1.0 / nominal;
    facts.duration_s = span + step;
    facts.average_fps = step > 0 ? 1.0 / step : nominal;
    std::vector<double> steps;
    for (std::size_t i = 1; i < facts.pts_s.size(); ++i) steps.push_back(facts.pts_s[i] - facts.pts_s[i - 1]);
    if (steps.empty()) return facts;
    std::vector<double> sorted = steps;
    std::ranges::sort(sorted);
    const double median = sorted[sorted.size() / 2];
    facts.variable_rate = std::ranges::any_of(
        steps, [&](double s) { return std::abs(s - median) > std::max(0.1 * median, 0.002); });
    return facts;
}

class VideoReader::Impl {
  public:
    Impl(const std::filesystem::path& file, ReadWatch watch, ReaderOptions options)
        : source_(file, watch.cancel),
          packets_(source_, watch),
          order_(settle_order(source_, packets_, std::move(options.order_cache), watch)),
          decoder_(source_, packets_, order_, options.cache_bytes),
          facts_(facts_of(source_, order_)),
          cancel_(watch.cancel),
          quality_(options.quality) {}

    const ClipFacts& facts() const { return facts_; }
    bool settled() const { return order_.settled; }
    ff::Frame frame(int n) {
        if (n < 0 || n >= facts_.frames)
            throw std::out_of_range(fmt::format("frame {} of {}", n, facts_.frames));
        decoder_.cache().hold(n, 0);
        if (!decoder_.cache().has(n) &&
            decoder_.comes_soon(n, kSoon)) {  // stepping on: the run is just before it
            decoder_.aim(n, n + kAhead);
            while (!decoder_.cache().has(n) && decoder_.advance()) stop_if_cancelled({cancel_, {}});
        }
        const bool goes_on = last_ >= 0 && n > last_ && n <= last_ + kStep;
        if (!decoder_.cache().has(n) && goes_on) {  // a second step forward starts a run
            decoder_.aim(n, n + kAhead);
            while (!decoder_.cache().has(n) && decoder_.advance()) stop_if_cancelled({cancel_, {}});
        }
        last_ = n;
        return decoder_.exact(n, cancel_);
    }
    Picture picture(int n, int max_width, int max_height, Field field) {
        return maker_.make(*frame(n), source_.display(), max_width, max_height, quality_, field);
    }

  private:
    static constexpr int kSoon = 40, kAhead = 8;
    static constexpr int kStep = 4;  // frames; who reads every third one goes forward too
    ClipSource source_;
    PacketStore packets_;
    FrameOrder order_;
    FrameDecoder decoder_;
    PictureMaker maker_;
    ClipFacts facts_;
    const std::atomic<bool>* cancel_;
    Quality quality_;
    int last_ = -1;
};

std::string check_opens(const std::filesystem::path& file, const std::atomic<bool>* stop) {
    const ClipSource source(file, stop);
    const ff::Packet packet(av_packet_alloc());
    while (av_read_frame(source.input(), packet.get()) >= 0) {
        const bool picture = packet->stream_index == source.stream().index && packet->size > 0;
        av_packet_unref(packet.get());
        if (picture) return source.filmed_on();
    }
    stop_if_cancelled({stop, {}});
    throw core::Refused(
        fmt::format("{}: no picture could be read; the file is cut off: copy it again", file.string()));
}

Picture first_picture(const std::filesystem::path& file, int max_width, int max_height) {
    constexpr int kMostTries = 64;
    ClipSource source(file);
    const ff::Codec decoder = source.open_decoder();
    const ff::Packet packet(av_packet_alloc());
    const ff::Frame frame(av_frame_alloc());
    bool found = false;
    for (int tried = 0; tried < kMostTries && !found && av_read_frame(source.input(), packet.get()) >= 0;) {
        if (packet->stream_index == source.stream().index && packet->size > 0) {
            avcodec_send_packet(decoder.get(), packet.get());
            // A key picture comes out alone when the decoder is told that no more follows.
            const bool alone =
                tried++ == 0 && packet->flags & AV_PKT_FLAG_KEY && !(packet->flags & AV_PKT_FLAG_DISCARD);
            if (alone) avcodec_send_packet(decoder.get(), nullptr);
            found = avcodec_receive_frame(decoder.get(), frame.get()) >= 0;
            if (alone && !found) avcodec_flush_buffers(decoder.get());
        }
        av_packet_unref(packet.get());
    }
    if (!found) throw core::Refused(fmt::format("{}: its first picture cannot be decoded", file.string()));
    source.learn_from(*frame);
    return PictureMaker().make(*frame, source.display(), max_width, max_height, Quality::quick);
}

VideoReader::VideoReader(const std::filesystem::path& file, ReadWatch watch, ReaderOptions options)
    : impl_(std::make_unique<Impl>(file, std::move(watch), std::move(options))) {}
VideoReader::~VideoReader() = default;

const ClipFacts& VideoReader::facts() const { return impl_->facts(); }
bool VideoReader::settled_by_decoding() const { return impl_->settled(); }
Picture VideoReader::picture(int n, int max_width, int max_height, Field field) {
    return impl_->picture(n, max_width, max_height, field);
}

std::string VideoReader::native_md5(int n) {
    const auto bytes = packed_planes(*impl_->frame(n));
    std::uint8_t digest[16];
    av_md5_sum(digest, bytes.data(), bytes.size());
    std::string out;
    for (const std::uint8_t b : digest) out += fmt::format("{:02x}", b);
    return out;
}

}  // namespace aspen::media
