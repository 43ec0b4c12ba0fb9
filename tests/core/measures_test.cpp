#include "core/measures/measures.hpp"

#include <gmock/gmock.h>

#include <random>

#include "core/core_support.hpp"

namespace aspen::core {
namespace {

using test::random_rider;
using test::sitting_rider;
using L = Landmark;

double value(const Figure& f, std::string_view id) {
    for (const Measured& m : measure(f, test::knowledge().body)) {
        if (m.info->id == id) return m.value.value_or(std::nan(""));
    }
    ADD_FAILURE() << "no measure " << id;
    return 0;
}
const Measured& value_of(const std::vector<Measured>& all, std::string_view id) {
    for (const Measured& m : all) {
        if (m.info->id == id) return m;
    }
    throw std::out_of_range(std::string(id));
}

TEST(Measures, CatalogueHoldsWhatIsDefined) {
    EXPECT_EQ(measures_of(View::side).size(), 19U);
    EXPECT_EQ(measures_of(View::rear).size(), 11U);
    for (const View v : {View::side, View::rear}) {
        for (const MeasureInfo& m : measures_of(v)) {
            EXPECT_EQ(find_measure(m.id), &m);
            EXPECT_FALSE(m.needs.empty());
        }
    }
    EXPECT_EQ(find_measure("nothing"), nullptr);
}

TEST(Measures, SignsAreAsDefined) {
    Figure f = sitting_rider();
    f[L::shoulder].at = {f[L::hip].at.x + 50, f[L::hip].at.y - 100};
    EXPECT_NEAR(value(f, "trunk_lean"), degrees(std::atan2(50, 100)), 1e-9) << "forward is positive";
    f[L::heel].at = {600, 450};
    f[L::toe].at = {650, 430};
    EXPECT_NEAR(value(f, "heel_drop"), degrees(std::atan2(20, 50)), 1e-9) << "heel lower is positive";
    f[L::elbow].at = {600, 250}, f[L::knuckle].at = {650, 240}, f[L::bit].at = {860, 340};
    EXPECT_GT(value(f, "hand_line"), 0) << "knuckle above the line from elbow to bit";
    f[L::knuckle].at = {650, 300};
    EXPECT_LT(value(f, "hand_line"), 0);
    f[L::bit].at = {f[L::poll].at.x + 30, f[L::poll].at.y + 90};
    EXPECT_GT(value(f, "horse_nose"), 0) << "in front of the vertical is positive";
    EXPECT_NEAR(value(f, "seat_place"), 100.0 * (595 - 556) / (690 - 556), 1e-9);
}

TEST(Measures, StraightJointIs180AndItsErrorDoesNotVanish) {
    Figure f = sitting_rider();
    f[L::hip].at = {600, 300}, f[L::knee].at = {600, 400}, f[L::ankle].at = {600, 500};
    const auto all = measure(f, test::knowledge().body);
    const Measured& knee = value_of(all, "knee_angle");
    EXPECT_NEAR(*knee.value, 180, 1e-9);
    EXPECT_GT(knee.sd, 1.0) << "an angle folded at 180 degrees must keep the error of the unfolded one";
}

TEST(Measures, MirroredRiderTravellingTheOtherWayMeasuresTheSame) {
    for (unsigned seed = 0; seed < 20; seed += 2) {
        Figure f = random_rider(seed);
        Figure mirrored = f;
        for (Mark& m : mirrored.marks) m.at.x = 1280 - m.at.x;
        mirrored.travel = Travel::left;
        mirrored.camera.roll_deg = -f.camera.roll_deg;
        const auto a = measure(f, test::knowledge().body), b = measure(mirrored, test::knowledge().body);
        for (std::size_t i = 0; i < a.size(); ++i) {
            EXPECT_NEAR(*a[i].value, *b[i].value, 1e-7) << a[i].info->id;
            EXPECT_NEAR(a[i].sd, b[i].sd, 1e-6) << a[i].info->id;
        }
    }
}

TEST(Measures, NothingChangesWhenThePictureIsMovedOrScaled) {
    const Figure f = random_rider(4);
    Figure other = f;
    for (Mark& m : other.marks) {
        m.at = {m.at.x * 1.5 + 77, m.at.y * 1.5 - 31};
        m.sd_px *= 1.5;
    }
    const auto a = measure(f, test::knowledge().body), b = measure(other, test::knowledge().body);
    for (std::size_t i = 0; i < a.size(); ++i) {
        EXPECT_NEAR(*a[i].value, *b[i].value, 1e-6) << a[i].info->id;
        EXPECT_NEAR(a[i].sd, b[i].sd, 1e-5) << a[i].info->id;
    }
}

TEST(Measures, WhatIsMissingIsSaidNotGuessed) {
    Figure f = sitting_rider();
    f[L::ear].visibility = Visibility::absent;
    f[L::knee].visibility = Visibility::hidden;
    f[L::elbow].confirmed = false;
    const auto all = measure(f, test::knowledge().body);
    EXPECT_EQ(value_of(all, "ear_offset").reason, "ear not marked");
    EXPECT_EQ(value_of(all, "knee_angle").reason, "knee hidden");
    EXPECT_EQ(value_of(all, "elbow_angle").reason, "elbow not confirmed");
    EXPECT_FALSE(value_of(all, "knee_angle").value);
    EXPECT_TRUE(value_of(all, "trunk_lean").value);
}

TEST(Measures, ViewDecidesWhatCanBeJudged) {
    Figure f = sitting_rider();
    f.camera.yaw_deg = 30;
    EXPECT_TRUE(value_of(measure(f, test::knowledge().body), "trunk_lean").value);
    f.camera.yaw_deg = -30.5;
    EXPECT_FALSE(value_of(measure(f, test::knowledge().body), "trunk_lean").value);
    f.camera.yaw_deg = 0;
    f.travel = Travel::unknown;
    EXPECT_EQ(value_of(measure(f, test::knowledge().body), "trunk_lean").reason,
              "direction of travel not said");
}

TEST(Measures, TwoJointsOnOneSpotAreNotJudged) {
    Figure f = sitting_rider();
    f[L::cantle].at = f[L::withers].at;
    const auto all = measure(f, test::knowledge().body);
    EXPECT_FALSE(value_of(all, "seat_place").value);
    EXPECT_EQ(value_of(all, "seat_place").reason, "two joints too close together");
}

TEST(Measures, WithoutATrunkTheErrorGrows) {
    Figure f = sitting_rider();
    f.camera.yaw_deg = 12;
    const double with = value_of(measure(f, test::knowledge().body), "heel_drop").sd;
    f[L::shoulder].visibility = Visibility::absent;
    const Measured without = value_of(measure(f, test::knowledge().body), "heel_drop");
    ASSERT_TRUE(without.value);
    EXPECT_GT(without.sd, with);
}

TEST(Measures, UnmarkedCameraWidensErrors) {
    Figure f = sitting_rider();
    const double unmarked = value_of(measure(f, test::knowledge().body), "trunk_lean").sd;
    f.camera.roll_sd_deg = 0.3;
    EXPECT_LT(value_of(measure(f, test::knowledge().body), "trunk_lean").sd, 0.8 * unmarked);
}

/// Rear view: shoulders 10 degrees down to the right, hips level, everything 20 px right of the horse's
/// middle.
TEST(Measures, RearAndFrontGiveTheRidersOwnSides) {
    Figure f;
    f.view = View::rear;
    const auto put = [&](L l, double x, double y) { f[l] = {{x, y}, Visibility::seen, 1.0}; };
    put(L::horse_mid, 640, 400), put(L::saddle_mid, 650, 300);
    put(L::left_hip, 620, 300), put(L::right_hip, 700, 300);  // seen from behind the right is on the right
    put(L::left_shoulder, 610, 200), put(L::right_shoulder, 710, 200 + 100 * std::tan(radians(10)));
    put(L::left_iron, 600, 450), put(L::right_iron, 720, 458);
    EXPECT_NEAR(value(f, "shoulder_tilt"), 10, 1e-9) << "left higher is positive";
    EXPECT_NEAR(value(f, "hip_tilt"), 0, 1e-9);
    EXPECT_NEAR(value(f, "centre_offset"), 100.0 * 20 / 80, 1e-9) << "to the rider's right";
    EXPECT_NEAR(value(f, "saddle_offset"), 100.0 * 10 / 80, 1e-9);
    EXPECT_NEAR(value(f, "stirrup_difference"), 100.0 * 8 / 80, 1e-9);
    Figure front = f;  // the same rider from the front: the picture is mirrored
    front.view = View::front;
    for (Mark& m : front.marks) m.at.x = 1280 - m.at.x;
    for (const auto& id :
         {"shoulder_tilt", "centre_offset", "saddle_offset", "stirrup_difference", "lateral_lean"}) {
        EXPECT_NEAR(value(f, id), value(front, id), 1e-9) << id;
    }
}

/// The straight rider of docs/measures.md: 260 px from the middle of the shoulders to that of the hips, hips
/// at x 960, the view turned by 5 degrees.
Figure straight_rider(View view, double dock_or_withers_x, double ears_x) {
    Figure f;
    f.view = view;
    f.camera.yaw_deg = 5;
    f.camera.yaw_marked = true;
    const double right = view == View::rear ? 1 : -1;
    const double shoulders_x = 960 + right * 0.05 * 260 * std::sin(radians(5));
    const auto put = [&](L l, double x, double y) { f[l] = {{x, y}, Visibility::seen, 1.0}; };
    put(L::left_hip, 960 - right * 85, 600), put(L::right_hip, 960 + right * 85, 600);
    const double up = std::sqrt(260.0 * 260 - (shoulders_x - 960) * (shoulders_x - 960));
    put(L::left_shoulder, shoulders_x - right * 95, 600 - up);
    put(L::right_shoulder, shoulders_x + right * 95, 600 - up);
    put(L::horse_mid, dock_or_withers_x, 640), put(L::ears_mid, ears_x, 300);
    return f;
}

TEST(FrontalMeasures, ATurnedViewOfAStraightRiderIsStraight) {
    // Worked by hand from the definitions: dock at 916.9 from behind, withers at 946.4 from the front.
    const Figure rear = straight_rider(View::rear, 916.9, 1012.1),
                 front = straight_rider(View::front, 946.4, 907.9);
    for (const Figure& f : {rear, front}) {
        EXPECT_NEAR(value(f, "centre_offset"), 0, 0.05);
        EXPECT_NEAR(value(f, "lateral_lean"), 0, 0.05);
    }
    for (Figure f : {rear, front}) {
        f.camera = {};
        const auto turn = view_turn(f, test::knowledge().body);
        EXPECT_NEAR(turn.yaw_deg, 5, 0.03) << "read from the ears against the horse's middle";
        EXPECT_EQ(turn.sd_deg, 5) << "a horse carries its head a hand to one side";
        EXPECT_NEAR(value(f, "centre_offset"), 0, 0.3);
        f[L::ears_mid].visibility = Visibility::absent;
        EXPECT_EQ(view_turn(f, test::knowledge().body).sd_deg, 8) << "nothing marked from front or rear";
        const auto unmarked = measure(f, test::knowledge().body);
        const Measured& offset = value_of(unmarked, "centre_offset");
        EXPECT_LT(std::abs(*offset.value), 1.645 * offset.sd)
            << "the angle nobody marked stands in the error";
    }
}

TEST(FrontalMeasures, WhatLeansOnTheAxisIsNotJudgedBesideIt) {
    Figure f = straight_rider(View::rear, 916.9, 1012.1);
    f.camera.yaw_deg = -10.5;
    const auto past_ten = measure(f, test::knowledge().body);
    for (const char* id : {"lateral_lean", "centre_offset"}) EXPECT_FALSE(value_of(past_ten, id).value) << id;
    EXPECT_TRUE(value_of(past_ten, "shoulder_tilt").value);
    f.camera.yaw_deg = 30.5;
    EXPECT_FALSE(value_of(measure(f, test::knowledge().body), "shoulder_tilt").value);
}

TEST(FrontalMeasures, ShouldersAheadOfTheHipsAreNotALean) {
    Figure f = straight_rider(View::rear, 916.9, 1012.1);
    const double plain = value(f, "lateral_lean");
    const auto inclined = measure(f, test::knowledge().body, {20, false});
    EXPECT_LT(*value_of(inclined, "lateral_lean").value, plain - 1)
        << "a trunk inclined by 20 degrees looks leaning at 5";
}

TEST(FrontalMeasures, OnACircleTheRiderIsHeldAgainstTheHorse) {
    // Worked by hand: the horse leans in by 10 degrees and the rider with it.
    Figure f;
    f.view = View::rear;
    f.camera.yaw_marked = true;
    const auto put = [&](L l, double y, double u) { f[l] = {{y, -u}, Visibility::seen, 0.5}; };
    put(L::ground_mid, 0, -520), put(L::horse_mid, 85.1, -37.4);
    const double c = std::cos(radians(10)), s = std::sin(radians(10));
    put(L::left_hip, 90.3 - 60 * c, -7.9 + 60 * s), put(L::right_hip, 90.3 + 60 * c, -7.9 - 60 * s);
    put(L::left_shoulder, 125 - 70 * c, 189.1 + 70 * s), put(L::right_shoulder, 125 + 70 * c, 189.1 - 70 * s);
    const MeasuredIn circle{0, true};
    const auto held = measure(f, test::knowledge().body, circle);
    for (const char* id : {"lateral_lean", "centre_offset", "shoulder_tilt", "hip_tilt"})
        EXPECT_NEAR(*value_of(held, id).value, 0, 0.1) << id;
    EXPECT_NEAR(value(f, "lateral_lean"), 10, 0.1) << "on a straight line it would be a lean";
    EXPECT_GT(value_of(held, "centre_offset").sd_build, 100 * 0.1 * 200 / 120)
        << "a bent horse's dock lies off";
    f[L::ground_mid].visibility = Visibility::absent;
    const auto unknown = measure(f, test::knowledge().body, circle);
    for (const char* id : {"lateral_lean", "centre_offset", "shoulder_tilt", "hip_tilt"})
        EXPECT_FALSE(value_of(unknown, id).value) << id;
    EXPECT_THAT(value_of(unknown, "lateral_lean").reason, testing::HasSubstr("ground"));
}

TEST(Measures, AJointThatWasOnlyLaidJudgesNothing) {
    Figure f = sitting_rider();
    f[L::elbow].origin = Origin::laid;
    f[L::elbow].confirmed = false;
    EXPECT_EQ(value_of(measure(f, test::knowledge().body), "upper_arm").reason, "elbow not placed by you");
    f[L::elbow].confirmed = true;  // right as it stands, says the coach
    EXPECT_TRUE(value_of(measure(f, test::knowledge().body), "upper_arm").value);
}

TEST(Measures, SegmentsShorterThanFiveErrorsJudgeNothing) {
    Figure f = sitting_rider();
    f[L::shoulder].at = {f[L::hip].at.x + 2, f[L::hip].at.y - 8};  // 8.2 px; five errors are 9.2
    EXPECT_EQ(value_of(measure(f, test::knowledge().body), "trunk_lean").reason,
              "two joints too close together");
    f[L::shoulder].at.y -= 3;
    EXPECT_TRUE(value_of(measure(f, test::knowledge().body), "trunk_lean").value);
}

TEST(Measures, DepthCountsInASquareViewToo) {
    Figure f = sitting_rider();
    for (Mark& m : f.marks) m.sd_px = 1e-9;
    f.camera.roll_sd_deg = 0;
    const Measured lean = value_of(measure(f, test::knowledge().body), "trunk_lean");
    // By hand: both ends off by 0.08 trunks times the 7 degrees nobody marked, across a trunk.
    EXPECT_NEAR(lean.sd_build, degrees(std::sqrt(2.0) * 0.08 * radians(7)), 0.02);
    EXPECT_NEAR(lean.sd_camera, degrees((0.38 - 0.34) * radians(7)), 0.02) << "and by the nominal depths";
    EXPECT_NEAR(lean.sd, std::hypot(lean.sd_build, lean.sd_camera, lean.sd_random), 1e-12);
}

TEST(Measures, WithHorsePointsOnlyThereIsADepthErrorToo) {
    Figure f = sitting_rider();
    for (const L l : landmarks_of(View::side)) {
        if (l != L::poll && l != L::bit) f[l].visibility = Visibility::absent;
    }
    EXPECT_GT(value_of(measure(f, test::knowledge().body), "horse_nose").sd_build, 0.1);
}

}  // namespace
}  // namespace aspen::core
