#include "core/ride/ride.hpp"

#include <gmock/gmock.h>

#include "core/core_support.hpp"

namespace aspen::core {
namespace {

using test::knowledge;

/// A sitting rider whose lower leg is moved by so many pixels; minus is back.
RideMoment leg_moment(double leg_px, Gait gait = Gait::walk, Travel travel = Travel::right) {
    RideMoment m;
    m.figure = test::sitting_rider();
    m.figure.camera = {0, 0.3, 0, 3, true, true};
    for (const Landmark l : {Landmark::ankle, Landmark::heel, Landmark::toe}) m.figure[l].at.x += leg_px;
    m.setting = {"classical", gait, Seat::sitting, {}, {}};
    m.seen = {gait, Seat::sitting, std::string(word(travel))};
    return m;
}

const RideFinding* finding_of(const RideAssessment& a, std::string_view fault,
                              std::optional<Gait> gait = {}) {
    for (const RideFinding& f : a.findings) {
        if (f.found.fault->id == fault && (!gait || f.seen.gait == gait)) return &f;
    }
    return nullptr;
}

TEST(AssessRide, OneMomentFromJointsToFocus) {
    const auto a = assess_ride({{leg_moment(-60)}, {}, {}}, knowledge());
    ASSERT_TRUE(a.focus);
    EXPECT_EQ(a.focus->fault->id, "lower_leg_back");
    ASSERT_EQ(a.judged.size(), 1U);
    EXPECT_EQ(a.judged[0].size(), 19U);
    EXPECT_FALSE(a.good.empty());
}

// What a rider's body does not allow counts where this picture shows it.
TEST(AssessRide, ALimbThatIsNotSeenMovesNoBand) {
    Stretch s;
    s.gait = Gait::trot;
    s.seat = Seat::sitting;
    s.travel = Travel::left;
    RideContext ride{"classical", "novice"};
    ride.body = {{"hip", "right"}, {"back", "right"}, {"knee", "left"}, {"knee", ""}};
    EXPECT_EQ(setting_in(s, ride, "").body, (std::vector<std::string>{"back", "knee"}))
        << "from the left the right hip is not judged by what is seen; a back has no side here";
    s.view = View::rear;
    EXPECT_EQ(setting_in(s, ride, "").body, (std::vector<std::string>{"hip", "back", "knee"}));
}

TEST(AssessRide, NothingMarkedSaysNothing) {
    const auto a = assess_ride({}, knowledge());
    EXPECT_TRUE(a.findings.empty() && a.causes.empty() && a.good.empty() && !a.focus);
    RideMoment two_joints = leg_moment(0);
    two_joints.figure.marks = {};
    two_joints.figure[Landmark::hip] = two_joints.figure[Landmark::knee] = {{1, 2}, Visibility::seen, 1};
    EXPECT_TRUE(assess_ride({{two_joints}, {}, {}}, knowledge()).judged[0].empty())
        << "from the third joint on";
}

TEST(AssessRide, GaitsAndSidesAreKeptApart) {
    const auto a =
        assess_ride({{leg_moment(-60), leg_moment(0), leg_moment(-60, Gait::canter)}, {}, {}}, knowledge());
    const RideFinding *walk = finding_of(a, "lower_leg_back", Gait::walk),
                      *canter = finding_of(a, "lower_leg_back", Gait::canter);
    ASSERT_TRUE(walk && canter);
    EXPECT_EQ(walk->moments, 2);
    EXPECT_DOUBLE_EQ(walk->found.share, 0.5);
    EXPECT_DOUBLE_EQ(canter->found.share, 1);
    EXPECT_EQ(canter->seen, (SeenIn{Gait::canter, Seat::sitting, "right"}));
}

// Legs and arms are kept by the side nearer the camera; trunk and head are the same from both.
TEST(AssessRide, TrunkAndHeadHaveNoSide) {
    RideMoment right = leg_moment(-60), left = leg_moment(-60, Gait::walk, Travel::left);
    for (RideMoment* m : {&right, &left})
        for (const Landmark l : {Landmark::shoulder, Landmark::ear}) m->figure[l].at.x += 45;
    const auto a = assess_ride({{right, left}, {}, {}}, knowledge());
    const RideFinding* trunk = finding_of(a, "tipped_forward");
    ASSERT_TRUE(trunk);
    EXPECT_EQ(trunk->seen, (SeenIn{Gait::walk, Seat::sitting, ""}));
    EXPECT_EQ(trunk->moments, 2);
    EXPECT_EQ(std::ranges::count_if(
                  a.findings, [](const RideFinding& f) { return f.found.fault->id == "lower_leg_back"; }),
              2)
        << "each leg is its own";
    EXPECT_FALSE(a.causes.empty()) << "either leg may tip the trunk";
    // A word that was kept by side before stands for both.
    const auto decided = assess_ride(
        {{right, left}, {{"tipped_forward", right.seen, Decision::rejected, {}, 1}}, {}}, knowledge());
    EXPECT_EQ(finding_of(decided, "tipped_forward")->said(), nullptr);
}

TEST(AssessRide, AStretchThatCannotBeJudgedSaysWhyAndNamesNothing) {
    RideMoment m = leg_moment(-60);
    m.judged = false;
    const auto a = assess_ride({{m}, {}, {}}, knowledge());
    EXPECT_TRUE(a.findings.empty());
    for (const Judged& j : a.judged[0]) EXPECT_EQ(j.reason, "this stretch cannot be judged from here");
}

TEST(AssessRide, TheCoachsWordStandsAboveTheComputed) {
    const SeenIn seen = leg_moment(0).seen;
    RideData data{{leg_moment(-60)}, {{"lower_leg_back", seen, Decision::rejected, {}, 1}}, {}};
    auto a = assess_ride(data, knowledge());
    EXPECT_EQ(finding_of(a, "lower_leg_back")->said(), nullptr);
    EXPECT_TRUE(!a.focus || a.focus->fault->id != "lower_leg_back");
    data.decided[0] = {"lower_leg_back", seen, Decision::changed, "heel_up", 1};
    a = assess_ride(data, knowledge());
    ASSERT_TRUE(a.focus);
    EXPECT_EQ(a.focus->fault->id, "heel_up") << "only what was decided counts, by the coach's name for it";
    data.decided[0].decision = Decision::asked_back;
    a = assess_ride(data, knowledge());
    EXPECT_TRUE(!a.focus || a.focus->fault->id != "lower_leg_back") << "waits for the rider's answer";
    // A word on what is not measured any more, or in another gait, stays and is its own.
    data = {{leg_moment(0)},
            {{"heel_up", {Gait::canter, Seat::sitting, "left"}, Decision::accepted, {}, 0.7}},
            {}};
    a = assess_ride(data, knowledge());
    ASSERT_TRUE(finding_of(a, "heel_up", Gait::canter));
    EXPECT_EQ(finding_of(a, "heel_up", Gait::canter)->moments, 0);
    ASSERT_TRUE(a.focus);
    EXPECT_EQ(a.focus->fault->id, "heel_up");
}

TEST(AssessRide, WhatIsInWorkStaysThoughOnlyAnotherWasDecided) {
    const SeenIn seen = leg_moment(0).seen;
    const auto a = assess_ride({{leg_moment(-60)},
                                {{"heel_up", seen, Decision::accepted, {}, 0.5}},
                                {InWork("lower_leg_back")},
                                {},
                                {}},
                               knowledge());
    ASSERT_TRUE(a.focus);
    EXPECT_EQ(a.focus->fault->id, "lower_leg_back");
    EXPECT_EQ(a.focus->gait, Gait::walk) << "and this ride did show it";
}

TEST(AssessRide, IsTheSameEveryTime) {
    const RideData data{{leg_moment(-60), leg_moment(-30, Gait::trot), leg_moment(20, Gait::canter)},
                        {},
                        {InWork("heel_up")},
                        {},
                        {}};
    const auto a = assess_ride(data, knowledge()), b = assess_ride(data, knowledge());
    ASSERT_EQ(a.findings.size(), b.findings.size());
    for (std::size_t i = 0; i < a.findings.size(); ++i) {
        EXPECT_EQ(a.findings[i].found.fault, b.findings[i].found.fault);
        EXPECT_EQ(a.findings[i].found.severity, b.findings[i].found.severity);
    }
}

TEST(Stretches, HowThePictureIsReadChangesForThoseReadAlike) {
    Stretches all = split_at(split_at(split_at(whole_clip(), 100), 200), 300);
    all = seen_at(all, 150, false, [](Stretch& s) { s.travel = Travel::left; });
    for (const Stretch& s : all)
        EXPECT_EQ(s.travel, Travel::left) << "said for the first time it holds for all";
    all = seen_at(all, 250, true, [](Stretch& s) { s.travel = Travel::right; });
    EXPECT_EQ(all[1].travel, Travel::left);
    EXPECT_EQ(all[2].travel, Travel::right);
    EXPECT_EQ(all[3].travel, Travel::right) << "from where the horse turned on";
    EXPECT_EQ(seen_in(all[3]).side, "right");
    all[3].view = View::rear;
    EXPECT_EQ(seen_in(all[3]).side, "");
    EXPECT_EQ(spoken(SeenIn{Gait::trot, Seat::rising, "left"}), "trot rising, left side");
    EXPECT_EQ(setting_in(all[0], {"hunter", ""}, "").school, "")
        << "without gait and seat there are no bands";
}

}  // namespace
}  // namespace aspen::core
