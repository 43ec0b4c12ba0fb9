// What a coach's answers say of the eye: by answers whose error is set.

#include <gmock/gmock.h>

#include <random>

#include "core/eye/drills.hpp"
#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

DrillDone answer(double off, const char* day = "2026-11-01") {
    return {day, "", "trunk_lean", "drawn:1", off};
}

TEST(EyeSkill, FindsTheBiasAndTheErrorThatWereSet) {
    std::mt19937 random(4);
    std::normal_distribution<double> guess(2.5, 3.0);
    std::vector<DrillDone> done;
    for (int i = 0; i < 4000; ++i) done.push_back(answer(guess(random)));
    const EyeSkill s = skill_of(DrillKind::angle, done);
    EXPECT_NEAR(*s.bias, 2.5, 0.15);
    EXPECT_NEAR(*s.error, 3.0, 0.15);
    EXPECT_NEAR(*s.smallest_change, 1.96 * std::sqrt(2.0) * *s.error, 1e-9) << "Weir 2005";
    EXPECT_NEAR(s.limits->lo, *s.bias - 2 * *s.error, 1e-9) << "Bland & Altman 1986";
    EXPECT_FALSE(s.right);
    EXPECT_FALSE(skill_of(DrillKind::angle, std::vector{answer(1)}).bias);
}

TEST(EyeSkill, AWordIsRightOrWrongWithItsInterval) {
    std::vector<DrillDone> done(10, answer(0));
    done[3].off = 1;
    done[4].off = 1;
    const EyeSkill s = skill_of(DrillKind::lead, done);
    EXPECT_EQ(s.n, 10);
    EXPECT_DOUBLE_EQ(s.right->share, 0.8);
    EXPECT_LT(s.right->lo, 0.8);
    EXPECT_FALSE(s.bias);
}

TEST(EyeDue, WaitsTwiceAsLongAfterEveryGoodDayAndBeginsAnewAfterAPoorOne) {
    EXPECT_EQ(due_in_days(DrillKind::lead, {}, "2026-11-01"), 0);
    std::vector<DrillDone> done(5, answer(0, "2026-11-01"));
    EXPECT_EQ(due_in_days(DrillKind::lead, done, "2026-11-01"), 2);
    EXPECT_EQ(due_in_days(DrillKind::lead, done, "2026-11-04"), -1);
    for (int i = 0; i < 5; ++i) done.push_back(answer(0, "2026-11-03"));
    for (int i = 0; i < 5; ++i) done.push_back(answer(0, "2026-11-07"));
    EXPECT_EQ(due_in_days(DrillKind::lead, done, "2026-11-07"), 8);
    for (int i = 0; i < 5; ++i) done.push_back(answer(i < 2 ? 1 : 0, "2026-11-15"));
    EXPECT_EQ(due_in_days(DrillKind::lead, done, "2026-11-15"), 2) << "six of ten is no good day";
    std::vector<DrillDone> angles(4, answer(3.5, "2026-11-01"));
    for (int i = 0; i < 4; ++i) angles.push_back(answer(-3.5, "2026-11-03"));
    EXPECT_EQ(due_in_days(DrillKind::angle, angles, "2026-11-03"), 4);
    angles.resize(7);
    EXPECT_EQ(due_in_days(DrillKind::angle, angles, "2026-11-03"), 2) << "three answers are no day's drill";
}

TEST(EyeOrder, CountsPairsTheWrongWayRound) {
    EXPECT_DOUBLE_EQ(order_off({"a", "b", "c"}, {"a", "b", "c"}), 0);
    EXPECT_DOUBLE_EQ(order_off({"b", "a", "c"}, {"a", "b", "c"}), 1.0 / 3);
    EXPECT_DOUBLE_EQ(order_off({"c", "b", "a"}, {"a", "b", "c"}), 1);
    EXPECT_THROW(order_off({"a"}, {"a", "b"}), Refused);
    EXPECT_THROW(order_off({"a", "x"}, {"a", "b"}), Refused);
}

TEST(EyeAgree, TwoCoachesAreHeldAgainstEachOtherOnWhatBothWereShown) {
    EXPECT_FALSE(agree(std::vector<SaidOf>{{"one", 1}}, std::vector<SaidOf>{{"one", 1}}));
    const std::vector<SaidOf> mine{{"a", 10}, {"b", 20}, {"c", 30}, {"d", 5}, {"mine alone", 99}},
        theirs{{"a", 12}, {"b", 22}, {"c", 32}, {"d", 7}, {"theirs alone", -99}};
    const auto both = agree(mine, theirs);
    ASSERT_TRUE(both);
    EXPECT_EQ(both->shared, 4);
    EXPECT_NEAR(both->limits.mean, -2, 1e-9);
    EXPECT_GT(both->icc_2_1, 0.95) << "a steady two degrees apart";
    std::vector<SaidOf> other = theirs;
    for (std::size_t i = 0; i < 4; ++i) other[i].said = i % 2 ? 30 : 0;
    EXPECT_LT(agree(mine, other)->icc_2_1, both->icc_2_1);
}

TEST(EyeWords, EveryDrillHasItsWords) {
    for (int i = 0; i < kDrillKinds; ++i) {
        const auto k = static_cast<DrillKind>(i);
        EXPECT_EQ(drill_from(word(k)), k);
        EXPECT_FALSE(spoken(k).empty());
    }
    EXPECT_FALSE(drill_from("nonsense"));
}

}  // namespace
}  // namespace aspen::core
