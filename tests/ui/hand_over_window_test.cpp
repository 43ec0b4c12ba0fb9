// Talking over a clip, what the rider gets, and the register of consents, through a real window.

#include <QAction>
#include <QClipboard>
#include <QPlainTextEdit>

#include "app/leaving/consents.hpp"
#include "app/review/finding_row.hpp"
#include "media/reading/video_reader.hpp"
#include "ui/compare/compare_view.hpp"
#include "ui/handover/hand_over_view.hpp"
#include "ui/handover/start_panel.hpp"
#include "ui/review/findings_panel.hpp"
#include "ui/window_support.hpp"
#include "ui/yard/consent_card.hpp"
#include "ui/yard/yard_view.hpp"

namespace aspen::ui {
namespace {

class HandOverWindow : public Window {
  protected:
    /// Talks on until so much more is recorded.
    void talk_s(double s) {
        const double until = window->the<ReviewView>().recorder().seconds() + s;
        ASSERT_TRUE(wait_for([&] { return window->the<ReviewView>().recorder().seconds() >= until; }));
    }
    void ready() {
        bring_in_ridden();
        auto card = *yard->records().people.rider(bench().review().rider());
        card.birth_year = 1990;
        app::change_rider(*yard, card);
        mark_from_truth(20);
    }
    void talk_over_a_clip(double s) {
        ready();
        key(Qt::Key_F10);
        talk_s(s);
        key(Qt::Key_F10);
        ASSERT_TRUE(handed().desk().is_open());
    }
    HandOverView& handed() { return window->the<HandOverView>(); }
    void choose(const QString& title) {
        for (int i = 0; i < handed().things().count(); ++i) {
            if (handed().things().item(i)->text().startsWith(title)) handed().things().setCurrentRow(i);
        }
    }
    QString file(const char* name) const { return QString::fromStdString((folder / name).string()); }
};

TEST_F(HandOverWindow, AClipIsReviewedByTalking) {
    ready();
    key(Qt::Key_F10);
    ASSERT_TRUE(window->the<ReviewView>().recorder().recording());
    EXPECT_TRUE(window->the<ReviewView>().recorder().hears()) << "the microphone that ships with the program";
    talk_s(0.5);
    EXPECT_TRUE(window->the<ReviewView>().picture().asks().isEmpty()) << "nothing is asked while one talks";
    window->the<ReviewView>().findings().move_current(1);
    bench().deck().step(1);
    talk_s(0.5);
    key(Qt::Key_Plus);
    talk_s(0.3);
    key(Qt::Key_F10);
    ASSERT_EQ(window->view(), ViewName::hand_over) << "what was recorded is looked at at once";
    ASSERT_TRUE(handed().desk().is_open());
    const core::Telling t = handed().desk().telling();
    EXPECT_EQ(t.scene(0.2).shown.frame, 20);
    EXPECT_EQ(t.scene(t.length_s()).shown.frame, 21);
    EXPECT_LT(t.scene(t.length_s()).part.share, 1) << "it came closer";
    EXPECT_TRUE(handed().desk().has_voice());
}

TEST_F(HandOverWindow, WhatWasTalkedIsCutAndTheCutTakenBack) {
    talk_over_a_clip(1.0);
    const double before = handed().desk().telling().length_s();
    handed().desk().go_to(0.4);
    key(Qt::Key_B);
    EXPECT_NEAR(handed().desk().telling().length_s(), before - 0.4, 0.01);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_NEAR(handed().desk().telling().length_s(), before, 1e-6);
}

TEST_F(HandOverWindow, WhatWasTalkedLeavesAsOneFilm) {
    talk_over_a_clip(0.5);
    const double length_s = handed().desk().telling().length_s();
    key(Qt::Key_L);
    EXPECT_EQ(handed().most_mb(), 16);
    EXPECT_EQ(handed().write(file("review.mp4")), "");
    ASSERT_TRUE(wait_for([&] { return !handed().busy(); }));
    ASSERT_TRUE(wait_for([&] { return window->last_line().contains("Look at it before it leaves"); }))
        << window->last_line().toStdString();
    EXPECT_NEAR(media::VideoReader(file("review.mp4").toStdString()).facts().duration_s, length_s, 0.1);
    EXPECT_EQ(yard->records().leaving.departures().size(), 1U);
}

TEST_F(HandOverWindow, AKeyThatIsHeldStopsWhenItIsLetGo) {
    ready();
    QTest::keyPress(&window->the<ReviewView>().picture(), Qt::Key_F10);
    talk_s(0.9);
    EXPECT_TRUE(window->the<ReviewView>().recorder().recording());
    QTest::keyRelease(&window->the<ReviewView>().picture(), Qt::Key_F10);
    EXPECT_FALSE(window->the<ReviewView>().recorder().recording());
    EXPECT_EQ(window->view(), ViewName::hand_over);
}

TEST_F(HandOverWindow, TwoMomentsStandSideBySideWhileOneTalksOfThem) {
    ready();
    mark_from_truth(33);
    key(Qt::Key_F10);
    talk_s(0.3);
    key(Qt::Key_D);
    ASSERT_EQ(window->view(), ViewName::compare);
    ASSERT_GE(window->the<CompareView>().comparison().count(), 2U);
    talk_s(0.4);
    key(Qt::Key_2, Qt::ControlModifier);
    talk_s(0.3);
    key(Qt::Key_F10);
    const core::Telling& t = handed().desk().telling();
    EXPECT_FALSE(t.scene(0.1).beside);
    bool both = false;
    for (double s = 0; s < t.length_s(); s += 0.05) both = both || t.scene(s).beside.has_value();
    EXPECT_TRUE(both) << "both are in the picture";
    EXPECT_FALSE(t.scene(t.length_s()).beside);
}

TEST_F(HandOverWindow, AReviewIsMadeFromNotesAndThePageWaitsForSomethingGood) {
    ready();
    key(Qt::Key_F6);
    ASSERT_EQ(window->view(), ViewName::hand_over);
    choose("A new spoken review");
    EXPECT_FALSE(handed().start().cards().empty()) << "a marked finding is something to tell";
    store::Note n;
    n.clip = bench().review().clip().id;
    n.frame = 20;
    n.kind = store::NoteKind::good;
    n.words = "A long, quiet back";
    app::add_note(*yard, n);
    key(Qt::Key_N);
    ASSERT_TRUE(handed().desk().is_open());
    EXPECT_FALSE(handed().desk().has_voice());
    ASSERT_FALSE(handed().desk().captions().empty());
    EXPECT_EQ(handed().desk().captions()[0].words, "A long, quiet back");
    choose("The page");
    ASSERT_TRUE(wait_for([&] { return !handed().busy(); }));
    EXPECT_TRUE(handed().write(file("page.pdf")).contains("nothing is in work"))
        << "a page says only what is on record";
    EXPECT_FALSE(QFile::exists(file("page.pdf")));
}

/// A rider whose page can be made, and another who has none.
class AnotherRider : public HandOverWindow {
  protected:
    void SetUp() override {
        ready();
        maude = bench().review().rider();
        for (const app::FindingRow& row : std::vector(bench().findings().rows())) {
            if (row.found.fault->id == "lower_leg_back")
                bench().findings().decide(row.key(), store::Decision::accepted);
        }
        ASSERT_TRUE(bench().findings().focus_seen());
        app::prescribe(*yard, bench().review().ride().id, *bench().findings().focus_seen(),
                       bench().findings().accepted(),
                       *yard->knowledge().exercises.find("two_point_walk_trot"));
        store::Note n;
        n.clip = bench().review().clip().id;
        n.frame = 20;
        n.kind = store::NoteKind::good;
        n.words = "A long, quiet back";
        app::add_note(*yard, n);
        bram = app::add_rider(*yard, test::rider("Bram Oddleif", 1990, "hunter"));
        key(Qt::Key_F6);
    }
    QPlainTextEdit& message() { return *handed().findChild<QPlainTextEdit*>(); }
    void open(store::RiderId rider) { handed().begin(rider, {}, 0, {}); }
    store::RiderId maude, bram;
};

TEST_F(AnotherRider, GetsNoWordOfTheOnesMessage) {
    choose("The message");
    ASSERT_TRUE(wait_for([&] { return message().toPlainText().contains("quiet back"); }));
    QTest::keyClicks(&message(), "Only for Maude. ");
    open(bram);
    choose("The message");
    run_queued();
    EXPECT_FALSE(message().toPlainText().contains("Maude")) << message().toPlainText().toStdString();
    QGuiApplication::clipboard()->setText("as before");
    handed().setFocus();
    key(Qt::Key_C, Qt::ControlModifier);
    EXPECT_EQ(QGuiApplication::clipboard()->text(), "as before") << "there is nothing of Bram to copy";
    open(maude);
    choose("The message");
    ASSERT_TRUE(wait_for([&] { return message().toPlainText().contains("quiet back"); }));
    EXPECT_FALSE(message().toPlainText().contains("Only for")) << "what was half written is not kept";
}

TEST_F(AnotherRider, GetsNoPageThatWasBeingMadeForTheOne) {
    choose("The page");
    open(bram);
    choose("The page");
    ASSERT_TRUE(wait_for([&] { return !handed().busy(); }));
    run_queued();
    EXPECT_TRUE(handed().write(file("page.pdf")).contains("nothing is in work"));
    EXPECT_FALSE(QFile::exists(file("page.pdf")));
    EXPECT_TRUE(yard->records().leaving.departures().empty());
}

TEST_F(AnotherRider, APageForAChildIsMadeThoughAnotherIsUnderWay) {
    choose("The page");
    ASSERT_TRUE(handed().busy());
    key(Qt::Key_K);
    ASSERT_TRUE(wait_for([&] { return !handed().busy() && message().toPlainText().contains("quiet back"); }));
    ASSERT_EQ(handed().write(file("page.html")), "Saved: " + file("page.html"));
    QFile html(file("page.html"));
    ASSERT_TRUE(html.open(QIODevice::ReadOnly));
    const QByteArray child = html.readAll();
    key(Qt::Key_K);
    ASSERT_TRUE(wait_for([&] { return !handed().busy(); }));
    ASSERT_EQ(handed().write(file("grown.html")), "Saved: " + file("grown.html"));
    QFile grown(file("grown.html"));
    ASSERT_TRUE(grown.open(QIODevice::ReadOnly));
    EXPECT_NE(grown.readAll(), child);
}

TEST_F(AnotherRider, APageThatStandsDoesNotLeaveOnceTheConsentIsTakenBack) {
    app::give_consent(*yard, {{}, maude, "page", "Maude Estrell", "2026-01-01"});
    choose("The page");
    ASSERT_TRUE(wait_for([&] { return !handed().busy() && message().toPlainText().contains("quiet back"); }));
    app::withdraw_consent(*yard, yard->records().leaving.consents_of(maude).at(0));
    EXPECT_TRUE(handed().write(file("page.pdf")).contains("withdrawn"));
    EXPECT_FALSE(QFile::exists(file("page.pdf")));
    choose("The message");
    QGuiApplication::clipboard()->setText("as before");
    handed().setFocus();
    key(Qt::Key_C, Qt::ControlModifier);
    EXPECT_EQ(QGuiApplication::clipboard()->text(), "as before");
    key(Qt::Key_O);
    EXPECT_TRUE(yard->records().following.outbox().empty());
    EXPECT_TRUE(yard->records().leaving.departures().empty());
}

TEST_F(HandOverWindow, TablesOfTheRiderGoIntoAFolder) {
    ready();
    key(Qt::Key_F6);
    choose("Tables");
    const QDir to(QString::fromStdString(folder.path().string()));
    EXPECT_TRUE(handed().write(to.path()).startsWith("Five tables"));
    const QStringList names = to.entryList({"*.csv"}, QDir::Files);
    ASSERT_EQ(names.size(), 5);
    for (const QString& name : names) {
        QFile table(to.filePath(name));
        ASSERT_TRUE(table.open(QIODevice::ReadOnly));
        const bool measures = name.endsWith("measures.csv");
        EXPECT_EQ(table.readAll().contains("trunk_lean"), measures) << name.toStdString();
    }
    EXPECT_EQ(yard->records().leaving.departures().size(), 5U) << "tables are logged like all that leaves";
}

TEST_F(HandOverWindow, FromHereToTheBenchAndTalking) {
    ready();
    key(Qt::Key_F6);
    choose("A new spoken review");
    key(Qt::Key_F10);
    EXPECT_EQ(window->view(), ViewName::review);
    EXPECT_TRUE(window->the<ReviewView>().recorder().recording());
    window->the<ReviewView>().recorder().stop();
}

TEST_F(HandOverWindow, ConsentsAreRecordedAndWithdrawnOnTheRidersCard) {
    ready();
    const store::RiderId rider = bench().review().rider();
    key(Qt::Key_1, Qt::ControlModifier);
    window->the<YardView>().show_consents(rider);
    ConsentCard& card = window->the<YardView>().consents();
    card.record(app::Use::teaching);
    card.by().setText("Maude Estrell");
    QTest::keyClick(&card.by(), Qt::Key_Return);
    ASSERT_EQ(yard->records().leaving.consents_of(rider).size(), 1U);
    EXPECT_TRUE(app::consents(*yard, rider)[2].open);
    card.record(app::Use::clip);
    card.by().clear();
    QTest::mouseClick(&card.keep(), Qt::LeftButton);
    EXPECT_TRUE(window->last_line().contains("nobody is named")) << window->last_line().toStdString();
    EXPECT_EQ(yard->records().leaving.consents_of(rider).size(), 1U);
}

TEST_F(HandOverWindow, FacesAreSetByKeyAndTakenBack) {
    ready();
    const store::ClipId clip = bench().review().clip().id;
    key(Qt::Key_F7, Qt::ShiftModifier);
    drag({900, 130}, {930, 130});
    ASSERT_EQ(yard->records().leaving.face_marks(clip).size(), 1U);
    EXPECT_LT(yard->records().leaving.face_marks(clip)[0].person, 0) << "somebody else";
    key(Qt::Key_F7);
    drag({600, 130}, {640, 130});
    EXPECT_EQ(yard->records().leaving.face_marks(clip).size(), 2U);
    key(Qt::Key_F7, Qt::AltModifier);
    EXPECT_TRUE(yard->records().leaving.face_marks(clip).empty());
    key(Qt::Key_F7, Qt::ControlModifier);
    ASSERT_EQ(yard->records().leaving.face_marks(clip).size(), 1U);
    EXPECT_TRUE(yard->records().leaving.face_marks(clip)[0].gone);
}

}  // namespace
}  // namespace aspen::ui
