#include "core/following/following.hpp"

#include <gtest/gtest.h>

namespace aspen::core {
namespace {

const Band kBand{-6, 6, 6, {}, {}};
constexpr auto I = Verdict::inside, B = Verdict::borderline, O = Verdict::outside;

TEST(MeanOf, OneMomentKeepsItsError) {
    const auto v = mean_of({{9, 1.5}}, kBand);
    ASSERT_TRUE(v);
    EXPECT_DOUBLE_EQ(v->value, 9);
    EXPECT_DOUBLE_EQ(v->sd, 1.5);
    EXPECT_EQ(v->verdict, Verdict::outside);
    EXPECT_FALSE(mean_of({}, kBand));
}

TEST(MeanOf, SeveralMomentsAddSpreadAndNeverBeatHalfTheSingleError) {
    const auto spread = mean_of({{4, 1}, {8, 1}}, kBand);
    EXPECT_DOUBLE_EQ(spread->value, 6);
    EXPECT_NEAR(spread->sd, std::sqrt((1.0 + 8.0) / 2), 1e-12);
    const std::vector<MomentValue> many(100, {5, 2});
    EXPECT_DOUBLE_EQ(mean_of(many, kBand)->sd, 1.0)
        << "what the camera adds to all alike does not average out";
}

TEST(Stages, FollowACorrectionsLife) {
    EXPECT_EQ(stage_of({O}, false, false), Stage::noticed);
    EXPECT_EQ(stage_of({O}, true, false), Stage::confirmed);
    EXPECT_EQ(stage_of({O, O}, true, true), Stage::in_work);
    EXPECT_EQ(stage_of({O, B}, true, true), Stage::in_work) << "borderline is not held";
    EXPECT_EQ(stage_of({O, I}, true, true), Stage::holding);
    EXPECT_EQ(stage_of({O, I, B, I, I}, true, true), Stage::settled) << "borderline does not break the run";
    EXPECT_EQ(stage_of({O, I, I, I}, true, true), Stage::settled);
    EXPECT_EQ(stage_of({O, I, O}, true, true), Stage::back_again);
    EXPECT_EQ(stage_of({O, I, O, I}, true, true), Stage::holding);
    EXPECT_EQ(stage_of({}, true, true), Stage::in_work);
}

TEST(Changed, OnlyWhatIsLargerThanTheErrorOfBoth) {
    const ReviewValue a{10, 1.0, O, kBand, 1};
    EXPECT_FALSE(changed(a, {12.7, 1.0, O, kBand, 1}));
    EXPECT_TRUE(changed(a, {12.8, 1.0, O, kBand, 1}));
    EXPECT_TRUE(changed({12.8, 1.0, O, kBand, 1}, a));
}

}  // namespace
}  // namespace aspen::core
