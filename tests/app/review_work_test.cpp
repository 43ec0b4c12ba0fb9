// The work around a review without a window: notes, stretches, moments in the trash, several riders, backup,
// one window.

#include <filesystem>
#include <fstream>

#include "app/bench_fixture.hpp"
#include "app/following/comparison.hpp"
#include "app/leaving/events_exchange.hpp"
#include "app/leaving/frames_out.hpp"
#include "app/leaving/marks_exchange.hpp"
#include "app/review/finding_row.hpp"
#include "app/review/first_look.hpp"
#include "app/review/review_changes.hpp"
#include "app/review/seeing.hpp"
#include "app/rides/lanes.hpp"
#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

using ReviewWork = BenchTest;

TEST_F(ReviewWork, NotesAreWalkedThrough) {
    open();
    bench.deck().go_to(12);
    add_note(bench, store::NoteKind::good);
    bench.deck().go_to(40);
    add_note(bench, store::NoteKind::words, "leg slid back again");
    add_note(bench, store::NoteKind::words, "   ");
    ASSERT_EQ(bench.review().notes().size(), 2U) << "empty words are no note";
    bench.deck().go_to(0);
    EXPECT_TRUE(go_to_note(bench, 1));
    EXPECT_EQ(bench.deck().frame(), 12);
    EXPECT_TRUE(go_to_note(bench, 1));
    EXPECT_EQ(bench.deck().frame(), 40);
    EXPECT_FALSE(go_to_note(bench, 1));
}

TEST_F(ReviewWork, PhrasesAreKeptSaidAgainAndTakenBack) {
    open();
    bench.deck().go_to(40);
    add_note(bench, store::NoteKind::words, "leg slid back again");
    EXPECT_EQ(yard.records().reviews.phrases().front(), "leg slid back again")
        << "what this coach writes is kept";
    bench.deck().go_to(50);
    EXPECT_TRUE(add_phrase(bench, 1));
    EXPECT_FALSE(add_phrase(bench, 2));
    EXPECT_EQ(bench.review().notes().back().words, "leg slid back again");
    EXPECT_TRUE(remove_note_here(bench));
    EXPECT_EQ(bench.review().notes().size(), 1U);
    for (int i = 0; i < 3; ++i) yard.steps().undo();
    EXPECT_TRUE(bench.review().notes().empty());
    EXPECT_TRUE(yard.records().reviews.phrases().empty()) << "a phrase nobody wrote is none";
}

TEST_F(ReviewWork, TheFirstGaitSaidIsTheClipsAndLaterOnesCut) {
    open();
    ride_from_here(bench, core::Gait::trot);
    EXPECT_EQ(bench.review().stretch().gait, core::Gait::trot);
    yard.steps().undo();
    EXPECT_FALSE(bench.review().stretch().gait) << "one step takes both back";
    EXPECT_EQ(bench.review().stretches().size(), 1U) << "every frame lies in exactly one";
    yard.steps().redo();
    bench.deck().go_to(30);
    ride_from_here(bench, core::Gait::canter);
    ride_from_here(bench, core::Seat::two_point);
    ride_from_here(bench, core::Rein::left);
    movement_from_here(bench, "circle", false);
    movement_from_here(bench, "leg_yield", true);
    ASSERT_EQ(bench.review().stretches().size(), 2U);
    EXPECT_EQ(bench.review().setting().gait, core::Gait::canter);
    EXPECT_EQ(bench.review().setting().movement, "circle");
    EXPECT_EQ(bench.review().stretches()[1].asked, "leg_yield")
        << "what was asked is kept beside what was shown";
    bench.deck().go_to(10);
    EXPECT_EQ(bench.review().setting().gait, core::Gait::trot);
    EXPECT_TRUE(join_here(bench));
    EXPECT_EQ(bench.review().stretches().size(), 1U);
    yard.steps().undo();
    EXPECT_EQ(bench.review().stretches().size(), 2U);
    name_stretch(bench, 0, "first long side");
    EXPECT_EQ(yard.records().rides.stretches(clip)[0].name, "first long side");
}

TEST_F(ReviewWork, AStretchThatCannotBeJudgedJudgesNothingAndNamesNoFault) {
    open();
    say_everything();
    go_to(10);
    mark_all_asked();
    ASSERT_FALSE(bench.findings().rows().empty());
    toggle_judged_here(bench);
    EXPECT_TRUE(bench.findings().rows().empty());
    for (const core::Judged& j : bench.marking().judged()) {
        EXPECT_FALSE(j.measured.value);
        EXPECT_EQ(j.reason, "this stretch cannot be judged from here");
    }
    toggle_judged_here(bench);
    EXPECT_FALSE(bench.findings().rows().empty());
}

TEST_F(ReviewWork, TheSamePhaseOneStrideOnIsGuessedFromTheNamedOnes) {
    open();
    say_everything();
    EXPECT_FALSE(app::guess_next_stride(bench.review())) << "no moment here";
    mark_moment(bench.review());
    set_phase(bench.review(), "rise_top");
    ASSERT_TRUE(app::guess_next_stride(bench.review()));
    const int first = bench.deck().frame();
    EXPECT_NEAR(first, 30 * 60 / 80, 1) << "the trot's usual stride at 30 frames a second";
    EXPECT_EQ(bench.review().moment()->phase, "rise_top");
    remove_moment(bench.review());
    bench.deck().go_to(20);
    mark_moment(bench.review());
    set_phase(bench.review(), "rise_top");
    ASSERT_TRUE(app::guess_next_stride(bench.review()));
    EXPECT_EQ(bench.deck().frame(), 40) << "twenty frames, as between the two named ones";
    bench.deck().go_to(bench.deck().facts().frames - 1);
    mark_moment(bench.review());
    EXPECT_FALSE(app::guess_next_stride(bench.review())) << "the clip ends before";
}

TEST_F(ReviewWork, AMomentInTheTrashComesBackUnlessItsFrameIsTaken) {
    open();
    go_to(10);
    mark_all_asked();
    remove_moment(bench.review());
    EXPECT_TRUE(bench.review().moments().empty());
    ASSERT_EQ(yard.records().reviews.trashed_moments().size(), 1U);
    const store::Moment gone = yard.records().reviews.trashed_moments()[0];
    mark_moment(bench.review());
    EXPECT_FALSE(put_back(yard, gone));
    remove_moment(bench.review());
    EXPECT_TRUE(put_back(yard, gone));
    EXPECT_EQ(bench.marking().figure().marked(), 9) << "with all its joints";
}

TEST_F(ReviewWork, ARiderInTheTrashIsNotLost) {
    open();
    say_everything();
    const auto id = bench.review().rider();
    trash_rider(yard, id);
    EXPECT_TRUE(yard.records().people.riders().empty());
    ASSERT_EQ(yard.records().people.trashed_riders().size(), 1U);
    EXPECT_TRUE(yard.records().people.rider(id)) << "the clip still knows whose it is";
    yard.steps().undo();
    EXPECT_EQ(yard.records().people.riders().size(), 1U);
    trash_rider(yard, id);
    put_back(yard, id);
    EXPECT_EQ(yard.records().people.riders().size(), 1U);
}

TEST_F(ReviewWork, AClipDeletedForGoodTakesItsReviewAlong) {
    open();
    go_to(10);
    mark_all_asked();
    bench.close();
    trash_clip(yard, clip);
    ASSERT_EQ(yard.records().rides.trashed_clips().size(), 1U);
    delete_for_good(yard, clip);
    EXPECT_TRUE(yard.records().rides.trashed_clips().empty());
    EXPECT_TRUE(yard.records().reviews.moments(clip).empty());
    EXPECT_FALSE(yard.steps().stack().canUndo()) << "no step back to what is gone";
}

TEST_F(ReviewWork, SeveralRidersHaveFiguresAndFindingsOfTheirOwn) {
    open();
    say_everything();
    go_to(10);
    mark_all_asked();
    const auto first = bench.marking().figure();
    const auto maude = add_rider(yard, test::rider("Maude Estrell", 1990, "jumper"));
    add_companion(bench.review(), maude, {});
    EXPECT_EQ(bench.review().slot(), 1);
    EXPECT_EQ(bench.review().rider(), maude);
    EXPECT_EQ(bench.marking().figure().marked(), 0);
    EXPECT_TRUE(bench.findings().rows().empty());
    bench.marking().place({100, 120}, 1);
    EXPECT_EQ(bench.marking().figure().marked(), 1);
    bench.review().show_slot(0);
    EXPECT_EQ(bench.marking().figure(), first);
    EXPECT_EQ(bench.review().moments().size(), 2U);
    bench.findings().decide(bench.findings().rows()[0].found.fault->id, store::Decision::accepted);
    bench.review().show_slot(1);
    EXPECT_TRUE(bench.findings().rows().empty()) << "the other rider's faults are not this one's";
    bench.review().show_slot(7);
    EXPECT_EQ(bench.review().slot(), 1) << "nobody rides there";
}

TEST_F(ReviewWork, ACompanionsFocusIsTheirsAndTheMinorAmongThemKeepsTheClipHere) {
    open();
    say_everything();  // Joss, a minor with no consent
    const auto maude = add_rider(yard, test::rider("Maude Estrell", 1990, "jumper"));
    add_companion(bench.review(), maude, {});
    EXPECT_EQ(bench.review().missing(), std::vector<std::string>{"horse"});
    set_pair(bench.review(), maude, add_horse(yard, {{}, "Saffron", 165, ""}), "horse");
    EXPECT_TRUE(bench.review().missing().empty());
    go_to(10);
    mark_all_asked();
    ASSERT_TRUE(bench.findings().focus());
    const std::string fault = bench.findings().focus()->fault->id;
    const Accepted focus = *bench.findings().focus_seen();
    prescribe(yard, bench.review().ride().id, focus, {focus},
              *yard.knowledge().exercises.find("two_point_walk_trot"));
    ASSERT_EQ(yard.records().work.corrections(maude).size(), 1U);
    EXPECT_EQ(yard.records().work.corrections(maude)[0].horse, bench.review().horse());
    const auto joss = yard.records().rides.ride(test::ride_of(yard, clip))->rider;
    EXPECT_TRUE(yard.records().work.corrections(joss).empty()) << "nothing of it falls on the other rider";
    const auto lanes = lanes_of(yard.records(), yard.knowledge(), maude, yard.today_iso());
    ASSERT_EQ(lanes.size(), 1U);
    EXPECT_EQ(lanes[0].points.size(), 1U);
    EXPECT_TRUE(frame_out(bench, true).trouble.contains("Joss")) << "Maude is grown up, Joss is not";
    EXPECT_TRUE(export_marks(bench, QString::fromStdString((folder / "x.json").string())).contains("Joss"));
}

TEST_F(ReviewWork, AskedBackIsNoFaultUntilTheRiderAnswers) {
    open();
    say_everything();
    go_to(10);
    mark_all_asked();
    ASSERT_TRUE(bench.findings().focus());
    const std::string fault = bench.findings().focus()->fault->id;
    bench.findings().decide(fault, store::Decision::asked_back);
    EXPECT_TRUE(!bench.findings().focus() || bench.findings().focus()->fault->id != fault);
    bench.findings().decide(fault, store::Decision::asked_back);
    EXPECT_EQ(bench.findings().focus()->fault->id, fault) << "once more takes the question back";
    bench.findings().decide(fault, store::Decision::accepted);
    bench.findings().attach_moment(fault);
    const auto row = std::ranges::find_if(bench.findings().rows(),
                                          [&](const FindingRow& r) { return r.found.fault->id == fault; });
    EXPECT_EQ(row->frame, 10);
    EXPECT_EQ(row->decision, store::Decision::accepted) << "attaching changes nothing else";
    bench.findings().add_remark(store::RemarkKind::strength, core::BodyPart::hand,
                                "Quiet hand when the horse fusses");
    EXPECT_EQ(bench.findings().what_is_good().front(), "Quiet hand when the horse fusses");
    yard.steps().undo();
    EXPECT_TRUE(bench.review().remarks().empty());
}

TEST_F(ReviewWork, TwoMomentsAreHeldAgainstEachOtherWithBothErrors) {
    open();
    say_everything();
    go_to(10);
    mark_all_asked();
    go_to(33);
    mark_all_asked();
    Comparison two(yard);
    EXPECT_EQ(two.show(bench.review().clip().id, 33), "");
    ASSERT_EQ(two.count(), 2U);
    EXPECT_EQ(two.side(0).subject.moment.frame, 10);
    EXPECT_EQ(two.side(1).subject.moment.frame, 33);
    const auto rows = two.differences(1);
    ASSERT_FALSE(rows.empty());
    for (const core::MeasureDifference& d : rows) {
        EXPECT_NEAR(d.by, *d.second.measured.value - *d.first.measured.value, 1e-9);
        EXPECT_NEAR(d.sd, std::hypot(d.second.measured.sd, d.first.measured.sd), 1e-9);
        EXPECT_EQ(d.real, std::abs(d.by) > 1.96 * d.sd);
    }
    ASSERT_TRUE(wait_for([&] { return two.deck(0).picture_is_full(); }));
    EXPECT_EQ(two.deck(0).picture().width(), 1280);
}

TEST_F(ReviewWork, ALevelLineIsTheSameAsAnUprightAcrossIt) {
    open();
    app::set_level(bench.review(), {100, 300}, {700, 310});
    const double slope = core::degrees(std::atan2(10.0, 600.0));
    EXPECT_NEAR(bench.review().stretch().camera.roll_deg, slope, 1e-6)
        << "level falls to the right, so what is upright leans to the right";
    app::set_level(bench.review(), {700, 310}, {100, 300});
    EXPECT_NEAR(bench.review().stretch().camera.roll_deg, slope, 1e-6) << "in either order";
    app::set_scale(bench.review(), {0, 0}, {300, 0}, 1.5);
    EXPECT_NEAR(bench.review().clip().px_per_m, 200, 1e-9);
    EXPECT_GT(bench.review().clip().px_per_m_sd, 0);
}

TEST_F(ReviewWork, EventsComeInAndGoOutAsOneStep) {
    open();
    say_everything();
    const QString file = QString::fromStdString((folder / "events.csv").string());
    std::ofstream(file.toStdString()) << "time_s,event,detail\n0.5,aid,side=left with=calf\n0.9,answer,\n";
    EXPECT_EQ(import_events(bench, file), "");
    EXPECT_EQ(yard.records().reviews.events(bench.review().ride().id).size(), 2U);
    EXPECT_EQ(import_events(bench, file), "");
    EXPECT_EQ(yard.records().reviews.events(bench.review().ride().id).size(), 2U) << "not twice";
    EXPECT_TRUE(export_events(bench, file).contains("Joss")) << "a minor without consent: nothing leaves";
    auto rider = *yard.records().people.rider(bench.review().rider());
    rider.birth_year = 1990;
    change_rider(yard, rider);
    const QString out = QString::fromStdString((folder / "out.csv").string());
    EXPECT_EQ(export_events(bench, out), "");
    std::ifstream in(out.toStdString());
    EXPECT_EQ(std::string(std::istreambuf_iterator<char>(in), {}),
              "time_s,event,detail\n0.5000,aid,side=left with=calf\n0.9000,answer,\n");
    std::ofstream(file.toStdString()) << "time_s,event,detail\n99,halt,\n";
    EXPECT_TRUE(import_events(bench, file).contains("outside this clip"));
    yard.steps().undo();
    yard.steps().undo();
    EXPECT_TRUE(yard.records().reviews.events(bench.review().ride().id).empty());
}

TEST(OneWindow, ASecondOnTheSameYardIsRefusedAndAKilledOnesLockIsTakenOver) {
    const test::TempFolder folder;
    const QString path = QString::fromStdString((folder / "yard").string());
    {
        Yard first(path, shipped_knowledge());
        try {
            Yard second(path, shipped_knowledge());
            ADD_FAILURE() << "two windows on one yard";
        } catch (const core::Refused& e) {
            EXPECT_THAT(e.what(), testing::HasSubstr("open in another window"));
        }
    }
    QFile lock(path + "/yard.lock");  // of a program that is no more
    ASSERT_TRUE(lock.open(QIODevice::WriteOnly));
    lock.write("999999999\naspen-crest\n" + QSysInfo::machineHostName().toUtf8() + "\n");
    lock.close();
    EXPECT_NO_THROW(Yard(path, shipped_knowledge()));
}

TEST(Backup, IsRestoredAtTheNextStartAndTodaysRecordsAreKept) {
    const test::TempFolder folder;
    const QString path = QString::fromStdString((folder / "yard").string()),
                  copy = QString::fromStdString((folder / "copy.aspen-yard").string());
    {
        Yard yard(path, shipped_knowledge());
        add_rider(yard, test::rider("Pell Marrow", 1970, "gaited"));
        back_up(yard, copy);
        add_rider(yard, test::rider("Bram Oddleif", 1980, "stock"));
        EXPECT_THROW(back_up(yard, "/no/such/folder/x.aspen-yard"), core::Refused);
        EXPECT_TRUE(restore_at_start(path, "/no/such/file").contains("no yard"));
        const QString other = QString::fromStdString((folder / "notes.txt").string());
        QFile text(other);
        ASSERT_TRUE(text.open(QIODevice::WriteOnly));
        text.write(
            "this is no yard at all, only words that go on for a while to be longer than a header of a "
            "database would be");
        text.close();
        EXPECT_FALSE(restore_at_start(path, other).isEmpty());
        EXPECT_FALSE(QFile::exists(path + "/yard.db.to-restore")) << "nothing waits that is no yard";
        EXPECT_EQ(restore_at_start(path, copy), QString());
        EXPECT_EQ(yard.records().people.riders().size(), 2U) << "nothing changes while it is open";
    }
    Yard again(path, shipped_knowledge());
    ASSERT_EQ(again.records().people.riders().size(), 1U);
    EXPECT_EQ(again.records().people.riders()[0].name, "Pell Marrow");
    EXPECT_FALSE(QDir(path).entryList({"yard.db.replaced-*"}).isEmpty());
}

}  // namespace
}  // namespace aspen::app
