#include "core/motion/capture_map.hpp"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace aspen::core {
namespace {

TEST(CaptureMap, PlainTimeIsRealTime) {
    const CaptureMap map;
    EXPECT_TRUE(map.is_plain());
    for (const double t : {-1.0, 0.0, 2.5, 400.0}) EXPECT_DOUBLE_EQ(map.real_s(t), t);
}

// A clip filmed at 240 and stored at 30 takes eight seconds to show one: a stride of 0.8 s lasts 6.4 s in it.
TEST(CaptureMap, AWholeClipFilmedAtTwoHundredAndForty) {
    const CaptureMap map({240, {}, {}}, 30);
    EXPECT_DOUBLE_EQ(map.real_s(8), 1);
    EXPECT_DOUBLE_EQ(map.real_s(6.4), 0.8);
    EXPECT_DOUBLE_EQ(map.slowed(3), 8);
}

// Phones slow only the middle: two seconds plain, eight slowed (one in life), then plain again.
TEST(CaptureMap, OnlyTheMiddleIsSlowed) {
    const CaptureMap map({240, 2.0, 10.0}, 30);
    EXPECT_DOUBLE_EQ(map.real_s(1.5), 1.5);
    EXPECT_DOUBLE_EQ(map.real_s(2), 2);
    EXPECT_DOUBLE_EQ(map.real_s(6), 2.5);
    EXPECT_DOUBLE_EQ(map.real_s(10), 3);
    EXPECT_DOUBLE_EQ(map.real_s(11), 4);
    EXPECT_DOUBLE_EQ(map.slowed(1), 1);
    EXPECT_DOUBLE_EQ(map.slowed(10), 1);
}

TEST(CaptureMap, GoesBackTheWayItCame) {
    std::mt19937 random(2);
    std::uniform_real_distribution<double> time(-1, 20), rate(20, 500);
    for (int i = 0; i < 2000; ++i) {
        const double from = std::abs(time(random)), to = from + std::abs(time(random)) + 0.01;
        const Capture captures[] = {{rate(random), {}, {}},
                                    {rate(random), from, to},
                                    {rate(random), from, {}},
                                    {rate(random), {}, to}};
        for (const Capture& c : captures) {
            const CaptureMap map(c, 30);
            const double t = time(random);
            EXPECT_NEAR(map.stream_s(map.real_s(t)), t, 1e-9);
            EXPECT_GT(map.real_s(t + 0.01), map.real_s(t)) << "time never runs back";
        }
    }
}

TEST(CaptureMap, NonsenseSlowsNothing) {
    EXPECT_TRUE(CaptureMap({0, {}, {}}, 30).is_plain());
    EXPECT_TRUE(CaptureMap({240, {}, {}}, 0).is_plain());
    EXPECT_TRUE(CaptureMap({240, 5.0, 5.0}, 30).is_plain());
    EXPECT_TRUE(CaptureMap({std::nan(""), {}, {}}, 30).is_plain());
}

}  // namespace
}  // namespace aspen::core
