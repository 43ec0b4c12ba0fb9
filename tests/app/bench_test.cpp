#include "app/bench_fixture.hpp"
#include "app/review/finding_row.hpp"
#include "app/review/review_changes.hpp"
#include "app/review/seeing.hpp"

#include <QFile>

#include "app/leaving/marks_exchange.hpp"

namespace aspen::app {
namespace {

TEST_F(BenchTest, AsksForTheNineHeadToHeelThenForTheOthers) {
    open();
    std::vector<core::Landmark> asked;
    while (bench.marking().asked()) {
        asked.push_back(*bench.marking().asked());
        bench.marking().place({100.0 + 10 * static_cast<double>(asked.size()), 200}, 1);
    }
    EXPECT_TRUE(std::ranges::equal(asked, core::first_nine()));
    bench.marking().ask_for_others(true);
    EXPECT_EQ(bench.marking().asked(), core::Landmark::eye);
    bench.marking().skip();
    EXPECT_EQ(bench.marking().asked(), core::Landmark::chin);
    EXPECT_EQ(bench.marking().figure()[core::Landmark::eye].visibility, core::Visibility::hidden);
}

TEST_F(BenchTest, TheColumnIsAliveFromTheThirdJoint) {
    open();
    say_everything();
    bench.marking().place({600, 130}, 1);
    bench.marking().place({600, 180}, 1);
    EXPECT_TRUE(bench.marking().judged().empty());
    bench.marking().place({606, 248}, 1);
    EXPECT_EQ(bench.marking().judged().size(), 19U);
}

TEST_F(BenchTest, NothingIsPlacedOnAFrameThatIsNotShownYet) {
    open();
    bench.deck().go_to(20);
    EXPECT_FALSE(bench.deck().picture_is_current());
    bench.marking().place({600, 130}, 1);
    EXPECT_EQ(bench.marking().figure().marked(), 0);
    ASSERT_TRUE(wait_for([&] { return bench.deck().picture_is_current(); }));
    EXPECT_EQ(bench.deck().picture_frame(), 20);
    bench.marking().place({600, 130}, 1);
    EXPECT_EQ(bench.marking().figure().marked(), 1);
}

TEST_F(BenchTest, TakingBackTheFirstJointLeavesNoEmptyMoment) {
    open();
    bench.marking().place({600, 130}, 1);
    ASSERT_EQ(bench.review().moments().size(), 1U);
    yard.steps().undo();
    EXPECT_TRUE(bench.review().moments().empty());
    yard.steps().redo();
    ASSERT_EQ(bench.review().moments().size(), 1U);
    EXPECT_EQ(bench.marking().figure()[core::Landmark::ear].at, (core::Point{600, 130}));
}

TEST_F(BenchTest, FindsTheFaultsThatTheSimulatorPutIn) {
    open();
    say_everything();
    for (const int frame : {10, 33}) {
        go_to(frame);
        mark_all_asked();
    }
    std::vector<std::string> certain;
    for (const FindingRow& row : bench.findings().rows()) {
        if (row.found.verdict == core::Verdict::outside) certain.push_back(row.found.fault->id);
    }
    EXPECT_THAT(certain, testing::IsSupersetOf({"lower_leg_back", "tipped_forward"}));
    ASSERT_TRUE(bench.findings().focus());
    EXPECT_EQ(bench.findings().focus()->fault->id, "lower_leg_back");
    EXPECT_FALSE(bench.findings().what_is_good().isEmpty());
}

TEST_F(BenchTest, TheCoachsWordDecidesAndIsNeverOverwritten) {
    open();
    say_everything();
    go_to(10);
    mark_all_asked();
    bench.findings().decide("lower_leg_back", store::Decision::rejected);
    ASSERT_TRUE(bench.findings().focus());
    EXPECT_NE(bench.findings().focus()->fault->id, "lower_leg_back");
    bench.findings().decide("tipped_forward", store::Decision::changed, "rounded_shoulders");
    EXPECT_EQ(bench.findings().focus()->fault->id, "rounded_shoulders")
        << "the coach's word counts as certain";
    // Move the leg under the hip: the measured fault goes, the coach's decision stays.
    for (const core::Landmark l : {core::Landmark::ankle, core::Landmark::heel, core::Landmark::toe}) {
        bench.marking().select(l);
        bench.marking().nudge_selected(45, 0);
    }
    bool kept = false;
    for (const FindingRow& row : bench.findings().rows()) {
        kept = kept || (row.found.fault->id == "lower_leg_back" && row.decision == store::Decision::rejected);
    }
    EXPECT_TRUE(kept);
    bench.findings().decide("lower_leg_back", store::Decision::rejected);
    for (const store::Finding& f : yard.records().reviews.findings(bench.review().ride().id)) {
        if (f.fault == "lower_leg_back") {
            EXPECT_EQ(f.decision, store::Decision::open) << "the same key again takes it back";
        }
    }
}

TEST_F(BenchTest, DraggingIsLiveAndOneStep) {
    open();
    say_everything();
    go_to(10);
    mark_all_asked();
    const auto heel = bench.marking().figure()[core::Landmark::heel].at;
    const auto value = [&] { return *core::find(bench.marking().judged(), "heel_offset")->measured.value; };
    const double before = value();
    const int steps = yard.steps().stack().count();
    bench.marking().drag(core::Landmark::heel, {heel.x + 10, heel.y}, 1);
    bench.marking().drag(core::Landmark::heel, {heel.x + 20, heel.y}, 1);
    EXPECT_GT(value(), before + 5) << "the column follows while dragging";
    EXPECT_EQ(yard.steps().stack().count(), steps);
    bench.marking().end_drag();
    EXPECT_EQ(yard.steps().stack().count(), steps + 1);
    yard.steps().undo();
    EXPECT_EQ(bench.marking().figure()[core::Landmark::heel].at, heel);
    EXPECT_NEAR(value(), before, 1e-9);
}

TEST_F(BenchTest, AnUprightTakesTheTiltOutAndNarrowsTheError) {
    open();
    say_everything();
    go_to(10);
    mark_all_asked();
    const core::Judged before = *core::find(bench.marking().judged(), "trunk_lean");
    app::set_upright(bench.review(), {300, 500}, {310, 300});
    const core::Judged after = *core::find(bench.marking().judged(), "trunk_lean");
    EXPECT_NEAR(*after.measured.value, *before.measured.value - core::degrees(std::atan2(10, 200)), 0.3);
    EXPECT_LT(after.measured.sd, before.measured.sd);
    EXPECT_TRUE(yard.records().rides.stretches(clip)[0].camera.roll_marked);
}

TEST_F(BenchTest, ABitBehindTheHipAsksAndOneKeyTurnsIt) {
    open();
    say_everything();
    turn_travel(bench.review());
    EXPECT_EQ(bench.review().stretch().travel, core::Travel::left);
    go_to(10);
    bench.marking().ask_for_others(true);
    mark_all_asked();
    EXPECT_TRUE(bench.review().travel_doubtful());
    turn_travel(bench.review());
    EXPECT_FALSE(bench.review().travel_doubtful());
}

TEST_F(BenchTest, IsWhereItWasAfterClosingInTheMiddle) {
    open();
    go_to(25);
    bench.marking().place({600, 130}, 1);
    // No goodbye, as after a crash: what lies on the disk at this instant is opened elsewhere.
    std::filesystem::copy(folder / "yard", folder / "after", std::filesystem::copy_options::recursive);
    std::filesystem::remove(folder / "after/yard.lock");
    Yard again(QString::fromStdString((folder / "after").string()), shipped_knowledge());
    Bench other(again);
    other.open(clip);
    ASSERT_TRUE(wait_for([&] { return other.deck().ready() && other.deck().picture_is_current(); }));
    EXPECT_EQ(other.deck().frame(), 25);
    EXPECT_EQ(other.marking().figure()[core::Landmark::ear].at, (core::Point{600, 130}));
    EXPECT_EQ(other.marking().asked(), core::Landmark::shoulder);
    EXPECT_EQ(again.records().rides.ride(test::ride_of(again, clip))->state, store::RideState::started);
}

TEST_F(BenchTest, AClipThatMovedIsFoundOrSaidToBeGone) {
    const QString moved = yard.folder().filePath("clips/renamed.mp4");
    ASSERT_TRUE(QFile::copy(QString::fromStdString(source.string()), moved));
    move_clip(yard, clip, "/gone/for/good/clip.mp4");
    bench.open(clip);
    ASSERT_TRUE(wait_for([&] { return bench.deck().ready(); }));
    EXPECT_EQ(yard.file_of(*yard.records().rides.clip(clip)), moved);
    QFile::remove(moved);
    move_clip(yard, clip, "/gone/for/good/clip.mp4");
    lines.clear();
    bench.open(clip);
    ASSERT_TRUE(wait_for([&] { return lines.size() >= 2; }));
    EXPECT_TRUE(lines.back().contains("drop it on the window"));
}

/// A marked moment of an adult, written as marks.
class MarksOut : public BenchTest {
  protected:
    void SetUp() override {
        open();
        say_everything();
        go_to(12);
        mark_all_asked();
        auto card = yard.records().people.riders()[0];
        card.birth_year = 1990;
        change_rider(yard, card);
        ASSERT_EQ(export_marks(bench, file), QString());
        before = bench.marking().figure();
    }
    QString file = QString::fromStdString((folder / "marks.json").string());
    core::Figure before;
};

TEST_F(BenchTest, MarksPassTheGateAndThereMustBeSome) {
    open();
    say_everything();
    const QString file = QString::fromStdString((folder / "marks.json").string());
    EXPECT_TRUE(export_marks(bench, file).contains("No moment"));
    go_to(12);
    mark_all_asked();
    EXPECT_TRUE(export_marks(bench, file).contains("minor"));
    EXPECT_FALSE(QFile::exists(file));
}

TEST_F(MarksOut, ComeBackTheSameInOneStep) {
    remove_moment(bench.review());
    EXPECT_TRUE(bench.review().moments().empty());
    const int steps = yard.steps().stack().count();
    ASSERT_EQ(import_marks(bench, file), QString());
    EXPECT_EQ(bench.marking().figure(), before);
    EXPECT_EQ(yard.steps().stack().count(), steps + 1);
}

TEST_F(MarksOut, SayHowItWasRiddenOnlyWhereNothingWasSaid) {
    core::Stretches ridden = bench.review().stretches();
    const auto gait = ridden.front().gait;
    ASSERT_TRUE(gait);
    ridden.front().gait.reset();
    ridden.front().seat = core::Seat::half;
    set_stretches(yard, clip, ridden, "Unsaid");
    ASSERT_EQ(import_marks(bench, file), QString());
    EXPECT_EQ(bench.review().stretches().front().gait, gait);
    EXPECT_EQ(bench.review().stretches().front().seat, core::Seat::half) << "what was said stands";
}

TEST_F(MarksOut, ThatAreBrokenChangeNothing) {
    QFile broken(file);
    ASSERT_TRUE(broken.open(QIODevice::WriteOnly | QIODevice::Truncate));
    broken.write("{\"images\": [");
    broken.close();
    EXPECT_TRUE(import_marks(bench, file).contains("not valid JSON"));
    EXPECT_EQ(bench.marking().figure(), before);
}

TEST_F(BenchTest, MomentsAreWalkedByDirection) {
    open();
    for (const int frame : {5, 30, 50}) {
        go_to(frame);
        bench.marking().place({600, 130}, 1);
    }
    app::go_to_moment(bench.review(), -1);
    EXPECT_EQ(bench.deck().frame(), 30);
    app::go_to_moment(bench.review(), -1);
    EXPECT_EQ(bench.deck().frame(), 5);
    app::go_to_moment(bench.review(), -1);
    EXPECT_EQ(bench.deck().frame(), 5);
    app::go_to_moment(bench.review(), 1);
    EXPECT_EQ(bench.deck().frame(), 30);
}

}  // namespace
}  // namespace aspen::app
