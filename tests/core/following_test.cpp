#include "core/following/following.hpp"

#include <gtest/gtest.h>

#include "core/core_support.hpp"
#include "core/measures/student.hpp"
#include "core/ride/ride.hpp"

namespace aspen::core {
namespace {

using test::knowledge;

const Band kBand{-6, 6, 6, {}, {}};
const MeasureInfo& heel() { return *find_measure("heel_offset"); }
std::optional<ReviewValue> mean(const std::vector<MomentValue>& m) {
    return mean_of(m, kBand, heel(), knowledge().body);
}

TEST(MeanOf, AddsATypicalSpreadWhereTooFewWereMarked) {
    const double typical = knowledge().body.typical_spread_pct;
    const auto one = mean({{9, 1.5, 1, 0, 0.5}});
    ASSERT_TRUE(one);
    EXPECT_DOUBLE_EQ(one->value, 9);
    const double h = std::sqrt(2.92 * 2.92 * (1.5 * 1.5 + typical * typical) + 1.645 * 1.645 * (1 + 0.25));
    EXPECT_NEAR(one->sd, h / 1.645, 1e-12);
    EXPECT_FALSE(mean({}));
    const auto two = mean({{4, 1, 0, 0, 0}, {8, 1, 0, 0, 0}});
    EXPECT_NEAR(two->sd, 2.92 * std::sqrt((8 + typical * typical) / 2) / 1.645, 1e-12);
}

TEST(MeanOf, WhatTheCameraAddsToAllAlikeDoesNotAverageOut) {
    const std::vector<MomentValue> one_stretch(100, {5, 0.1, 2, 0, 1});
    EXPECT_NEAR(mean(one_stretch)->sd, std::sqrt(5.0), 0.02);
    std::vector<MomentValue> two = one_stretch;
    for (std::size_t i = 0; i < 50; ++i) two[i].roll_mark = 1;
    EXPECT_NEAR(mean(two)->sd, std::sqrt(2.0 + 1.0), 0.02) << "two cameras' errors, one rider's build";
    // Said how it turned in two clips, and nobody marked the upright of the tripod that filmed both.
    std::vector<MomentValue> turned(100, {5, 0.1, 2, 2, 0});
    for (std::size_t i = 0; i < 50; ++i) turned[i].yaw_mark = 1;
    EXPECT_NEAR(mean(turned)->sd, std::sqrt(4.0 + 2.0), 0.02) << "an unmarked tripod is one error";
    EXPECT_NEAR(mean(turned)->sd_common, std::sqrt(6.0), 1e-12);
}

TEST(MeanOf, CountsClickErrorOnceInsideTheSpread) {
    std::vector<MomentValue> m;
    for (const double v : {3.0, 5.0, 7.0, 5.0}) m.push_back({v, 1.0, 0, 0, 0});
    const double spread2 = 8.0 / 3;
    EXPECT_NEAR(mean(m)->sd, t_quantile_95(3) * std::sqrt(spread2 / 4) / 1.645, 1e-12);
}

TEST(MeanOf, StridesCountAsWhatTheyAreWorth) {
    std::vector<std::optional<double>> alike, apart;
    for (int i = 0; i < 12; ++i) {
        alike.emplace_back(i / 6);  // half of them low, then half of them high
        apart.emplace_back(i % 2);
    }
    const auto a = mean_of_strides(alike, 0, kBand), b = mean_of_strides(apart, 0, kBand);
    ASSERT_TRUE(a && b);
    EXPECT_DOUBLE_EQ(a->value, 0.5);
    EXPECT_GT(a->sd, 1.8 * b->sd);
    EXPECT_NEAR(mean_of_strides(apart, 3, kBand)->sd, std::hypot(b->sd, 3), 1e-12);
    apart[3].reset();
    EXPECT_EQ(mean_of_strides(apart, 0, kBand)->moments, 11);
    EXPECT_FALSE(mean_of_strides(std::span(apart).first(2), 0, kBand));
}

TEST(MeanOf, AnglesThatTurnRightRoundAverageTheShorterWay) {
    const MeasureInfo& arm = *find_measure("upper_arm");
    ASSERT_TRUE(arm.full_turn);
    const auto v =
        mean_of({{179, 1, 0, 0, 0}, {-179, 1, 0, 0, 0}, {180, 1, 0, 0, 0}}, kBand, arm, knowledge().body);
    EXPECT_NEAR(std::abs(v->value), 180, 1e-9);
    EXPECT_LT(v->sd, 2);
    ReviewValue a = *v, b = *v;
    a.value = 179;
    b.value = -179;
    EXPECT_DOUBLE_EQ(difference(a, b, true), 2);
}

TEST(Stages, FollowACorrectionsLife) {
    const RideSays I{RideVerdict::inside, 3}, I1{RideVerdict::inside, 1}, I6{RideVerdict::inside, 6},
        O{RideVerdict::outside, 3}, O1{RideVerdict::outside, 1}, O6{RideVerdict::outside, 6},
        U{RideVerdict::unsteady, 3}, B{RideVerdict::borderline}, X{RideVerdict::other_side, 3},
        N{RideVerdict::not_judged};
    const struct {
        std::vector<RideSays> rides;
        bool accepted, prescribed;
        Stage stage;
        const char* why;
    } lives[] = {
        {{O}, false, false, Stage::noticed, "seen"},
        {{O}, true, false, Stage::confirmed, "the coach said so"},
        {{O, O}, true, true, Stage::in_work, "an exercise was given"},
        {{O, B}, true, true, Stage::in_work, "borderline is not held"},
        {{O, I}, true, true, Stage::in_work, "one ride by three moments is luck"},
        {{O, I6}, true, true, Stage::holding, "one by six carries it"},
        {{O, {RideVerdict::inside, 6, 9}}, true, true, Stage::in_work, "not where a third is in doubt"},
        {{O, {RideVerdict::inside, 8, 10}}, true, true, Stage::holding, "a fifth may be"},
        {{O, I, I}, true, true, Stage::holding, "two in a row by three"},
        {{O, I1, I1, I1, I1}, true, true, Stage::in_work, "single moments carry nothing"},
        {{O, I, I1, I}, true, true, Stage::holding, "and end nothing"},
        {{O, I, O1, I}, true, true, Stage::in_work, "one outside ends the row"},
        {{O, I, N, B, I}, true, true, Stage::holding, "neither adds nor ends"},
        {{O, I, B, I, N, I}, true, true, Stage::settled, "three inside"},
        {{O, I6, I, I}, true, true, Stage::settled, "three inside"},
        {{O, I, I, O}, true, true, Stage::in_work, "it holds no more; one bad day is not back again"},
        {{O, I, I, O1, O1}, true, true, Stage::in_work, "nor are two single moments"},
        {{O, I, I, O, O}, true, true, Stage::back_again, "it held and went"},
        {{O, I, I, O6}, true, true, Stage::back_again, "in one ride by six"},
        {{O, I, I, U, U}, true, true, Stage::back_again, "now too far, now too little"},
        {{O, I, I, O, O, I, I}, true, true, Stage::holding, "and came again"},
        {{O, I, I, I, X}, true, true, Stage::overcorrected, "certain on the other side"},
        {{O, X, I, I}, true, true, Stage::holding, "back from the other side"},
        {{I}, true, false, Stage::confirmed, "inside from the first ride: nothing to hold"},
        {{I, I, I, I}, true, false, Stage::confirmed, "however often"},
        {{}, true, true, Stage::in_work, "no ride yet"},
    };
    for (const auto& life : lives)
        EXPECT_EQ(stage_of(life.rides, life.accepted, life.prescribed), life.stage) << life.why;
}

RideMoment heel_moment(double heel_px, double leg_px = 0) {
    RideMoment m;
    m.figure = test::sitting_rider();
    m.figure.camera = {0, 0.3, 0, 3, true, true};
    m.figure[Landmark::heel].at.y += heel_px;
    for (const Landmark l : {Landmark::ankle, Landmark::heel, Landmark::toe}) m.figure[l].at.x += leg_px;
    m.setting.school = "classical";
    m.setting.gait = Gait::walk;
    m.seen = {Gait::walk, Seat::sitting, "right"};
    return m;
}
RideVerdict verdict(const std::string& fault, const std::vector<RideMoment>& moments,
                    std::vector<CheckAnswer> checks = {}) {
    const RideData ride{moments, {}, {}, {}, std::move(checks)};
    std::vector<std::vector<Judged>> judged;
    for (const RideMoment& m : moments) judged.push_back(judge_moment(m, knowledge()));
    return verdict_on(fault, {Gait::walk, Seat::sitting, "right"}, ride, judged, knowledge()).verdict;
}

TEST(RideVerdicts, KnowTheirDirection) {
    EXPECT_EQ(verdict("lower_leg_back", {heel_moment(0, -60)}), RideVerdict::outside);
    EXPECT_EQ(verdict("lower_leg_back", {heel_moment(0)}), RideVerdict::inside);
    EXPECT_EQ(verdict("lower_leg_back", {heel_moment(0, 70)}), RideVerdict::other_side) << "overcorrected";
    EXPECT_EQ(
        verdict("lower_leg_back", {heel_moment(0, -60), heel_moment(0), heel_moment(0), heel_moment(0)}),
        RideVerdict::borderline)
        << "once of four is no relapse, and not held either";
    EXPECT_EQ(verdict("lower_leg_back", {heel_moment(0, -60), heel_moment(0, -60), heel_moment(0, 70)}),
              RideVerdict::unsteady)
        << "two behind and one ahead: as the finding says, not overcorrected";
    EXPECT_EQ(verdict("lower_leg_back", {}), RideVerdict::not_judged);
    RideMoment elsewhere = heel_moment(0, -60);
    elsewhere.seen.side = "left";
    EXPECT_EQ(verdict("lower_leg_back", {elsewhere}), RideVerdict::not_judged);
}

TEST(RideVerdicts, FollowAFindingByEyeAlone) {
    EXPECT_EQ(verdict("looking_down", {heel_moment(0)}), RideVerdict::not_judged);
    EXPECT_EQ(verdict("looking_down", {heel_moment(0)}, {{"looking_down", CheckAnswer::Said::good, 0}}),
              RideVerdict::inside);
    EXPECT_EQ(verdict("looking_down", {heel_moment(0)}, {{"looking_down", CheckAnswer::Said::fault, 0}}),
              RideVerdict::outside);
}

}  // namespace
}  // namespace aspen::core
