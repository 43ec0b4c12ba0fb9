// Exact frames against the ffmpeg and ffprobe programs (a published reference decoder in a process of its
// own), and content hashes against the published test vector.

#include <gtest/gtest.h>

#include <fstream>
#include <sstream>

#include "media/reading/content_hash.hpp"
#include "media/reading/video_reader.hpp"
#include "support/support.hpp"

namespace aspen {
namespace {

/// MD5 of every picture in presentation order, as the ffmpeg program's framemd5 states them.
std::vector<std::string> reference_sums(const std::filesystem::path& clip) {
    std::istringstream lines(test::run("ffmpeg -noautorotate -i '" + clip.string() +
                                       "' -map 0:v:0 -fps_mode passthrough -f framemd5 -")
                                 .out);
    std::vector<std::string> out;
    for (std::string line; std::getline(lines, line);) {
        if (line.empty() || line[0] == '#') continue;
        out.push_back(line.substr(line.find_last_of(' ') + 1));
    }
    return out;
}

std::vector<double> reference_times(const std::filesystem::path& clip) {
    std::istringstream lines(
        test::run("ffprobe -v error -select_streams v:0 -show_entries frame=pts_time -of csv=p=0 '" +
                  clip.string() + "'")
            .out);
    std::vector<double> out;
    for (std::string line; std::getline(lines, line);) {
        if (!line.empty() && line[0] != 'N') out.push_back(std::stod(line));
    }
    return out;
}

void expect_same_frames(const std::filesystem::path& clip, int stride) {
    const auto sums = reference_sums(clip);
    ASSERT_FALSE(sums.empty()) << clip;
    media::VideoReader reader(clip);
    ASSERT_EQ(reader.facts().frames, static_cast<int>(sums.size())) << clip;
    const int last = reader.facts().frames - 1;
    for (int n = 0; n <= last; n += stride) {
        EXPECT_EQ(reader.native_md5(n), sums[static_cast<std::size_t>(n)]) << clip << " frame " << n;
        EXPECT_EQ(reader.native_md5(last - n), sums[static_cast<std::size_t>(last - n)])
            << clip << " frame " << last - n;
    }
}

struct Recipe {
    const char* name;
    const char* options;
};
class AgainstFfmpeg : public testing::TestWithParam<Recipe> {};

TEST_P(AgainstFfmpeg, EveryFrameIsTheSamePicture) {
    const test::TempFolder folder;
    const auto clip = folder / GetParam().name;
    ASSERT_EQ(test::run("ffmpeg -y -f lavfi -i testsrc2=size=320x240:rate=30:duration=4 " +
                        std::string(GetParam().options) + " " + clip.string())
                  .code,
              0);
    expect_same_frames(clip, 7);
}
// Containers and codecs where frame numbers go wrong: long groups, open groups, no B-frames, no times, packed
// B-frames, pictures that are never shown, starts that are not at zero.
INSTANTIATE_TEST_SUITE_P(
    Clips, AgainstFfmpeg,
    testing::Values(Recipe{"long_groups.mp4", "-c:v libx264 -preset ultrafast -bf 3 -g 250"},
                    Recipe{"open_groups.mp4",
                           "-c:v libx264 -preset ultrafast -bf 3 -g 20 -x264-params open-gop=1"},
                    Recipe{"no_b.mov", "-c:v libx264 -preset ultrafast -bf 0 -g 15"},
                    Recipe{"h264.avi", "-c:v libx264 -preset ultrafast -bf 2"},
                    Recipe{"raw.h264", "-c:v libx264 -preset ultrafast -bf 2"},
                    Recipe{"mpeg4.avi", "-c:v mpeg4 -bf 2"},
                    Recipe{"stream.ts", "-c:v libx264 -preset ultrafast -bf 2 -output_ts_offset 5"},
                    Recipe{"vp8.webm", "-c:v libvpx -deadline realtime -auto-alt-ref 1 -lag-in-frames 16"},
                    Recipe{"intra.mkv", "-c:v mjpeg"}, Recipe{"one.mp4", "-c:v libx264 -frames:v 1"},
                    Recipe{"refresh.mp4",
                           "-c:v libx264 -preset ultrafast -g 30 -x264-params intra-refresh=1:bframes=0"}));

TEST(AgainstFfmpeg, CameraMadeVideoOfWalkingPeople) {
    const std::filesystem::path clip = "/usr/share/doc/opencv-doc/examples/data/vtest.avi";
    ASSERT_TRUE(std::filesystem::exists(clip)) << "install opencv-doc";
    expect_same_frames(clip, 97);
}

TEST(AgainstFfprobe, TimesAreTheStreamsOwn) {
    const test::TempFolder folder;
    const auto clip = folder / "late.ts";
    ASSERT_EQ(test::run("ffmpeg -y -f lavfi -i testsrc2=size=160x120:rate=25:duration=2 -c:v libx264 -preset "
                        "ultrafast -bf 2 -output_ts_offset 5 " +
                        clip.string())
                  .code,
              0);
    media::VideoReader reader(clip);
    const auto times = reference_times(clip);
    ASSERT_EQ(times.size(), reader.facts().pts_s.size());
    for (std::size_t i = 0; i < times.size(); ++i) EXPECT_NEAR(reader.facts().pts_s[i], times[i], 1e-4);
    EXPECT_GT(times.front(), 5);
}

TEST(AgainstFfprobe, ClipsOfTheSimulatorToo) {
    auto plan = test::faulty_plan();
    plan.duration_s = 1;
    expect_same_frames(test::simulated_clip(plan, "reference"), 5);
}

TEST(AgainstFfprobe, MissingTimesAreMadeAndSaySo) {
    const test::TempFolder folder;
    ASSERT_EQ(
        test::run(
            "ffmpeg -y -f lavfi -i testsrc2=size=160x120:rate=25:duration=1 -c:v libx264 -preset ultrafast " +
            (folder / "raw.h264").string())
            .code,
        0);
    media::VideoReader reader(folder / "raw.h264");
    EXPECT_EQ(reader.facts().time_source, media::TimeSource::made);
    EXPECT_NEAR(reader.facts().pts_s[10], 0.4, 1e-6);
}

// FIPS 180-2, appendix B.1: SHA-256 of "abc".
TEST(Sha256, PublishedVector) {
    const test::TempFolder folder;
    std::ofstream(folder / "abc") << "abc";
    EXPECT_EQ(media::content_hash(folder / "abc"),
              "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
}

}  // namespace
}  // namespace aspen
