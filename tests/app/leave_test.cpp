// Every way out, and what may happen between asking and writing: nothing leaves, and one line says why.

#include <QDirIterator>
#include <QFile>

#include "app/bench_fixture.hpp"
#include "app/files/cache_folder.hpp"
#include "app/files/whole_file.hpp"
#include "app/leaving/bundle_out.hpp"
#include "app/leaving/consents.hpp"
#include "app/leaving/film_plan.hpp"
#include "app/leaving/frames_out.hpp"
#include "app/leaving/marks_exchange.hpp"
#include "app/leaving/page_content.hpp"
#include "app/leaving/phase_strip.hpp"
#include "app/leaving/tables.hpp"
#include "app/review/pictures.hpp"
#include "app/review/review_changes.hpp"
#include "app/yard/restoring.hpp"
#include "core/body/face.hpp"

namespace aspen::app {
namespace {

using testing::ContainsRegex, testing::HasSubstr;

/// A child whose guardian agreed, with a marked moment.
class AWayOut : public BenchTest {
  protected:
    AWayOut() : BenchTest(0.6) {}  // films of it are written by the dozen
    void SetUp() override {
        open();
        say_everything();
        rider = bench.review().rider();
        for (const char* use : {"page", "clip"}) give_consent(yard, agreed(use));
        go_to(10);
        mark_all_asked();
        ASSERT_TRUE(wait_for([&] { return bench.deck().picture_is_full(); }));
    }
    store::Consent agreed(const char* use) const {
        return {{}, rider, use, "Ada Marrable", "2026-01-01", "2026-12-31"};
    }
    QString path(const char* name) const { return QString::fromStdString((folder / name).string()); }
    void withdraw() {
        for (const store::Consent& c : yard.records().leaving.consents_of(rider)) withdraw_consent(yard, c);
    }
    void ring_another() { set_face(yard, clip, -1, 10, {{200, 200}, 20, 20, 0}); }

    struct Event {
        const char* name;
        std::function<void()> happens;
        const char* said;
    };
    /// What happens to the records of a rider between asking and writing.
    std::vector<Event> events() {
        const char* changed = "has changed since it was made";
        return {
            {"withdrawn", [this] { withdraw(); }, "withdrawn"},
            {"withdrawn and undone",
             [this] {
                 withdraw();
                 yard.steps().undo();
             },
             "withdrawn"},
            {"run out", [this] { yard.set_clock(test::noon_of(QDate(2027, 1, 1))); }, "ran out"},
            {"merged",
             [this] { merge_riders(yard, rider, add_rider(yard, test::rider("Joss P.", 2012, "hunter"))); },
             "not named|has changed"},
            {"deleted for good", [this] { delete_for_good(yard, rider); }, "not named|Nobody is named"},
            {"a companion",
             [this] {
                 const auto other = add_rider(yard, test::rider("Bram Oddleif", 2014, "hunter"));
                 store::Ride r = bench.review().ride();
                 r.id = {};
                 r.rider = other;
                 yard.quietly([&] {
                     test::to_write(yard).put(store::Slot{clip, 1, test::to_write(yard).add(r)});
                 });
             },
             "without a recorded consent"},
            {"a second face ringed", [this] { ring_another(); }, changed},
            {"a face unmarked", [this] { remove_moment(bench.review()); }, changed},
        };
    }
    void nothing_left(const QString& file) {
        EXPECT_FALSE(QFile::exists(file));
        EXPECT_TRUE(yard.records().leaving.departures({}).empty());
        // What was made beside goes with the job that made it.
        EXPECT_TRUE(test::wait_for([&] {
            return QDir(QFileInfo(file).path()).entryList({".leaving*"}, QDir::Dirs | QDir::Hidden).isEmpty();
        })) << "nor is anything half there";
    }
    store::RiderId rider;
};

/// One case for every event: GoogleTest makes the yard anew for each.
class BetweenAskingAndWriting : public AWayOut, public testing::WithParamInterface<int> {
  protected:
    Event event() { return events().at(static_cast<std::size_t>(GetParam())); }
};

TEST_P(BetweenAskingAndWriting, NoPictureLeaves) {
    const FrameOut out = frame_out(bench, false);
    ASSERT_TRUE(out.permit) << out.trouble.toStdString();
    event().happens();
    const QString line = leave(yard, *out.permit, {"picture", "frame 10", path("frame.png")},
                               [&](const QString& to) { return write_picture(out.picture, to); });
    EXPECT_THAT(line.toStdString(), ContainsRegex(event().said)) << event().name;
    nothing_left(path("frame.png"));
    bool given = false;
    EXPECT_NE(hand_over(yard, *out.permit, {"picture", "frame 10", "clipboard"}, [&] { given = true; }), "");
    EXPECT_FALSE(given) << "nor by the clipboard";
}

TEST_P(BetweenAskingAndWriting, NoFilmLeaves) {
    StretchWriter writer(bench);
    QString said;
    QObject::connect(&writer, &StretchWriter::finished, [&](const QString& line) { said = line; });
    ASSERT_EQ(writer.start(8, 13, path("part.mp4")), "");
    event().happens();
    ASSERT_TRUE(wait_for([&] { return !said.isEmpty(); }));
    EXPECT_THAT(said.toStdString(), ContainsRegex(event().said)) << event().name;
    nothing_left(path("part.mp4"));
}

TEST_P(BetweenAskingAndWriting, NoBundleLeaves) {
    Bundles bundles(yard);
    QString said;
    QObject::connect(&bundles, &Bundles::finished, [&](const QString& line, bool) { said = line; });
    ASSERT_EQ(bundles.write(rides_with_clips(yard, rider), path("rides.zip")), "");
    event().happens();
    ASSERT_TRUE(wait_for([&] { return !said.isEmpty(); }));
    EXPECT_THAT(said.toStdString(), ContainsRegex(event().said)) << event().name;
    nothing_left(path("rides.zip"));
}

TEST_P(BetweenAskingAndWriting, NoPhasesLeave) {
    QString said;
    ASSERT_EQ(write_phases(bench, path("phases.png"), [&](const QString& line) { said = line; }), "");
    event().happens();
    ASSERT_TRUE(wait_for([&] { return !said.isEmpty(); }));
    EXPECT_THAT(said.toStdString(), ContainsRegex(event().said)) << event().name;
    nothing_left(path("phases.png"));
}

TEST_P(BetweenAskingAndWriting, NoPageLeaves) {
    PageDraft draft;
    draft.now = FocusFrame{};
    draft.now->clip = bench.review().clip();
    const MadePage made{rider, {}, ask_for_page(yard, rider, draft).value()};
    event().happens();
    EXPECT_THAT(write_page(yard, made, path("page.pdf")).toStdString(), ContainsRegex(event().said))
        << event().name;
    nothing_left(path("page.pdf"));
}

INSTANTIATE_TEST_SUITE_P(Every, BetweenAskingAndWriting, testing::Range(0, 8));

TEST_F(AWayOut, IsOpenWhileNothingChanges) {
    const auto permit = ask_for_rider(yard, rider, Use::page).value();
    EXPECT_EQ(write_table(yard, permit, Table::rides, path("rides.csv")), "");
    EXPECT_TRUE(QFile::exists(path("rides.csv")));
    ASSERT_EQ(yard.records().leaving.departures(rider).size(), 1U);
    EXPECT_EQ(yard.records().leaving.departures(rider)[0].sha256, sum_of(path("rides.csv")));
}

TEST_F(AWayOut, GoesIntoADeviceAndLeavesItOne) {
    const auto permit = ask_for_rider(yard, rider, Use::page).value();
    EXPECT_EQ(write_table(yard, permit, Table::rides, "/dev/null"), "");
    EXPECT_TRUE(std::filesystem::is_character_file("/dev/null"));
    EXPECT_EQ(yard.records().leaving.departures(rider).size(), 1U) << "it is logged like any other";
    EXPECT_NE(write_table(yard, permit, Table::rides, "/dev/full"), "");
}

TEST_F(AWayOut, WhatAKilledProgramWasAboutToLetOutGoesAway) {
    const auto permit = ask_for_rider(yard, rider, Use::page).value();
    const QString dead = path(".leaving-2147483646-abcdef"), own = path(".leaving-%1-abcdef").arg(getpid());
    for (const QString& room : {dead, own}) QDir().mkpath(room);
    ASSERT_EQ(write_table(yard, permit, Table::rides, path("rides.csv")), "");
    EXPECT_FALSE(QFile::exists(dead));
    EXPECT_TRUE(QFile::exists(own)) << "of a program that still runs";
}

// A film has its captions beside it: all of them come, or none, and what was there stays.
TEST_F(AWayOut, SeveralFilesLeaveTogetherOrNotAtAll) {
    const auto permit = ask_for_rider(yard, rider, Use::clip).value();
    ASSERT_EQ(write_whole(path("a.vtt"), "earlier captions"), "");
    ASSERT_EQ(write_whole(path("b.mp4"), "an earlier film"), "");
    QDir(path("")).mkpath("c.vtt/in-the-way");
    const QString line =
        leave(yard, permit, {"review", "a film", path("b.mp4"), true}, [&](const QString& to) {
            const QString room = QFileInfo(to).path();
            for (const char* name : {"/a.vtt", "/b.mp4", "/c.vtt"}) write_whole(room + name, "new");
            return QString();
        });
    EXPECT_THAT(line.toStdString(), HasSubstr("cannot be written"));
    for (const auto& [name, words] : {std::pair{"a.vtt", "earlier captions"}, {"b.mp4", "an earlier film"}}) {
        QFile file(path(name));
        ASSERT_TRUE(file.open(QIODevice::ReadOnly));
        EXPECT_EQ(file.readAll().toStdString(), words);
    }
}

TEST_F(AWayOut, DoesNotGoOverAFolder) {
    const auto permit = ask_for_rider(yard, rider, Use::page).value();
    QDir(path("")).mkpath("folder.csv");
    for (const QString& file : {path("folder.csv"), QString("/nowhere/rides.csv")})
        EXPECT_THAT(write_table(yard, permit, Table::rides, file).toStdString(),
                    HasSubstr("cannot be written"));
    EXPECT_TRUE(yard.records().leaving.departures({}).empty());
}

// A face stays covered when whose it is goes out of the records.
TEST_F(AWayOut, AFaceStaysCoveredWhenItsRiderIsDeleted) {
    const auto other = add_rider(yard, test::rider("Bram Oddleif", 1990, "hunter"));
    store::Ride r = bench.review().ride();
    r.id = {};
    r.rider = other;
    yard.quietly([&] { test::to_write(yard).put(store::Slot{clip, 1, test::to_write(yard).add(r)}); });
    give_consent(yard, {{}, other, "clip", "Bram Oddleif", "2026-01-01", "", true});
    const core::Ellipse face = *core::face_ellipse(test::true_figure(source, 10));
    delete_for_good(yard, rider);
    const auto permit = ask_to_leave(yard, *yard.records().rides.clip(clip), Use::clip).value();
    EXPECT_FALSE(permit.covers_faces()) << "who is left may be seen";
    const FaceCovers covers =
        faces_known_at(faces_to_cover(yard, *yard.records().rides.clip(clip), permit), 10);
    ASSERT_EQ(covers.trouble, "");
    ASSERT_EQ(covers.at(10).size(), 1U);
    EXPECT_TRUE(covers.at(10)[0].contains(face.centre));
    EXPECT_NE(faces_known_at(faces_to_cover(yard, *yard.records().rides.clip(clip), permit), 14).trouble, "")
        << "and is asked for where nothing marks it";
}

TEST_F(AWayOut, SomebodyDeletedWhoseFaceNothingMarksIsStillAskedFor) {
    remove_moment(bench.review());
    yard.steps().stack().clear();
    const auto other = add_rider(yard, test::rider("Bram Oddleif", 1990, "hunter"));
    store::Ride r = bench.review().ride();
    r.id = {};
    r.rider = other;
    yard.quietly([&] { test::to_write(yard).put(store::Slot{clip, 1, test::to_write(yard).add(r)}); });
    give_consent(yard, {{}, other, "clip", "Bram Oddleif", "2026-01-01", "", true});
    delete_for_good(yard, rider);
    const store::Clip kept = *yard.records().rides.clip(clip);
    const auto permit = ask_to_leave(yard, kept, Use::clip).value();
    EXPECT_THAT(faces_known_at(faces_to_cover(yard, kept, permit), 10).trouble.toStdString(),
                HasSubstr("is not marked"));
    set_face(yard, clip, -1, 10, {{600, 130}, 40, 40, 0});
    EXPECT_EQ(faces_known_at(faces_to_cover(yard, kept, permit), 10).trouble, "") << "once it is ringed";
}

// A guess of the program that nobody looked at covers nothing: it is asked for.
TEST_F(AWayOut, ALaidFaceThatNobodyLookedAtIsAskedFor) {
    store::Moment m = *bench.review().moment();
    for (const core::Landmark l : {core::Landmark::ear, core::Landmark::eye, core::Landmark::chin})
        m.figure[l].confirmed = false;
    yard.quietly([&] {
        for (const core::Landmark l : {core::Landmark::ear, core::Landmark::eye, core::Landmark::chin})
            test::to_write(yard).put(m.id, l, m.figure[l]);
    });
    const store::Clip here = *yard.records().rides.clip(clip);
    const auto permit = ask_to_leave(yard, here, Use::clip).value();
    EXPECT_THAT(faces_known_at(faces_to_cover(yard, here, permit), 10).trouble.toStdString(),
                HasSubstr("is not marked"));
}

// Two riders side by side ask the same of a film as of a picture.
TEST_F(AWayOut, TwoRidersLaidTogetherHaveToAgreeToBeShownToOthers) {
    const store::ClipId other = take_in_clip(yard, [] {
        store::Clip c;
        c.path = "b.mp4";
        c.hash = "b";
        c.recorded_at = "2026-11-20T10:00:00";
        return c;
    }());
    test::Said said;
    said.rider = add_rider(yard, test::rider("Bram Oddleif", 1990, "hunter"));
    test::say(yard, other, said);
    core::Telling t;
    core::Deed d;
    d.shown = {clip.value, 20};
    t.add(d);
    EXPECT_TRUE(ask_to_leave(yard, t).has_value());
    d.shown = {other.value, 3};
    t.add(d);
    const auto asked = ask_to_leave(yard, t);
    ASSERT_TRUE(!asked.has_value());
    EXPECT_TRUE(asked.error().contains("shown to others")) << asked.error().toStdString();
}

// A backup from before: what was withdrawn since stays withdrawn, and what left stays in the log.
TEST_F(AWayOut, ARestoredBackupReopensNothing) {
    const QString copy = path("copy.aspen-yard"), at = path("restored");
    back_up(yard, copy);
    withdraw();
    give_consent(yard, {{}, rider, "teaching", "Ada Marrable", "2026-11-24"});
    const auto permit = ask_for_rider(yard, rider, Use::teaching).value();
    hand_over(yard, permit, {"message", "the message", "clipboard", false}, [] {});
    const QString now = path("now.aspen-yard");
    back_up(yard, now);
    QDir().mkpath(at);
    QFile::copy(now, at + "/yard.db");
    for (int round = 0; round < 2; ++round) {
        ASSERT_EQ(restore_at_start(at, copy), "");
        Yard again(at, shipped_knowledge());
        EXPECT_THAT(again.said_at_start().toStdString(), HasSubstr("was restored"));
        again.set_clock(test::noon_of(QDate(2026, 11, 25)));
        for (const Use use : {Use::page, Use::clip})
            EXPECT_TRUE(!ask_for_rider(again, rider, use).has_value()) << word(use);
        EXPECT_TRUE(ask_for_rider(again, rider, Use::teaching).has_value())
            << "what was agreed to since holds";
        EXPECT_EQ(again.records().leaving.departures(rider).size(), 1U)
            << "once, however often it is restored";
        EXPECT_TRUE(QDir(at).entryList({"yard.db.to-restore*"}).isEmpty());
    }
}

TEST_F(AWayOut, ARestoredBackupReopensNothingOfWhoWasDeleted) {
    const QString copy = path("copy.aspen-yard"), now = path("now.aspen-yard"), at = path("restored");
    back_up(yard, copy);
    bench.open({});
    delete_for_good(yard, rider);
    back_up(yard, now);
    QDir().mkpath(at);
    QFile::copy(now, at + "/yard.db");
    ASSERT_EQ(restore_at_start(at, copy), "");
    Yard again(at, shipped_knowledge());
    again.set_clock(test::noon_of(QDate(2026, 11, 25)));
    ASSERT_TRUE(again.records().people.rider(rider)) << "the backup knows the rider";
    for (const Use use : {Use::page, Use::clip})
        EXPECT_TRUE(!ask_for_rider(again, rider, use).has_value()) << word(use);
}

// Nothing in the yard's folder tells of who is deleted for good.
TEST_F(AWayOut, WhoIsDeletedForGoodIsNowhereInTheYard) {
    const std::string hash = yard.records().rides.clip(clip)->hash;
    store::Rider card = *yard.records().people.rider(rider);
    card.name = "Quillfeather Ashgrove";
    change_rider(yard, card);
    const auto permit = ask_for_rider(yard, rider, Use::page).value();
    ASSERT_EQ(leave(yard, permit, {"page", "for Quillfeather", path("Quillfeather.pdf"), false},
                    [](const QString& to) { return write_whole(to, "a page"); }),
              "");
    QFile::copy(yard.folder().filePath("yard.db"), yard.folder().filePath("yard.db.before-12"));
    bench.open({});
    delete_for_good(yard, rider);
    ASSERT_EQ(yard.records().leaving.departures({}).size(), 1U) << "that something left stays";
    EXPECT_EQ(yard.records().leaving.departures({})[0].what, "page");
    int read = 0;
    for (QDirIterator it(yard.folder().path(), QDir::Files | QDir::Hidden, QDirIterator::Subdirectories);
         it.hasNext();) {
        QFile file(it.next());
        ASSERT_TRUE(file.open(QIODevice::ReadOnly));
        const QByteArray bytes = file.readAll();
        for (const char* word : {"Quillfeather", "quillfeather", "Ashgrove", "Ada Marrable"})
            EXPECT_FALSE(bytes.contains(word)) << word << " in " << file.fileName().toStdString();
        EXPECT_FALSE(bytes.contains(hash.c_str())) << "the clip's sum in " << file.fileName().toStdString();
        ++read;
    }
    EXPECT_GT(read, 0);
}

}  // namespace
}  // namespace aspen::app
