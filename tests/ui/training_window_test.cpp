// Prescribe, the lesson and the arena as a coach uses them: by keys and by touch, in a real window.

#include <QListView>

#include "app/review/figure_maker.hpp"
#include "ui/arena/arena_view.hpp"
#include "ui/lesson/lesson_view.hpp"
#include "ui/lesson/replay_panel.hpp"
#include "ui/prescribe/exercises_view.hpp"
#include "ui/prescribe/ladder_view.hpp"
#include "ui/prescribe/practice_line.hpp"
#include "ui/prescribe/session_view.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

using testing::HasSubstr;

class Training : public Window {
  protected:
    Training() {
        for (const char* name : {"Bram Oddleif", "Ines Varga-Holt", "Joss Penhallow", "Maude Estrell"})
            riders.push_back(app::add_rider(*yard, test::rider(name, 1990, "classical", "novice")));
        fig = app::add_horse(*yard, {{}, "Fig", 157, ""});
        yard->quietly([&] {
            store::Correction c;
            c.rider = riders[1];
            c.horse = fig;
            c.fault = "lower_leg_back";
            c.noticed_on = "2026-11-01";
            c.focus = true;
            test::to_write(*yard).add(c);
        });
    }
    void plan_of_ines() {
        key(Qt::Key_4, Qt::ControlModifier);
        window->choose_rider(riders[1]);
        run_queued();
    }
    app::PlanDesk& desk() { return window->the<PrescribeView>().desk(); }
    void press(QWidget& widget, const QPoint& at) { QTest::mouseClick(&widget, Qt::LeftButton, {}, at); }
    void to_ring(int n) {
        key(Qt::Key_7, Qt::ControlModifier);
        LessonView& lesson = window->the<LessonView>();
        ASSERT_TRUE(wait_for([&] { return lesson.roster().model()->rowCount() == 4; }));
        for (int i = 0; i < n; ++i)
            lesson.roster().selectionModel()->select(lesson.roster().model()->index(i, 0),
                                                     QItemSelectionModel::Select);
        QTest::keyClick(&lesson.roster(), Qt::Key_Return);
        run_queued();
        ASSERT_EQ(lesson.desk().riders().size(), static_cast<std::size_t>(n))
            << window->last_line().toStdString();
    }
    /// Two at the ring, the lesson running, and a camera whose time the test says.
    app::SimulatedCamera* with_camera() {
        to_ring(2);
        LessonView& lesson = window->the<LessonView>();
        lesson.desk().start();
        auto camera = std::make_unique<app::SimulatedCamera>();
        app::SimulatedCamera* out = camera.get();
        lesson.replay().open(std::move(camera));
        out->stop();
        return out;
    }
    std::vector<store::RiderId> riders;
    store::HorseId fig;
};

TEST_F(Training, APlanIsPickedGivenAndWrittenDownByKeys) {
    plan_of_ines();
    ASSERT_EQ(desk().plan()->candidates.size(), 3U);
    const std::string second = desk().plan()->candidates[1].exercise->id;
    key(Qt::Key_2);
    EXPECT_EQ(desk().exercise()->id, second);
    key(Qt::Key_G);
    run_queued();
    key(Qt::Key_4, Qt::ControlModifier);
    window->choose_rider(riders[1]);
    ASSERT_TRUE(desk().is_given());
    EXPECT_EQ(window->the<PrescribeView>().ladder().row_count(),
              static_cast<int>(desk().exercise()->dose.ladder.size()));
    for (int ride = 0; ride < 2; ++ride) {
        key(Qt::Key_L);
        ASSERT_TRUE(window->the<PrescribeView>().practice_line().isVisible());
        PracticeLine& line = window->the<PrescribeView>().practice_line();
        run_queued();  // the count in hand is marked whole, so that a digit takes its place
        key(Qt::Key_7);
        key(Qt::Key_Space);
        run_queued();
        key(Qt::Key_8);
        key(Qt::Key_Return);
        run_queued();
        EXPECT_FALSE(line.isVisible());
    }
    EXPECT_EQ(desk().plan()->given->log.size(), 2U);
    EXPECT_EQ(desk().plan()->given->place.rung, 1);
    EXPECT_THAT(window->last_line().toStdString(), HasSubstr("7 of 8"));
    EXPECT_THAT(window->the<PrescribeView>().ladder().row_words(0).toStdString(), HasSubstr("climbed"));
    EXPECT_THAT(window->the<PrescribeView>().ladder().row_words(1).toStdString(), HasSubstr("ridden now"));
    key(Qt::Key_Z, Qt::ControlModifier);
    run_queued();
    EXPECT_EQ(desk().plan()->given->place.rung, 0);
}

TEST_F(Training, ABlockIsDraggedAndTheBrokenRuleNamed) {
    plan_of_ines();
    SessionView& session = window->the<PrescribeView>().session();
    ASSERT_GT(session.row_count(), 8);
    ASSERT_TRUE(desk().broken().empty());
    const QPoint from = session.row_area(0).center(), to = session.row_area(session.row_count() - 1).center();
    QTest::mousePress(&session, Qt::LeftButton, {}, from);
    QTest::mouseMove(&session, (from + to) / 2);
    QTest::mouseMove(&session, to);
    QTest::mouseRelease(&session, Qt::LeftButton, {}, to);
    run_queued();
    EXPECT_TRUE(desk().own_session());
    EXPECT_FALSE(desk().broken().empty());
    bool named = false;
    for (QLabel* l : window->the<PrescribeView>().findChildren<QLabel*>())
        named |= l->isVisible() && l->text().contains("end with three minutes of walk");
    EXPECT_TRUE(named);
    QTest::keyClick(&window->the<PrescribeView>(), Qt::Key_O);
    run_queued();
    EXPECT_TRUE(desk().broken().empty());
    session.setFocus();
    QTest::keyClick(&session, Qt::Key_Right);
    const int seconds = desk().session().seconds();
    QTest::keyClick(&session, Qt::Key_Plus);
    run_queued();
    EXPECT_EQ(desk().session().seconds(), seconds + 30);
}

TEST_F(Training, EveryRiderHasAColumnOfTheKeyboard) {
    to_ring(4);
    if (HasFatalFailure()) return;
    LessonView& lesson = window->the<LessonView>();
    app::LessonDesk& ring = lesson.desk();
    QTest::keyClick(&lesson, Qt::Key_Space);
    EXPECT_EQ(ring.state(), app::LessonDesk::State::before) << "helmet and girth were not looked at";
    QTest::keyClick(&lesson, Qt::Key_Space);  // the coach's own word
    EXPECT_EQ(ring.state(), app::LessonDesk::State::running);
    QTest::keyClick(&lesson, Qt::Key_1);
    QTest::keyClick(&lesson, Qt::Key_3);
    QTest::keyClick(&lesson, Qt::Key_3);
    QTest::keyClick(&lesson, Qt::Key_2, Qt::ShiftModifier);
    QTest::keyClick(&lesson, Qt::Key_R);  // a try of the fourth
    QTest::keyClick(&lesson, Qt::Key_R);
    QTest::keyClick(&lesson, Qt::Key_F);                     // got it
    QTest::keyClick(&lesson, Qt::Key_Q, Qt::ShiftModifier);  // the first holds
    EXPECT_EQ(ring.riders()[0].goods, 1);
    EXPECT_EQ(ring.riders()[2].goods, 2);
    EXPECT_EQ(ring.riders()[1].looks, 1);
    EXPECT_EQ(ring.riders()[3].attempts, 2);
    EXPECT_EQ(ring.riders()[3].good_ones, 1);
    EXPECT_FALSE(ring.riders()[0].held_since.isEmpty());
    QTest::keyClick(&lesson, Qt::Key_X);  // a word to the second
    ASSERT_TRUE(lesson.word_line().isVisible());
    QTest::keyClicks(&lesson.word_line(), "eyes up");
    QTest::keyClick(&lesson.word_line(), Qt::Key_Return);
    QTest::keyClick(&lesson, Qt::Key_X);
    QTest::keyClick(&lesson.word_line(), Qt::Key_1);  // the coach's own phrase
    EXPECT_EQ(yard->records().training.clock_notes(ring.riders()[1].ride.id).back().words, "eyes up");
    const int block = ring.lesson()->block;
    QTest::keyClick(&lesson, Qt::Key_Right);
    EXPECT_EQ(ring.lesson()->block, block + 1);
    key(Qt::Key_Z, Qt::ControlModifier);
    run_queued();
    EXPECT_EQ(ring.lesson()->block, block);
    QTest::keyClick(&lesson, Qt::Key_End);
    EXPECT_EQ(ring.state(), app::LessonDesk::State::ended);
}

TEST_F(Training, TheLessonIsRunByTouchToo) {
    to_ring(2);
    if (HasFatalFailure()) return;
    LessonView& lesson = window->the<LessonView>();
    app::LessonDesk& ring = lesson.desk();
    RiderTile& first = *lesson.tiles()[0];
    ASSERT_GE(first.width(), 250);
    press(first, QPoint(20, first.height() - 20));
    EXPECT_FALSE(ring.riders()[0].place.looked.empty()) << "the list before mounting";
    ring.give_word();
    ring.start();
    using T = RiderTile::Touch;
    for (const T t : {T::good, T::look, T::attempt, T::good_one, T::hold}) {
        EXPECT_GE(first.touch_area(t).height(), 44) << "large enough for a thumb";
        press(first, first.touch_area(t).center());
    }
    EXPECT_EQ(ring.riders()[0].goods, 1);
    EXPECT_EQ(ring.riders()[0].looks, 1);
    EXPECT_EQ(ring.riders()[0].attempts, 1);
    EXPECT_EQ(ring.riders()[0].good_ones, 1);
    EXPECT_FALSE(ring.riders()[0].held_since.isEmpty());
    EXPECT_EQ(ring.riders()[1].goods, 0);
    // A thumb on the glass does the same.
    QPointingDevice* glass = QTest::createTouchDevice();
    RiderTile& second = *lesson.tiles()[1];
    const QPoint at = second.touch_area(T::good).center();
    QTest::touchEvent(&second, glass).press(0, at, &second);
    QTest::touchEvent(&second, glass).release(0, at, &second);
    EXPECT_EQ(ring.riders()[1].goods, 1);
    // Half a lesson's worth of entries keeps its speed and loses none.
    for (int i = 0; i < 100; ++i) QTest::keyClick(&lesson, Qt::Key_W);
    EXPECT_EQ(ring.riders()[1].attempts, 100);
}

TEST_F(Training, TheArenasSumsAreChosenByKeys) {
    key(Qt::Key_8, Qt::ControlModifier);
    ArenaView& arena = window->the<ArenaView>();
    EXPECT_EQ(arena.plan().poles.size(), 4U);
    arena.stepper("poles").setFocus();
    QTest::keyClick(&arena.stepper("poles"), Qt::Key_6);
    EXPECT_EQ(arena.plan().poles.size(), 6U);
    QTest::keyClick(&arena, Qt::Key_2);
    EXPECT_EQ(arena.sum(), ArenaView::Sum::fan);
    EXPECT_TRUE(arena.plan().circle);
    QTest::keyClick(&arena, Qt::Key_3);
    EXPECT_EQ(arena.plan().poles.size(), 4U) << "a pole and three fences";
    EXPECT_TRUE(arena.plan().poles.back().fence);
    QTest::keyClick(&arena, Qt::Key_Z);
    EXPECT_EQ(arena.plan().arena.length_m(), 40);
}

TEST_F(Training, TheArenaIsReadAsPaceAndLineAndSavedAsADrawing) {
    key(Qt::Key_8, Qt::ControlModifier);
    ArenaView& arena = window->the<ArenaView>();
    QTest::keyClick(&arena, Qt::Key_Z);
    QTest::keyClick(&arena, Qt::Key_5);
    EXPECT_THAT(arena.plan().results.join("|").toStdString(), HasSubstr("km/h"));
    QTest::keyClick(&arena, Qt::Key_6);
    EXPECT_EQ(arena.plan().line.size(), 2U);
    EXPECT_THAT(arena.plan().results.join("|").toStdString(), HasSubstr("K to M  34.41 m")) << "20 by 28 m";
    const QString file = QString::fromStdString((folder / "ground.pdf").string());
    EXPECT_EQ(arena.save_drawing(file), QString());
    QFile pdf(file);
    ASSERT_TRUE(pdf.open(QIODevice::ReadOnly));
    EXPECT_TRUE(pdf.readAll().startsWith("%PDF"));
    EXPECT_FALSE(arena.save_drawing("/nowhere/ground.pdf").isEmpty());
}

class OwnExercises : public Training {
  protected:
    void SetUp() override {
        window->show_view(ViewName::exercises);
        page().show_exercise("two_point_walk_trot");
    }
    ExercisesView& page() { return window->the<ExercisesView>(); }
    const core::Exercise* exercise(const char* id = "two_point_walk_trot") {
        return yard->knowledge().exercises.find(id);
    }
};

TEST_F(OwnExercises, AreWrittenInPlaceAndComeBackAsTheyShip) {
    page().write("picture", "Stand on a cloud.");
    EXPECT_EQ(exercise()->cue_picture, "Stand on a cloud.");
    page().as_it_ships();
    EXPECT_NE(exercise()->cue_picture, "Stand on a cloud.");
    yard->steps().undo();
    EXPECT_EQ(exercise()->cue_picture, "Stand on a cloud.");
}

TEST_F(OwnExercises, AreRefusedByLineAndWord) {
    page().write("ladder", page().field("ladder") + "\nfly: away");
    EXPECT_THAT(page().trouble().toStdString(), HasSubstr("line 7 says \"fly\""));
    EXPECT_EQ(exercise()->dose.ladder.size(), 6U) << "nothing is changed";
    page().write("levels", "heroes");
    EXPECT_THAT(page().trouble().toStdString(), HasSubstr("it knows beginner, novice, established"));
}

TEST_F(OwnExercises, AreCopiedChangedHiddenAndTakenAway) {
    page().copy();
    EXPECT_EQ(page().shown(), "two_point_walk_trot_1");
    page().write("ladder", "walk: a lap (2 x 3 min, 4 of 4)");
    ASSERT_EQ(exercise("two_point_walk_trot_1")->dose.ladder.size(), 1U);
    EXPECT_EQ(exercise("two_point_walk_trot_1")->dose.ladder[0].minutes, 3);
    page().hide_or_show();
    EXPECT_TRUE(exercise("two_point_walk_trot_1")->hidden);
    page().as_it_ships();
    EXPECT_FALSE(exercise("two_point_walk_trot_1")) << "one's own is gone";
}

TEST_F(OwnExercises, AreFoundByTypingAndLeftByEscape) {
    QTest::keyClicks(&page().search(), "mechanical");
    EXPECT_GT(page().list().count(), 0);
    EXPECT_LT(page().list().count(), 10);
    QTest::keyClick(&page(), Qt::Key_Escape);
    EXPECT_EQ(window->view(), ViewName::prescribe);
}

TEST_F(Training, TheCameraIsShownLateAndTheLastHalfMinuteKept) {
    app::SimulatedCamera* at_ring = with_camera();
    if (HasFatalFailure()) return;
    app::SimulatedCamera& source = *at_ring;
    LessonView& lesson = window->the<LessonView>();
    ReplayPanel& panel = lesson.replay();
    for (int i = 0; i < 30; ++i) source.take(i * 500);
    EXPECT_EQ(panel.replay().pictures(), 30U);
    const QImage now = panel.replay().delayed(0), before = panel.replay().delayed(10);
    ASSERT_FALSE(before.isNull());
    EXPECT_NE(now, before);
    EXPECT_TRUE(panel.replay().delayed(20).isNull()) << "it does not go back so far";
    for (int i = 0; i < 20; ++i) QTest::keyClick(&lesson, Qt::Key_BracketRight);
    EXPECT_EQ(panel.delay_s(), 60);
    QTest::keyClick(&lesson, Qt::Key_2);  // the second rider is chosen
    QTest::keyClick(&lesson, Qt::Key_Backspace);
    ASSERT_TRUE(wait_for([&] { return !panel.keeping(); }));
    const store::RideId ride = lesson.desk().riders()[1].ride.id;
    ASSERT_TRUE(wait_for([&] { return yard->records().rides.clips_of(ride).size() == 1; }));
    const store::Clip clip = yard->records().rides.clips_of(ride)[0];
    EXPECT_TRUE(QFile::exists(yard->file_of(clip)));
    EXPECT_EQ(clip.told_by, store::ToldBy::coach);
    EXPECT_FALSE(clip.recorded_at.empty());
}

/// The figure lies on the late picture and is taken off with one key, also tomorrow.
TEST_F(Training, TheFigureLiesOnTheLatePictureUntilItIsTakenOff) {
    if (!app::FigureMaker::has_model())
        GTEST_SKIP() << "the body-pose network is not there (./aspen setup fetches it)";
    app::SimulatedCamera* at_ring = with_camera();
    if (HasFatalFailure()) return;
    app::SimulatedCamera& source = *at_ring;
    LessonView& lesson = window->the<LessonView>();
    ReplayPanel& panel = lesson.replay();
    panel.show();
    panel.change_delay(-60);
    ASSERT_EQ(panel.delay_s(), 5);
    const auto readings = std::make_shared<int>(0);
    auto* figure = panel.findChild<app::LiveFigure*>();
    ASSERT_TRUE(figure);
    QObject::connect(figure, &app::LiveFigure::read, figure, [readings](qint64) { ++*readings; });
    int pushed = 0;
    for (qint64 at = 0; at <= 6000; at += 125) {
        source.take(at);
        ASSERT_TRUE(wait_for([&] { return *readings > pushed; }));
        ++pushed;
    }
    ASSERT_TRUE(panel.figure_now()) << "1 s into the ride, 5 s ago";
    const QImage with = panel.grab().toImage();
    QTest::keyClick(&lesson, Qt::Key_F12, Qt::ShiftModifier);
    EXPECT_FALSE(panel.figure_now());
    EXPECT_NE(panel.grab().toImage(), with);
    EXPECT_EQ(yard->records().settings.setting("live_figure", ""), "off");
    QTest::keyClick(&lesson, Qt::Key_F12, Qt::ShiftModifier);
    EXPECT_TRUE(panel.figure_is_shown());
}

}  // namespace
}  // namespace aspen::ui
