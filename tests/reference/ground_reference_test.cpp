// A click track against its own sound: read back by the ffmpeg program, onsets found in the samples, the beat
// in the spectrum of its loudness by OpenCV's transform. Neither knows how it was written.

#include <gmock/gmock.h>

#include <cmath>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <opencv2/core.hpp>

#include "core/arena/click.hpp"
#include "support/support.hpp"

namespace aspen {
namespace {

class ClickTrack : public testing::TestWithParam<std::pair<double, core::ClickPattern>> {};
INSTANTIATE_TEST_SUITE_P(Tempos, ClickTrack,
                         testing::Values(std::pair(60.0, core::ClickPattern::strides),
                                         std::pair(78.0, core::ClickPattern::two_up_one_down),
                                         std::pair(97.0, core::ClickPattern::count)));

constexpr int kRate = 48000;

/// The file as the ffmpeg program plays it: two channels of 16 bits.
std::vector<std::int16_t> decoded(const std::filesystem::path& file) {
    const std::string command = "ffmpeg -v error -i " + file.string() + " -f s16le -ac 2 -ar 48000 -";
    std::vector<std::int16_t> out;
    std::FILE* pipe = popen(command.c_str(), "r");
    if (!pipe) return out;
    std::int16_t block[4096];
    for (std::size_t n; (n = std::fread(block, 2, 4096, pipe)) > 0;) out.insert(out.end(), block, block + n);
    EXPECT_EQ(pclose(pipe), 0);
    return out;
}

std::vector<double> loudness(const std::vector<std::int16_t>& pairs, int step) {
    std::vector<double> out;
    for (std::size_t i = 0; i + static_cast<std::size_t>(2 * step) <= pairs.size();
         i += static_cast<std::size_t>(2 * step)) {
        double most = 0;
        for (int k = 0; k < step; ++k)
            most = std::max(most, std::abs(pairs[i + static_cast<std::size_t>(2 * k)] / 32768.0));
        out.push_back(most);
    }
    return out;
}

TEST_P(ClickTrack, KeepsItsBeatInTimeAndInItsSpectrum) {
    core::ClickWish wish;
    std::tie(wish.tempo_per_min, wish.pattern) = GetParam();
    wish.seconds = 30;
    const test::TempFolder folder;
    {
        std::ofstream out(folder / "click.wav", std::ios::binary);
        core::write_wav(out, core::click_samples(wish));
    }
    const auto samples = decoded(folder / "click.wav");
    const int step = kRate / 1000;  // a millisecond
    const double ms = 1000.0 * step / kRate;
    const auto loud = loudness(samples, step);
    // Onsets: loud after 50 ms of quiet.
    std::vector<double> onsets;
    double last = -1000;
    for (std::size_t i = 0; i < loud.size(); ++i) {
        if (loud[i] < 0.15) continue;
        const double t = static_cast<double>(i) * ms / 1000;
        if (t - last > 0.05) onsets.push_back(t);
        last = t;
    }
    const auto wanted = core::clicks(wish);
    ASSERT_EQ(onsets.size(), wanted.size());
    for (std::size_t i = 0; i < onsets.size(); ++i) EXPECT_NEAR(onsets[i], wanted[i].time_s, 0.003) << i;
    // The strongest line of the loudness' spectrum between 1 and 6 Hz is the beat, or the accents' own.
    cv::Mat_<double> series(1, static_cast<int>(loud.size()));
    for (int i = 0; i < series.cols; ++i) series(i) = loud[static_cast<std::size_t>(i)];
    series -= cv::mean(series)[0];
    cv::Mat spectrum, parts[2], power;
    cv::dft(series, spectrum, cv::DFT_COMPLEX_OUTPUT);
    cv::split(spectrum, parts);
    cv::magnitude(parts[0], parts[1], power);
    const double hz = 1000 / ms / series.cols, beat = wish.tempo_per_min * wish.beats / 60;
    const auto at = [&](double f) {
        double most = 0;
        for (int k = -1; k <= 1; ++k)
            most = std::max(most, power.at<double>(static_cast<int>(std::lround(f / hz)) + k));
        return most;
    };
    EXPECT_GT(at(beat), 8 * at(beat * 1.13)) << "a line at the beat, none beside it";
    EXPECT_GT(at(beat), 8 * at(beat * 0.89));
}

}  // namespace
}  // namespace aspen
