// Two levels and few words: the yard and one rider, chosen once; amounts as riders say them on every view; at
// most four deeds under each; what is out before what is good.

#include <QLabel>
#include <QPushButton>
#include <QRegularExpression>

#include "app/yard/changes.hpp"
#include "support/golden.hpp"
#include "ui/compare/compare_view.hpp"
#include "ui/compare/difference_list.hpp"
#include "ui/progress/lanes_widget.hpp"
#include "ui/review/column.hpp"
#include "ui/shared/deeds_line.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

class QuietPages : public Window {
  protected:
    store::RiderId add(const char* name) {
        const store::RiderId id = app::add_rider(*yard, test::rider(name, 1990, "hunter", "novice"));
        settle();
        return id;
    }
    QString head() const { return window->head().rider().accessibleName(); }
    void press(ViewName view) {
        QPushButton* b = window->head().button(view);
        ASSERT_TRUE(b && b->isVisible());
        QTest::mouseClick(b, Qt::LeftButton);
        EXPECT_EQ(window->view(), view);
    }
    /// Every string that is painted in the window, as a drawing of it holds them.
    QStringList painted() {
        const std::string drawing =
            test::as_drawing(window->size(), [&](QPaintDevice& to) { window->render(&to); }).toStdString();
        static const QRegularExpression text(">([^<>]+)</text>");
        QStringList out;
        for (auto it = text.globalMatch(QString::fromStdString(drawing)); it.hasNext();)
            out << it.next().captured(1).trimmed();
        return out;
    }
};

TEST_F(QuietPages, ARiderIsChosenOnceAndStaysChosen) {
    add("Bram Oddleif");
    const store::RiderId ines = add("Ines Varga-Holt");
    window->choose_rider(ines);
    for (const ViewName page :
         {ViewName::prescribe, ViewName::compare, ViewName::progress, ViewName::hand_over}) {
        press(page);
        EXPECT_TRUE(head().contains("Ines Varga-Holt")) << head().toStdString();
    }
    EXPECT_EQ(window->the<PrescribeView>().desk().rider(), ines);
    EXPECT_EQ(window->the<ProgressView>().desk().rider(), ines);
    window->show_view(ViewName::lesson);
    window->show_view(ViewName::prescribe);
    EXPECT_TRUE(head().contains("Ines Varga-Holt")) << "also after a way round by the yard's pages";
}

TEST_F(QuietPages, TheListOfRidersFindsByLetters) {
    add("Bram Oddleif");
    const store::RiderId pell = add("Pell Marrow");
    window->show_view(ViewName::progress);
    key(Qt::Key_R, Qt::ControlModifier);
    ASSERT_TRUE(window->riders().isVisible());
    ASSERT_TRUE(wait_for([&] { return window->riders().words().hasFocus(); }));
    QTest::keyClicks(&window->riders().words(), "marr");
    EXPECT_EQ(window->riders().list().model()->rowCount(), 1);
    key(Qt::Key_Return);
    EXPECT_FALSE(window->riders().isVisible());
    EXPECT_EQ(window->the<ProgressView>().desk().rider(), pell);
    EXPECT_TRUE(head().contains("Pell Marrow"));
}

TEST_F(QuietPages, AListThatIsReadAnewKeepsARiderUnderTheKeys) {
    add("Bram Oddleif");
    window->show_view(ViewName::progress);
    key(Qt::Key_R, Qt::ControlModifier);
    app::add_rider(*yard, test::rider("Pell Marrow", 1990, "hunter", "novice"));
    ASSERT_TRUE(wait_for([&] { return window->riders().list().model()->rowCount() == 2; }));
    EXPECT_TRUE(window->riders().list().currentIndex().isValid());
}

TEST_F(QuietPages, ANameNobodyBearsIsSaidSo) {
    add("Bram Oddleif");
    window->show_view(ViewName::progress);
    key(Qt::Key_R, Qt::ControlModifier);
    QTest::keyClicks(&window->riders().words(), "zzz");
    EXPECT_EQ(window->riders().list().model()->rowCount(), 0);
    bool said = false;
    for (const QLabel* l : window->riders().findChildren<QLabel*>())
        said |= l->isVisible() && l->text().contains("Nobody of that name");
    EXPECT_TRUE(said);
    key(Qt::Key_Escape);
    EXPECT_FALSE(window->riders().isVisible());
}

TEST_F(QuietPages, OnlyOneLevelIsShown) {
    bring_in_ridden();
    ASSERT_EQ(window->view(), ViewName::review);
    EXPECT_FALSE(window->head().button(ViewName::lesson)->isVisible());
    EXPECT_TRUE(window->head().button(ViewName::prescribe)->isVisible());
    window->show_view(ViewName::yard);
    EXPECT_TRUE(window->head().button(ViewName::lesson)->isVisible());
    EXPECT_FALSE(window->head().button(ViewName::prescribe)->isVisible());
    int words = 0;
    for (const QPushButton* b : window->head().findChildren<QPushButton*>("view")) words += b->isVisible();
    EXPECT_LE(words, 5);
}

TEST_F(QuietPages, NothingBelowTheHeadMovesWithTheLevel) {
    bring_in_ridden();
    const int high = window->head().height();
    window->show_view(ViewName::yard);
    EXPECT_EQ(window->head().height(), high);
    window->resize(1024, 700);
    run_queued();
    EXPECT_EQ(window->head().height(), high);
}

TEST_F(QuietPages, WhoRidesOnTheBenchIsInHand) {
    const store::RiderId bram = add("Bram Oddleif");
    bring_in_ridden();
    window->show_view(ViewName::prescribe);
    EXPECT_TRUE(head().contains("Maude Estrell"));
    window->choose_rider(bram);
    EXPECT_TRUE(head().contains("Bram Oddleif"));
    EXPECT_EQ(window->the<PrescribeView>().desk().rider(), bram);
}

TEST_F(QuietPages, AmountsAreSaidAsRidersSayThem) {
    bring_in_ridden();
    for (const int frame : {10, 21, 33}) mark_from_truth(frame);
    ASSERT_TRUE(wait_for([&] { return bench().deck().picture_is_full(); }));
    static const QRegularExpression percent("[0-9]\\s*%|of the trunk");
    int words = 0;
    for (const ViewName view :
         {ViewName::yard, ViewName::review, ViewName::compare, ViewName::prescribe, ViewName::progress,
          ViewName::hand_over, ViewName::lesson, ViewName::arena, ViewName::eye, ViewName::exercises}) {
        window->show_view(view);
        run_queued();
        for (const QString& s : painted()) {
            ++words;
            EXPECT_FALSE(s.contains(percent)) << s.toStdString() << " on view " << static_cast<int>(view);
        }
    }
    EXPECT_GT(words, 200) << "the drawings hold what is painted";
}

TEST_F(QuietPages, TheNumbersAreBehindOneKey) {
    bring_in_ridden();
    mark_from_truth(10);
    static const QRegularExpression percent("[0-9]\\s*%");
    Column& column = window->the<ReviewView>().column();
    const auto numbers = [&] {
        return std::ranges::any_of(painted(), [](const QString& s) { return s.contains(percent); });
    };
    EXPECT_FALSE(numbers());
    column.show_all(true);
    EXPECT_TRUE(numbers());
}

TEST_F(QuietPages, BeforeASchoolIsSaidAmountsAreWordsToo) {
    const auto clip = test::simulated_clip(test::faulty_plan(), "window");
    bring_in(clip);
    step_to(10);
    app::set_travel(bench().review(), core::Travel::right);
    const core::Figure truth = test::true_figure(clip, 10);
    while (bench().marking().asked()) bench().marking().place(truth[*bench().marking().asked()].at, 1);
    static const QRegularExpression percent("[0-9]\\s*%");
    const QStringList all = painted();
    EXPECT_FALSE(std::ranges::any_of(all, [](const QString& s) { return s.contains(percent); }));
    EXPECT_TRUE(std::ranges::any_of(all, [](const QString& s) { return s.contains("Trunk lean   "); }))
        << "the values are there all the same";
}

TEST_F(QuietPages, TheColumnSaysWhatIsGoodInOneLine) {
    bring_in_ridden();
    mark_from_truth(10);
    Column& column = window->the<ReviewView>().column();
    int good = 0, waits = 0, out = 0;
    for (int i = 0; i < column.row_count(); ++i) {
        const QString words = column.row_words(i);
        good += words.contains(" good: ");
        waits += words.contains(" for ") && (words.contains("waits") || words.contains("wait "));
        out += words.contains(", outside");
    }
    EXPECT_EQ(good, 1);
    EXPECT_LE(waits, 1);
    EXPECT_GE(out, 2) << "each of what is out stands alone";
}

TEST_F(QuietPages, PressingWhatIsGoodOpensIt) {
    bring_in_ridden();
    mark_from_truth(10);
    Column& column = window->the<ReviewView>().column();
    const int before = column.row_count();
    for (int i = 0; i < column.row_count(); ++i) {
        if (column.row_words(i).contains(" good: ")) {
            column.row_pressed(i);
            break;
        }
    }
    EXPECT_TRUE(column.shows_all());
    EXPECT_GT(column.row_count(), before);
}

TEST_F(QuietPages, NoRowOfTheColumnIsCutOff) {
    bring_in_ridden();
    mark_from_truth(10);
    Column& column = window->the<ReviewView>().column();
    for (const QSize size : {QSize(1280, 800), QSize(1024, 700), QSize(2560, 1440)}) {
        window->resize(size);
        run_queued();
        for (int i = 0; i < column.row_count(); ++i) {
            const QRect area = column.row_area(i);
            EXPECT_GE(area.top(), 0);
            EXPECT_LE(area.bottom(), column.height()) << column.row_words(i).toStdString();
            for (int k = 0; k < i; ++k)
                EXPECT_FALSE(area.adjusted(0, 1, 0, -1).intersects(column.row_area(k).adjusted(0, 1, 0, -1)))
                    << column.row_words(i).toStdString() << " lies on " << column.row_words(k).toStdString();
        }
    }
}

TEST_F(QuietPages, AtMostFourThingsStandUnderAView) {
    bring_in_ridden();
    for (const int frame : {10, 33}) mark_from_truth(frame);
    int lines = 0;
    for (const ViewName view : {ViewName::yard, ViewName::compare, ViewName::progress, ViewName::hand_over}) {
        window->show_view(view);
        run_queued();
        for (const DeedsLine* line : window->findChildren<DeedsLine*>()) {
            if (!line->isVisible()) continue;
            lines += !line->words().isEmpty();
            EXPECT_LE(line->words().size(), 4);
        }
    }
    EXPECT_GE(lines, 3);
}

TEST_F(QuietPages, AThingUnderAViewIsDoneByTheMouse) {
    bring_in_ridden();
    window->show_view(ViewName::yard);
    settle();
    for (DeedsLine* line : window->the<YardView>().findChildren<DeedsLine*>()) {
        if (QPushButton* b = line->button("open_ride"); b && b->isVisible()) {
            QTest::mouseClick(b, Qt::LeftButton);
            break;
        }
    }
    EXPECT_EQ(window->view(), ViewName::review);
}

TEST_F(QuietPages, CompareBeginsWithTheCorrectionInWork) {
    bring_in_ridden();
    for (const int frame : {10, 33}) mark_from_truth(frame);
    ASSERT_TRUE(bench().findings().focus());
    const core::Fault& fault = *bench().findings().focus()->fault;
    bench().findings().decide(fault.id, store::Decision::accepted);
    window->show_view(ViewName::prescribe);
    window->the<PrescribeView>().give();
    window->show_view(ViewName::review);
    window->the<ReviewView>().act("two_at_once");
    ASSERT_EQ(window->view(), ViewName::compare);
    DifferenceList& list = window->the<CompareView>().differences();
    // Whatever differs most, what is in work is what one looks for.
    ASSERT_TRUE(list.begins_with_work());
    EXPECT_EQ(list.rows().front().info->id, core::leading_measure(fault));
}

}  // namespace
}  // namespace aspen::ui
