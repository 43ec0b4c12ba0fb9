// Exercises and schools as books: pages that are read, and changed where they stand, by mouse and by keys;
// the keys by what one would do; the lesson's tiles, read from two metres and reached by name.

#include <QAccessible>
#include <QPlainTextEdit>

#include "app/yard/changes.hpp"
#include "app/yard/own_knowledge.hpp"
#include "support/golden.hpp"
#include "ui/lesson/lesson_view.hpp"
#include "ui/lesson/ring.hpp"
#include "ui/prescribe/exercises_view.hpp"
#include "ui/schools/schools_view.hpp"
#include "ui/shared/key_overlay.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

using testing::Contains;
using testing::HasSubstr;

class Books : public Window {
  protected:
    ExercisesView& exercises(const char* id = "two_point_walk_trot") {
        window->show_view(ViewName::exercises);
        auto& view = window->the<ExercisesView>();
        view.show_exercise(id);
        run_queued();
        return view;
    }
    const core::Exercise& exercise(const char* id = "two_point_walk_trot") {
        return *yard->knowledge().exercises.find(id);
    }
    void expect_kept(const QString& name, QWidget& widget, QSize size) {
        widget.resize(size);
        test::expect_kept(name + ".svg",
                          test::as_drawing(size, [&](QPaintDevice& to) { widget.render(&to); }));
    }
};

TEST_F(Books, AnExercisesPageIsDrawnAsKept) {
    auto& view = exercises();
    expect_kept("exercise-plate", *view.findChild<PlateView*>(), {400, 264});
    expect_kept("exercise-ladder", view.ladder(), {400, 274});
}

TEST_F(Books, ALineIsPressedAndWrittenWhereItStands) {
    auto& view = exercises();
    BookLine& cue = view.line("plain");
    ASSERT_TRUE(cue.isVisible());
    EXPECT_THAT(cue.accessibleName().toStdString(), HasSubstr("Weight down the back of the leg"));
    QTest::mouseClick(&cue, Qt::LeftButton);
    ASSERT_TRUE(cue.is_writing());
    QTest::keyClicks(cue.editor(), "Stand on your heels.");
    QTest::keyClick(cue.editor(), Qt::Key_Return);
    EXPECT_EQ(exercise().cue_plain, "Stand on your heels.");
    EXPECT_FALSE(cue.is_writing());
    yard->steps().undo();
    EXPECT_EQ(exercise().cue_plain, "Weight down the back of the leg, hips over heels.");
}

TEST_F(Books, EscapeLeavesALineAsItWas) {
    auto& view = exercises();
    BookLine& line = view.line("purpose");
    line.setFocus();
    QTest::keyClick(&line, Qt::Key_Return);
    ASSERT_TRUE(line.is_writing());
    QTest::keyClicks(line.editor(), "nonsense");
    QTest::keyClick(line.editor(), Qt::Key_Escape);
    EXPECT_FALSE(line.is_writing());
    EXPECT_EQ(app::own_exercise(*yard, "two_point_walk_trot"), "");
    EXPECT_EQ(window->view(), ViewName::exercises) << "the page stays open";
}

TEST_F(Books, WhatIsRefusedStaysInItsLine) {
    auto& view = exercises();
    BookLine& levels = view.line("levels");
    levels.begin();
    levels.editor()->setPlainText("heroes");
    QTest::keyClick(levels.editor(), Qt::Key_Return);
    EXPECT_TRUE(levels.is_writing()) << "to be mended";
    EXPECT_THAT(view.trouble().toStdString(), HasSubstr("it knows beginner, novice, established"));
    EXPECT_EQ(exercise().levels.size(), 3U);
}

TEST_F(Books, WhatIsNotSaidIsOneWordThatLeadsThere) {
    auto& view = exercises();
    EXPECT_FALSE(view.line("people").isVisible()) << "nothing said, nothing shown";
    view.begin("people");
    ASSERT_TRUE(view.line("people").is_writing());
    QTest::keyClicks(view.line("people").editor(), "a helper");
    QTest::keyClick(view.line("people").editor(), Qt::Key_Return);
    EXPECT_THAT(exercise().people, Contains("a helper"));
    EXPECT_TRUE(view.line("people").isVisible());
}

TEST_F(Books, ARungIsPressedAndWrittenAndOneMorePutOnTop) {
    auto& view = exercises();
    LadderView& ladder = view.ladder();
    QTest::mouseClick(&ladder, Qt::LeftButton, {}, ladder.row_area(0).center());
    ASSERT_TRUE(view.rung_line().is_writing());
    view.rung_line().editor()->setPlainText("walk: half a lap (4 x 2 min, 3 of 4)");
    QTest::keyClick(view.rung_line().editor(), Qt::Key_Return);
    EXPECT_EQ(exercise().dose.ladder[0].words, "half a lap");
    EXPECT_EQ(exercise().dose.ladder.size(), 6U);
    for (auto* b : view.findChildren<QPushButton*>()) {
        if (b->text() == "One more rung on top") QTest::mouseClick(b, Qt::LeftButton);
    }
    ASSERT_TRUE(view.rung_line().is_writing());
    QTest::keyClick(view.rung_line().editor(), Qt::Key_Return);
    EXPECT_EQ(exercise().dose.ladder.size(), 6U) << "what was proposed is not said yet";
    view.rung_line().begin();
    view.rung_line().editor()->setPlainText("trot: ten minutes (1 x 10 min, 1 of 1)");
    QTest::keyClick(view.rung_line().editor(), Qt::Key_Return);
    EXPECT_EQ(exercise().dose.ladder.size(), 7U);
}

TEST_F(Books, ASearchThatFindsNothingSaysSo) {
    auto& view = exercises();
    QTest::keyClicks(&view.search(), "zebra");
    EXPECT_EQ(view.list().count(), 0);
    bool said = false;
    for (const auto* l : view.findChildren<QLabel*>()) said |= l->isVisible() && l->text().contains("zebra");
    EXPECT_TRUE(said);
}

TEST_F(Books, AnExerciseOfOnesOwnIsDrawnAsItsFirstRungIsRidden) {
    core::Exercise own = exercise();
    own.id = "mine";
    own.dose.ladder.front().work = core::Work::canter;
    own.dose.ladder.front().stirrups = false;
    const simulate::Plate plate = plate_of(own);
    EXPECT_EQ(plate.ride.gait, simulate::Gait::canter);
    EXPECT_FALSE(plate.irons);
    EXPECT_TRUE(plate.horse);
}

TEST_F(Books, ASchoolThatShipsAsksToBeCopiedAndTheCopyIsWrittenIn) {
    window->show_view(ViewName::schools);
    auto& view = window->the<SchoolsView>();
    view.choose("hunter", "classical");
    BandPage& page = view.bands();
    const int lean = view.table().row_of("trunk_lean");
    ASSERT_GE(lean, 0);
    QTest::mouseClick(&page, Qt::LeftButton, {}, page.row_area(lean).center());
    EXPECT_FALSE(page.highest().isVisible());
    EXPECT_THAT(window->last_line().toStdString(), HasSubstr("copy it as your own"));
    view.copy();
    QTest::mouseClick(&page, Qt::LeftButton, {}, page.row_area(lean).center());
    ASSERT_TRUE(page.highest().isVisible());
    page.highest().setText("31");
    QTest::keyClick(&page.highest(), Qt::Key_Return);
    EXPECT_FALSE(page.highest().isVisible()) << window->last_line().toStdString();
    EXPECT_THAT(page.row_words(view.table().row_of("trunk_lean")).toStdString(), HasSubstr("to 31"));
    yard->steps().undo();
    EXPECT_THAT(page.row_words(view.table().row_of("trunk_lean")).toStdString(), Not(HasSubstr("to 31")));
}

TEST_F(Books, AllKeysStandUnderWhatOneWouldDo) {
    window->show_view(ViewName::lesson);
    KeyOverlay& overlay = window->overlay();
    overlay.open();
    EXPECT_TRUE(overlay.aims().front().contains("Lesson")) << "what this page can do comes first";
    EXPECT_TRUE(overlay.aims().back().contains("Anywhere"));
    overlay.hide();
    QStringList shown;
    for (const auto* b : overlay.findChildren<QPushButton*>()) shown << b->accessibleName();
    for (const QAction* a : window->keys().actions())
        EXPECT_TRUE(shown.contains(QString("%1: %2").arg(group_of(*a), a->text())))
            << a->text().toStdString();
    window->show_view(ViewName::review);
    overlay.open();
    EXPECT_TRUE(overlay.aims().front().startsWith("Look at the film"));
    overlay.hide();
}

/// Contrast as WCAG 2.1 defines it.
double ink_contrast(const QColor& a, const QColor& b) {
    const auto luminance = [](const QColor& c) {
        const auto linear = [](double s) {
            return s <= 0.03928 ? s / 12.92 : std::pow((s + 0.055) / 1.055, 2.4);
        };
        return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
    };
    const double x = luminance(a), y = luminance(b);
    return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

TEST_F(Books, AtTheRingEveryInkStandsSevenToOne) {
    for (const ThemeChoice choice : {ThemeChoice::light, ThemeChoice::dark}) {
        apply_theme(*qApp, choice);
        for (const QColor& ground : {theme().panel, theme().ground}) {
            EXPECT_GE(ink_contrast(theme().ink, ground), 7);
            EXPECT_GE(ink_contrast(ring_quiet(), ground), 7);
        }
        EXPECT_GE(ink_contrast(theme().panel, theme().ink), 7) << "a word that is due: paper on ink";
    }
    apply_theme(*qApp, ThemeChoice::light);
}

class RingTiles : public Window {
  protected:
    void SetUp() override {
        app::add_rider(*yard, test::rider("Joss Penhallow", 1990, "hunter", "novice"));
        settle();
        window->show_view(ViewName::lesson);
        view().prepare({});
        view().roster().selectionModel()->select(view().roster().model()->index(0, 0),
                                                 QItemSelectionModel::Select);
        view().begin();
        run_queued();
        ASSERT_EQ(view().tiles().size(), 1U);
    }
    LessonView& view() { return window->the<LessonView>(); }
    RiderTile& tile() { return *view().tiles().front(); }
    void run() {
        for (const auto& [item, words] : app::before_mounting()) view().desk().toggle_looked(0, item);
        view().desk().start();
        run_queued();
    }
};

TEST_F(RingTiles, EachTouchIsReachedByNameAndByKeys) {
    EXPECT_EQ(tile().row_count(), static_cast<int>(app::before_mounting().size()));
    EXPECT_THAT(tile().row_words(0).toStdString(), HasSubstr("open"));
    run();
    QAccessibleInterface* rows = QAccessible::queryAccessibleInterface(&tile());
    ASSERT_TRUE(rows);
    ASSERT_EQ(rows->childCount(), 6);
    EXPECT_EQ(rows->child(0)->text(QAccessible::Name), "Joss Penhallow: good, key 1");
    tile().setFocus();
    QTest::keyClick(&tile(), Qt::Key_Return);
    EXPECT_EQ(view().desk().riders()[0].goods, 1);
    EXPECT_THAT(tile().row_words(0).toStdString(), HasSubstr("good 1"));
    QTest::mouseClick(&tile(), Qt::LeftButton, {}, tile().touch_area(RiderTile::Touch::attempt).center());
    EXPECT_EQ(view().desk().riders()[0].attempts, 1);
}

TEST_F(RingTiles, TouchesAreLargeAndNeverLieOverEachOther) {
    run();
    for (int a = 0; a < tile().row_count(); ++a) {
        EXPECT_GE(tile().row_area(a).height(), 48) << "for a gloved thumb (common practice, no source)";
        for (int b = 0; b < a; ++b) EXPECT_FALSE(tile().row_area(a).intersects(tile().row_area(b)));
    }
}

}  // namespace
}  // namespace aspen::ui
