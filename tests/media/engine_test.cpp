// The engine as a window uses it: asked from one thread, answering on another.

#include <gtest/gtest.h>

#include <algorithm>
#include <chrono>
#include <condition_variable>
#include <fstream>
#include <mutex>
#include <nlohmann/json.hpp>
#include <random>
#include <thread>

#include "core/reading/refused.hpp"
#include "media/reading/clip_engine.hpp"
#include "support/support.hpp"
#include "support/wait_for.hpp"

namespace aspen::media {
namespace {

const std::filesystem::path kEngineCorpus = ASPEN_CORPUS;
using std::chrono::milliseconds;

/// Listens to an engine and lets a test wait for what it says.
class Ear {
  public:
    ClipEngine::Events events() {
        ClipEngine::Events e;
        e.first = [this](const Picture& p) { note([&] { first = p; }); };
        e.opened = [this](const ClipFacts& f) { note([&] { facts = f; }); };
        e.picture = [this](ShownPicture p) { note([&] { shown.push_back(std::move(p)); }); };
        e.previews = [this](int m, int t) { note([&] { made = m, total = t; }); };
        e.damage = [this](const std::vector<int>& d) { note([&] { damage = d; }); };
        e.failed = [this](const std::string& line) { note([&] { trouble = line; }); };
        return e;
    }
    template <typename There>
    bool wait(There there) {
        std::unique_lock lock(mutex_);
        return wake_.wait_for(lock, milliseconds(20'000), there);
    }
    bool wait_open() {
        return wait([&] { return facts.frames > 0 || !trouble.empty(); }) && facts.frames > 0;
    }
    bool wait_exact(int n) {
        return wait([&] {
            return !shown.empty() && shown.back().frame == n &&
                   shown.back().kind == ShownPicture::Kind::exact;
        });
    }
    bool wait_full(int n) {
        return wait([&] { return !shown.empty() && shown.back().frame == n && shown.back().full; });
    }
    ShownPicture first_shown() {
        const std::lock_guard lock(mutex_);
        return shown.front();
    }
    ShownPicture last_shown() {
        const std::lock_guard lock(mutex_);
        return shown.back();
    }
    std::size_t count_shown() {
        const std::lock_guard lock(mutex_);
        return shown.size();
    }
    void forget() {
        const std::lock_guard lock(mutex_);
        shown.clear();
    }

    Picture first;
    ClipFacts facts;
    std::vector<ShownPicture> shown;
    int made = 0, total = 0;
    std::optional<std::vector<int>> damage;
    std::string trouble;

  private:
    template <typename Change>
    void note(Change change) {
        const std::lock_guard lock(mutex_);
        change();
        wake_.notify_all();
    }
    std::mutex mutex_;
    std::condition_variable wake_;
};

TEST(ClipEngine, ShowsTheFirstPictureThenAnyFrameExactly) {
    Ear ear;
    ClipEngine engine(kEngineCorpus / "long_groups.mp4", {}, ear.events());
    ASSERT_TRUE(ear.wait_open()) << ear.trouble;
    EXPECT_EQ(ear.first.width, 256);
    EXPECT_EQ(ear.facts.frames, 120);
    VideoReader reader(kEngineCorpus / "long_groups.mp4");
    std::mt19937 random(3);
    for (int i = 0; i < 30; ++i) {
        const int n = static_cast<int>(random() % 120);
        engine.request(n);
        ASSERT_TRUE(ear.wait_full(n)) << n;
        EXPECT_EQ(ear.last_shown().picture.bgra, reader.picture(n).bgra) << n;
    }
}

TEST(ClipEngine, TheNewestRequestWinsAndTheHandRestsOnTheExactFrame) {
    Ear ear;
    ClipEngine engine(kEngineCorpus / "cues.mkv", {std::size_t{1} << 20, {}, {}, true}, ear.events());
    ASSERT_TRUE(ear.wait_open());
    for (int round = 0; round < 5; ++round) {
        for (int n = 0; n < 120; n += 3) engine.request(n, Motion::scrub);
        engine.request(77, Motion::rest);
        ASSERT_TRUE(ear.wait_full(77));
    }
    EXPECT_LT(ear.count_shown(), 300u) << "stale requests were answered too";
}

TEST(ClipEngine, PlaysBothWaysThroughEveryFrame) {
    for (const char* name : {"long_groups.mp4", "open_groups.mp4", "packed.avi", "refresh.mkv"}) {
        Ear ear;
        ClipEngine engine(kEngineCorpus / name, {std::size_t{3} << 20, {}, {}, false}, ear.events());
        ASSERT_TRUE(ear.wait_open()) << name;
        VideoReader reader(kEngineCorpus / name);
        engine.set_view(128, 72);
        const int last = ear.facts.frames - 1;
        const auto look = [&](int n, Motion m) {
            engine.request(n, m);
            ASSERT_TRUE(ear.wait_exact(n)) << name << " " << n;
            EXPECT_EQ(ear.last_shown().picture.width, 128);
        };
        for (int n = 0; n <= last; ++n) look(n, Motion::forward);
        for (int n = last; n >= 0; --n) look(n, Motion::backward);
        engine.request(last / 2);
        ASSERT_TRUE(ear.wait_full(last / 2));
        EXPECT_EQ(ear.last_shown().picture.bgra, reader.picture(last / 2).bgra);
    }
}

TEST(ClipEngine, PreviewsStandInWhileTheHandRubs) {
    const test::TempFolder folder;
    const ClipEngine::Options options{std::size_t{1} << 20, folder.path(), "hash", true};
    {
        Ear ear;
        ClipEngine engine(kEngineCorpus / "long_groups.mp4", options, ear.events());
        ASSERT_TRUE(ear.wait([&] { return ear.made == 120; }));
        ear.forget();
        engine.request(100, Motion::scrub);
        ASSERT_TRUE(ear.wait([&] { return !ear.shown.empty(); }));
        EXPECT_EQ(ear.first_shown().kind, ShownPicture::Kind::preview);
        EXPECT_EQ(ear.first_shown().frame, 100);
        ASSERT_TRUE(ear.wait_exact(100));
        // A preview is the frame's own picture, only smaller and rougher.
        const Picture small = ear.first_shown().picture,
                      whole = VideoReader(kEngineCorpus / "long_groups.mp4").picture(100);
        ASSERT_EQ(small.width, whole.width);
        double off = 0;
        for (std::size_t i = 0; i < whole.bgra.size(); ++i)
            off += std::abs(int{small.bgra[i]} - int{whole.bgra[i]});
        EXPECT_LT(off / static_cast<double>(whole.bgra.size()), 8);
        ASSERT_TRUE(ear.wait([&] { return std::filesystem::exists(folder / "hash.previews"); }));
    }
    Ear ear;
    ClipEngine again(kEngineCorpus / "long_groups.mp4", options, ear.events());
    ASSERT_TRUE(ear.wait_open());
    EXPECT_TRUE(again.preview(57)) << "what was made once is there at once";
    EXPECT_EQ(again.preview(57)->frame, 57);
}

TEST(ClipEngine, BeforePreviewsTheEntryStandsInAndSaysSo) {
    Ear ear;
    auto plan = test::faulty_plan();
    plan.duration_s = 4;
    ClipEngine engine(test::simulated_clip(plan, "engine"), {}, ear.events());
    ASSERT_TRUE(ear.wait_open());
    engine.request(110, Motion::scrub);
    ASSERT_TRUE(ear.wait_exact(110));
    ASSERT_GT(ear.count_shown(), 0u);
    EXPECT_EQ(ear.first_shown().kind, ShownPicture::Kind::approximate);
    EXPECT_EQ(ear.first_shown().wanted, 110);
}

TEST(ClipEngine, KeepsItsBudget) {
    Ear ear;
    auto plan = test::faulty_plan();
    plan.duration_s = 4;
    constexpr std::size_t budget = std::size_t{40} << 20;
    ClipEngine engine(test::simulated_clip(plan, "engine"), {budget, {}, {}, false}, ear.events());
    ASSERT_TRUE(ear.wait_open());
    for (const int n : {60, 0, 119, 30, 90}) {
        engine.request(n);
        ASSERT_TRUE(ear.wait_full(n));
        std::size_t held = 0;
        EXPECT_TRUE(test::wait_for([&] {  // what lies around is decoded meanwhile
            held = engine.stats().cache_bytes;
            EXPECT_LE(held, budget * 11 / 10);
            return held > budget / 4;
        }));
    }
}

TEST(ClipEngine, FindsDamageAndSaysWhichFrames) {
    const test::TempFolder folder;
    auto bytes = [&] {
        std::ifstream in(kEngineCorpus / "short_groups.mp4", std::ios::binary);
        return std::string(std::istreambuf_iterator<char>(in), {});
    }();
    ASSERT_GT(bytes.size(), 800U) << "the corpus was not made";
    for (std::size_t i = bytes.size() / 2; i < bytes.size() / 2 + 400; ++i)
        bytes[i] = static_cast<char>(bytes[i] ^ 0x5a);
    std::ofstream(folder / "scratched.mp4", std::ios::binary) << bytes;
    Ear ear;
    ClipEngine engine(folder / "scratched.mp4", {}, ear.events());
    ASSERT_TRUE(ear.wait_open()) << ear.trouble;
    EXPECT_EQ(ear.facts.frames, 120);
    ASSERT_TRUE(ear.wait([&] { return ear.damage.has_value(); }));
    EXPECT_FALSE(ear.damage->empty());
    EXPECT_LT(ear.damage->size(), 40u) << "damage ends at the next entry";
    // Every other frame is as in the whole file.
    VideoReader whole(kEngineCorpus / "short_groups.mp4"), scratched(folder / "scratched.mp4");
    for (int n = 0; n < 120; n += 5) {
        if (std::ranges::binary_search(*ear.damage, n)) continue;
        EXPECT_EQ(whole.native_md5(n), scratched.native_md5(n)) << n;
    }
}

TEST(ClipEngine, BadFilesSayOneLine) {
    const test::TempFolder folder;
    std::ofstream(folder / "empty.mp4");
    std::ofstream(folder / "text.mp4") << "#EXTM3U\nhttp://example.invalid/a.ts\n";
    for (const char* name : {"empty.mp4", "text.mp4", "missing.mp4"}) {
        Ear ear;
        ClipEngine engine(folder / name, {}, ear.events());
        ASSERT_TRUE(ear.wait([&] { return !ear.trouble.empty(); })) << name;
        EXPECT_NE(ear.trouble.find(name), std::string::npos);
        EXPECT_EQ(ear.trouble.find('\n'), std::string::npos);
    }
}

TEST(ClipEngine, AFileThatVanishesStaysReadableAndOneThatChangesSaysSo) {
    const test::TempFolder folder;
    const auto clip = folder / "clip.mp4";
    std::filesystem::copy_file(kEngineCorpus / "long_groups.mp4", clip);
    {
        Ear ear;
        ClipEngine engine(clip, {std::size_t{1} << 20, {}, {}, false}, ear.events());
        ASSERT_TRUE(ear.wait_open());
        std::filesystem::remove(clip);
        engine.request(90);
        EXPECT_TRUE(ear.wait_full(90));
    }
    std::filesystem::copy_file(kEngineCorpus / "long_groups.mp4", clip);
    Ear ear;
    ClipEngine engine(clip, {std::size_t{1} << 20, {}, {}, false}, ear.events());
    ASSERT_TRUE(ear.wait_open());
    std::ofstream(clip, std::ios::app) << "more";
    engine.request(90);
    ASSERT_TRUE(ear.wait([&] { return !ear.trouble.empty(); }));
    EXPECT_NE(ear.trouble.find("changed while it was open"), std::string::npos);
}

TEST(ClipEngine, ClosesInTheMiddleOfAnything) {
    for (int i = 0; i < 20; ++i) {
        Ear ear;
        ClipEngine engine(kEngineCorpus / (i % 2 ? "long_groups.mp4" : "vp9.webm"), {}, ear.events());
        if (i % 3) ear.wait_open();
        engine.request(i * 5, i % 2 ? Motion::scrub : Motion::backward);
        std::this_thread::sleep_for(milliseconds(i % 7));
    }
}

TEST(ClipEngine, FieldsAreMomentsOfTheirOwn) {
    VideoReader reader(kEngineCorpus / "interlaced.mp4"), plain(kEngineCorpus / "long_groups.mp4");
    const Picture first = reader.picture(50, 0, 0, Field::first),
                  second = reader.picture(50, 0, 0, Field::second);
    EXPECT_EQ(first.bgra.size(), second.bgra.size());
    EXPECT_NE(first.bgra, second.bgra);
    EXPECT_EQ(plain.picture(50, 0, 0, Field::first).bgra, plain.picture(50, 0, 0, Field::second).bgra);
}

}  // namespace
}  // namespace aspen::media
