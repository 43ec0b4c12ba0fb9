#include <gmock/gmock.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>
#include <numbers>

#include "media/reading/sound_track.hpp"
#include "media/reading/video_reader.hpp"
#include "media/writing/loudness.hpp"
#include "media/writing/video_writer.hpp"
#include "support/support.hpp"

namespace aspen::media {
namespace {

constexpr int kRate = 48000, kFps = 25;

std::vector<std::int16_t> sine(double seconds, double peak_dbfs, double hz = 997) {
    std::vector<std::int16_t> out;
    const double peak = 32768 * std::pow(10, peak_dbfs / 20);
    for (int i = 0; i < static_cast<int>(seconds * kRate); ++i)
        out.push_back(static_cast<std::int16_t>(std::lround(
            std::clamp(peak * std::sin(2 * std::numbers::pi * hz * i / kRate), -32768.0, 32767.0))));
    return out;
}

// ITU-R BS.1770-4: a sine of 997 Hz at 0 dBFS in one channel reads -3.01 LKFS.
TEST(Loudness, IsWhatTheStandardSaysOfASine) {
    EXPECT_NEAR(loudness_of(sine(5, -20), kRate).integrated_lufs, -23.01, 0.1);
    EXPECT_NEAR(loudness_of(sine(5, -6), kRate).integrated_lufs, -9.01, 0.1);
    EXPECT_NEAR(loudness_of(sine(5, -6), kRate).true_peak_dbfs, -6, 0.1);
}

// EBU R 128: -23.0 LUFS within 0.5 LU, true peaks at most -1 dBTP.
TEST(Loudness, AVoiceComesOutAtTheStandardsLevelWhateverItCameInAs) {
    for (const double quiet : {-50.0, -30.0, -3.0}) {
        std::vector<std::int16_t> voice = sine(6, quiet, 300);
        const auto knock = sine(0.01, -1, 900);  // a bang on the table
        std::ranges::copy(knock, voice.begin() + 2 * kRate);
        const auto out = levelled(voice, kRate);
        ASSERT_EQ(out.size(), voice.size());
        const Loudness now = loudness_of(out, kRate);
        EXPECT_NEAR(now.integrated_lufs, kTargetLufs, 0.5) << quiet;
        EXPECT_LE(now.true_peak_dbfs, kHighestPeak_dbtp) << quiet;
    }
    const std::vector<std::int16_t> silence(kRate * 3, 0);
    EXPECT_EQ(levelled(silence, kRate), silence);
    EXPECT_TRUE(levelled({}, kRate).empty());
}

/// Four seconds: black, but white at one second and at three; a burst in the voice at both.
class Film : public testing::Test {
  protected:
    void write(std::int64_t bits_per_s = 0, bool noisy = false) {
        FilmExtras extras;
        extras.voice.assign(4 * kRate, 0);
        for (const int at : {1, 3}) {
            const auto burst = sine(0.05, -6, 2000);
            std::ranges::copy(burst, extras.voice.begin() + at * kRate);
        }
        extras.captions = {{0.5, 1.5, "Heel & knee"}, {1.5, 3, "Let it drop\nand breathe"}};
        extras.chapters = {{0, "What is good"}, {2, "Your one thing"}};
        extras.length_s = 4;
        extras.bits_per_s = bits_per_s;
        WriterOptions o;
        o.width = 320;
        o.height = 180;
        o.fps = kFps;
        o.group = 25;
        VideoWriter writer(file(), o, extras);
        std::vector<std::uint8_t> picture(320 * 180 * 4);
        unsigned seed = 1;
        for (int n = 0; n < 4 * kFps; ++n) {
            std::ranges::fill(picture, n == kFps || n == 3 * kFps ? std::uint8_t{255} : std::uint8_t{0});
            for (std::size_t i = 0; noisy && i < picture.size(); ++i)
                picture[i] = static_cast<std::uint8_t>((seed = seed * 1664525U + 1013904223U) >> 24);
            writer.add(picture.data(), 320 * 4, static_cast<double>(n) / kFps);
        }
        writer.finish();
    }
    std::filesystem::path file() const { return folder / "review.mp4"; }
    std::string probed(const std::string& what) {
        return test::run("ffprobe -v error " + what + " " + file().string()).out;
    }
    test::TempFolder folder;
};

// Against the reference program: ffprobe and ffmpeg of the platform.
TEST_F(Film, AnotherProgramFindsStreamsChaptersAndCaptions) {
    write();
    const auto j = nlohmann::json::parse(probed("-show_streams -show_chapters -show_format -of json"));
    std::vector<std::string> codecs;
    for (const auto& s : j["streams"]) codecs.push_back(s["codec_name"]);
    EXPECT_THAT(codecs, testing::IsSupersetOf({"h264", "aac", "mov_text"}));
    EXPECT_NEAR(std::stod(j["format"]["duration"].get<std::string>()), 4, 0.06);
    ASSERT_EQ(j["chapters"].size(), 2U);
    EXPECT_EQ(j["chapters"][1]["tags"]["title"], "Your one thing");
    EXPECT_EQ(j["chapters"][1]["start_time"], "2.000000");
    const test::Ran vtt = test::run("ffmpeg -v error -i " + file().string() + " -map 0:s:0 -f webvtt -");
    EXPECT_EQ(vtt.out,
              "WEBVTT\n\n00:00.500 --> 00:01.500\nHeel & knee\n\n00:01.500 --> 00:03.000\nLet it drop\nand "
              "breathe\n");
}

TEST_F(Film, SoundAndPictureAreInStepWithinAFrame) {
    write();
    VideoReader reader(file());
    ASSERT_EQ(reader.facts().frames, 4 * kFps);
    const auto sound = read_sound(file(), {});
    ASSERT_TRUE(sound);
    for (const int second : {1, 3}) {
        const int frame = second * kFps;
        EXPECT_GT(reader.picture(frame).pixel(160, 90)[0], 200) << "white where it was added";
        EXPECT_LT(reader.picture(frame - 1).pixel(160, 90)[0], 60) << "and nowhere else";
        EXPECT_LT(reader.picture(frame + 1).pixel(160, 90)[0], 60);
        const double shown_s = reader.facts().pts_s[static_cast<std::size_t>(frame)];
        double heard_s = -1;  // the first loud sample after the second before
        for (std::size_t i = 0; i < sound->samples.size() / 2; ++i) {
            const double t = sound->start_s + static_cast<double>(i) / SoundTrack::kRate;
            if (t > second - 0.5 && std::abs(sound->samples[2 * i]) > 4000) {
                heard_s = t;
                break;
            }
        }
        EXPECT_NEAR(heard_s, shown_s, 1.0 / kFps) << second;
    }
}

TEST_F(Film, ASizeIsKeptTo) {
    write(400'000, true);
    EXPECT_LT(std::filesystem::file_size(file()), 1.5 * (400'000 + 96'000) * 4 / 8)
        << "noise, which no encoder likes";
}

TEST_F(Film, NothingIsLeftOfOneThatIsDropped) {
    {
        WriterOptions o;
        o.width = 320;
        o.height = 180;
        FilmExtras extras;
        extras.voice.assign(kRate, 0);
        extras.chapters = {{0, "a"}};
        extras.length_s = 1;
        const VideoWriter writer(file(), o, extras);
    }
    EXPECT_TRUE(std::filesystem::is_empty(folder.path()));
}

}  // namespace
}  // namespace aspen::media
