// The coach's eye by key: the guided pass, two letters, a ride without a joint anywhere, last time on top,
// and what the ride says.

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include "app/review/annotated.hpp"
#include "app/review/eye_pass.hpp"
#include "app/review/finding_row.hpp"
#include "app/review/first_look.hpp"
#include "app/review/review_changes.hpp"
#include "app/yard/changes.hpp"
#include "ui/prescribe/prescribe_view.hpp"
#include "ui/review/last_line.hpp"
#include "ui/review/lower_panel.hpp"
#include "ui/review/name_line.hpp"
#include "ui/window_support.hpp"
#include "ui/yard/horse_form.hpp"

namespace aspen::ui {
namespace {

using testing::Contains;
using testing::ElementsAre;

class Eye : public Window {
  protected:
    void SetUp() override {
        clip = test::simulated_clip(test::faulty_plan(), "window");
        bring_in(clip);
        app::ridden_here(bench(), core::Gait::trot);
        app::ridden_here(bench(), core::Seat::rising);
        picture().setFocus();
    }
    void press(int k, Qt::KeyboardModifiers m = Qt::NoModifier) {
        ++inputs;
        key(k, m);
    }
    void name(const char* letters) {
        press(Qt::Key_Slash);
        for (const char* c = letters; *c; ++c) {
            ++inputs;
            QTest::keyClick(qApp->focusWidget(), *c);
        }
        ++inputs;
        QTest::keyClick(qApp->focusWidget(), Qt::Key_Return);
    }
    std::vector<std::string> found() {
        std::vector<std::string> out;
        for (const app::FindingRow& r : bench().findings().rows()) out.push_back(r.found.fault->id);
        return out;
    }
    std::filesystem::path clip;
    int inputs = 0;
};

// "Lost iron" begins with the letters of "lower leg back": nothing is taken before Enter or a digit, and what
// is typed on is no key of the bench.
TEST_F(Eye, AWordTypedToItsEndNamesThatAndNothingElse) {
    const int frame = bench().deck().frame();
    const auto stretches = bench().review().stretches();
    name("lost iron");
    EXPECT_THAT(found(), ElementsAre("lost_iron"));
    EXPECT_EQ(bench().deck().frame(), frame);
    EXPECT_EQ(bench().review().stretches(), stretches);
}

TEST_F(Eye, OffersAllThatBeginsSoByNumber) {
    press(Qt::Key_Slash);
    for (const char c : {'l', 'o'}) QTest::keyClick(qApp->focusWidget(), c);
    auto* line = window->findChild<NameLine*>();
    ASSERT_TRUE(line && line->isVisible()) << "two letters take nothing";
    const auto labels = line->findChildren<QLabel*>();
    const auto offers =
        std::ranges::find_if(labels, [](QLabel* l) { return l->text().contains("<b>1</b>"); });
    ASSERT_NE(offers, labels.end());
    const QString said = QString((*offers)->text()).replace("&nbsp;", " ");
    for (const char* one : {"Lower leg back", "Lower leg forward", "Lost iron", "Looking down", "Loose leg"})
        EXPECT_TRUE(said.contains(one)) << one;
    EXPECT_THAT(found(), testing::IsEmpty());
    const QString before = said.left(said.indexOf("Looking down"));
    QTest::keyClick(qApp->focusWidget(), static_cast<char>('0' + before.count("<b>")));
    EXPECT_THAT(found(), ElementsAre("looking_down"));
    EXPECT_FALSE(line->isVisible());
}

TEST_F(Eye, TheGuidedPassAsksHeadToHeelAndTakesDigits) {
    LowerPanel& lower = window->the<ReviewView>().lower();
    press(Qt::Key_C, Qt::ShiftModifier);
    ASSERT_EQ(lower.shows(), LowerPanel::Shows::checks);
    EXPECT_EQ(lower.checks().asked(), "looking_down") << "the head first";
    press(Qt::Key_2);
    EXPECT_THAT(found(), Contains("looking_down"));
    EXPECT_NE(lower.checks().asked(), "looking_down") << "and on to the next";
    const QString second = lower.checks().asked();
    press(Qt::Key_1);
    press(Qt::Key_Up);
    EXPECT_EQ(lower.checks().asked(), second) << "one may go back";
    EXPECT_EQ(yard->records().reviews.answers(bench().review().clip().id).size(), 2U);
    yard->steps().undo();
    yard->steps().undo();
    EXPECT_TRUE(yard->records().reviews.answers(bench().review().clip().id).empty())
        << "taken back like anything";
    press(Qt::Key_Escape);
    EXPECT_EQ(lower.shows(), LowerPanel::Shows::findings);
    for (const app::Question& q : app::questions_here(bench()))
        EXPECT_TRUE(q.check->where.seats.empty() || q.check->id != "bouncing_in_sitting_trot")
            << "a rising rider is not asked about the sitting trot";
}

TEST_F(Eye, TwoLettersNameAnythingOnAnyFrame) {
    name("hu");
    EXPECT_THAT(found(), Contains("heel_up"));
    EXPECT_TRUE(picture().hasFocus()) << "the keys of the bench work on";
    name("ba");  // a state of the rider: it links causes and is no finding
    EXPECT_EQ(found().size(), 1U);
    name("ea");
    EXPECT_THAT(app::states_of(bench().findings().assessment(), true), Contains(QString("Ears back")));
    name("ql");
    EXPECT_THAT(bench().findings().what_is_good(), Contains(QString("Quiet leg")));
    name("hu");
    EXPECT_TRUE(found().empty()) << "the same again takes it back";
}

// With joints the pass ends after what could change what is found or goes first; without them the eye alone
// says, and everything is asked.
TEST_F(Window, TheEyesPassEndsAfterWhatDecides) {
    bring_in_ridden();
    const auto all = app::questions_here(bench());
    ASSERT_GT(all.size(), 10U);
    EXPECT_TRUE(std::ranges::all_of(all, &app::Question::decides)) << "nothing is marked yet";
    mark_from_truth(bench().deck().frame());
    settle();
    const auto asked = app::questions_here(bench());
    const auto decisive = std::ranges::count_if(asked, &app::Question::decides);
    EXPECT_GE(decisive, 2);
    EXPECT_LT(decisive, static_cast<std::ptrdiff_t>(asked.size()) * 2 / 3);
    for (const app::Question& q : asked) {
        EXPECT_TRUE(!q.wanted || q.decides) << q.check->id;
        if (q.check->id == "lost_iron") {
            EXPECT_TRUE(q.decides) << "safety always";
        }
    }
    EXPECT_TRUE(std::ranges::is_sorted(asked, {}, [](const app::Question& q) { return !q.decides; }))
        << "what decides is asked first";
    picture().setFocus();
    key(Qt::Key_C, Qt::ShiftModifier);
    LowerPanel& lower = window->the<ReviewView>().lower();
    for (std::ptrdiff_t i = 0; i < decisive + 2 && !lower.checks().asked().isEmpty(); ++i) key(Qt::Key_3);
    EXPECT_TRUE(lower.checks().asked().isEmpty());
    const auto said = app::questions_here(bench());
    EXPECT_LT(std::ranges::count_if(said, [](const app::Question& q) { return q.said.has_value(); }),
              static_cast<std::ptrdiff_t>(said.size()));
    lower.move(1);
    const auto next = std::ranges::find_if(
        said, [&](const app::Question& q) { return q.check->id == lower.checks().asked().toStdString(); });
    ASSERT_NE(next, said.end()) << "the rest is a key away";
    EXPECT_FALSE(next->said) << "from the first that nobody was asked";
}

TEST_F(Eye, ARideWithoutAJointGetsItsFocusAndExercise) {
    const auto rider = add_rider(*yard, test::rider("Maude Estrell", 1990, "hunter", "established"));
    const auto horse = add_horse(*yard, {{}, "Saffron", 165, ""});
    app::set_pair(*yard, bench().review().ride().id, rider, horse, "Pair");
    picture().setFocus();
    // Opening, horse, gait and seat are four inputs more, counted in counted_inputs_test.
    inputs = 4;
    press(Qt::Key_Right, Qt::ShiftModifier);
    name("h");  // the base before the head: the first that begins so is the heel
    name("lk");
    ASSERT_TRUE(bench().findings().focus());
    EXPECT_EQ(bench().findings().focus()->fault->id, "heel_up") << "the base before the head";
    press(Qt::Key_A);
    press(Qt::Key_Return);
    ASSERT_EQ(window->view(), ViewName::prescribe);
    press(Qt::Key_G);
    const auto corrections = yard->records().work.corrections(rider);
    ASSERT_TRUE(std::ranges::any_of(corrections, &store::Correction::focus));
    EXPECT_LE(inputs, 15);
    std::printf("without joints: %d inputs from opening to the exercise given\n", inputs);
}

TEST_F(Eye, WhatNeedsTheCoachsWordIsSignedOffByOnePressAndStandsOnTheCard) {
    const auto rider = add_rider(*yard, test::rider("Maude Estrell", 1990, "hunter", "established"));
    const auto horse = add_horse(*yard, {{}, "Saffron", 165, ""});
    app::set_pair(*yard, bench().review().ride().id, rider, horse, "Pair");
    app::sign_off(*yard, rider, horse, "sits_trot");
    app::ridden_here(bench(), core::Gait::canter);
    name("ls");
    ASSERT_TRUE(bench().findings().focus());
    ASSERT_EQ(bench().findings().focus()->fault->id, "locked_seat_in_canter");
    window->show_view(ViewName::prescribe);
    const auto button = [&](const QString& words) -> QPushButton* {
        for (auto* b : window->the<PrescribeView>().findChildren<QPushButton*>()) {
            if (b->isVisible() && b->text().contains(words)) return b;
        }
        return nullptr;
    };
    EXPECT_FALSE(button("hip's loop in canter")) << "set aside";
    ASSERT_TRUE(wait_for([&] { return button("Sign off on Saffron: may canter") != nullptr; }));
    button("Sign off on Saffron: may canter")->click();
    ASSERT_TRUE(wait_for([&] { return button("hip's loop in canter") != nullptr; }));
    EXPECT_FALSE(button("Sign off on Saffron: may canter"));
    ASSERT_EQ(yard->records().people.sign_offs(rider).size(), 2u);
    EXPECT_EQ(yard->records().people.sign_offs(rider)[0].horse, horse);
    yard->steps().undo();
    EXPECT_EQ(yard->records().people.sign_offs(rider).size(), 1u);
    ASSERT_TRUE(wait_for([&] { return button("Sign off on Saffron: may canter") != nullptr; }));
}

TEST_F(Eye, LastTimeStandsOnTopUntilItIsShown) {
    const auto rider = add_rider(*yard, test::rider("Maude Estrell", 1990, "hunter", "established"));
    const auto horse = add_horse(*yard, {{}, "Saffron", 165, ""});
    app::set_pair(*yard, bench().review().ride().id, rider, horse, "Pair");
    EXPECT_TRUE(window->the<ReviewView>().last_time().spoken().isEmpty()) << "nothing was worked on yet";
    store::Ride before;
    before.rider = rider;
    before.horse = horse;
    before.day = "2026-01-05";
    const auto earlier = test::to_write(*yard).add(before);
    const core::SeenIn seen = core::seen_in(bench().review().stretch());
    app::prescribe(*yard, earlier, {"heel_up", seen}, {{"heel_up", seen}},
                   *yard->knowledge().exercises.find("heel_drop_transitions"));
    QString said = window->the<ReviewView>().last_time().spoken();
    EXPECT_TRUE(said.contains("Heel up") && said.contains("rung 1 of")) << said.toStdString();
    EXPECT_TRUE(said.contains("film again")) << said.toStdString();
    picture().setFocus();
    name("hu");
    said = window->the<ReviewView>().last_time().spoken();
    EXPECT_TRUE(said.contains("still there")) << said.toStdString();
}

TEST_F(Eye, WhatTheRideSaysStandsInFourColumns) {
    name("hu");
    name("ea");
    name("ql");
    press(Qt::Key_W, Qt::ShiftModifier);
    ASSERT_EQ(window->the<ReviewView>().lower().shows(), LowerPanel::Shows::summary);
    const QString all = window->the<ReviewView>().lower().summary().lines().join("\n");
    for (const char* words : {"Quiet leg", "Heel up, from one moment", "Ears back"})
        EXPECT_TRUE(all.contains(words)) << words << " in " << all.toStdString();
}

TEST_F(Eye, WhatTheHorseAnswersIsKeptOnItsCard) {
    const auto rider = add_rider(*yard, test::rider("Maude Estrell", 1990, "hunter", "established"));
    const auto horse = add_horse(*yard, {{}, "Saffron", 165, ""});
    app::set_pair(*yard, bench().review().ride().id, rider, horse, "Pair");
    picture().setFocus();
    name("ea");
    name("hu");
    const auto named = yard->records().people.named_on(horse);
    ASSERT_EQ(named.size(), 2U);
    HorseForm card(*yard);
    card.show_horse(horse);
    bool shown = false;
    for (const QLabel* l : card.findChildren<QLabel*>())
        shown = shown || l->text() == "Seen of this horse: ears back (one ride).";
    EXPECT_TRUE(shown) << "its answers, not the rider's faults";
}

TEST_F(Eye, DrawsBesideTheFindingsAndKeepsOffTheFace) {
    step_to(10);
    app::set_travel(bench().review(), core::Travel::right);
    const core::Figure truth = test::true_figure(clip, 10);
    while (bench().marking().asked()) bench().marking().place(truth[*bench().marking().asked()].at, 1);
    bench().marking().select(std::nullopt);
    const core::Point heel = truth[core::Landmark::heel].at, beside{heel.x - 120, heel.y};
    press(Qt::Key_K, Qt::ShiftModifier);
    drag(beside, {heel.x - 20, heel.y});
    ASSERT_EQ(bench().review().sketches().size(), 1U);
    EXPECT_EQ(bench().review().sketches()[0].kind, store::SketchKind::arrow);
    press(Qt::Key_O, Qt::ShiftModifier);
    drag(heel, {heel.x + 40, heel.y});
    press(Qt::Key_H, Qt::ShiftModifier);
    click(beside);
    QTest::keyClicks(qApp->focusWidget(), "let it down");
    QTest::keyClick(qApp->focusWidget(), Qt::Key_Return);
    ASSERT_EQ(bench().review().sketches().size(), 3U);
    EXPECT_EQ(app::annotated_here(bench()).drawn.size(), 3U) << "the same leaves with the frame";
    press(Qt::Key_O, Qt::ShiftModifier);
    const core::Point ear = truth[core::Landmark::ear].at;
    drag({ear.x + 4, ear.y + 4}, {ear.x + 60, ear.y});
    EXPECT_EQ(bench().review().sketches().size(), 3U) << "nothing lies on a face";
    press(Qt::Key_Q, Qt::ShiftModifier);
    EXPECT_EQ(bench().review().sketches().size(), 2U);
    yard->steps().undo();
    EXPECT_EQ(bench().review().sketches().size(), 3U);
    bench().deck().go_to(12);
    EXPECT_TRUE(app::annotated_here(bench()).drawn.empty()) << "tied to its frame";
}

TEST_F(Eye, MarkedAgainBlindTheCoachsOwnErrorIsUsed) {
    app::set_travel(bench().review(), core::Travel::right);
    const double usual = bench().marking().own_click_sd();
    for (const int frame : {10, 14, 18}) {
        bench().deck().go_to(frame);
        ASSERT_TRUE(wait_for([&] { return bench().deck().picture_is_full(); }));
        const core::Figure truth = test::true_figure(clip, frame);
        while (bench().marking().asked()) bench().marking().place(truth[*bench().marking().asked()].at, 1);
        bench().marking().select(std::nullopt);
        const core::Figure before = bench().marking().figure();
        picture().setFocus();
        key(Qt::Key_Z, Qt::ShiftModifier);
        ASSERT_TRUE(bench().marking().blind());
        EXPECT_EQ(bench().marking().figure().marked(), 0) << "the first marks are hidden";
        key(Qt::Key_X);  // nothing but a click says anything now
        key(Qt::Key_Y);
        while (bench().marking().blind()) {
            const core::Point at = truth[*bench().marking().asked()].at;
            bench().marking().place({at.x + 4, at.y}, 1);
        }
        EXPECT_EQ(bench().marking().figure(), before) << "and stay as they were";
    }
    // Off by four pixels in one direction: 4 / 2 where the shorter side is the clip's own, scaled to 1080.
    const double scale = 1080.0 / std::min(bench().deck().facts().width, bench().deck().facts().height);
    EXPECT_NEAR(bench().marking().own_click_sd(), 2.0 * scale, 0.01);
    EXPECT_NE(bench().marking().own_click_sd(), usual);
}

}  // namespace
}  // namespace aspen::ui
