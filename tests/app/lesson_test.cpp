// A lesson: who rides whom, its clock, what is said, and where it falls afterwards.

#include <gmock/gmock.h>
#include <sys/wait.h>
#include <unistd.h>

#include <csignal>
#include <random>

#include "app/bench_fixture.hpp"
#include "app/lesson/lesson_desk.hpp"
#include "app/lesson/replay.hpp"
#include "app/yard/changes.hpp"
#include "core/training/session_json.hpp"

namespace aspen::app {
namespace {

using testing::HasSubstr;

class ALesson : public testing::Test {
  protected:
    /// With everything before mounting answered for.
    void start() {
        desk.give_word();
        EXPECT_EQ(desk.start(), "");
    }
    ALesson() : yard(QString::fromStdString((folder / "yard").string()), shipped_knowledge()), desk(yard) {
        yard.set_clock(test::noon_of(QDate(2026, 11, 26)));
        at = QDateTime(QDate(2026, 11, 26), QTime(17, 0));
        desk.set_clock([this] { return at; });
        for (const char* name : {"Bram Oddleif", "Ines Varga-Holt", "Joss Penhallow", "Maude Estrell"})
            riders.push_back(add_rider(yard, test::rider(name, 1990, "classical", "novice")));
        fig = add_horse(yard, {{}, "Fig", 157, ""});
        cobalt = add_horse(yard, {{}, "Cobalt", 168, ""});
    }
    void pass(int seconds) { at = at.addSecs(seconds); }
    test::TempFolder folder;
    Yard yard;
    LessonDesk desk;
    QDateTime at;
    std::vector<store::RiderId> riders;
    store::HorseId fig, cobalt;
};

TEST_F(ALesson, TheClockWaitsForWhatIsLookedAtBeforeMounting) {
    ASSERT_EQ(desk.begin({riders[0], riders[1]}, 45), QString());
    for (const auto& [item, words] : before_mounting()) desk.toggle_looked(0, item);
    EXPECT_EQ(desk.open_before_mounting(0), "");
    const std::string line = desk.start().toStdString();
    EXPECT_THAT(line, testing::AllOf(HasSubstr("helmet"), HasSubstr("no pain today"), HasSubstr("girth")));
    EXPECT_EQ(desk.state(), LessonDesk::State::before);
    desk.set_absent(1, true);
    EXPECT_EQ(desk.start(), "") << "who is absent mounts nothing";
    EXPECT_EQ(desk.state(), LessonDesk::State::running);
    desk.set_absent(1, false);
    EXPECT_THAT(desk.attempt(1).toStdString(), HasSubstr("helmet"));
    EXPECT_THAT(desk.good_one(1).toStdString(), HasSubstr("not ticked"));
    EXPECT_THAT(desk.hold(1).toStdString(), HasSubstr("not ticked"));
    EXPECT_EQ(desk.riders()[1].attempts, 0);
    EXPECT_EQ(desk.attempt(0), "");
    EXPECT_EQ(desk.riders()[0].attempts, 1);
}

TEST_F(ALesson, TheCoachMayAnswerForWhatIsOpenAndTakeItBack) {
    ASSERT_EQ(desk.begin({riders[0]}, 45), QString());
    desk.toggle_looked(0, "helmet");
    desk.give_word();
    EXPECT_EQ(desk.start(), "");
    EXPECT_EQ(desk.attempt(0), "");
    for (int i = 0; i < 3; ++i) yard.steps().undo();
    QCoreApplication::processEvents();
    EXPECT_NE(desk.open_before_mounting(), "");
}

TEST_F(ALesson, WhoIsHeldByTheBodyIsNotTakenIn) {
    yard.quietly([&] {
        test::to_write(yard).people.put_limitations(riders[1], {{{}, riders[1], "dizzy today", "", "", ""}});
    });
    EXPECT_THAT(desk.begin({riders[0], riders[1]}, 45).toStdString(), HasSubstr("holds all work"));
    ASSERT_EQ(desk.begin({riders[0]}, 45), QString());
    EXPECT_THAT(desk.add_rider(riders[1]).toStdString(), HasSubstr("dizzy today"));
    EXPECT_EQ(desk.riders().size(), 1U);
}

TEST_F(ALesson, ThatWasBegunByMistakeIsTakenBackAndBegunAgain) {
    ASSERT_EQ(desk.begin(riders, 45), QString());
    EXPECT_TRUE(yard.steps().undo().startsWith("Taken back"));
    EXPECT_TRUE(yard.records().training.lessons().empty());
    for (const store::RiderId r : riders) EXPECT_TRUE(yard.records().rides.rides_of(r).empty());
    EXPECT_FALSE(yard.steps().redo().contains("changed since"));
    ASSERT_EQ(yard.records().training.lessons().size(), 1U);
    EXPECT_EQ(yard.records().training.places(yard.records().training.lessons()[0].id).size(), 4U);
}

TEST_F(ALesson, BeginsWithWhoRidesAndWhatIsLookedAt) {
    EXPECT_THAT(desk.begin({}, 45).toStdString(), HasSubstr("who rides"));
    ASSERT_EQ(desk.begin(riders, 45), QString());
    EXPECT_EQ(desk.riders().size(), 4U);
    EXPECT_EQ(desk.state(), LessonDesk::State::before);
    desk.toggle_looked(1, "girth");
    EXPECT_TRUE(looked_at(desk.riders()[1], "girth"));
    EXPECT_FALSE(looked_at(desk.riders()[0], "girth"));
}

TEST_F(ALesson, ItsClockRunsStandsAndGoesOn) {
    ASSERT_EQ(desk.begin(riders, 45), QString());
    start();
    const int whole = desk.block()->seconds;
    EXPECT_EQ(desk.seconds_left(), whole);
    pass(60);
    EXPECT_EQ(desk.seconds_left(), whole - 60);
    desk.stand();  // it rains
    pass(600);
    EXPECT_EQ(desk.seconds_left(), whole - 60);
    start();
    pass(10);
    EXPECT_EQ(desk.seconds_left(), whole - 70);
    desk.next_block();
    EXPECT_EQ(desk.block(), &desk.session().blocks[1]);
}

TEST_F(ALesson, CountsWhatEachRiderDoesAndWhoWasNotSpokenTo) {
    ASSERT_EQ(desk.begin(riders, 45), QString());
    start();
    pass(600);
    desk.good(0);
    pass(120);
    desk.attempt(2);
    desk.attempt(2);
    desk.good_one(2);
    desk.word(3, "eyes up");
    desk.hold(1);
    pass(12);
    desk.hold(1);
    EXPECT_EQ(desk.riders()[0].goods, 1);
    EXPECT_EQ(desk.riders()[2].attempts, 2) << "a good one marks an attempt";
    EXPECT_EQ(desk.riders()[2].good_ones, 1);
    EXPECT_DOUBLE_EQ(desk.riders()[1].held_s, 12);
    EXPECT_EQ(desk.unspoken_s(3), 12);
    EXPECT_EQ(desk.unspoken_s(0), 132);
    EXPECT_GT(desk.unspoken_s(1), 700) << "never: since the start";
    EXPECT_EQ(proposed_line(yard, desk.riders()[2]), "1 of 2 good");
}

TEST_F(ALesson, StampsWhatIsSaidByTheWallClock) {
    ASSERT_EQ(desk.begin(riders, 45), QString());
    start();
    pass(790);
    desk.word(3, "eyes up");
    const auto notes = yard.records().training.clock_notes(desk.riders()[3].ride.id);
    ASSERT_EQ(notes.size(), 1U);
    EXPECT_EQ(notes[0].at, "2026-11-26T17:13:10");
}

TEST_F(ALesson, EndsWithALineForEachRider) {
    ASSERT_EQ(desk.begin(riders, 45), QString());
    start();
    desk.end();
    EXPECT_EQ(desk.state(), LessonDesk::State::ended);
    desk.set_said(2, "Two tries, one good.");
    EXPECT_EQ(desk.riders()[2].place.said, "Two tries, one good.");
}

TEST_F(ALesson, IsTakenUpAgainWhereItStood) {
    ASSERT_EQ(desk.begin({riders[0], riders[1]}, 30), QString());
    start();
    pass(90);
    desk.next_block();
    desk.good(1);
    LessonDesk later(yard);
    later.set_clock([this] { return at; });
    ASSERT_TRUE(later.take_up());
    EXPECT_EQ(later.lesson()->block, 1);
    EXPECT_EQ(later.riders()[1].goods, 1);
    later.end();
    EXPECT_FALSE(LessonDesk(yard).take_up()) << "what has ended is over";
}

TEST_F(ALesson, ARiderIsAbsentAHorseIsChangedAndTurnsToo) {
    ASSERT_EQ(desk.begin({riders[0], riders[1]}, 30), QString());
    desk.set_horse(0, fig);
    desk.set_horse(1, cobalt);
    EXPECT_EQ(desk.riders()[0].horse, "Fig");
    start();
    desk.attempt(0);
    desk.set_horse(0, cobalt);
    EXPECT_EQ(desk.riders()[0].attempts, 0) << "what was said stays with the horse it was said on";
    desk.set_horse(0, fig);
    EXPECT_EQ(desk.riders()[0].attempts, 1);
    desk.set_absent(1, true);
    EXPECT_TRUE(desk.riders()[1].place.absent);
    desk.move(0, 1);
    EXPECT_EQ(desk.riders()[1].name, "Bram Oddleif");
    EXPECT_EQ(desk.add_rider(riders[3]), QString());
    EXPECT_FALSE(desk.add_rider(riders[3]).isEmpty());
    EXPECT_EQ(desk.riders().size(), 3U);
    yard.steps().undo();
    QCoreApplication::processEvents();
    EXPECT_EQ(desk.riders().size(), 2U);
}

TEST_F(ALesson, AHorsesLoadIsCountedOverItsRiders) {
    ASSERT_EQ(desk.begin({riders[0]}, 30), QString());
    desk.set_horse(0, fig);
    start();
    pass(30 * 60);
    desk.log(0, "fence");
    desk.log(0, "fence");
    desk.end();
    const HorseLoad load = load_of(yard.records(), fig, "2026-11-26");
    EXPECT_EQ(load.minutes, 30);
    EXPECT_EQ(load.fences, 2);
    ASSERT_EQ(desk.begin({riders[1]}, 30), QString());
    desk.set_horse(0, fig);
    EXPECT_EQ(desk.riders()[0].horse_minutes, 30);
    EXPECT_EQ(desk.riders()[0].under, QStringList{"Bram Oddleif"});
    EXPECT_EQ(desk.riders()[0].fences, 2);
}

// The second rider's horse too, at planning and at the change of a horse.
TEST_F(ALesson, AHorseThatHasDoneItsDayRests) {
    for (int n = 0; n < 2; ++n) {
        ASSERT_EQ(desk.begin({riders[0]}, 55), QString());
        desk.set_horse(0, fig);
        start();
        pass(55 * 60);
        desk.end();
    }
    ASSERT_EQ(desk.begin({riders[1], riders[0]}, 45).toStdString(),
              "a horse of the lesson has done 110 minutes today: let it rest and take another");
    ASSERT_EQ(desk.begin({riders[2]}, 30), QString());
    desk.set_horse(0, cobalt);
    start();
    EXPECT_EQ(desk.riders()[0].not_this, QString());
    desk.set_horse(0, fig);
    EXPECT_EQ(desk.riders()[0].not_this, QString()) << "ten minutes are left";
    pass(11 * 60);
    desk.good(0);
    EXPECT_THAT(desk.riders()[0].not_this.toStdString(), testing::HasSubstr("has done 121 minutes today"));
}

// The coach's own order is the coach's, while nothing in it has become forbidden.
TEST_F(ALesson, AnOwnOrderThatHoldsWhatIsForbiddenIsPlannedAnewAndSaid) {
    sign_off(yard, riders[0], fig, "canter");
    sign_off(yard, riders[0], fig, "sits_trot");
    yard.quietly([&] {
        store::Ride ride;
        ride.rider = riders[0];
        ride.horse = fig;
        ride.day = "2026-11-20";
        test::to_write(yard).add(ride);
        core::Session own;
        for (const auto& [work, minutes] : {std::pair{core::Work::walk, 10},
                                            {core::Work::trot, 5},
                                            {core::Work::canter, 3},
                                            {core::Work::walk, 10}}) {
            core::Block b;
            b.work = work;
            b.seconds = 60 * minutes;
            own.blocks.push_back(b);
        }
        auto plan = yard.records().training.plan_of(riders[0]);
        plan.session = core::as_json(own);
        test::to_write(yard).put(plan);
    });
    const auto cantered = [&] {
        return std::ranges::any_of(desk.session().blocks,
                                   [](const core::Block& b) { return b.work == core::Work::canter; });
    };
    ASSERT_EQ(desk.begin({riders[0]}, 45), QString());
    EXPECT_FALSE(desk.own_order_left());
    EXPECT_TRUE(cantered()) << "taken as it stands, though it is no good order";
    desk.close();
    take_back_sign_off(yard, yard.records().people.sign_offs(riders[0])[0]);
    ASSERT_EQ(desk.begin({riders[0]}, 45), QString());
    EXPECT_TRUE(desk.own_order_left());
    EXPECT_FALSE(cantered());
}

// What the others ride and one may not stands on that one's tile, by name of what is missing.
TEST_F(ALesson, WhoMayNotRideABlockIsToldSo) {
    ASSERT_EQ(desk.begin({riders[0], riders[1]}, 45), QString());
    desk.set_horse(0, cobalt);
    desk.set_horse(1, fig);
    for (const LessonRider& r : desk.riders()) EXPECT_EQ(r.not_this, QString()) << "planned for both";
    core::Session canter;
    core::Block b;
    b.kind = core::BlockKind::easy;
    b.work = core::Work::canter;
    canter.blocks = {b};
    auto lesson = *desk.lesson();
    lesson.session = core::as_json(canter);
    yard.quietly([&] { test::to_write(yard).update(lesson); });
    desk.open(lesson.id);
    EXPECT_THAT(desk.riders()[1].not_this.toStdString(), testing::HasSubstr("may canter"));
    for (const char* gate : {"canter", "sits_trot"}) sign_off(yard, riders[1], fig, gate);
    desk.open(lesson.id);
    EXPECT_EQ(desk.riders()[1].not_this, QString());
    EXPECT_THAT(desk.riders()[0].not_this.toStdString(), testing::HasSubstr("may canter"));
}

TEST_F(ALesson, TheLungeSheetKeepsTheLineAndTheMinutesARein) {
    ASSERT_EQ(desk.begin({riders[0]}, 30), QString());
    start();
    desk.set_ground(0, "line", "7");
    desk.set_ground(0, "asks", "rider");
    desk.set_ground(0, "line", "6");
    EXPECT_EQ(desk.ground(0, "line"), "6");
    EXPECT_EQ(desk.ground(0, "asks"), "rider");
    desk.log(0, "rein_left");
    pass(100);
    desk.log(0, "rein_right");
    pass(40);
    EXPECT_EQ(desk.rein_s(0, "left"), 100);
    EXPECT_EQ(desk.rein_s(0, "right"), 40);
}

/// A praise and a try five seconds after 17:01, a look at 17:06, and a clip of twenty seconds by a camera
/// whose clock is two minutes late: it began at 17:01.
class FilmedLesson : public ALesson {
  protected:
    FilmedLesson() {
        EXPECT_EQ(desk.begin({riders[0]}, 30), QString());
        start();
        pass(65);
        desk.good(0);
        desk.attempt(0);
        pass(300);
        desk.look(0);
        store::Clip c;
        c.path = "clips/a.mp4";
        c.hash = "a";
        c.recorded_at = "2026-11-26T16:59:00";
        c.clock_off_s = 120;
        c.duration_s = 20;
        c.frames = 600;
        ride = desk.riders()[0].ride.id;
        yard.quietly([&] {
            clip = test::to_write(yard).add(c);
            test::to_write(yard).put(store::Slot{clip, 0, ride});
        });
    }
    store::RideId ride;
    store::ClipId clip;
};

TEST_F(FilmedLesson, ItsNotesFallOnTheClipTheyLieIn) {
    EXPECT_EQ(lay_under_clips(yard, ride), 2);
    const auto notes = yard.records().reviews.notes(clip);
    ASSERT_EQ(notes.size(), 1U);
    EXPECT_EQ(notes[0].frame, 150) << "five seconds into it";
    ASSERT_EQ(yard.records().reviews.events_in(clip).size(), 1U);
    EXPECT_DOUBLE_EQ(yard.records().reviews.events_in(clip)[0].time_s, 5);
    EXPECT_EQ(yard.records().training.clock_notes(ride).size(), 1U)
        << "what no film shows stays with the ride";
    EXPECT_EQ(lay_under_clips(yard, ride), 0);
}

TEST_F(FilmedLesson, ItsNotesGoWithTheCamerasClock) {
    EXPECT_EQ(lay_under_clips(yard, ride), 2);
    set_clock(yard, clip, 123);
    EXPECT_EQ(lay_under_clips(yard, ride), 2);
    EXPECT_EQ(yard.records().reviews.notes(clip)[0].frame, 60) << "another three seconds late";
    set_clock(yard, clip, 0);
    EXPECT_EQ(lay_under_clips(yard, ride), 2) << "and away again where it shows none of it";
    EXPECT_EQ(yard.records().training.clock_notes(ride).size(), 2U);
    for (int i = 0; i < 5; ++i) yard.steps().undo();
    EXPECT_EQ(yard.records().training.clock_notes(ride).size(), 2U);
}

// Three hundred entries, and the program is killed in the middle of them: everything said before is there.
TEST_F(ALesson, LosesNothingThatWasSaid) {
    ASSERT_EQ(desk.begin({riders[0]}, 30), QString());
    const store::RideId ride = desk.riders()[0].ride.id;
    int pipes[2];
    ASSERT_EQ(pipe(pipes), 0);
    const std::filesystem::path file = folder / "yard" / "yard.db";
    const pid_t writer = fork();
    if (writer == 0) {
        store::YardStore records(file);
        for (int i = 0; i < 300; ++i) {
            store::Event e;
            e.ride = ride;
            e.at = "2026-11-26T17:00:00";
            e.event = "attempt";
            records.add(e);
            const char done = 1;
            if (write(pipes[1], &done, 1) != 1) _exit(1);
        }
        pause();
    }
    ASSERT_GT(writer, 0);
    int said = 0;
    for (char one; said < 217 && read(pipes[0], &one, 1) == 1;) ++said;
    kill(writer, SIGKILL);
    waitpid(writer, nullptr, 0);
    close(pipes[1]);
    for (char one; read(pipes[0], &one, 1) == 1;) ++said;
    close(pipes[0]);
    store::YardStore records(file);
    EXPECT_GE(records.training.clock_events(ride).size(), static_cast<std::size_t>(said));
    EXPECT_GE(said, 217);
}

TEST(AReplay, KeepsTheLastMinutesAndNoMoreThanItMay) {
    Replay replay;
    QImage noise(640, 360, QImage::Format_RGB32);
    std::mt19937 random(1);
    for (int y = 0; y < noise.height(); ++y) {
        for (int x = 0; x < noise.width(); ++x) noise.setPixel(x, y, random());
    }
    for (int i = 0; i < 200; ++i) replay.push(noise, i * 1000LL);
    EXPECT_LE(replay.seconds(), 120.0) << "two minutes";
    EXPECT_EQ(replay.pictures(), 121U);
    qint64 counted = 0;
    for (const auto& k : replay.last(1000)) counted += k.jpeg.size();
    EXPECT_EQ(replay.bytes(), counted);
    // The worst picture there is, 25 a second: once its bytes are full, the oldest goes for the newest.
    replay.clear();
    std::size_t most = 0;
    for (qint64 at = 200'000; most < 3000; at += 40) {
        replay.push(noise, at);
        ASSERT_LE(replay.bytes(), Replay::kMostBytes);
        if (replay.pictures() <= most) break;
        most = replay.pictures();
    }
    EXPECT_LT(most, 3000U) << "two minutes of it are more than is kept";
    EXPECT_GT(replay.bytes(), Replay::kMostBytes / 2);
    replay.clear();
    EXPECT_TRUE(replay.delayed(0).isNull());
}

}  // namespace
}  // namespace aspen::app
