#include <gmock/gmock.h>

#include "core/core_support.hpp"
#include "core/reading/knowledge.hpp"

namespace aspen::core {
namespace {

using test::knowledge;
using testing::ElementsAre;
using testing::HasSubstr;

/// Values that stand where they are put, with a band of -5 to 5 and an error of 1.
std::vector<Judged> values(const std::map<std::string, double>& set) {
    std::vector<Judged> out;
    for (const auto& [id, value] : set) {
        Judged j;
        j.measured = {find_measure(id), value, 1, {}};
        j.band = Band{-5, 5, 5, {}, {}};
        j.verdict = verdict_of(value, 1, *j.band);
        if (j.verdict != Verdict::inside) j.beyond = value > 0 ? Beyond::above : Beyond::below;
        if (j.verdict == Verdict::outside) j.severity = (std::abs(value) - 5 - 1.645) / 5;
        out.push_back(j);
    }
    return out;
}
std::vector<std::string> ids(const std::vector<FoundFault>& found, Verdict v) {
    std::vector<std::string> out;
    for (const FoundFault& f : found) {
        if (f.verdict == v) out.push_back(f.fault->id);
    }
    return out;
}
std::vector<FoundFault> look(const std::map<std::string, double>& set, Seat seat = Seat::sitting) {
    return knowledge().faults.look_for(values(set), {"classical", Gait::trot, seat, {}, {}}, View::side);
}

TEST(Faults, ShippedBookHasAtLeastTenMeasuredOnes) {
    const auto& all = knowledge().faults.faults();
    EXPECT_GE(std::ranges::count_if(all, [](const Fault& f) { return !f.by_eye; }), 10);
    for (const Fault& f : all) EXPECT_FALSE(f.says.empty()) << f.id;
}

TEST(Faults, AreNamedOnlyWhenCertain) {
    EXPECT_THAT(ids(look({{"heel_offset", -12}}), Verdict::outside), ElementsAre("lower_leg_back"));
    EXPECT_THAT(ids(look({{"heel_offset", -5.5}}), Verdict::outside), ElementsAre());
    EXPECT_THAT(ids(look({{"heel_offset", -5.5}}), Verdict::borderline), ElementsAre("lower_leg_back"));
    EXPECT_TRUE(look({{"heel_offset", 0}}).empty());
}

TEST(Faults, AChairSeatCoversItsParts) {
    EXPECT_THAT(ids(look({{"heel_offset", 12}, {"trunk_lean", -12}}), Verdict::outside),
                ElementsAre("chair_seat"));
    EXPECT_THAT(ids(look({{"heel_offset", 12}, {"trunk_lean", 0}}), Verdict::outside),
                ElementsAre("lower_leg_forward"));
    const auto unsure = look({{"heel_offset", 12}, {"trunk_lean", -6}});
    EXPECT_THAT(ids(unsure, Verdict::outside), ElementsAre("lower_leg_forward"))
        << "a borderline chair seat covers nothing";
}

TEST(Faults, KeepToTheirSeatAndView) {
    EXPECT_TRUE(ids(look({{"shoulder_past_knee", 30}}), Verdict::outside).empty());
    EXPECT_THAT(ids(look({{"shoulder_past_knee", 30}}, Seat::two_point), Verdict::outside),
                ElementsAre("shoulder_past_knee"));
    const auto rear =
        knowledge().faults.look_for(values({{"shoulder_tilt", 9}, {"trunk_lean", 20}}),
                                    {"classical", Gait::walk, Seat::sitting, {}, {}}, View::rear);
    EXPECT_THAT(ids(rear, Verdict::outside), ElementsAre("dropped_shoulder"));
}

TEST(Faults, OverMomentsCountHowOftenAndMeanSeverity) {
    const auto a = look({{"heel_offset", -12}}), b = look({{"heel_offset", -16}}),
               c = look({{"heel_offset", 0}});
    const auto merged = knowledge().faults.merge({a, b, c, c});
    ASSERT_EQ(merged.size(), 1U);
    EXPECT_DOUBLE_EQ(merged[0].share, 0.5);
    EXPECT_NEAR(merged[0].severity, (a[0].severity + b[0].severity) / 2, 1e-12);
}

TEST(Causes, NeedBothEnds) {
    const auto found = look({{"heel_offset", -12}, {"trunk_lean", 12}});
    const auto causes = knowledge().faults.causes_among(found);
    ASSERT_EQ(causes.size(), 1U);
    EXPECT_EQ(causes[0].from, "lower_leg_back");
    EXPECT_EQ(causes[0].to, "tipped_forward");
    EXPECT_TRUE(knowledge().faults.causes_among(look({{"trunk_lean", 12}})).empty());
}

std::optional<Focus> focus_of(const std::vector<FoundFault>& found,
                              const std::vector<std::string>& in_work = {}) {
    return choose_focus(found, knowledge().faults.causes_among(found), in_work);
}

TEST(Focus, BaseComesBeforeWhatItCarries) {
    const auto focus = focus_of(look({{"trunk_lean", 30}, {"knee_angle", 9}}));
    ASSERT_TRUE(focus);
    EXPECT_EQ(focus->fault->id, "stirrup_too_long") << "less severe, but the base";
    EXPECT_THAT(focus->why, HasSubstr("base"));
}

TEST(Focus, WhatExplainsAnotherGoesFirst) {
    const auto focus = focus_of(look({{"ear_offset", 12}, {"trunk_lean", 20}}));
    ASSERT_TRUE(focus);
    EXPECT_EQ(focus->fault->id, "head_poked") << "the head is a later group, but it drives the trunk";
    EXPECT_THAT(focus->why, HasSubstr("drives tipped forward"));
}

TEST(Focus, InWorkStaysUntilHeld) {
    const auto found = look({{"trunk_lean", 12}, {"heel_offset", -14}});
    EXPECT_EQ(focus_of(found)->fault->id, "lower_leg_back");
    EXPECT_EQ(focus_of(found, {"tipped_forward"})->fault->id, "tipped_forward");
    EXPECT_THAT(focus_of(found, {"tipped_forward"})->why, HasSubstr("in work"));
    EXPECT_EQ(focus_of(found, {"heel_up"})->fault->id, "lower_leg_back") << "a held one gives way";
}

TEST(Focus, IsNeverBorderlineAndNeverInvented) {
    EXPECT_FALSE(focus_of(look({{"heel_offset", -5.5}})));
    EXPECT_FALSE(focus_of({}));
}

TEST(Focus, ARingOfCausesEnds) {
    const auto found = look({{"trunk_lean", 20}, {"heel_offset", -14}});
    const std::vector<Cause> ring{{"lower_leg_back", "tipped_forward", ""},
                                  {"tipped_forward", "lower_leg_back", ""}};
    EXPECT_TRUE(choose_focus(found, ring));
}

std::string refusal(const std::string& faults, const std::string& causes = R"({"causes":[]})") {
    std::istringstream f(faults), c(causes);
    try {
        FaultBook(f, "faults.json", c, "causes.json");
    } catch (const Refused& e) {
        return e.what();
    }
    return "taken";
}

TEST(FaultFiles, ComplaintNamesFileEntryAndField) {
    const std::string good =
        R"({"id":"a","name":"A","says":"s","part":"knee","group":"base","when":[{"measure":"knee_angle","side":"above"}]})";
    EXPECT_EQ(refusal(R"({"faults":[)" + good + "]}"), "taken");
    EXPECT_EQ(refusal(R"({"faults":[)" + good + "," + good + "]}"), "faults.json: fault \"a\" stands twice");
    EXPECT_EQ(refusal(R"({"faults":[{"id":"a","name":"A","says":"s","part":"tail","group":"base"}]})"),
              "faults.json: fault \"a\": field \"part\" is not a part of the body");
    EXPECT_THAT(
        refusal(R"({"faults":[{"id":"a","name":"A","says":"s","part":"knee","group":"base","when":[]}]})"),
        HasSubstr("at least one condition"));
    EXPECT_THAT(
        refusal(
            R"({"faults":[{"id":"a","name":"A","says":"s","part":"knee","group":"base","when":[{"measure":"kneecap","side":"above"}]}]})"),
        HasSubstr("\"kneecap\" is not a measure"));
    EXPECT_THAT(
        refusal(R"({"faults":[)" + good + "]}", R"({"causes":[{"from":"a","to":"b","because":"x"}]})"),
        HasSubstr("names \"b\", which is not a fault"));
    EXPECT_THAT(refusal("[]"), HasSubstr("must be an object"));
}

TEST(Exercises, TenAtLeastEachWithADoseACautionAndALadder) {
    EXPECT_GE(knowledge().exercises.all().size(), 10U);
    for (const Exercise& e : knowledge().exercises.all()) {
        EXPECT_FALSE(e.caution.empty()) << e.id;
        EXPECT_GE(e.dose.ladder.size(), 3U) << e.id;
        EXPECT_FALSE(e.cues.empty()) << e.id;
    }
}

TEST(Exercises, EveryFaultHasOneThatABeginnerMayDo) {
    for (const Fault& f : knowledge().faults.faults()) {
        const auto offers = knowledge().exercises.offers(f.id, {"beginner", {}});
        ASSERT_FALSE(offers.empty()) << f.id;
        EXPECT_TRUE(offers.front().set_aside.empty()) << f.id;
    }
}

TEST(Exercises, LimitsAndLevelSetAside) {
    const auto offers = knowledge().exercises.offers("lower_leg_back", {"beginner", {"knee"}});
    bool aside = false;
    for (const Offer& o : offers) {
        if (o.exercise->id != "two_point_walk_trot") continue;
        aside = true;
        EXPECT_THAT(o.set_aside, HasSubstr("knee"));
        EXPECT_NE(&o, &offers.front()) << "what fits stands first";
    }
    EXPECT_TRUE(aside);
    for (const Offer& o : knowledge().exercises.offers("jammed_heel", {"beginner", {}})) {
        if (o.exercise->id == "no_stirrups_short") {
            EXPECT_THAT(o.set_aside, HasSubstr("not yet"));
        }
    }
}

TEST(Exercises, TouchingALegAsksFirst) {
    for (const char* id : {"ankle_placed_at_halt", "thigh_rolled_in_at_halt"}) {
        EXPECT_THAT(knowledge().exercises.find(id)->caution, HasSubstr("asks before touching"));
    }
}

TEST(Dose, IsSaidInWords) {
    EXPECT_EQ(spoken(Dose{10, 4, 2, {}, {}, {}}), "10 minutes, 4 times a week, for 2 weeks");
    EXPECT_EQ(spoken(Dose{5, 1, 1, {}, {}, {}}), "5 minutes, once a week, for 1 week");
}

}  // namespace
}  // namespace aspen::core
