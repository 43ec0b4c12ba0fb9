// A short fixed run of the fuzz target: clips of the corpus, each scratched, cut and with lying numbers, from
// a seed.

#include <gtest/gtest.h>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <random>
#include <string>
#include <vector>

#include "fuzz/open_clip.hpp"

namespace aspen::test {
namespace {

const std::filesystem::path kCorpus = ASPEN_CORPUS;

std::vector<std::uint8_t> bytes_of(const std::filesystem::path& file) {
    std::ifstream in(file, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

std::vector<std::uint8_t> spoiled(std::vector<std::uint8_t> bytes, std::mt19937& random) {
    const auto pick = [&](std::size_t below) {
        return static_cast<std::size_t>(random() % std::max<std::size_t>(1, below));
    };
    switch (random() % 4) {
        case 0:  // scratched anywhere
            for (int i = 0; i < 40; ++i) bytes[pick(bytes.size())] = static_cast<std::uint8_t>(random());
            break;
        case 1:  // a lying head: most numbers that are believed stand in the first or last kilobytes
            for (int i = 0; i < 12; ++i)
                bytes[pick(std::min<std::size_t>(bytes.size(), 3000))] =
                    static_cast<std::uint8_t>(random() % 3 ? 0xff : 0);
            break;
        case 2:
            for (int i = 0; i < 12; ++i)
                bytes[bytes.size() - 1 - pick(std::min<std::size_t>(bytes.size() - 1, 3000))] =
                    static_cast<std::uint8_t>(random());
            break;
        default:
            bytes.resize(1 + pick(bytes.size()));
    }
    return bytes;
}

TEST(Fuzz, SpoiledClipsAreReadOrRefusedInOneLine) {
    std::mt19937 random(42);
    int opened = 0;
    for (const char* name : {"long_groups.mp4", "fragments.mp4", "edit_list.mp4", "no_cues.mkv",
                             "mid_group.ts", "packed.avi", "raw.h264", "vp8.webm", "moving.gif",
                             "moving.apng", "with_sound.mov", "stream.flv", "programme.mpg", "hevc.hevc"}) {
        const auto whole = bytes_of(kCorpus / name);
        ASSERT_FALSE(whole.empty()) << name;
        for (int i = 0; i < 12; ++i, ++opened) {
            const auto bytes = spoiled(whole, random);
            open_bytes_as_clip(bytes.data(), bytes.size());
        }
    }
    EXPECT_EQ(opened, 14 * 12);
}

TEST(Fuzz, TextAndEmptyBytesToo) {
    for (const std::string text :
         {"", "a", "#EXTM3U\nfile:///etc/hostname\n", "ffconcat version 1.0\nfile /etc/hostname\n", "RIFF",
          "\x1a\x45\xdf\xa3"}) {
        open_bytes_as_clip(reinterpret_cast<const std::uint8_t*>(text.data()), text.size());
    }
}

}  // namespace
}  // namespace aspen::test
