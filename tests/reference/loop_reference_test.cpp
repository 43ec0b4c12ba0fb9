// The loop of the hip against OpenCV's direct least squares (cv::fitEllipseDirect, after Fitzgibbon, Pilu &
// Fisher 1999) and against ellipses whose axes are known.

#include <gmock/gmock.h>

#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <random>

#include "core/motion/hip_loop.hpp"

namespace aspen::core {
namespace {

struct Drawn {
    double long_half = 12, short_half = 5, tilt_deg = 20;
    double noise = 0, arc = 2 * std::numbers::pi;
    int points = 40;
};
struct Points {
    std::vector<double> a, b;
};
/// Points along an ellipse, the second axis pointing up.
Points points_of(const Drawn& d, unsigned seed = 1) {
    std::mt19937 engine(seed);
    std::normal_distribution<double> some(0, 1);
    const double tilt = d.tilt_deg * std::numbers::pi / 180;
    Points out;
    for (int i = 0; i < d.points; ++i) {
        const double t = d.arc * i / d.points;
        const double x = d.long_half * std::cos(t) + d.noise * some(engine),
                     y = d.short_half * std::sin(t) + d.noise * some(engine);
        out.a.push_back(600 + x * std::cos(tilt) - y * std::sin(tilt));
        out.b.push_back(-300 + x * std::sin(tilt) + y * std::cos(tilt));
    }
    return out;
}
/// Full extents along both axes, of half axes and a tilt.
std::pair<double, double> extents(double long_half, double short_half, double tilt_deg) {
    const double t = tilt_deg * std::numbers::pi / 180, c = std::cos(t), s = std::sin(t);
    return {2 * std::hypot(long_half * c, short_half * s), 2 * std::hypot(long_half * s, short_half * c)};
}

TEST(LoopAgainstTruth, FindsAnEllipseThatIsOne) {
    for (const double tilt : {-80.0, -30.0, 0.0, 20.0, 45.0, 90.0}) {
        for (const double shorter : {1.0, 5.0, 11.0}) {
            const Drawn d{12, shorter, tilt};
            const Points p = points_of(d);
            const auto loop = fit_loop(p.a, p.b);
            ASSERT_TRUE(loop) << tilt << ' ' << shorter;
            const auto [width, height] = extents(12, shorter, tilt);
            EXPECT_NEAR(loop->width, width, 1e-6) << tilt << ' ' << shorter;
            EXPECT_NEAR(loop->height, height, 1e-6) << tilt << ' ' << shorter;
            EXPECT_NEAR(loop->longer, 12 / shorter, 1e-6 * 12 / shorter);
            EXPECT_NEAR(std::remainder(loop->tilt_deg - tilt, 180), 0, 1e-5) << tilt << ' ' << shorter;
        }
    }
}

TEST(LoopAgainstTruth, PartOfALoopTellsTheWhole) {
    Drawn d;
    d.arc = 4;
    const Points p = points_of(d);
    const auto loop = fit_loop(p.a, p.b);
    ASSERT_TRUE(loop);
    EXPECT_NEAR(loop->longer, 12.0 / 5, 1e-5);
}

TEST(LoopAgainstTruth, TheTiltLiesWithinItsRange) {
    for (double tilt = -179; tilt < 180; tilt += 7) {
        const Points p = points_of({12, 5, tilt});
        const auto loop = fit_loop(p.a, p.b);
        ASSERT_TRUE(loop);
        EXPECT_GT(loop->tilt_deg, -90.0001) << tilt;
        EXPECT_LT(loop->tilt_deg, 90.0001) << tilt;
    }
}

TEST(LoopAgainstTruth, WhatIsNoLoopIsNone) {
    EXPECT_FALSE(fit_loop(std::vector<double>{1, 2, 3}, std::vector<double>{1, 4, 2})) << "too few";
    std::vector<double> x, y;
    for (int i = 0; i < 20; ++i) x.push_back(i), y.push_back(2 * i + 1);
    EXPECT_FALSE(fit_loop(x, y)) << "all on a line";
    EXPECT_FALSE(fit_loop(std::vector<double>(20, 5), std::vector<double>(20, 5))) << "one place";
}

TEST(LoopAgainstOpenCv, SameEllipseOfTheSameNoisyPoints) {
    std::mt19937 engine(11);
    std::uniform_real_distribution<double> share(0.25, 0.8), turn(-85, 85), noise(0.01, 0.4);
    for (unsigned i = 0; i < 60; ++i) {
        const Drawn d{12, 12 * share(engine), turn(engine), noise(engine)};
        const Points p = points_of(d, i);
        std::vector<cv::Point2f> seen;
        for (std::size_t k = 0; k < p.a.size(); ++k)
            seen.emplace_back(static_cast<float>(p.a[k]), static_cast<float>(p.b[k]));
        const cv::RotatedRect box = cv::fitEllipseDirect(seen);
        const auto loop = fit_loop(p.a, p.b);
        ASSERT_TRUE(loop) << i;
        const auto [width, height] = extents(box.size.width / 2.0, box.size.height / 2.0, box.angle);
        EXPECT_NEAR(loop->width, width, 0.01 * width) << i;
        EXPECT_NEAR(loop->height, height, 0.01 * height) << i;
        const double longer =
            std::max(box.size.width, box.size.height) / std::min(box.size.width, box.size.height);
        EXPECT_NEAR(loop->longer, longer, 0.01 * longer) << i;
    }
}

}  // namespace
}  // namespace aspen::core
