#include "media/reading/frame_order.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <fstream>
#include <nlohmann/json.hpp>
#include <numeric>

#include "core/reading/refused.hpp"
#include "media/reading/content_hash.hpp"
#include "media/reading/decoder.hpp"

extern "C" {
#include <libavutil/adler32.h>
#include <libavutil/imgutils.h>
}

namespace aspen::media {
namespace {

constexpr int kOrderFormat = 1;
constexpr int kPicturesThatConfirm = 12;

/// Packets of frames in presentation order by the container's times; empty where it cannot be taken at its
/// word.
std::vector<int> stated_order(const ClipSource& source, const PacketStore& packets) {
    if (!source.container_is({"mov", "mp4", "matroska"})) return {};
    const AVCodecID id = source.parameters().codec_id;
    if (id != AV_CODEC_ID_H264 && id != AV_CODEC_ID_HEVC && id != AV_CODEC_ID_MJPEG) return {};
    const auto& facts = packets.facts();
    if (!facts.front().key) return {};
    std::vector<int> order;
    for (std::size_t i = 0; i < facts.size(); ++i) {
        const PacketFacts& p = facts[i];
        if (p.pts == AV_NOPTS_VALUE || p.dts == AV_NOPTS_VALUE || p.pts < facts.front().pts) return {};
        if (i > 0 && p.dts <= facts[i - 1].dts) return {};
        if (!p.discard) order.push_back(static_cast<int>(i));
    }
    std::ranges::sort(order, {}, [&](int i) { return facts[static_cast<std::size_t>(i)].pts; });
    const auto same = [&](int a, int b) {
        return facts[static_cast<std::size_t>(a)].pts == facts[static_cast<std::size_t>(b)].pts;
    };
    if (std::ranges::adjacent_find(order, same) != order.end()) return {};
    return order;
}

/// The decoder's first pictures must be the order's first frames.
bool first_pictures_confirm(ClipSource& source, const PacketStore& packets, const std::vector<int>& order,
                            const ReadWatch& watch) {
    Decoder decoder(source, packets);
    std::size_t seen = 0;
    const std::size_t wanted = std::min<std::size_t>(kPicturesThatConfirm, order.size());
    const auto good = [&] {
        while (const AVFrame* frame = decoder.receive()) {
            if (seen == 0) source.learn_from(*frame);
            if (seen < wanted && frame->pts != order[seen]) return false;
            ++seen;
        }
        return true;
    };
    for (int i = 0; i < packets.count() && seen < wanted; ++i) {
        stop_if_cancelled(watch);
        decoder.send(i);
        if (!good()) return false;
    }
    if (seen < wanted) {
        decoder.drain();
        if (!good()) return false;
    }
    return seen >= wanted && wanted > 0;
}

std::vector<FrameSource> decode_all(ClipSource& source, const PacketStore& packets, const ReadWatch& watch) {
    Decoder decoder(source, packets);
    std::vector<FrameSource> out;
    const auto take = [&] {
        while (const AVFrame* frame = decoder.receive()) {
            if (out.empty()) source.learn_from(*frame);
            out.push_back({static_cast<int>(frame->pts), check_sum(*frame), false});
        }
    };
    for (int i = 0; i < packets.count(); ++i) {
        stop_if_cancelled(watch);
        decoder.send(i);
        take();
        if (watch.progress) watch.progress(static_cast<double>(i) / packets.count());
    }
    decoder.drain();
    take();
    return out;
}

void make_times(FrameOrder& order, const ClipSource& source, const PacketStore& packets) {
    std::vector<std::optional<double>> told;
    for (const FrameSource& f : order.frames) {
        const std::int64_t pts = packets.facts()[static_cast<std::size_t>(f.packet)].pts;
        told.push_back(pts == AV_NOPTS_VALUE ? std::nullopt : std::optional(source.seconds(pts)));
    }
    std::vector<double> steps;
    bool good = told.front().has_value();
    for (std::size_t i = 1; i < told.size(); ++i) {
        const bool rises = told[i] && told[i - 1] && *told[i] > *told[i - 1];
        if (rises) steps.push_back(*told[i] - *told[i - 1]);
        good = good && rises;
    }
    const double nominal = source.nominal_fps() > 0 ? 1 / source.nominal_fps() : 0.04;
    if (good) {
        for (const auto& t : told) order.pts_s.push_back(*t);
        return;
    }
    const bool usable = steps.size() * 2 > told.size();
    double usual = nominal;
    if (usable) {
        std::ranges::nth_element(steps, steps.begin() + static_cast<std::ptrdiff_t>(steps.size() / 2));
        usual = steps[steps.size() / 2];
    }
    order.time_source = usable ? TimeSource::repaired : TimeSource::made;
    order.pts_s.push_back(usable && told.front() ? *told.front() : 0.0);
    for (std::size_t i = 1; i < told.size(); ++i) {
        const bool rises = usable && told[i] && told[i - 1] && *told[i] > *told[i - 1];
        order.pts_s.push_back(order.pts_s.back() + (rises ? *told[i] - *told[i - 1] : usual));
    }
}

}  // namespace

std::string_view word(TimeSource s) {
    return s == TimeSource::stream ? "stream" : s == TimeSource::made ? "made" : "repaired";
}

std::vector<std::uint8_t> packed_planes(const AVFrame& frame) {
    const auto format = static_cast<AVPixelFormat>(frame.format);
    const int size = av_image_get_buffer_size(format, frame.width, frame.height, 1);
    if (size < 0) throw core::Refused("clip: its pixel format is not known here; export it as H.264 MP4");
    std::vector<std::uint8_t> out(static_cast<std::size_t>(size));
    av_image_copy_to_buffer(out.data(), size, frame.data, frame.linesize, format, frame.width, frame.height,
                            1);
    return out;
}

std::uint32_t check_sum(const AVFrame& frame) {
    const auto bytes = packed_planes(frame);
    return static_cast<std::uint32_t>(av_adler32_update(1, bytes.data(), bytes.size()));
}

std::vector<int> find_damage(const ClipSource& source, const PacketStore& packets, const FrameOrder& order,
                             const std::atomic<bool>* cancel) {
    std::vector<int> out;
    Decoder decoder(source, packets, 1);
    int n = 0;
    bool leaning = false;
    const auto take = [&] {
        while (const AVFrame* frame = decoder.receive()) {
            const int number = order.settled ? n++ : order.frame_of(static_cast<int>(frame->pts));
            const bool hurt = frame->decode_error_flags != 0 || (frame->flags & AV_FRAME_FLAG_CORRUPT) != 0;
            leaning = hurt || (leaning && !frame->key_frame);
            if (leaning && number >= 0 && number < order.count()) out.push_back(number);
        }
    };
    for (int i = 0; i < packets.count(); ++i) {
        if (cancel && *cancel) throw ReadCancelled{};
        decoder.send(i);
        take();
    }
    decoder.drain();
    take();
    return out;
}

std::filesystem::path OrderCache::file(const ClipSource* source) {
    if (hash_.empty() && source) hash_ = content_hash(source->path());
    return folder_ / (hash_ + ".frames.json");
}

std::optional<std::vector<FrameSource>> OrderCache::find(const ClipSource& source,
                                                         const PacketStore& packets) {
    if (folder_.empty()) return std::nullopt;
    std::ifstream in(file(&source));
    if (!in) return std::nullopt;
    // Not trusted: anything that does not fit these packets, and anything broken, is as if it were not there.
    const auto json = nlohmann::json::parse(in, nullptr, false);
    try {
        if (json.at("format") != kOrderFormat || json.at("packets") != packets.count() ||
            json.at("sum") != packets.sum())
            return std::nullopt;
        std::vector<FrameSource> out;
        for (const auto& f : json.at("frames")) {
            const int packet = f.at(0).get<int>();
            if (packet < 0 || packet >= packets.count()) return std::nullopt;
            const bool damaged = f.at(2).get<int>() != 0;
            out.push_back(
                {packet, damaged ? std::nullopt : std::optional(f.at(1).get<std::uint32_t>()), damaged});
        }
        if (out.empty()) return std::nullopt;
        return out;
    } catch (const nlohmann::json::exception&) {
        return std::nullopt;
    }
}

void OrderCache::keep(const PacketStore& packets, const std::vector<FrameSource>& frames) {
    if (folder_.empty() || hash_.empty()) return;
    auto list = nlohmann::json::array();
    for (const FrameSource& f : frames) list.push_back({f.packet, f.sum.value_or(0), f.damaged ? 1 : 0});
    std::error_code error;
    std::filesystem::create_directories(folder_, error);
    const auto whole = file(nullptr);
    auto part = whole;
    part += ".part";
    std::ofstream out(part);
    out << nlohmann::json{
        {"format", kOrderFormat},
        {"packets", packets.count()},
        {"sum", packets.sum()},
        {"frames",
         list}}.dump();
    out.close();
    if (out) std::filesystem::rename(part, whole, error);
    if (!out || error) std::filesystem::remove(part, error);
}

FrameOrder settle_order(ClipSource& source, const PacketStore& packets, OrderCache cache,
                        const ReadWatch& watch) {
    FrameOrder order;
    const std::vector<int> stated = stated_order(source, packets);
    if (!stated.empty() && first_pictures_confirm(source, packets, stated, watch)) {
        for (const int i : stated) order.frames.push_back({i, std::nullopt, false});
    } else {
        order.settled = true;
        auto kept = cache.find(source, packets);
        if (kept) {
            Decoder first(source, packets);  // the picture's shape may stand in the pictures only
            for (int i = 0; i < std::min(packets.count(), 8); ++i) {
                first.send(i);
                if (const AVFrame* frame = first.receive()) {
                    source.learn_from(*frame);
                    break;
                }
            }
        }
        const long before = ff::complaints();
        order.frames = kept ? std::move(*kept) : decode_all(source, packets, watch);
        if (!kept && ff::complaints() != before) {
            for (const int n : find_damage(source, packets, order, watch.cancel)) {
                // What is concealed differs from run to run: there is nothing to compare it with.
                order.frames[static_cast<std::size_t>(n)] = {order.frames[static_cast<std::size_t>(n)].packet,
                                                             std::nullopt, true};
            }
        }
        if (!kept && !order.frames.empty()) cache.keep(packets, order.frames);
    }
    if (order.frames.empty()) {
        throw core::Refused(
            fmt::format("{}: none of its pictures can be decoded; copy it again", source.path().string()));
    }
    make_times(order, source, packets);
    order.frame_of_packet.assign(static_cast<std::size_t>(packets.count()), -1);
    for (int n = 0; n < order.count(); ++n) {
        int& first =
            order.frame_of_packet[static_cast<std::size_t>(order.frames[static_cast<std::size_t>(n)].packet)];
        if (first < 0) first = n;
    }
    return order;
}

}  // namespace aspen::media
