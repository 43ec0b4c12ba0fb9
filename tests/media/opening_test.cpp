// What may be opened as a clip, how long that may take, and how a photograph is shown.

#include <gmock/gmock.h>

#include <QBuffer>
#include <QImage>
#include <array>
#include <atomic>
#include <fstream>
#include <sstream>
#include <tuple>

#include "core/reading/refused.hpp"
#include "media/reading/accepted.hpp"
#include "media/reading/clip_source.hpp"
#include "media/reading/jpeg.hpp"
#include "media/reading/packet_store.hpp"
#include "media/reading/read_watch.hpp"
#include "media/reading/still_orientation.hpp"
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

/// Four quarters, red and green above, blue and white below.
Picture four_quarters() {
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
    return p;
}

std::string big_endian(std::uint32_t n) {
    return {static_cast<char>(n >> 24), static_cast<char>(n >> 16), static_cast<char>(n >> 8),
            static_cast<char>(n)};
}

/// TIFF 6.0, big endian: one entry, tag 0x0112, SHORT, one value.
std::string tiff_saying(int orientation) {
    std::string out("MM\0*\0\0\0\x08\0\x01\x01\x12\0\x03\0\0\0\x01\0", 19);
    out += static_cast<char>(orientation);
    return out + std::string(6, '\0');
}

std::string jpeg_held(int orientation) {
    const std::string plain = JpegWriter().write(four_quarters());
    const std::string exif = std::string("Exif\0\0", 6) + tiff_saying(orientation);
    std::string out = plain.substr(0, 2) + "\xff\xe1";
    out += '\0';
    out += static_cast<char>(exif.size() + 2);
    return out + exif + plain.substr(2);
}

/// PNG, third edition: the chunk eXIf before the picture's own, with the sum of annex D.
std::string png_held(int orientation) {
    Picture p = four_quarters();
    QByteArray plain;
    QBuffer into(&plain);
    QImage(p.bgra.data(), p.width, p.height, QImage::Format_RGB32).save(&into, "PNG");
    const std::string chunk = "eXIf" + tiff_saying(orientation);
    std::uint32_t sum = 0xffffffff;
    for (const char c : chunk) {
        sum ^= static_cast<unsigned char>(c);
        for (int bit = 0; bit < 8; ++bit) sum = (sum >> 1) ^ (sum & 1 ? 0xedb88320 : 0);
    }
    std::string out = plain.toStdString();
    constexpr std::size_t kAfterHeader = 8 + 25;
    out.insert(kAfterHeader,
               big_endian(static_cast<std::uint32_t>(chunk.size() - 4)) + chunk + big_endian(~sum));
    return out;
}

/// TIFF 6.0, plain RGB in one strip, its directory behind the picture.
std::string tiff_held(int orientation) {
    const Picture p = four_quarters();
    std::string rgb;
    for (int i = 0; i < p.width * p.height; ++i) {
        for (const int c : {2, 1, 0}) rgb += static_cast<char>(p.bgra[static_cast<std::size_t>(4 * i + c)]);
    }
    const auto size = static_cast<std::uint32_t>(rgb.size());
    const std::vector<std::array<std::uint32_t, 4>> entries{
        {256, 3, 1, 64u << 16},
        {257, 3, 1, 48u << 16},
        {258, 3, 3, 8 + size},
        {259, 3, 1, 1u << 16},
        {262, 3, 1, 2u << 16},
        {273, 4, 1, 8},
        {274, 3, 1, static_cast<std::uint32_t>(orientation) << 16},
        {277, 3, 1, 3u << 16},
        {278, 3, 1, 48u << 16},
        {279, 4, 1, size}};
    std::string out = std::string("MM\0*", 4) + big_endian(8 + size + 6) + rgb;
    out += std::string("\0\x08\0\x08\0\x08", 6);
    out += big_endian(static_cast<std::uint32_t>(entries.size())).substr(2);
    for (const auto& [tag, type, count, value] : entries)
        out += big_endian(tag).substr(2) + big_endian(type).substr(2) + big_endian(count) + big_endian(value);
    return out + big_endian(0);
}

using HeldIn = std::string (*)(int orientation);

/// Exif 2.3, 4.6.4, A, Orientation (from memory): which side of what is shown the stored first row and the
/// stored first column are.
struct Held {
    int orientation;
    const char *row, *column;
};
class Photograph : public testing::TestWithParam<std::tuple<Held, HeldIn>> {};

TEST_P(Photograph, IsShownAsItWasHeld) {
    const test::TempFolder folder;
    const auto& [held, written] = GetParam();
    const std::filesystem::path file = folder / "a";  // told by its content
    std::ofstream(file, std::ios::binary) << written(held.orientation);
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
                         testing::Combine(testing::Values(Held{1, "top", "left"}, Held{2, "top", "right"},
                                                          Held{3, "bottom", "right"},
                                                          Held{4, "bottom", "left"}, Held{5, "left", "top"},
                                                          Held{6, "right", "top"}, Held{7, "right", "bottom"},
                                                          Held{8, "left", "bottom"}, Held{0, "top", "left"},
                                                          Held{9, "top", "left"}),
                                          testing::Values(jpeg_held, png_held, tiff_held)));

// Whatever a chunk or a directory says of itself, it is a number from 1 to 8 and nothing is read past its
// end.
TEST(StillOrientation, OfNonsenseIsAsItLies) {
    const auto of = [](const std::string& s) {
        return orientation_in_tiff({reinterpret_cast<const unsigned char*>(s.data()), s.size()});
    };
    const std::string good = tiff_saying(6);
    EXPECT_EQ(of(good), 6);
    for (std::size_t n = 0; n < good.size() - 6; ++n) EXPECT_EQ(of(good.substr(0, n)), 1) << n;
    EXPECT_EQ(of("MM" + std::string("\0*\xff\xff\xff\xff\xff\xff", 8)), 1);
    EXPECT_EQ(of("II" + good.substr(2)), 1) << "the other way round it is another number";
    const test::TempFolder folder;
    for (const std::string& start : {good,
                                     std::string("\x89PNG\r\n\x1a\n\xff\xff\xff\xff"
                                                 "eXIf",
                                                 16),
                                     std::string()}) {
        std::ofstream(folder / "b", std::ios::binary) << start;
        EXPECT_EQ(still_orientation(folder / "b"), start == good ? 6 : 1);
    }
}

}  // namespace
}  // namespace aspen::media
