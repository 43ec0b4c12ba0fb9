#include "exchange/report.hpp"

#include <gmock/gmock.h>

#include <QDir>
#include <QFile>
#include <QProcess>

#include "core/core_support.hpp"
#include "core/reading/refused.hpp"
#include "exchange/fridge_page.hpp"

namespace aspen::exchange {
namespace {

using testing::HasSubstr;

RiderPage some_page() {
    RiderPage page;
    page.rider = "Joss Penhallow";
    page.horse = "Fig";
    page.date = "23 Nov";
    page.coach = "Tamsin Quillfeather";
    page.good = QStringList{"Ear over shoulder", "Weight down into the heel"};
    page.picture = QImage(1280, 720, QImage::Format_RGB32);
    page.picture.fill(QColor(120, 140, 110));
    page.figure[core::Landmark::ear] = {{600, 130}, core::Visibility::seen};
    page.figure[core::Landmark::chin] = {{618, 156}, core::Visibility::seen};
    page.figure[core::Landmark::shoulder] = {{597, 182}, core::Visibility::seen};
    page.figure[core::Landmark::hip] = {{595, 292}, core::Visibility::seen};
    page.focus = "Lower leg back";
    page.focus_says = "Heel behind the hip";
    page.why = "Lower leg back first: the base comes before what it carries.";
    page.measured = "Measured: heel from hip −13.4 % ±3.2; the band is −8 to 6 %.";
    page.exercise = "Two-point, walk then trot";
    page.purpose = "The foot becomes the base again.";
    page.dose = "10 minutes, 4 times a week, for 2 weeks.";
    page.step = "walk, one long side at a time";
    page.caution = "Helmet and riding boots.";
    page.next_clip = "Side on, two-point at trot, both reins";
    page.cues = QStringList{"Hips over heels."};
    page.ladder = QStringList{"walk, one long side", "trot, a full lap"};
    page.rules = "Up: two good rides in a row. Down: a failed ride.";
    page.first = "may canter";
    page.needs = "someone on the ground";
    return page;
}

std::string program(const QString& name, const QStringList& arguments) {
    QProcess p;
    p.start(name, arguments);
    p.waitForFinished();
    return p.readAllStandardOutput().toStdString();
}

TEST(RiderPage, IsOnePageThatSaysWhatTheRiderNeeds) {
    const QString file = QDir::tempPath() + "/aspen-page.pdf";
    write_pdf(some_page(), file);
    EXPECT_THAT(program("pdfinfo", {file}), HasSubstr("Pages:           1"));
    const std::string text = program("pdftotext", {"-layout", file, "-"});
    for (const char* said :
         {"Joss Penhallow", "What is good", "Ear over shoulder", "Your one thing: Lower leg back",
          "Two-point, walk then trot", "10 minutes, 4 times a week", "Helmet and riding boots",
          "Stop on pain", "Next clip", "trot, a full lap", "two good rides in a row", "may canter",
          "someone on the ground"}) {
        EXPECT_THAT(text, HasSubstr(said));
    }
    EXPECT_LT(text.find("What is good"), text.find("Your one thing")) << "what is good comes first";
    QFile::remove(file);
}

TEST(FridgePage, SaysWhatToDoHowOftenWhenToStopAndWhenItCounts) {
    core::HomeworkAsk ask{
        {1, 5}, "2026-11-23", test::knowledge().exercises.find("two_point_walk_trot"), 1, 45};
    const core::Homework h = core::homework(ask);
    FridgePage page;
    page.rider = "Joss Penhallow";
    page.horse = "Fig";
    page.coach = "Tamsin Quillfeather";
    page.exercise = ask.exercise;
    page.rung = 1;
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

TEST(RiderPage, LongTextsShrinkInsteadOfSpilling) {
    RiderPage page = some_page();
    for (int i = 0; i < 12; ++i)
        page.cues
            << QString("A long cue that goes on for a whole line of the page and then some more, number %1.")
                   .arg(i);
    const QString file = QDir::tempPath() + "/aspen-page-long.pdf";
    write_pdf(page, file);
    EXPECT_THAT(program("pdfinfo", {file}), HasSubstr("Pages:           1"));
    QFile::remove(file);
}

TEST(RiderPage, RefusesAFolderThatIsNotThere) {
    EXPECT_THROW(write_pdf(some_page(), QDir::tempPath() + "/no-such-folder/at/all/page.pdf"), core::Refused);
}

TEST(PictureWithFigure, CoversTheFaceWhenAsked) {
    RiderPage page = some_page();
    page.picture.fill(Qt::white);
    const auto covered = picture_with_figure(page.picture, page.figure, true),
               open = picture_with_figure(page.picture, page.figure, false);
    int changed = 0;
    for (int y = 120; y < 165; ++y) {
        for (int x = 600; x < 630; ++x) changed += covered.pixel(x, y) != open.pixel(x, y);
    }
    EXPECT_GT(changed, 30 * 45 * 8 / 10);
    EXPECT_EQ(covered.pixel(200, 600), open.pixel(200, 600));
    EXPECT_EQ(open.size(), page.picture.size());
}

}  // namespace
}  // namespace aspen::exchange
