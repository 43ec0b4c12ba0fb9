// Why a fault was said, and the rule changed for good from there; the stirrups noted; a limitation read as it
// is understood.

#include <QComboBox>
#include <QLabel>

#include "app/review/finding_row.hpp"
#include "app/review/first_look.hpp"
#include "app/yard/changes.hpp"
#include "app/yard/own_knowledge.hpp"
#include "ui/review/lower_panel.hpp"
#include "ui/review/why_panel.hpp"
#include "ui/schools/schools_view.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

using testing::HasSubstr;

class Why : public Window {
  protected:
    void SetUp() override {
        bring_in_ridden();
        mark_from_truth(10);
        picture().setFocus();
    }
    std::string lines() { return window->the<ReviewView>().lower().why().lines().join("\n").toStdString(); }
    bool said(const char* fault) { return bench().findings().find(fault) != nullptr; }
    void press(const char* start) {
        QCoreApplication::processEvents();  // what was built anew is laid out
        for (QPushButton* b : window->the<ReviewView>().lower().why().findChildren<QPushButton*>()) {
            if (b->isVisible() && b->text().startsWith(start)) {
                b->click();
                run_queued();  // the deed waits until its button is done
                return;
            }
        }
        ADD_FAILURE() << "no button " << start;
    }
    void choose(const char* fault) {
        key(Qt::Key_Escape);  // the arrows are the findings' while no joint is in hand
        for (int i = 0; i < 12 && window->the<ReviewView>().findings().current() != fault; ++i)
            key(Qt::Key_Down);
        ASSERT_EQ(window->the<ReviewView>().findings().current(), fault);
    }
};

TEST_F(Why, OneKeyShowsTheRuleWithValueBandAndSchool) {
    ASSERT_TRUE(said("tipped_forward"));
    choose("tipped_forward");
    key(Qt::Key_I, Qt::ShiftModifier);
    ASSERT_EQ(window->the<ReviewView>().lower().shows(), LowerPanel::Shows::why);
    EXPECT_THAT(lines(), HasSubstr("Tipped forward"));
    EXPECT_THAT(lines(), HasSubstr("band 0 to 7 of Hunter"));
    EXPECT_THAT(lines(), HasSubstr("For the horse: "));
    EXPECT_THAT(lines(), HasSubstr("To the rider: "));
    key(Qt::Key_Escape);
    EXPECT_EQ(window->the<ReviewView>().lower().shows(), LowerPanel::Shows::findings);
}

TEST_F(Why, OneClickShowsItToo) {
    choose("tipped_forward");
    QLabel* words = nullptr;
    for (QLabel* l : window->the<ReviewView>().findings().findChildren<QLabel*>()) {
        if (l->text().contains("why?")) words = l;
    }
    ASSERT_TRUE(words);
    emit words->linkActivated("why");
    run_queued();
    EXPECT_EQ(window->the<ReviewView>().lower().shows(), LowerPanel::Shows::why);
    EXPECT_EQ(window->the<ReviewView>().lower().why().fault(), "tipped_forward");
}

TEST_F(Why, TheRuleIsChangedForGoodAndTakenBack) {
    choose("tipped_forward");
    key(Qt::Key_I, Qt::ShiftModifier);
    press("Only by my eye");
    EXPECT_FALSE(said("tipped_forward"));
    EXPECT_THAT(lines(), HasSubstr("changed by you"));
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(said("tipped_forward"));
    press("Not in sitting");
    EXPECT_FALSE(said("tipped_forward"));
    EXPECT_TRUE(yard->knowledge()
                    .faults.find("tipped_forward")
                    ->where.holds(
                        [] {
                            core::Setting s;
                            s.seat = core::Seat::rising;
                            s.gait = core::Gait::trot;
                            return s;
                        }(),
                        core::View::side));
    reopen();  // it was changed for good
    EXPECT_THAT(app::own_fault(*yard, "tipped_forward"), HasSubstr("seats"));
}

TEST_F(Why, ItsBandIsOneStepAwayInASchoolOfOnesOwn) {
    choose("tipped_forward");
    key(Qt::Key_I, Qt::ShiftModifier);
    press("Change its band");
    ASSERT_EQ(window->view(), ViewName::schools);
    const BandPage& page = window->the<SchoolsView>().bands();
    EXPECT_THAT(page.row_words(page.current_row()).toStdString(), HasSubstr("Trunk lean °"));
    window->the<SchoolsView>().copy();
    EXPECT_EQ(bench().review().ride().school, "mine_1") << "the open ride goes by the copy";
    window->the<SchoolsView>().show_measure("trunk_lean");
    BandTable& bands = window->the<SchoolsView>().table();
    ASSERT_TRUE(
        bands.setData(bands.index(bands.row_of("trunk_lean"), BandTable::highest), "60", Qt::EditRole));
    EXPECT_FALSE(said("tipped_forward"));
    EXPECT_EQ(yard->steps().undo(), "Taken back: change a school");
    EXPECT_EQ(yard->steps().undo(), "Taken back: copy a school");
    EXPECT_EQ(bench().review().ride().school, "hunter") << "copy and ride were one step";
}

TEST_F(Why, StirrupsAreNotedByKey) {
    key(Qt::Key_I, Qt::AltModifier);
    QTest::keyClicks(qApp->focusWidget(), "6 7");
    key(Qt::Key_Return);
    bool shown = false;
    for (QLabel* l : window->the<ReviewView>().findings().findChildren<QLabel*>())
        shown |= l->text().contains("left hole 6, right hole 7");
    EXPECT_TRUE(shown);
    EXPECT_TRUE(picture().hasFocus());
}

}  // namespace
}  // namespace aspen::ui
