// What a panel says it wants is carried out: through one step where a record changes, and refused in one
// line.

#include "app/review/commands.hpp"

#include "app/bench_fixture.hpp"
#include "app/review/finding_row.hpp"
#include "app/yard/own_knowledge.hpp"

namespace aspen::app {
namespace {

class Wanted : public BenchTest {
  protected:
    Wanted() {
        say_everything();
        open();
        QObject::connect(&commands, &Commands::say, [this](const QString& line) { said << line; });
    }
    qsizetype steps_of(const Intent& intent) {
        const auto before = yard.steps().taken().size();
        commands.carry_out(intent);
        return yard.steps().taken().size() - before;
    }
    Importer importer{yard};
    Commands commands{bench, importer};
    QStringList said;
};

TEST_F(Wanted, GoingThroughTheClipWritesNothing) {
    EXPECT_EQ(steps_of(GoTo{7}), 0);
    EXPECT_EQ(bench.deck().frame(), 7);
    EXPECT_EQ(steps_of(RestHere{}), 0);
    EXPECT_EQ(steps_of(SeeAt{{640, 360}}), 0);
}

TEST_F(Wanted, WhoRidesIsOneStepAlsoForANewCard) {
    EXPECT_EQ(steps_of(SayNewRider{"Sorrel Vane"}), 1) << "the card and who rides";
    ASSERT_TRUE(bench.review().rider_card());
    EXPECT_EQ(bench.review().rider_card()->name, "Sorrel Vane");
    EXPECT_EQ(steps_of(SayNewHorse{"Cobalt"}), 1);
    ASSERT_TRUE(bench.review().horse_card());
    EXPECT_EQ(bench.review().horse_card()->name, "Cobalt");
    yard.steps().undo();
    EXPECT_FALSE(bench.review().horse_card() && bench.review().horse_card()->name == "Cobalt");
    EXPECT_EQ(steps_of(ChangeRide{"place", [](store::Ride& r) { r.place = store::Place::show; }}), 1);
    EXPECT_EQ(bench.review().ride().place, store::Place::show);
    EXPECT_EQ(steps_of(ChangeRide{"place", [](store::Ride& r) { r.place = store::Place::show; }}), 0)
        << "the same again is no step";
}

TEST_F(Wanted, HowItIsRiddenAndSeen) {
    EXPECT_EQ(steps_of(SayGait{core::Gait::walk}), 1);
    EXPECT_EQ(bench.review().stretch().gait, core::Gait::walk);
    EXPECT_EQ(steps_of(SaySeat{core::Seat::sitting}), 1);
    EXPECT_EQ(steps_of(SayTravel{core::Travel::left}), 1);
    EXPECT_EQ(steps_of(TurnTravel{}), 1);
    EXPECT_EQ(bench.review().stretch().travel, core::Travel::right);
    core::CameraPose camera;
    camera.yaw_deg = 12;
    EXPECT_EQ(steps_of(SayCamera{camera, "turn of the view"}), 1);
    EXPECT_EQ(bench.review().stretch().camera.yaw_deg, 12);
    EXPECT_EQ(steps_of(SayCapture{{240, {}, {}}}), 1);
    EXPECT_EQ(bench.review().clip().capture.filmed_fps, 240);
}

TEST_F(Wanted, ABorderIsDraggedAsOneStepAndThePictureFollowsIt) {
    go_to(10);
    bench.deck().go_to(10);
    set_stretches(yard, bench.review().clip().id, core::split_at(bench.review().stretches(), 10), "cut");
    ASSERT_EQ(bench.review().stretches().size(), 2U);
    const auto before = yard.steps().taken().size();
    commands.carry_out(MoveBorder{1, 12, true});
    commands.carry_out(MoveBorder{1, 14, false});
    commands.carry_out(MoveBorder{1, 16, false});
    EXPECT_EQ(yard.steps().taken().size() - before, 1);
    EXPECT_EQ(bench.review().stretches()[1].first, 16);
    EXPECT_EQ(bench.deck().frame(), 16);
    commands.carry_out(MoveBorder{1, 12, true});
    EXPECT_EQ(yard.steps().taken().size() - before, 2) << "taken hold of anew";
}

TEST_F(Wanted, JointsByClickAndDrag) {
    const core::Figure truth = test::true_figure(source, 0);
    const core::Landmark first = *bench.marking().asked();
    EXPECT_EQ(steps_of(PlaceJoint{truth[first].at, 1.0}), 1);
    EXPECT_EQ(bench.marking().figure().marked(), 1);
    EXPECT_EQ(steps_of(ChooseJoint{first}), 0);
    EXPECT_EQ(bench.marking().selected(), first);
    const core::Point to{truth[first].at.x + 6, truth[first].at.y};
    EXPECT_EQ(steps_of(DragJoint{first, to, 1.0}), 0) << "not before it is let go";
    EXPECT_TRUE(bench.marking().dragging());
    EXPECT_EQ(steps_of(LetGoOfJoint{}), 1);
    EXPECT_NEAR(bench.marking().figure()[first].at.x, to.x, 1e-9);
    EXPECT_EQ(steps_of(AskForJoint{core::Landmark::toe}), 0);
    EXPECT_EQ(bench.marking().asked(), core::Landmark::toe);
}

TEST_F(Wanted, ADecisionOnceAndTheSameAgainTakesItBack) {
    mark_all_asked();
    ASSERT_FALSE(bench.findings().rows().empty());
    const std::string key = bench.findings().rows().front().key();
    EXPECT_EQ(steps_of(Decide{key, store::Decision::accepted, {}}), 1);
    EXPECT_EQ(bench.findings().find(key)->decision, store::Decision::accepted);
    EXPECT_EQ(steps_of(Decide{key, store::Decision::accepted, {}}), 1);
    EXPECT_EQ(bench.findings().find(key)->decision, store::Decision::open);
    EXPECT_EQ(steps_of(Decide{"nothing_like_that", store::Decision::accepted, {}}), 0);
}

TEST_F(Wanted, WhatTheEyeSaysAndARuleOfOnesOwn) {
    const auto questions = questions_here(bench);
    ASSERT_FALSE(questions.empty());
    const std::string id = questions.front().check->id;
    EXPECT_EQ(steps_of(AnswerCheck{id, Said::fault}), 1);
    EXPECT_EQ(questions_here(bench).size(), questions.size());
    EXPECT_EQ(bench.review().answers().size(), 1U);
    EXPECT_EQ(steps_of(ChangeRule{"lower_leg_back", "name", "\"Leg behind\"", "said"}), 1);
    EXPECT_EQ(yard.knowledge().faults.find("lower_leg_back")->name, "Leg behind");
    EXPECT_EQ(said, QStringList{"said"});
    EXPECT_EQ(steps_of(ChangeRule{"lower_leg_back", {}, {}, {}}), 1);
    EXPECT_NE(yard.knowledge().faults.find("lower_leg_back")->name, "Leg behind");
}

TEST_F(Wanted, WhatIsRefusedIsSaidInOneLineAndChangesNothing) {
    EXPECT_EQ(steps_of(ChangeRule{"lower_leg_back", "group", "\"nowhere\"", "done"}), 0);
    ASSERT_EQ(said.size(), 1);
    EXPECT_FALSE(said[0].contains('\n'));
    EXPECT_NE(said[0], "done");
    EXPECT_TRUE(own_fault(yard, "lower_leg_back").empty());
}

}  // namespace
}  // namespace aspen::app
