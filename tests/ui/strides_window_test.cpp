// Joints followed through a stretch by one key, what the strides say, their curves under the film, and the
// judge that takes them in: through the window.

#include <fmt/format.h>
#include <qcustomplot.h>

#include <QDir>
#include <QLabel>

#include "app/files/cache_folder.hpp"
#include "app/review/finding_row.hpp"
#include "app/review/first_look.hpp"
#include "app/review/review_changes.hpp"
#include "ui/review/column.hpp"
#include "ui/review/curves_panel.hpp"
#include "ui/review/findings_panel.hpp"
#include "ui/review/lower_panel.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

using testing::HasSubstr;

class StridesWindow : public Window {
  protected:
    void SetUp() override {
        auto plan = test::faulty_plan();
        plan.ride.leg_swing_deg = 30;
        plan.duration_s = 5;
        ridden_clip = test::simulated_clip(plan, "swinging");
        bring_in(ridden_clip);
        const auto rider = add_rider(*yard, test::rider("Joss Penhallow", 1999, "hunter", "established"));
        app::say_rider(*yard, bench().review().ride().id, rider);
        app::ridden_here(bench(), core::Gait::trot);
        app::ridden_here(bench(), core::Seat::rising);
        app::set_travel(bench().review(), core::Travel::right);
        const QString hash = QString::fromStdString(bench().review().clip().hash).left(16);
        QDir cache(app::cache_folder());
        for (const QString& name : cache.entryList({hash + "*.pass", hash + "*.strides"})) cache.remove(name);
        for (const int frame : {20, 70, 120}) {
            bench().deck().go_to(frame);
            ASSERT_TRUE(wait_for([&] { return bench().deck().picture_is_current(); }));
            bench().marking().ask_for_others(true);
            const core::Figure truth = test::true_figure(ridden_clip, frame);
            while (bench().marking().asked())
                bench().marking().place(truth[*bench().marking().asked()].at, 1);
        }
        window->findChild<AskPanel*>()->leave();  // which horse it is does not matter here
        picture().setFocus();
        key(Qt::Key_Escape);
    }
    LowerPanel& lower() { return window->the<ReviewView>().lower(); }
    CurvesPanel& curves() { return lower().curves(); }
    void follow() {
        key(Qt::Key_V, Qt::AltModifier);
        ASSERT_EQ(lower().shows(), LowerPanel::Shows::strides);
        auto& work = window->the<ReviewView>().strides();
        ASSERT_TRUE(wait_for([&] { return !work.busy() && work.followed(); }));
    }
};

TEST_F(StridesWindow, OneKeyFollowsAndTheJudgeTakesItIn) {
    EXPECT_FALSE(bench().findings().find("swinging_leg"));
    follow();
    EXPECT_THAT(lower().strides().lines().join("|").toStdString(), HasSubstr("The lower leg swings"));
    EXPECT_THAT(lower().strides().lines().join("|").toStdString(), HasSubstr("It holds for"));
    const app::FindingRow* swing = bench().findings().find("swinging_leg");
    ASSERT_TRUE(swing);
    EXPECT_GE(swing->found.strides, 4);
    EXPECT_EQ(swing->found.certain, swing->found.strides);
    key(Qt::Key_Escape);
    ASSERT_EQ(lower().shows(), LowerPanel::Shows::findings);
    QStringList rows;
    for (const QLabel* l : lower().findings().findChildren<QLabel*>()) rows << l->text();
    EXPECT_THAT(rows.join("|").toStdString(),
                HasSubstr(fmt::format("in {0} of {0} strides", swing->found.strides)));
    QStringList tips;
    for (const QWidget* w : lower().findings().findChildren<QWidget*>()) tips << w->toolTip();
    EXPECT_THAT(tips.join("|").toStdString(), HasSubstr("give or take 2°, outside"))
        << "its rail is the mean over the strides: no moment shows a swing";
}

TEST_F(StridesWindow, ACurveIsChosenByKeysAndSaysItself) {
    follow();
    key(Qt::Key_U, Qt::AltModifier);
    ASSERT_EQ(lower().shows(), LowerPanel::Shows::curves);
    EXPECT_EQ(curves().chosen(), "lower_leg") << "what is argued about most comes first";
    EXPECT_THAT(curves().said().toStdString(), HasSubstr("is quiet"));
    EXPECT_THAT(curves().said().toStdString(), HasSubstr("strides past it"));
    picture().setFocus();
    key(Qt::Key_Down);
    EXPECT_EQ(curves().chosen(), "seat_height");
    EXPECT_THAT(curves().title().toStdString(), HasSubstr("Seat over the horse"));
    key(Qt::Key_Up);
    EXPECT_EQ(curves().chosen(), "lower_leg");
}

TEST_F(StridesWindow, CurvesMoveThePictureAndThePictureTheCurve) {
    follow();
    key(Qt::Key_U, Qt::AltModifier);
    auto* plot = curves().findChild<QCustomPlot*>();
    ASSERT_TRUE(plot);
    ASSERT_TRUE(wait_for([&] { return plot->width() > 300; }));
    QTest::mousePress(plot, Qt::LeftButton, {}, QPoint(plot->width() / 2, 40));
    EXPECT_NEAR(bench().deck().frame(), bench().deck().facts().frames / 2, 1) << "the film's own axis";
    QTest::mouseMove(plot, QPoint(plot->width() * 3 / 4, 40));
    QTest::mouseRelease(plot, Qt::LeftButton, {}, QPoint(plot->width() * 3 / 4, 40));
    picture().setFocus();
    bench().deck().go_to(0);
    key(Qt::Key_Z, Qt::AltModifier);
    EXPECT_GT(bench().deck().frame(), 0) << "went to the worst stride";
    key(Qt::Key_A, Qt::AltModifier);
    EXPECT_TRUE(curves().laid_over());
    EXPECT_GE(plot->graphCount(), 6) << "every stride, their mean and its spread";
    key(Qt::Key_Escape);
    EXPECT_EQ(lower().shows(), LowerPanel::Shows::findings);
}

TEST_F(StridesWindow, TheColumnShowsWhatWasFollowedToAnUnmarkedFrame) {
    follow();
    bench().deck().go_to(45);
    ASSERT_TRUE(wait_for([&] { return bench().deck().picture_is_current(); }));
    Column& column = window->the<ReviewView>().column();
    ASSERT_TRUE(column.shows_followed());
    EXPECT_GT(column.row_count(), 4) << "values of this very frame";
    bench().deck().go_to(70);
    EXPECT_FALSE(column.shows_followed()) << "what is marked goes before";
    bench().deck().go_to(45);
    key(Qt::Key_Escape);
    EXPECT_FALSE(column.shows_followed()) << "only while strides or curves are looked at";
}

TEST_F(StridesWindow, NothingToFollowSaysWhatToDo) {
    bench().deck().go_to(0);
    while (!bench().review().moments().empty()) yard->steps().undo();
    key(Qt::Key_U, Qt::AltModifier);
    EXPECT_THAT(curves().title().toStdString(), HasSubstr("Nothing followed yet"));
}

}  // namespace
}  // namespace aspen::ui
