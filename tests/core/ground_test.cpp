// The ground laid into the picture: a pinhole camera of this test's own films marks and ways, clicks get
// errors drawn at random, and what is said is held against what was driven.

#include <gmock/gmock.h>

#include <Eigen/Dense>
#include <cmath>
#include <numbers>
#include <random>
#include <sstream>

#include "core/arena/ground_reading.hpp"
#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

using testing::HasSubstr;

/// A camera above the arena's frame that looks at a place of it.
struct Pinhole {
    Eigen::Vector3d at{-9, -13, 4};
    Eigen::Vector3d looks_at{18, 1.5, 0};
    double wide_deg = 62;
    Eigen::Vector2d see(const Eigen::Vector3d& p) const {
        const Eigen::Vector3d forward = (looks_at - at).normalized();
        const Eigen::Vector3d right = forward.cross(Eigen::Vector3d(0, 0, 1)).normalized();
        const Eigen::Vector3d down = forward.cross(right);
        const double f = 960 / std::tan(wide_deg / 2 * std::numbers::pi / 180);
        const Eigen::Vector3d d = p - at;
        return {960 + f * d.dot(right) / d.dot(forward), 540 + f * d.dot(down) / d.dot(forward)};
    }
};

std::vector<GroundMark> marks_of(const Pinhole& camera, const std::vector<const char*>& names,
                                 std::mt19937& engine, double sd_px = 2) {
    const ArenaFrame arena(40, 20);
    std::normal_distribution<double> error(0, sd_px);
    std::vector<GroundMark> out;
    for (const char* name : names) {
        const GroundPoint g = arena.at(name);
        const Eigen::Vector2d p = camera.see({g.x, g.y, 0});
        out.push_back({g, p.x() + (sd_px > 0 ? error(engine) : 0), p.y() + (sd_px > 0 ? error(engine) : 0),
                       std::max(sd_px, 0.5)});
    }
    return out;
}
const std::vector<const char*> kSeen{"K", "E", "H", "B", "M", "C", "X"};

TEST(Ground, TheFrameHasItsLettersWhereTheRulesPutThem) {
    const ArenaFrame small(40, 20), large(60, 20);
    EXPECT_EQ(small.at("A"), (GroundPoint{0, 0}));
    EXPECT_EQ(small.at("C"), (GroundPoint{40, 0}));
    EXPECT_EQ(small.at("k"), (GroundPoint{6, 10}));
    EXPECT_EQ(small.at("B"), (GroundPoint{20, -10}));
    EXPECT_EQ(small.at("G"), (GroundPoint{34, 0}));
    EXPECT_EQ(large.at("V"), (GroundPoint{18, 10}));
    EXPECT_EQ(large.at("R"), (GroundPoint{42, -10}));
    EXPECT_EQ(large.at("CM"), (GroundPoint{60, -10}));
    EXPECT_EQ(ArenaFrame(23, 17, {{"door", {0, 3}}}).at("Door"), (GroundPoint{0, 3}));
    EXPECT_THROW(small.at("V"), Refused) << "a letter of another arena";
    EXPECT_THROW(ArenaFrame(23, 17), Refused) << "a hall of own measures says its letters";
}

TEST(Ground, ExactMarksGiveExactPlaces) {
    std::mt19937 engine(1);
    const Pinhole camera;
    const LaidGround ground(marks_of(camera, kSeen, engine, 0));
    EXPECT_LT(ground.residual_px(), 1e-4);
    for (const GroundMark& m : marks_of(camera, kSeen, engine, 0)) {
        ASSERT_TRUE(m.x > 0 && m.x < 1920 && m.y > 0 && m.y < 1080) << "all of them are in the picture";
    }
    for (const auto& [x, y] : {std::pair{8.0, 4.0}, {20.0, -6.0}, {33.0, 0.0}}) {
        const Eigen::Vector2d p = camera.see({x, y, 0});
        const GroundPlace place = ground.place(p.x(), p.y(), 0.1);
        EXPECT_NEAR(place.at.x, x, 1e-3);
        EXPECT_NEAR(place.at.y, y, 1e-3);
    }
    ASSERT_TRUE(ground.camera());
    EXPECT_NEAR(ground.camera()->z(), 4, 0.05) << "where it stands follows from the ground alone";
    EXPECT_NEAR(ground.camera()->x(), -9, 0.1);
}

TEST(Ground, NinetyPercentIntervalsHoldNinety) {
    std::mt19937 engine(7);
    std::normal_distribution<double> followed(0, 3);
    const Pinhole camera;
    int inside = 0, all = 0;
    double far = 0;
    for (int run = 0; run < 150; ++run) {
        const LaidGround ground(marks_of(camera, kSeen, engine));
        for (const auto& [x, y] : {std::pair{8.0, 4.0}, {17.0, -6.0}, {20.0, 3.0}, {30.0, 0.0}}) {
            const Eigen::Vector2d p = camera.see({x, y, 0});
            const GroundPlace place = ground.place(p.x() + followed(engine), p.y() + followed(engine), 3);
            const Eigen::Vector2d off(place.at.x - x, place.at.y - y);
            // Of two dimensions 90 % lie within χ² = 4.605.
            inside += off.dot(place.covariance.inverse() * off) < 4.605 ? 1 : 0;
            ++all;
            if (x == 20.0) far = std::max(far, place.sd_m);
        }
    }
    EXPECT_NEAR(100.0 * inside / all, 90, 5);
    EXPECT_LT(far, 0.6);
}

TEST(Ground, TheHeightOfWhatWasFollowedIsTakenOut) {
    std::mt19937 engine(3);
    const Pinhole camera;
    const LaidGround ground(marks_of(camera, kSeen, engine, 0));
    const Eigen::Vector2d p = camera.see({20, 2, 1.0});  // a girth, a metre up
    const GroundPlace bare = ground.place(p.x(), p.y(), 1), known = ground.place(p.x(), p.y(), 1, 1.0);
    EXPECT_GT(std::hypot(bare.at.x - 20, bare.at.y - 2), 3);
    EXPECT_NEAR(known.at.x, 20, 0.1);
    EXPECT_NEAR(known.at.y, 2, 0.1);
    EXPECT_GT(ground.place(p.x(), p.y(), 1, 1.0, 0.04).sd_m, known.sd_m)
        << "not known exactly, it is in the error";
}

std::string refusal(const std::vector<GroundMark>& marks) {
    try {
        const LaidGround ground(marks);
    } catch (const Refused& e) {
        return e.what();
    }
    return "laid";
}

TEST(Ground, BadMarksAreRefusedInOneLine) {
    std::mt19937 engine(5);
    const Pinhole camera;
    EXPECT_THAT(refusal(marks_of(camera, {"K", "E", "H"}, engine)), HasSubstr("four are needed"));
    EXPECT_THAT(refusal(marks_of(camera, {"K", "E", "H", "AK", "CH"}, engine)), HasSubstr("on one line"));
    EXPECT_THAT(refusal(marks_of(camera, {"K", "E", "H", "B"}, engine)), HasSubstr("on one line"))
        << "three on a line and one beside leave a whole family";
    auto swapped = marks_of(camera, {"K", "H", "M", "F"}, engine);
    std::swap(swapped[0].at, swapped[1].at);
    EXPECT_THAT(refusal(swapped), testing::AnyOf(HasSubstr("swapped"), HasSubstr("contradict")));
    auto mirrored = marks_of(camera, kSeen, engine);
    for (GroundMark& m : mirrored) m.at.y = -m.at.y;
    EXPECT_THAT(refusal(mirrored), HasSubstr("mirror"));
    auto another = marks_of(camera, kSeen, engine);
    another[4].at = ArenaFrame(60, 20).at("M");  // of an arena of 60 m
    EXPECT_THAT(refusal(another), HasSubstr("contradict"));
}

TEST(Ground, AKnownLengthIsOneMoreEquation) {
    std::mt19937 engine(11);
    const Pinhole camera;
    double with = 0, without = 0;
    for (int run = 0; run < 60; ++run) {
        const auto marks = marks_of(camera, {"K", "H", "B", "X"}, engine, 3);
        const Eigen::Vector2d a = camera.see({30, -3, 0}), b = camera.see({30, 3, 0});
        const GroundLength pole{a.x(), a.y(), b.x(), b.y(), 6, 1};
        const Eigen::Vector2d p = camera.see({31, 0, 0});
        const auto off = [&](const LaidGround& ground) {
            const GroundPoint at = ground.place(p.x(), p.y(), 1).at;
            return (at.x - 31) * (at.x - 31) + at.y * at.y;
        };
        with += off(LaidGround(marks, {pole}));
        without += off(LaidGround(marks));
    }
    EXPECT_LT(with, 0.9 * without);
}

/// A circle of a said diameter that is square by s metres from peak to peak, ridden once in so many seconds,
/// as the camera saw it; followed with an error that lasts.
std::vector<WayPoint> filmed_circle(const Pinhole& camera, const LaidGround& ground, double diameter,
                                    double square, std::mt19937& engine, double sd_px = 2) {
    std::normal_distribution<double> error(0, sd_px);
    std::vector<WayPoint> out;
    double ex = 0, ey = 0;
    for (int i = 0; i <= 240; ++i) {
        const double t = i / 12.0, a = 2 * std::numbers::pi * i / 240;
        const double r = diameter / 2 + square / 2 * std::cos(4 * a);
        const Eigen::Vector2d p = camera.see({20 + r * std::cos(a), r * std::sin(a), 0});
        ex = 0.85 * ex + std::sqrt(1 - 0.85 * 0.85) * error(engine);
        ey = 0.85 * ey + std::sqrt(1 - 0.85 * 0.85) * error(engine);
        WayPoint w{t, p.x() + ex, p.y() + ey, sd_px, 0, 0, {}, {}};
        w.place = ground.place(w.x, w.y, w.sd_px, 0, kHoofHeightSd);
        out.push_back(w);
    }
    return out;
}

TEST(Ground, ACircleIsAsWideAsItWasRidden) {
    std::mt19937 engine(13);
    const Pinhole camera;
    int within = 0, covered = 0;
    constexpr int kRuns = 40;
    for (int run = 0; run < kRuns; ++run) {
        const std::vector<LaidGround> grounds{LaidGround(marks_of(camera, kSeen, engine))};
        const auto way = filmed_circle(camera, grounds[0], 16, 0, engine);
        const RiddenFigure f = hold_against({FigureKind::circle, 0, 20}, way, grounds, ArenaFrame(40, 20));
        within += std::abs(*f.diameter_m - 16) < 0.02 * 16 ? 1 : 0;
        covered += std::abs(*f.diameter_m - 16) < 1.645 * *f.diameter_sd_m ? 1 : 0;
        EXPECT_NEAR(f.centre->x, 20, 0.6);
        EXPECT_EQ(f.eighths.size(), 8U);
    }
    EXPECT_GE(within, kRuns * 0.85);
    EXPECT_GE(covered, kRuns * 0.8);
}

TEST(Ground, ASquareIsToldFromARoundOne) {
    std::mt19937 engine(17);
    const Pinhole camera;
    int told = 0, called = 0;
    constexpr int kRuns = 40;
    for (int run = 0; run < kRuns; ++run) {
        const std::vector<LaidGround> grounds{LaidGround(marks_of(camera, kSeen, engine))};
        const auto square =
            hold_against({FigureKind::circle, 0, 20}, filmed_circle(camera, grounds[0], 16, 0.8, engine),
                         grounds, ArenaFrame(40, 20));
        const auto round =
            hold_against({FigureKind::circle, 0, 20}, filmed_circle(camera, grounds[0], 16, 0, engine),
                         grounds, ArenaFrame(40, 20));
        // Of an amplitude that is nought 95 % lie below 2.45 of its parts' sd (Rayleigh).
        told += *square.square_m > 2.45 * *square.square_sd_m ? 1 : 0;
        called += *round.square_m > 2.45 * *round.square_sd_m ? 1 : 0;
        EXPECT_NEAR(*square.square_m, 0.8, 0.4);
    }
    EXPECT_GE(told, kRuns * 0.9);
    EXPECT_LE(called, kRuns * 0.15);
}

TEST(Ground, AnEighthThatFallsInIsNamed) {
    std::mt19937 engine(19);
    const Pinhole camera;
    const std::vector<LaidGround> grounds{LaidGround(marks_of(camera, kSeen, engine, 0.5))};
    std::vector<WayPoint> way;
    for (int i = 0; i <= 240; ++i) {
        const double a = 2 * std::numbers::pi * i / 240, deg = 360.0 * i / 240;
        const double r = 8 - (deg > 45 && deg < 135 ? 0.9 * std::sin((deg - 45) / 90 * std::numbers::pi) : 0);
        const Eigen::Vector2d p = camera.see({20 + r * std::cos(a), r * std::sin(a), 0});
        WayPoint w{i / 12.0, p.x(), p.y(), 1, 0, 0, {}, {}};
        w.place = grounds[0].place(w.x, w.y, 1, 0, kHoofHeightSd);
        way.push_back(w);
    }
    const RiddenFigure f =
        hold_against({FigureKind::circle, 0, 20, 16.0, GroundPoint{20, 0}}, way, grounds, ArenaFrame(40, 20));
    ASSERT_EQ(f.eighths.size(), 8U);
    EXPECT_LT(f.eighths[1].deviation_m, -0.4) << "45 to 90 degrees";
    EXPECT_LT(f.eighths[2].deviation_m, -0.4);
    EXPECT_TRUE(f.eighths[1].certain && f.eighths[2].certain);
    for (const int k : {4, 5, 6})
        EXPECT_NEAR(f.eighths[static_cast<std::size_t>(k)].deviation_m, 0, 0.15) << k;
}

/// Published examples of circles fitted to given points (both from memory): W. Gander, G. Golub, R. Strebel,
/// "Least-squares fitting of circles and ellipses" (BIT 34, 1994), six points, geometric fit z = (4.7398,
/// 2.9835), r = 4.7142.
TEST(Ground, TheCircleFitsAsPublished) {
    std::mt19937 engine(23);
    const Pinhole camera;
    const std::vector<LaidGround> grounds{LaidGround(marks_of(camera, kSeen, engine, 0))};
    std::vector<WayPoint> way;
    // In the order of a ride, each twice: eight places are the fewest a figure is held against.
    const std::pair<double, double> points[] = {{1, 7}, {2, 6}, {5, 8}, {7, 7}, {9, 5}, {3, 7}};
    for (const auto& [x, y] : {points[1], points[0], points[5], points[2], points[3], points[4]}) {
        for (int twice = 0; twice < 2; ++twice) {
            WayPoint w{static_cast<double>(way.size()), 0, 0, 1, 0, 0, {}, {}};
            w.place.at = {x, y};
            w.x = grounds[0].picture({x, y}).x();
            w.y = grounds[0].picture({x, y}).y();
            way.push_back(w);
        }
    }
    const RiddenFigure f = hold_against({FigureKind::circle, 0, 20}, way, grounds, ArenaFrame(40, 20));
    EXPECT_NEAR(f.centre->x, 4.7398, 2e-4);
    EXPECT_NEAR(f.centre->y, 2.9835, 2e-4);
    EXPECT_NEAR(*f.diameter_m / 2, 4.7142, 2e-4);
}

TEST(Ground, AWallIsHeldByItsDistanceAndSway) {
    std::mt19937 engine(29);
    const Pinhole camera;
    const std::vector<LaidGround> grounds{LaidGround(marks_of(camera, kSeen, engine, 0.5))};
    std::vector<WayPoint> way;
    for (int i = 0; i <= 120; ++i) {
        const double t = i / 12.0;
        const Eigen::Vector2d p =
            camera.see({8 + 2 * t, 8.6 + 0.3 * std::sin(2 * std::numbers::pi * t / 5), 0});
        WayPoint w{t, p.x(), p.y(), 1, 0, 0, {}, {}};
        w.place = grounds[0].place(w.x, w.y, 1, 0, kHoofHeightSd);
        way.push_back(w);
    }
    add_speeds(way);
    EXPECT_NEAR(*way[60].speed_m_per_s, 2.0, 0.15);
    AskedFigure wall{FigureKind::wall, 0, 10};
    wall.side = "left";
    const RiddenFigure f = hold_against(wall, way, grounds, ArenaFrame(40, 20));
    EXPECT_NEAR(*f.off_m, 1.4, 0.15);
    EXPECT_NEAR(*f.sway_m, 0.6, 0.12);
    EXPECT_FALSE(f.diameter_m);
    EXPECT_THROW(hold_against({FigureKind::line, 0, 0.3}, way, grounds, ArenaFrame(40, 20)), Refused);
}

std::string json_of(const std::string& text) {
    std::istringstream in(text);
    std::ostringstream out;
    try {
        write_ground(say_ground(read_ground(in, "g.json")), out);
    } catch (const Refused& e) {
        return e.what();
    }
    return out.str();
}

TEST(Ground, BadFilesAreRefusedByField) {
    EXPECT_THAT(json_of("{}"), HasSubstr("g.json"));
    EXPECT_THAT(json_of(R"({"arena": {"length": 40, "width": 20}, "camera": "held", "marks": []})"),
                HasSubstr("still or moving"));
    EXPECT_THAT(json_of(R"({"arena": {"length": 40, "width": 20}, "camera": "still", "marks": []})"),
                HasSubstr("marks"));
    EXPECT_THAT(
        json_of(
            R"({"arena": {"length": 40, "width": 20}, "camera": "still", "marks": [{"points": [{"name": "V", "x": 1, "y": 2}]}]})"),
        HasSubstr("\"V\" is not in this arena"));
}

TEST(Ground, AMovingCameraCarriesItsMarks) {
    // The camera turns to the right by a little each frame: the motion is the homography of a turn.
    std::mt19937 engine(31);
    GroundAsk ask;
    ask.still = false;
    Pinhole first;
    for (const GroundMark& m : marks_of(first, kSeen, engine, 0.5)) ask.marks[0].points.push_back(m);
    const auto camera_at = [&](int k) {
        Pinhole c = first;
        c.looks_at = first.looks_at + Eigen::Vector3d(0.1 * k, 0, 0);
        return c;
    };
    const auto laid = [&](int k) {
        std::mt19937 none(1);
        return LaidGround(marks_of(camera_at(k), {"K", "E", "H", "B", "M", "C", "X", "F"}, none, 0))
            .homography();
    };
    for (int k = 1; k <= 40; ++k) ask.motion[k] = laid(k - 1) * laid(k).inverse();
    for (int k = 0; k <= 40; ++k) {
        const Eigen::Vector2d p = camera_at(k).see({10 + 0.2 * k, 3, 0});
        ask.path.push_back({k, k / 25.0, p.x(), p.y(), 2, 0});
    }
    const GroundSaid said = say_ground(ask);
    ASSERT_EQ(said.path.size(), 41U);
    for (const std::size_t k : {0U, 20U, 40U}) {
        EXPECT_NEAR(said.path[k].place.at.x, 10 + 0.2 * static_cast<double>(k), 0.15) << k;
        EXPECT_NEAR(said.path[k].place.at.y, 3, 0.15) << k;
    }
    EXPECT_GT(said.path[40].place.sd_m, said.path[0].place.sd_m)
        << "the error grows with the way from the mark";
    ask.motion.erase(20);
    EXPECT_THROW(say_ground(ask), Refused) << "a gap in the motion";
}

}  // namespace
}  // namespace aspen::core
