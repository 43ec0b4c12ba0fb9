// A correction's life, its trend, and what an exercise did: by hand-made rides.

#include "core/following/life.hpp"

#include <gmock/gmock.h>

#include <random>

#include "core/core_support.hpp"
#include "core/following/comparing.hpp"
#include "core/following/trend.hpp"
#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

using V = RideVerdict;
/// A ride that carries a proposal with another like it, and one that carries it alone.
RideSays by_three(V v) { return {v, kCarriesARide}; }
RideSays by_six(V v) { return {v, kCarriesAlone}; }
using testing::ElementsAre;

TEST(Life, WhatTheRidesBringIsProposedAndTheCoachDecides) {
    const std::vector<RideSays> rides{by_three(V::outside), by_three(V::outside), by_six(V::inside)};
    Life life = life_of(rides, {}, true, true);
    EXPECT_EQ(life.stands, Stage::in_work) << "accepted and given: the coach's own doing";
    EXPECT_EQ(life.proposes, Stage::holding);
    EXPECT_EQ(life.because_of, 2U) << "the ride that brought it";
    EXPECT_EQ(life.shown(), Stage::holding);
    EXPECT_THAT(life.along, ElementsAre(Stage::in_work, Stage::in_work, Stage::holding));
    const StageSaid yes{Stage::holding, 3};
    life = life_of(rides, {{yes}}, true, true);
    EXPECT_EQ(life.stands, Stage::holding);
    EXPECT_FALSE(life.proposes);
}

TEST(Life, AWordThatWasSaidStaysUntilTheRuleSaysSomethingElse) {
    const StageSaid no{Stage::in_work, 2};
    std::vector<RideSays> rides{by_three(V::outside), by_six(V::inside)};
    Life life = life_of(rides, {{no}}, true, true);
    EXPECT_EQ(life.stands, Stage::in_work);
    EXPECT_FALSE(life.proposes) << "asked once, answered once";
    rides.push_back(by_three(V::inside));
    EXPECT_FALSE(life_of(rides, {{no}}, true, true).proposes) << "still holding by the rule: nothing new";
    rides.push_back(by_three(V::inside));
    life = life_of(rides, {{no}}, true, true);
    EXPECT_EQ(life.proposes, Stage::settled);
    EXPECT_EQ(life.stands, Stage::in_work);
    rides.push_back(by_six(V::outside));
    EXPECT_EQ(life_of(rides, {{no}}, true, true).proposes, Stage::back_again);
    rides.back() = by_three(V::other_side);
    EXPECT_EQ(life_of(rides, {{no}}, true, true).proposes, Stage::overcorrected);
}

TEST(Life, NothingIsProposedWhereNoRideSaysAnything) {
    EXPECT_EQ(life_of({}, {}, true, false).stands, Stage::confirmed);
    EXPECT_EQ(life_of({}, {}, false, false).stands, Stage::noticed);
    const std::vector<RideSays> dull{V::not_judged, V::borderline};
    EXPECT_FALSE(life_of(dull, {}, true, true).proposes);
}

TEST(Moved, AnExerciseHeldWhenTheLastThatCouldJudgeIsInside) {
    Moved m;
    add_giving(m, std::vector{V::outside, V::inside, V::borderline});
    add_giving(m, std::vector{V::inside, V::outside});
    add_giving(m, std::vector{V::not_judged});
    add_giving(m, {});
    EXPECT_EQ(m.given, 4);
    EXPECT_EQ(m.judged, 2);
    EXPECT_EQ(m.held, 1);
}

TEST(Trend, IsToldOnlyBeyondItsInterval) {
    std::vector<double> days;
    std::vector<ReviewValue> values;
    for (int i = 0; i < 6; ++i) {
        days.push_back(30.44 * i);
        ReviewValue v;
        v.value = 10 - i + (i % 2 ? 0.2 : -0.2);
        v.sd = 0.4;
        values.push_back(v);
    }
    const auto falling = trend_of(days, values, 0);
    ASSERT_TRUE(falling);
    EXPECT_NEAR(falling->a_month, -1, 0.15);
    EXPECT_TRUE(falling->told);
    EXPECT_LT(falling->lo, falling->a_month);
    EXPECT_LT(falling->reach(falling->line.middle), falling->reach(0)) << "narrowest in the middle";
    EXPECT_FALSE(trend_of(days, values, 4)->told) << "a good and a bad day differ by as much";
    for (ReviewValue& v : values) v.sd = 6;
    EXPECT_FALSE(trend_of(days, values, 0)->told) << "wide errors tell nothing";
    EXPECT_FALSE(trend_of(std::vector{1.0, 2.0}, std::vector(2, values[0]), 0));
    EXPECT_FALSE(trend_of(std::vector{1.0, 1.0, 1.0}, std::vector(3, values[0]), 0)) << "one day is no time";
    EXPECT_THROW(fit_line(std::vector{1.0}, std::vector{1.0, 2.0}, std::vector{1.0}), Refused);
}

// By hand: three values a month apart, a slope of sd 1 / sqrt(2) a month for errors of 1; one degree of
// freedom.
TEST(Trend, FewRidesReachFurtherAndScatterWidens) {
    const std::vector<double> days{0, 30.44, 60.88};
    std::vector<ReviewValue> values(3);
    for (std::size_t i = 0; i < 3; ++i) values[i].value = 2.0 * static_cast<double>(i), values[i].sd = 1;
    const auto straight = trend_of(days, values, 0);
    EXPECT_NEAR(straight->hi - straight->a_month, 6.314 / std::sqrt(2.0), 1e-3);
    values[1].value += 6;  // off the line by 6: residuals -2, 4, -2
    const auto scattered = trend_of(days, values, 0);
    EXPECT_NEAR(scattered->hi - scattered->a_month, 6.314 / std::sqrt(2.0) * std::sqrt(24.0), 1e-2);
}

TEST(Trend, AnAngleThatTurnsRightRoundGoesOn) {
    std::vector<double> days{0, 30, 60};
    std::vector<ReviewValue> values(3);
    const double turned[] = {178, -178, -174};
    for (std::size_t i = 0; i < 3; ++i) values[i].value = turned[i], values[i].sd = 0.5;
    EXPECT_NEAR(trend_of(days, values, 0, true)->a_month, 4 * 30.44 / 30, 0.2);
}

// A line whose truth is known: the interval holds it in nine of ten.
TEST(Trend, ItsIntervalHoldsTheTruth) {
    std::mt19937 random(3);
    std::normal_distribution<double> unit;
    int held = 0;
    constexpr int kLines = 2000;
    for (int n = 0; n < kLines; ++n) {
        std::vector<double> days;
        std::vector<ReviewValue> values;
        for (int i = 0; i < 8; ++i) {
            ReviewValue v;
            v.sd = 0.5 + 0.25 * (i % 4);
            days.push_back(20.0 * i + 3 * (i % 3));
            v.value = 4 - 0.02 * days.back() + v.sd * unit(random);
            values.push_back(v);
        }
        const auto t = trend_of(days, values, 0);
        held += t->lo <= -0.02 * 30.44 && -0.02 * 30.44 <= t->hi ? 1 : 0;
    }
    const double share = static_cast<double>(held) / kLines;
    std::printf("the trend's 90 %% interval holds the truth in %.1f %%\n", 100 * share);
    EXPECT_GE(share, 0.9) << "the larger of two errors: never too narrow";
    EXPECT_LE(share, 0.97);
}

// The days of a rider whose form is 3 degrees where 2 are usual, over lines of ten rides: learned from five
// rides on, more of it the more lines there are; a steady rider's never below half the usual one.
TEST(Form, IsLearnedFromTheRidersOwnLines) {
    std::mt19937 random(11);
    std::normal_distribution<double> unit;
    const auto line = [&](int rides, double form) {
        OwnLine out;
        for (int i = 0; i < rides; ++i) {
            out.days.push_back(20.0 * i);
            ReviewValue v;
            v.sd = 1;
            v.value = 5 - 0.02 * out.days.back() + std::hypot(form, v.sd) * unit(random);
            out.values.push_back(v);
        }
        return out;
    };
    EXPECT_EQ(learned_form(std::vector{line(4, 9)}, 2), 2) << "four rides teach nothing";
    EXPECT_EQ(learned_form({}, 2), 2);
    double one = 0, ten = 0, steady = 0;
    for (int n = 0; n < 400; ++n) {
        one += learned_form(std::vector{line(10, 3)}, 2) / 400;
        ten += learned_form(std::vector(10, line(10, 3)), 2) / 400;
        std::vector<OwnLine> still;
        for (int k = 0; k < 30; ++k) still.push_back(line(10, 0));
        steady += learned_form(still, 2) / 400;
    }
    EXPECT_NEAR(one, 2.6, 0.2);
    EXPECT_NEAR(ten, 3, 0.25);
    EXPECT_NEAR(steady, 1.1, 0.12) << "half the usual form, whatever the rides say";
}

ReviewValue over(int moments, double value, double sd, double sd_common = 0) {
    ReviewValue v;
    v.value = value;
    v.sd = sd;
    v.moments = moments;
    v.sd_common = sd_common;
    return v;
}

TEST(Change, IsMoreThanAGoodAndABadDayDiffer) {
    EXPECT_TRUE(changed(over(6, 0, 1), over(6, 7, 1), 2));
    EXPECT_FALSE(changed(over(6, 0, 1), over(6, 6, 1), 2))
        << "1.96 times the root of 1 + 1 + 2 times 4 is 6.2";
    EXPECT_NEAR(smallest_change(over(6, 0, 1), over(6, 0, 1), 2), 1.96 * std::sqrt(10.0), 1e-12);
    EXPECT_FALSE(changed(over(2, 0, 0.1), over(6, 8, 0.1), 2))
        << "two moments: three times the root of 2, times 2";
    EXPECT_TRUE(changed(over(2, 0, 0.1), over(6, 8.6, 0.1), 2));
}

TEST(Change, SaysHowManyMomentsMoreWouldTell) {
    EXPECT_EQ(moments_to_tell(over(6, 0, 1), over(6, 7, 1), 2), 0);
    EXPECT_EQ(moments_to_tell(over(6, 0, 1), over(2, 7, 3), 2), 3) << "3 degrees by two are 1.9 by five";
    EXPECT_FALSE(moments_to_tell(over(6, 0, 1), over(2, 7, 3, 3), 2)) << "an unmarked tripod stays as it is";
    EXPECT_FALSE(moments_to_tell(over(6, 0, 1), over(2, 3, 1), 2)) << "days differ by more";
}

Shown ridden(Gait gait, Seat seat) {
    Shown s;
    s.travel = Travel::right;
    s.yaw_said = true;
    s.setting.gait = gait;
    s.setting.seat = seat;
    return s;
}

TEST(Comparing, SaysWhatSpoilsIt) {
    const Shown a = ridden(Gait::trot, Seat::rising);
    EXPECT_TRUE(spoilers(a, a).empty());
    const auto told = [&](auto change) {
        Shown b = a;
        change(b);
        const auto all = spoilers(a, b);
        return all.empty() ? std::string() : all.front();
    };
    using testing::HasSubstr;
    EXPECT_THAT(told([](Shown& b) { b.view = View::rear; }), HasSubstr("from behind"));
    EXPECT_THAT(told([](Shown& b) { b.setting.gait = Gait::canter; }), HasSubstr("Another gait"));
    EXPECT_THAT(told([](Shown& b) { b.setting.seat = Seat::sitting; }), HasSubstr("Another seat"));
    EXPECT_THAT(told([](Shown& b) { b.travel = Travel::left; }), HasSubstr("other side"));
    EXPECT_THAT(told([](Shown& b) { b.yaw_deg = 15; }), HasSubstr("15° apart"));
    EXPECT_THAT(told([](Shown& b) { b.slowed = true; }), HasSubstr("Slow motion"));
    EXPECT_THAT(told([](Shown& b) { b.time_sure = false; }), HasSubstr("made up"));
    Shown one = a, other = a;
    one.setting.stirrups = Stirrups::on;
    other.setting.stirrups = Stirrups::off;
    EXPECT_THAT(spoilers(one, other).front(), HasSubstr("stirrups"));
    one.saddle = "stock", other.saddle = "jumping";
    EXPECT_EQ(spoilers(one, other).size(), 2U);
    other = a;
    other.travel = Travel::left;
    EXPECT_TRUE(spoilers(a, other, false).empty()) << "two reins on purpose";
}

TEST(Comparing, ADifferenceCountsBeyondBothErrors) {
    const auto judged = [](double value, double sd) {
        Judged j;
        j.measured.info = find_measure("trunk_lean");
        j.measured.value = value;
        j.measured.sd = sd;
        return j;
    };
    auto all = differences_between({judged(10, 1)}, {judged(13, 1)});
    ASSERT_EQ(all.size(), 1U);
    EXPECT_DOUBLE_EQ(all[0].by, 3);
    EXPECT_NEAR(all[0].sd, std::sqrt(2.0), 1e-12);
    EXPECT_TRUE(all[0].real) << "1.96 √2 is 2.77";
    all = differences_between({judged(10, 1)}, {judged(12.7, 1)});
    EXPECT_FALSE(all[0].real);
    // Of two rides a good and a bad day lie between them, and one moment of each carries little.
    const Body& body = test::knowledge().body;
    EXPECT_FALSE(differences_between({judged(10, 1)}, {judged(18, 1)}, &body)[0].real);
    EXPECT_TRUE(differences_between({judged(10, 1)}, {judged(19, 1)}, &body)[0].real)
        << "3 √2 times 2 is 8.5";
    Judged none = judged(1, 1);
    none.measured.value.reset();
    EXPECT_TRUE(differences_between({none}, {judged(1, 1)}).empty());
    const auto& k = test::knowledge();
    EXPECT_EQ(k.measure_words.of_change(*find_measure("trunk_lean"), 3, k.body, {}), "trunk further forward");
    EXPECT_EQ(k.measure_words.of_change(*find_measure("heel_offset"), -9, k.body, {170, false}),
              "heel 8 cm further back");
}

}  // namespace
}  // namespace aspen::core
