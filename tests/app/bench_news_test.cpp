// What changes on the bench is said once a step, whole, and what did not change is not said at all.

#include "app/bench_fixture.hpp"
#include "app/planning/plan_desk.hpp"
#include "app/review/finding_row.hpp"
#include "app/review/first_look.hpp"

namespace aspen::app {
namespace {

using P = BenchPart;

TEST(BenchNews, IsToldWhenTheOutermostHasEnded) {
    BenchNews news;
    std::vector<BenchParts> told;
    news.on_settled([&](BenchParts what) { told.push_back(what); });
    news.together([&] {
        news.add(P::figure);
        news.together([&] { news.add(P::records); });
        EXPECT_TRUE(told.empty());
    });
    ASSERT_EQ(told.size(), 1U);
    EXPECT_EQ(told[0], P::figure | P::records);
    news.together([] {});
    EXPECT_EQ(told.size(), 1U) << "nothing is no news";
}

TEST(BenchNews, WhatATellerChangesComesAfterAllWereTold) {
    BenchNews news;
    std::vector<BenchParts> told;
    news.on_settled([&](BenchParts what) {
        told.push_back(what);
        if (what & P::figure) news.add(P::notes);
        EXPECT_EQ(told.back(), what) << "not from inside";
    });
    news.add(P::figure);
    ASSERT_EQ(told.size(), 2U);
    EXPECT_EQ(told[1], BenchParts(P::notes));
}

TEST(BenchNews, ARefusalInsideLosesNothing) {
    BenchNews news;
    int told = 0;
    news.on_settled([&](BenchParts) { ++told; });
    EXPECT_THROW(news.together([&] {
        news.add(P::records);
        throw core::Refused("no");
    }),
                 core::Refused);
    EXPECT_EQ(told, 1) << "what was changed before it";
    news.add(P::notes);
    EXPECT_EQ(told, 2) << "and nothing is held back for good";
}

TEST(BenchNews, ATellerThatThrowsHoldsNothingBack) {
    BenchNews news;
    int told = 0;
    news.on_settled([&](BenchParts) {
        if (++told == 1) throw std::runtime_error("no");
    });
    EXPECT_THROW(news.add(P::figure), std::runtime_error);
    news.add(P::notes);
    EXPECT_EQ(told, 2);
}

class Told : public BenchTest {
  protected:
    Told() {
        say_everything();
        open();
        QObject::connect(&bench, &Bench::changed, [this](const BenchState& now, BenchParts what) {
            told.push_back(what);
            marked = now.marking().figure().marked();
            judged_here = std::ranges::count_if(
                now.marking().judged(), [](const core::Judged& j) { return j.measured.value.has_value(); });
            rows = now.findings().rows().size();
        });
        QObject::connect(&bench, &Bench::frame_moved, [this](int frame) { frames.push_back(frame); });
    }
    std::vector<BenchParts> told;
    std::vector<int> frames;
    int marked = 0;
    std::ptrdiff_t judged_here = 0;
    std::size_t rows = 0;
};

TEST_F(Told, APlacedJointOnceWithAllThatRestsOnIt) {
    const core::Figure truth = test::true_figure(source, 0);
    int n = 0;
    while (bench.marking().asked()) {
        told.clear();
        bench.marking().place(truth[*bench.marking().asked()].at, 1.0);
        ASSERT_EQ(told.size(), 1U) << "joint " << n;
        EXPECT_TRUE(told[0] & P::figure);
        EXPECT_TRUE(told[0] & P::findings);
        EXPECT_EQ(marked, ++n) << "what is said stands already";
    }
    EXPECT_GE(judged_here, 6);
    EXPECT_GE(rows, 1U);
}

TEST_F(Told, ConfirmingADragNudgingAndTakingAwayOnceEach) {
    mark_all_asked();
    const auto once = [&](const char* what, const std::function<void()>& act) {
        told.clear();
        act();
        EXPECT_EQ(told.size(), 1U) << what;
    };
    Marking& m = bench.marking();
    const core::Point heel = m.figure()[core::Landmark::heel].at;
    once("select", [&] { m.select(core::Landmark::heel); });
    once("nudge", [&] { m.nudge_selected(1, 0); });
    once("drag", [&] { m.drag(core::Landmark::heel, {heel.x + 5, heel.y}, 1.0); });
    once("let go", [&] { m.end_drag(); });
    once("undo", [&] { yard.steps().undo(); });
    once("take away", [&] {
        m.select(core::Landmark::toe);
        told.clear();
        m.take_away_selected();
    });
    once("confirm", [&] { m.confirm(); });
    once("decide",
         [&] { bench.findings().decide(bench.findings().rows().at(0).key(), store::Decision::accepted); });
    once("a note", [&] { add_note(bench, store::NoteKind::good); });
    once("a gait", [&] { ridden_here(bench, core::Gait::walk); });
}

TEST_F(Told, FramesWithoutAMomentAreMovedToAndNoNews) {
    mark_all_asked();
    go_to(5);
    told.clear();
    frames.clear();
    for (int frame = 6; frame < 20; ++frame) bench.deck().go_to(frame);
    EXPECT_EQ(frames.size(), 14U);
    EXPECT_TRUE(told.empty()) << "nothing marked, nothing said: nothing new";
    bench.deck().go_to(0);
    ASSERT_EQ(told.size(), 1U) << "a moment is";
    EXPECT_TRUE(told[0] & P::figure);
    EXPECT_FALSE(told[0] & P::findings) << "the ride says what it said";
}

TEST_F(Told, WhatWasAskedForByHandWasAskedForThere) {
    go_to(5);
    bench.marking().ask_for(core::Landmark::toe);
    told.clear();
    bench.deck().go_to(6);
    EXPECT_NE(bench.marking().asked(), core::Landmark::toe);
    EXPECT_EQ(told.size(), 1U);
}

TEST_F(Told, AStretchThatCannotBeJudgedSaysSoFromItsFirstFrame) {
    mark_all_asked();
    const core::Figure figure = bench.marking().figure();
    go_to(20);
    bench.marking().put_figure(figure, {}, "the same once more");
    split_here(bench);
    toggle_judged_here(bench);
    const auto why = [&] { return core::find(bench.marking().judged(), "trunk_lean")->verdict; };
    go_to(0);
    const core::Verdict judged = why();
    bench.deck().go_to(20);
    EXPECT_NE(why(), judged);
    bench.deck().go_to(0);
    EXPECT_EQ(why(), judged);
}

TEST_F(Told, WhatConcernsAnotherRideIsNoNews) {
    add_rider(yard, test::rider("Pell Marrow", 1980, "gaited", "novice"));
    told.clear();
    add_horse(yard, {{}, "Cobalt", 160, ""});
    yard.step("elsewhere", [&] {
        store::Milestone m;
        m.rider = bench.review().rider();
        m.day = "2026-11-20";
        m.kind = "other";
        m.words = "a pause";
        test::to_write(yard).add(m);
    });
    EXPECT_LE(told.size(), 1U) << "another horse may move bands, a milestone does not";
}

TEST_F(Told, APlayedFramePlansNobodyAnew) {
    mark_all_asked();
    PlanDesk desk(bench);
    desk.show(bench.review().rider());
    QCoreApplication::processEvents();
    int planned = 0;
    QObject::connect(&desk, &PlanDesk::changed, [&] { ++planned; });
    for (int frame = 1; frame < 30; ++frame) {
        bench.deck().go_to(frame);
        QCoreApplication::processEvents();
    }
    EXPECT_EQ(planned, 0);
    bench.findings().decide(bench.findings().rows().at(0).key(), store::Decision::accepted);
    QCoreApplication::processEvents();
    EXPECT_GE(planned, 1);
}

}  // namespace
}  // namespace aspen::app
