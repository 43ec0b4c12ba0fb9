// Every frame of every kind of clip against the ffmpeg and ffprobe programs, the published reference decoder
// run in a process of its own (make_corpus.py): the MD5 of each decoded picture, its number and its time.

#include <gtest/gtest.h>

#include <algorithm>
#include <fstream>
#include <nlohmann/json.hpp>
#include <random>

#include "media/reading/video_reader.hpp"
#include "support/support.hpp"

namespace aspen::media {
namespace {

const std::filesystem::path kCorpus = ASPEN_CORPUS;
constexpr std::size_t kClipsAtLeast = 50;

nlohmann::json read_json(const std::filesystem::path& file) {
    std::ifstream in(file);
    return nlohmann::json::parse(in);
}

struct Listed {
    std::string name;
    int frames;
};
std::vector<Listed> corpus() {
    std::vector<Listed> out;
    for (const auto& c : read_json(kCorpus / "list.json")) out.push_back({c["name"], c["frames"]});
    return out;
}

std::vector<std::string> sums_of(const std::string& name) {
    return read_json(kCorpus / (name + ".ref.json"))["md5"];
}

/// A damaged picture is concealed, and how depends on the number of decoding threads: only its number is
/// compared.
bool is_known_damaged(const VideoReader& reader, int n) {
    return std::ranges::binary_search(reader.facts().damaged, n);
}

/// Too small for more than a few pictures, so that every picture is decoded by a seek of its own.
ReaderOptions no_cache() { return {std::size_t{150} << 10, {}}; }

TEST(Corpus, IsWhole) {
    const auto clips = corpus();
    EXPECT_GE(clips.size(), kClipsAtLeast);
    for (const Listed& c : clips) {
        EXPECT_EQ(static_cast<int>(sums_of(c.name).size()), c.frames) << c.name;
        EXPECT_GT(c.frames, 0) << c.name;
    }
}

TEST(Corpus, EveryFrameForwards) {
    for (const Listed& c : corpus()) {
        const auto sums = sums_of(c.name);
        VideoReader reader(kCorpus / c.name);
        ASSERT_EQ(reader.facts().frames, c.frames) << c.name;
        for (int n = 0; n < c.frames; ++n) {
            if (is_known_damaged(reader, n)) continue;
            EXPECT_EQ(reader.native_md5(n), sums[static_cast<std::size_t>(n)]) << c.name << " frame " << n;
        }
    }
}

TEST(Corpus, EveryFrameBackwards) {
    for (const Listed& c : corpus()) {
        const auto sums = sums_of(c.name);
        VideoReader reader(kCorpus / c.name);
        for (int n = c.frames - 1; n >= 0; --n) {
            if (is_known_damaged(reader, n)) continue;
            EXPECT_EQ(reader.native_md5(n), sums[static_cast<std::size_t>(n)]) << c.name << " frame " << n;
        }
    }
}

TEST(Corpus, AnyFrameBySeekAlone) {
    std::mt19937 engine(7);
    for (const Listed& c : corpus()) {
        const auto sums = sums_of(c.name);
        VideoReader reader(kCorpus / c.name, {}, no_cache());
        std::vector<int> order(static_cast<std::size_t>(c.frames));
        for (int n = 0; n < c.frames; ++n) order[static_cast<std::size_t>(n)] = n;
        std::ranges::shuffle(order, engine);
        order.resize(std::min<std::size_t>(order.size(), 40));
        for (const int n : order) {
            if (is_known_damaged(reader, n)) continue;
            EXPECT_EQ(reader.native_md5(n), sums[static_cast<std::size_t>(n)]) << c.name << " frame " << n;
        }
    }
}

TEST(Corpus, EveryTimeIsTheStreamsOwn) {
    int compared = 0;
    for (const Listed& c : corpus()) {
        const VideoReader reader(kCorpus / c.name);
        const auto pts = read_json(kCorpus / (c.name + ".ref.json"))["pts"];
        ASSERT_EQ(reader.facts().pts_s.size(), pts.size()) << c.name;
        const bool told = std::ranges::none_of(pts, [](const auto& t) { return t.is_null(); });
        const bool rising = told && std::ranges::is_sorted(std::vector<double>(pts), std::less_equal<>{});
        EXPECT_EQ(reader.facts().time_source == TimeSource::stream, rising) << c.name;
        for (std::size_t i = 1; i < pts.size(); ++i)
            EXPECT_GT(reader.facts().pts_s[i], reader.facts().pts_s[i - 1]) << c.name;
        if (!rising) continue;
        for (std::size_t i = 0; i < pts.size(); ++i) {
            ASSERT_NEAR(reader.facts().pts_s[i], pts[i].get<double>(), 1e-5) << c.name << " frame " << i;
            ++compared;
        }
    }
    EXPECT_GT(compared, 4000);
}

TEST(Corpus, AShortenedReadGivesUpCleanly) {
    for (const char* name : {"long_groups.mp4", "joined.ts", "packed.avi"}) {
        const auto sums = sums_of(name);
        std::atomic<bool> cancel{false};
        VideoReader reader(kCorpus / name, {&cancel, {}}, no_cache());
        cancel = true;
        EXPECT_THROW(reader.native_md5(reader.facts().frames - 1), ReadCancelled) << name;
        cancel = false;
        const int n = reader.facts().frames / 2;
        EXPECT_EQ(reader.native_md5(n), sums[static_cast<std::size_t>(n)]) << name;
    }
}

TEST(Corpus, DamageIsKnownWhereDecodingSettledTheOrder) {
    for (const Listed& c : corpus()) {
        const VideoReader reader(kCorpus / c.name);
        const std::vector<int> expected =
            c.name == "tail_cut.ts" ? std::vector<int>{c.frames - 1} : std::vector<int>{};
        EXPECT_EQ(reader.facts().damaged, expected) << c.name;
    }
}

TEST(Corpus, JoinedClocksAreRepairedAndSaySo) {
    const VideoReader reader(kCorpus / "joined.ts");
    EXPECT_EQ(reader.facts().time_source, TimeSource::repaired);
    EXPECT_NEAR(reader.facts().pts_s[239] - reader.facts().pts_s[0], 239 / 30.0, 0.01);
}

TEST(Corpus, TheCamerasRateIsReadFromTheTags) {
    EXPECT_DOUBLE_EQ(VideoReader(kCorpus / "slow_motion.mp4").facts().capture_fps, 240);
    EXPECT_DOUBLE_EQ(VideoReader(kCorpus / "long_groups.mp4").facts().capture_fps, 0);
}

TEST(OrderCache, RemembersWhatDecodingSettledAndDoesNotTrustIt) {
    const test::TempFolder folder;
    const auto clip = kCorpus / "packed.avi";
    const auto sums = sums_of("packed.avi");
    const OrderCache cache(folder.path(), "abc");
    int decoded = 0;
    const auto open = [&] {
        decoded = 0;
        VideoReader reader(clip, {nullptr, [&](double) { ++decoded; }}, {std::size_t{1} << 20, cache});
        EXPECT_EQ(reader.facts().frames, static_cast<int>(sums.size()));
        EXPECT_EQ(reader.native_md5(30), sums[30]);
    };
    open();
    EXPECT_GT(decoded, 0);
    open();
    EXPECT_EQ(decoded, 0) << "settled again though it was known";
    std::ofstream(folder / "abc.frames.json") << R"({"format":1,"packets":9,"sum":1,"frames":[[0,1,0]]})";
    open();
    EXPECT_GT(decoded, 0) << "a list of other packets was trusted";
    std::ofstream(folder / "abc.frames.json") << "{ broken";
    open();
    EXPECT_GT(decoded, 0);
}

}  // namespace
}  // namespace aspen::media
