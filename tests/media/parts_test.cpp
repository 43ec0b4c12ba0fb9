// The parts that reading and following are put together from, each by itself.

#include <gmock/gmock.h>

#include <fstream>
#include <opencv2/imgproc.hpp>
#include <random>

#include "core/reading/refused.hpp"
#include "media/pose/flow_step.hpp"
#include "media/reading/byte_file.hpp"
#include "media/reading/content_hash.hpp"
#include "media/reading/frame_cache.hpp"
#include "media/reading/jpeg.hpp"
#include "support/refusal.hpp"
#include "support/support.hpp"

extern "C" {
#include <libavutil/frame.h>
}

namespace aspen::media {
namespace {

using testing::HasSubstr;
namespace fs = std::filesystem;

/// A decoded picture of 1280 x 720, as a decoder hands it over.
ff::Frame decoded() {
    ff::Frame f(av_frame_alloc());
    f->format = AV_PIX_FMT_YUV420P;
    f->width = 1280;
    f->height = 720;
    av_frame_get_buffer(f.get(), 0);
    return f;
}
constexpr std::size_t kEach = std::size_t{1280} * 720 * 3 / 2;

TEST(FrameCache, FindsWhatWasKeptAndNothingElse) {
    FrameCache cache(20 * kEach);
    EXPECT_FALSE(cache.find(3));
    const ff::Frame picture = decoded();
    cache.keep(3, *picture);
    ASSERT_TRUE(cache.find(3));
    EXPECT_EQ(cache.find(3)->data[0], picture->data[0]) << "a reference, no copy";
    EXPECT_FALSE(cache.has(2));
    EXPECT_GE(cache.bytes(), kEach);
}

TEST(FrameCache, StaysWithinItsBudgetAndLetsTheFarthestGo) {
    FrameCache cache(10 * kEach);
    cache.hold(50, 0);
    for (int n = 40; n <= 60; ++n) cache.keep(n, *decoded());
    EXPECT_LE(cache.bytes(), 10 * kEach);
    EXPECT_TRUE(cache.has(50));
    EXPECT_FALSE(cache.has(40));
    EXPECT_FALSE(cache.has(60));
}

TEST(FrameCache, KeepsMoreOfWhereTheHandIsGoing) {
    FrameCache cache(10 * kEach);
    cache.hold(50, 1);
    for (int n = 40; n <= 60; ++n) cache.keep(n, *decoded());
    int ahead = 0, behind = 0;
    for (int n = 40; n <= 60; ++n) (n > 50 ? ahead : behind) += n != 50 && cache.has(n);
    EXPECT_GT(ahead, behind);
}

TEST(FrameCache, APictureThatWasFoundStaysWhole) {
    FrameCache cache(2 * kEach);
    cache.hold(0, 0);
    cache.keep(0, *decoded());
    const ff::Frame held = cache.find(0);
    cache.hold(100, 0);
    for (int n = 98; n < 103; ++n) cache.keep(n, *decoded());
    EXPECT_FALSE(cache.has(0)) << "it went";
    EXPECT_EQ(held->width, 1280) << "and is still held";
}

TEST(Jpeg, ComesBackAsItWasPainted) {
    Picture p;
    p.width = 64;
    p.height = 48;
    p.bgra.resize(64 * 48 * 4);
    for (int i = 0; i < 64 * 48; ++i) {
        p.bgra[static_cast<std::size_t>(4 * i)] = 40;
        p.bgra[static_cast<std::size_t>(4 * i + 1)] = static_cast<std::uint8_t>(i % 64 * 4);
        p.bgra[static_cast<std::size_t>(4 * i + 2)] = 200;
        p.bgra[static_cast<std::size_t>(4 * i + 3)] = 255;
    }
    JpegWriter writer;
    const Picture back = read_jpeg(writer.write(p));
    ASSERT_EQ(back.width, 64);
    ASSERT_EQ(back.height, 48);
    for (std::size_t i = 0; i < p.bgra.size(); ++i) ASSERT_NEAR(back.bgra[i], p.bgra[i], 14) << i;
}

TEST(Jpeg, TheWriterTakesAnotherSize) {
    JpegWriter writer;
    for (const int side : {32, 96, 32}) {
        Picture p;
        p.width = p.height = side;
        p.bgra.assign(static_cast<std::size_t>(side * side * 4), 128);
        EXPECT_EQ(read_jpeg(writer.write(p)).width, side);
    }
}

TEST(Jpeg, WhatIsNoneIsAnEmptyPicture) {
    EXPECT_EQ(read_jpeg("").width, 0);
    EXPECT_EQ(read_jpeg("no picture at all").width, 0);
    Picture p;
    p.width = p.height = 32;
    p.bgra.assign(32 * 32 * 4, 10);
    const std::string whole = JpegWriter().write(p);
    EXPECT_NO_THROW(read_jpeg(whole.substr(0, whole.size() / 2)));
}

class Bytes : public testing::Test {
  protected:
    Bytes() {
        fs::create_directories(folder.path());
        std::ofstream(folder / "ten.bin") << "0123456789";
    }
    test::TempFolder folder;
};

TEST_F(Bytes, AreReadWhereTheyLie) {
    const ByteFile file(folder / "ten.bin");
    EXPECT_EQ(file.size(), 10);
    std::uint8_t four[4] = {};
    ASSERT_TRUE(file.read_at(3, four, 4));
    EXPECT_EQ(std::string(four, four + 4), "3456");
    EXPECT_FALSE(file.read_at(8, four, 4)) << "only two are there";
    EXPECT_FALSE(file.read_at(100, four, 1));
}

TEST_F(Bytes, StayReadableWhenTheNameIsTakenAway) {
    const ByteFile file(folder / "ten.bin");
    fs::remove(folder / "ten.bin");
    std::uint8_t one = 0;
    EXPECT_TRUE(file.read_at(9, &one, 1));
    EXPECT_EQ(one, '9');
}

TEST_F(Bytes, AChangeBehindOurBackIsNoticed) {
    const ByteFile file(folder / "ten.bin");
    EXPECT_NO_THROW(file.check_unchanged());
    std::ofstream(folder / "ten.bin", std::ios::app) << "more";
    EXPECT_THAT(test::refusal_of([&] { file.check_unchanged(); }), HasSubstr("changed"));
}

TEST_F(Bytes, WhatCannotBeReadIsRefusedInOneLine) {
    std::ofstream(folder / "empty.bin").flush();
    for (const fs::path& bad : {folder / "none.bin", folder.path(), folder / "empty.bin"}) {
        const std::string line = test::refusal_of([&] { const ByteFile file(bad); });
        EXPECT_THAT(line, HasSubstr(bad.string()));
        EXPECT_EQ(line.find('\n'), std::string::npos);
    }
}

// FIPS 180-4 and NIST's example values: SHA-256 of "abc", from the standard's worked example.
TEST_F(Bytes, TheirHashIsTheStandards) {
    std::ofstream(folder / "abc.bin") << "abc";
    EXPECT_EQ(content_hash(folder / "abc.bin"),
              "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
}

/// A cloud of points, and where it went.
struct Cloud {
    std::vector<cv::Point2f> before, after;
};
Cloud cloud(double a, double b, double dx, double dy, int strays) {
    std::mt19937 engine(5);
    std::uniform_real_distribution<float> in(-20, 20), anywhere(-200, 200);
    Cloud out;
    for (int i = 0; i < 40; ++i) {
        const cv::Point2f p(300 + in(engine), 200 + in(engine));
        out.before.push_back(p);
        const double x = p.x - 300, y = p.y - 200;
        out.after.emplace_back(static_cast<float>(300 + dx + a * x - b * y),
                               static_cast<float>(200 + dy + b * x + a * y));
        if (i < strays) out.after.back() = {300 + anywhere(engine), 200 + anywhere(engine)};
    }
    return out;
}

TEST(Flow, ACloudAgreesOnTurnSizeAndShift) {
    const double turn = 0.1, size = 1.05;
    const Cloud c = cloud(size * std::cos(turn), size * std::sin(turn), 7, -3, 0);
    const flow::Motion m = flow::motion_of(c.before, c.after);
    EXPECT_NEAR(m.a, size * std::cos(turn), 1e-4);
    EXPECT_NEAR(m.b, size * std::sin(turn), 1e-4);
    for (std::size_t i = 0; i < c.before.size(); ++i)
        EXPECT_NEAR(cv::norm(m.apply(c.before[i]) - c.after[i]), 0, 0.01);
    EXPECT_LT(m.scatter, 0.01);
}

TEST(Flow, WhatDisagreesCountsLess) {
    const Cloud c = cloud(1, 0, 7, -3, 10);
    const flow::Motion m = flow::motion_of(c.before, c.after);
    const cv::Point2f middle = m.apply({300, 200});
    EXPECT_NEAR(middle.x, 307, 0.5) << "a quarter of the points went anywhere";
    EXPECT_NEAR(middle.y, 197, 0.5);
}

TEST(Flow, PointsGoWhereThePictureWent) {
    cv::Mat noise(240, 320, CV_8U), before, after;
    cv::theRNG().state = 9;
    cv::randu(noise, 0, 255);
    cv::GaussianBlur(noise, before, {9, 9}, 2.5);
    cv::warpAffine(before, after, cv::Mat_<double>({2, 3}, {1, 0, 4.5, 0, 1, -2.25}), before.size(),
                   cv::INTER_LINEAR, cv::BORDER_REFLECT);
    std::vector<flow::Traveller> all(3);
    all[0].at = {100, 100};
    all[1].at = {160, 120};
    all[2].at = {220, 90};
    flow::step_all(all, flow::pyramid_of(before, 20), flow::pyramid_of(after, 20), 20);
    const cv::Point2f wanted[] = {{104.5F, 97.75F}, {164.5F, 117.75F}, {224.5F, 87.75F}};
    for (std::size_t i = 0; i < all.size(); ++i) {
        EXPECT_NEAR(cv::norm(all[i].at - wanted[i]), 0, 0.3) << i;
        EXPECT_TRUE(all[i].sure()) << i;
    }
}

TEST(Flow, NothingIsSureWhereThereIsNothingToFollow) {
    const cv::Mat grey(240, 320, CV_8U, cv::Scalar(128));
    std::vector<flow::Traveller> all(1);
    all[0].at = {160, 120};
    const flow::Pyramid flat = flow::pyramid_of(grey, 20);
    flow::step_all(all, flat, flat, 20);
    EXPECT_NEAR(cv::norm(all[0].at - cv::Point2f(160, 120)), 0, 1) << "it goes nowhere";
}

TEST(Flow, TheBackgroundTellsHowTheCameraMoved) {
    cv::Mat noise(240, 320, CV_8U), before, after;
    cv::theRNG().state = 4;
    cv::randu(noise, 0, 255);
    cv::GaussianBlur(noise, before, {9, 9}, 2.5);
    cv::warpAffine(before, after, cv::Mat_<double>({2, 3}, {1, 0, -3, 0, 1, 2}), before.size(),
                   cv::INTER_LINEAR, cv::BORDER_REFLECT);
    const cv::Rect rider(120, 60, 80, 120);
    const flow::Background b = flow::background_step(before, after, rider);
    ASSERT_GT(b.before.size(), 20U);
    ASSERT_EQ(b.before.size(), b.after.size());
    for (const cv::Point2f& p : b.before)
        EXPECT_FALSE(rider.contains(cv::Point(p))) << "the rider is no background";
    const cv::Point2f moved = flow::motion_of(b.before, b.after).apply({160, 120});
    EXPECT_NEAR(moved.x, 157, 0.3);
    EXPECT_NEAR(moved.y, 122, 0.3);
}

}  // namespace
}  // namespace aspen::media
