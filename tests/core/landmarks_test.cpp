#include "core/body/landmarks.hpp"

#include <gtest/gtest.h>

#include <set>

#include "core/body/vocabulary.hpp"

namespace aspen::core {
namespace {

TEST(Landmarks, EveryWordComesBack) {
    std::set<std::string_view> words;
    for (std::size_t i = 0; i < kLandmarkCount; ++i) {
        const auto l = static_cast<Landmark>(i);
        EXPECT_EQ(landmark_from(id(l)), l);
        EXPECT_FALSE(where(l).empty());
        words.insert(id(l));
    }
    EXPECT_EQ(words.size(), kLandmarkCount);
    EXPECT_FALSE(landmark_from("nose"));
}

TEST(Landmarks, OrderOfTheFileFormatIsFixed) {
    std::string side;
    for (const Landmark l : landmarks_of(View::side)) side += std::string(id(l)) + ' ';
    EXPECT_EQ(side,
              "ear eye chin shoulder elbow wrist knuckle hip knee ankle heel toe leather_top iron bit poll "
              "withers girth cantle croup ");
    EXPECT_EQ(landmarks_of(View::rear).size(), 23U);
    EXPECT_EQ(landmarks_of(View::front).front(), Landmark::chin);
    EXPECT_EQ(first_nine().size(), 9U);
}

TEST(Landmarks, AskingGoesThroughAllOnceTheNineFirst) {
    const auto order = asking_order(View::side);
    EXPECT_EQ(std::set(order.begin(), order.end()).size(), landmarks_of(View::side).size());
    EXPECT_TRUE(std::equal(first_nine().begin(), first_nine().end(), order.begin()));
}

TEST(Vocabulary, WordsComeBackAndOthersDoNot) {
    for (const Gait g : kGaits) EXPECT_EQ(gait_from(word(g)), g);
    for (const Seat s : kSeats) EXPECT_EQ(seat_from(word(s)), s);
    for (const View v : {View::side, View::front, View::rear}) EXPECT_EQ(view_from(word(v)), v);
    EXPECT_FALSE(gait_from("gallop"));
    EXPECT_FALSE(travel_from(""));
    EXPECT_TRUE(is_movement("fence"));
    EXPECT_FALSE(is_phase("middle"));
}

TEST(Vocabulary, PhasesSuitTheGait) {
    EXPECT_EQ(phases(Gait::trot, Seat::rising).size(), 2U);
    EXPECT_EQ(phases(Gait::trot, Seat::rising).front(), "rise_top");
    EXPECT_EQ(phases(Gait::canter, Seat::sitting).back(), "suspension");
    EXPECT_EQ(phases(Gait::jump, Seat::two_point).front(), "approach");
    EXPECT_EQ(phases(Gait::jump, Seat::two_point).back(), "departure");
    EXPECT_EQ(phases(Gait::halt, Seat::sitting).front(), "halt");
    EXPECT_EQ(phases(Gait::walk, Seat::sitting).size(), 4U) << "four feet, one after the other";
    EXPECT_EQ(phases(Gait::trot, Seat::sitting).front(), "beat_1");
    for (const auto phase : all_phases())
        EXPECT_NE(spoken_phase(phase).find_first_not_of("_"), std::string_view::npos);
    EXPECT_EQ(spoken_phase("rise_top"), "top of the rise");
    EXPECT_EQ(spoken_phase("something else"), "something else");
}

}  // namespace
}  // namespace aspen::core
