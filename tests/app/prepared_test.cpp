// A clip looked through before anyone opened it: found, followed, guessed; proposals that count for nothing
// until they are taken.

#include <gmock/gmock.h>

#include <QDateTime>

#include "app/bench_fixture.hpp"
#include "app/review/figure_maker.hpp"
#include "app/review/prepared_here.hpp"
#include "app/review/preparing.hpp"
#include "app/review/review_changes.hpp"
#include "app/review/stride_work.hpp"
#include "core/ride/ride.hpp"
#include "media/pose/rider_finder.hpp"
#include "media/pose/rider_reader.hpp"

namespace aspen::app {
namespace {

using testing::HasSubstr;

class PreparedRide : public BenchTest {
  protected:
    void SetUp() override {
        if (!FigureMaker::has_model())
            GTEST_SKIP() << "the body-pose network is not there (./aspen setup fetches it)";
        auto plan = test::faulty_plan();
        plan.duration_s = 6;
        source = test::simulated_clip(plan, "prepared");
        Importer importer(yard);
        bool known = false;
        clip = importer.record(look_at(QString::fromStdString(source.string())), known);
        const media::VideoReader reader(source);
        set_length(yard, clip, reader.facts().duration_s, reader.facts().frames);
        for (const auto& c : yard.records().rides.clips()) {
            if (c.id != clip) trash_clip(yard, c.id);
        }
    }
    std::string hash() { return yard.records().rides.clip(clip)->hash; }
    /// Through the queue, as it runs overnight.
    void prepare() {
        Preparing preparing(yard);
        int done = 0;
        QObject::connect(&preparing, &Preparing::prepared, [&](store::ClipId id) { done += id == clip; });
        preparing.start();
        if (kept_prepared(hash())) return;  // by the test before
        ASSERT_TRUE(wait_for([&] { return done > 0; }));
    }
    /// Takes what was prepared and goes to the first moment that waits; how many do.
    std::size_t go_to_a_telling_moment(PreparedHere& here) {
        prepare();
        open();
        say_everything();
        here.reload();
        here.take();
        const auto waiting = here.open_moments();
        bench.deck().go_to(0);
        EXPECT_TRUE(!waiting.empty() && here.go(1));
        EXPECT_TRUE(!waiting.empty() && bench.deck().frame() == waiting.front().frame);
        EXPECT_TRUE(wait_for([&] { return bench.deck().picture_is_current(); }));
        return waiting.size();
    }
};

TEST_F(PreparedRide, FindsTheRiderAndSaysWhatItSeems) {
    prepare();
    const auto p = kept_prepared(hash());
    ASSERT_TRUE(p && p->found());
    EXPECT_EQ(p->travel, core::Travel::right);
    ASSERT_FALSE(p->stretches.empty()) << "something goes evenly";
    EXPECT_EQ(p->stretches.front().gait, core::Gait::trot);
    EXPECT_TRUE(p->stretches.front().rising);
    EXPECT_GE(p->stretches.front().strides, 4);
    EXPECT_NEAR(p->stretches.front().tempo_per_min, 79, 4);
    EXPECT_THAT(in_words(*p).toStdString(), HasSubstr("Seems trot, rising"));
    EXPECT_THAT(in_words(*p).toStdString(), HasSubstr("the camera stands upright"));
    for (const auto& [frame, figure] : p->anchors) {
        const core::Figure truth = test::true_figure(source, frame);
        const double trunk = core::marked_trunk_px(truth);
        for (const core::Landmark l : {core::Landmark::hip, core::Landmark::shoulder})
            EXPECT_LT(core::distance(figure[l].at, truth[l].at), 0.25 * trunk) << core::id(l);
    }
}

TEST_F(PreparedRide, CountsForNothingUntilItIsTaken) {
    prepare();
    open();
    PreparedHere here(bench);
    here.reload();
    ASSERT_TRUE(here.prepared());
    EXPECT_TRUE(here.can_take());
    EXPECT_FALSE(bench.review().stretch().gait) << "proposed, not said";
    EXPECT_TRUE(yard.records().reviews.moments(clip).empty());
    EXPECT_TRUE(ride_data(yard, bench.review().ride()).moments.empty());
    const int steps = static_cast<int>(bench.review().stretches().size());
    here.take();
    EXPECT_EQ(bench.review().stretch().gait, core::Gait::trot);
    EXPECT_EQ(bench.review().stretch().travel, core::Travel::right);
    ASSERT_TRUE(here.prepared()->upright) << "posts and letters stand there";
    EXPECT_TRUE(bench.review().stretch().camera.roll_marked);
    EXPECT_NEAR(bench.review().stretch().camera.roll_deg, 0, 1) << "as it was painted";
    EXPECT_LT(bench.review().stretch().camera.roll_sd_deg, core::CameraPose::kUnmarkedRollSdDeg);
    EXPECT_FALSE(here.can_take());
    yard.steps().undo();
    EXPECT_FALSE(bench.review().stretch().gait) << "one step";
    EXPECT_EQ(static_cast<int>(bench.review().stretches().size()), steps);
}

TEST_F(PreparedRide, ATellingMomentIsMarkedByOneKeyAndStillWaitsForAYes) {
    PreparedHere here(bench);
    const std::size_t open_before = go_to_a_telling_moment(here);
    QStringList said;
    QObject::connect(&here, &PreparedHere::say, [&](const QString& line) { said << line; });
    here.mark_here();
    ASSERT_TRUE(bench.review().moment()) << said.join("|").toStdString();
    const core::Figure& figure = bench.review().moment()->figure;
    EXPECT_GE(figure.marked(), 4);
    for (const core::Mark& m : figure.marks) EXPECT_FALSE(m.measurable()) << "nothing is confirmed yet";
    EXPECT_EQ(here.open_moments().size() + 1, open_before);
    here.mark_here();
    EXPECT_THAT(said.back().toStdString(), HasSubstr("marked already"));
}

/// The open clip as it stands with the figure that was read offered on its first telling moment.
class OfferedFigure : public PreparedRide {
  protected:
    /// False where the network is not there.
    void offer() {
        prepare();
        open();
        say_everything();
        here.reload();
        bench.deck().go_to(0);
        ASSERT_TRUE(here.go(1));
        ASSERT_TRUE(bench.marking().offered());
        ASSERT_TRUE(wait_for([&] { return bench.deck().picture_is_current(); }));
    }
    std::size_t written() { return yard.records().reviews.moments(clip).size(); }
    PreparedHere here{bench};
};

TEST_F(OfferedFigure, AClipNobodyMarkedOpensOnItsFirstTellingMoment) {
    prepare();
    open();
    EXPECT_TRUE(wait_for([&] { return bench.marking().offered(); }));
    ASSERT_FALSE(here.open_moments().empty());
    EXPECT_EQ(bench.deck().frame(), here.open_moments().front().frame);
    EXPECT_EQ(written(), 0U) << "it stands there and counts for nothing";
}

TEST_F(OfferedFigure, IsWholeAndNearTheTruthAndJudgesNothing) {
    offer();
    const core::Figure figure = bench.marking().figure();
    const core::Figure truth = test::true_figure(source, bench.deck().frame());
    const double trunk = core::marked_trunk_px(truth);
    for (const core::Landmark l : {core::Landmark::ear, core::Landmark::shoulder, core::Landmark::elbow,
                                   core::Landmark::hip, core::Landmark::knee}) {
        ASSERT_NE(figure[l].visibility, core::Visibility::absent) << core::id(l);
        EXPECT_LT(core::distance(figure[l].at, truth[l].at), 0.25 * trunk) << core::id(l);
        EXPECT_GT(figure[l].sd_px, 0.035 * trunk) << "the reader's own place is off by so much at least";
    }
    // Drawn feet are not always seen for feet; what was not is laid, and waits for a yes of its own.
    for (const core::Landmark l : {core::Landmark::heel, core::Landmark::toe, core::Landmark::knuckle}) {
        ASSERT_NE(figure[l].visibility, core::Visibility::absent) << core::id(l);
        if (figure[l].origin == core::Origin::laid) continue;
        EXPECT_EQ(figure[l].origin, core::Origin::proposed) << core::id(l);
        EXPECT_LT(core::distance(figure[l].at, truth[l].at), 0.35 * trunk) << core::id(l);
        EXPECT_GT(figure[l].sd_px, 0.05 * trunk) << core::id(l) << ": the sole is inferred";
    }
    for (const core::Mark& m : figure.marks) EXPECT_FALSE(m.measurable());
    for (const core::Judged& j : bench.marking().judged())
        EXPECT_EQ(j.verdict, core::Verdict::not_judged) << j.info().id;
}

TEST_F(OfferedFigure, OneKeyTakesWhatWasSeenAndAsksForTheRest) {
    offer();
    const int frame = bench.deck().frame();
    bench.marking().confirm();
    ASSERT_TRUE(bench.review().moment());
    EXPECT_EQ(bench.review().moment()->frame, frame);
    EXPECT_FALSE(bench.marking().offered());
    const core::Figure& taken = bench.review().moment()->figure;
    EXPECT_TRUE(taken.measurable(core::Landmark::shoulder));
    EXPECT_TRUE(taken.measurable(core::Landmark::hip));
    const auto left = bench.marking().waiting();
    for (const core::Landmark l : core::landmarks_of(core::View::side)) {
        if (taken[l].visibility == core::Visibility::absent) continue;
        EXPECT_EQ(taken.measurable(l), taken[l].origin != core::Origin::laid)
            << core::id(l) << ": what nothing in the picture supported waits";
    }
    EXPECT_EQ(bench.marking().selected().has_value(), !left.empty())
        << "the first doubtful one is under the loupe";
    yard.steps().undo();
    EXPECT_EQ(written(), 0U) << "one step";
}

TEST_F(OfferedFigure, AMovedJointMakesItTheFramesOwn) {
    offer();
    const core::Point was = bench.marking().figure()[core::Landmark::knee].at;
    const core::Point shoulder = bench.marking().figure()[core::Landmark::shoulder].at;
    bench.marking().select(core::Landmark::knee);
    bench.marking().nudge_selected(3, -2);
    ASSERT_TRUE(bench.review().moment());
    const core::Figure& own = bench.review().moment()->figure;
    EXPECT_NEAR(own[core::Landmark::knee].at.x, was.x + 3, 1e-9);
    EXPECT_NEAR(own[core::Landmark::knee].at.y, was.y - 2, 1e-9);
    EXPECT_TRUE(own.measurable(core::Landmark::knee));
    EXPECT_EQ(own[core::Landmark::shoulder].at, shoulder);
    EXPECT_FALSE(own.measurable(core::Landmark::shoulder)) << "that one still waits for a yes";
    bench.marking().nudge_selected(1, 0);
    EXPECT_NEAR(bench.review().moment()->figure[core::Landmark::knee].at.x, was.x + 4, 1e-9);
}

TEST_F(OfferedFigure, IsOfTheRiderItWasReadForAlone) {
    offer();
    add_companion(bench.review(), {}, {});
    ASSERT_EQ(bench.review().slot(), 1);
    EXPECT_FALSE(bench.marking().offered()) << "somebody else rides there as well";
    EXPECT_EQ(bench.marking().figure().marked(), 0);
    bench.marking().confirm();
    EXPECT_EQ(written(), 0U);
    EXPECT_TRUE(here.open_moments().empty()) << "who is who the coach says";
}

TEST_F(OfferedFigure, AJointMovedATenthOfTheTrunkBesideWhereItWasReadAsksForItself) {
    offer();
    Marking& marking = bench.marking();
    const double trunk = core::marked_trunk_px(marking.figure());
    marking.select(core::Landmark::knee);
    for (int i = 0; i < 5; ++i) marking.nudge_selected(0.02 * trunk, 0);
    EXPECT_TRUE(marking.seen_elsewhere(core::Landmark::knee));
    marking.confirm();
    const auto own = [&] { return bench.review().moment()->figure; };
    EXPECT_TRUE(own().measurable(core::Landmark::shoulder));
    EXPECT_FALSE(own().measurable(core::Landmark::knee)) << "who takes all at once did not look at this one";
    EXPECT_THAT(marking.waiting(), testing::Contains(core::Landmark::knee));
    marking.confirm(core::Landmark::knee);
    EXPECT_TRUE(own().measurable(core::Landmark::knee)) << "a yes of its own";
}

TEST_F(OfferedFigure, ACorrectionMovesTheSameJointOnEveryOtherMoment) {
    offer();
    Marking& marking = bench.marking();
    const double trunk = core::marked_trunk_px(marking.figure());
    const auto all = here.open_moments();
    ASSERT_GE(all.size(), 2U);
    const int later = all.back().frame;
    const core::Figure before = here.figure_on(later).value();
    marking.select(core::Landmark::knee);
    marking.nudge_selected(0.05 * trunk, 0);
    marking.confirm();
    const core::Figure after = here.figure_on(later).value();
    EXPECT_NEAR(after[core::Landmark::knee].at.x - before[core::Landmark::knee].at.x, 0.032 * trunk,
                0.008 * trunk)
        << "one correction counts 0.64 (reader_offset_test)";
    EXPECT_EQ(after[core::Landmark::knee].put_at, before[core::Landmark::knee].put_at) << "read where it was";
    EXPECT_LT(after[core::Landmark::knee].sd_px, before[core::Landmark::knee].sd_px);
    EXPECT_EQ(after[core::Landmark::ear].at, before[core::Landmark::ear].at);
    yard.steps().undo();
    yard.steps().undo();
    EXPECT_EQ((*here.figure_on(later))[core::Landmark::knee].at, before[core::Landmark::knee].at);
}

TEST_F(OfferedFigure, IsGoneWhereTheCoachGoesOn) {
    offer();
    bench.deck().step(1);
    EXPECT_FALSE(bench.marking().offered());
    EXPECT_EQ(bench.marking().figure().marked(), 0);
    EXPECT_EQ(written(), 0U);
    bench.deck().step(-1);
    bench.marking().confirm();
    EXPECT_EQ(written(), 0U) << "nothing stands there any more that a key could take";
}

TEST_F(PreparedRide, OneConfirmedMomentBendsWhatWasFollowedOvernightToIt) {
    PreparedHere here(bench);
    go_to_a_telling_moment(here);
    here.mark_here();
    StrideWork work(bench);
    bench.marking().confirm();
    ASSERT_TRUE(work.report());
    EXPECT_GE(work.report()->strides.size(), 3U);
    EXPECT_TRUE(work.outdated())
        << "the marks themselves were not followed yet, and the judge waits for that";
    EXPECT_TRUE(ride_data(yard, bench.review().ride()).strides.empty());
}

TEST_F(PreparedRide, AStopIsHeededAndPausesTheQueue) {
    auto plan = test::faulty_plan();
    plan.duration_s = 6;
    // Another clip in each run: what was looked through once lies in the cache.
    plan.ride.seed = static_cast<unsigned>(QDateTime::currentMSecsSinceEpoch() % 1'000'000'000);
    const auto other = test::simulated_clip(plan, "prepared-stopped");
    Importer importer(yard);
    bool known = false;
    const auto id = importer.record(look_at(QString::fromStdString(other.string())), known);
    const media::VideoReader reader(other);
    set_length(yard, id, reader.facts().duration_s, reader.facts().frames);
    Preparing preparing(yard);
    preparing.start();
    ASSERT_TRUE(preparing.busy());
    yard.jobs().stop_all();
    ASSERT_TRUE(wait_for([&] { return yard.jobs().all_running() == 0; }));
    EXPECT_FALSE(preparing.on());
    EXPECT_FALSE(preparing.busy());
}

TEST_F(PreparedRide, ReadingStopsOnItsWay) {
    media::VideoReader reader(source);
    media::PoseNetwork network(FigureMaker::model_file().toStdString());
    constexpr int kFrame = 20;
    const auto found = media::find_rider(network, reader.picture(kFrame));
    ASSERT_TRUE(found);
    std::atomic<bool> stop{false};
    int steps = 0;
    const media::ReadWith with{&stop, [&](double) {
                                   if (++steps == 5) stop = true;
                               }};
    std::vector<media::ReadRun> runs;
    media::CameraSteps camera;
    EXPECT_THROW(media::read_rider(reader, {network}, {{kFrame, found->figure}}, runs, camera, with),
                 media::ReadCancelled);
    EXPECT_EQ(steps, 5) << "not a frame further";
    EXPECT_TRUE(runs.empty());
}

TEST(WhatAClipSeems, SaysTheSeatWhereTheGaitTellsIt) {
    Prepared p;
    p.stretches = {{0, 60, core::Gait::walk, false, 0, 0},
                   {61, 120, core::Gait::trot, true, 6, 78},
                   {121, 180, core::Gait::canter, false, 3, 100}};
    EXPECT_EQ(seat_of(p.stretches[0]), core::Seat::sitting);
    EXPECT_EQ(seat_of(p.stretches[1]), core::Seat::rising);
    EXPECT_EQ(seat_of(p.stretches[2]), std::nullopt) << "in two-point or sat: the coach says";
    EXPECT_EQ(in_words(p),
              "Seems walk, sitting; then trot, rising: 6 strides, 78 a minute; then canter: 3 "
              "strides, 100 a minute");
}

/// Two seconds are too few to name a gait, and a figure waits all the same.
TEST(AShortClip, HasThreeFiguresThatWaitThoughNothingIsSaidOfItsGait) {
    if (!FigureMaker::has_model())
        GTEST_SKIP() << "the body-pose network is not there (./aspen setup fetches it)";
    auto plan = test::faulty_plan();
    plan.duration_s = 1.8;
    const auto clip = test::simulated_clip(plan, "short-waiting");
    Job job(0, {}, true);
    const Prepared seems =
        prepare({QString::fromStdString(clip.string()), "short-waiting", {}}, *shipped_knowledge(), job);
    ASSERT_TRUE(seems.found());
    EXPECT_TRUE(seems.stretches.empty());
    ASSERT_EQ(seems.moments.size(), 3U);
    EXPECT_LT(seems.moments[0].frame, seems.moments[1].frame);
    EXPECT_LT(seems.moments[1].frame, seems.moments[2].frame);
    EXPECT_LT(seems.moments[2].frame, 54);
    for (const PreparedMoment& m : seems.moments) EXPECT_EQ(m.phase, "") << "no phase is made up";
}

TEST(RiderFinder, FindsNobodyWhereNobodyIs) {
    if (!FigureMaker::has_model())
        GTEST_SKIP() << "the body-pose network is not there (./aspen setup fetches it)";
    media::PoseNetwork network(FigureMaker::model_file().toStdString());
    media::Picture grey;
    grey.width = 320;
    grey.height = 180;
    grey.bgra.assign(320 * 180 * 4, 120);
    EXPECT_FALSE(media::find_rider(network, grey));
}

}  // namespace
}  // namespace aspen::app
