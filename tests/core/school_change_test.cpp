#include <gmock/gmock.h>

#include <algorithm>

#include "core/core_support.hpp"
#include "core/training/exercise_text.hpp"
#include "core/training/school_change.hpp"

#include <nlohmann/json.hpp>

namespace aspen::core {
namespace {

using test::knowledge;
using testing::HasSubstr;

std::vector<SchoolStep> change(const char* from, const char* to) {
    Setting s;
    s.gait = Gait::trot;
    s.seat = Seat::sitting;
    return school_change(knowledge().schools, knowledge().faults, knowledge().exercises, from, to, s,
                         {"novice", {}});
}

// Common practice, no source: sitting, dressage knee 108…138 and hunter 98…125, trunk −3…4 and 0…7, heel drop
// 1…12 and 6…20.
TEST(SchoolChange, GoesFromTheBaseToTheHandsByTheBandsThatDiffer) {
    const auto steps = change("classical", "hunter");
    ASSERT_FALSE(steps.empty());
    for (std::size_t i = 1; i < steps.size(); ++i) EXPECT_LE(steps[i - 1].group, steps[i].group);
    const auto knee = std::ranges::find(steps, "knee_angle", &SchoolStep::measure);
    ASSERT_NE(knee, steps.end());
    EXPECT_DOUBLE_EQ(knee->shift, -11.5);
    EXPECT_EQ(knee->words, "knee: 108 to 138° now, 98 to 125° there");
    const auto trunk = std::ranges::find(steps, "trunk_lean", &SchoolStep::measure);
    ASSERT_NE(trunk, steps.end());
    EXPECT_DOUBLE_EQ(trunk->shift, 3);
    EXPECT_LT(knee, trunk) << "the leg before the trunk";
    ASSERT_TRUE(trunk->exercise);
    EXPECT_FALSE(trunk->clip.empty());
    EXPECT_EQ(std::ranges::find(steps, "hip_angle", &SchoolStep::measure), steps.end())
        << "a consequence, no opinion";
    EXPECT_EQ(std::ranges::find(steps, "leather_angle", &SchoolStep::measure), steps.end());
}

// Common practice, no source: what is a forward habit of the old school is sat and ridden in transitions, not
// trained by more two-point; and the other way round.
TEST(SchoolChange, ChoosesByTheDirectionOfTheChange) {
    const auto trunk = [](const char* from, const char* to) {
        const auto steps = change(from, to);
        return *std::ranges::find(steps, "trunk_lean", &SchoolStep::measure);
    };
    const SchoolStep up = trunk("hunter", "jumper"), forward = trunk("jumper", "hunter");
    EXPECT_LT(up.shift, 0);
    ASSERT_TRUE(up.exercise && forward.exercise);
    EXPECT_EQ(up.exercise->id, "sitting_trot_short_counts");
    EXPECT_EQ(forward.exercise->id, "two_point_walk_trot");
}

TEST(SchoolChange, IsNothingBetweenASchoolAndItself) {
    EXPECT_TRUE(change("hunter", "hunter").empty());
    const auto there = change("classical", "jumper"), back = change("jumper", "classical");
    ASSERT_EQ(there.size(), back.size());
    for (const SchoolStep& s : there) {
        const auto same = std::ranges::find(back, s.measure, &SchoolStep::measure);
        ASSERT_NE(same, back.end());
        EXPECT_DOUBLE_EQ(same->shift, -s.shift);
    }
}

// Every shipped exercise, written as a coach writes and read back, is the same exercise.
TEST(ExerciseText, EveryFieldReadsBackAsItWasWritten) {
    for (const Exercise& e : knowledge().exercises.all()) {
        nlohmann::ordered_json whole = as_json(e, e.id, e.name);
        const nlohmann::ordered_json before = whole;
        for (const std::string& field : exercise_fields())
            whole.merge_patch(
                field_json(field, field_text(e, field, knowledge().faults), knowledge().faults));
        EXPECT_EQ(whole, before) << e.id;
    }
}

TEST(ExerciseText, SaysWhichLineItCannotRead) {
    const auto refusal = [](const char* field, const char* text) {
        try {
            field_json(field, text, knowledge().faults);
            return std::string();
        } catch (const Refused& e) {
            return std::string(e.what());
        }
    };
    EXPECT_THAT(refusal("ladder", "walk: a lap\ngallop: away"), HasSubstr("ladder: line 2 says \"gallop\""));
    EXPECT_THAT(refusal("ladder", "a lap"), HasSubstr("line 1 says no gait"));
    EXPECT_THAT(refusal("ladder", "walk: a lap (often)"), HasSubstr("says \"often\""));
    EXPECT_THAT(refusal("answers", "Heel up, Juggling"), HasSubstr("\"Juggling\" is not a fault"));
    EXPECT_THAT(refusal("weeks", "soon"), HasSubstr("no whole number"));
    EXPECT_EQ(
        refusal("ladder", "trot: a lap (3 x 2 min, 3 of 4, held 10, no stirrups; may work without stirrups)"),
        "");
}

}  // namespace
}  // namespace aspen::core
