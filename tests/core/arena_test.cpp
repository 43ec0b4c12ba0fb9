#include <gmock/gmock.h>

#include <cmath>
#include <numbers>
#include <sstream>

#include "core/arena/click.hpp"
#include "core/arena/ground_work.hpp"
#include "core/arena/letters.hpp"
#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

using testing::DoubleNear;
using testing::ElementsAre;
using testing::HasSubstr;

// FEI rules for dressage events, the arena's plan (from memory): in 20 x 60 m the first letter of a long side
// lies 6 m from the corner, its neighbours 12 m on; in 20 x 40 m the middle one 14 m on.
TEST(Arena, LettersLieWhereTheRuleBooksPutThem) {
    const Arena large(60), small(40);
    const std::pair<char, GroundPoint> in_large[] = {
        {'K', {6, 10}},  {'V', {18, 10}},  {'E', {30, 10}}, {'S', {42, 10}}, {'h', {54, 10}},
        {'F', {6, -10}}, {'B', {30, -10}}, {'L', {18, 0}},  {'X', {30, 0}},
    };
    for (const auto& [letter, at] : in_large) EXPECT_EQ(large.at(letter), at) << letter;
    const std::pair<char, GroundPoint> in_small[] = {
        {'X', {20, 0}}, {'E', {20, 10}}, {'H', {34, 10}}, {'C', {40, 0}}};
    for (const auto& [letter, at] : in_small) EXPECT_EQ(small.at(letter), at) << letter;
}

TEST(Arena, LettersAreThoseOfItsLengthAndHaveDistances) {
    const Arena large(60), small(40);
    EXPECT_EQ(large.letters().size(), 17U);
    EXPECT_EQ(small.letters().size(), 11U);
    EXPECT_NEAR(large.between('K', 'M'), std::hypot(20, 48), 1e-12);
    EXPECT_NEAR(small.between('F', 'H'), std::hypot(20, 28), 1e-12);
    EXPECT_THROW((void)small.at('V'), Refused);
    EXPECT_THROW(Arena(50), Refused);
}

TEST(Arena, TheTrackRunsTheOtherWayOnTheOtherRein) {
    const Arena small(40);
    EXPECT_EQ(small.track("right"), "AKEHCMBF");
    EXPECT_EQ(small.track("left"), "AFBMCHEK");
}

// Against a second method: the circle walked in ten thousand small steps from its touching points.
TEST(Arena, ACircleIsAsLongAsItsSmallSteps) {
    for (const char at : {'A', 'C', 'B', 'E', 'X'}) {
        const RiddenCircle c = circle_at(Arena(60), at, 20);
        double walked = 0;
        GroundPoint before = c.touches[0];
        const double start = std::atan2(before.y - c.centre.y, before.x - c.centre.x);
        for (int i = 1; i <= 10000; ++i) {
            const double a = start + 2 * std::numbers::pi * i / 10000;
            const GroundPoint p{c.centre.x + c.radius_m * std::cos(a), c.centre.y + c.radius_m * std::sin(a)};
            walked += distance(before, p);
            before = p;
        }
        EXPECT_NEAR(walked, c.length_m, 1e-4) << at;
        EXPECT_NEAR(distance(c.touches[0], c.touches[2]), 20, 1e-9) << at;
    }
    const RiddenCircle a = circle_at(Arena(40), 'A', 20);
    EXPECT_EQ(a.centre, (GroundPoint{10, 0}));
    EXPECT_NEAR(a.touches[1].y, -10, 1e-9) << "the left rein goes to the side of F first";
    EXPECT_THROW(circle_at(Arena(40), 'A', 22), Refused);
    EXPECT_THROW(circle_at(Arena(40), 'K', 20), Refused) << "it would cross the short side";
}

/// A serpentine drawn point by point: half circles at the long sides, lines between.
double drawn_serpentine(double length, int loops) {
    const double width = length / loops, r = std::min(width / 2, 10.0);
    double sum = 0;
    GroundPoint at{10, 0};
    const auto go = [&](GroundPoint to) {
        sum += distance(at, to);
        at = to;
    };
    for (int i = 0; i < loops; ++i) {
        const double side = i % 2 == 0 ? 1 : -1, low = i * width, high = low + width;
        const auto arc = [&](double cy, double from) {
            for (int k = 1; k <= 2000; ++k) {
                const double a = from + std::numbers::pi / 2 * k / 2000;
                go({10 + side * (10 - r + r * std::cos(a)), cy + r * std::sin(a)});
            }
        };
        go({10 + side * (10 - r), low});
        arc(low + r, -std::numbers::pi / 2);
        go({10 + side * 10, high - r});
        arc(high - r, 0);
        go({10, high});
    }
    return sum;
}

TEST(Arena, ASerpentineIsAsLongAsItIsDrawn) {
    for (const int length : {40, 60}) {
        for (int loops = 2; loops <= 6; ++loops)
            EXPECT_NEAR(serpentine_m(Arena(length), loops), drawn_serpentine(length, loops), 1e-3)
                << length << ' ' << loops;
    }
    EXPECT_NEAR(serpentine_m(Arena(60), 3), 30 * std::numbers::pi, 1e-9) << "three half circles of 20 m";
}

TEST(Arena, APointIsFoundAgainFromItsTwoTapes) {
    const Arena arena(60);
    for (const GroundPoint p :
         {GroundPoint{11, 6}, GroundPoint{25, -3}, GroundPoint{30, 0}, GroundPoint{55, -7}}) {
        const TapeMark t = tape_mark(arena, p);
        EXPECT_NEAR(distance(arena.at(t.first), p), t.from_first_m, 1e-12);
        EXPECT_NEAR(distance(arena.at(t.second), p), t.from_second_m, 1e-12);
        EXPECT_NE(t.first, t.second);
        const GroundPoint a = arena.at(t.first), b = arena.at(t.second);
        EXPECT_GT(std::abs((b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x)), 1) << "the tapes cross";
    }
}

// Common practice, no source: 3.5 ft for the first trot poles, two of them, opened to the horse's own step.
TEST(Poles, StartAtThreeAndAHalfFeetAndOpenToTheHorsesStep) {
    PoleWish wish;
    EXPECT_NEAR(pole_row(wish).first_m, 3.5 * 0.3048, 0.005);
    wish.step_m = 1.30;
    const PoleRow row = pole_row(wish);
    EXPECT_DOUBLE_EQ(row.first_m, 1.07);
    EXPECT_DOUBLE_EQ(row.working_m, 1.30);
    EXPECT_THAT(row.tape_m, ElementsAre(0, 1.30, 2.60, DoubleNear(3.90, 1e-12)));
    EXPECT_THAT(row.laid, ElementsAre(2, 3, 4));
    EXPECT_DOUBLE_EQ(row.openings.front(), 1.07);
    EXPECT_DOUBLE_EQ(row.openings.back(), 1.30);
    for (std::size_t i = 1; i < row.openings.size(); ++i)
        EXPECT_LE(row.openings[i] - row.openings[i - 1], 0.05 + 1e-9);
    wish.step_m = 0.98;
    EXPECT_DOUBLE_EQ(pole_row(wish).first_m, 0.98) << "never beyond the horse's reach";
    wish.step_m = 3;
    EXPECT_THROW(pole_row(wish), Refused);
}

// Against a second method: the middles and ends of the poles set out by coordinates.
TEST(Poles, OnACircleLieByTheTapeBetweenTheirEnds) {
    PoleWish wish;
    wish.step_m = 1.25;
    wish.circle_radius_m = 8;
    const PoleRow row = pole_row(wish);
    const double angle = 1.25 / 8;
    const auto apart = [&](double r) {
        return distance(GroundPoint{r, 0}, GroundPoint{r * std::cos(angle), r * std::sin(angle)});
    };
    EXPECT_NEAR(*row.inner_m, apart(6.5), 1e-12);
    EXPECT_NEAR(*row.middle_m, apart(8), 1e-12);
    EXPECT_NEAR(*row.outer_m, apart(9.5), 1e-12);
    EXPECT_NEAR(*row.middle_m, 1.25, 0.002) << "the tape is hardly shorter than the step";
    EXPECT_NEAR(*row.angle_deg, 1.25 / 8 * 180 / std::numbers::pi, 1e-9);
    wish.circle_radius_m = 2;
    EXPECT_THROW(pole_row(wish), Refused);
}

TEST(Grids, BouncesStayBetweenTenAndElevenFeet) {
    for (const double height : {110.0, 145.0, 160.0, 175.0, 190.0}) {
        for (const bool canter : {false, true}) {
            GridWish wish;
            wish.withers_cm = height;
            wish.canter_in = canter;
            const Grid g = grid(wish);
            EXPECT_GE(g.bounce_m, 3.0) << height;
            EXPECT_LE(g.bounce_m, 3.4) << height;
            EXPECT_EQ(g.placing_pole_m.has_value(), !canter);
            ASSERT_EQ(g.fences.size(), 3U);
            EXPECT_NEAR(g.fences[2].at_m - g.fences[0].at_m, 2 * g.bounce_m, 1e-12);
        }
    }
    GridWish rising;
    rising.kind = GridKind::rising;
    rising.last_height_cm = 60;
    const Grid g = grid(rising);
    EXPECT_LT(g.fences[0].height_cm, g.fences[1].height_cm);
    EXPECT_DOUBLE_EQ(g.fences[2].height_cm, 60);
    rising.kind = GridKind::middle_highest;
    const Grid m = grid(rising);
    EXPECT_GT(m.fences[1].height_cm, m.fences[0].height_cm);
    EXPECT_GT(m.fences[1].height_cm, m.fences[2].height_cm);
}

// Common practice, no source: 6° in trot and 16° in canter on a 20 m circle, at about 3.2 and 5.3 m/s.
TEST(PaceOfAHorse, IsTempoTimesStrideAndLeansIntoTheCircle) {
    const Pace trot = pace(80, 2.4);
    EXPECT_NEAR(trot.metres_per_min, 192, 1e-9);
    EXPECT_NEAR(trot.km_per_h, 11.52, 1e-9);
    EXPECT_NEAR(trot.miles_per_h, 7.158, 0.001);
    EXPECT_NEAR(lean_deg(trot, 10), 6, 0.5);
    EXPECT_NEAR(lean_deg(pace(100, 3.2), 10), 16, 0.5);
    EXPECT_NEAR(strides_over(trot, 60), 25, 1e-9);
    EXPECT_NEAR(seconds_over(trot, 192), 60, 1e-9);
    EXPECT_THROW(pace(0, 2), Refused);
}

TEST(Clicks, AccentTheSitOfTwoUpOneDownAndTheStartOfACount) {
    ClickWish w;
    w.tempo_per_min = 75;  // 150 beats a minute
    w.seconds = 6;
    w.pattern = ClickPattern::two_up_one_down;
    const auto waltz = clicks(w);
    ASSERT_EQ(waltz.size(), 15U);
    for (std::size_t i = 0; i < waltz.size(); ++i) {
        EXPECT_NEAR(waltz[i].time_s, 0.4 * static_cast<double>(i), 1e-12);
        EXPECT_EQ(waltz[i].accent, i % 3 == 2) << "up, up, down";
    }
    w.pattern = ClickPattern::count;
    w.count = 5;
    const auto counted = clicks(w);
    EXPECT_TRUE(counted[0].accent && counted[10].accent);
    EXPECT_EQ(std::ranges::count(counted, true, &Click::accent), 2);
    w.beats = 3;
    w.pattern = ClickPattern::two_up_one_down;
    EXPECT_THROW(clicks(w), Refused);
}

TEST(Clicks, MakeAWavFileOfTheSizeItSays) {
    ClickWish w;
    w.seconds = 2;
    std::ostringstream out;
    write_wav(out, click_samples(w));
    const std::string wav = out.str();
    EXPECT_EQ(wav.size(), 44U + 2 * 2 * kClickRate);
    EXPECT_EQ(wav.substr(0, 4), "RIFF");
    EXPECT_EQ(wav.substr(8, 8), "WAVEfmt ");
}

}  // namespace
}  // namespace aspen::core
