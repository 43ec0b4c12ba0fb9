// What may be opened as a clip, how long that may take, and how a photograph is shown.

#include <gmock/gmock.h>

#include <atomic>
#include <fstream>
#include <sstream>

#include "core/reading/refused.hpp"
#include "media/reading/accepted.hpp"
#include "media/reading/clip_source.hpp"
#include "media/reading/jpeg.hpp"
#include "media/reading/packet_store.hpp"
#include "media/reading/read_watch.hpp"
#include "media/reading/video_reader.hpp"
#include "support/support.hpp"

namespace aspen::media {
namespace {

using testing::HasSubstr;

std::vector<std::string> names(std::string list) {
    std::vector<std::string> out;
    std::istringstream in(list);
    for (std::string one; std::getline(in, one, ',');) out.push_back(one);
    return out;
}

TEST(Accepted, HoldsWholeNamesOnly) {
    EXPECT_TRUE(is_among(kContainers, "mov"));
    EXPECT_TRUE(is_among(kContainers, "tiff_pipe"));
    for (const char* other : {"mo", "dash", "hls", "concat", "sdp", "svg_pipe", "image2", "lavfi", ""})
        EXPECT_FALSE(is_among(kContainers, other)) << other;
}

TEST(Accepted, EveryContainerAndCodecIsOneOfTheLibrarys) {
    std::string known = ",";
    void* at = nullptr;
    while (const AVInputFormat* f = av_demuxer_iterate(&at)) known += std::string(f->name) + ",";
    for (const std::string& one : names(kContainers)) EXPECT_THAT(known, HasSubstr("," + one + ",")) << one;
    for (const char* list : {kPictureCodecs, kSoundCodecs}) {
        for (const std::string& one : names(list))
            EXPECT_NE(avcodec_find_decoder_by_name(one.c_str()), nullptr) << one;
    }
}

TEST(Accepted, TheListStandsInTheFormats) {
    std::ifstream in(ASPEN_SOURCE_DIR "/docs/formats.md");
    const std::string page{std::istreambuf_iterator<char>(in), {}};
    for (const char* list : {kContainers, kPictureCodecs, kSoundCodecs}) {
        for (const std::string& one : names(list)) EXPECT_THAT(page, HasSubstr("`" + one + "`"));
    }
}

TEST(Opening, IsGivenUpOnceItIsStopped) {
    const auto clip = test::simulated_clip(test::faulty_plan(), "bench");
    const std::atomic<bool> stop{true};
    EXPECT_THROW(ClipSource(clip, &stop), ReadCancelled);
    EXPECT_THROW(check_opens(clip, &stop), ReadCancelled);
    EXPECT_THROW(VideoReader(clip, {&stop, {}}), ReadCancelled);
}

// A stop in the middle of a long file is no end of it.
TEST(Opening, AStopIsNotTakenForTheEnd) {
    const auto clip = test::simulated_clip(test::faulty_plan(), "bench");
    std::atomic<bool> stop{false};
    ClipSource source(clip, &stop);
    stop = true;
    EXPECT_THROW(PacketStore(source, {&stop, {}}), ReadCancelled);
}

TEST(Opening, GoesByContentNotByName) {
    const test::TempFolder folder;
    const auto clip = test::simulated_clip(test::faulty_plan(), "bench");
    for (const char* name : {"film.svg", "film.m3u8", "film.jpg", "film%03d.png", "film"}) {
        std::filesystem::copy_file(clip, folder / name);
        EXPECT_EQ(VideoReader(folder / name).facts().frames, VideoReader(clip).facts().frames) << name;
    }
}

/// A JPEG of four quarters, red and green above, blue and white below, held as Exif says.
std::filesystem::path quarters(const std::filesystem::path& file, int orientation) {
    Picture p;
    p.width = 64;
    p.height = 48;
    p.bgra.resize(static_cast<std::size_t>(p.width) * p.height * 4, 255);
    for (int y = 0; y < p.height; ++y) {
        for (int x = 0; x < p.width; ++x) {
            auto* at = &p.bgra[static_cast<std::size_t>(y * p.width + x) * 4];
            const bool right = x >= 32, below = y >= 24;
            at[0] = below ? 255 : 0;
            at[1] = right ? 255 : 0;
            at[2] = right == below ? 255 : 0;
        }
    }
    const std::string plain = JpegWriter().write(p);
    // TIFF 6.0, big endian: one entry, tag 0x0112, SHORT, one value.
    std::string exif("Exif\0\0MM\0*\0\0\0\x08\0\x01\x01\x12\0\x03\0\0\0\x01\0", 25);
    exif += static_cast<char>(orientation);
    exif += std::string(6, '\0');
    std::ofstream out(file, std::ios::binary);
    out << plain.substr(0, 2) << '\xff' << '\xe1' << '\0' << static_cast<char>(exif.size() + 2) << exif
        << plain.substr(2);
    return file;
}

/// Exif 2.3, 4.6.4, A, Orientation (from memory): which side of what is shown the stored first row and the
/// stored first column are.
struct Held {
    int orientation;
    const char *row, *column;
};
class Photograph : public testing::TestWithParam<Held> {};

TEST_P(Photograph, IsShownAsItWasHeld) {
    const test::TempFolder folder;
    const Held held = GetParam();
    const auto file = quarters(folder / "a.jpg", held.orientation);
    VideoReader reader(file);
    const Picture shown = reader.picture(0);
    const bool turned = std::string(held.row) == "left" || std::string(held.row) == "right";
    EXPECT_EQ(shown.width, turned ? 48 : 64);
    EXPECT_EQ(first_picture(file, 0, 0).width, shown.width);
    // The red quarter lies where the first row and the first column meet, the green one at its other end.
    const auto at = [&](const std::string& a, const std::string& b) {
        const bool right = a == "right" || b == "right", bottom = a == "bottom" || b == "bottom";
        return shown.pixel(shown.width * (right ? 3 : 1) / 4, shown.height * (bottom ? 3 : 1) / 4);
    };
    const auto other = [](const std::string& side) {
        return side == "left" ? "right" : side == "right" ? "left" : side == "top" ? "bottom" : "top";
    };
    const auto red = at(held.row, held.column), green = at(held.row, other(held.column)),
               blue = at(other(held.row), held.column);
    EXPECT_GT(red[2], 180);
    EXPECT_LT(red[1], 90);
    EXPECT_GT(green[1], 180);
    EXPECT_LT(green[2], 90);
    EXPECT_GT(blue[0], 180);
    EXPECT_LT(blue[1], 90);
}
INSTANTIATE_TEST_SUITE_P(Each, Photograph,
                         testing::Values(Held{1, "top", "left"}, Held{2, "top", "right"},
                                         Held{3, "bottom", "right"}, Held{4, "bottom", "left"},
                                         Held{5, "left", "top"}, Held{6, "right", "top"},
                                         Held{7, "right", "bottom"}, Held{8, "left", "bottom"},
                                         Held{0, "top", "left"}, Held{9, "top", "left"}));

}  // namespace
}  // namespace aspen::media
