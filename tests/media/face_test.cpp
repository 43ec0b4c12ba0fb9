#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/body/face_cover.hpp"
#include "media/pose/face_follower.hpp"
#include "media/writing/video_writer.hpp"
#include "support/support.hpp"

namespace aspen::media {
namespace {

using core::Landmark;

core::FaceCover cover_at(const std::vector<std::optional<core::FaceCover>>& all, int frame) {
    return all[static_cast<std::size_t>(frame)].value();
}

// The simulator knows where the face is on every frame.
TEST(FaceFollower, ASimulatedRidersFaceIsCoveredOnEveryFrameAndNotMuchMore) {
    const auto clip = test::simulated_clip(test::faulty_plan(), "face");
    VideoReader reader(clip);
    const int last = reader.facts().frames - 1;
    std::vector<FaceAnchor> anchors;
    for (const int frame : {8, last - 6}) {
        const core::Figure f = test::true_figure(clip, frame);
        FaceAnchor a{frame, *core::face_ellipse(f), {}};
        for (const Landmark l : {Landmark::ear, Landmark::eye, Landmark::chin}) a.points.push_back(f[l].at);
        anchors.push_back(a);
    }
    const auto sure = follow_face(reader, anchors, 0, last);
    EXPECT_GT(sure.size(), static_cast<std::size_t>(last) * 4 / 5) << "most of it is sure";
    const auto covers = core::covers_through(sure, {}, 0, last);
    ASSERT_EQ(covers.size(), static_cast<std::size_t>(last) + 1);
    EXPECT_FALSE(core::first_too_large(covers, reader.facts().width, reader.facts().height));
    for (int n = 0; n <= last; ++n) {
        const core::Figure truth = test::true_figure(clip, n);
        const core::FaceCover c = cover_at(covers, n);
        for (const Landmark l : {Landmark::ear, Landmark::eye, Landmark::chin})
            EXPECT_TRUE(c.contains(truth[l].at)) << n << " " << core::id(l);
        if (std::ranges::find(sure, n, &core::FaceSeen::frame) == sure.end()) continue;
        const double half =
            core::face_ellipse(truth)->long_half / 1.5;  // the face without the room around it
        EXPECT_LT(c.area_px(), 4 * std::numbers::pi * half * half) << n;
    }
}

/// A face of stripes that goes behind a post and comes out again, on ground that is all grain.
class Hidden : public testing::Test {
  protected:
    static constexpr int kWide = 640, kHigh = 360, kFrames = 70, kRadius = 22;
    static core::Point truth(int n) { return {80.0 + 6.5 * n, 150 + 20 * std::sin(n * 0.15)}; }
    static bool behind(int n) { return truth(n).x > 290 && truth(n).x < 390; }

    void SetUp() override {
        std::mt19937 random(5);
        std::vector<std::uint8_t> ground(kWide * kHigh);
        for (auto& g : ground) g = static_cast<std::uint8_t>(90 + random() % 60);
        WriterOptions o;
        o.width = kWide;
        o.height = kHigh;
        o.fps = 25;
        o.quality_crf = 14;
        VideoWriter writer(file(), o);
        std::vector<std::uint8_t> picture(kWide * kHigh * 4, 255);
        for (int n = 0; n < kFrames; ++n) {
            for (int y = 0; y < kHigh; ++y) {
                for (int x = 0; x < kWide; ++x) {
                    std::uint8_t v = ground[static_cast<std::size_t>(y) * kWide + x];
                    const double dx = x - truth(n).x, dy = y - truth(n).y;
                    if (dx * dx + dy * dy < kRadius * kRadius)
                        v = (static_cast<int>(std::floor(dx / 5)) + static_cast<int>(std::floor(dy / 7))) % 2
                                ? 230
                                : 40;
                    if (x > 310 && x < 370) v = 60;  // the post
                    auto* p = &picture[(static_cast<std::size_t>(y) * kWide + x) * 4];
                    p[0] = p[1] = p[2] = v;
                }
            }
            writer.add(picture.data(), kWide * 4, n / 25.0);
        }
        writer.finish();
    }
    std::filesystem::path file() const { return folder / "hidden.mp4"; }
    static FaceAnchor set(int n) { return anchor_of(n, {truth(n), 1.5 * kRadius, 1.3 * kRadius, 0}); }
    test::TempFolder folder;
};

TEST_F(Hidden, WhatItCanHaveReachedIsCoveredWhileItIsHidden) {
    VideoReader reader(file());
    const auto sure = follow_face(reader, {set(0), set(kFrames - 1)}, 0, kFrames - 1);
    const auto covers = core::covers_through(sure, {}, 0, kFrames - 1);
    int unsure = 0;
    for (int n = 0; n < kFrames; ++n) {
        EXPECT_TRUE(cover_at(covers, n).contains(truth(n))) << n;
        unsure += cover_at(covers, n).also ? 1 : 0;
        if (behind(n) && std::abs(truth(n).x - 340) < 10) {
            EXPECT_TRUE(cover_at(covers, n).also) << n << ": nobody can be sure behind a post";
        }
    }
    EXPECT_GT(unsure, 3);
}

TEST_F(Hidden, SetOnOneSideAloneItIsLostBehindThePostAndTheStretchIsRefused) {
    VideoReader reader(file());
    const auto sure = follow_face(reader, {set(0)}, 0, kFrames - 1);
    ASSERT_FALSE(sure.empty());
    EXPECT_LT(truth(sure.back().frame).x, 400) << "lost, and not believed again";
    const auto covers = core::covers_through(sure, {}, 0, kFrames - 1);
    for (int n = 0; n < kFrames; ++n) EXPECT_TRUE(cover_at(covers, n).contains(truth(n))) << n;
    const auto large = core::first_too_large(covers, kWide, kHigh);
    ASSERT_TRUE(large);
    EXPECT_GT(*large, 35);
}

TEST(FaceCover, TheLensOfTwoCirclesIsAsLargeAsItsFormulaSays) {
    // Two unit circles one apart: 2 pi / 3 - sqrt(3) / 2 (elementary geometry).
    const core::FaceCover c{{{0, 0}, 1, 1, 0}, core::Ellipse{{1, 0}, 1, 1, 0}};
    EXPECT_NEAR(c.area_px(), 2 * std::numbers::pi / 3 - std::sqrt(3) / 2, 1e-12);
    EXPECT_TRUE(c.contains({0.5, 0}) && !c.contains({-0.5, 0}));
    EXPECT_EQ((core::FaceCover{{{0, 0}, 1, 1, 0}, core::Ellipse{{3, 0}, 1, 1, 0}}).area_px(), 0);
}

TEST(FaceCover, WhatLeftThePictureIsNotCoveredUntilItIsSeenAgain) {
    const std::vector<core::FaceSeen> sure{{10, {{100, 100}, 10, 8, 0}}, {40, {{500, 100}, 10, 8, 0}}};
    const auto covers = core::covers_through(sure, {20}, 5, 45);
    EXPECT_TRUE(covers[0]) << "before it was first seen it may have been there";
    EXPECT_TRUE(covers[14]) << "until it is said to be gone";
    EXPECT_FALSE(covers[14]->also) << "it need not reach where it comes back";
    EXPECT_FALSE(covers[15]);
    EXPECT_FALSE(covers[34]);
    EXPECT_TRUE(covers[35]);
    EXPECT_TRUE(covers[40]);
    EXPECT_THROW(core::covers_through({}, {}, 0, 3), std::invalid_argument);
}

}  // namespace
}  // namespace aspen::media
