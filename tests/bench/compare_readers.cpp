// Compares the video engine with the plain ways of reading a clip, in one run on the same clips, so that
// ratios hold whatever the machine does. compare_readers CLIP...

#include <sys/resource.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <condition_variable>
#include <cstdio>
#include <fstream>
#include <mutex>
#include <random>
#ifdef ASPEN_HAS_OPENCV
#include <opencv2/videoio.hpp>
#endif

#include "media/reading/clip_engine.hpp"
#include "media/reading/frame_decoder.hpp"

namespace {

using namespace aspen::media;
using Clock = std::chrono::steady_clock;
constexpr int kTargets = 15;

double ms_since(Clock::time_point t) {
    return std::chrono::duration<double, std::milli>(Clock::now() - t).count();
}
double median(std::vector<double> v) {
    std::ranges::sort(v);
    return v[v.size() / 2];
}
double worst(std::vector<double> v) {  // 95th percentile
    std::ranges::sort(v);
    return v[static_cast<std::size_t>(0.95 * static_cast<double>(v.size() - 1))];
}
double resident_mb() {
    std::ifstream in("/proc/self/statm");
    double pages = 0, resident = 0;
    in >> pages >> resident;
    return resident * static_cast<double>(sysconf(_SC_PAGESIZE)) / 1048576;
}

/// The plain limit: two threads, from the key before the target until the target comes out.
double plain_seek(const std::string& clip, const FrameOrder& order, const PacketStore& packets,
                  const ClipSource& source, int n) {
    (void)clip;
    Decoder decoder(source, packets);
    const int target = order.frames[static_cast<std::size_t>(n)].packet;
    int entry = target;
    while (entry > 0 && !(packets.facts()[static_cast<std::size_t>(entry)].key &&
                          packets.facts()[static_cast<std::size_t>(entry)].pts <=
                              packets.facts()[static_cast<std::size_t>(target)].pts))
        --entry;
    const auto start = Clock::now();
    for (int i = entry; i < packets.count(); ++i) {
        decoder.send(i);
        while (const AVFrame* f = decoder.receive()) {
            if (f->pts == target) return ms_since(start);
        }
    }
    decoder.drain();
    while (decoder.receive()) {
    }
    return ms_since(start);
}

/// Waits for an engine's pictures.
struct Ear {
    std::mutex mutex;
    std::condition_variable wake;
    ClipFacts facts;
    int frame = -1, made = 0, total = 1;
    bool exact = false;
    ClipEngine::Events events() {
        ClipEngine::Events e;
        e.opened = [this](const ClipFacts& f) { tell([&] { facts = f; }); };
        e.picture = [this](const ShownPicture& p) {
            tell([&] { frame = p.wanted, exact = p.kind == ShownPicture::Kind::exact; });
        };
        e.previews = [this](int m, int t) { tell([&] { made = m, total = t; }); };
        return e;
    }
    template <typename C>
    void tell(C change) {
        const std::lock_guard lock(mutex);
        change();
        wake.notify_all();
    }
    template <typename T>
    void wait(T there) {
        std::unique_lock lock(mutex);
        wake.wait(lock, there);
    }
    void wait_exact(int n) {
        wait([&] { return frame == n && exact; });
    }
};

void seeks(const std::string& clip) {
    ClipSource source(clip);
    PacketStore packets(source, {});
    const FrameOrder order = settle_order(source, packets, {}, {});
    std::mt19937 random(11);
    std::vector<double> plain, ours, program;
    std::vector<int> targets;
    for (int i = 0; i < kTargets; ++i)
        targets.push_back(static_cast<int>(random() % static_cast<unsigned>(order.count())));
    for (const int n : targets) {
        plain.push_back(plain_seek(clip, order, packets, source, n));
        FrameDecoder decoder(source, packets, order, std::size_t{512} << 20);
        const auto start = Clock::now();
        decoder.exact(n);
        ours.push_back(ms_since(start));
    }
    for (int i = 0; i < 5; ++i) {
        char line[600];
        std::snprintf(line, sizeof line, "ffmpeg -v error -ss %.4f -i '%s' -frames:v 1 -f null -",
                      order.pts_s[static_cast<std::size_t>(targets[static_cast<std::size_t>(i)])],
                      clip.c_str());
        const auto start = Clock::now();
        if (std::system(line) != 0) return;
        program.push_back(ms_since(start));
    }
    std::printf(
        "  exact seek            plain %7.1f / %7.1f ms   ours %7.1f / %7.1f ms   ratio %.2f / %.2f (median "
        "/ p95)\n",
        median(plain), worst(plain), median(ours), worst(ours), median(ours) / median(plain),
        worst(ours) / worst(plain));
    std::printf("  ffmpeg program        %7.1f ms   ours %.2f of it\n", median(program),
                median({ours.begin(), ours.begin() + 5}) / median(program));
#ifdef ASPEN_HAS_OPENCV
    cv::VideoCapture capture(clip, cv::CAP_FFMPEG);
    std::vector<double> theirs;
    for (const int n : targets) {
        cv::Mat picture;
        const auto start = Clock::now();
        capture.set(cv::CAP_PROP_POS_FRAMES, n);
        capture.read(picture);
        theirs.push_back(ms_since(start));
    }
    std::printf("  OpenCV set and read   %7.1f ms   ours %.2f of it\n", median(theirs),
                median(ours) / median(theirs));
#endif
}

void opening(const std::string& clip) {
    std::vector<double> probed, ours, pass, index;
    for (int i = 0; i < 7; ++i) {
        auto start = Clock::now();
        {
            AVFormatContext* raw = nullptr;
            avformat_open_input(&raw, clip.c_str(), nullptr, nullptr);
            const ff::Input input(raw);
            avformat_find_stream_info(raw, nullptr);
            const int stream = av_find_best_stream(raw, AVMEDIA_TYPE_VIDEO, -1, -1, nullptr, 0);
            const AVCodec* codec = avcodec_find_decoder(raw->streams[stream]->codecpar->codec_id);
            const ff::Codec decoder(avcodec_alloc_context3(codec));
            avcodec_parameters_to_context(decoder.get(), raw->streams[stream]->codecpar);
            decoder->thread_count = 2;
            avcodec_open2(decoder.get(), codec, nullptr);
            const ff::Packet packet(av_packet_alloc());
            const ff::Frame frame(av_frame_alloc());
            while (av_read_frame(raw, packet.get()) >= 0) {
                if (packet->stream_index == stream) avcodec_send_packet(decoder.get(), packet.get());
                av_packet_unref(packet.get());
                if (avcodec_receive_frame(decoder.get(), frame.get()) >= 0) break;
            }
        }
        probed.push_back(ms_since(start));
        start = Clock::now();
        first_picture(clip, 896, 504);
        ours.push_back(ms_since(start));
        start = Clock::now();
        {
            AVFormatContext* raw = nullptr;
            avformat_open_input(&raw, clip.c_str(), nullptr, nullptr);
            const ff::Input input(raw);
            const ff::Packet packet(av_packet_alloc());
            while (av_read_frame(raw, packet.get()) >= 0) av_packet_unref(packet.get());
        }
        pass.push_back(ms_since(start));
        start = Clock::now();
        {
            ClipSource source(clip);
            const PacketStore packets(source, {});
        }
        index.push_back(ms_since(start));
    }
    std::printf("  first picture         probed %6.1f ms   ours %6.1f ms (picture made too)   ratio %.2f\n",
                median(probed), median(ours), median(ours) / median(probed));
    std::printf("  list of packets       one pass %5.1f ms   ours %5.1f ms   ratio %.2f\n", median(pass),
                median(index), median(index) / median(pass));
}

double straight_fps(const std::string& clip, int& frames) {
    ClipSource source(clip);
    PacketStore packets(source, {});
    Decoder decoder(source, packets);
    frames = 0;
    const auto start = Clock::now();
    for (int i = 0; i < packets.count(); ++i) {
        decoder.send(i);
        while (decoder.receive()) ++frames;
    }
    decoder.drain();
    while (decoder.receive()) ++frames;
    return 1000.0 * frames / ms_since(start);
}

void playing(const std::string& clip) {
    int frames = 0;
    const double straight = straight_fps(clip, frames);
    const double before = resident_mb();
    double inside = 0, cache = 0;
    {
        Ear ear;
        ClipEngine engine(clip, {std::size_t{512} << 20, {}, {}, false}, ear.events());
        engine.set_view(896, 504);
        ear.wait([&] { return ear.facts.frames > 0; });
        const int last = ear.facts.frames - 1;
        const int from = last - std::min(last, 500);
        const auto play = [&](int a, int b, int step, Motion m) {
            const auto start = Clock::now();
            for (int n = a; n != b; n += step) {
                engine.request(n, m);
                ear.wait_exact(n);
            }
            return 1000.0 * std::abs(b - a) / ms_since(start);
        };
        const double forward = play(from, last, 1, Motion::forward),
                     backward = play(last, from, -1, Motion::backward);
        std::vector<double> cached;
        for (int i = 0; i < 20; ++i) {
            const int n = from + i % 2;
            const auto start = Clock::now();
            engine.request(n, Motion::scrub);
            ear.wait_exact(n);
            cached.push_back(ms_since(start));
        }
        inside = resident_mb();
        cache = static_cast<double>(engine.stats().cache_bytes) / 1048576;
        std::printf(
            "  straight decoding     %.0f frames/s   played forwards %.2f, backwards %.2f of it (converted "
            "for 896x504)\n",
            straight, forward / straight, backward / straight);
        std::printf("  cached step           %.2f ms from asking to the converted picture\n", median(cached));
    }
    std::printf(
        "  memory                %.0f MB more while open (cache %.0f MB of 512), %.0f MB more after "
        "closing\n",
        inside - before, cache, resident_mb() - before);
}

void rubbing(const std::string& clip) {
    Ear ear;
    ClipEngine engine(clip, {std::size_t{512} << 20, {}, {}, true}, ear.events());
    engine.set_view(896, 504);
    ear.wait([&] { return ear.facts.frames > 0; });
    const auto start = Clock::now();
    ear.wait([&] { return ear.made == ear.total; });
    const double making = ms_since(start);
    std::mt19937 random(5);
    std::vector<double> shown;
    for (int i = 0; i < 30; ++i) {
        const int n = static_cast<int>(random() % static_cast<unsigned>(ear.facts.frames));
        ear.tell([&] { ear.frame = -1; });
        const auto asked = Clock::now();
        engine.request(n, Motion::scrub);
        ear.wait([&] { return ear.frame == n; });
        shown.push_back(ms_since(asked));
    }
    std::printf(
        "  previews              made in %.1f s, %.1f MB; while rubbing one is there after %.1f / %.1f ms "
        "(median / p95)\n",
        making / 1000, static_cast<double>(engine.stats().preview_bytes) / 1048576, median(shown),
        worst(shown));
}

}  // namespace

int main(int argc, char** argv) {
    for (int i = 1; i < argc; ++i) {
        std::printf("%s\n", std::filesystem::path(argv[i]).filename().c_str());
        seeks(argv[i]);
        opening(argv[i]);
        playing(argv[i]);
        rubbing(argv[i]);
        std::fflush(stdout);
    }
}
