#pragma once

#include <gmock/gmock.h>

#include <QApplication>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QTest>
#include <functional>

#include "app/files/data_files.hpp"
#include "app/review/first_look.hpp"
#include "app/review/review_changes.hpp"
#include "app/yard/changes.hpp"
#include "support/support.hpp"
#include "support/wait_for.hpp"
#include "ui/main_window.hpp"
#include "ui/prescribe/prescribe_view.hpp"
#include "ui/progress/progress_view.hpp"
#include "ui/review/ask_panel.hpp"
#include "ui/review/context_bar.hpp"
#include "ui/review/findings_panel.hpp"
#include "ui/review/picture_view.hpp"
#include "ui/review/review_view.hpp"
#include "ui/shared/theme.hpp"
#include "ui/yard/yard_view.hpp"

namespace aspen::ui {

using test::run_queued, test::wait_for;

/// A real window over a yard of its own, driven by mouse and keys.
class Window : public testing::Test {
  protected:
    Window() {
        load_fonts();
        apply_theme(*qApp, ThemeChoice::light);
        reopen();
    }
    void reopen() {
        window.reset();
        yard.reset();
        yard = std::make_unique<app::Yard>(QString::fromStdString((folder / "yard").string()),
                                           app::shipped_knowledge());
        yard->set_clock(test::noon_of(QDate(2026, 11, 24)));
        window = std::make_unique<MainWindow>(*yard);
        window->resize(1280, 800);
        window->show();
        EXPECT_TRUE(QTest::qWaitForWindowExposed(window.get()));
        QApplication::setActiveWindow(window.get());  // a bare X server has no window manager to do it
    }

    /// What changed is read by the lists of the yard.
    void settle() {
        const auto* riders = qobject_cast<app::RidersModel*>(window->the<YardView>().riders().model());
        ASSERT_TRUE(riders);
        EXPECT_TRUE(
            wait_for([&] { return !window->the<YardView>().model().pending() && !riders->pending(); }));
    }
    /// The menu that is open.
    QMenu* menu() {
        const auto open = [] { return qobject_cast<QMenu*>(QApplication::activePopupWidget()); };
        EXPECT_TRUE(wait_for([&] { return open() != nullptr; }));
        EXPECT_TRUE(open() && QTest::qWaitForWindowExposed(open()));
        QCoreApplication::processEvents();  // and has the keys
        return open();
    }
    app::Bench& bench() { return window->bench(); }
    PictureView& picture() { return window->the<ReviewView>().picture(); }

    void key(int k, Qt::KeyboardModifiers m = Qt::NoModifier) {
        QWidget* target = qApp->focusWidget() ? qApp->focusWidget() : window.get();
        QTest::keyClick(target, static_cast<Qt::Key>(k), m);
    }
    /// Clicks the picture where a point of the clip is shown.
    void click(core::Point p) {
        QTest::mouseClick(&picture(), Qt::LeftButton, {}, picture().to_widget(p).toPoint());
    }
    void drag(core::Point from, core::Point to) {
        const QPoint a = picture().to_widget(from).toPoint(), b = picture().to_widget(to).toPoint();
        QTest::mousePress(&picture(), Qt::LeftButton, {}, a);
        for (int i = 1; i <= 5; ++i) QTest::mouseMove(&picture(), a + (b - a) * i / 5);
        QTest::mouseRelease(&picture(), Qt::LeftButton, {}, b);
    }
    /// Opens a word of the context line and takes the choice with this text.
    void choose(const char* word, const QString& choice) {
        for (QPushButton* b : window->the<ReviewView>().context().findChildren<QPushButton*>()) {
            if (b->accessibleName() != word) continue;
            emit b->menu()->aboutToShow();
            for (QAction* a : b->menu()->actions()) {
                if (a->text().startsWith(choice)) return a->trigger();
            }
        }
        ADD_FAILURE() << "no choice " << choice.toStdString() << " for " << word;
    }
    /// Types a new name into the field at the end of a word's choices.
    void name_new(const char* word, const QString& name) {
        for (QPushButton* b : window->the<ReviewView>().context().findChildren<QPushButton*>()) {
            if (b->accessibleName() != word) continue;
            emit b->menu()->aboutToShow();
            auto* edit = b->menu()->findChild<QLineEdit*>();
            ASSERT_TRUE(edit);
            QTest::keyClicks(edit, name);
            QTest::keyClick(edit, Qt::Key_Return);
        }
    }
    void bring_in(const std::filesystem::path& file) {
        window->bring_in({QString::fromStdString(file.string())});
        ASSERT_TRUE(wait_for([&] { return bench().deck().ready() && bench().deck().picture_is_current(); }));
    }
    void step_to(int frame) {
        for (int i = bench().deck().frame(); i < frame; ++i) key(Qt::Key_Period);
        ASSERT_EQ(bench().deck().frame(), frame);
        ASSERT_TRUE(wait_for([&] { return bench().deck().picture_is_current(); }));
    }

    /// A clip of a rider in the sitting trot, with everything said that bands need.
    void bring_in_ridden() {
        ridden_clip = test::simulated_clip(test::faulty_plan(), "window");
        bring_in(ridden_clip);
        const auto rider = add_rider(*yard, test::rider("Maude Estrell", 1990, "hunter", "established"));
        app::say_rider(*yard, bench().review().ride().id, rider);
        app::ridden_here(bench(), core::Gait::trot);
        app::ridden_here(bench(), core::Seat::sitting);
        app::set_travel(bench().review(), core::Travel::right);
        window->findChild<AskPanel*>()->leave();  // which horse it is does not matter here
    }
    /// Goes to a frame of that clip and clicks every asked joint where it truly is.
    void mark_from_truth(int frame) {
        step_to(frame);
        const core::Figure truth = test::true_figure(ridden_clip, frame);
        while (bench().marking().asked()) bench().marking().place(truth[*bench().marking().asked()].at, 1);
    }

    std::filesystem::path ridden_clip;
    test::TempFolder folder;
    std::unique_ptr<app::Yard> yard;
    std::unique_ptr<MainWindow> window;
};

}  // namespace aspen::ui
