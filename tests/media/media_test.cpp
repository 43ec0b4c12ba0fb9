#include <gmock/gmock.h>

#include <fstream>
#include <random>

#include "core/reading/refused.hpp"
#include "media/reading/content_hash.hpp"
#include "media/reading/video_reader.hpp"
#include "media/writing/video_writer.hpp"
#include "support/support.hpp"

namespace aspen::media {
namespace {

using testing::HasSubstr;
using testing::MatchesRegex;

/// Each frame says its number in eight black or white bars, so that a wrong frame cannot be mistaken.
std::filesystem::path numbered_clip(const std::filesystem::path& file, int frames, WriterOptions o = {}) {
    o.width = 320;
    o.height = 180;
    o.quality_crf = 8;
    VideoWriter writer(file, o);
    for (int n = 0; n < frames; ++n) {
        std::vector<std::uint8_t> bgra(static_cast<std::size_t>(o.width) * o.height * 4);
        for (std::size_t i = 0; i < bgra.size(); ++i) bgra[i] = (n >> (i / 4 % 320 / 40)) & 1 ? 235 : 20;
        writer.add(bgra.data(), o.width * 4, n / o.fps);
    }
    writer.finish();
    return file;
}
int number_in(const Picture& p) {
    int n = 0;
    for (int bar = 0; bar < 8; ++bar) n |= (p.pixel(bar * 40 + 20, p.height / 2)[1] > 128) << bar;
    return n;
}

std::string refusal(const std::filesystem::path& file) {
    try {
        const VideoReader reader(file);
    } catch (const core::Refused& e) {
        return e.what();
    }
    return "opened";
}

TEST(VideoReader, FrameNIsFrameNInAnyOrder) {
    const test::TempFolder folder;
    VideoReader reader(numbered_clip(folder / "a.mp4", 100));
    EXPECT_EQ(reader.facts().frames, 100);
    EXPECT_FALSE(reader.settled_by_decoding());
    std::mt19937 engine(3);
    for (int i = 0; i < 60; ++i) {
        const int n = static_cast<int>(engine() % 100);
        EXPECT_EQ(number_in(reader.picture(n)), n);
    }
    for (int n = 99; n >= 0; --n) EXPECT_EQ(number_in(reader.picture(n)), n) << "going back";
    EXPECT_THROW(reader.picture(100), std::out_of_range);
    EXPECT_THROW(reader.picture(-1), std::out_of_range);
}

TEST(VideoReader, FactsAreTheClipsOwn) {
    const test::TempFolder folder;
    WriterOptions o;
    o.fps = 50;
    VideoReader reader(numbered_clip(folder / "a.mp4", 25, o));
    const ClipFacts& f = reader.facts();
    EXPECT_EQ(f.width, 320);
    EXPECT_EQ(f.height, 180);
    EXPECT_NEAR(f.average_fps, 50, 1e-6);
    EXPECT_NEAR(f.duration_s, 0.5, 1e-6);
    EXPECT_FALSE(f.variable_rate);
    EXPECT_EQ(f.time_source, TimeSource::stream);
    EXPECT_NEAR(f.pts_s[10] - f.pts_s[9], 0.02, 1e-6);
}

TEST(VideoReader, FitsThePictureAndKeepsItsShape) {
    const test::TempFolder folder;
    VideoReader reader(numbered_clip(folder / "a.mp4", 5));
    const Picture small = reader.picture(2, 100, 100);
    EXPECT_EQ(small.width, 100);
    EXPECT_EQ(small.height, 56);
    EXPECT_EQ(reader.picture(2, 4000, 4000).width, 320) << "never larger than it is";
}

class Turned : public testing::TestWithParam<int> {};

/// A white corner in the display's top left must be there whatever the stored turn.
TEST_P(Turned, IsShownUpright) {
    const test::TempFolder folder;
    WriterOptions o;
    o.width = 160, o.height = 120, o.rotation_deg = GetParam(), o.quality_crf = 10;
    std::vector<std::uint8_t> stored(160 * 120 * 4, 30);
    for (int y = 0; y < 120; ++y) {
        for (int x = 0; x < 160; ++x) {
            const bool white = GetParam() == 0 ? x < 40 && y < 40
                               : GetParam() == 90
                                   ? x < 40 && y >= 80  // turned clockwise, the lower left goes up left
                               : GetParam() == 180 ? x >= 120 && y >= 80
                                                   : x >= 120 && y < 40;
            if (white) std::fill_n(&stored[static_cast<std::size_t>(y * 160 + x) * 4], 3, std::uint8_t{230});
        }
    }
    {
        VideoWriter writer(folder / "a.mp4", o);
        for (int n = 0; n < 3; ++n) writer.add(stored.data(), 160 * 4, n / 30.0);
        writer.finish();
    }
    VideoReader reader(folder / "a.mp4");
    const bool on_side = GetParam() % 180 != 0;
    EXPECT_EQ(reader.facts().rotation_deg, GetParam());
    EXPECT_EQ(reader.facts().width, on_side ? 120 : 160);
    EXPECT_EQ(reader.facts().height, on_side ? 160 : 120);
    const Picture p = reader.picture(1);
    EXPECT_GT(p.pixel(12, 12)[1], 200);
    EXPECT_LT(p.pixel(p.width - 12, 12)[1], 60);
    EXPECT_LT(p.pixel(12, p.height - 12)[1], 60);
}
INSTANTIATE_TEST_SUITE_P(Quarters, Turned, testing::Values(0, 90, 180, 270));

TEST(VideoReader, WidePixelsAreStretched) {
    const test::TempFolder folder;
    WriterOptions o;
    o.shape_num = 4, o.shape_den = 3;
    VideoReader reader(numbered_clip(folder / "a.mp4", 4, o));
    EXPECT_EQ(reader.facts().width, 427);
    EXPECT_EQ(reader.facts().height, 180);
    EXPECT_EQ(reader.picture(3).width, 427);
}

TEST(VideoReader, VariableRateIsNoticedAndTimesAreKept) {
    const test::TempFolder folder;
    WriterOptions o;
    o.width = 64, o.height = 64;
    const std::vector<std::uint8_t> grey(64 * 64 * 4, 90);
    const double times[] = {0, 0.033, 0.066, 0.2, 0.233, 0.5};
    {
        VideoWriter writer(folder / "a.mp4", o);
        for (const double t : times) writer.add(grey.data(), 64 * 4, t);
        writer.finish();
    }
    VideoReader reader(folder / "a.mp4");
    EXPECT_TRUE(reader.facts().variable_rate);
    for (std::size_t i = 0; i < 6; ++i) EXPECT_NEAR(reader.facts().pts_s[i], times[i], 1e-4);
}

TEST(VideoReader, BadFilesSayWhatWhereAndWhatToDo) {
    const test::TempFolder folder;
    EXPECT_THAT(refusal(folder / "none.mp4"), HasSubstr("none.mp4: no such file; check the path"));
    std::ofstream(folder / "empty.mp4").close();
    EXPECT_THAT(refusal(folder / "empty.mp4"), HasSubstr("the file is empty"));
    std::ofstream(folder / "text.mp4") << "This is a letter, not a clip.\n";
    EXPECT_THAT(refusal(folder / "text.mp4"), HasSubstr("not a video that can be read"));
    EXPECT_THAT(refusal(folder.path()), HasSubstr("is a folder"));
    ASSERT_EQ(test::run("ffmpeg -y -f lavfi -i sine=duration=1 " + (folder / "sound.m4a").string()).code, 0);
    EXPECT_THAT(refusal(folder / "sound.m4a"), HasSubstr("no picture in it"));
    const auto whole = numbered_clip(folder / "whole.mp4", 60);
    std::filesystem::copy(whole, folder / "cut.mp4");
    std::filesystem::resize_file(folder / "cut.mp4", std::filesystem::file_size(whole) / 2);
    EXPECT_THAT(refusal(folder / "cut.mp4"),
                HasSubstr("cut.mp4: "));  // its index stood at the end and is gone
    for (const char* name : {"none.mp4", "empty.mp4", "text.mp4", "sound.m4a", "cut.mp4"}) {
        EXPECT_EQ(std::ranges::count(refusal(folder / name), '\n'), 0) << "one line";
    }
}

TEST(VideoReader, CutOffTransportStreamGivesWhatIsThere) {
    const test::TempFolder folder;
    const auto whole = numbered_clip(folder / "whole.mp4", 80);
    ASSERT_EQ(test::run("ffmpeg -y -i " + whole.string() + " -c copy " + (folder / "a.ts").string()).code, 0);
    std::filesystem::resize_file(folder / "a.ts", std::filesystem::file_size(folder / "a.ts") / 2);
    VideoReader reader(folder / "a.ts");
    EXPECT_TRUE(reader.settled_by_decoding());
    EXPECT_GT(reader.facts().frames, 10);
    EXPECT_LT(reader.facts().frames, 80);
    EXPECT_EQ(number_in(reader.picture(7)), 7);
}

TEST(VideoReader, ReadingIsGivenUpWhenAsked) {
    const test::TempFolder folder;
    const auto clip = numbered_clip(folder / "a.mp4", 10);
    const std::atomic<bool> cancel{true};
    EXPECT_THROW(VideoReader(clip, {&cancel, {}}), ReadCancelled);
}

TEST(VideoWriter, LeavesNothingHalfWritten) {
    const test::TempFolder folder;
    {
        VideoWriter writer(folder / "a.mp4", {});
        const std::vector<std::uint8_t> grey(1280 * 720 * 4, 90);
        writer.add(grey.data(), 1280 * 4, 0);
    }
    EXPECT_TRUE(std::filesystem::is_empty(folder.path()));
    EXPECT_THROW(VideoWriter(folder / "nowhere" / "a.mp4", {}), core::Refused);
}

TEST(ContentHash, FollowsTheFileNotItsName) {
    const test::TempFolder folder;
    std::ofstream(folder / "a") << "abc";
    std::ofstream(folder / "b") << "abc";
    EXPECT_EQ(content_hash(folder / "a"), content_hash(folder / "b"));
    std::ofstream(folder / "b") << "abd";
    EXPECT_NE(content_hash(folder / "a"), content_hash(folder / "b"));
    EXPECT_THROW(content_hash(folder / "c"), core::Refused);
}

}  // namespace
}  // namespace aspen::media
