// A camera that nobody placed: what it may not make of a straight rider on a straight horse.

#include <gmock/gmock.h>

#include <random>

#include "core/core_support.hpp"
#include "core/ride/ride.hpp"

namespace aspen::core {
namespace {

using L = Landmark;
using test::knowledge;

constexpr double kTrunk = 260;  // px

/// A straight rider seen from behind by a camera that stands `turned` degrees off the horse's axis; the
/// horse's head is carried `aside` trunks to the right. Joints by the nominal places along the horse.
Figure from_behind(double turned, std::optional<double> aside) {
    Figure f;
    f.view = View::rear;
    const double sine = std::sin(radians(turned)), cosine = std::cos(radians(turned));
    const auto put = [&](L l, double right, double up) {
        const double ahead = knowledge().body.along_rear[index(l)];
        f[l] = {{960 + kTrunk * (right * cosine + ahead * sine), 600 - kTrunk * up}, Visibility::seen, 1.5};
    };
    put(L::left_hip, -0.33, 0), put(L::right_hip, 0.33, 0);
    put(L::left_shoulder, -0.37, 1), put(L::right_shoulder, 0.37, 1);
    put(L::horse_mid, 0, -0.15), put(L::saddle_mid, 0, -0.1), put(L::chin, 0, 1.3);
    if (aside) put(L::ears_mid, *aside, 1);
    return f;
}

RideAssessment assessed(const Figure& f, std::vector<Decided> decided = {}) {
    RideData ride;
    ride.decided = std::move(decided);
    RideMoment m;
    m.figure = f;
    m.setting.school = "classical";
    m.setting.gait = Gait::walk;
    m.seen = {Gait::walk, Seat::sitting, ""};
    ride.moments.assign(3, m);
    return assess_ride(ride, knowledge());
}

const Judged& judged(const RideAssessment& a, const char* id) { return *find(a.judged[0], id); }

class OffAxis : public testing::TestWithParam<int> {};

TEST_P(OffAxis, AStraightRidersSaddleHasNotSlipped) {
    const RideAssessment a = assessed(from_behind(GetParam(), std::nullopt));
    for (const char* id : {"saddle_offset", "centre_offset", "chin_offset"}) {
        const Judged& j = judged(a, id);
        ASSERT_TRUE(j.measured.value) << id;
        EXPECT_NE(j.verdict, Verdict::outside) << id << " " << *j.measured.value << " +- " << j.measured.sd;
    }
    for (const RideFinding& f : a.findings) {
        EXPECT_FALSE(f.found.safety) << f.found.fault->id;
        // Beyond twice the unmarked error even a saddle's breadth may look like one.
        if (std::abs(GetParam()) <= 13) {
            EXPECT_EQ(f.found.certain, 0) << f.found.fault->id;
        }
    }
}
INSTANTIATE_TEST_SUITE_P(Cameras, OffAxis, testing::Values(-25, -13, -11, -4, 0, 4, 8, 11, 13, 25));

TEST(Cameras, SaidItIsJudgedForCertain) {
    Figure f = from_behind(0, std::nullopt);
    for (const L l : landmarks_of(View::rear)) {  // the rider with it
        if (l != L::horse_mid && l != L::ground_mid) f[l].at.x += 0.45 * 2 * 0.33 * kTrunk;
    }
    EXPECT_EQ(judged(assessed(f), "saddle_offset").verdict, Verdict::borderline) << "nobody said the angle";
    f.camera.yaw_marked = true;
    f.camera.yaw_sd_deg = 2;
    const RideAssessment a = assessed(f);
    EXPECT_EQ(judged(a, "saddle_offset").verdict, Verdict::outside);
    ASSERT_TRUE(a.focus);
    EXPECT_THAT(a.focus->why, testing::HasSubstr("safety"));
    const SeenIn seen{Gait::walk, Seat::sitting, ""};
    const RideAssessment with = assessed(f, {{"dropped_shoulder", seen, Decision::accepted, {}, 0.5}});
    ASSERT_TRUE(with.focus);
    EXPECT_EQ(with.focus->fault->id, "saddle_slipped") << "safety does not wait for another decision";
    const RideAssessment without = assessed(f, {{"dropped_shoulder", seen, Decision::accepted, {}, 0.5},
                                                {"saddle_slipped", seen, Decision::rejected, {}, 0.5}});
    ASSERT_TRUE(without.focus);
    EXPECT_EQ(without.focus->fault->id, "dropped_shoulder") << "what the coach rejected is no safety";
}

// With a trunk of half a metre a hand's breadth and a half is a quarter of a metre.
TEST(Cameras, AHorseThatLooksAsideHasNotSlippedItsSaddle) {
    for (const double aside : {-0.5, 0.5}) {
        const RideAssessment a = assessed(from_behind(0, aside));
        EXPECT_NE(judged(a, "saddle_offset").verdict, Verdict::outside);
        EXPECT_FALSE(a.focus);
    }
}

// On a circle: the ground between the hooves is marked three to four centimetres beside (hooves in flight),
// once for all moments; what the intervals say they hold.
TEST(Cameras, TheGroundMarkOfACircleIsInTheError) {
    std::mt19937 random(5);
    std::normal_distribution<double> unit;
    int lean = 0, tilt = 0;
    constexpr int kTrials = 2000;
    for (int n = 0; n < kTrials; ++n) {
        Figure f = from_behind(0, std::nullopt);
        f.camera = {0, 0.3, 0, 2, true, true};
        f[L::ground_mid] = {{960 + 0.07 * kTrunk * unit(random), 600 + 1.9 * kTrunk}, Visibility::seen, 1.5};
        for (Mark& m : f.marks) {
            m.at.x += 1.5 * unit(random);
            m.at.y += 1.5 * unit(random);
        }
        const auto all = measure(f, knowledge().body, {0, true});
        const auto holds = [&](std::string_view id) {
            const auto m = std::ranges::find_if(all, [&](const Measured& one) { return one.info->id == id; });
            return std::abs(*m->value) <= kNinetyPercent * m->sd;
        };
        lean += holds("lateral_lean");
        tilt += holds("shoulder_tilt");
    }
    for (const int held : {lean, tilt}) {
        EXPECT_GE(held, kTrials * 85 / 100);
        EXPECT_LE(held, kTrials * 97 / 100);
    }
}

TEST(Cameras, ThePartsOfTheErrorAreKeptApart) {
    const auto all = measure(from_behind(0, 0.0), knowledge().body);
    for (const Measured& m : all) {
        if (!m.value) continue;
        EXPECT_NEAR(m.sd_camera, std::hypot(m.sd_roll, m.sd_yaw), 1e-12) << m.info->id;
        EXPECT_NEAR(m.sd, std::hypot(m.sd_random, m.sd_camera, m.sd_build), 1e-12) << m.info->id;
        EXPECT_FALSE(m.axis_unknown) << m.info->id << ": its ears are marked";
    }
}

}  // namespace
}  // namespace aspen::core
