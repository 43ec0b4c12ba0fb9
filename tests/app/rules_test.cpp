// What a coach changes of the rules for good, what a rider's body does not allow, and the leathers: on a
// ride, by the records.

#include <gmock/gmock.h>

#include "app/bench_fixture.hpp"
#include "app/review/finding_row.hpp"
#include "app/review/leathers.hpp"
#include "app/review/review_changes.hpp"
#include "app/rides/rider_plan.hpp"
#include "app/yard/own_knowledge.hpp"
#include "core/ride/rule_words.hpp"

namespace aspen::app {
namespace {

using testing::Contains;
using testing::HasSubstr;

class Rules : public BenchTest {
  protected:
    void SetUp() override {
        open();
        say_everything();
        set_travel(bench.review(), core::Travel::right);
        go_to(12);
        mark_all_asked();
    }
    bool said(const char* fault) {
        for (const FindingRow& r : bench.findings().rows()) {
            if (r.found.fault->id == fault) return true;
        }
        return false;
    }
};

TEST_F(Rules, AChangedRuleHoldsAtOnceAndIsTakenBackByUndo) {
    ASSERT_TRUE(said("tipped_forward"));
    change_own_fault(yard, "tipped_forward", "eye", "true");
    EXPECT_FALSE(said("tipped_forward")) << "only the eye names it now";
    yard.steps().undo();
    EXPECT_TRUE(said("tipped_forward"));
    change_own_fault(yard, "tipped_forward", "name", "\"Nose down\"");
    change_own_fault(yard, "tipped_forward", "group", "\"fine\"");
    EXPECT_EQ(yard.knowledge().faults.find("tipped_forward")->name, "Nose down");
    EXPECT_EQ(yard.knowledge().faults.find("tipped_forward")->group, core::AttentionGroup::fine);
    EXPECT_FALSE(yard.knowledge().faults.find("tipped_forward")->rider.empty()) << "the rest is as it ships";
    change_own_fault(yard, "tipped_forward", "group", "null");
    EXPECT_EQ(yard.knowledge().faults.find("tipped_forward")->group, core::AttentionGroup::trunk);
    remove_own_fault(yard, "tipped_forward");
    EXPECT_EQ(yard.knowledge().faults.find("tipped_forward")->name, "Tipped forward");
    EXPECT_TRUE(own_fault(yard, "tipped_forward").empty());
}

TEST_F(Rules, AChangeThatDoesNotLoadIsRefusedAndNothingIsKept) {
    for (const auto& [field, value, names] :
         {std::tuple{"group", "\"bass\"", "order of attention"},
          {"seats", "[\"lying\"]", "lying"},
          {"covers", "[]", "cannot be changed"},
          {"when", "[{\"measure\":\"nose\",\"side\":\"above\"}]", "nose"}}) {
        try {
            change_own_fault(yard, "tipped_forward", field, value);
            ADD_FAILURE() << field;
        } catch (const core::Refused& e) {
            EXPECT_THAT(e.what(), HasSubstr(names));
        }
        EXPECT_TRUE(own_fault(yard, "tipped_forward").empty()) << field;
    }
    EXPECT_TRUE(said("tipped_forward"));
}

TEST_F(Rules, ARuleIsSaidInWordsWithWhatItWasHeldAgainst) {
    const core::Knowledge& k = yard.knowledge();
    const auto rule = core::rule_in_words(*k.faults.find("chair_seat"), k);
    ASSERT_FALSE(rule.empty());
    EXPECT_THAT(rule[0].words, HasSubstr("its band"));
    EXPECT_FALSE(rule[0].measure.empty());
    bool by_eye = false;
    for (const auto& l : core::rule_in_words(*k.faults.find("stirrup_too_long"), k))
        by_eye |= l.words.starts_with("by eye: ");
    EXPECT_TRUE(by_eye);
    for (const core::Fault& f : k.faults.faults()) EXPECT_FALSE(core::rule_in_words(f, k).empty()) << f.id;
    const core::Judged* lean = core::find(bench.marking().judged(), "trunk_lean");
    ASSERT_TRUE(lean);
    const std::string held = core::held_against(*lean, k.schools);
    EXPECT_THAT(held, HasSubstr("band 8 to 22 of Hunter"));
}

TEST_F(Rules, LimitationsOfThatDayMoveBandsAndSayWhy) {
    const auto reason = [&](const char* measure) {
        return core::find(bench.marking().judged(), measure)->reason;
    };
    EXPECT_EQ(reason("heel_drop"), "");
    const store::RiderId rider = bench.review().rider();
    store::Limitation ankle;
    ankle.words = "stiff ankle";
    set_limitations(yard, rider, std::vector{ankle});
    EXPECT_THAT(reason("heel_drop"), HasSubstr("ankle")) << "at once, in the open review";
    ankle.until = "2020-01-01";
    set_limitations(yard, rider, std::vector{ankle});
    EXPECT_EQ(reason("heel_drop"), "") << "it was over before this ride";
    ankle.until = "";
    ankle.side = "left";
    set_limitations(yard, rider, std::vector{ankle});
    EXPECT_EQ(reason("heel_drop"), "") << "the horse travels right: the right leg is seen";
    ankle.side = "";
    ankle.loads = "nothing";
    set_limitations(yard, rider, std::vector{ankle});
    EXPECT_EQ(reason("heel_drop"), "") << "the coach says that it holds nothing back";
    store::Ride ride = bench.review().ride();
    ride.own.hurts = "my right elbow";
    change_ride(yard, ride, "Hurts");
    EXPECT_THAT(reason("elbow_angle"), HasSubstr("elbow")) << "what hurts today counts like one";
    ASSERT_EQ(limits_on(yard.records(), yard.knowledge(), ride).size(), 1u);
    EXPECT_EQ(limits_on(yard.records(), yard.knowledge(), ride)[0].side, "right");
}

TEST_F(Rules, LeathersAreKeptByRiderSaddleAndJob) {
    EXPECT_TRUE(leathers_in_words(bench).empty());
    EXPECT_THAT(note_leathers(bench, "six").toStdString(), HasSubstr("write the hole"));
    EXPECT_THAT(note_leathers(bench, "99").toStdString(), HasSubstr("write the hole"));
    note_leathers(bench, "6 7");
    note_leathers(bench, "gallop 3");
    const auto words = leathers_in_words(bench);
    ASSERT_EQ(words.size(), 1);
    EXPECT_THAT(words[0].toStdString(), HasSubstr("left hole 6, right hole 7"));
    EXPECT_THAT(words[0].toStdString(), HasSubstr("They differ"));
    EXPECT_EQ(yard.records().people.stirrups(bench.review().rider()).size(), 2u);
    note_leathers(bench, "5,5");
    EXPECT_EQ(yard.records().people.stirrups(bench.review().rider()).size(), 2u) << "the last said holds";
    store::Ride ride = bench.review().ride();
    ride.saddle = "jumping";
    change_ride(yard, ride, "Saddle");
    EXPECT_TRUE(leathers_in_words(bench).empty()) << "another saddle, other holes";
    yard.steps().undo();
    yard.steps().undo();
    EXPECT_THAT(leathers_in_words(bench)[0].toStdString(), HasSubstr("left hole 6"));
}

}  // namespace
}  // namespace aspen::app
