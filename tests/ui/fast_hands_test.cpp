// The review bench by real mouse and key events: first look, stretches, three clicks, seeing, keys, inbox.

#include <SQLiteCpp/SQLiteCpp.h>

#include <QAbstractItemView>
#include <QAccessible>
#include <QCompleter>
#include <fstream>

#include "app/review/finding_row.hpp"
#include "app/review/first_look.hpp"
#include "app/review/review_changes.hpp"
#include "ui/compare/compare_stage.hpp"
#include "ui/compare/compare_view.hpp"
#include "ui/compare/difference_list.hpp"
#include "ui/review/ask_panel.hpp"
#include "ui/review/column.hpp"
#include "ui/review/findings_panel.hpp"
#include "ui/review/strip.hpp"
#include "ui/review/turned_horse.hpp"
#include "ui/shared/hint_line.hpp"
#include "ui/shared/key_overlay.hpp"
#include "ui/shared/word_line.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

using L = core::Landmark;

class FastHands : public Window {
  protected:
    FastHands() : without_(qputenv("ASPEN_MODELS", "/no/such/folder")) {}
    ~FastHands() override { qunsetenv("ASPEN_MODELS"); }
    void open_clip() {
        clip = test::simulated_clip(test::faulty_plan(), "window");
        bring_in(clip);
        picture().setFocus();
    }
    void add_people() {
        add_rider(*yard, test::rider("Maude Estrell", 1990, "hunter", "established"));
        add_horse(*yard, {{}, "Saffron", 165, ""});
    }
    core::Figure truth() const { return test::true_figure(clip, window->bench().deck().frame()); }
    void three_clicks() {
        const core::Figure t = truth();
        const double trunk = core::distance(t[L::shoulder].at, t[L::hip].at);
        click({t[L::ear].at.x + 2, t[L::ear].at.y - 0.28 * trunk});
        click(t[L::heel].at);
        click(t[L::toe].at);
    }
    Strip& strip() { return *window->the<ReviewView>().findChild<Strip*>(); }
    bool without_;
    std::filesystem::path clip;
};

TEST_F(FastHands, TheFirstPageIsAnsweredByDigits) {
    add_people();
    open_clip();
    AskPanel& ask = window->the<ReviewView>().asking();
    ASSERT_TRUE(ask.isVisible());
    key(Qt::Key_1);  // Maude, and with her the school
    EXPECT_TRUE(bench().review().rider());
    EXPECT_EQ(bench().review().ride().school, "hunter");
    key(Qt::Key_1);
    EXPECT_TRUE(bench().review().horse());
    key(Qt::Key_3);
    EXPECT_EQ(bench().review().stretch().gait, core::Gait::trot);
    key(Qt::Key_2);
    EXPECT_EQ(bench().review().stretch().seat, core::Seat::rising);
    EXPECT_FALSE(ask.isVisible()) << "all that matters is said; the travel comes with the first figure";
    for (int i = 0; i < 4; ++i) key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(bench().review().rider()) << "each answer is one step back";
    EXPECT_TRUE(ask.isVisible());
    key(Qt::Key_Escape);
    EXPECT_FALSE(ask.isVisible());
    key(Qt::Key_Q);
    EXPECT_TRUE(ask.isVisible());
}

TEST_F(FastHands, WhatIsNotSaidYetIsNamedAndNoMore) {
    add_people();
    open_clip();
    click(truth()[L::ear].at);
    const auto note = [&] {
        QString all;
        for (const HintLine* line :
             window->the<ReviewView>().findChild<FindingsPanel*>()->findChildren<HintLine*>())
            all += line->spoken();
        return all;
    };
    EXPECT_TRUE(wait_for([&] { return note().contains("who rides, which horse, in which school"); }))
        << note().toStdString();
    key(Qt::Key_1);
    key(Qt::Key_1);
    key(Qt::Key_3);
    EXPECT_TRUE(wait_for([&] { return note().contains("Say in which seat"); })) << note().toStdString();
    key(Qt::Key_2);
    EXPECT_TRUE(wait_for([&] { return !note().contains("in which seat") && !note().contains("who rides"); }))
        << note().toStdString();
}

/// A clip that plays slowly enough to last, while notes are taken.
class PlayingOn : public FastHands {
  protected:
    void play() {
        open_clip();
        for (int i = 0; i < 3; ++i) key(Qt::Key_S);  // an eighth
        key(Qt::Key_Space);
        ASSERT_TRUE(window->the<ReviewView>().player().playing());
        ASSERT_TRUE(wait_for([&] { return bench().deck().frame() > 0; }));
    }
    QLineEdit* word_line() {
        key(Qt::Key_W);
        return window->the<ReviewView>().findChild<WordLine*>()->findChild<QLineEdit*>();
    }
};

TEST_F(PlayingOn, AWordIsOfTheInstantOfItsKeyAndTheClipPlaysOn) {
    play();
    ASSERT_FALSE(HasFatalFailure());
    const int at = bench().deck().frame();
    QLineEdit* edit = word_line();
    EXPECT_TRUE(window->the<ReviewView>().player().playing());
    ASSERT_TRUE(edit->hasFocus());
    QTest::keyClicks(edit, "leg a 1 g k");  // no key of the bench acts while one writes
    ASSERT_TRUE(wait_for([&] { return bench().deck().frame() > at; })) << "and goes on while one writes";
    QTest::keyClick(edit, Qt::Key_Return);
    EXPECT_TRUE(picture().hasFocus());
    ASSERT_EQ(bench().review().notes().size(), 1U);
    EXPECT_EQ(bench().review().notes()[0].words, "leg a 1 g k");
    EXPECT_NEAR(bench().review().notes()[0].frame, at, 2) << "the instant of the key, not of the last letter";
}

TEST_F(PlayingOn, APhraseIsLearnedAndGivenByADigit) {
    play();
    ASSERT_FALSE(HasFatalFailure());
    QLineEdit* edit = word_line();
    QTest::keyClicks(edit, "leg a 1 g k");
    QTest::keyClick(edit, Qt::Key_Return);
    key(Qt::Key_W);  // with phrases offered while one writes, Enter takes what is written
    QTest::keyClicks(edit, "leg");
    ASSERT_TRUE(edit->completer()->popup()->isVisible());
    QTest::keyClick(edit->completer()->popup(), Qt::Key_Return);
    EXPECT_FALSE(edit->isVisible());
    EXPECT_EQ(bench().review().notes().size(), 2U);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(bench().review().notes().size(), 1U);
    key(Qt::Key_1);  // the phrase just learned
    ASSERT_EQ(bench().review().notes().size(), 2U);
    EXPECT_EQ(bench().review().notes()[1].words, "leg a 1 g k");
}

TEST_F(PlayingOn, NotesAreWalkedThrough) {
    play();
    ASSERT_FALSE(HasFatalFailure());
    key(Qt::Key_G);
    key(Qt::Key_K);
    key(Qt::Key_Space);
    ASSERT_EQ(bench().review().notes().size(), 2U);
    key(Qt::Key_End);
    key(Qt::Key_N, Qt::ShiftModifier);
    EXPECT_EQ(bench().deck().frame(), bench().review().notes().back().frame);
    key(Qt::Key_N);
    EXPECT_TRUE(window->last_line().contains("last note"));
}

TEST_F(FastHands, StretchesAreCutByKeysAndTheirBordersDragged) {
    open_clip();
    key(Qt::Key_T, Qt::AltModifier);
    key(Qt::Key_2, Qt::AltModifier);
    step_to(30);
    key(Qt::Key_C, Qt::AltModifier);
    key(Qt::Key_Left, Qt::AltModifier);
    ASSERT_EQ(bench().review().stretches().size(), 2U);
    EXPECT_EQ(bench().review().stretches()[0].gait, core::Gait::trot);
    EXPECT_EQ(bench().review().stretches()[0].seat, core::Seat::rising);
    EXPECT_EQ(bench().review().stretches()[1].gait, core::Gait::canter);
    EXPECT_EQ(bench().review().stretches()[1].rein, core::Rein::left);
    // The border under the film, dragged to the left: one step.
    const int frames = bench().deck().facts().frames;
    const auto x_of = [&](int frame) { return 16 + (strip().width() - 32) * frame / (frames - 1); };
    const int y = 60, steps = yard->steps().stack().count();
    QTest::mousePress(&strip(), Qt::LeftButton, {}, QPoint(x_of(30), y));
    for (int f = 29; f >= 20; --f) QTest::mouseMove(&strip(), QPoint(x_of(f), y));
    QTest::mouseRelease(&strip(), Qt::LeftButton, {}, QPoint(x_of(20), y));
    EXPECT_NEAR(bench().review().stretches()[1].first, 20, 1);
    EXPECT_EQ(yard->steps().stack().count(), steps + 1) << "a drag is one step";
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(bench().review().stretches()[1].first, 30);
    key(Qt::Key_End);
    key(Qt::Key_X, Qt::AltModifier);
    EXPECT_FALSE(bench().review().stretches()[1].judged);
    key(Qt::Key_D, Qt::AltModifier);
    EXPECT_EQ(bench().review().stretches().size(), 3U);
    key(Qt::Key_M, Qt::AltModifier);
    EXPECT_EQ(bench().review().stretches().size(), 2U);
    key(Qt::Key_N, Qt::AltModifier);
    auto* edit = window->the<ReviewView>().findChild<WordLine*>()->findChild<QLineEdit*>();
    QTest::keyClicks(edit, "short side");
    QTest::keyClick(edit, Qt::Key_Return);
    EXPECT_EQ(bench().review().stretches()[1].name, "short side");
}

TEST_F(FastHands, ThreeClicksThenDrag) {
    open_clip();
    step_to(10);
    key(Qt::Key_P);
    EXPECT_TRUE(picture().asks_three());
    three_clicks();
    EXPECT_FALSE(picture().asks_three());
    EXPECT_GE(bench().marking().figure().marked(), 9);
    EXPECT_TRUE(bench().marking().has_unconfirmed());
    const core::Figure laid = bench().marking().figure();
    drag(laid[L::elbow].at, truth()[L::elbow].at);
    EXPECT_LT(core::distance(bench().marking().figure()[L::elbow].at, truth()[L::elbow].at), 2.5);
    EXPECT_NE(bench().marking().figure()[L::wrist].at, laid[L::wrist].at) << "the hand follows";
    EXPECT_EQ(bench().marking().figure()[L::heel], laid[L::heel]);
    key(Qt::Key_Escape);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(bench().marking().figure()[L::elbow], laid[L::elbow]);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(bench().review().moment()) << "laying is one step, with the moment and the travel";
}

TEST_F(FastHands, WhatWasLaidIsConfirmedOneKeyAJoint) {
    open_clip();
    step_to(10);
    key(Qt::Key_P);
    three_clicks();
    const int before = yard->steps().stack().index();
    key(Qt::Key_Y);
    for (int i = 0; bench().marking().has_unconfirmed() && i < 20; ++i) {
        EXPECT_TRUE(wait_for([&] { return picture().asks().contains("right as it stands"); }));
        key(Qt::Key_Y, Qt::ShiftModifier);
    }
    EXPECT_FALSE(bench().marking().has_unconfirmed());
    EXPECT_TRUE(core::find(bench().marking().judged(), "trunk_lean")->measured.value);
    while (yard->steps().stack().index() > before) key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(bench().marking().has_unconfirmed());
}

TEST_F(FastHands, AltDragsAJointAlone) {
    open_clip();
    step_to(10);
    key(Qt::Key_P);
    three_clicks();
    const core::Figure laid = bench().marking().figure();
    const QPoint a = picture().to_widget(laid[L::elbow].at).toPoint(), b = a + QPoint(15, 5);
    QTest::mousePress(&picture(), Qt::LeftButton, Qt::AltModifier, a);
    for (int i = 1; i <= 5; ++i) {
        QMouseEvent move(QEvent::MouseMove, a + (b - a) * i / 5, picture().mapToGlobal(a + (b - a) * i / 5),
                         Qt::NoButton, Qt::LeftButton, Qt::AltModifier);
        QApplication::sendEvent(&picture(), &move);
    }
    QTest::mouseRelease(&picture(), Qt::LeftButton, Qt::AltModifier, b);
    EXPECT_NE(bench().marking().figure()[L::elbow].at, laid[L::elbow].at);
    EXPECT_EQ(bench().marking().figure()[L::wrist].at, laid[L::wrist].at);
}

TEST_F(FastHands, AWholeFigureWithoutAMouse) {
    open_clip();
    step_to(10);
    key(Qt::Key_R, Qt::ShiftModifier);
    ASSERT_TRUE(picture().has_reticle());
    const core::Figure t = truth();
    core::Point at = picture().to_picture(QPointF(picture().width(), picture().height()) / 2);
    for (const L l : core::first_nine()) {
        const auto go = [&](double from, double to, int less, int more) {
            double left = to - from;
            for (; std::abs(left) >= 12; left -= left > 0 ? 12 : -12) key(left > 0 ? more : less);
            for (; std::abs(left) >= 1; left -= left > 0 ? 1 : -1)
                key(left > 0 ? more : less, Qt::ShiftModifier);
            return to - left;
        };
        at = {go(at.x, t[l].at.x, Qt::Key_Left, Qt::Key_Right),
              go(at.y, t[l].at.y, Qt::Key_Up, Qt::Key_Down)};
        key(Qt::Key_Return);
        EXPECT_LT(core::distance(bench().marking().figure()[l].at, t[l].at), 2) << core::id(l);
    }
    EXPECT_FALSE(bench().marking().asked());
    key(Qt::Key_Escape);
    EXPECT_FALSE(picture().has_reticle());
    bench().marking().select(std::nullopt);
    key(Qt::Key_J);
    EXPECT_EQ(bench().marking().selected(), L::ear);
    key(Qt::Key_J);
    EXPECT_EQ(bench().marking().selected(), L::shoulder);
    key(Qt::Key_J, Qt::ShiftModifier);
    EXPECT_EQ(bench().marking().selected(), L::ear);
    const core::Point before = bench().marking().figure()[L::ear].at;
    key(Qt::Key_Right);
    key(Qt::Key_Right);
    EXPECT_EQ(bench().marking().figure()[L::ear].at.x, before.x + 2);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(bench().marking().figure()[L::ear].at, before) << "a run of nudges is one step";
}

TEST_F(FastHands, SeesPartsOfTheBodyAndShowsAMeasureWhereItIs) {
    open_clip();
    step_to(10);
    key(Qt::Key_Escape);
    key(Qt::Key_4);
    EXPECT_EQ(picture().zoom(), 1) << "no joint of the leg yet";
    while (bench().marking().asked()) click(truth()[*bench().marking().asked()].at);
    key(Qt::Key_Escape);
    key(Qt::Key_4);
    EXPECT_GT(picture().zoom(), 1.5);
    const QPointF knee = picture().to_widget(truth()[L::knee].at),
                  heel = picture().to_widget(truth()[L::heel].at);
    EXPECT_TRUE(picture().rect().contains(knee.toPoint()) && picture().rect().contains(heel.toPoint()));
    key(Qt::Key_1);
    EXPECT_EQ(picture().zoom(), 1);
    app::set_travel(bench().review(), core::Travel::right);  // what is not judged has no row of its own
    run_queued();
    const QRectF row = window->the<ReviewView>().column().row_of("trunk_lean");
    QTest::mouseClick(&window->the<ReviewView>().column(), Qt::LeftButton, {}, row.center().toPoint());
    EXPECT_EQ(picture().measure_shown(), "trunk_lean");
    EXPECT_GT(picture().zoom(), 1.2);
    key(Qt::Key_Escape);
    EXPECT_TRUE(picture().measure_shown().isEmpty());
    EXPECT_EQ(picture().zoom(), 1);
    key(Qt::Key_L, Qt::ShiftModifier);
    EXPECT_EQ(picture().lift(), 1);
}

TEST_F(FastHands, TheDrawnHorseTurnsTheViewWithItsError) {
    open_clip();
    key(Qt::Key_T, Qt::ShiftModifier);
    auto* horse = window->the<ReviewView>().findChild<TurnedHorse*>();
    ASSERT_TRUE(horse->isVisible());
    for (int i = 0; i < 3; ++i) key(Qt::Key_Right, Qt::ShiftModifier);
    key(Qt::Key_Left);
    EXPECT_EQ(horse->yaw_deg(), 14);
    key(Qt::Key_Return);
    EXPECT_EQ(bench().review().stretch().camera.yaw_deg, 14);
    EXPECT_EQ(bench().review().stretch().camera.yaw_sd_deg, TurnedHorse::kByEyeSdDeg);
    EXPECT_TRUE(picture().hasFocus());
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(bench().review().stretch().camera.yaw_marked);
}

TEST_F(FastHands, TwoMomentsAtOnceAreOneKeyAway) {
    open_clip();
    key(Qt::Key_T);
    key(Qt::Key_T);
    ASSERT_EQ(bench().review().stretch().travel, core::Travel::right);
    for (const int frame : {10, 33}) {
        step_to(frame);
        while (bench().marking().asked()) click(truth()[*bench().marking().asked()].at);
        bench().marking().select(std::nullopt);
    }
    key(Qt::Key_D);
    ASSERT_EQ(window->view(), ViewName::compare);
    CompareStage& stage = window->the<CompareView>().stage();
    EXPECT_GE(window->the<CompareView>().differences().rows().size(), 8U);
    key(Qt::Key_O);
    EXPECT_EQ(stage.way(), CompareStage::Way::over);
    key(Qt::Key_O);
    EXPECT_EQ(stage.way(), CompareStage::Way::turns);
    key(Qt::Key_L);
    EXPECT_TRUE(stage.on_saddle());
    EXPECT_EQ(bench().deck().frame(), 33) << "its keys move nothing on the bench";
    key(Qt::Key_Tab);
    EXPECT_EQ(stage.chosen(), 0U);
    key(Qt::Key_Return);
    EXPECT_EQ(window->view(), ViewName::review) << "the picture is opened where it can be worked on";
}

TEST_F(FastHands, KeysAreShownAndCanBeGivenAnew) {
    open_clip();
    key(Qt::Key_F1);
    KeyOverlay& overlay = window->overlay();
    ASSERT_TRUE(overlay.isVisible());
    QPushButton* good = nullptr;
    for (QPushButton* b : overlay.findChildren<QPushButton*>()) {
        if (b->accessibleName() == "Notes: good") good = b;
    }
    ASSERT_TRUE(good);
    QTest::mouseClick(good, Qt::LeftButton);
    QTest::keyClick(&overlay, Qt::Key_K);  // look here's key
    EXPECT_EQ(window->keys().shown("note_good"), "K");
    EXPECT_TRUE(window->keys().shown("note_look").isEmpty()) << "one key, one action";
    QTest::keyClick(&overlay, Qt::Key_Escape);
    EXPECT_FALSE(overlay.isVisible());
    picture().setFocus();
    key(Qt::Key_K);
    ASSERT_EQ(bench().review().notes().size(), 1U);
    EXPECT_EQ(bench().review().notes()[0].kind, store::NoteKind::good);
    reopen();
    EXPECT_EQ(window->keys().shown("note_good"), "K") << "kept for the next time";
    window->keys().reset();
    EXPECT_EQ(window->keys().shown("note_good"), "G");
    EXPECT_EQ(window->keys().shown("note_look"), "K");
}

TEST_F(FastHands, EveryActionHasItsKeyAndNoKeyTwo) {
    QSet<QString> seen;
    for (const QAction* a : window->keys().actions()) {
        const std::string id = a->objectName().toStdString();
        ASSERT_FALSE(a->shortcuts().isEmpty()) << id;
        for (const QKeySequence& k : a->shortcuts()) {
            EXPECT_FALSE(k.isEmpty()) << id;
            EXPECT_FALSE(seen.contains(k.toString())) << id << " " << k.toString().toStdString();
            seen << k.toString();
        }
    }
    for (const char* taken :
         {"Ctrl+Z", "Ctrl+Y", "Ctrl+O", "Ctrl+S", "Ctrl+C", "F1", "F9", "Ctrl+1", "Ctrl+2", "Tab"})
        EXPECT_FALSE(seen.contains(taken)) << taken;
}

TEST_F(FastHands, OwnFindingsStrengthsAndQuestionsByKey) {
    add_people();
    open_clip();
    for (const int k : {Qt::Key_1, Qt::Key_1, Qt::Key_3, Qt::Key_2}) key(k);
    step_to(10);
    while (bench().marking().asked()) click(truth()[*bench().marking().asked()].at);
    app::turn_travel(bench().review());
    if (bench().review().stretch().travel != core::Travel::right) app::turn_travel(bench().review());
    app::set_phase(bench().review(), "rise_top");
    bench().marking().select(L::wrist);
    auto* edit = window->the<ReviewView>().findChild<WordLine*>()->findChild<QLineEdit*>();
    key(Qt::Key_G, Qt::ShiftModifier);
    QTest::keyClicks(edit, "Quiet hand");
    QTest::keyClick(edit, Qt::Key_Return);
    ASSERT_EQ(bench().review().remarks().size(), 1U);
    EXPECT_EQ(bench().review().remarks()[0].kind, store::RemarkKind::strength);
    EXPECT_EQ(bench().review().remarks()[0].part, "elbow") << "the first measure that this joint belongs to";
    key(Qt::Key_F, Qt::ShiftModifier);
    QTest::keyClicks(edit, "Thumb not on top");
    QTest::keyClick(edit, Qt::Key_Return);
    EXPECT_EQ(bench().review().remarks().size(), 2U);
    bench().marking().select(std::nullopt);
    const std::string current = window->the<ReviewView>().findings().current().toStdString();
    ASSERT_FALSE(current.empty());
    key(Qt::Key_B);
    const auto row = std::ranges::find_if(
        bench().findings().rows(), [&](const app::FindingRow& r) { return r.found.fault->id == current; });
    EXPECT_EQ(row->decision, store::Decision::asked_back);
}

TEST_F(FastHands, FortyFilesLandInTheInboxAndAreGivenRidersByKeys) {
    add_people();
    add_rider(*yard, test::rider("Bram Oddleif", 1980, "stock"));  // first by name
    const auto clip_file = test::simulated_clip(test::faulty_plan(), "window");
    QStringList files;
    for (int i = 0; i < 40; ++i) {
        const auto file = folder / ("clip-" + std::to_string(i) + ".mp4");
        std::filesystem::copy_file(clip_file, file);
        if (i % 10 != 9) {  // every tenth is the same clip again
            std::ofstream more(file, std::ios::app | std::ios::binary);
            more << std::string(static_cast<std::size_t>(i) + 1, 'x');
        }
        files << QString::fromStdString(file.string());
    }
    window->bring_in(files);
    ASSERT_TRUE(wait_for([&] { return window->importer().waiting() == 0; }));
    EXPECT_EQ(window->view(), ViewName::yard) << "many do not open one by one";
    EXPECT_EQ(yard->records().rides.clips().size(), 37U) << "four are one and the same";
    EXPECT_TRUE(window->last_line().contains("3 of these clips are in the yard already"))
        << window->last_line().toStdString();
    ASSERT_TRUE(wait_for(
        [&] {
            return std::ranges::all_of(yard->records().rides.clips(),
                                       [](const store::Clip& c) { return c.duration_s > 1.9; });
        },
        60000))
        << "their lengths are known";
    settle();
    QListView& rides = window->the<YardView>().rides();
    app::RidesModel& model = window->the<YardView>().model();
    ASSERT_EQ(model.waiting(), 37);
    const store::RideId first = *model.ride_at(0), second = *model.ride_at(1), third = *model.ride_at(2);
    rides.setFocus();
    rides.setCurrentIndex(model.index(0));
    key(Qt::Key_2);
    EXPECT_EQ(yard->records().rides.ride(first)->rider, yard->records().people.riders()[1].id);
    ASSERT_TRUE(wait_for([&] { return model.ride_at(rides.currentIndex().row()) == second; }))
        << "on to the next";
    key(Qt::Key_1);
    EXPECT_EQ(yard->records().rides.ride(second)->rider, yard->records().people.riders()[0].id);
    const auto waiting_clip = yard->records().rides.clips_of(second).at(0).id;
    const auto clip_after = yard->records().rides.clips_of(third).at(0).id;
    window->open_clip(waiting_clip);
    ASSERT_TRUE(wait_for([&] { return bench().deck().ready(); }));
    EXPECT_EQ(yard->records().rides.ride(second)->state, store::RideState::started);
    picture().setFocus();
    key(Qt::Key_Right, Qt::ControlModifier);
    ASSERT_TRUE(wait_for([&] { return bench().is_open() && bench().review().clip().id == clip_after; }))
        << "one after the other";
}

TEST_F(FastHands, AFullDiskIsOneLineAndLosesNothing) {
    open_clip();
    step_to(10);
    click(truth()[*bench().marking().asked()].at);
    click(truth()[*bench().marking().asked()].at);
    ASSERT_EQ(bench().marking().figure().marked(), 2);
    SQLite::Database& db = test::to_write(*yard).database().raw();
    const int pages = db.execAndGet("PRAGMA page_count").getInt();
    db.exec("PRAGMA max_page_count = " +
            std::to_string(pages));  // as if the disk had no room for one page more
    int placed = 2;
    for (int frame = 11; frame < 55 && !window->last_line().contains("could not be written"); ++frame) {
        key(Qt::Key_Period);
        ASSERT_TRUE(wait_for([&] { return bench().deck().picture_is_current(); }));
        while (bench().marking().asked() && !window->last_line().contains("could not be written")) {
            const int before = bench().marking().figure().marked();
            click(truth()[*bench().marking().asked()].at);
            placed = bench().marking().figure().marked();
            ASSERT_TRUE(placed == before + 1 || window->last_line().contains("could not be written"));
        }
    }
    ASSERT_TRUE(window->last_line().contains("nothing was changed")) << window->last_line().toStdString();
    const int frame = bench().deck().frame();
    db.exec("PRAGMA max_page_count = 1073741823");
    click(truth()[*bench().marking().asked()].at);  // room again: on it goes
    EXPECT_EQ(bench().marking().figure().marked(), placed + 1);
    reopen();
    const auto clips = yard->records().rides.clips();
    int joints = 0;
    for (const store::Moment& m : yard->records().reviews.moments(clips[0].id)) {
        EXPECT_TRUE(m.frame != frame || m.figure.marked() == placed + 1);
        joints += m.figure.marked();
    }
    EXPECT_GE(joints, 2 + placed + 1) << "all that was placed is there";
}

TEST_F(FastHands, SeveralRidersAreSwitchedByKeyAndNotesGoToTheirRider) {
    add_people();
    const auto bram = add_rider(*yard, test::rider("Bram Oddleif", 1980, "stock"));
    open_clip();
    key(Qt::Key_F3);
    EXPECT_TRUE(window->last_line().contains("Alt+G"));
    app::add_companion(bench().review(), bram, {});
    key(Qt::Key_F2);
    EXPECT_EQ(bench().review().slot(), 0);
    key(Qt::Key_G);
    key(Qt::Key_F3);
    EXPECT_EQ(bench().review().slot(), 1);
    EXPECT_TRUE(window->last_line().startsWith("Bram Oddleif"));
    key(Qt::Key_K);
    ASSERT_EQ(bench().review().notes().size(), 2U);
    EXPECT_EQ(bench().review().notes()[0].slot, 0);
    EXPECT_EQ(bench().review().notes()[1].slot, 1);
}

TEST_F(FastHands, WhatTheRiderSaysIsKeptWithTheClip) {
    open_clip();
    key(Qt::Key_Q, Qt::AltModifier);
    QMenu* lines = menu();
    ASSERT_TRUE(lines);
    const auto fields = lines->findChildren<QLineEdit*>();
    ASSERT_EQ(fields.size(), 3);
    QTest::keyClicks(fields[2], "left hip");
    QTest::keyClick(fields[2], Qt::Key_Return);
    EXPECT_EQ(bench().review().ride().own.hurts, "left hip");
}

TEST_F(FastHands, ControlsAndJointsHaveNamesForScreenReaders) {
    open_clip();
    step_to(10);
    while (bench().marking().asked()) click(truth()[*bench().marking().asked()].at);
    for (QPushButton* b : window->findChildren<QPushButton*>()) {
        EXPECT_FALSE(b->isVisible() && b->accessibleName().isEmpty() && b->text().isEmpty())
            << b->objectName().toStdString();
    }
    for (QLineEdit* e : window->the<ReviewView>().findChildren<QLineEdit*>()) {
        EXPECT_FALSE(e->isVisible() && e->accessibleName().isEmpty());
    }
    QAccessibleInterface* whole = QAccessible::queryAccessibleInterface(&picture());
    ASSERT_TRUE(whole);
    ASSERT_EQ(whole->childCount(), 9);
    QAccessibleInterface* ear = whole->child(0);
    ASSERT_TRUE(ear);
    EXPECT_EQ(ear->text(QAccessible::Name), "ear");
    EXPECT_EQ(ear->role(), QAccessible::Indicator);
    EXPECT_TRUE(ear->rect().contains(
        picture().mapToGlobal(picture().to_widget(bench().marking().figure()[L::ear].at).toPoint())));
    EXPECT_TRUE(ear->text(QAccessible::Value).contains("seen"));
}

TEST_F(FastHands, FocusGoesRoundAndIsSeen) {
    open_clip();
    picture().setFocus();
    QSet<QWidget*> been;
    for (int i = 0; i < 60; ++i) {
        QWidget* now = qApp->focusWidget();
        ASSERT_TRUE(now);
        if (now == &picture() && i > 0) break;
        been << now;
        key(Qt::Key_Tab);
    }
    EXPECT_EQ(qApp->focusWidget(), &picture()) << "Tab comes round to the picture again";
    EXPECT_GE(been.size(), 8) << "words of the clip, play buttons, views";
}

}  // namespace
}  // namespace aspen::ui
