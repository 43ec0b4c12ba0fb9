// Followed joints held against the reader: what left its joint is found out and found again, what the reader
// sees on another spot of the clothes is no reason, and another rider's joints say nothing.

#include <gtest/gtest.h>

#include "core/core_support.hpp"
#include "core/proposal/second_look.hpp"

namespace aspen::core {
namespace {

using L = Landmark;

constexpr double kTrunkHere = 100;
constexpr int kLookedAt = 21;

/// Joints that go to the right; the reader sees every one of them some pixels beside its place.
class SecondLook : public testing::Test {
  protected:
    static Point truth(L l, int frame) {
        return {300.0 + 10 * static_cast<double>(l) + 3 * frame, 200.0 + 7 * static_cast<double>(l)};
    }
    static Tracks way_of(const std::vector<L>& joints, Point beside, double sd_px) {
        Tracks out;
        for (int n = 0; n < kLookedAt; ++n) {
            for (const L l : joints) {
                const Point p = truth(l, n);
                out.points.push_back({n, n / 30.0, l, {p.x + beside.x, p.y + beside.y}, false, sd_px, 0.8});
            }
        }
        return out;
    }
    void mark(int frame) {
        Figure figure;
        figure.view = View::side;
        figure.travel = Travel::right;
        for (const L l : {L::shoulder, L::wrist, L::hip, L::withers, L::toe})
            figure[l] = {truth(l, frame), Visibility::seen};
        marked[frame] = figure;
    }
    TrackPoint& of(Tracks& tracks, L l, int frame) {
        for (TrackPoint& p : tracks.points) {
            if (p.landmark == l && p.frame == frame) return p;
        }
        throw std::logic_error("no such point");
    }
    Tracks looked() { return held_against_the_reader(followed, read, marked, kTrunkHere); }

    const std::vector<L> joints{L::shoulder, L::wrist, L::hip, L::withers, L::toe};
    Tracks followed = way_of(joints, {}, 0.5), read = way_of(joints, {12, -5}, 1.5);
    std::map<int, Figure> marked;
};

TEST_F(SecondLook, AnotherSpotOfTheClothesIsNoReason) {
    mark(0), mark(20);
    for (const TrackPoint& p : looked().points) {
        EXPECT_FALSE(p.hidden);
        EXPECT_DOUBLE_EQ(p.at.x, truth(p.landmark, p.frame).x);
        EXPECT_DOUBLE_EQ(p.sd_px, 0.5) << "it is still the followed one";
    }
}

TEST_F(SecondLook, AJointThatWanderedOffIsFoundAgainAndAToeIsLost) {
    mark(0), mark(20);
    for (const L l : {L::wrist, L::toe, L::withers}) of(followed, l, 10).at.x += 7;
    Tracks seen = looked();
    EXPECT_FALSE(of(seen, L::wrist, 10).hidden);
    EXPECT_NEAR(of(seen, L::wrist, 10).at.x, truth(L::wrist, 10).x, 1e-9) << "where the reader has it";
    EXPECT_DOUBLE_EQ(of(seen, L::wrist, 10).sd_px, 1.5) << "with the reader's error";
    EXPECT_DOUBLE_EQ(of(seen, L::wrist, 10).confidence, 0.8);
    EXPECT_TRUE(of(seen, L::toe, 10).hidden);
    EXPECT_TRUE(of(seen, L::withers, 10).hidden);
    EXPECT_FALSE(of(seen, L::toe, 11).hidden);
}

TEST_F(SecondLook, WhatWasLostOnTheWayIsFoundAgain) {
    mark(0);
    of(followed, L::hip, 15).hidden = true;
    of(followed, L::toe, 15).hidden = true;
    Tracks seen = looked();
    EXPECT_FALSE(of(seen, L::hip, 15).hidden);
    EXPECT_NEAR(of(seen, L::hip, 15).at.y, truth(L::hip, 15).y, 1e-9);
    EXPECT_TRUE(of(seen, L::toe, 15).hidden) << "the reader sees feet less well than they are followed";
}

TEST_F(SecondLook, BetweenMarksTheReadersWayIsBent) {
    mark(0), mark(20);
    // The reader's wrist slides along the sleeve; half-way it lies 4 px further off than at the start.
    for (TrackPoint& p : read.points) {
        if (p.landmark == L::wrist) p.at.y += 0.4 * p.frame;
    }
    of(followed, L::wrist, 10).hidden = true;
    Tracks seen = looked();
    EXPECT_NEAR(of(seen, L::wrist, 10).at.y, truth(L::wrist, 10).y, 1e-9);
}

TEST_F(SecondLook, AReaderThatIsUnsureLosesNothing) {
    mark(0), mark(20);
    of(followed, L::hip, 10).at.y += 8;
    of(read, L::hip, 10).sd_px = 4;
    Tracks seen = looked();
    EXPECT_DOUBLE_EQ(of(seen, L::hip, 10).at.y, truth(L::hip, 10).y + 8) << "within three of its errors";
}

TEST_F(SecondLook, WhatIsMarkedStays) {
    mark(0), mark(10), mark(20);
    of(followed, L::hip, 10).at.y += 30;
    Tracks seen = looked();
    EXPECT_DOUBLE_EQ(of(seen, L::hip, 10).at.y, truth(L::hip, 10).y + 30);
}

TEST_F(SecondLook, AnotherRidersJointsSayNothing) {
    mark(0), mark(20);
    read = way_of(joints, {60, 0}, 1.5);
    of(followed, L::hip, 10).at.x += 30;
    of(followed, L::wrist, 12).hidden = true;
    Tracks seen = looked();
    EXPECT_DOUBLE_EQ(of(seen, L::hip, 10).at.x, truth(L::hip, 10).x + 30);
    EXPECT_TRUE(of(seen, L::wrist, 12).hidden);
}

TEST_F(SecondLook, WithoutAReaderNothingChanges) {
    mark(0);
    read = {};
    of(followed, L::wrist, 12).hidden = true;
    Tracks seen = looked();
    ASSERT_EQ(seen.points.size(), followed.points.size());
    EXPECT_TRUE(of(seen, L::wrist, 12).hidden);
}

}  // namespace
}  // namespace aspen::core
