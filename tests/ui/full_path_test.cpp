// From a clip to the exercise on the rider's card, through a real window with real mouse and key events.

#include <QDropEvent>
#include <QFile>
#include <QMimeData>

#include "app/review/finding_row.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

class FullPath : public Window {
  protected:
    void say_who_rides() {
        name_new("Rider", "Maude Estrell");
        name_new("Horse", "Saffron");
        choose("School", "Hunter");
        choose("Gait", "trot");
        choose("Seat", "rising");
        choose("Direction of travel", "travels to the right");
    }
    void click_the_nine(const std::filesystem::path& clip) {
        const core::Figure truth = test::true_figure(clip, bench().deck().frame());
        for (int i = 0; i < 9; ++i) {
            ASSERT_TRUE(bench().marking().asked());
            click(truth[*bench().marking().asked()].at);
        }
    }
    void judge_two_moments() {
        const auto clip = test::simulated_clip(test::faulty_plan(), "window");
        bring_in(clip);
        say_who_rides();
        for (const int frame : {10, 33}) {
            step_to(frame);
            picture().setFocus();
            click_the_nine(clip);
            choose("Moment in the stride", "top of the rise");
            key(Qt::Key_Escape);
        }
    }
    /// Accepts the first fault, goes to what is prescribed for it and gives that.
    void give_by_keys() {
        picture().setFocus();
        key(Qt::Key_A);
        key(Qt::Key_Return);
        key(Qt::Key_G);
    }
};

TEST_F(FullPath, AClipComesInAndNineClicksMakeAFigure) {
    const auto clip = test::simulated_clip(test::faulty_plan(), "window");
    bring_in(clip);
    EXPECT_EQ(window->view(), ViewName::review);
    EXPECT_EQ(bench().deck().frame(), 0);
    step_to(10);
    EXPECT_EQ(bench().deck().frame(), 10);
    say_who_rides();
    EXPECT_TRUE(bench().review().missing().empty());
    window->the<ReviewView>().picture().setFocus();
    click_the_nine(clip);
    EXPECT_FALSE(bench().marking().asked()) << "nine clicks make the first figure";
}

TEST_F(FullPath, TwoMomentsNameTheFaultAndItIsTakenOrRefusedByKey) {
    judge_two_moments();
    ASSERT_TRUE(bench().findings().focus());
    EXPECT_EQ(window->the<ReviewView>().findings().current(), "lower_leg_back");
    picture().setFocus();
    key(Qt::Key_Escape);
    key(Qt::Key_A);  // accept the current fault; the next one that is open becomes the current
    EXPECT_NE(window->the<ReviewView>().findings().current(), "lower_leg_back");
    key(Qt::Key_Up);
    EXPECT_EQ(window->the<ReviewView>().findings().current(), "lower_leg_back");
    key(Qt::Key_Down);
    key(Qt::Key_R);  // reject the next
    int accepted = 0, rejected = 0;
    for (const app::FindingRow& r : bench().findings().rows()) {
        accepted += r.decision == store::Decision::accepted;
        rejected += r.decision == store::Decision::rejected;
    }
    EXPECT_EQ(accepted, 1);
    EXPECT_EQ(rejected, 1);
}

TEST_F(FullPath, TheExerciseIsGivenByKeys) {
    judge_two_moments();
    give_by_keys();
    EXPECT_EQ(window->view(), ViewName::prescribe);
    const auto corrections = yard->records().work.corrections(bench().review().rider());
    ASSERT_FALSE(corrections.empty());
    EXPECT_TRUE(corrections[0].focus);
    EXPECT_EQ(corrections[0].fault, "lower_leg_back");
    const auto given = yard->records().work.prescriptions(corrections[0].id);
    ASSERT_EQ(given.size(), 1U);
    EXPECT_TRUE(yard->knowledge().exercises.find(given[0].exercise));
}

TEST_F(FullPath, ThePageIsWrittenOnceTheAgeIsKnown) {
    judge_two_moments();
    give_by_keys();
    const QString page = QString::fromStdString((folder / "page.pdf").string());
    EXPECT_TRUE(window->the<PrescribeView>().write_page(page).contains("birth year"));
    EXPECT_FALSE(QFile::exists(page));
    auto card = yard->records().people.riders().at(0);
    card.birth_year = 1998;
    change_rider(*yard, card);
    EXPECT_EQ(window->the<PrescribeView>().write_page(page), QString());
    EXPECT_TRUE(wait_for([&] { return QFile::exists(page); })) << "written beside the window, not in its way";
}

TEST_F(FullPath, WhatWasGivenStandsOnTheCardAndAsALaneAfterStartingAgain) {
    judge_two_moments();
    give_by_keys();
    for (int round = 0; round < 2; ++round) {
        key(Qt::Key_5, Qt::ControlModifier);
        EXPECT_EQ(window->view(), ViewName::progress);
        ASSERT_FALSE(window->the<ProgressView>().lanes().empty());
        EXPECT_EQ(window->the<ProgressView>().lanes()[0].points.size(), 1U);
        key(Qt::Key_1, Qt::ControlModifier);
        settle();
        const QString work = window->the<YardView>()
                                 .riders()
                                 .model()
                                 ->index(0, 0)
                                 .data(app::RidersModel::work_role)
                                 .toString();
        EXPECT_TRUE(work.contains("Lower leg back") && work.contains("until")) << work.toStdString();
        if (round == 0) reopen();
    }
}

TEST_F(FullPath, EverythingIsTakenBackByTheSameKey) {
    const auto clip = test::simulated_clip(test::faulty_plan(), "window");
    bring_in(clip);
    say_who_rides();
    step_to(10);
    click_the_nine(clip);
    ASSERT_EQ(bench().marking().figure().marked(), 9);
    for (int i = 9; i > 0; --i) {
        EXPECT_EQ(bench().marking().figure().marked(), i);
        key(Qt::Key_Z, Qt::ControlModifier);
    }
    EXPECT_TRUE(bench().review().moments().empty());
    for (int i = 0; i < 9; ++i) key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(bench().marking().figure().marked(), 9);
}

/// The words of the ride itself: a mount that is no horse is asked no more, place and saddle are said in one
/// menu.
TEST_F(FullPath, TheMechanicalHorseThePlaceAndTheSaddleAreSaid) {
    bring_in(test::simulated_clip(test::faulty_plan(), "window"));
    say_who_rides();
    const auto ride = [&] { return bench().review().ride(); };
    const store::HorseId saffron = ride().horse;
    choose("Horse", "on the mechanical horse");
    EXPECT_EQ(ride().mount, core::Mount::mechanical);
    EXPECT_FALSE(ride().horse);
    EXPECT_TRUE(bench().review().missing().empty()) << "no horse is asked for";
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(ride().horse, saffron) << "one step back";
    choose("Horse", "on the mechanical horse");
    choose("Horse", "Saffron");
    EXPECT_EQ(ride().mount, core::Mount::horse) << "a horse named is no machine";
    choose("Where, saddle, level that day", "at a show");
    name_new("Where, saddle, level that day", "the old jumping saddle");
    EXPECT_EQ(ride().place, store::Place::show);
    EXPECT_EQ(ride().saddle, "the old jumping saddle");
    QString shown;
    for (const QPushButton* b : window->the<ReviewView>().context().findChildren<QPushButton*>())
        if (b->accessibleName() == "Where, saddle, level that day") shown = b->text();
    EXPECT_TRUE(shown.startsWith("at a show · the old")) << shown.toStdString();
    EXPECT_FALSE(yard->records().search.places("jumping").empty()) << "and is found by it";
}

TEST_F(FullPath, JointsAreDraggedNudgedSkippedAndTakenAway) {
    const auto clip = test::simulated_clip(test::faulty_plan(), "window");
    bring_in(clip);
    step_to(10);
    click_the_nine(clip);
    const auto at = [&](core::Landmark l) { return bench().marking().figure()[l].at; };
    const core::Point knee = at(core::Landmark::knee);
    drag(knee, {knee.x + 30, knee.y});
    EXPECT_NEAR(at(core::Landmark::knee).x, knee.x + 30, 2.5);
    click(at(core::Landmark::ear));
    EXPECT_EQ(bench().marking().selected(), core::Landmark::ear);
    const core::Point ear = at(core::Landmark::ear);
    key(Qt::Key_Left);
    key(Qt::Key_Left);
    key(Qt::Key_Up, Qt::ShiftModifier);
    EXPECT_NEAR(at(core::Landmark::ear).x, ear.x - 2, 1e-6);
    EXPECT_NEAR(at(core::Landmark::ear).y, ear.y - 5, 1e-6);
    EXPECT_EQ(bench().deck().frame(), 10) << "while a joint is held the arrows move it, not the clip";
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_NEAR(at(core::Landmark::ear).x, ear.x, 1e-6) << "a run of nudges is one step";
    click(at(core::Landmark::ear));
    key(Qt::Key_Delete);
    EXPECT_EQ(bench().marking().asked(), core::Landmark::ear);
    key(Qt::Key_X);
    EXPECT_EQ(bench().marking().figure()[core::Landmark::ear].visibility, core::Visibility::hidden);
    key(Qt::Key_Escape);
    key(Qt::Key_Right);
    EXPECT_EQ(bench().deck().frame(), 11) << "and when it is let go, the clip again";
}

TEST_F(FullPath, ZoomedInAClickIsTrustedMore) {
    const auto clip = test::simulated_clip(test::faulty_plan(), "window");
    bring_in(clip);
    const core::Figure truth = test::true_figure(clip, 0);
    click(truth[core::Landmark::ear].at);
    picture().zoom_by(4, picture().to_widget(truth[core::Landmark::shoulder].at));
    click(truth[core::Landmark::shoulder].at);
    const core::Figure f = bench().marking().figure();
    EXPECT_LT(f[core::Landmark::shoulder].sd_px, f[core::Landmark::ear].sd_px / 2);
    EXPECT_NEAR(f[core::Landmark::shoulder].at.x, truth[core::Landmark::shoulder].at.x, 0.5);
    key(Qt::Key_0);
    EXPECT_DOUBLE_EQ(picture().zoom(), 1);
}

TEST_F(FullPath, AnUprightIsDrawnWithOneDrag) {
    bring_in(test::simulated_clip(test::faulty_plan(), "window"));
    key(Qt::Key_U);
    EXPECT_TRUE(picture().drawing_upright());
    drag({400, 600}, {410, 400});
    EXPECT_FALSE(picture().drawing_upright());
    EXPECT_TRUE(bench().review().stretch().camera.roll_marked);
    EXPECT_NEAR(bench().review().stretch().camera.roll_deg, core::degrees(std::atan2(10, 200)), 0.5);
    EXPECT_EQ(bench().marking().figure().marked(), 0) << "no joint was placed by it";
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(bench().review().stretch().camera.roll_marked);
}

TEST_F(FullPath, AClipDroppedOnTheWindowIsOpened) {
    const auto clip = test::simulated_clip(test::faulty_plan(), "window");
    QMimeData mime;
    mime.setUrls({QUrl::fromLocalFile(QString::fromStdString(clip.string()))});
    QDragEnterEvent enter(QPoint(300, 300), Qt::CopyAction, &mime, Qt::LeftButton, {});
    QApplication::sendEvent(window.get(), &enter);
    EXPECT_TRUE(enter.isAccepted());
    QDropEvent drop(QPointF(300, 300), Qt::CopyAction, &mime, Qt::LeftButton, {});
    int opened = 0, states = 0, lists = 0;
    QObject::connect(&bench(), &app::Bench::changed, window.get(),
                     [&](const app::BenchState&, app::BenchParts what) {
                         ++states;
                         opened += what.testFlag(app::BenchPart::clip) ? 1 : 0;
                     });
    QObject::connect(yard.get(), &app::Yard::clips_changed, window.get(), [&] { ++lists; });
    QApplication::sendEvent(window.get(), &drop);
    ASSERT_TRUE(wait_for([&] { return bench().deck().ready(); }));
    run_queued();
    EXPECT_EQ(window->view(), ViewName::review);
    EXPECT_EQ(opened, 1) << "one clip, opened once";
    EXPECT_EQ(states, 2) << "the clip with its ride, its frames when they are counted";
    EXPECT_LE(lists, 3) << "it came in; its ride is begun; how long it is";
}

TEST_F(FullPath, TheYardOpensTheNextClipWithEnterAndTrashesWithUndo) {
    bring_in(test::simulated_clip(test::faulty_plan(), "window"));
    key(Qt::Key_1, Qt::ControlModifier);
    ASSERT_TRUE(window->the<YardView>().next_clip());
    key(Qt::Key_Return);
    EXPECT_EQ(window->view(), ViewName::review);
    key(Qt::Key_1, Qt::ControlModifier);
    settle();
    window->the<YardView>().rides().setFocus();
    key(Qt::Key_Delete);
    EXPECT_TRUE(yard->records().rides.clips().empty());
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(yard->records().rides.clips().size(), 1U);
}

/// Camera-made video of walking people: opened, stepped through exactly, joints placed.
TEST_F(FullPath, CameraMadeVideoTakesJointsToo) {
    const std::filesystem::path people = "/usr/share/doc/opencv-doc/examples/data/vtest.avi";
    ASSERT_TRUE(std::filesystem::exists(people)) << "install opencv-doc";
    bring_in(people);
    EXPECT_EQ(bench().deck().facts().frames, 795);
    EXPECT_EQ(bench().deck().facts().width, 768);
    for (int i = 0; i < 12; ++i) key(Qt::Key_Period);
    for (int i = 0; i < 5; ++i) key(Qt::Key_Comma);
    ASSERT_TRUE(wait_for([&] { return bench().deck().picture_is_full(); }));
    EXPECT_EQ(bench().deck().frame(), 7);
    media::VideoReader reader(people);
    const media::Picture exact = reader.picture(7);
    const QImage shown = bench().deck().picture();
    ASSERT_EQ(shown.width(), exact.width);
    for (const QPoint p : {QPoint(100, 100), QPoint(384, 288), QPoint(700, 500)}) {
        EXPECT_EQ(qRed(shown.pixel(p)), exact.pixel(p.x(), p.y())[2]);
        EXPECT_EQ(qBlue(shown.pixel(p)), exact.pixel(p.x(), p.y())[0]);
    }
    for (int i = 0; i < 9; ++i) click({300.0 + 6 * i, 120.0 + 22 * i});
    EXPECT_EQ(bench().marking().figure().marked(), 9);
    EXPECT_EQ(bench().review().moments().size(), 1U);
    EXPECT_FALSE(bench().marking().judged().empty());
}

TEST_F(FullPath, ControlsHaveNamesAndViewsCanBeReachedByKey) {
    bring_in(test::simulated_clip(test::faulty_plan(), "window"));
    const std::pair<Qt::Key, ViewName> all[] = {
        {Qt::Key_1, ViewName::yard},      {Qt::Key_2, ViewName::review},   {Qt::Key_3, ViewName::compare},
        {Qt::Key_4, ViewName::prescribe}, {Qt::Key_5, ViewName::progress}, {Qt::Key_6, ViewName::hand_over},
        {Qt::Key_7, ViewName::lesson},    {Qt::Key_8, ViewName::arena},    {Qt::Key_9, ViewName::eye},
        {Qt::Key_0, ViewName::schools}};
    for (const auto& [k, view] : all) {
        key(k, Qt::ControlModifier);
        EXPECT_EQ(window->view(), view);
        for (QPushButton* b : window->findChildren<QPushButton*>()) {
            if (b->isVisible()) {
                EXPECT_FALSE((b->accessibleName() + b->text()).trimmed().isEmpty());
            }
        }
    }
    EXPECT_FALSE(picture().accessibleName().isEmpty());
}

}  // namespace
}  // namespace aspen::ui
