// The words of the window (all of them reach a translator, and every key named in them can be clicked) and
// what is written in place on cards and by the keys of the yard.

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QRegularExpression>
#include <QTranslator>

#include "app/yard/changes.hpp"
#include "ui/review/column.hpp"
#include "ui/shared/hint_line.hpp"
#include "ui/window_support.hpp"
#include "ui/yard/horse_form.hpp"
#include "ui/yard/limitation_list.hpp"
#include "ui/yard/rider_form.hpp"

namespace aspen::ui {
namespace {

/// Puts every word into brackets, so that one that was never asked for stands out.
class Bracketed : public QTranslator {
  public:
    QString translate(const char*, const char* words, const char*, int) const override {
        return "⟦" + QString::fromUtf8(words) + "⟧";
    }
    bool isEmpty() const override { return false; }
};

bool is_words(const QString& s) {
    static const QRegularExpression word("[A-Za-z]{2,}");
    return s.contains(word);
}

class Words : public Window {
  protected:
    void TearDown() override { qApp->removeTranslator(&bracketed_); }
    void expect_bracketed(const QString& said, const QObject& where) {
        static const QRegularExpression tag("<[^>]*>");
        const QString words = QString(said).remove(tag);
        if (!is_words(words) || words.contains("⟦")) return;
        ADD_FAILURE() << where.metaObject()->className() << " " << where.objectName().toStdString() << ": \""
                      << words.toStdString() << "\" is in no translator's list";
    }
    Bracketed bracketed_;
};

TEST_F(Words, EveryWordOfTheWindowGoesThroughTheTranslator) {
    qApp->installTranslator(&bracketed_);
    reopen();
    int seen = 0;
    for (const QLabel* l : window->findChildren<QLabel*>()) expect_bracketed(l->text(), *l), ++seen;
    for (const QAbstractButton* b : window->findChildren<QAbstractButton*>())
        expect_bracketed(b->text(), *b), ++seen;
    for (const QLineEdit* e : window->findChildren<QLineEdit*>())
        expect_bracketed(e->placeholderText(), *e), ++seen;
    for (const QAction* a : window->findChildren<QAction*>()) expect_bracketed(a->text(), *a), ++seen;
    for (const QWidget* w : window->findChildren<QWidget*>()) expect_bracketed(w->accessibleName(), *w);
    EXPECT_GT(seen, 200) << "the walk no longer meets the window's words";
}

class Cards : public Window {
  protected:
    store::ClipId clip(const char* name, const char* day, std::int64_t batch = 0) {
        store::Clip c;
        c.path = std::string("/films/") + name;
        c.hash = name;
        c.recorded_at = day;
        c.batch = batch;
        return app::take_in_clip(*yard, c);
    }
    /// Tries the words from left to right until the click has done it: only the key in them is a link.
    bool click_through(QWidget& line, const std::function<bool()>& done) {
        for (int y = 8; y < line.height() && !done(); y += 12) {
            for (int x = 2; x < line.width() && !done(); x += 4)
                QTest::mouseClick(&line, Qt::LeftButton, {}, QPoint(x, y));
        }
        return done();
    }
    void write(QLineEdit* edit, const QString& words) {
        ASSERT_TRUE(edit);
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, words);
        QTest::keyClick(edit, Qt::Key_Tab);
    }
    RiderForm& first_riders_card() {
        settle();
        window->the<YardView>().riders().setFocus();
        window->the<YardView>().riders().setCurrentIndex(
            window->the<YardView>().riders().model()->index(0, 0));
        key(Qt::Key_E);
        return *window->the<YardView>().findChild<RiderForm*>();
    }
    QLineEdit* field(QWidget& card, const QString& name, int n = 0) {
        for (QLineEdit* e : card.findChildren<QLineEdit*>()) {
            if (e->accessibleName() == name && n-- == 0) return e;
        }
        return nullptr;
    }
};

TEST_F(Cards, TheHorsesCardIsWrittenInPlace) {
    const auto fig = add_horse(*yard, {{}, "Fig", {}, ""});
    add_horse(*yard, {{}, "Saffron", 165, ""});
    settle();
    key(Qt::Key_H);
    QMenu* choices = menu();
    ASSERT_TRUE(choices);
    QTest::keyClick(choices, Qt::Key_F);
    auto& card = *window->the<YardView>().findChild<HorseForm*>();
    ASSERT_TRUE(card.isVisible());
    write(field(card, "Height"), "1.58");
    EXPECT_THAT(window->last_line().toStdString(), testing::HasSubstr("write centimetres"));
    write(field(card, "Height"), "158");
    for (QComboBox* c : card.findChildren<QComboBox*>()) {
        c->setFocus();
        QTest::keyClick(c, Qt::Key_Down);
    }
    for (QCheckBox* c : card.findChildren<QCheckBox*>())
        QTest::mouseClick(c, Qt::LeftButton, {}, QPoint(8, c->height() / 2));
    write(field(card, "Words"), "looks at puddles");
    const auto h = yard->records().people.horse(fig);
    EXPECT_EQ(h->height_cm, 158);
    EXPECT_EQ(h->stage, "green");
    EXPECT_EQ(h->stiff_side, "left");
    EXPECT_TRUE(h->half_seat_better);
    EXPECT_TRUE(h->cold_backed);
    EXPECT_EQ(h->words, "looks at puddles");
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(yard->records().people.horse(fig)->words, "") << "each field is a step";
}

TEST_F(Cards, WhatARidersBodyDoesNotAllowHasSideAndDays) {
    const auto id = add_rider(*yard, test::rider("Ines Varga-Holt", 1990, "classical", "established"));
    RiderForm& card = first_riders_card();
    ASSERT_TRUE(card.isVisible());
    write(field(card, "What to mind"), "stiff hip");
    auto* list = card.findChild<LimitationList*>();
    auto* side = list->findChild<QComboBox*>();
    side->setFocus();
    QTest::keyClick(side, Qt::Key_Down);
    emit side->activated(
        side->currentIndex());  // what the list of a combo box does when it is closed by Enter
    write(field(card, "Since"), "2026-10-01");
    write(field(card, "Until"), "soon");
    EXPECT_THAT(window->last_line().toStdString(), testing::HasSubstr("write it as 2026-11-24"));
    write(field(card, "What to mind", 1), "wrist");
    const auto all = yard->records().people.limitations(id);
    ASSERT_EQ(all.size(), 2u);
    EXPECT_EQ(all[0].words, "stiff hip");
    EXPECT_EQ(all[0].side, "left");
    EXPECT_EQ(all[0].since, "2026-10-01");
    EXPECT_EQ(all[0].until, "");
    EXPECT_EQ(all[1].words, "wrist");
    write(field(card, "What to mind", 0), "");
    QTest::keyClick(field(card, "What to mind", 0), Qt::Key_Delete);
    write(field(card, "What to mind", 0), " ");
    EXPECT_EQ(yard->records().people.limitations(id).size(), 1u) << "an emptied row goes";
}

TEST_F(Cards, WhatHoldsAllWorkSaysSoAndTakesWhoClearedIt) {
    const auto id = add_rider(*yard, test::rider("Ines Varga-Holt", 1990, "classical", "established"));
    RiderForm& card = first_riders_card();
    ASSERT_TRUE(card.isVisible());
    const auto says = [&](const char* words) {
        const auto labels = card.findChild<LimitationList*>()->findChildren<QLabel*>();
        return std::ranges::any_of(labels,
                                   [&](QLabel* l) { return !l->isHidden() && l->text().contains(words); });
    };
    write(field(card, "What to mind"), "left hip");
    EXPECT_FALSE(says("Holds all work"));
    EXPECT_TRUE(field(card, "Cleared by")->isHidden());
    write(field(card, "What to mind"), "concussion two weeks ago");
    EXPECT_TRUE(says("Holds all work (the head)"));
    ASSERT_FALSE(field(card, "Cleared by")->isHidden());
    write(field(card, "Cleared by"), "Dr. Fenn");
    write(field(card, "Cleared from"), "2026-11-20");
    write(field(card, "Cleared until"), "2026-12-20");
    const auto all = yard->records().people.limitations(id);
    ASSERT_EQ(all.size(), 1u);
    EXPECT_EQ(all[0].cleared_by, "Dr. Fenn");
    EXPECT_EQ(all[0].cleared_from, "2026-11-20");
    EXPECT_EQ(all[0].cleared_until, "2026-12-20");
}

TEST_F(Cards, OneCamerasClockIsSetRightForAllThatCameInTogether) {
    const auto a = clip("a.mp4", "2026-11-20T10:00:00", 7), b = clip("b.mp4", "2026-11-20T11:00:00", 7),
               other = clip("c.mp4", "2026-11-20T12:00:00", 8);
    settle();
    const int row = window->the<YardView>().model().row_of(yard->records().rides.places(a).front().ride);
    window->the<YardView>().rides().setFocus();
    window->the<YardView>().rides().setCurrentIndex(window->the<YardView>().model().index(row));
    key(Qt::Key_C);
    QTest::keyClicks(qApp->focusWidget(), "tomorrow");
    key(Qt::Key_Return);
    EXPECT_THAT(window->last_line().toStdString(), testing::HasSubstr("h:mm:ss"));
    key(Qt::Key_C);
    QTest::keyClicks(qApp->focusWidget(), "-1:00:30");
    key(Qt::Key_Return);
    EXPECT_EQ(yard->records().rides.clip(a)->clock_off_s, -3630);
    EXPECT_EQ(yard->records().rides.clip(b)->clock_off_s, -3630);
    EXPECT_EQ(yard->records().rides.clip(other)->clock_off_s, 0);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(yard->records().rides.clip(a)->clock_off_s, 0);
}

TEST_F(Cards, StirrupsReinsHandsAndLineAreSaidFromAFrameOn) {
    bring_in(test::simulated_clip(test::faulty_plan(), "words"));
    picture().setFocus();
    step_to(12);
    key(Qt::Key_L, Qt::AltModifier);
    QMenu* choices = menu();
    ASSERT_TRUE(choices);
    for (QAction* a : choices->actions()) {
        if (a->text().remove('&') == "without stirrups")
            QTest::mouseClick(choices, Qt::LeftButton, {}, choices->actionGeometry(a).center());
    }
    const core::Stretches& all = bench().review().stretches();
    ASSERT_EQ(all.size(), 2u);
    EXPECT_EQ(all[1].first, 12);
    EXPECT_FALSE(all[0].stirrups) << "what came before is left as it is";
    EXPECT_EQ(all[1].stirrups, core::Stirrups::off);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(bench().review().stretches().size(), 1u);
}

TEST_F(Cards, AKeyNamedInAHintCanBeClicked) {
    bring_in(test::simulated_clip(test::faulty_plan(), "words"));
    auto* foot = window->the<ReviewView>().findChild<Column*>()->findChild<HintLine*>();
    ASSERT_TRUE(foot);
    EXPECT_THAT(foot->spoken().toStdString(), testing::HasSubstr("U draws it"));
    EXPECT_TRUE(click_through(*foot, [&] { return picture().drawing_upright(); }));
    EXPECT_TRUE(wait_for([&] { return picture().asks().contains("upright"); }));
    window->keys().rebind("upright", QKeySequence("Shift+Q"));
    EXPECT_THAT(foot->spoken().toStdString(), testing::HasSubstr("Shift+Q draws it")) << "the key it has now";
    window->keys().reset();
}

}  // namespace
}  // namespace aspen::ui
