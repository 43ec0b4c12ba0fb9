// The ground through the window: the arena clicked into a clip from the gallery, the horse followed by
// itself, a circle held against what was asked; all by keys and clicks as a coach makes them.

#include <gmock/gmock.h>

#include <QLineEdit>

#include "core/arena/arena_frame.hpp"
#include "core/ride/ride.hpp"
#include "exchange/ground_plan.hpp"
#include "simulate/gallery.hpp"
#include "ui/review/column.hpp"
#include "ui/review/ground_column.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

using testing::HasSubstr;

/// One lap of a circle of 15 m that is square by a metre, near the camera and in a small picture, so that it
/// is made and read within seconds.
simulate::GalleryPlan square_plan() {
    simulate::GalleryPlan plan;
    plan.figure.diameter_m = 15;
    plan.figure.square_m = 1;
    plan.figure.speed_mps = 5;
    plan.duration_s = 9.6;
    plan.camera.fps = 8.5;
    plan.camera.width = 960;
    plan.camera.height = 540;
    return plan;
}

class GroundWindow : public Window {
  protected:
    void open_gallery() {
        const std::filesystem::path file = folder / "gallery.mp4";
        ASSERT_TRUE(simulate::make_gallery_clip(plan, file));
        bring_in(file);
        window->findChild<AskPanel*>()->leave();
        key(Qt::Key_D, Qt::ShiftModifier);
        ASSERT_TRUE(ground().is_on());
    }
    GroundColumn& ground() { return window->the<ReviewView>().ground(); }
    void click_place(const char* name) {
        const core::GroundPoint g = core::ArenaFrame(40, 20).at(name);
        const auto at = simulate::GalleryView(plan, 0).see({g.x, g.y, 0});
        ASSERT_TRUE(at);
        click({at->x(), at->y()});
    }
    void lay() {
        key(Qt::Key_E);
        for (const char* name : {"E", "H", "C", "M", "B"}) click_place(name);
    }
    void take_line() {
        auto* edit = qobject_cast<QLineEdit*>(qApp->focusWidget());
        ASSERT_TRUE(edit);
        QTest::keyClick(edit, Qt::Key_Return);
    }
    const app::RiddenGround* here() { return window->the<ReviewView>().way().ground(); }
    simulate::GalleryPlan plan = square_plan();
};

TEST_F(GroundWindow, TheArenaIsLaidWithOneLetterTypedAndTheOthersClicked) {
    open_gallery();
    EXPECT_FALSE(window->the<ReviewView>().column().isVisible()) << "the plan takes its place";
    ASSERT_TRUE(wait_for([&] { return picture().asks().contains("Type the letter"); }));
    key(Qt::Key_E);
    click_place("E");
    EXPECT_EQ(ground().next(), "H") << "the next to the right needs no typing";
    click_place("H");
    ASSERT_TRUE(here());
    EXPECT_TRUE(here()->guessed) << "two marks give a first guess";
    click_place("C");
    click_place("M");
    click_place("B");
    ASSERT_TRUE(here()->laid);
    EXPECT_FALSE(here()->guessed);
    const core::GroundPoint b = here()->arena.at("X");
    const auto truth = simulate::GalleryView(plan, 0).see({b.x, b.y, 0});
    const Eigen::Vector2d seen = here()->laid->picture(b);
    EXPECT_LT(std::hypot(seen.x() - truth->x(), seen.y() - truth->y()), 6) << "a letter nobody clicked";
    key(Qt::Key_Backspace);
    EXPECT_EQ(window->the<ReviewView>().way().marks().marks.size(), 4U);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(window->the<ReviewView>().way().marks().marks.size(), 5U) << "undone like anything";
}

TEST_F(GroundWindow, AClickMayComeBeforeItsLetterAndAWrongLetterIsRefusedInALine) {
    open_gallery();
    click_place("H");
    ASSERT_TRUE(wait_for([&] { return picture().asks().contains("Which letter"); }));
    key(Qt::Key_V);
    EXPECT_EQ(window->the<ReviewView>().way().marks().marks.size(), 0U) << "V is of another arena";
    key(Qt::Key_H);
    EXPECT_EQ(window->the<ReviewView>().way().marks().marks.size(), 1U);
    key(Qt::Key_Z);
    EXPECT_THAT(ground().plan().arena.length_m(), 60);
    key(Qt::Key_Escape);
    EXPECT_FALSE(ground().is_on());
    EXPECT_TRUE(window->the<ReviewView>().column().isVisible());
}

TEST_F(GroundWindow, ASquareCircleIsShownAndItsWorstPlaceIsAPressAway) {
    open_gallery();
    lay();
    key(Qt::Key_Return);
    ASSERT_TRUE(wait_for([&] { return here() && !here()->way.empty(); }, 120'000));
    EXPECT_TRUE(here()->still);
    key(Qt::Key_Return);
    key(Qt::Key_1);
    take_line();
    ASSERT_FALSE(here()->held.empty());
    ASSERT_TRUE(here()->held.front().ridden);
    EXPECT_NEAR(*here()->held.front().ridden->square_m, 1, 0.35);
    EXPECT_NEAR(*here()->held.front().ridden->diameter_m, 15, 0.9);
    EXPECT_THAT(ground().said().join("|").toStdString(), HasSubstr("quare rather than round"));
    // On the plan both ways: a press goes to the frame, a frame moves the horse.
    const core::WayPoint& p = here()->way[here()->way.size() / 2];
    const exchange::GroundMap map(ground().plan().arena, ground().plan_area());
    QTest::mouseClick(&ground(), Qt::LeftButton, {}, map(p.place.at).toPoint());
    EXPECT_NEAR(bench().deck().real_s(bench().deck().frame()), p.time_s, 0.4);
    ASSERT_TRUE(ground().plan().horse);
    EXPECT_LT(core::distance(*ground().plan().horse, p.place.at), 1.5);
    // What is certain is what the eye would have said.
    run_queued();
    const auto answers = app::answers_by_ground(yard->records(), bench().review().clip(), 0);
    EXPECT_TRUE(std::ranges::any_of(answers, [](const store::Answer& a) {
        return a.check == "square_circle" && a.said == core::CheckAnswer::Said::fault;
    }));
    EXPECT_TRUE(std::ranges::any_of(bench().review().gathered({}).checks, [](const core::CheckAnswer& a) {
        return a.id == "square_circle" && a.said == core::CheckAnswer::Said::fault;
    })) << "the open clip is judged by it";
    if (const auto to = qEnvironmentVariable("ASPEN_SHOW_GROUND"); !to.isEmpty()) window->grab().save(to);
}

}  // namespace
}  // namespace aspen::ui
