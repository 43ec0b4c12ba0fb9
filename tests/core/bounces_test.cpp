// Periods, lowest points and strides of a bouncing series, each by itself.

#include <cmath>
#include <numbers>

#include "core/core_support.hpp"
#include "core/motion/happenings.hpp"
#include "core/motion/series.hpp"
#include "core/motion/strides.hpp"

#include <gmock/gmock.h>

namespace aspen::core {
namespace {

constexpr double kStep = 1.0 / 30;

struct Bounced {
    std::vector<double> grid, x;
};
/// A bounce of this period, lowest at 0, with a slow drift and noise.
Bounced bounced(double period_s, double seconds, double drift = 0, double noise = 0) {
    std::mt19937 engine(2);
    std::normal_distribution<double> some(0, 1);
    Bounced out;
    for (double t = 0; t < seconds; t += kStep) {
        out.grid.push_back(t);
        out.x.push_back(-10 * std::cos(2 * std::numbers::pi * t / period_s) + drift * t +
                        noise * some(engine));
    }
    return out;
}

TEST(PeriodOf, IsTheBouncesOwn) {
    for (const double period : {0.3, 0.38, 0.6, 1.1}) {
        const Bounced b = bounced(period, 6);
        const auto found = period_of(b.x, kStep);
        ASSERT_TRUE(found) << period;
        EXPECT_NEAR(*found, period, 0.02) << period;
    }
}

TEST(PeriodOf, HoldsAgainstDriftAndNoise) {
    const Bounced b = bounced(0.38, 6, 2, 1.5);
    const auto found = period_of(b.x, kStep);
    ASSERT_TRUE(found);
    EXPECT_NEAR(*found, 0.38, 0.02);
}

TEST(PeriodOf, NothingRepeatsInARestOrALine) {
    EXPECT_FALSE(period_of(std::vector<double>(120, 3.0), kStep));
    EXPECT_FALSE(period_of(std::vector<double>{1, 2, 3}, kStep));
}

TEST(LowestPoints, LieBetweenSamplesWhereTheyAre) {
    const Bounced b = bounced(0.5, 5);
    const auto all = lowest_points(b.grid, b.x, 0.5, StrideEvery::lowest);
    ASSERT_GE(all.size(), 7U);
    for (const LowestPoint& p : all) EXPECT_NEAR(std::remainder(p.time_s, 0.5), 0, 0.01) << p.time_s;
    for (std::size_t i = 1; i < all.size(); ++i) EXPECT_EQ(all[i].place, all[i - 1].place + 1);
}

TEST(LowestPoints, CountOnOverOneThatWasMissed) {
    Bounced b = bounced(0.5, 6);
    for (std::size_t i = 0; i < b.x.size(); ++i) {
        if (std::abs(b.grid[i] - 3.0) < 0.2) b.x[i] = 0;  // one bounce is flat
    }
    const auto all = lowest_points(b.grid, b.x, 0.5, StrideEvery::lowest);
    int missed = 0;
    for (std::size_t i = 1; i < all.size(); ++i) missed += all[i].place - all[i - 1].place - 1;
    EXPECT_EQ(missed, 1);
}

TEST(LowestPoints, AHoleBeginsANewHundred) {
    Bounced b = bounced(0.5, 8);
    for (std::size_t i = 0; i < b.x.size(); ++i) {
        if (b.grid[i] > 3.6 && b.grid[i] < 4.4) b.x[i] = kNaN;
    }
    const auto all = lowest_points(b.grid, b.x, 0.5, StrideEvery::lowest);
    ASSERT_GE(all.size(), 8U);
    EXPECT_GE(all.back().place - all.front().place, 100);
}

std::vector<LowestPoint> every(double period_s, int n, int from = 0) {
    std::vector<LowestPoint> out;
    for (int i = 0; i < n; ++i) out.push_back({(from + i) * period_s, from + i});
    return out;
}

TEST(StridesOf, GoFromLowestToLowest) {
    const auto all = strides_of(every(0.6, 5), StrideEvery::lowest, {});
    ASSERT_EQ(all.size(), 4U);
    EXPECT_DOUBLE_EQ(all[0].start_s, 0);
    EXPECT_DOUBLE_EQ(all[3].end_s, 2.4);
}

TEST(StridesOf, TwoBouncesMakeOneInTrot) {
    const auto all = strides_of(every(0.38, 9), StrideEvery::second_lowest, {});
    ASSERT_EQ(all.size(), 4U);
    for (const StrideSpan& s : all) EXPECT_NEAR(s.end_s - s.start_s, 0.76, 1e-9);
}

TEST(StridesOf, BeginWithTheBeatThatWasSaidToBeEven) {
    const auto as_found = strides_of(every(0.38, 9), StrideEvery::second_lowest, {});
    const auto said = strides_of(every(0.38, 9), StrideEvery::second_lowest, 0.38 * 3 + 0.02);
    ASSERT_FALSE(said.empty());
    EXPECT_NEAR(as_found[0].start_s, 0, 1e-9);
    EXPECT_NEAR(said[0].start_s, 0.38, 1e-9);
}

TEST(StridesOf, LeaveOutOneWithAMissedPointInside) {
    auto some = every(0.6, 6);
    some.erase(some.begin() + 3);
    const auto all = strides_of(some, StrideEvery::lowest, {});
    ASSERT_EQ(all.size(), 3U);
    for (const StrideSpan& s : all) EXPECT_NEAR(s.end_s - s.start_s, 0.6, 1e-9);
}

std::vector<StrideSpan> four() { return strides_of(every(0.6, 5), StrideEvery::lowest, {}); }
Happening happened(double at_s, const char* what) { return {at_s, what, ""}; }

TEST(AsSaid, AStartNearOneMovesIt) {
    const auto all = as_said(four(), {happened(1.25, "stride_start")});
    ASSERT_EQ(all.size(), 4U);
    EXPECT_DOUBLE_EQ(all[1].end_s, 1.25);
    EXPECT_DOUBLE_EQ(all[2].start_s, 1.25);
}

TEST(AsSaid, AStartInTheMiddleCutsTheStride) {
    const auto all = as_said(four(), {happened(1.5, "stride_start")});
    ASSERT_EQ(all.size(), 5U);
    EXPECT_DOUBLE_EQ(all[2].end_s, 1.5);
    EXPECT_DOUBLE_EQ(all[3].start_s, 1.5);
}

TEST(AsSaid, OneThatIsTakenOutIsNotCounted) {
    const auto all = as_said(four(), {happened(0.9, "stride_off")});
    ASSERT_EQ(all.size(), 3U);
    EXPECT_DOUBLE_EQ(all[1].start_s, 1.2);
}

TEST(AsSaid, WhatSaysNothingOfStridesChangesNothing) {
    EXPECT_EQ(as_said(four(), {happened(0.9, "aid"), happened(1.0, "answer")}).size(), 4U);
    EXPECT_TRUE(as_said({}, {happened(0.9, "stride_off")}).empty());
}

}  // namespace
}  // namespace aspen::core
