#include "exchange/report.hpp"

#include <gmock/gmock.h>

#include <QDir>
#include <QFile>
#include <QProcess>

#include "core/core_support.hpp"
#include "core/reading/refused.hpp"
#include "exchange/film_frame.hpp"
#include "exchange/fridge_page.hpp"
#include "exchange/handed_page.hpp"
#include "support/golden.hpp"

namespace aspen::exchange {
namespace {

using testing::HasSubstr;

HandedPage some_page(bool child = false) {
    HandedPage page;
    page.rider = "Joss Penhallow";
    page.horse = "Fig";
    page.date = "23 November 2026";
    page.coach = "Tamsin Quillfeather";
    page.child = child;
    page.good = QStringList{"Ear over shoulder", "Weight down into the heel"};
    page.picture = QImage(1100, 500, QImage::Format_RGB32);
    page.picture.fill(QColor(120, 140, 110));
    page.picture_words = "Joss on Fig, the heel marked";
    page.focus = "Lower leg back";
    page.says = "Your heel lies a hand behind your hip.";
    page.why = "For your horse: the leg cannot give an aid from there.";
    page.cue = "Stand in the sand, not on a swing";
    page.exercise = "Two-point, walk then trot";
    page.purpose = "The foot becomes the base again.";
    page.dose = "10 minutes, 4 times a week, for 2 weeks.";
    page.ladder = QStringList{"walk, one long side", "trot, a full lap", "trot, five minutes"};
    page.rung = 1;
    page.up = "two good rides in a row";
    page.down = "a failed ride";
    page.good_ride = "3 of 4 laps held";
    page.first = QStringList{"may canter"};
    page.people = QStringList{"someone on the ground"};
    page.things = QStringList{"a neck strap"};
    page.stop = "Stop on pain or dizziness.";
    page.caution = "Helmet and riding boots.";
    for (const char* d : {"Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"})
        page.week << HandedPage::Day{d, QString(d) == "Tu" ? "6 min" : ""};
    page.clip_on = "5 December";
    page.shots = QStringList{"Side on, two-point at trot", "Both reins"};
    return page;
}

std::string program(const QString& name, const QStringList& arguments) {
    QProcess p;
    p.start(name, arguments);
    p.waitForFinished();
    return p.readAllStandardOutput().toStdString();
}

constexpr const char* kSaid[] = {"Joss Penhallow",
                                 "What is good",
                                 "Ear over shoulder",
                                 "Lower leg back",
                                 "Your heel lies a hand behind your hip",
                                 "the leg cannot give an aid",
                                 "Two-point, walk then trot",
                                 "10 minutes, 4 times a week",
                                 "walk, one long side",
                                 "trot, a full lap",
                                 "start here",
                                 "3 of 4 laps held",
                                 "may canter",
                                 "someone on the ground",
                                 "a neck strap",
                                 "When to stop",
                                 "Stop on pain",
                                 "Helmet and riding boots",
                                 "6 min",
                                 "5 December",
                                 "Side on, two-point at trot"};

TEST(HandedPage, IsOnePageThatSaysWhatTheRiderNeedsInReadingOrder) {
    const QString file = QDir::tempPath() + "/aspen-page.pdf";
    write_page_pdf(some_page(), file);
    EXPECT_THAT(program("pdfinfo", {file}), HasSubstr("Pages:           1"));
    // In the file's own order, which is what a screen reader follows.
    const std::string text = program("pdftotext", {"-raw", file, "-"});
    for (const char* said : kSaid) EXPECT_THAT(text, HasSubstr(said));
    EXPECT_LT(text.find("What is good"), text.find("Your one thing")) << "what is good comes first";
    EXPECT_LT(text.find("Your one thing"), text.find("Two-point"));
    EXPECT_LT(text.find("When to stop"), text.find("Your next clip"));
    QFile::remove(file);
}

// All that is painted, and all that is written, as it was looked at: for a grown-up and for a child, with a
// then and without one.
TEST(HandedPage, IsPaintedAndWrittenAsKept) {
    for (const bool child : {false, true}) {
        HandedPage page = some_page(child);
        if (!child) {
            page.then = page.picture;
            page.then_day = "2 May";
            page.now_day = "23 November";
            page.change = "Better by half a hand since May.";
        }
        const QString name = child ? "page-child" : "page-grown-up";
        test::expect_kept(name + ".svg", test::as_drawing({794, 1123}, [&](QPaintDevice& to) {
                              QPainter p(&to);
                              paint_page(p, page, 794, 1);
                          }));
        QString html = page_html(page);
        html.replace(QRegularExpression("data:[a-z]+/[a-z+]+;base64,[A-Za-z0-9+/=]*"), "data:…");
        // The styles stand once, in the grown-up's.
        if (child)
            html.replace(
                QRegularExpression("<style>.*</style>", QRegularExpression::DotMatchesEverythingOption),
                "<style/>");
        test::expect_kept(name + ".html", html);
        test::expect_kept(name + ".txt", message_text(page));
    }
}

// Against HTML Tidy of the platform: no error, no warning; and nothing in it points outside.
TEST(HandedPage, TheWebPageIsSoundHtmlWithEverythingInside) {
    for (const bool child : {false, true}) {
        HandedPage page = some_page(child);
        page.rider = "Joss <b>&\"Pen\"";
        const QString file = QDir::tempPath() + "/aspen-page.html";
        write_page_html(page, file);
        QProcess tidy;
        tidy.start("tidy", {"-q", "-e", file});
        tidy.waitForFinished();
        EXPECT_EQ(tidy.exitCode(), 0) << tidy.readAllStandardError().toStdString();
        const std::string html = page_html(page).toStdString();
        EXPECT_THAT(html, HasSubstr("Joss &lt;b&gt;&amp;&quot;Pen&quot;"));
        for (const char* outside :
             {"http:", "https:", "file:", "url(", "@import", "<script", "<link", "srcset"})
            EXPECT_EQ(html.find(outside), std::string::npos) << outside;
        EXPECT_THAT(html, HasSubstr("alt=\"Joss on Fig, the heel marked\""));
        EXPECT_EQ(html.find("3 of 4") != std::string::npos, true);
        EXPECT_EQ(html.find("Down:") == std::string::npos, child) << "a child's page is shorter";
        QFile::remove(file);
    }
}

TEST(HandedPage, AChildReadsAPictureInWordsInsteadOfReasons) {
    const std::string child = page_html(some_page(true)).toStdString();
    EXPECT_THAT(child, HasSubstr("Stand in the sand"));
    EXPECT_EQ(child.find("The foot becomes the base again"), std::string::npos);
    EXPECT_EQ(child.find("a hand behind your hip"), std::string::npos);
}

TEST(HandedPage, ThenAndNowStandBesideEachOther) {
    HandedPage page = some_page();
    page.then = page.picture.copy();
    page.then_day = "3 September 2026";
    page.now_day = "20 November 2026";
    page.change = "Since 3 September: heel half a hand further forward";
    const QString file = QDir::tempPath() + "/aspen-page-two.pdf";
    write_page_pdf(page, file);
    EXPECT_THAT(program("pdfinfo", {file}), HasSubstr("Pages:           1"));
    const std::string text = program("pdftotext", {"-layout", file, "-"});
    for (const char* said : {"3 September 2026", "20 November 2026", "heel half a hand further forward"})
        EXPECT_THAT(text, HasSubstr(said));
    EXPECT_EQ(program("pdfimages", {"-list", file}).find("image") != std::string::npos, true);
    QFile::remove(file);
}

TEST(HandedPage, TheMessageSaysGoodFirstAndLeavesOutNothingThatHoldsBack) {
    for (const bool child : {false, true}) {
        HandedPage page = some_page(child);
        page.change = "Since 3 September: heel half a hand further forward";
        const QString text = message_text(page);
        EXPECT_LE(text.count('\n') + 1, 15);
        for (const QStringList& all : {page.first, page.people, page.things}) {
            for (const QString& one : all) EXPECT_TRUE(text.contains(one)) << one.toStdString();
        }
        EXPECT_TRUE(text.contains(page.caution));
        EXPECT_LT(text.indexOf("Good: Ear over shoulder"), text.indexOf("Your one thing"));
        EXPECT_TRUE(text.startsWith("Hello Joss,"));
        EXPECT_TRUE(text.contains("Stop on pain") && text.contains("trot, a full lap")) << text.toStdString();
        EXPECT_EQ(text.count(".."), 0) << text.toStdString();
    }
}

TEST(FridgePage, SaysWhatToDoHowOftenWhenToStopAndWhenItCounts) {
    core::HomeworkAsk ask{
        {1, 5}, "2026-11-23", test::knowledge().exercises.find("two_point_walk_trot"), 1, 45};
    const core::Homework h = core::homework(ask);
    FridgePage page;
    page.rider = "Joss Penhallow";
    page.horse = "Fig";
    page.coach = "Tamsin Quillfeather";
    page.home = core::going_home(*ask.exercise, 1, test::knowledge().exercises, {"novice", {}}, {});
    page.weeks = h.weeks;
    page.clip_on = "Saturday 2 January";
    for (const std::string& s : h.shots) page.shots << QString::fromStdString(s);
    page.words = QStringList{"Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"};
    const QString file = QDir::tempPath() + "/aspen-fridge.pdf";
    write_fridge_page(page, file);
    EXPECT_THAT(program("pdfinfo", {file}), HasSubstr("Pages:           1"));
    const std::string text = program("pdftotext", {"-layout", file, "-"});
    for (const char* said :
         {"Joss Penhallow", "Two-point, walk then trot", "walk, a full lap", "you are here",
          "trot, five minutes at a stretch", "A good ride: 3 of 4", "Up: two good rides", "Stop on pain",
          "__ of __", "Next clip: Saturday 2 January", "square on"})
        EXPECT_THAT(text, HasSubstr(said));
    QFile::remove(file);
    EXPECT_THROW(write_fridge_page(page, "/nowhere/at/all.pdf"), core::Refused);
}

TEST(HandedPage, LongTextsShrinkInsteadOfSpilling) {
    HandedPage page = some_page();
    for (int i = 0; i < 9; ++i)
        page.ladder << QString(
                           "a rung that goes on for a whole line of the page and then some more, number %1")
                           .arg(i);
    page.says = QString("A sentence that does not come to an end. ").repeated(6);
    const QString file = QDir::tempPath() + "/aspen-page-long.pdf";
    write_page_pdf(page, file);
    EXPECT_THAT(program("pdfinfo", {file}), HasSubstr("Pages:           1"));
    const std::string text = program("pdftotext", {"-layout", file, "-"});
    EXPECT_THAT(text, HasSubstr("number 8"));
    EXPECT_THAT(text, HasSubstr("Both reins")) << "the last line is on the page";
    QFile::remove(file);
}

TEST(HandedPage, RefusesAFolderThatIsNotThere) {
    EXPECT_THROW(write_page_pdf(some_page(), "/no-such-folder/at/all/page.pdf"), core::Refused);
    EXPECT_THROW(write_page_html(some_page(), "/no-such-folder/at/all/page.html"), core::Refused);
}

TEST(PictureWithFigure, CoversTheFaceWhenAsked) {
    QImage white(1280, 720, QImage::Format_RGB32);
    white.fill(Qt::white);
    core::Figure figure;
    figure[core::Landmark::ear] = {{600, 130}, core::Visibility::seen};
    figure[core::Landmark::chin] = {{618, 156}, core::Visibility::seen};
    figure[core::Landmark::shoulder] = {{597, 182}, core::Visibility::seen};
    figure[core::Landmark::hip] = {{595, 292}, core::Visibility::seen};
    const auto covered = picture_with_figure(white, figure, true),
               open = picture_with_figure(white, figure, false);
    int changed = 0;
    for (int y = 120; y < 165; ++y) {
        for (int x = 600; x < 630; ++x) changed += covered.pixel(x, y) != open.pixel(x, y);
    }
    EXPECT_GT(changed, 30 * 45 * 8 / 10);
    EXPECT_EQ(covered.pixel(200, 600), open.pixel(200, 600));
    EXPECT_EQ(open.size(), white.size());
}

TEST(FilmFrame, FacesAreCoveredWhateverIsDrawnAndOnlyWhereTheyAre) {
    FilmScene scene;
    scene.main.picture = QImage(640, 360, QImage::Format_RGB32);
    scene.main.picture.fill(Qt::white);
    scene.main.covers = {{{{200, 100}, 30, 24, 0}},
                         {{{400, 100}, 60, 60, 0}, core::Ellipse{{460, 100}, 60, 60, 0}}};
    scene.main.annotated.drawn = {{Drawn::Kind::arrow, {50, 300}, {120, 320}, {}}};
    const QImage out = compose(scene, {640, 360});
    const auto covered = [&](int x, int y) { return qRed(out.pixel(x, y)) < 160; };
    EXPECT_TRUE(covered(200, 100) && covered(226, 100));
    EXPECT_FALSE(covered(240, 100));
    EXPECT_TRUE(covered(430, 100)) << "where both lie";
    EXPECT_FALSE(covered(360, 100)) << "where only one does";
    EXPECT_TRUE(covered(90, 311)) << "the arrow";
}

TEST(FilmFrame, ComesCloserWithoutGoingPastTheEdge) {
    FilmScene scene;
    scene.main.picture = QImage(640, 360, QImage::Format_RGB32);
    scene.main.picture.fill(Qt::black);
    for (int y = 0; y < 90; ++y) {
        for (int x = 0; x < 160; ++x) scene.main.picture.setPixel(x, y, qRgb(255, 0, 0));
    }
    scene.part = {0, 0, 0.25};
    const QImage out = compose(scene, {640, 360});
    EXPECT_EQ(qRed(out.pixel(5, 5)), 255);
    EXPECT_EQ(qRed(out.pixel(630, 350)), 255) << "a quarter of the picture fills it";
}

TEST(FilmFrame, TwoStandBesideEachOther) {
    FilmScene scene;
    scene.main.picture = QImage(640, 360, QImage::Format_RGB32);
    scene.main.picture.fill(Qt::red);
    scene.beside = FilmPicture{QImage(640, 360, QImage::Format_RGB32), {}, std::nullopt, {}};
    scene.beside->picture.fill(Qt::blue);
    const QImage out = compose(scene, {640, 360});
    EXPECT_EQ(out.pixelColor(160, 180), QColor(Qt::red));
    EXPECT_EQ(out.pixelColor(480, 180), QColor(Qt::blue));
}

}  // namespace
}  // namespace aspen::exchange
