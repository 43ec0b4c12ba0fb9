// The bench at rest: the picture stays where it is, nothing is painted that nobody asked for, and what stands
// is changed in place.

#include <QEvent>
#include <QLabel>
#include <QPointer>
#include <QVBoxLayout>
#include <atomic>
#include <chrono>
#include <map>
#include <thread>
#include <utility>

#include "app/jobs/jobs.hpp"
#include "app/review/finding_row.hpp"
#include "app/review/prepared.hpp"
#include "app/review/review_changes.hpp"
#include "ui/review/column.hpp"
#include "ui/review/lower_panel.hpp"
#include "ui/review/notice_band.hpp"
#include "ui/review/prepared_line.hpp"
#include "ui/shared/standing_lines.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

using testing::HasSubstr;

// --- lines that stand

class Lines : public testing::Test {
  protected:
    void show(const QStringList& all) {
        lines.begin();
        for (const QString& words : all) {
            lines.add(words, [&] {
                ++made;
                return new QLabel(words);
            });
        }
        lines.end();
    }
    QStringList standing() const {
        QStringList out;
        for (int i = 0; i < box->count(); ++i) {
            if (const auto* l = qobject_cast<QLabel*>(box->itemAt(i)->widget())) out << l->text();
        }
        return out;
    }
    QWidget holder;
    QVBoxLayout* box = new QVBoxLayout(&holder);
    StandingLines lines{*box};
    int made = 0;
};

TEST_F(Lines, StayWhereTheyAreAndOnlyWhatIsNewIsMade) {
    show({"a", "b", "c"});
    const QPointer<QWidget> c = box->itemAt(2)->widget();
    EXPECT_EQ(made, 3);
    show({"a", "b", "c"});
    EXPECT_EQ(made, 3);
    show({"a", "x", "c"});
    EXPECT_EQ(made, 4);
    EXPECT_EQ(standing(), (QStringList{"a", "x", "c"}));
    EXPECT_EQ(box->itemAt(2)->widget(), c);
    show({"c"});
    EXPECT_EQ(standing(), QStringList{"c"});
    EXPECT_EQ(box->itemAt(0)->widget(), c) << "the same one";
    show({"n", "c", "a"});
    EXPECT_EQ(standing(), (QStringList{"n", "c", "a"}));
    show({});
    EXPECT_EQ(lines.count(), 0U);
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    EXPECT_FALSE(c);
}

TEST_F(Lines, MayStandTwice) {
    show({"same", "same"});
    EXPECT_EQ(standing(), (QStringList{"same", "same"}));
    show({"same"});
    EXPECT_EQ(standing(), QStringList{"same"});
}

// --- the window

/// Counts what is painted, by widget.
class PaintEvents : public QObject {
  public:
    PaintEvents() { qApp->installEventFilter(this); }
    ~PaintEvents() override { qApp->removeEventFilter(this); }
    std::map<const QObject*, int> times;
    QStringList who() const {
        QStringList out;
        for (const auto& [o, n] : times)
            out << QString("%1 %2 × %3").arg(o->metaObject()->className(), o->objectName()).arg(n);
        return out;
    }

  protected:
    bool eventFilter(QObject* o, QEvent* e) override {
        if (e->type() == QEvent::Paint) ++times[o];
        return false;
    }
};

class Rest : public Window {
  protected:
    QRect where() const {
        const auto& p = window->the<ReviewView>().picture();
        return {p.mapTo(window.get(), QPoint(0, 0)), p.size()};
    }
    void expect_still(const char* after) {
        QCoreApplication::processEvents();
        EXPECT_EQ(where(), still) << after;
    }
    QRect still;
};

TEST_F(Rest, ThePictureStaysWhereItIs) {
    bring_in_ridden();
    picture().setFocus();
    QCoreApplication::processEvents();
    still = where();
    std::atomic<bool> end{false};
    const auto job = yard->jobs().run(
        app::JobLane::look, "Looking for something whose name is long, and longer than there is room for",
        window.get(),
        [&end](app::Job& j) {
            for (int i = 0; i < 100000 && !end && !j.stopped(); ++i) {
                j.progress(i % 100 / 100.0);
                std::this_thread::sleep_for(std::chrono::milliseconds(1));
            }
            return 0;
        },
        [](const app::Outcome<int>&) {});
    ASSERT_TRUE(wait_for([&] { return yard->jobs().rowCount() > 0; }));
    expect_still("a job runs");
    window->say("A line that is said, and that is longer than there is room for beside all the views: " +
                QString(200, 'x'));
    expect_still("something is said");
    key(Qt::Key_P);
    expect_still("three clicks are asked for");
    key(Qt::Key_Escape);
    mark_from_truth(20);
    expect_still("a figure is marked");
    bench().marking().select(core::Landmark::heel);
    expect_still("a joint is held");
    bench().marking().select({});
    bench().findings().decide(bench().findings().rows().at(0).key(), store::Decision::accepted);
    expect_still("a finding is accepted");
    key(Qt::Key_G);
    expect_still("a note");
    app::add_companion(*yard, bench().review().clip().id,
                       add_rider(*yard, test::rider("Pell Marrow", 1980, "gaited", "novice")), {});
    expect_still("somebody else rides there too");
    // What happens has a lane of its own from the key that logs it on: there it stays where it is again.
    window->the<ReviewView>().act("log_events");
    QCoreApplication::processEvents();
    const QRect before = std::exchange(still, where());
    key(Qt::Key_A);
    expect_still("an event is logged");
    yard->steps().undo();
    expect_still("and taken back");
    key(Qt::Key_Escape);
    still = before;
    expect_still("and no more");
    window->the<ReviewView>().act("record");
    ASSERT_TRUE(window->the<ReviewView>().recorder().recording());
    expect_still("a review is spoken");
    window->the<ReviewView>().act("record");
    window->show_view(ViewName::review);
    expect_still("and was");
    for (const char* panel : {"why", "checks", "summary", "strides", "curves"}) {
        window->the<ReviewView>().act(panel);
        expect_still(panel);
    }
    end = true;
    ASSERT_TRUE(wait_for([&] { return yard->jobs().rowCount() == 0; }));
    expect_still("the job ended");
}

TEST_F(Rest, NothingIsPaintedThatNobodyAskedFor) {
    bring_in_ridden();
    mark_from_truth(20);
    for (int v = 0; v <= static_cast<int>(ViewName::hand_over); ++v) {
        window->show_view(static_cast<ViewName>(v));
        // What a view makes when it is shown (a page, small pictures) is waited for.
        ASSERT_TRUE(wait_for([&] { return yard->jobs().rowCount() == 0 && !window->said_line().stands(); }));
        if (auto* edit = qobject_cast<QLineEdit*>(qApp->focusWidget())) edit->clearFocus();
        // Also a picture that is read without a word in the list of jobs; what never rests is caught below.
        wait_for(
            [] {
                const PaintEvents before;
                QTest::qWait(400);
                return before.times.empty();
            },
            10000);
        const PaintEvents painted;
        QTest::qWait(2000);
        EXPECT_THAT(painted.who().join(", ").toStdString(), testing::IsEmpty()) << "view " << v;
    }
}

TEST_F(Rest, AJointIsOneStateAndOneRefreshOfTheColumn) {
    bring_in_ridden();
    step_to(20);
    const core::Figure truth = test::true_figure(ridden_clip, 20);
    QTest::qWait(50);
    Column& column = window->the<ReviewView>().column();
    for (int n = 0; n < 4; ++n) {
        ASSERT_TRUE(bench().marking().asked());
        int states = 0;
        const auto told =
            QObject::connect(&bench(), &app::Bench::changed, window.get(), [&states] { ++states; });
        const PaintEvents painted;
        click(truth[*bench().marking().asked()].at);
        QTest::qWait(50);
        QObject::disconnect(told);
        EXPECT_EQ(states, 1);
        EXPECT_EQ(painted.times.contains(&column) ? painted.times.at(&column) : 0, 1);
    }
}

TEST_F(Rest, FramesThatSayNothingNewDoNotPaintTheColumn) {
    bring_in_ridden();
    mark_from_truth(20);
    step_to(25);
    QTest::qWait(50);
    const PaintEvents painted;
    for (int frame = 26; frame < 36; ++frame) {
        bench().deck().go_to(frame);
        QTest::qWait(10);
    }
    EXPECT_FALSE(painted.times.contains(&window->the<ReviewView>().column()));
    EXPECT_TRUE(painted.times.contains(&picture()));
}

TEST_F(Rest, ADecisionChangesItsLineAndLeavesTheOthersStanding) {
    bring_in_ridden();
    mark_from_truth(20);
    auto& panel = window->the<ReviewView>().findings();
    ASSERT_GE(bench().findings().rows().size(), 2U);
    const auto holding = [&](const QString& words) -> QPointer<QWidget> {
        for (QLabel* l : panel.findChildren<QLabel*>()) {
            if (l->isVisibleTo(&panel) && l->text().contains(words)) return l->parentWidget();
        }
        return nullptr;
    };
    QStringList names;
    for (const app::FindingRow& r : bench().findings().rows()) {
        if (r.found.verdict == core::Verdict::outside) names << QString::fromStdString(r.found.fault->name);
    }
    ASSERT_GE(names.size(), 2);
    run_queued();
    QList<QPointer<QWidget>> before;
    for (const QString& n : names) before << holding(n);

    // Another rider is added elsewhere, frames go by: every line is the same widget.
    add_horse(*yard, {{}, "Cobalt", 160, ""});
    for (int frame = 21; frame < 30; ++frame) bench().deck().go_to(frame);
    run_queued();
    for (qsizetype i = 0; i < names.size(); ++i) EXPECT_EQ(holding(names[i]), before[i]) << i;
    bench().deck().go_to(20);
    bench().findings().decide(bench().findings().rows().back().key(), store::Decision::accepted);
    run_queued();
    int same = 0;
    for (qsizetype i = 0; i < names.size(); ++i) same += holding(names[i]) == before[i];
    EXPECT_GE(same, static_cast<int>(names.size()) - 3) << "what was said, and what is lit before and after";
}

TEST_F(Rest, TheBandSaysWhatToDoNext) {
    bring_in_ridden();
    const auto next = [&] {
        run_queued();
        return window->the<ReviewView>().notices().next().toStdString();
    };
    EXPECT_THAT(next(), HasSubstr("what is not yet said"));
    auto ride = bench().review().ride();
    ride.horse = add_horse(*yard, {{}, "Fig", 157, ""});
    app::set_ride(bench().review(), ride, "horse");
    EXPECT_THAT(next(), HasSubstr("stop on a telling frame"));
    mark_from_truth(20);
    EXPECT_THAT(next(), HasSubstr("accept"));
    for (std::size_t i = 0; i < 30; ++i) {
        const auto& rows = bench().findings().rows();
        const auto open = std::ranges::find_if(rows, [](const app::FindingRow& r) {
            return r.found.verdict == core::Verdict::outside && r.decision == store::Decision::open;
        });
        if (open == rows.end()) break;
        bench().findings().decide(open->key(), store::Decision::accepted);
    }
    EXPECT_THAT(next(), HasSubstr("finds the exercise"));
}

TEST_F(Rest, InANewYardTheNamesOfRiderAndHorseAreWrittenAtOnce) {
    bring_in(test::simulated_clip(test::faulty_plan(), "window"));
    const auto write = [&](const char* of, const char* name) {
        for (QPushButton* b : window->the<ReviewView>().context().findChildren<QPushButton*>()) {
            if (b->menu() && b->accessibleName() == of) b->menu()->popup(QPoint(100, 100));
        }
        QMenu* open = menu();
        ASSERT_TRUE(open);
        auto* edit = open->findChild<QLineEdit*>();
        ASSERT_TRUE(edit);
        EXPECT_TRUE(wait_for([&] { return edit->hasFocus(); }, 5000)) << "nobody to choose from: " << of;
        QTest::keyClicks(edit, name);
        QTest::keyClick(edit, Qt::Key_Return);
        run_queued();
    };
    write("Rider", "Pell Marrow");
    ASSERT_EQ(yard->records().people.riders().size(), 1U);
    EXPECT_EQ(bench().review().rider(), yard->records().people.riders()[0].id);
    write("Horse", "Cobalt");
    ASSERT_EQ(yard->records().people.horses().size(), 1U);
    EXPECT_EQ(bench().review().horse(), yard->records().people.horses()[0].id);
}

TEST_F(Rest, AClipInWhichNobodyWasFoundSaysSo) {
    auto plan = test::faulty_plan();
    plan.duration_s = 1.4;  // a clip of its own: what is kept of it holds for every test
    ridden_clip = test::simulated_clip(plan, "nobody");
    bring_in(ridden_clip);
    app::keep_prepared(bench().review().clip().hash, {});
    window->the<ReviewView>().prepared().reload();
    run_queued();
    EXPECT_THAT(window->the<ReviewView>().seems().spoken().toStdString(), HasSubstr("nobody was found"));
    mark_from_truth(3);
    run_queued();
    EXPECT_EQ(window->the<ReviewView>().seems().spoken(), "")
        << "the coach marked by hand: no need to say it";
}

}  // namespace
}  // namespace aspen::ui
