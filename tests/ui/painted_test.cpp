// What is painted: compared whole with kept drawings, read aloud with its values, reached by Tab, and as
// large as the desktop's writing.

#include <QAccessible>
#include <QDateTime>
#include <QFile>
#include <QSignalSpy>

#include "app/review/annotated.hpp"
#include "app/review/first_look.hpp"
#include "app/review/review_changes.hpp"
#include "app/yard/changes.hpp"
#include "support/golden.hpp"
#include "ui/compare/compare_stage.hpp"
#include "ui/compare/compare_view.hpp"
#include "ui/compare/difference_list.hpp"
#include "ui/progress/lanes_widget.hpp"
#include "ui/progress/time_axis.hpp"
#include "ui/review/column.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

class Painted : public Window {
  protected:
    void expect_kept(const QString& name, QWidget& widget) {
        test::expect_kept(name + ".svg",
                          test::as_drawing(widget.size(), [&](QPaintDevice& to) { widget.render(&to); }));
    }
    std::vector<app::Lane> some_lanes() {
        std::vector<app::Lane> out(2);
        app::Lane& leg = out[0];
        leg.fault = yard->knowledge().faults.find("lower_leg_back");
        leg.measure = core::find_measure("heel_offset");
        leg.horse = "Fig";
        leg.correction.focus = true;
        leg.correction.seen = {core::Gait::trot, core::Seat::rising, "right"};
        leg.stage = core::Stage::in_work;
        leg.change = "better by 9.1 % since the first review, more than measuring error";
        const core::Band band{-8, 6, 7, "", ""};
        int day = 0;
        for (const auto& [value, verdict] : {std::pair{-21.5, core::Verdict::outside},
                                             {-12.4, core::Verdict::outside},
                                             {-7.6, core::Verdict::borderline},
                                             {-2.0, core::Verdict::inside}}) {
            app::LanePoint p;
            p.day = QDate(2026, 8, 1).addDays(30 * day++).toString(Qt::ISODate);
            p.value = {value, 1.6, verdict, band, 3};
            p.phases = {p.value};
            p.says = value < -20 ? "heel two hands behind the hip" : "heel behind the hip";
            p.verdict =
                verdict == core::Verdict::outside ? core::RideVerdict::outside : core::RideVerdict::inside;
            p.moments = 3;
            leg.points.push_back(p);
            leg.entries.push_back(p);
            leg.life.along.push_back(value < -10 ? core::Stage::in_work : core::Stage::holding);
        }
        leg.correction.noticed_on = "2026-08-01";
        leg.exercises.push_back({"Two-point, walk then trot", "2026-08-01", "2026-09-12", false});
        core::Practice practised;
        practised.day = "2026-08-12";
        practised.attempts = 8;
        practised.good = 6;
        leg.practice.push_back(practised);
        out[1].fault = yard->knowledge().faults.find("heel_up");
        out[1].measure = nullptr;
        app::LanePoint seen;
        seen.day = "2026-09-30";
        seen.verdict = core::RideVerdict::inside;
        seen.eye = {3, 4};
        out[1].entries.push_back(seen);
        out[1].life.along.push_back(core::Stage::holding);
        out[1].correction.noticed_on = "2026-08-01";
        out[1].horse = "Fig";
        out[1].change = "seen by eye, not measured";
        return out;
    }
};

TEST_F(Painted, LanesAreDrawnAsKept) {
    app::Thumbs thumbs(*yard);
    TimeAxis axis;
    axis.set_whole(TimeAxis::days(QString("2026-08-01")), TimeAxis::days(QString("2026-11-24")));
    Lanes lanes(axis, thumbs);
    lanes.resize(900, 320);
    lanes.show_lanes(some_lanes(), TimeAxis::days(QString("2026-11-24")));
    expect_kept("lanes", lanes);
}

TEST_F(Painted, TwoMomentsAreDrawnAsKept) {
    const auto clip = test::simulated_clip(test::faulty_plan(), "dated");
    // The day of the ride stands in the drawing; a file that says none is as old as its last writing.
    QFile dated(QString::fromStdString(clip.string()));
    ASSERT_TRUE(dated.open(QIODevice::ReadWrite) &&
                dated.setFileTime(QDateTime(QDate(2026, 11, 27), QTime(12, 0)), QFile::FileModificationTime));
    dated.close();
    bring_in(clip);
    const auto mark = [&](int frame) {
        bench().deck().go_to(frame);
        ASSERT_TRUE(wait_for([&] { return bench().deck().picture_is_full(); }));
        const core::Figure truth = test::true_figure(clip, frame);
        while (bench().marking().asked()) bench().marking().place(truth[*bench().marking().asked()].at, 1);
    };
    app::ridden_here(bench(), core::Gait::trot);
    app::ridden_here(bench(), core::Seat::rising);
    app::set_travel(bench().review(), core::Travel::right);
    mark(10);
    mark(33);
    window->the<ReviewView>().act("two_at_once");
    ASSERT_EQ(window->view(), ViewName::compare);
    app::Comparison& two = window->the<CompareView>().comparison();
    ASSERT_EQ(two.count(), 2U);
    ASSERT_TRUE(wait_for([&] { return two.deck(0).picture_is_full() && two.deck(1).picture_is_full(); }));
    expect_kept("two-moments", window->the<CompareView>().stage());
    DifferenceList& list = window->the<CompareView>().differences();
    expect_kept("differences", list);
    EXPECT_TRUE(list.row_words(0).contains("told apart") && list.row_words(0).contains("trunk lean"))
        << list.row_words(0).toStdString();
}

// The rider true to scale with words first, and the findings where they are.
TEST_F(Painted, ColumnAndMarkedFrameAreDrawnAsKept) {
    bring_in_ridden();
    bench().deck().go_to(10);
    ASSERT_TRUE(wait_for([&] { return bench().deck().picture_is_full(); }));
    const core::Figure truth = test::true_figure(ridden_clip, 10);
    while (bench().marking().asked()) bench().marking().place(truth[*bench().marking().asked()].at, 1);
    bench().marking().select(std::nullopt);
    Column& column = window->the<ReviewView>().column();
    expect_kept("column", column);
    for (int i = 1; i < column.row_count(); ++i)
        EXPECT_LE(column.row_area(i - 1).top(), column.row_area(i).top()) << "head first";
    expect_kept("marked-frame", picture());
    EXPECT_FALSE(app::annotated_here(bench()).marks.empty());
}

TEST_F(Painted, EveryPaintedRowIsReadWithItsValuesAndReachedByKey) {
    const auto clip = test::simulated_clip(test::faulty_plan(), "window");
    bring_in(clip);
    step_to(10);
    app::set_travel(bench().review(), core::Travel::right);
    const core::Figure truth = test::true_figure(clip, 10);
    while (bench().marking().asked()) bench().marking().place(truth[*bench().marking().asked()].at, 1);
    Column& column = window->the<ReviewView>().column();
    QAccessibleInterface* read = QAccessible::queryAccessibleInterface(&column);
    ASSERT_TRUE(read);
    ASSERT_EQ(read->childCount(), column.row_count());
    bool lean = false;
    for (int i = 0; i < read->childCount(); ++i) {
        const QString words = read->child(i)->text(QAccessible::Name);
        EXPECT_FALSE(words.isEmpty());
        EXPECT_FALSE(read->child(i)->rect().isEmpty());
        lean = lean || (words.startsWith("Trunk lean, ") && words.contains("give or take"));
    }
    EXPECT_TRUE(lean);
    EXPECT_TRUE(column.focusPolicy() & Qt::TabFocus);
    column.setFocus();
    QSignalSpy wanted(&column, &Column::wants_measure);
    QTest::keyClick(&column, Qt::Key_Down);
    EXPECT_EQ(column.current_row(), 1);
    EXPECT_TRUE(read->child(1)->state().focused);
    QTest::keyClick(&column, Qt::Key_Return);
    EXPECT_EQ(wanted.size(), 1) << "Enter does what a click does";

    app::Thumbs thumbs(*yard);
    TimeAxis axis;
    Lanes lanes(axis, thumbs);
    lanes.show_lanes(some_lanes(), 0);
    read = QAccessible::queryAccessibleInterface(&lanes);
    ASSERT_EQ(read->childCount(), 2);
    const QString lane = read->child(0)->text(QAccessible::Name);
    for (const char* part : {"Lower leg back", "in work", "the focus", "Fig", "trot rising, right side",
                             "two hands behind", "outside", "inside", "Better by"})
        EXPECT_TRUE(lane.contains(part)) << part << " in " << lane.toStdString();
}

TEST_F(Painted, WritingIsAsLargeAsTheDesktopsWant) {
    EXPECT_EQ(font_scale(10), 1);
    EXPECT_EQ(font_scale(11), 1) << "about usual";
    EXPECT_NEAR(font_scale(15.75), 1.5, 1e-9);
    EXPECT_EQ(font_scale(80), 2) << "more would not fit any window";
    const int before = window->the<YardView>().rides().sizeHintForRow(0);
    set_font_scale(1.5);
    apply_theme(*qApp, ThemeChoice::light);
    EXPECT_EQ(text_font(14).pixelSize(), 21);
    EXPECT_TRUE(qApp->styleSheet().contains("font-size: 21px"));
    bring_in(test::simulated_clip(test::faulty_plan(), "window"));
    window->show_view(ViewName::yard);
    settle();
    EXPECT_GT(window->the<YardView>().rides().sizeHintForRow(0), 100)
        << "rows grow with it; before: " << before;
    set_font_scale(1);
    apply_theme(*qApp, ThemeChoice::light);
}

TEST_F(Painted, AnythingThatCanBeDoneIsFoundByPartOfItsName) {
    bring_in(test::simulated_clip(test::faulty_plan(), "window"));
    key(Qt::Key_K, Qt::ControlModifier);
    ActionLine& line = window->action_line();
    ASSERT_TRUE(line.isVisible());
    QTest::keyClicks(&line.words(), "mark this fr");
    ASSERT_EQ(line.found().count(), 1);
    EXPECT_TRUE(line.found().item(0)->text().contains("Z")) << "its own key stands beside it";
    QTest::keyClick(&line.words(), Qt::Key_Return);
    EXPECT_FALSE(line.isVisible());
    EXPECT_EQ(bench().review().moments().size(), 1U) << "and it was done";
    key(Qt::Key_K, Qt::ControlModifier);
    QTest::keyClicks(&line.words(), "progr");
    QTest::keyClick(&line.words(), Qt::Key_Return);
    EXPECT_EQ(window->view(), ViewName::progress);
    key(Qt::Key_K, Qt::ControlModifier);
    QTest::keyClick(&line.words(), Qt::Key_Escape);
    EXPECT_FALSE(line.isVisible());
}

TEST_F(Painted, WhatRunsStandsInALineWithItsStop) {
    EXPECT_FALSE(window->jobs_line().isVisible());
    std::atomic<bool> stopped{false};
    yard->jobs().run(
        app::JobLane::look, "Counting sheep", window.get(),
        [&](app::Job& job) {
            job.progress(0.43);
            while (!job.stopped()) QThread::msleep(5);
            stopped = true;
            return 0;
        },
        [](const app::Outcome<int>&) {});
    ASSERT_TRUE(wait_for([&] { return window->jobs_line().text().contains("43 %"); }))
        << window->jobs_line().text().toStdString();
    QMenu menu;
    window->jobs_line().fill(menu);
    ASSERT_EQ(menu.actions().size(), 1);
    menu.actions()[0]->trigger();
    ASSERT_TRUE(wait_for([&] { return stopped && !window->jobs_line().isVisible(); }));
}

}  // namespace
}  // namespace aspen::ui
