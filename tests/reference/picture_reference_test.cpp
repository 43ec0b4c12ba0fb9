// The right picture: colours against the colour that was encoded (ITU-R BT.601, BT.709 and BT.2020 matrices,
// limited and full range), high dynamic range against the ffmpeg program's own filters, fields against their
// own lines.

#include <gtest/gtest.h>

#include <cmath>
#include <cstdlib>
#include <fstream>
#include <thread>

#include "core/reading/refused.hpp"
#include "media/reading/clip_engine.hpp"
#include "media/reading/video_reader.hpp"
#include "support/support.hpp"

namespace aspen::media {
namespace {

struct Shade {
    const char* name;
    const char* options;
};
class Colour : public testing::TestWithParam<Shade> {};

TEST_P(Colour, IsTheOneThatWasEncoded) {
    const test::TempFolder folder;
    const auto clip = folder / "colour.mp4";
    // A plain colour of red 48, green 96, blue 192.
    ASSERT_EQ(test::run("ffmpeg -v error -f lavfi -i color=c=0x3060c0:size=128x96:rate=10:duration=0.5 " +
                        std::string(GetParam().options) + " " + clip.string())
                  .code,
              0);
    const Picture p = VideoReader(clip).picture(2);
    const auto* pixel = p.pixel(60, 50);
    EXPECT_NEAR(pixel[2], 0x30, 4) << GetParam().name;
    EXPECT_NEAR(pixel[1], 0x60, 4) << GetParam().name;
    EXPECT_NEAR(pixel[0], 0xc0, 4) << GetParam().name;
}
INSTANTIATE_TEST_SUITE_P(
    Matrices, Colour,
    testing::Values(Shade{"601 limited",
                          "-vf scale=out_color_matrix=bt601:out_range=tv,format=yuv420p -colorspace "
                          "smpte170m -color_range tv -c:v libx264 -crf 5"},
                    Shade{"709 limited",
                          "-vf scale=out_color_matrix=bt709:out_range=tv,format=yuv420p -colorspace bt709 "
                          "-color_range tv -c:v libx264 -crf 5"},
                    Shade{"709 full",
                          "-vf scale=out_color_matrix=bt709:out_range=pc,format=yuv420p -colorspace bt709 "
                          "-color_range pc -c:v libx264 -crf 5"},
                    Shade{"601 full",
                          "-vf scale=out_color_matrix=bt601:out_range=pc,format=yuvj420p -colorspace "
                          "smpte170m -color_range pc -c:v libx264 -crf 5"},
                    Shade{"2020 limited, 10 bit",
                          "-vf scale=out_color_matrix=bt2020:out_range=tv,format=yuv420p10le -colorspace "
                          "bt2020nc -color_range tv -c:v libx264 -crf 5"}));

TEST(HighRange, IsBroughtToAPlainDisplayAsTheReferenceFiltersDoIt) {
    const std::filesystem::path clip = std::filesystem::path(ASPEN_CORPUS) / "high_range.mp4";
    const test::TempFolder folder;
    const std::string raw = (folder / "frame.raw").string();
    ASSERT_EQ(test::run("ffmpeg -v error -i " + clip.string() +
                        " -frames:v 1 -vf "
                        "\"zscale=tin=arib-std-b67:min=bt2020nc:pin=bt2020:t=linear:npl=100,format=gbrpf32le,"
                        "zscale=p=bt709,"
                        "tonemap=tonemap=hable:desat=0,zscale=t=bt709:m=bt709:r=tv,format=yuv420p,scale=in_"
                        "color_matrix=bt709:in_range=tv,format=bgra\" -f rawvideo " +
                        raw)
                  .code,
              0);
    std::ifstream in(raw, std::ios::binary);
    const std::string theirs{std::istreambuf_iterator<char>(in), {}};
    const Picture ours = VideoReader(clip).picture(0);
    ASSERT_EQ(theirs.size(), ours.bgra.size());
    double off = 0;
    for (std::size_t i = 0; i < theirs.size(); ++i)
        off += std::abs(int{static_cast<std::uint8_t>(theirs[i])} - int{ours.bgra[i]});
    EXPECT_LT(off / static_cast<double>(theirs.size()), 3);
}

TEST(Interlaced, EachFieldShowsItsOwnLines) {
    const test::TempFolder folder;
    const auto clip = folder / "fields.mp4";
    // Even lines black, odd lines white; the top field comes first.
    ASSERT_EQ(test::run("ffmpeg -v error -f lavfi -i color=black:size=128x96:rate=25:duration=0.4 -f lavfi "
                        "-i color=white:size=128x96:rate=25:duration=0.4 -filter_complex "
                        "\"[0][1]blend=all_expr='if(mod(Y,2),B,A)',setfield=tff,format=yuv420p\" -c:v "
                        "libx264 -crf 1 -flags +ildct+ilme -x264-params tff=1 " +
                        clip.string())
                  .code,
              0);
    VideoReader reader(clip);
    const int frames = reader.facts().frames;
    EXPECT_LT(reader.picture(3, 0, 0, Field::first).pixel(64, 48)[1], 40);
    EXPECT_GT(reader.picture(3, 0, 0, Field::second).pixel(64, 48)[1], 215);
    EXPECT_EQ(reader.facts().frames, frames) << "fields do not change the count of frames";
}

TEST(Refusal, AFileOneMayNotReadSaysSo) {
    const test::TempFolder folder;
    std::ofstream(folder / "a.mp4") << "x";
    std::filesystem::permissions(folder / "a.mp4", std::filesystem::perms::none);
    try {
        check_opens(folder / "a.mp4");
        FAIL() << "was opened";
    } catch (const core::Refused& e) {
        // Root may read anything: then it is refused for what is in it.
        const std::string line = e.what();
        EXPECT_TRUE(line.find("permissions") != std::string::npos ||
                    line.find("not a video") != std::string::npos)
            << line;
    }
}

TEST(FullDisk, WhatIsRememberedIsNotNeeded) {
    // A cache folder that cannot be written: the clip opens and shows all the same.
    Previews previews(3);
    previews.put(0, "jpeg");
    EXPECT_NO_THROW(previews.save("/proc/no-such-folder/a.previews"));
    const std::filesystem::path clip = std::filesystem::path(ASPEN_CORPUS) / "packed.avi";
    VideoReader reader(clip, {}, {std::size_t{1} << 20, OrderCache("/proc/no-such-folder", "abc")});
    EXPECT_EQ(reader.facts().frames, 61);
}

}  // namespace
}  // namespace aspen::media
