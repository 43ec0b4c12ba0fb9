// What the judge makes of followed strides: they count as moments do, the eye stands above them, and a leg
// that certainly swings is called that.

#include <gmock/gmock.h>

#include <cmath>
#include <random>

#include "core/core_support.hpp"
#include "core/following/following.hpp"
#include "core/ride/over_strides.hpp"
#include "core/ride/ride.hpp"

namespace aspen::core {
namespace {

using test::knowledge;

RideStrides strides(std::vector<std::optional<double>> swing, double sd = 0.5) {
    RideStrides out;
    out.setting = {"classical", Gait::trot, Seat::sitting, {}, {}};
    out.seen = {Gait::trot, Seat::sitting, "right"};
    out.values = {{"leg_swing", std::move(swing), sd}};
    return out;
}

RideMoment still_moment(double leg_px) {
    RideMoment m;
    m.figure = test::sitting_rider();
    m.figure.camera = {0, 0.3, 0, 3, true, true};
    for (const Landmark l : {Landmark::knee, Landmark::ankle, Landmark::heel, Landmark::toe})
        m.figure[l].at.x += leg_px;  // the whole leg, so that no knee closes
    m.setting = {"classical", Gait::trot, Seat::sitting, {}, {}};
    m.seen = {Gait::trot, Seat::sitting, "right"};
    return m;
}

const RideFinding* stride_finding(const RideAssessment& a, std::string_view fault) {
    const auto at =
        std::ranges::find_if(a.findings, [&](const RideFinding& f) { return f.found.fault->id == fault; });
    return at == a.findings.end() ? nullptr : &*at;
}

TEST(StrideJudging, PersistenceCountsStrides) {
    RideData data;
    data.strides = {strides({14, 13, 15, std::nullopt, 5, 14})};
    const auto a = assess_ride(data, knowledge());
    const RideFinding* swing = stride_finding(a, "swinging_leg");
    ASSERT_TRUE(swing);
    EXPECT_EQ(swing->found.certain, 4);
    EXPECT_EQ(swing->found.judgeable, 5) << "one was not followed, and tells nothing";
    EXPECT_EQ(swing->found.strides, 5);
    EXPECT_DOUBLE_EQ(swing->found.share, 0.8);
    EXPECT_EQ(swing->found.verdict, Verdict::outside);
    EXPECT_EQ(swing->seen, (SeenIn{Gait::trot, Seat::sitting, "right"}));
    // (14 - 6 - 1.645 * 0.5) / 4 and so on, by hand: the band ends at 6, its scale is 4.
    EXPECT_NEAR(swing->found.severity, ((14 + 13 + 15 + 14) / 4.0 - 6 - 1.645 * 0.5) / 4, 1e-9);
    ASSERT_TRUE(a.focus);
    EXPECT_EQ(a.focus->fault->id, "swinging_leg");
}

TEST(StrideJudging, OneStrideOfManyIsNoHabit) {
    RideData data;
    data.strides = {strides({14, 3, 3, 4, 3})};
    const auto a = assess_ride(data, knowledge());
    ASSERT_TRUE(stride_finding(a, "swinging_leg"));
    EXPECT_TRUE(stride_finding(a, "swinging_leg")->found.seen_once);
    EXPECT_FALSE(a.focus);
}

TEST(StrideJudging, AWideErrorAccusesNobody) {
    RideData data;
    data.strides = {strides({8, 7.5, 8.2, 7.9}, 2)};
    const auto a = assess_ride(data, knowledge());
    ASSERT_TRUE(stride_finding(a, "swinging_leg"));
    EXPECT_EQ(stride_finding(a, "swinging_leg")->found.verdict, Verdict::borderline);
}

TEST(StrideJudging, TheEyeStandsAboveTheStridesOfItsGaitAndSide) {
    RideData data;
    data.moments = {still_moment(0)};
    data.strides = {strides({14, 14, 14, 14})};
    data.checks = {{"swinging_leg", CheckAnswer::Said::good, 0}};
    EXPECT_FALSE(stride_finding(assess_ride(data, knowledge()), "swinging_leg"));
    data.checks[0].said = CheckAnswer::Said::cannot_see;
    EXPECT_TRUE(stride_finding(assess_ride(data, knowledge()), "swinging_leg"))
        << "who cannot see says nothing";
    data.checks[0].said = CheckAnswer::Said::good;
    data.strides[0].seen.gait = Gait::canter;
    data.strides[0].setting.gait = Gait::canter;
    EXPECT_TRUE(stride_finding(assess_ride(data, knowledge()), "swinging_leg"))
        << "said in trot, not in canter";
}

TEST(StrideJudging, ALegThatCertainlySwingsIsNotCalledUnsteadyBesides) {
    const Setting trot{"classical", Gait::trot, Seat::sitting, {}, {}};
    const auto seen = [&](const char* measure, double value) {
        const Judged j = judge_value({find_measure(measure), value, 0.5, {}}, trot, knowledge().schools);
        return knowledge().faults.observe({j}, trot, View::side);
    };
    const auto ids = [&](std::vector<ObservedMoment> moments) {
        std::vector<std::string> out;
        for (const FoundFault& f : knowledge().faults.merge(std::move(moments)).found)
            out.push_back(f.fault->id);
        return out;
    };
    const auto ahead = seen("heel_offset", 14), back = seen("heel_offset", -14);
    EXPECT_THAT(ids({ahead, back, ahead, back}), testing::ElementsAre("unsteady_heel_offset"));
    EXPECT_THAT(ids({ahead, back, ahead, back, seen("leg_swing", 14), seen("leg_swing", 15)}),
                testing::ElementsAre("swinging_leg"));
    EXPECT_THAT(ids({ahead, back, ahead, back, seen("leg_swing", 3), seen("leg_swing", 4)}),
                testing::ElementsAre("unsteady_heel_offset"))
        << "from stride to stride it lies elsewhere, though within one it is quiet";
}

TEST(StrideJudging, AStretchThatCannotBeJudgedSaysNothing) {
    RideData data;
    data.strides = {strides({14, 14, 14})};
    data.strides[0].judged = false;
    EXPECT_TRUE(assess_ride(data, knowledge()).findings.empty());
}

TEST(StrideJudging, ACorrectionIsFollowedByItsStrides) {
    const SeenIn seen{Gait::trot, Seat::sitting, "right"};
    const auto verdict = [&](std::vector<std::optional<double>> swing) {
        RideData data;
        data.strides = {strides(std::move(swing))};
        return verdict_on("swinging_leg", seen, data, {}, knowledge()).verdict;
    };
    EXPECT_EQ(verdict({14, 13, 15}), RideVerdict::outside);
    EXPECT_EQ(verdict({3, 4, 3}), RideVerdict::inside);
    EXPECT_EQ(verdict({14, 3, 3, 3, 3}), RideVerdict::borderline) << "seen once";
    EXPECT_EQ(verdict({}), RideVerdict::not_judged);
}

TEST(StrideJudging, BandsFromMemoryHoldInTheirGaitAndSeatOnly) {
    const auto band = [](const char* measure, Gait gait, Seat seat) {
        Setting s{"stock", gait, seat, {}, {}};
        return std::holds_alternative<Band>(knowledge().schools.here(measure, s).band);
    };
    EXPECT_TRUE(band("seat_rise", Gait::trot, Seat::sitting));
    EXPECT_FALSE(band("seat_rise", Gait::trot, Seat::rising)) << "there it is the height of the rise";
    EXPECT_FALSE(band("seat_rise", Gait::walk, Seat::sitting));
    EXPECT_TRUE(band("rise_phase", Gait::trot, Seat::rising));
    EXPECT_FALSE(band("rise_phase", Gait::trot, Seat::sitting));
    EXPECT_TRUE(band("hip_still_pct", Gait::canter, Seat::sitting));
    EXPECT_FALSE(band("hip_still_pct", Gait::canter, Seat::two_point));
}

TEST(StrideChanges, TheLastBoutIsHeldAgainstTheFirst) {
    const std::vector<RideStrides> ride{strides({8, 8.4, 7.8, 8.2, 8, 8.3}), strides({10, 10.2}),
                                        strides({14, 13.6, 14.2, 14.1, 13.9, 14.2})};
    const auto changes = stride_changes(ride);
    ASSERT_EQ(changes.size(), 1U);
    EXPECT_EQ(changes[0].between, StrideChange::Between::first_last);
    EXPECT_NEAR(changes[0].one, 8.1166667, 1e-6);
    EXPECT_NEAR(changes[0].other, 14, 1e-9);
    EXPECT_TRUE(changes[0].real);
    EXPECT_THAT(in_words(changes, test::knowledge().spoken()),
                testing::ElementsAre(testing::HasSubstr("tired, rather than not learned")));
    const std::vector<RideStrides> even{strides({8, 8.4, 7.8, 8.1, 8, 8.2}),
                                        strides({8.2, 8.1, 8, 8.3, 7.9, 8.1})};
    EXPECT_THAT(in_words(stride_changes(even), test::knowledge().spoken()),
                testing::ElementsAre("First bout and last: nothing differs beyond the error"));
    EXPECT_TRUE(stride_changes(std::vector{strides({8, 9, 8, 9, 8}), strides({8, 9, 8, 9, 8})}).empty())
        << "too few strides";
}

// Riders who do not change, in all eight measures: said to be tired, or anything else, of at most one in
// twenty.
TEST(StrideChanges, WhoDoesNotChangeIsNotTired) {
    std::mt19937 random(3);
    std::normal_distribution<double> unit;
    for (const double alike : {0.0, 0.3}) {
        int told = 0;
        constexpr int kRiders = 1000;
        for (int n = 0; n < kRiders; ++n) {
            std::vector<RideStrides> ride;
            for (int bout = 0; bout < 2; ++bout) {
                RideStrides one = strides({});
                one.values.clear();
                for (const char* id : {"leg_swing", "hand_bounce", "heel_bob", "trunk_swing", "head_bob",
                                       "seat_rise", "tempo_per_min", "speed"}) {
                    StrideValues v{id, {}, 0};
                    double off = unit(random);
                    for (int i = 0; i < 10; ++i) {
                        v.by_stride.emplace_back(10 + off);
                        off = alike * off + std::sqrt(1 - alike * alike) * unit(random);
                    }
                    one.values.push_back(std::move(v));
                }
                ride.push_back(std::move(one));
            }
            told += std::ranges::any_of(stride_changes(ride), &StrideChange::real);
        }
        std::printf("strides alike by %.1f: a difference is claimed of %.1f %% who did not change\n", alike,
                    100.0 * told / kRiders);
        EXPECT_LE(told, kRiders * 65 / 1000);
    }
}

TEST(StrideChanges, OneLongBoutIsHeldAgainstItself) {
    std::vector<std::optional<double>> swing;
    for (int i = 0; i < 18; ++i) swing.emplace_back(6 + 0.5 * i);
    const auto changes = stride_changes(std::vector{strides(swing)});
    ASSERT_EQ(changes.size(), 1U);
    EXPECT_NEAR(changes[0].other - changes[0].one, 6, 1e-9);
    EXPECT_TRUE(changes[0].real);
}

TEST(StrideChanges, LeftReinAgainstRightAndSittingAgainstRising) {
    RideStrides left = strides({8, 8.4, 7.8, 8.2, 7.9, 8}), right = strides({12, 12.4, 11.8, 12.2, 11.9, 12});
    left.rein = Rein::left;
    right.rein = Rein::right;
    right.seen.side = "left";
    const auto reins = stride_changes(std::vector{left, right});
    ASSERT_EQ(reins.size(), 1U);
    EXPECT_EQ(reins[0].between, StrideChange::Between::left_right);
    EXPECT_THAT(in_words(reins, test::knowledge().spoken()),
                testing::ElementsAre(testing::HasSubstr("8° on the left rein, 12° on the right")));
    RideStrides sits = left, rises = left;
    sits.values = {{"tempo_per_min", {78, 79, 78, 79, 78, 78}, 0}};
    rises.values = {{"tempo_per_min", {84, 85, 84, 85, 84, 84}, 0}};
    rises.seen.seat = Seat::rising;
    const auto seats = stride_changes(std::vector{sits, rises});
    ASSERT_EQ(seats.size(), 1U);
    EXPECT_EQ(seats[0].between, StrideChange::Between::sitting_rising);
    EXPECT_TRUE(seats[0].real);
}

}  // namespace
}  // namespace aspen::core
