// Progress, Compare, the coach's eye and the asking card through a real window, by keys and mouse.

#include <QPlainTextEdit>
#include <QStackedWidget>

#include "app/following/in_step.hpp"
#include "app/leaving/face_plan.hpp"
#include "ui/compare/compare_stage.hpp"
#include "ui/compare/compare_view.hpp"
#include "ui/compare/curve_strip.hpp"
#include "ui/compare/difference_list.hpp"
#include "ui/eye/eye_view.hpp"
#include "ui/progress/horse_page.hpp"
#include "ui/progress/lanes_widget.hpp"
#include "ui/progress/time_axis.hpp"
#include "ui/progress/time_head.hpp"
#include "ui/progress/yard_wide_page.hpp"
#include "ui/window_support.hpp"
#include "ui/yard/asking_card.hpp"

namespace aspen::ui {
namespace {

const store::SeenIn kTrotRight{core::Gait::trot, core::Seat::two_point, "right"};

class FollowingWindow : public Window {
  protected:
    /// Rides a month apart, the heel so many pixels behind the hip; the first is prescribed for.
    void ride_on(std::initializer_list<double> heel_behind) {
        maude = add_rider(*yard, test::rider("Maude Estrell", 1990, "hunter", "established"));
        fig = app::add_horse(*yard, {{}, "Fig", 157, ""});
        int month = 6;
        for (const double px : heel_behind) {
            const std::string day = "2026-0" + std::to_string(month) + "-01";
            store::Clip c;
            c.path = "a.mp4";
            c.hash = day;
            c.bytes = 5;
            c.recorded_at = day;
            c.id = app::take_in_clip(*yard, c);
            test::say(*yard, c.id,
                      {maude, fig, "hunter", core::Gait::trot, core::Seat::two_point, core::Travel::right});
            for (const int frame : {5, 12, 19, 26, 33, 40}) mark(c.id, frame, px);
            if (month++ == 6)
                app::prescribe(*yard, test::ride_of(*yard, c.id), {"lower_leg_back", kTrotRight}, {},
                               *yard->knowledge().exercises.find("two_point_walk_trot"));
        }
        window->choose_rider(maude);
        key(Qt::Key_5, Qt::ControlModifier);
        ASSERT_EQ(window->view(), ViewName::progress);
    }
    void mark(store::ClipId clip, int frame, double heel_behind) {
        store::Moment m;
        m.clip = clip;
        m.frame = frame;
        const auto put = [&](core::Landmark l, double x, double y) {
            m.figure[l] = {{x, y}, core::Visibility::seen, 1.0};
        };
        put(core::Landmark::shoulder, 620, 190);
        put(core::Landmark::hip, 595, 292);
        put(core::Landmark::knee, 665, 345);
        put(core::Landmark::ankle, 605 - heel_behind, 425);
        put(core::Landmark::heel, 594 - heel_behind, 440);
        app::add_moment(*yard, m);
    }
    Lanes& lanes() { return window->the<ProgressView>().lanes_widget(); }
    const app::Lane& lane() { return window->the<ProgressView>().lanes().at(0); }
    store::RiderId maude;
    store::HorseId fig;
};

TEST_F(FollowingWindow, AStageIsTakenByKeyAndTakenBack) {
    ride_on({45, 44, 2});
    ASSERT_EQ(lane().life.proposes, core::Stage::holding);
    EXPECT_TRUE(lanes().row_words(0).contains("proposed by its rides"));
    key(Qt::Key_A);
    EXPECT_TRUE(wait_for([&] { return !lane().life.proposes && lane().stage == core::Stage::holding; }));
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(wait_for([&] { return lane().life.proposes.has_value(); }));
    key(Qt::Key_K);
    EXPECT_TRUE(wait_for([&] { return lane().stage == core::Stage::in_work && !lane().life.proposes; }));
}

TEST_F(FollowingWindow, RidesAreGoneThroughPinnedAndGivenAWord) {
    ride_on({45, 30, 20});
    ASSERT_TRUE(lanes().current_entry());
    EXPECT_EQ(lanes().current_entry()->day, "2026-08-01") << "the newest first";
    key(Qt::Key_Left);
    EXPECT_EQ(lanes().current_entry()->day, "2026-07-01");
    key(Qt::Key_Space);
    EXPECT_EQ(lanes().pinned(), 1U);
    key(Qt::Key_W);
    auto* edit = qobject_cast<QLineEdit*>(qApp->focusWidget());
    ASSERT_TRUE(edit);
    QTest::keyClicks(edit, "softer knee");
    QTest::keyClick(edit, Qt::Key_Return);
    EXPECT_TRUE(wait_for([&] { return lane().entries[1].coach_word == "softer knee"; }));
    EXPECT_EQ(lanes().pinned(), 1U) << "what was pinned stays pinned";
    EXPECT_EQ(lanes().current_entry()->day, "2026-07-01") << "and the keys stay where they are";
    // A press on a ride chooses and pins it; pressed again it is let go.
    const QPoint at = lanes().place_of(0, 0).toPoint();
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, at);
    EXPECT_EQ(lanes().current_entry()->day, "2026-06-01");
    EXPECT_EQ(lanes().pinned(), 2U);
    QTest::mouseClick(&lanes(), Qt::LeftButton, {}, at);
    EXPECT_EQ(lanes().pinned(), 1U);
}

TEST_F(FollowingWindow, TimeIsDrawnApartAndTogether) {
    ride_on({45, 30, 20});
    const double together = lanes().place_of(0, 2).x() - lanes().place_of(0, 1).x();
    key(Qt::Key_Plus);
    key(Qt::Key_Plus);
    EXPECT_GT(lanes().place_of(0, 2).x() - lanes().place_of(0, 1).x(), together * 2);
    EXPECT_GE(lanes().place_of(0, 2).x(), Lanes::gutter()) << "about the ride under the keys";
    key(Qt::Key_0);
    EXPECT_NEAR(lanes().place_of(0, 2).x() - lanes().place_of(0, 1).x(), together, 0.5);
    TimeAxis axis;
    axis.set_area(0, 1000);
    axis.set_whole(TimeAxis::days(QString("2020-01-01")), TimeAxis::days(QString("2026-01-01")));
    EXPECT_GE(axis.ticks().size(), 6U) << "years";
    for (int i = 0; i < 60; ++i) axis.zoom(1.5, 500);
    EXPECT_NEAR(axis.to() - axis.from(), 0.5, 1e-9) << "no further than an afternoon";
    EXPECT_FALSE(axis.ticks().empty());
    EXPECT_TRUE(axis.ticks().back().words.contains(":")) << "hours";
}

TEST_F(FollowingWindow, TheYardAsAWholeTheHorseAndThePapers) {
    ride_on({45, 30, 20});
    key(Qt::Key_Y);
    YardWidePage& wide = window->the<ProgressView>().yard_wide();
    ASSERT_TRUE(wait_for([&] { return !wide.reading(); }));
    EXPECT_EQ(wide.row_count(), 2) << "one stands still, one exercise was given";
    EXPECT_TRUE(wide.row_words(1).contains("Lower leg back"));
    key(Qt::Key_Escape);
    key(Qt::Key_O);
    HorsePage& horse = window->the<ProgressView>().horse_page();
    EXPECT_EQ(horse.horse(), fig);
    EXPECT_TRUE(horse.row_words(0).contains("Maude Estrell, 3 rides")) << horse.row_words(0).toStdString();
    key(Qt::Key_Escape);
    const QString png = QString::fromStdString((folder / "lane.png").string());
    EXPECT_EQ(window->the<ProgressView>().write_lane(png), "Written: " + png);
    EXPECT_GT(QImage(png).width(), 1200) << "sharp enough to be pinned up";
    const QString pdf = QString::fromStdString((folder / "season.pdf").string());
    EXPECT_EQ(window->the<ProgressView>().write_season(pdf), "Written: " + pdf);
    const test::Ran words = test::run("pdftotext -layout " + pdf.toStdString() + " - 2>/dev/null");
    ASSERT_EQ(words.code, 0) << "install poppler-utils";
    EXPECT_THAT(words.out, testing::HasSubstr("Maude Estrell"));
    EXPECT_THAT(words.out, testing::HasSubstr("Lower leg back"));
    EXPECT_TRUE(window->the<ProgressView>().write_table("/nowhere/at/all.csv").contains("cannot be written"));
}

/// Two marked moments of one clip, held against each other by a key.
class TwoMoments : public FollowingWindow {
  protected:
    /// Both on the frames that were marked, shown as they are.
    void compare_marked() {
        compare_two();
        key(Qt::Key_Home);
        ASSERT_TRUE(wait_for(
            [&] { return two().deck(0).picture_is_current() && two().deck(1).picture_is_current(); }));
    }
    const QString png = QString::fromStdString((folder / "two.png").string());
    void compare_two() {
        bring_in_ridden();
        mark_from_truth(10);
        bench().deck().go_to(33);
        ASSERT_TRUE(wait_for([&] { return bench().deck().picture_is_current(); }));
        const core::Figure truth = test::true_figure(ridden_clip, 33);
        while (bench().marking().asked()) bench().marking().place(truth[*bench().marking().asked()].at, 1);
        bench().marking().select(std::nullopt);
        key(Qt::Key_D);
        ASSERT_EQ(window->view(), ViewName::compare);
        ASSERT_EQ(two().count(), 2U);
        ASSERT_TRUE(wait_for([&] { return two().deck(0).ready() && two().deck(1).ready(); }));
    }
    CompareView& compare() { return window->the<CompareView>(); }
    app::Comparison& two() { return compare().comparison(); }
};

TEST_F(TwoMoments, TellWhatDiffersAndWhatSpoilsIt) {
    compare_two();
    ASSERT_FALSE(HasFatalFailure());
    EXPECT_GE(compare().differences().rows().size(), 8U);
    EXPECT_FALSE(compare().differences().spoilers().isEmpty()) << "nobody said how the horse was turned";
}

TEST_F(TwoMoments, ArePlayedInStepAndComeHome) {
    compare_two();
    ASSERT_FALSE(HasFatalFailure());
    key(Qt::Key_Space);
    EXPECT_TRUE(compare().in_step().playing());
    EXPECT_FALSE(compare().in_step().by_stride()) << "nothing is followed: by time";
    EXPECT_TRUE(wait_for([&] { return two().deck(0).frame() != 10 && two().deck(1).frame() != 33; }));
    key(Qt::Key_Space);
    EXPECT_FALSE(compare().in_step().playing());
    key(Qt::Key_Home);
    EXPECT_EQ(two().deck(0).frame(), 10);
    EXPECT_EQ(two().deck(1).frame(), 33);
}

TEST_F(TwoMoments, LeaveAsOnePicture) {
    compare_marked();
    ASSERT_FALSE(HasFatalFailure());
    EXPECT_EQ(compare().write_picture(png), "Written: " + png);
    EXPECT_FALSE(QImage(png).isNull());
}

TEST_F(TwoMoments, LeaveWithARingedBystanderCovered) {
    compare_marked();
    ASSERT_FALSE(HasFatalFailure());
    ASSERT_EQ(compare().write_picture(png), "Written: " + png);
    const QImage before(png);
    const core::Point hip = two().side(0).subject.moment.figure[core::Landmark::hip].at;
    const store::ClipId clip = two().side(0).subject.ridden.clip.id;
    app::set_face(*yard, clip, -1, two().side(0).subject.moment.frame, {hip, 30, 30, 0});
    EXPECT_THAT(compare().write_picture(png).toStdString(), testing::HasSubstr("is not marked on this frame"))
        << "nor is it known on the other moment of the clip";
    app::set_face(*yard, clip, -1, two().side(1).subject.moment.frame, {hip, 30, 30, 0});
    ASSERT_EQ(compare().write_picture(png), "Written: " + png);
    EXPECT_NE(QImage(png), before) << "somebody else's face is under a cover";
}

TEST_F(TwoMoments, LeaveOnlyIfACompanionMayLeaveToo) {
    compare_two();
    ASSERT_FALSE(HasFatalFailure());
    store::Ride r = two().side(0).subject.ridden.ride;
    r.id = {};
    r.rider = app::add_rider(*yard, test::rider("Pip Marrable", 2016, "hunter"));
    yard->quietly([&] {
        test::to_write(*yard).put(
            store::Slot{two().side(0).subject.ridden.clip.id, 1, test::to_write(*yard).add(r)});
    });
    EXPECT_THAT(compare().write_picture(png).toStdString(), testing::HasSubstr("Pip Marrable"));
    EXPECT_FALSE(QFile::exists(png));
}

TEST_F(TwoMoments, GiveWayToTheSchoolsRange) {
    compare_two();
    ASSERT_FALSE(HasFatalFailure());
    key(Qt::Key_4);
    EXPECT_TRUE(two().with_target());
    EXPECT_EQ(two().count(), 1U);
    EXPECT_TRUE(two().two_horses().contains("one horse only"));
}

TEST_F(TwoMoments, LeaveOnlyWithTheConsentOfAll) {
    compare_two();
    ASSERT_FALSE(HasFatalFailure());
    auto card = *yard->records().people.rider(bench().review().rider());
    card.birth_year = 2014;
    app::change_rider(*yard, card);
    EXPECT_TRUE(window->the<CompareView>().write_picture(png).contains("consent"));
    EXPECT_FALSE(QFile::exists(png));
}

TEST_F(FollowingWindow, ARoundForTheEyeIsRiddenByKeysAlone) {
    key(Qt::Key_9, Qt::ControlModifier);
    ASSERT_EQ(window->view(), ViewName::eye);
    EyeView& eye = window->the<EyeView>();
    key(Qt::Key_1);
    ASSERT_TRUE(eye.desk().running());
    ASSERT_TRUE(wait_for([&] { return eye.picture().shows(); }));
    const double from = eye.desk().item()->starts_at;
    for (int i = 0; i < 3; ++i) key(Qt::Key_Right);
    key(Qt::Key_Up);
    key(Qt::Key_Left);
    EXPECT_EQ(eye.guess(), from + 7);
    key(Qt::Key_Return);
    EXPECT_TRUE(eye.desk().answered());
    EXPECT_TRUE(eye.desk().said().contains(QString::number(from + 7)));
    key(Qt::Key_Return);
    EXPECT_EQ(eye.desk().place(), 1);
    EXPECT_EQ(eye.guess(), eye.desk().item()->starts_at) << "every question begins anew";
    key(Qt::Key_Escape);
    EXPECT_FALSE(eye.desk().running());
    EXPECT_EQ(yard->records().following.drills("angle").size(), 1U);
}

TEST_F(FollowingWindow, AnOrderIsAnsweredByDigitsAndReturnBeginsWhatIsDue) {
    key(Qt::Key_9, Qt::ControlModifier);
    EyeView& eye = window->the<EyeView>();
    key(Qt::Key_3);
    ASSERT_EQ(eye.desk().item()->kind, core::DrillKind::order);
    for (const int n : std::vector(eye.desk().item()->right)) key(Qt::Key_1 + n);
    EXPECT_TRUE(eye.desk().answered());
    EXPECT_TRUE(eye.desk().was_right());
    key(Qt::Key_Escape);
    EXPECT_FALSE(eye.desk().running());
    key(Qt::Key_Return);
    EXPECT_TRUE(eye.desk().running()) << "what is due";
}

TEST_F(FollowingWindow, ARiderWhoIsDueIsAskedFromTheYard) {
    ride_on({45, 44});
    key(Qt::Key_1, Qt::ControlModifier);
    window->the<YardView>().show_asking(maude);
    AskingCard& card = window->the<YardView>().asking();
    EXPECT_TRUE(card.words().toPlainText().contains("Lower leg back"));
    card.words().appendPlainText("Bring Fig's new saddle.");
    QTest::mouseClick(&card.ask(), Qt::LeftButton);
    ASSERT_EQ(yard->records().following.outbox(maude).size(), 1U);
    EXPECT_THAT(yard->records().following.outbox(maude)[0].words, testing::HasSubstr("new saddle"));
    EXPECT_EQ(card.outbox().count(), 1);
    QTest::mouseClick(&card.write(), Qt::LeftButton);
    EXPECT_TRUE(wait_for([&] { return yard->records().following.outbox(maude)[0].state == "written"; }));
    EXPECT_FALSE(card.write().isEnabled());
    QTest::mouseClick(&card.no_longer(), Qt::LeftButton);
    EXPECT_TRUE(yard->records().following.open_promises().empty());
}

}  // namespace
}  // namespace aspen::ui
