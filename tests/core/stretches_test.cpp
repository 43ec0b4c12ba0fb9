#include "core/body/stretches.hpp"

#include <gmock/gmock.h>

#include "core/motion/stride_guess.hpp"

namespace aspen::core {
namespace {

const auto to_trot = [](Stretch& s) { s.gait = Gait::trot; };
const auto to_canter = [](Stretch& s) { s.gait = Gait::canter; };
const auto to_left = [](Stretch& s) { s.rein = Rein::left; };

TEST(Stretches, AKeyCutsAtItsInstantAndLeavesWhatWasBefore) {
    Stretches all = cut_at({}, 100, to_trot);
    ASSERT_EQ(all.size(), 2U);
    EXPECT_EQ(all[0].first, 0);
    EXPECT_TRUE(all[0].says_nothing());
    EXPECT_EQ(all[1].first, 100);
    EXPECT_EQ(all[1].gait, Gait::trot);
    all = cut_at(all, 250, to_left);
    ASSERT_EQ(all.size(), 3U);
    EXPECT_EQ(all[2].gait, Gait::trot) << "the gait goes on";
    EXPECT_EQ(all[2].rein, Rein::left);
    EXPECT_FALSE(all[1].rein);
    all = cut_at(all, 100, to_canter);
    EXPECT_EQ(all.size(), 3U) << "exactly at a start it is changed, not cut";
    EXPECT_EQ(all[1].gait, Gait::canter);
}

TEST(Stretches, SayingTheSameAgainCutsNothing) {
    const Stretches all = cut_at(cut_at({}, 0, to_trot), 60, to_trot);
    EXPECT_EQ(all.size(), 1U);
    EXPECT_EQ(all[0].first, 0);
}

TEST(Stretches, AreFoundByFrame) {
    EXPECT_EQ(stretch_at(whole_clip(), 5), 0U);
    const Stretches all = cut_at(cut_at({}, 100, to_trot), 200, to_canter);
    EXPECT_EQ(stretch_at(all, 0), 0U);
    EXPECT_EQ(stretch_at(all, 99), 0U);
    EXPECT_EQ(stretch_at(all, 100), 1U);
    EXPECT_EQ(stretch_at(all, 5000), 2U);
    EXPECT_EQ(extent(all, 1, 300), (std::pair{100, 199}));
    EXPECT_EQ(extent(all, 2, 300), (std::pair{200, 299}));
}

TEST(Stretches, BordersStayBetweenTheirNeighbours) {
    const Stretches all = cut_at(cut_at({}, 100, to_trot), 200, to_canter);
    EXPECT_EQ(move_border(all, 1, 150, 300)[1].first, 150);
    EXPECT_EQ(move_border(all, 1, 900, 300)[1].first, 199);
    EXPECT_EQ(move_border(all, 1, -4, 300)[1].first, 1);
    EXPECT_EQ(move_border(all, 2, 900, 300)[2].first, 299);
    EXPECT_EQ(move_border(all, 0, 50, 300), all) << "the first has no border";
    EXPECT_EQ(move_border(all, 9, 50, 300), all);
}

TEST(Stretches, JoiningKeepsTheEarlierWordsAndTakesWhatIsMissing) {
    Stretches all = cut_at(cut_at(cut_at({}, 0, to_trot), 200, to_canter), 200, to_left);
    all[1].name = "the corner";
    const Stretches one = join(all, 1);
    ASSERT_EQ(one.size(), 1U);
    EXPECT_EQ(one[0].gait, Gait::trot);
    EXPECT_EQ(one[0].rein, Rein::left);
    EXPECT_EQ(one[0].name, "the corner");
    EXPECT_EQ(join(all, 0), one) << "the first one goes with the second";
    EXPECT_EQ(join(one, 0), one) << "every frame lies in exactly one";
    EXPECT_EQ(join(all, 7), all);
}

TEST(Stretches, SplittingAtAStartChangesNothing) {
    const Stretches all = cut_at({}, 100, to_trot);
    EXPECT_EQ(split_at(all, 100), all);
    EXPECT_EQ(split_at(all, 150).size(), 3U);
    EXPECT_EQ(split_at(all, -3), all);
}

TEST(StrideGuess, LearnsFromNamedMomentsElseTakesTheGaitsUsual) {
    EXPECT_NEAR(stride_guess_s({}, "rise_top", Gait::trot), 60.0 / 80, 1e-9);
    EXPECT_EQ(stride_guess_s({}, "", Gait::halt), 0);
    const std::vector<NamedInstant> named{
        {1.0, "rise_top"}, {1.7, "rise_top"}, {1.4, "rise_bottom"}, {9.0, "rise_top"}};
    EXPECT_NEAR(stride_guess_s(named, "rise_top", Gait::trot), 0.7, 1e-9);
    EXPECT_NEAR(stride_guess_s(named, "rise_bottom", Gait::trot), 0.75, 1e-9) << "only one of them";
}

}  // namespace
}  // namespace aspen::core
