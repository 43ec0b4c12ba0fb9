// The video engine as a coach's hand meets it: playing, rubbing, looping, slow motion, frames out; by real
// events.

#include <QClipboard>
#include <QGuiApplication>
#include <QLabel>

#include "app/review/player.hpp"
#include "ui/review/strip.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

class EngineWindow : public Window {
  protected:
    app::Player& player() { return window->the<ReviewView>().player(); }
    Strip& strip() { return *window->the<ReviewView>().findChild<Strip*>(); }
    void open_clip() {
        bring_in(test::simulated_clip(test::faulty_plan(), "window"));
        picture().setFocus();
    }
    void rub(double from, double to) {
        const int y = 24;
        const auto at = [&](double share) {
            return QPoint(16 + static_cast<int>(share * (strip().width() - 32)), y);
        };
        QTest::mousePress(&strip(), Qt::LeftButton, {}, at(from));
        for (int i = 1; i <= 20; ++i) {
            QMouseEvent move(QEvent::MouseMove, at(from + (to - from) * i / 20),
                             strip().mapToGlobal(at(from + (to - from) * i / 20)), Qt::NoButton,
                             Qt::LeftButton, {});
            QApplication::sendEvent(&strip(), &move);
            QApplication::processEvents();
        }
        QTest::mouseRelease(&strip(), Qt::LeftButton, {}, at(to));
    }
};

TEST_F(EngineWindow, SpacePlaysAndStopsOnAnExactFrame) {
    open_clip();
    key(Qt::Key_S);
    EXPECT_EQ(player().speed(), 0.5);
    key(Qt::Key_Space);
    EXPECT_TRUE(player().playing());
    ASSERT_TRUE(wait_for([&] { return bench().deck().frame() >= 8; }));
    key(Qt::Key_Space);
    EXPECT_FALSE(player().playing());
    ASSERT_TRUE(wait_for([&] { return bench().deck().picture_is_full(); }));
    EXPECT_EQ(bench().deck().picture().width(), bench().deck().facts().width);
    QTest::keyClick(&picture(), Qt::Key_Space, Qt::ShiftModifier);
    EXPECT_EQ(player().direction(), -1);
    ASSERT_TRUE(wait_for([&] { return !player().playing(); }));
    EXPECT_EQ(bench().deck().frame(), 0);
}

TEST_F(EngineWindow, BracketsMarkAStretchAndItLoops) {
    open_clip();
    step_to(10);
    key(Qt::Key_BracketLeft);
    step_to(16);
    key(Qt::Key_BracketRight);
    EXPECT_EQ(player().from(), 10);
    EXPECT_EQ(player().to(), 16);
    key(Qt::Key_Space);
    bool turned = false;
    int before = 0;
    const auto watch = QObject::connect(&bench().deck(), &app::ClipDeck::frame_changed, [&](int n) {
        turned = turned || n < before;
        before = n;
    });
    ASSERT_TRUE(wait_for([&] { return turned; }));
    key(Qt::Key_Space);
    QObject::disconnect(watch);
    key(Qt::Key_L);
    EXPECT_FALSE(player().from());
    EXPECT_FALSE(player().loops());
}

TEST_F(EngineWindow, RubbingShowsSomethingAtOnceAndRestsOnTheExactFrame) {
    open_clip();
    ASSERT_TRUE(wait_for([&] {
        return !bench().deck().small_picture(bench().deck().facts().frames - 1).isNull();
    })) << "previews are made while nobody asks";
    rub(0.1, 0.9);
    const int wanted = bench().deck().frame();
    EXPECT_NEAR(wanted, 0.9 * (bench().deck().facts().frames - 1), 2);
    ASSERT_TRUE(wait_for([&] { return bench().deck().picture_is_full(); }));
    EXPECT_EQ(bench().deck().picture_frame(), wanted);
    const media::Picture exact =
        media::VideoReader(test::simulated_clip(test::faulty_plan(), "window")).picture(wanted);
    EXPECT_EQ(qRed(bench().deck().picture().pixel(300, 200)), exact.pixel(300, 200)[2]);
}

TEST_F(EngineWindow, SlowMotionIsSaidInPlaceAndTheKeysStayWithTheBench) {
    open_clip();
    choose("Filmed at", "filmed at 240 pictures a second (plays 8 × slower)");
    EXPECT_NEAR(bench().deck().real_s(40), bench().deck().stream_s(40) / 8, 1e-9);
    ASSERT_TRUE(wait_for([&] { return picture().hasFocus(); }));
    QTest::keyClick(window.get(), Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(bench().deck().capture_map().is_plain());
}

/// How often a widget is painted.
class PaintCounter : public QObject {
  public:
    explicit PaintCounter(QWidget& of) { of.installEventFilter(this); }
    bool eventFilter(QObject*, QEvent* e) override {
        count += e->type() == QEvent::Paint;
        return false;
    }
    int count = 0;
};

TEST_F(EngineWindow, WhatIsAskedIsMeasuredOnceAndThenThePictureRests) {
    open_clip();
    ASSERT_TRUE(wait_for([&] { return bench().deck().picture_is_full() && !picture().asks().isEmpty(); }));
    ASSERT_TRUE(wait_for([&] {
        const PaintCounter paints(picture());
        for (int i = 0; i < 5; ++i) run_queued();
        return paints.count == 0;
    })) << "painting asked for the prompt, and the prompt for painting";
}

TEST_F(EngineWindow, TheFrameGoesToTheClipboard) {
    open_clip();
    step_to(5);
    ASSERT_TRUE(wait_for([&] { return bench().deck().picture_is_full(); }));
    QGuiApplication::clipboard()->clear();
    const auto copy = [&] {
        QTest::keyClick(&picture(), Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
    };
    copy();
    EXPECT_TRUE(QGuiApplication::clipboard()->image().isNull())
        << "nothing leaves of somebody who is not named";
    app::say_rider(*yard, bench().review().ride().id,
                   add_rider(*yard, test::rider("Maude Estrell", 1990, "hunter")));
    copy();
    EXPECT_TRUE(QGuiApplication::clipboard()->image().isNull()) << "nor with a bare face";
    EXPECT_TRUE(window->last_line().contains("set an ellipse")) << window->last_line().toStdString();
    drag({600, 130}, {640, 130});
    const QImage there = QGuiApplication::clipboard()->image();
    ASSERT_EQ(there.width(), bench().deck().facts().width) << window->last_line().toStdString();
    EXPECT_EQ(there.pixel(200, 200), bench().deck().picture().pixel(200, 200));
    EXPECT_NE(there.pixel(600, 130), bench().deck().picture().pixel(600, 130))
        << "under the cover that was drawn";
    QGuiApplication::clipboard()->clear();
    copy();
    EXPECT_FALSE(QGuiApplication::clipboard()->image().isNull()) << "the ellipse stays with its frame";
}

}  // namespace
}  // namespace aspen::ui
