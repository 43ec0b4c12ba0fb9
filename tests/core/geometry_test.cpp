#include <gtest/gtest.h>

#include <random>

#include "core/body/face.hpp"
#include "core/body/figure.hpp"
#include "core/body/geometry.hpp"

namespace aspen::core {
namespace {

TEST(Geometry, UnrollingTurnsTheTrueVerticalUpright) {
    const double r = radians(5);
    const Point leaning{std::sin(r) * 100,
                        -std::cos(r) * 100};  // a post that leans to the right in the picture
    const Point upright = unrolled(leaning, r);
    EXPECT_NEAR(upright.x, 0, 1e-9);
    EXPECT_NEAR(upright.y, -100, 1e-9);
    const Point example = unrolled({0, 1}, radians(90));  // the header's worked example
    EXPECT_NEAR(example.x, 1, 1e-12);
    EXPECT_NEAR(example.y, 0, 1e-12);
}

TEST(Geometry, RollIsReadFromEitherEndOfAnUpright) {
    for (const double roll : {-12.0, -0.5, 0.0, 3.0, 25.0}) {
        const Point foot{300, 600},
            head{300 + 200 * std::sin(radians(roll)), 600 - 200 * std::cos(radians(roll))};
        EXPECT_NEAR(roll_from_upright(foot, head), roll, 1e-9);
        EXPECT_NEAR(roll_from_upright(head, foot), roll, 1e-9);
    }
}

TEST(Geometry, RollErrorAgreesWithDrawingTheLineManyTimes) {
    std::mt19937 engine(4);
    std::normal_distribution<double> click(0, 1.5);
    const Point foot{300, 600}, head{305, 480};
    double sum = 0, squares = 0;
    constexpr int kTimes = 20000;
    for (int i = 0; i < kTimes; ++i) {
        const double roll = roll_from_upright({foot.x + click(engine), foot.y + click(engine)},
                                              {head.x + click(engine), head.y + click(engine)});
        sum += roll;
        squares += roll * roll;
    }
    const double sd = std::sqrt(squares / kTimes - std::pow(sum / kTimes, 2));
    EXPECT_NEAR(roll_sd_from_upright(foot, head, 1.5), sd, 0.03 * sd);
}

TEST(Figure, ClickErrorScalesWithThePictureAndTheZoom) {
    EXPECT_DOUBLE_EQ(click_sd_px(1920, 1080), 2.0);
    EXPECT_DOUBLE_EQ(click_sd_px(1080, 1920), 2.0);
    EXPECT_NEAR(click_sd_px(1280, 720), 4.0 / 3, 1e-12);
    EXPECT_DOUBLE_EQ(click_sd_px(1920, 1080, 4), 0.5);
    EXPECT_DOUBLE_EQ(click_sd_px(1920, 1080, 0.5), 2.0)
        << "zooming out does not make a click worse than fitting";
    EXPECT_DOUBLE_EQ(click_sd_px(1920, 1080, 100), 0.25);
}

TEST(Figure, ABitBehindTheHipMakesTheTravelDoubtful) {
    Figure f;
    f.travel = Travel::right;
    f[Landmark::hip] = {{500, 300}, Visibility::seen};
    EXPECT_FALSE(bit_behind_hip(f)) << "without a bit there is nothing to doubt";
    f[Landmark::bit] = {{300, 320}, Visibility::seen};
    EXPECT_TRUE(bit_behind_hip(f));
    f.travel = Travel::left;
    EXPECT_FALSE(bit_behind_hip(f));
    f.travel = Travel::unknown;
    EXPECT_FALSE(bit_behind_hip(f));
}

TEST(Face, EllipseCoversAllThreePointsWithRoomToSpare) {
    Figure f;
    EXPECT_FALSE(face_ellipse(f));
    const Point ear{600, 130}, eye{620, 131}, chin{618, 156};
    f[Landmark::ear] = {ear, Visibility::seen};
    f[Landmark::eye] = {eye, Visibility::hidden};
    f[Landmark::chin] = {chin, Visibility::seen};
    f[Landmark::shoulder] = {{597, 182}, Visibility::seen};
    f[Landmark::hip] = {{595, 292}, Visibility::seen};
    const auto e = face_ellipse(f);
    ASSERT_TRUE(e);
    for (const Point p : {ear, eye, chin, Point{630, 140}, Point{626, 128}})
        EXPECT_TRUE(e->contains(p)) << p.x << ' ' << p.y;
    EXPECT_FALSE(e->contains({597, 230})) << "the trunk stays in the picture";
}

TEST(Face, OnePointAloneIsStillCovered) {
    Figure f;
    f.view = View::rear;
    f[Landmark::chin] = {{640, 160}, Visibility::seen};
    const auto e = face_ellipse(f);
    ASSERT_TRUE(e);
    EXPECT_TRUE(e->contains({640, 190}));
    EXPECT_GT(e->short_half, 30);
}

}  // namespace
}  // namespace aspen::core
