// The camera's roll from edges that stand upright in the picture.

#include "core/proposal/upright.hpp"

#include <gmock/gmock.h>

#include <cmath>
#include <random>
#include <vector>

namespace aspen::core {
namespace {

constexpr int kWidth = 1280, kHeight = 720;

/// An edge of this length whose top leans to the right by so much.
StraightEdge leaning(double deg, double x, double y, double length) {
    const double r = radians(deg);
    return {{x - length / 2 * std::sin(r), y + length / 2 * std::cos(r)},
            {x + length / 2 * std::sin(r), y - length / 2 * std::cos(r)}};
}
/// Posts all over the picture that lean by `deg` and by `change` more at the right side.
std::vector<StraightEdge> posts(double deg, double change, int n, std::mt19937& random) {
    std::normal_distribution<double> own(0, 0.5);
    std::uniform_real_distribution<double> x(0, kWidth), y(100, 600);
    std::vector<StraightEdge> out;
    for (int i = 0; i < n; ++i) {
        const double at = x(random);
        out.push_back(leaning(deg + change * (2 * at / kWidth - 1) + own(random), at, y(random), 120));
    }
    return out;
}

TEST(ReadUpright, FindsTheLeanAmongGrassRailsAndRiders) {
    std::mt19937 random(3);
    for (const double roll : {-7.0, -2.0, 0.0, 1.0, 5.0}) {
        auto edges = posts(roll, 0, 14, random);
        std::uniform_real_distribution<double> any(-90, 90), x(0, kWidth), y(0, kHeight);
        for (int i = 0; i < 60; ++i) edges.push_back(leaning(any(random), x(random), y(random), 60));
        for (int i = 0; i < 8; ++i) edges.push_back(leaning(88 + 0.1 * i, x(random), y(random), 400));
        const auto read = read_upright(edges, kWidth, kHeight);
        ASSERT_TRUE(read) << roll;
        EXPECT_NEAR(read->roll_deg, roll, 0.6);
        EXPECT_GT(read->sd_deg, 0.6) << "trees lean in common";
        EXPECT_LT(read->sd_deg, 1.5) << "better than not looking";
    }
}

// A point at +-1 of the half width leans by `change` more: the vanishing point of uprights lies below or
// above.
TEST(ReadUpright, PostsThatLeanTogetherToldFromACameraThatIsTilted) {
    std::mt19937 random(5);
    const auto read = read_upright(posts(1.5, -4, 24, random), kWidth, kHeight);
    ASSERT_TRUE(read);
    EXPECT_NEAR(read->roll_deg, 1.5, 0.6);
}

TEST(ReadUpright, SaysNothingWhereNothingStands) {
    std::mt19937 random(7);
    EXPECT_FALSE(read_upright({}, kWidth, kHeight));
    EXPECT_FALSE(read_upright(posts(2, 0, 3, random), kWidth, kHeight)) << "three posts can lean alike";
    std::vector<StraightEdge> grass;
    std::uniform_real_distribution<double> any(-15, 15), x(0, kWidth), y(0, kHeight);
    for (int i = 0; i < 80; ++i) grass.push_back(leaning(any(random), x(random), y(random), 20));
    EXPECT_FALSE(read_upright(grass, kWidth, kHeight)) << "too short";
    std::vector<StraightEdge> rails;
    for (int i = 0; i < 20; ++i) rails.push_back(leaning(90, 640, 30.0 * i, 900));
    EXPECT_FALSE(read_upright(rails, kWidth, kHeight));
}

TEST(ReadUpright, TheSamePostsOnFiveFramesSayNoMoreThanOnce) {
    std::mt19937 random(9);
    const auto one = posts(2, 0, 12, random);
    std::vector<StraightEdge> five;
    for (int i = 0; i < 5; ++i) five.insert(five.end(), one.begin(), one.end());
    const auto once = read_upright(one, kWidth, kHeight), again = read_upright(five, kWidth, kHeight, 5);
    ASSERT_TRUE(once && again);
    EXPECT_NEAR(once->sd_deg, again->sd_deg, 1e-6);
    EXPECT_NEAR(once->roll_deg, again->roll_deg, 1e-6);
}

}  // namespace
}  // namespace aspen::core
