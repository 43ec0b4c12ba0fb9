// What is said of a way on the ground, and a camera told from few marks; ways are drawn by this test.

#include <gmock/gmock.h>

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/arena/ridden_words.hpp"
#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

using testing::Contains;
using testing::Field;
using testing::HasSubstr;

WayPoint place_at(double time_s, double x, double y, double sd_m = 0.05) {
    WayPoint p;
    p.time_s = time_s;
    p.place.at = {x, y};
    p.place.covariance = Eigen::Matrix2d::Identity() * sd_m * sd_m;
    p.place.sd_m = sd_m;
    return p;
}

/// Where a camera 4 m up in a corner sees a place, 1920 by 1080.
GroundMark clicked_exactly(GroundPoint at) {
    const Eigen::Vector3d camera(-4, -12, 4), ahead = (Eigen::Vector3d(20, 1, 0) - camera).normalized();
    const Eigen::Vector3d right = ahead.cross(Eigen::Vector3d(0, 0, 1)).normalized(),
                          down = ahead.cross(right);
    const Eigen::Vector3d d = Eigen::Vector3d(at.x, at.y, 0) - camera;
    const double f = 960 / std::tan(31 * std::numbers::pi / 180);
    return {at, 960 + f * d.dot(right) / d.dot(ahead), 540 + f * d.dot(down) / d.dot(ahead), 1};
}

TEST(SeenCamera, TwoMarksAndASaidHeightGiveAFirstGuessThatGetsBetter) {
    const ArenaFrame arena(40, 20);
    CameraSaid said;
    said.height_m = 4;
    said.wide_deg = 62;
    std::vector<GroundMark> marks{clicked_exactly(arena.at("E")), clicked_exactly(arena.at("C"))};
    const GroundMark x = clicked_exactly(arena.at("X"));
    const GroundPlace guess = lay_ground(marks, {}, said).place(x.x, x.y, 1);
    EXPECT_LT(distance(guess.at, arena.at("X")), 3 * guess.sd_m) << "as sure as it says";
    marks.push_back(clicked_exactly(arena.at("M")));
    marks.push_back(clicked_exactly(arena.at("B")));
    const GroundPlace better = lay_ground(marks, {}, said).place(x.x, x.y, 1);
    EXPECT_LT(better.sd_m, guess.sd_m / 3);
    EXPECT_LT(distance(better.at, arena.at("X")), 0.2);
    EXPECT_THROW(see_camera({marks.front()}, {}, said), Refused);
}

TEST(Arena, LettersGoOnToTheRightOfWhoLooksAtTheFarWall) {
    const ArenaFrame small(40, 20), large(60, 20);
    EXPECT_EQ(small.next_clockwise("K"), "E");
    EXPECT_EQ(small.next_clockwise("H"), "C");
    EXPECT_EQ(small.next_clockwise("F"), "A");
    EXPECT_EQ(large.next_clockwise("c"), "M");
    EXPECT_EQ(small.next_clockwise("X"), "") << "it stands on no wall";
}

TEST(RiddenWords, ASwayingLineIsToldFromAStraightOne) {
    for (const double sway : {0.0, 1.6}) {
        std::vector<WayPoint> way;
        for (int i = 0; i <= 100; ++i)
            way.push_back(
                place_at(i * 0.1, i * 0.35, sway / 2 * std::sin(i * 0.35 * 2 * std::numbers::pi / 10)));
        add_speeds(way);
        AskedFigure asked;
        asked.kind = FigureKind::centre_line;
        asked.to_s = 10;
        const ArenaFrame arena(40, 20);
        const std::vector<LaidGround> grounds{
            LaidGround({clicked_exactly({6, 10}), clicked_exactly({34, 10}), clicked_exactly({40, 0}),
                        clicked_exactly({34, -10}), clicked_exactly({20, -10})})};
        const RiddenFigure ridden = hold_against(asked, way, grounds, arena);
        const auto evidence = evidence_of(ridden, asked, way);
        const auto words = in_words(ridden, asked, arena, way);
        if (sway > 0) {
            EXPECT_THAT(words, Contains(HasSubstr("sways by 1.")));
            EXPECT_THAT(evidence, Contains(Field(&GroundEvidence::check, "drifting")));
        } else {
            EXPECT_THAT(evidence, Not(Contains(Field(&GroundEvidence::check, "drifting"))));
        }
        EXPECT_THAT(words, Contains(HasSubstr("one speed: 3.")));
    }
}

TEST(RiddenWords, AQuarterThatFallsInIsNotCalledASquare) {
    for (const bool square : {true, false}) {
        std::vector<WayPoint> way;
        for (int i = 0; i <= 200; ++i) {
            const double a = 2 * std::numbers::pi * i / 200;
            const double in = std::abs(a - 2) < std::numbers::pi / 4 ? std::cos(2 * (a - 2)) : 0;
            const double r = 8 + (square ? 0.5 * std::cos(4 * a) : -1.2 * in);
            way.push_back(place_at(i * 0.1, 20 + r * std::cos(a), r * std::sin(a)));
        }
        AskedFigure asked;
        asked.to_s = 20;
        const ArenaFrame arena(40, 20);
        // The ground is known exactly here: five marks of a twentieth of a pixel.
        std::vector<GroundMark> marks;
        for (const char* name : {"K", "H", "C", "M", "B"}) {
            marks.push_back(clicked_exactly(arena.at(name)));
            marks.back().sd_px = 0.05;
        }
        for (WayPoint& p : way) {
            const GroundMark seen = clicked_exactly(p.place.at);
            p.x = seen.x, p.y = seen.y, p.height_sd_m = 0.01;
        }
        const RiddenFigure ridden = hold_against(asked, way, {LaidGround(marks)}, arena);
        const auto said = in_words(ridden, asked, arena, way).front();
        EXPECT_EQ(said.starts_with("square"), square) << said;
        EXPECT_EQ(std::ranges::any_of(
                      evidence_of(ridden, asked, way),
                      [](const GroundEvidence& e) { return e.check == "square_circle" && !e.good; }),
                  square);
    }
}

TEST(RiddenWords, APoleIsCrossedLeftOrRightOfItsMiddleByWhoRidesOverIt) {
    std::vector<WayPoint> way;
    for (int i = 0; i <= 20; ++i) way.push_back(place_at(i * 0.1, 10 + i * 0.3, 0.5));
    for (int i = 1; i <= 20; ++i) way.push_back(place_at(2 + i * 0.1, 16 - i * 0.3, 0.5));
    // Across the arena, its middle on the centre line: half a metre to the left going to C, to the right
    // coming back.
    const auto laps = crossings_of(way, {13.1, 1.5}, {13.1, -1.5});
    ASSERT_EQ(laps.size(), 2U);
    EXPECT_NEAR(laps[0].off_m, 0.5, 1e-9);
    EXPECT_NEAR(laps[1].off_m, -0.5, 1e-9);
    EXPECT_TRUE(crossings_of(way, {13.1, 8}, {13.1, 5}).empty()) << "beside the pole";
}

TEST(RiddenWords, PlacesAreCalledByTheirLetters) {
    const ArenaFrame arena(40, 20);
    EXPECT_EQ(place_words(arena, {20, -8.5}), "at B");
    EXPECT_EQ(place_words(arena, {27, -9.5}), "between B and M");
}

}  // namespace
}  // namespace aspen::core
