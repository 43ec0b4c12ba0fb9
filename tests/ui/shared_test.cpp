// What several views share: words of a value, keys, hints, the line that says what was done, and time.

#include <QKeyEvent>
#include <QRegularExpression>

#include "ui/progress/time_axis.hpp"
#include "ui/shared/hint_line.hpp"
#include "ui/shared/key_map.hpp"
#include "ui/shared/painted_rows.hpp"
#include "ui/shared/rail.hpp"
#include "ui/shared/said_line.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/view_keys.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

using testing::HasSubstr;

// --- words of a value

TEST(ValueWords, HaveATrueMinusAndNoMinusNought) {
    EXPECT_EQ(value_text(12.44), "12.4");
    EXPECT_EQ(value_text(-3.06), QString::fromUtf8("\u22123.1"));
    EXPECT_EQ(value_text(-0.04), "0.0");
    EXPECT_EQ(error_text(2.06), QString::fromUtf8("\u00b12.1"));
    EXPECT_EQ(unit_text("deg"), QString::fromUtf8("\u00b0"));
    EXPECT_EQ(unit_text("pct"), " %");
}

core::Judged trunk(std::optional<double> value, core::Verdict verdict, std::optional<core::Band> band) {
    core::Judged j;
    j.measured.info = core::find_measure("trunk_lean");
    j.measured.value = value;
    j.measured.sd = 1.8;
    j.verdict = verdict;
    j.band = std::move(band);
    if (!value) j.reason = "hip hidden";
    return j;
}
core::Band band(std::optional<double> lo, std::optional<double> hi) {
    core::Band b;
    b.lo = lo;
    b.hi = hi;
    return b;
}

core::SpokenAmounts spoken() {
    static const std::shared_ptr<const core::Knowledge> known = app::shipped_knowledge();
    return known->spoken();
}

TEST(ValueWords, SayHowMuchHowFarOffAndTheVerdict) {
    EXPECT_EQ(value_words(trunk(26, core::Verdict::outside, band(8, 22)), spoken()),
              QString::fromUtf8("26\u00b0, give or take 3\u00b0, outside"));
    EXPECT_THAT(value_words(trunk(9, core::Verdict::inside, band(8, {})), spoken()).toStdString(),
                HasSubstr("inside"));
}

TEST(ValueWords, WithoutABandNothingIsJudgedAndWithoutAValueItSaysWhy) {
    const QString plain = value_words(trunk(26, core::Verdict::no_band, {}), spoken());
    EXPECT_TRUE(plain.endsWith("no band")) << plain.toStdString();
    EXPECT_FALSE(plain.contains("outside"));
    EXPECT_EQ(value_words(trunk({}, core::Verdict::not_judged, {}), spoken()), "not judged: hip hidden");
}

/// Pixels of a rail that are not the ground's.
int painted(const core::Judged& j) {
    QImage picture(120, 24, QImage::Format_RGB32);
    picture.fill(Qt::white);
    QPainter p(&picture);
    paint_rail(p, picture.rect(), rail_value(j));
    p.end();
    int out = 0;
    for (int y = 0; y < picture.height(); ++y) {
        for (int x = 0; x < picture.width(); ++x) out += picture.pixelColor(x, y) != QColor(Qt::white);
    }
    return out;
}

TEST(Rail, ShapeTellsAVerdictBeforeColourDoes) {
    const int inside = painted(trunk(15, core::Verdict::inside, band(8, 22))),
              outside = painted(trunk(30, core::Verdict::outside, band(8, 22))),
              not_judged = painted(trunk({}, core::Verdict::not_judged, {}));
    EXPECT_GT(inside, 0);
    EXPECT_NE(inside, outside);
    EXPECT_NE(inside, not_judged);
    EXPECT_NE(outside, not_judged);
}

// --- time

class Axis : public testing::Test {
  protected:
    Axis() {
        axis.set_area(100, 1100);
        axis.set_whole(TimeAxis::days(QDate(2024, 1, 1), 0), TimeAxis::days(QDate(2026, 1, 1), 0));
    }
    QStringList words() const {
        QStringList out;
        for (const TimeAxis::Tick& t : axis.ticks()) out << t.words;
        return out;
    }
    TimeAxis axis;
};

TEST_F(Axis, PlacesAndDaysAreOneAnothersOpposite) {
    for (const double x : {100.0, 333.0, 1100.0}) EXPECT_NEAR(axis.x(axis.at(x)), x, 1e-9);
    EXPECT_EQ(TimeAxis::day(TimeAxis::days(QDate(2025, 6, 7))), QDate(2025, 6, 7));
    EXPECT_NEAR(TimeAxis::days(QString("2025-06-07T18:00:00")) - TimeAxis::days(QDate(2025, 6, 7), 0), 0.75,
                1e-9);
    EXPECT_NEAR(TimeAxis::days(QString("2025-06-07")), TimeAxis::days(QDate(2025, 6, 7)), 1e-9)
        << "noon, where no hour is said";
}

TEST_F(Axis, ComesCloserAboutWhatLiesUnderTheHand) {
    const double under = axis.at(400);
    axis.zoom(4, 400);
    EXPECT_FALSE(axis.is_whole());
    EXPECT_NEAR(axis.x(under), 400, 1e-6);
    axis.zoom(1e-9, 400);
    EXPECT_TRUE(axis.is_whole()) << "never farther than all of it";
}

TEST_F(Axis, StaysInsideWhatThereIs) {
    axis.zoom(8, 600);
    const double span = axis.to() - axis.from();
    for (const double by : {-1e6, 1e6}) {
        axis.pan(by);
        EXPECT_NEAR(axis.to() - axis.from(), span, 1e-6);
        EXPECT_GE(axis.from(), TimeAxis::days(QDate(2024, 1, 1), 0) - 30);
        EXPECT_LE(axis.to(), TimeAxis::days(QDate(2026, 1, 1), 0) + 30);
    }
}

TEST_F(Axis, ShowsADayThatLiesOutside) {
    axis.zoom(20, 150);
    const double late = TimeAxis::days(QDate(2025, 12, 1));
    ASSERT_LT(axis.to(), late);
    axis.show(late);
    EXPECT_LT(axis.from(), late);
    EXPECT_GT(axis.to(), late);
}

TEST_F(Axis, OneRideAloneHasTwoWeeksAroundIt) {
    const double day = TimeAxis::days(QDate(2025, 6, 7));
    axis.set_whole(day, day);
    EXPECT_NEAR(axis.to() - axis.from(), 14 * 1.06, 1e-6);
    EXPECT_NEAR((axis.to() + axis.from()) / 2, day, 1e-6);
}

TEST_F(Axis, WhatWasShownStaysWhenMoreComes) {
    axis.zoom(10, 500);
    const double from = axis.from();
    axis.renew_whole(TimeAxis::days(QDate(2023, 1, 1), 0), TimeAxis::days(QDate(2026, 6, 1), 0));
    EXPECT_DOUBLE_EQ(axis.from(), from);
    axis.show_whole();
    axis.renew_whole(TimeAxis::days(QDate(2020, 1, 1), 0), TimeAxis::days(QDate(2026, 6, 1), 0));
    EXPECT_TRUE(axis.is_whole()) << "all of it, when all of it was shown";
}

TEST_F(Axis, IsMarkedByYearsMonthsDaysAndHours) {
    EXPECT_TRUE(words().contains("2025")) << words().join(' ').toStdString();
    axis.zoom(20, axis.x(TimeAxis::days(QDate(2025, 6, 15))));
    EXPECT_TRUE(words().join(' ').contains("Jun")) << words().join(' ').toStdString();
    axis.zoom(100, axis.x(TimeAxis::days(QDate(2025, 6, 15))));
    EXPECT_TRUE(words().join(' ').contains(':')) << words().join(' ').toStdString();
}

TEST_F(Axis, ItsWordsHaveRoom) {
    for (int closer = 0; closer < 12; ++closer) {
        const auto ticks = axis.ticks();
        for (std::size_t i = 1; i < ticks.size(); ++i)
            EXPECT_GE(axis.x(ticks[i].at) - axis.x(ticks[i - 1].at), 30) << ticks[i - 1].words.toStdString();
        axis.zoom(1.9, 610);
    }
}

// --- keys

class Keys : public Window {
  protected:
    const KeyMap& keys() { return map; }
    KeyMap map{*yard};
};

TEST_F(Keys, EveryActionOfTheBenchHasWordsAGroupAndAName) {
    ASSERT_GT(keys().actions().size(), 60);
    for (const QAction* a : keys().actions()) {
        EXPECT_FALSE(a->text().isEmpty()) << a->objectName().toStdString();
        EXPECT_FALSE(group_of(*a).isEmpty()) << a->objectName().toStdString();
        EXPECT_EQ(keys().action(a->objectName()), a);
    }
}

TEST_F(Keys, NoKeyOfTheBenchDoesTwoThings) {
    QHash<QString, QString> by_key;
    for (const QAction* a : keys().actions()) {
        for (const QKeySequence& k : a->shortcuts()) {
            const QString key = k.toString();
            EXPECT_FALSE(by_key.contains(key)) << key.toStdString() << ": " << by_key.value(key).toStdString()
                                               << ", " << a->text().toStdString();
            by_key[key] = a->text();
        }
    }
}

TEST_F(Keys, NoKeyOfAViewDoesTwoThings) {
    QHash<QString, QString> by_key;
    for (const auto& [id, view] : view_key_ids()) {
        for (const QKeySequence& k : view_keys(id)) {
            const QString key = view + " " + k.toString();
            EXPECT_FALSE(by_key.contains(key))
                << key.toStdString() << ": " << by_key.value(key).toStdString() << ", " << id.toStdString();
            by_key[key] = id;
        }
    }
    EXPECT_GT(by_key.size(), 60);
    EXPECT_TRUE(view_keys("no such deed").isEmpty());
}

TEST_F(Keys, AKeyThatIsGivenAwayIsLostByWhoHadItAndKept) {
    const QKeySequence confirm = map.keys_of("confirm").at(0);
    const QString loser = map.action("confirm")->text();
    EXPECT_EQ(map.rebind("record", confirm), loser);
    EXPECT_EQ(map.keys_of("record"), QList<QKeySequence>{confirm});
    EXPECT_FALSE(map.keys_of("confirm").contains(confirm));
    EXPECT_EQ(KeyMap(*yard).keys_of("record"), QList<QKeySequence>{confirm}) << "in the yard's settings";
    map.reset();
    EXPECT_TRUE(map.keys_of("confirm").contains(confirm));
}

TEST_F(Keys, NothingIsGivenToNobody) {
    EXPECT_EQ(map.rebind("no such action", QKeySequence(Qt::Key_F12)), QString());
    EXPECT_EQ(map.rebind("confirm", QKeySequence()), QString());
    EXPECT_FALSE(map.keys_of("confirm").isEmpty());
}

TEST_F(Keys, ASignIsItselfWithShiftOrWithout) {
    const QKeyEvent plus(QEvent::KeyPress, Qt::Key_Plus, Qt::ShiftModifier, "+");
    EXPECT_EQ(KeyMap::sequence_of(plus), QKeySequence(Qt::Key_Plus));
    const QKeyEvent letter(QEvent::KeyPress, Qt::Key_N, Qt::ShiftModifier, "N");
    EXPECT_EQ(KeyMap::sequence_of(letter), QKeySequence(Qt::SHIFT | Qt::Key_N));
    const QKeyEvent pad(QEvent::KeyPress, Qt::Key_1, Qt::KeypadModifier, "1");
    EXPECT_EQ(KeyMap::sequence_of(pad), QKeySequence(Qt::Key_1));
}

// --- hints

TEST_F(Keys, AHintNamesTheKeyAsItIsNow) {
    HintLine line(keys(), nullptr);
    line.say("[confirm] confirms all joints");
    EXPECT_EQ(line.spoken(), keys().shown("confirm") + " confirms all joints");
    EXPECT_EQ(line.accessibleName(), line.spoken());
    EXPECT_TRUE(line.text().contains("href='confirm'")) << "and can be clicked";
}

TEST_F(Keys, AHintKeepsBracketsThatAreNoKeyAndMarksNothingUp) {
    HintLine line(keys(), nullptr);
    line.say("[not an action] of <b>Fig</b> & Cobalt");
    EXPECT_EQ(line.spoken(), "[not an action] of <b>Fig</b> & Cobalt");
    EXPECT_TRUE(line.text().contains("&lt;b&gt;Fig&lt;/b&gt; &amp; Cobalt"));
}

TEST_F(Keys, AHintsOwnKeyIsHeard) {
    HintLine line(keys(), nullptr);
    QString heard;
    QObject::connect(&line, &HintLine::pressed, [&](const QString& key) { heard = key; });
    line.say("Joints are laid", "[=Esc] leaves");
    EXPECT_EQ(line.spoken(), "Joints are laid. Esc leaves");
    emit line.linkActivated("=Esc");
    EXPECT_EQ(heard, "Esc");
}

TEST_F(Keys, AnActionWithoutAKeyIsNamedByItsWords) {
    QAction bare("Take it back");
    HintLine line([&](const QString& id) { return id == "bare" ? &bare : nullptr; }, nullptr);
    line.say("[bare] or leave it");
    EXPECT_EQ(line.spoken(), "Take it back or leave it");
}

// --- small makers

TEST(Makers, ADateIsSaidWithItsYearOnlyWhereItIsAnother) {
    const QDate today = QDate::currentDate();
    EXPECT_EQ(spoken_date(QDate(today.year(), 11, 24).toString(Qt::ISODate)), "24 Nov");
    EXPECT_EQ(spoken_date("2019-11-24"), "24 Nov 2019");
}

TEST(Makers, ASentenceBeginsWithACapital) {
    EXPECT_TRUE(sentence("the heel is up").startsWith("The heel"));
    EXPECT_EQ(sentence(""), "");
}

TEST(Makers, WritingIsUtf8) {
    EXPECT_EQ(text("Gr\u00f6\u00dfe 3\u00b0"), QString::fromUtf8("Gr\u00f6\u00dfe 3\u00b0"));
    EXPECT_EQ(text(""), QString());
}

// --- what a window says to those who do not see it

TEST_F(Keys, EveryPressableThingOfEveryViewHasAName) {
    for (int view = 0; view < 11; ++view) {
        window->show_view(static_cast<ViewName>(view));
        run_queued();
        for (const QAbstractButton* b : window->findChildren<QAbstractButton*>()) {
            if (!b->isVisible()) continue;
            EXPECT_FALSE((b->text() + b->accessibleName() + b->toolTip()).isEmpty())
                << "view " << view << ": " << b->metaObject()->className() << " in "
                << b->parentWidget()->metaObject()->className();
        }
        for (const QLineEdit* e : window->findChildren<QLineEdit*>()) {
            if (!e->isVisible()) continue;
            EXPECT_FALSE((e->placeholderText() + e->accessibleName()).isEmpty())
                << "view " << view << ": a field in " << e->parentWidget()->metaObject()->className();
        }
    }
}

TEST_F(Keys, EveryPaintedRowOfEveryViewHasWordsAndAPlace) {
    bring_in_ridden();
    mark_from_truth(10);
    int rows = 0;
    for (int view = 0; view < 11; ++view) {
        window->show_view(static_cast<ViewName>(view));
        run_queued();
        for (QWidget* w : window->findChildren<QWidget*>()) {
            const auto* painted = dynamic_cast<const PaintedRows*>(w);
            if (!painted || !w->isVisible()) continue;
            for (int row = 0; row < painted->row_count(); ++row, ++rows) {
                EXPECT_FALSE(painted->row_words(row).trimmed().isEmpty())
                    << w->metaObject()->className() << " row " << row;
                EXPECT_TRUE(painted->row_area(row).isValid())
                    << w->metaObject()->className() << " row " << row;
            }
        }
    }
    EXPECT_GT(rows, 15);
}

TEST_F(Keys, NoViewShowsCodeInPlaceOfWords) {
    // Ids of the data are words with lines under them; nobody reads them.
    static const QRegularExpression id("\\b[a-z]+_[a-z_]+\\b");
    bring_in_ridden();
    mark_from_truth(10);
    for (const ViewName view : {ViewName::yard, ViewName::review, ViewName::compare, ViewName::prescribe,
                                ViewName::progress, ViewName::hand_over, ViewName::lesson, ViewName::eye}) {
        window->show_view(view);
        run_queued();
        for (const QLabel* l : window->findChildren<QLabel*>()) {
            if (!l->isVisible() || l->text().contains("href")) continue;
            EXPECT_FALSE(l->text().contains(id)) << l->text().toStdString();
        }
    }
}

}  // namespace
}  // namespace aspen::ui
