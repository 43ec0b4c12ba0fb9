// What happens, logged by key while the clip plays and in still frames: the mode, the marks over the film,
// the coach's own reaction, and what is counted.

#include <QMenu>

#include "app/review/event_log.hpp"
#include "app/review/finding_row.hpp"
#include "app/review/first_look.hpp"
#include "app/review/ground_marks.hpp"
#include "app/review/reaction_drill.hpp"
#include "app/review/review_changes.hpp"
#include "app/review/seeing.hpp"
#include "ui/review/event_lane.hpp"
#include "ui/review/event_panel.hpp"
#include "ui/review/lower_panel.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

using testing::HasSubstr;

class Events : public Window {
  protected:
    void SetUp() override {
        bring_in(test::simulated_clip(test::faulty_plan(), "window"));
        app::ridden_here(bench(), core::Gait::trot);
        picture().setFocus();
        key(Qt::Key_F8);
    }
    app::EventLog& log() { return window->the<ReviewView>().log(); }
    EventPanel& panel() { return window->the<ReviewView>().lower().events(); }
    std::vector<store::Event> all() { return yard->records().reviews.events_in(bench().review().clip().id); }
    double at(int frame) { return bench().deck().facts().pts_s[static_cast<std::size_t>(frame)]; }
    void canters_in(core::Seat seat) {
        const auto rider = add_rider(*yard, test::rider("Maude Estrell", 1990, "jumper", "established"));
        app::say_rider(*yard, bench().review().ride().id, rider);
        app::ridden_here(bench(), core::Gait::canter);
        app::ridden_here(bench(), seat);
    }
    void at_frame(int frame, const char* event, const char* detail = "") {
        bench().deck().go_to(frame);
        log().log(event, detail);
    }
};

TEST_F(Events, TheModeTakesTheKeys) {
    ASSERT_TRUE(log().on());
    EXPECT_EQ(window->the<ReviewView>().lower().shows(), LowerPanel::Shows::events);
    EXPECT_TRUE(window->the<ReviewView>().event_lane().isVisible());
    key(Qt::Key_Q);
    key(Qt::Key_Q, Qt::ShiftModifier);
    key(Qt::Key_Period);
    key(Qt::Key_W);
    ASSERT_EQ(all().size(), 3u);
    EXPECT_EQ(all()[0].event + " " + all()[0].detail, "aid with=calf");
    EXPECT_EQ(all()[1].detail, "with=heel");
    EXPECT_EQ(all()[2].event, "answer");
    EXPECT_EQ(all()[2].time_s, at(1)) << "a still frame is logged at that frame";
    key(Qt::Key_J);  // next joint, outside the mode
    EXPECT_THAT(window->last_line().toStdString(), HasSubstr("the keys are events now"));
    EXPECT_EQ(all().size(), 3u);
}

TEST_F(Events, TheModeGivesTheKeysBack) {
    key(Qt::Key_Q);
    key(Qt::Key_W);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(all().size(), 1u) << "undone like anything";
    key(Qt::Key_Backspace);
    key(Qt::Key_F8);
    EXPECT_FALSE(log().on());
    EXPECT_EQ(window->the<ReviewView>().lower().shows(), LowerPanel::Shows::findings);
    key(Qt::Key_Z);
    EXPECT_EQ(all().size(), 1u) << "Z marks the frame again";
    EXPECT_TRUE(bench().review().moment());
    EXPECT_TRUE(window->the<ReviewView>().event_lane().isVisible()) << "what was logged stays in sight";
}

TEST_F(Events, WhilePlayingTheInstantIsPulledBackByTheReaction) {
    app::set_reaction_ms(*yard, 300);
    app::Player& player = window->the<ReviewView>().player();
    player.change_speed(-1);  // half speed
    key(Qt::Key_Space);
    ASSERT_TRUE(wait_for([&] { return player.position_s() > at(0) + 0.5; }));
    const double before = player.position_s();
    key(Qt::Key_D);
    const double after = player.position_s();
    key(Qt::Key_Space);
    ASSERT_EQ(all().size(), 1u);
    EXPECT_EQ(all()[0].event, "bounce");
    EXPECT_GE(all()[0].time_s, before - 0.15 - 1e-9) << "300 ms at half speed are 150 of the clip's";
    EXPECT_LE(all()[0].time_s, after - 0.15 + 1e-9);
}

TEST_F(Events, AMarkIsChosenDraggedAsOneStepAndSaidMoreOf) {
    bench().deck().go_to(20);
    key(Qt::Key_A);
    EventLane& lane = window->the<ReviewView>().event_lane();
    const QPoint from(static_cast<int>(lane.x_of(all()[0].time_s)), 11);
    QTest::mousePress(&lane, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 6; ++i) QTest::mouseMove(&lane, from + QPoint(20 * i, 0));
    QTest::mouseRelease(&lane, Qt::LeftButton, {}, from + QPoint(120, 0));
    EXPECT_NEAR(lane.x_of(all()[0].time_s), from.x() + 120, 1.5);
    yard->steps().undo();
    EXPECT_EQ(all()[0].time_s, at(20)) << "a drag is one step";
    QTest::mouseClick(&lane, Qt::LeftButton, {}, from);
    key(Qt::Key_Return);
    QMenu* m = menu();
    for (QAction* a : m->actions()) {
        if (a->text().contains("heel up")) a->trigger();
    }
    m->close();
    EXPECT_EQ(all()[0].detail, "what=heel_up");
    EXPECT_THAT(lane.accessibleDescription().toStdString(), HasSubstr("heel up first"));
}

TEST_F(Events, CountsStandInThePanelAndInTheSummary) {
    for (const auto& [frame, k] :
         {std::pair{0, Qt::Key_S}, {30, Qt::Key_A}, {35, Qt::Key_S}, {50, Qt::Key_A}}) {
        bench().deck().go_to(frame);
        key(k);
    }
    const std::string lines = panel().lines().join("\n").toStdString();
    EXPECT_THAT(lines, HasSubstr("Held at longest"));
    key(Qt::Key_F8);
    key(Qt::Key_W, Qt::ShiftModifier);
    EXPECT_THAT(window->the<ReviewView>().lower().summary().lines().join("\n").toStdString(),
                HasSubstr("Held at longest"));
}

TEST_F(Events, TheGroundIsMarkedByTwoClicks) {
    app::set_travel(bench().review(), core::Travel::right);
    app::set_scale(bench().review(), {0, 0}, {300, 0}, 1.5);  // 200 px a metre
    key(Qt::Key_O, Qt::AltModifier);
    EXPECT_EQ(picture().drawing(), PictureView::Line::overstep);
    click({300, 500});
    EXPECT_THAT(picture().asks().toStdString(), HasSubstr("hind foot"));
    click({352, 500});
    const auto marks = yard->records().reviews.ground_marks(bench().review().clip().id);
    ASSERT_EQ(marks.size(), 1u);
    EXPECT_NEAR(marks[0].b.x - marks[0].a.x, 52, 2.5);
    // Clicks fall on whole pixels of a picture drawn smaller than it is.
    EXPECT_THAT(panel().lines().join("\n").toStdString(),
                testing::ContainsRegex("Overstep (1.9|2.0|2.1) hooves"));
    key(Qt::Key_B, Qt::AltModifier);
    drag({100, 600}, {900, 620});
    key(Qt::Key_B, Qt::AltModifier);
    drag({200, 600}, {900, 620});
    EXPECT_EQ(yard->records().reviews.ground_marks(bench().review().clip().id).size(), 2u)
        << "one lap line a clip";
    EXPECT_TRUE(app::unmark_ground(bench()));
    EXPECT_TRUE(app::unmark_ground(bench()));
    EXPECT_FALSE(app::unmark_ground(bench()));
}

TEST_F(Events, AnEventIsGoneToInBothDirections) {
    for (const int frame : {5, 25, 45}) {
        bench().deck().go_to(frame);
        key(Qt::Key_4);
    }
    key(Qt::Key_PageUp, Qt::ControlModifier);
    EXPECT_EQ(bench().deck().frame(), 25);
    key(Qt::Key_PageUp, Qt::ControlModifier);
    EXPECT_EQ(bench().deck().frame(), 5);
    key(Qt::Key_PageDown, Qt::ControlModifier);
    EXPECT_EQ(bench().deck().frame(), 25);
    EXPECT_EQ(log().chosen()->time_s, at(25));
}

TEST_F(Events, OneKeyFollowsTheJointsAndSaysWhatHappensOverTheStrides) {
    key(Qt::Key_F8);
    auto plan = test::faulty_plan();
    plan.duration_s = 4;
    const auto clip = test::simulated_clip(plan, "window-strides");
    bring_in(clip);
    ASSERT_TRUE(wait_for([&] { return bench().deck().facts().frames > 100; }));
    app::ridden_here(bench(), core::Gait::trot);
    app::ridden_here(bench(), core::Seat::rising);
    app::set_travel(bench().review(), core::Travel::right);
    picture().setFocus();
    key(Qt::Key_V, Qt::AltModifier);
    EXPECT_THAT(window->last_line().toStdString(), HasSubstr("five joints at least"));
    bench().marking().ask_for_others(true);
    for (const int frame : {20, 80}) {
        bench().deck().go_to(frame);
        ASSERT_TRUE(wait_for([&] { return bench().deck().picture_is_current(); }));
        const core::Figure truth = test::true_figure(clip, frame);
        while (bench().marking().asked()) bench().marking().place(truth[*bench().marking().asked()].at, 1);
    }
    key(Qt::Key_Escape);
    key(Qt::Key_Escape);
    picture().setFocus();
    key(Qt::Key_V, Qt::AltModifier);
    EXPECT_EQ(window->the<ReviewView>().lower().shows(), LowerPanel::Shows::strides);
    ASSERT_TRUE(wait_for([&] { return !window->the<ReviewView>().strides().busy(); }));
    EXPECT_THAT(window->the<ReviewView>().lower().strides().lines().join("\n").toStdString(),
                HasSubstr("The lower leg swings"));
    key(Qt::Key_Escape);
    EXPECT_EQ(window->the<ReviewView>().lower().shows(), LowerPanel::Shows::findings);
}

TEST(Drill, TheMedianOfWhatWasPressedIsTheReaction) {
    app::ReactionDrill drill(nullptr, 5, 20, 5);
    int ms = 0;
    bool failed = false;
    QObject::connect(&drill, &app::ReactionDrill::measured, [&](int m) { ms = m; });
    QObject::connect(&drill, &app::ReactionDrill::failed, [&] { failed = true; });
    QObject::connect(&drill, &app::ReactionDrill::changed, [&] {
        if (drill.lit()) QTimer::singleShot(120, &drill, &app::ReactionDrill::press);
    });
    drill.start();
    drill.press();  // before any light: it counts for nothing
    EXPECT_EQ(drill.done(), 0);
    ASSERT_TRUE(wait_for([&] { return !drill.running(); }));
    EXPECT_FALSE(failed);
    EXPECT_GE(ms, 115);
}

TEST_F(Events, AWrongLeadIsAFaultAndARightOneIsNot) {
    canters_in(core::Seat::two_point);
    const auto found = [&] { return bench().findings().find("wrong_lead"); };
    at_frame(2, "lead_right");
    EXPECT_FALSE(found()) << "nobody said which one was wanted";
    at_frame(1, "rein_left");
    ASSERT_TRUE(found()) << "on the left rein the right lead is the wrong one";
    EXPECT_EQ(found()->found.certain, 1);
    at_frame(20, "aid", "lead=left");
    at_frame(24, "lead_left");
    EXPECT_EQ(found()->found.judgeable, 2);
    EXPECT_EQ(found()->found.certain, 1);
    at_frame(30, "wrong_lead");
    EXPECT_EQ(found()->found.certain, 2) << "pressed after the lead: that one was meant";
    EXPECT_EQ(found()->found.judgeable, 2);
    while (found() && yard->steps().stack().canUndo()) yard->steps().undo();
    EXPECT_FALSE(found()) << "undone, it never was";
}

// Each field of the drawn hand says what both layers of its key log.
TEST_F(Events, EveryKeyOfTheHandHasItsWords) {
    int fields = 0;
    for (const QPushButton* b : window->findChildren<QPushButton*>("cell")) {
        for (const QString& line : b->text().split('\n')) {
            EXPECT_GT(line.section("  ", 1).trimmed().size(), 1) << b->text().toStdString();
            ++fields;
        }
    }
    EXPECT_GE(fields, 30);
}

TEST_F(Events, ACounterCanterIsNoWrongLead) {
    canters_in(core::Seat::sitting);
    at_frame(1, "rein_left");
    at_frame(4, "lead_right");
    ASSERT_TRUE(bench().findings().find("wrong_lead"));
    bench().deck().go_to(0);
    app::movement_from_here(bench(), "counter_canter", false);
    EXPECT_FALSE(bench().findings().find("wrong_lead")) << "the other lead was meant";
}

TEST_F(Events, AWrongDiagonalIsAFault) {
    const auto rider = add_rider(*yard, test::rider("Joss Penhallow", 1999, "hunter", "established"));
    app::say_rider(*yard, bench().review().ride().id, rider);
    app::ridden_here(bench(), core::Seat::rising);
    bench().deck().go_to(5);
    log().log("diagonal_left", "");
    EXPECT_FALSE(bench().findings().find("wrong_diagonal"));
    bench().deck().go_to(9);
    log().log("wrong_diagonal", "");
    ASSERT_TRUE(bench().findings().find("wrong_diagonal"));
    EXPECT_EQ(bench().findings().find("wrong_diagonal")->found.judgeable, 1) << "said of the one before";
}

TEST_F(Events, HoovesLieUnderFourFingersInSlowPlay) {
    key(Qt::Key_H);
    ASSERT_TRUE(log().hooves());
    // A canter on the left lead, three strides of 18 frames: right hind, left hind with right fore, left
    // fore.
    const std::pair<int, Qt::Key> beats[] = {{0, Qt::Key_F}, {5, Qt::Key_A}, {5, Qt::Key_D}, {9, Qt::Key_S}};
    for (int stride = 0; stride < 4; ++stride) {
        for (const auto& [frame, finger] : beats) {
            bench().deck().go_to(18 * stride + frame);
            key(finger);
        }
    }
    bench().deck().go_to(6);
    key(Qt::Key_F, Qt::ShiftModifier);
    ASSERT_EQ(all().size(), 17u);
    EXPECT_EQ(all()[0].event, "hoof_on");
    EXPECT_EQ(all()[0].detail, "hoof=right_hind");
    EXPECT_EQ(all()[3].event, "hoof_off");
    const std::string said = panel().lines().join("|").toStdString();
    EXPECT_THAT(said, HasSubstr("3 beats, left lead"));
    EXPECT_THAT(panel()
                    .findChild<QStackedWidget*>()
                    ->currentWidget()
                    ->findChildren<QPushButton*>()
                    .front()
                    ->text()
                    .toStdString(),
                testing::AnyOf(HasSubstr("rise"), HasSubstr("left hind")));
    key(Qt::Key_H);
    EXPECT_FALSE(log().hooves());
    key(Qt::Key_A);
    EXPECT_EQ(all().back().event == "let_go" || all().size() == 18u, true)
        << "the letters are all events again";
}

TEST_F(Events, AWrongLeadByTheHoovesIsAFinding) {
    app::ridden_here(bench(), core::Gait::canter);
    bench().deck().go_to(0);
    key(Qt::Key_V, Qt::ShiftModifier);  // on the right rein
    key(Qt::Key_H);
    const std::pair<int, Qt::Key> beats[] = {{0, Qt::Key_F}, {5, Qt::Key_A}, {5, Qt::Key_D}, {9, Qt::Key_S}};
    for (int stride = 0; stride < 4; ++stride) {
        for (const auto& [frame, finger] : beats) {
            bench().deck().go_to(18 * stride + frame + 1);
            key(finger);
        }
    }
    ASSERT_TRUE(bench().findings().find("wrong_lead")) << "left lead on the right rein";
}

TEST_F(Events, ALineOfFencesStandsPhaseByPhase) {
    key(Qt::Key_F8);
    key(Qt::Key_8, Qt::AltModifier);
    auto& fences = window->the<ReviewView>().lower().fences();
    ASSERT_EQ(window->the<ReviewView>().lower().shows(), LowerPanel::Shows::fences);
    EXPECT_THAT(fences.title().toStdString(), HasSubstr("No fence yet"));
    key(Qt::Key_8, Qt::AltModifier);
    key(Qt::Key_F8);
    for (const auto& [off, lands] : {std::pair{6, 18}, std::pair{30, 42}}) {
        bench().deck().go_to(off);
        key(Qt::Key_D, Qt::ShiftModifier);
        bench().deck().go_to(lands);
        key(Qt::Key_F, Qt::ShiftModifier);
    }
    key(Qt::Key_F8);
    key(Qt::Key_8, Qt::AltModifier);
    EXPECT_THAT(fences.title().toStdString(), HasSubstr("Fence 1 of 2"));
    key(Qt::Key_Down);
    EXPECT_THAT(fences.title().toStdString(), HasSubstr("Fence 2 of 2"));
    QTest::mouseClick(&fences, Qt::LeftButton, {}, {fences.width() - 40, 40});
    EXPECT_GT(bench().deck().frame(), 42) << "the departure";
}

}  // namespace
}  // namespace aspen::ui
