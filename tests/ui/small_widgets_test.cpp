// The small things that many views are made of: what they show, say and do.

#include <QLabel>
#include <QListWidget>
#include <QPainter>
#include <QSignalSpy>

#include "ui/shared/action_line.hpp"
#include "ui/shared/jobs_line.hpp"
#include "ui/shared/picture_stage.hpp"
#include "ui/shared/rider_drawing.hpp"
#include "ui/shared/stepper.hpp"
#include "ui/shared/widgets.hpp"
#include "ui/shared/word_line.hpp"
#include "ui/window_support.hpp"

namespace aspen::ui {
namespace {

// --- where a picture lies

TEST(Stage, AWholePictureIsAsLargeAsItsAreaTakesIt) {
    const QRectF area(10, 20, 640, 480);
    const auto place = PictureStage::fitted({1280, 720}, area);
    EXPECT_DOUBLE_EQ(place.scale(), 0.5);
    EXPECT_EQ(place.map({640, 360}), area.center()) << "in the middle";
    EXPECT_EQ(place.map({0, 0}).x(), 10);
    EXPECT_GT(place.map({0, 0}).y(), 20) << "room above and below";
}

TEST(Stage, DisplayPixelsAndWidgetPixelsAreOneAnothersOpposite) {
    for (const double zoom : {1.0, 2.5}) {
        const auto place = PictureStage::fitted({1280, 720}, {0, 0, 500, 500}, zoom, {30, -12});
        for (const core::Point p : {core::Point{0, 0}, {1280, 720}, {333.25, 612.5}}) {
            const core::Point back = place.unmap(place.map(p));
            EXPECT_NEAR(back.x, p.x, 1e-9);
            EXPECT_NEAR(back.y, p.y, 1e-9);
        }
    }
}

TEST(Stage, ComesCloserAndIsMoved) {
    const auto far = PictureStage::fitted({1280, 720}, {0, 0, 640, 360});
    const auto near = PictureStage::fitted({1280, 720}, {0, 0, 640, 360}, 2, {50, 0});
    EXPECT_DOUBLE_EQ(near.scale(), 2 * far.scale());
    EXPECT_EQ(near.map({640, 360}), QPointF(370, 180));
}

TEST(Stage, APartFillsTheArea) {
    const QRectF part(400, 200, 320, 180), area(0, 0, 640, 360);
    const auto place = PictureStage::framed(part, area);
    EXPECT_DOUBLE_EQ(place.scale(), 2);
    EXPECT_EQ(place.map({part.center().x(), part.center().y()}), area.center());
}

/// A white picture, half the display's size, with one layer that paints a dot.
QImage staged(PictureStage& stage, const PictureStage::Place& place) {
    QImage out(640, 360, QImage::Format_RGB32);
    out.fill(Qt::black);
    QPainter p(&out);
    stage.paint(p, place);
    return out;
}

TEST(Stage, LayersSpeakInDisplayPixelsWhateverThePicturesSize) {
    QImage small(64, 36, QImage::Format_RGB32);
    small.fill(Qt::white);
    PictureStage stage;
    stage.set_picture(small, {1280, 720});
    stage.add_layer([](QPainter& p, const PictureStage::Place& place) {
        p.fillRect(QRectF(place.map({640, 360}) - QPointF(2, 2), QSizeF(4, 4)), Qt::red);
    });
    const QImage out = staged(stage, PictureStage::fitted({1280, 720}, {0, 0, 640, 360}));
    EXPECT_EQ(out.pixelColor(320, 180), QColor(Qt::red));
    EXPECT_EQ(out.pixelColor(100, 100), QColor(Qt::white));
}

TEST(Stage, DarkClipsAreLiftedForLookingOnly) {
    QImage dark(64, 36, QImage::Format_RGB32);
    dark.fill(QColor(40, 40, 40));
    PictureStage stage;
    stage.set_picture(dark, {64, 36});
    int before = 40;
    for (const int level : {1, 2}) {
        stage.set_lift(level);
        const int now = stage.lifted(dark).pixelColor(5, 5).red();
        EXPECT_GT(now, before) << level;
        before = now;
    }
    EXPECT_EQ(stage.picture().pixelColor(5, 5), QColor(40, 40, 40));
    stage.set_lift(0);
    EXPECT_EQ(stage.lifted(dark).pixelColor(5, 5), QColor(40, 40, 40));
}

// --- a count with less and more

class AStepper : public Window {
  protected:
    AStepper() : stepper("Riders", 0, 4, nullptr, "nobody"), told(&stepper, &Stepper::changed) {}
    QString shown() { return stepper.findChild<QLabel*>() ? words().join(" ") : QString(); }
    QStringList words() {
        QStringList out;
        for (const QLabel* l : stepper.findChildren<QLabel*>()) out << l->text();
        return out;
    }
    Stepper stepper;
    QSignalSpy told;
};

TEST_F(AStepper, GoesUpAndDownByKeysAndStaysWithinItsEnds) {
    for (int i = 0; i < 6; ++i) QTest::keyClick(&stepper, Qt::Key_Up);
    EXPECT_EQ(stepper.value(), 4);
    EXPECT_GE(told.count(), 4);
    for (int i = 0; i < 6; ++i) QTest::keyClick(&stepper, Qt::Key_Down);
    EXPECT_EQ(stepper.value(), 0);
}

TEST_F(AStepper, SaysNotSaidInWords) {
    EXPECT_TRUE(words().join(" ").contains("nobody")) << words().join(" ").toStdString();
    stepper.set_value(3);
    EXPECT_TRUE(words().join(" ").contains("3"));
    EXPECT_FALSE(words().join(" ").contains("nobody"));
}

TEST_F(AStepper, NeverShowsMoreThanThereIs) {
    stepper.set_value(4);
    stepper.set_most(2);
    EXPECT_LE(stepper.value(), 2);
    stepper.set_value(99);
    EXPECT_EQ(stepper.value(), 2);
}

// --- anything by part of its name

class AnActionLine : public Window {
  protected:
    AnActionLine() : line([this] { return QList<QAction*>{&carry, &cover, &gone}; }, window.get()) {
        gone.setEnabled(false);
        line.resize(500, 300);
        QObject::connect(&carry, &QAction::triggered, [this] { done = "carry"; });
        QObject::connect(&cover, &QAction::triggered, [this] { done = "cover"; });
    }
    QStringList found() {
        QStringList out;
        for (int i = 0; i < line.found().count(); ++i) out << line.found().item(i)->text();
        return out;
    }
    QAction carry{"Carry joints to the next moment"}, cover{"Cover the face"}, gone{"Carry on"};
    ActionLine line;
    QString done;
};

TEST_F(AnActionLine, FindsWhatCanBeDoneNow) {
    line.open();
    QTest::keyClicks(&line.words(), "carr");
    ASSERT_GE(found().size(), 1) << found().join("; ").toStdString();
    EXPECT_TRUE(found().at(0).contains("Carry joints"));
    EXPECT_FALSE(found().join(";").contains("Carry on")) << "what cannot be done does not stand there";
}

TEST_F(AnActionLine, FindsAPartInTheMiddleOfAName) {
    line.open();
    QTest::keyClicks(&line.words(), "face");
    ASSERT_EQ(found().size(), 1);
    QTest::keyClick(&line.words(), Qt::Key_Return);
    run_queued();
    EXPECT_EQ(done, "cover");
    EXPECT_FALSE(line.isVisible());
}

TEST_F(AnActionLine, NothingIsDoneWhenItIsLeft) {
    line.open();
    QSignalSpy closed(&line, &ActionLine::closed);
    QTest::keyClicks(&line.words(), "cover");
    QTest::keyClick(&line.words(), Qt::Key_Escape);
    run_queued();
    EXPECT_EQ(closed.count(), 1);
    EXPECT_TRUE(done.isEmpty());
}

TEST_F(AnActionLine, ForgetsWhatWasLookedForLast) {
    line.open();
    QTest::keyClicks(&line.words(), "face");
    QTest::keyClick(&line.words(), Qt::Key_Escape);
    line.open();
    EXPECT_TRUE(line.words().text().isEmpty());
    EXPECT_GE(found().size(), 2);
}

// --- one line to write in

class AWordLine : public Window {
  protected:
    AWordLine() : line(window.get()) {
        line.ask("A word", {"leg slid back again", "eyes up"}, [this](const QString& w) { words << w; });
        edit = line.findChild<QLineEdit*>();
    }
    WordLine line;
    QLineEdit* edit = nullptr;
    QStringList words;
};

TEST_F(AWordLine, EnterTakesWhatIsWritten) {
    QTest::keyClicks(edit, "heel");
    QTest::keyClick(edit, Qt::Key_Return);
    EXPECT_EQ(words, QStringList{"heel"});
    EXPECT_FALSE(line.isVisible());
}

TEST_F(AWordLine, NothingIsNoWord) {
    QTest::keyClicks(edit, "   ");
    QTest::keyClick(edit, Qt::Key_Return);
    EXPECT_TRUE(words.isEmpty());
}

TEST_F(AWordLine, EscLeavesIt) {
    QSignalSpy closed(&line, &WordLine::closed);
    QTest::keyClicks(edit, "heel");
    QTest::keyClick(edit, Qt::Key_Escape);
    EXPECT_TRUE(words.isEmpty());
    EXPECT_EQ(closed.count(), 1);
}

TEST_F(AWordLine, SaysWhatIsAskedFor) {
    QStringList shown;
    for (const QLabel* l : line.findChildren<QLabel*>()) shown << l->text();
    EXPECT_TRUE(shown.join(" ").contains("A word") || edit->placeholderText().contains("A word") ||
                edit->accessibleName().contains("A word"))
        << shown.join(" ").toStdString();
}

// --- a rider drawn

class ADrawing : public Window {
  protected:
    ADrawing() {
        bring_in_ridden();
        mark_from_truth(10);
        figure = bench().marking().figure();
        judged = bench().marking().judged();
    }
    core::Figure figure;
    std::vector<core::Judged> judged;
    const QRectF area{20, 30, 200, 300};
};

TEST_F(ADrawing, LiesWithinItsAreaHeadUpAndFacesAsItRides) {
    const RiderDrawing drawing(figure, judged, area);
    using L = core::Landmark;
    for (const L l : {L::ear, L::shoulder, L::hip, L::knee, L::heel}) {
        EXPECT_TRUE(area.adjusted(-1, -1, 1, 1).contains(drawing.at(l))) << core::spoken(l);
    }
    EXPECT_LT(drawing.at(L::ear).y(), drawing.at(L::hip).y());
    EXPECT_LT(drawing.at(L::hip).y(), drawing.at(L::heel).y());
    EXPECT_TRUE(drawing.faces_right());
    EXPECT_GT(drawing.at(L::toe).x(), drawing.at(L::heel).x());
}

TEST_F(ADrawing, KeepsTheProportionsThatWereMarked) {
    const RiderDrawing drawing(figure, judged, area);
    using L = core::Landmark;
    const auto drawn = [&](L a, L b) { return QLineF(drawing.at(a), drawing.at(b)).length(); };
    const auto marked = [&](L a, L b) { return core::distance(figure[a].at, figure[b].at); };
    EXPECT_NEAR(drawn(L::hip, L::knee) / drawn(L::shoulder, L::hip),
                marked(L::hip, L::knee) / marked(L::shoulder, L::hip), 0.12);
}

TEST_F(ADrawing, AHairLineEndsOnTheLimbItIsOf) {
    const RiderDrawing drawing(figure, judged, area);
    using L = core::Landmark;
    const QPointF heel = drawing.anchor(*core::find_measure("heel_drop")),
                  trunk = drawing.anchor(*core::find_measure("trunk_lean"));
    EXPECT_GT(heel.y(), trunk.y());
    EXPECT_LT(QLineF(heel, drawing.at(L::heel)).length(), 60);
}

TEST_F(ADrawing, PaintsMoreWhereMoreIsMarked) {
    const auto ink = [&](const core::Figure& f) {
        QImage picture(240, 360, QImage::Format_RGB32);
        picture.fill(Qt::white);
        QPainter p(&picture);
        RiderDrawing(f, judged, area).paint(p);
        p.end();
        int out = 0;
        for (int y = 0; y < picture.height(); ++y)
            for (int x = 0; x < picture.width(); ++x) out += picture.pixelColor(x, y) != QColor(Qt::white);
        return out;
    };
    EXPECT_GT(ink(figure), 1000);
    EXPECT_GT(ink(core::Figure{}), 200) << "what is not marked stands quiet where a rider usually has it";
}

}  // namespace
}  // namespace aspen::ui
