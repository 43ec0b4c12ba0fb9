#include "media/video_reader.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <optional>
#include <stdexcept>

#include "core/refused.hpp"
#include "media/packet_list.hpp"

extern "C" {
#include <libavutil/adler32.h>
#include <libavutil/imgutils.h>
#include <libavutil/md5.h>
}

namespace aspen::media {
namespace {

constexpr std::size_t kCacheBytes = std::size_t{256} << 20;

/// Where a frame comes from: the packet that carries it and, where decoding settled the order, its check sum.
struct FrameSource {
    int packet = 0;
    std::optional<unsigned> sum;
};

std::vector<std::uint8_t> packed_planes(const AVFrame& frame) {
    const auto format = static_cast<AVPixelFormat>(frame.format);
    std::vector<std::uint8_t> out(static_cast<std::size_t>(av_image_get_buffer_size(format, frame.width, frame.height, 1)));
    av_image_copy_to_buffer(out.data(), static_cast<int>(out.size()), frame.data, frame.linesize, format, frame.width,
                            frame.height, 1);
    return out;
}

unsigned check_sum(const AVFrame& frame) {
    const auto bytes = packed_planes(frame);
    return static_cast<unsigned>(av_adler32_update(1, bytes.data(), bytes.size()));
}

/// Pictures around the hand, in the stream's own format, the farthest dropped first.
class FrameCache {
  public:
    const AVFrame* find(int n) const {
        const auto it = frames_.find(n);
        return it == frames_.end() ? nullptr : it->second.get();
    }
    void keep(int n, const AVFrame& frame, int near) {
        if (frames_.contains(n)) return;
        each_ = packed_size(frame);
        frames_[n].reset(av_frame_clone(&frame));
        while (frames_.size() > 2 && frames_.size() * each_ > kCacheBytes) drop_farthest(near);
    }

  private:
    static std::size_t packed_size(const AVFrame& f) {
        return static_cast<std::size_t>(std::max(1, av_image_get_buffer_size(static_cast<AVPixelFormat>(f.format), f.width, f.height, 1)));
    }
    void drop_farthest(int near) {
        const auto first = frames_.begin();
        const auto last = std::prev(frames_.end());
        frames_.erase(near - first->first > last->first - near ? first : last);
    }
    std::map<int, ff::Frame> frames_;
    std::size_t each_ = 1;
};

}  // namespace

std::string_view word(TimeSource s) {
    return s == TimeSource::stream ? "stream" : s == TimeSource::made ? "made" : "repaired";
}

class VideoReader::Impl {
  public:
    Impl(const std::filesystem::path& file, ReadWatch watch) : list_(file, watch), watch_(std::move(watch)) {
        decoder_ = list_.open_decoder();
        if (list_.order_is_stated()) take_stated_order();
        else settle_by_decoding();
        if (sources_.empty()) {
            throw core::Refused(fmt::format("{}: none of its pictures can be decoded; copy it again", file.string()));
        }
        make_facts();
        for (std::size_t n = 0; n < sources_.size(); ++n) frame_of_packet_.emplace(sources_[n].packet, static_cast<int>(n));
        watch_.progress = {};
    }

    const ClipFacts& facts() const { return facts_; }
    bool by_decoding() const { return by_decoding_; }

    const AVFrame& frame(int n) {
        if (n < 0 || n >= facts_.frames) throw std::out_of_range(fmt::format("frame {} of {}", n, facts_.frames));
        if (const AVFrame* hit = cache_.find(n)) return *hit;
        const int target = sources_[static_cast<std::size_t>(n)].packet;
        for (int entry = entry_before(target, n); entry >= 0; entry = entry > 0 ? earlier_key(entry) : -1) {
            if (decode_from(entry, n)) return *cache_.find(n);
        }
        throw core::Refused(fmt::format("clip: frame {} cannot be decoded; go on with another frame", n));
    }

    Picture picture(int n, int max_width, int max_height) {
        return list_.display().convert(frame(n), max_width, max_height, scaler_);
    }

  private:
    void take_stated_order() {
        std::vector<int> order(list_.packets().size());
        std::iota(order.begin(), order.end(), 0);
        std::ranges::sort(order, {}, [&](int i) { return list_.packets()[static_cast<std::size_t>(i)].pts; });
        for (const int i : order) sources_.push_back({i, std::nullopt});
    }

    void settle_by_decoding() {
        by_decoding_ = true;
        run_decoder(0, [&](const AVFrame& frame) {
            sources_.push_back({static_cast<int>(frame.pts), check_sum(frame)});
            if (watch_.progress) watch_.progress(static_cast<double>(sources_.size()) / static_cast<double>(list_.packets().size()));
            return true;
        });
    }

    /// Decodes from a packet on and hands every picture over, its packet's number in `pts`, until told to stop.
    template <typename Take>
    void run_decoder(int entry, Take take) {
        avcodec_flush_buffers(decoder_.get());
        ff::Frame frame(av_frame_alloc());
        const auto receive = [&] {
            while (avcodec_receive_frame(decoder_.get(), frame.get()) >= 0) {
                if (!take(*frame)) return false;
                av_frame_unref(frame.get());
            }
            return true;
        };
        const auto& packets = list_.packets();
        for (std::size_t i = static_cast<std::size_t>(entry); i < packets.size(); ++i) {
            if (watch_.cancel && *watch_.cancel) throw ReadCancelled{};
            ff::Packet numbered(av_packet_clone(packets[i].packet.get()));
            numbered->pts = numbered->dts = static_cast<std::int64_t>(i);
            avcodec_send_packet(decoder_.get(), numbered.get());  // a damaged packet gives no picture: go on
            if (!receive()) return;
        }
        avcodec_send_packet(decoder_.get(), nullptr);
        receive();
    }

    bool decode_from(int entry, int n) {
        const FrameSource& wanted = sources_[static_cast<std::size_t>(n)];
        bool found = false;
        int counted = 0;
        run_decoder(entry, [&](const AVFrame& frame) {
            if (entry == 0 && by_decoding_) {  // the same run that settled the order: counting is enough
                cache_.keep(counted, frame, n);
                found = counted == n;
                return counted++ < n;
            }
            const auto it = frame_of_packet_.find(static_cast<int>(frame.pts));
            const bool known = it != frame_of_packet_.end() && matches(it->second, frame);
            if (known) cache_.keep(it->second, frame, n);
            if (known && it->second > n) return false;  // passed it: this entry does not give the wanted picture
            if (static_cast<int>(frame.pts) != wanted.packet) return true;
            found = known && it->second == n;
            return false;
        });
        return found && cache_.find(n);
    }

    bool matches(int n, const AVFrame& frame) const {
        const auto& sum = sources_[static_cast<std::size_t>(n)].sum;
        return !sum || *sum == check_sum(frame);
    }

    /// Latest key at or before the target in decoding and in presentation order.
    int entry_before(int target, int n) const {
        const auto& packets = list_.packets();
        const double wanted = facts_.pts_s[static_cast<std::size_t>(n)];
        for (int i = target; i > 0; --i) {
            const ListedPacket& p = packets[static_cast<std::size_t>(i)];
            if (!p.key) continue;
            if (p.pts == AV_NOPTS_VALUE || list_.seconds(p.pts) <= wanted) return i;
        }
        return 0;
    }
    int earlier_key(int entry) const {
        int i = entry - 1;
        while (i > 0 && !list_.packets()[static_cast<std::size_t>(i)].key) --i;
        return i;
    }

    void make_facts() {
        facts_.frames = static_cast<int>(sources_.size());
        facts_.width = list_.display().width();
        facts_.height = list_.display().height();
        facts_.rotation_deg = list_.display().rotation_deg();
        make_times();
        const double span = facts_.pts_s.back() - facts_.pts_s.front();
        const double step = facts_.frames > 1 ? span / (facts_.frames - 1) : 1.0 / list_.nominal_fps();
        facts_.duration_s = span + step;
        facts_.average_fps = step > 0 ? 1.0 / step : list_.nominal_fps();
        std::vector<double> steps;
        for (std::size_t i = 1; i < facts_.pts_s.size(); ++i) steps.push_back(facts_.pts_s[i] - facts_.pts_s[i - 1]);
        if (steps.empty()) return;
        std::vector<double> sorted = steps;
        std::ranges::sort(sorted);
        const double median = sorted[sorted.size() / 2];
        facts_.variable_rate = std::ranges::any_of(steps, [&](double s) {
            return std::abs(s - median) > std::max(0.1 * median, 0.002);
        });
    }

    void make_times() {
        bool all = true;
        bool rising = true;
        for (const FrameSource& s : sources_) {
            const std::int64_t pts = list_.packets()[static_cast<std::size_t>(s.packet)].pts;
            if (pts == AV_NOPTS_VALUE) {
                all = false;
                break;
            }
            const double t = list_.seconds(pts);
            rising = rising && (facts_.pts_s.empty() || t > facts_.pts_s.back());
            facts_.pts_s.push_back(t);
        }
        if (all && rising) return;
        facts_.time_source = all ? TimeSource::repaired : TimeSource::made;
        const double start = all ? facts_.pts_s.front() : 0.0;
        facts_.pts_s.assign(sources_.size(), 0.0);
        for (std::size_t i = 0; i < sources_.size(); ++i) facts_.pts_s[i] = start + static_cast<double>(i) / list_.nominal_fps();
    }

    PacketList list_;
    ReadWatch watch_;
    ff::Codec decoder_;
    ff::Scaler scaler_;
    std::vector<FrameSource> sources_;
    std::map<int, int> frame_of_packet_;
    FrameCache cache_;
    ClipFacts facts_;
    bool by_decoding_ = false;
};

void check_opens(const std::filesystem::path& file) { const PacketList list(file, {}, true); }

VideoReader::VideoReader(const std::filesystem::path& file, ReadWatch watch)
    : impl_(std::make_unique<Impl>(file, std::move(watch))) {}
VideoReader::~VideoReader() = default;

const ClipFacts& VideoReader::facts() const { return impl_->facts(); }
bool VideoReader::settled_by_decoding() const { return impl_->by_decoding(); }
Picture VideoReader::picture(int n, int max_width, int max_height) { return impl_->picture(n, max_width, max_height); }

std::string VideoReader::native_md5(int n) {
    const auto bytes = packed_planes(impl_->frame(n));
    std::uint8_t digest[16];
    av_md5_sum(digest, bytes.data(), bytes.size());
    std::string out;
    for (const std::uint8_t b : digest) out += fmt::format("{:02x}", b);
    return out;
}

}  // namespace aspen::media
