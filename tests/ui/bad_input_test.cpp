// Bad input through the window: one clear line, the program goes on, nothing is lost.

#include <QColor>
#include <QFile>
#include <cmath>
#include <fstream>

#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

class BadInput : public Window {
  protected:
    QString line_after(const std::filesystem::path& file) {
        window->say("");
        window->bring_in({QString::fromStdString(file.string())});
        wait_for([&] { return !window->last_line().isEmpty(); });
        return window->last_line();
    }
};

TEST_F(BadInput, EachSaysWhatWhereAndWhatToDoAndTheBenchGoesOn) {
    const auto clip = test::simulated_clip(test::faulty_plan(), "window-bad");
    bring_in(clip);
    click({600, 130});
    ASSERT_EQ(bench().marking().figure().marked(), 1);
    std::ofstream(folder / "empty.mp4").close();
    std::ofstream(folder / "letter.mp4") << "Dear coach, here is my clip.";
    ASSERT_EQ(test::run("ffmpeg -y -f lavfi -i sine=duration=1 " + (folder / "sound.m4a").string()).code, 0);
    std::filesystem::copy(clip, folder / "cut.mp4");
    std::filesystem::resize_file(folder / "cut.mp4", 4000);
    const std::pair<const char*, const char*> files[] = {{"none.mp4", "no such file"},
                                                         {"empty.mp4", "is empty"},
                                                         {"letter.mp4", "not a video"},
                                                         {"sound.m4a", "no picture"},
                                                         {"cut.mp4", "cut.mp4"}};
    for (const auto& [name, says] : files) {
        const QString line = line_after(folder / name);
        EXPECT_TRUE(line.contains(says)) << name << ": " << line.toStdString();
        EXPECT_EQ(line.count('\n'), 0);
    }
    EXPECT_EQ(yard->records().rides.clips().size(), 1U);
    EXPECT_EQ(bench().marking().figure().marked(), 1);
    click({600, 180});
    EXPECT_EQ(bench().marking().figure().marked(), 2) << "the bench still works";
}

TEST_F(BadInput, AClipThatVanishesWhileOpenSaysSoAndKeepsItsMarks) {
    const auto copy = folder / "here.mp4";
    auto plan = test::faulty_plan();  // a clip of which there is no copy anywhere
    plan.duration_s = 0.5;
    plan.ride.seed = 4711;
    ASSERT_TRUE(simulate::make_clip(plan, copy));
    bring_in(copy);
    click({600, 130});
    const auto id = bench().review().clip().id;
    std::filesystem::remove(copy);
    window->open_clip(id);
    ASSERT_TRUE(wait_for([&] { return window->last_line().contains("has moved"); }));
    EXPECT_EQ(yard->records().reviews.moments(id).size(), 1U);
}

double luminance(const QColor& c) {
    const auto linear = [](double v) {
        return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
    };
    return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
}
double contrast(const QColor& a, const QColor& b) {
    const double x = luminance(a), y = luminance(b);
    return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

// Contrast as in WCAG 2.1, success criterion 1.4.3 (formula of relative luminance from memory): at least 4.5,
// here 4.7.
TEST_F(BadInput, ColoursStandOutFromTheirGroundInBothThemes) {
    for (const ThemeChoice choice : {ThemeChoice::light, ThemeChoice::dark}) {
        apply_theme(*qApp, choice);
        const Theme& t = theme();
        for (const QColor& ground : {t.ground, t.panel}) {
            for (const QColor& c : {t.ink, t.quiet, t.leaf, t.teal, t.clay, t.sky})
                EXPECT_GE(contrast(c, ground), 4.7)
                    << c.name().toStdString() << " on " << ground.name().toStdString();
        }
    }
    apply_theme(*qApp, ThemeChoice::light);
}

TEST_F(BadInput, AnEmptyYardSaysWhatToDo) {
    bool said = false;
    for (QLabel* label : window->the<YardView>().findChildren<QLabel*>())
        said = said || label->text().contains("Drop a rider's clip");
    EXPECT_TRUE(said);
    key(Qt::Key_4, Qt::ControlModifier);
    said = false;
    for (QLabel* label : window->the<PrescribeView>().findChildren<QLabel*>())
        said = said || label->text().contains("Add one in the yard");
    EXPECT_TRUE(said);
}

TEST_F(BadInput, TheSmallestWindowLosesNothing) {
    bring_in(test::simulated_clip(test::faulty_plan(), "window-bad"));
    window->resize(1024, 700);
    EXPECT_TRUE(wait_for([&] { return picture().width() < 800; })) << "laid out anew";
    EXPECT_LE(window->width(), 1024);
    EXPECT_LE(window->height(), 700);
    EXPECT_GE(picture().width(), 600);
    EXPECT_GE(picture().height(), 330);
}

}  // namespace
}  // namespace aspen::ui
