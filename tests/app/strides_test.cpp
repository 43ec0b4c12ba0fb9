// A stretch followed from marked moments through the real film: what is read from the followed joints is what
// the simulator's own truth gives.

#include <gmock/gmock.h>

#include <QDir>
#include <algorithm>
#include <fstream>
#include <limits>

#include "app/bench_fixture.hpp"
#include "app/files/cache_folder.hpp"
#include "app/leaving/tracks_exchange.hpp"
#include "app/review/first_look.hpp"
#include "app/review/review_changes.hpp"
#include "app/review/stride_work.hpp"
#include "core/ride/ride.hpp"
#include "exchange/tracks.hpp"

namespace aspen::app {
namespace {

using testing::HasSubstr;

class Strides : public BenchTest {
  protected:
    void SetUp() override {
        auto plan = test::faulty_plan();
        plan.duration_s = 4;
        source = test::simulated_clip(plan, "strides");
        Importer importer(yard);
        bool known = false;
        clip = importer.record(look_at(QString::fromStdString(source.string())), known);
    }
    /// What a test before left in the cache: the same moments were followed there already.
    void forget_kept() {
        const QString hash = QString::fromStdString(yard.records().rides.clip(clip)->hash).left(16);
        QDir cache(cache_folder());
        for (const QString& name : cache.entryList({hash + "*.pass", hash + "*.camera", hash + "*.strides"}))
            cache.remove(name);
    }
    void follow(StrideWork& work) {
        if (work.followed() && !work.outdated()) return;
        work.follow();
        ASSERT_TRUE(work.busy());
        ASSERT_TRUE(wait_for([&] { return !work.busy(); }));
    }
    void mark(int frame) {
        go_to(frame);
        bench.marking().ask_for_others(true);
        mark_all_asked();
        ASSERT_TRUE(bench.review().moment());
    }
    void follow_three_moments(StrideWork& work) {
        open();
        say_everything();
        set_travel(bench.review(), core::Travel::right);
        for (const int share : {1, 3, 5}) mark(share * bench.deck().facts().frames / 6);
        follow(work);
    }
    void say_and_mark_two() {
        open();
        say_everything();
        set_travel(bench.review(), core::Travel::right);
        for (const int share : {1, 5}) mark(share * bench.deck().facts().frames / 6);
    }
    core::Tracks truth() {
        core::Tracks out;
        for (int n = 0; n < bench.deck().facts().frames; ++n) {
            const core::Figure f = test::true_figure(source, n);
            for (const core::Landmark l : core::landmarks_of(core::View::side)) {
                if (f[l].visibility == core::Visibility::seen)
                    out.points.push_back(
                        {n, bench.deck().facts().pts_s[static_cast<std::size_t>(n)], l, f[l].at});
            }
        }
        return out;
    }
};

TEST_F(Strides, WantFiveJointsFirst) {
    forget_kept();
    open();
    StrideWork work(bench);
    QStringList said;
    QObject::connect(&work, &StrideWork::say, [&](const QString& line) { said << line; });
    work.follow();
    ASSERT_EQ(said.size(), 1);
    EXPECT_THAT(said[0].toStdString(), HasSubstr("five joints at least"));
    EXPECT_FALSE(work.report());
}

TEST_F(Strides, AreReadFromTheFollowedJointsAsFromTheTruth) {
    StrideWork work(bench);
    follow_three_moments(work);
    ASSERT_TRUE(work.report());
    const core::MotionReport report = *work.report();
    core::MotionSetting s;
    s.setting = bench.review().setting();
    s.seat_said = true;
    const auto wanted = core::motion_of(truth(), s, yard.knowledge().body, yard.knowledge().schools);
    ASSERT_TRUE(wanted.tempo_per_min) << wanted.strides.size() << wanted.stride_source;
    ASSERT_TRUE(report.tempo_per_min) << report.strides.size() << report.stride_source;
    EXPECT_NEAR(*report.tempo_per_min, *wanted.tempo_per_min, 1.5);
    for (const auto& [id, within] : {std::pair{"leg_swing", 3.0}, {"trunk_swing", 2.0}, {"seat_rise", 2.0}}) {
        const auto *found = core::find(report, id), *right = core::find(wanted, id);
        ASSERT_TRUE(found && found->value && right && right->value) << id;
        std::printf("%s: followed %.2f, true %.2f\n", id, *found->value, *right->value);
        EXPECT_NEAR(*found->value, *right->value, within) << id;
    }
}

TEST_F(Strides, TheFollowedJointsLieOnTheTrueOnes) {
    StrideWork work(bench);
    follow_three_moments(work);
    std::vector<double> off;
    for (int n = 0; n < bench.deck().facts().frames; ++n) {
        const auto f = work.followed_at(n);
        if (!f) continue;
        const core::Figure t = test::true_figure(source, n);
        for (const core::Landmark l :
             {core::Landmark::knee, core::Landmark::ankle, core::Landmark::shoulder}) {
            if ((*f)[l].visibility == core::Visibility::seen)
                off.push_back(core::distance((*f)[l].at, t[l].at));
        }
    }
    std::ranges::sort(off);
    ASSERT_GT(off.size(), 100u);
    std::printf("median off by %.2f px, nine of ten within %.2f px\n", off[off.size() / 2],
                off[off.size() * 9 / 10]);
    EXPECT_LT(off[off.size() / 2], 3.0);
}

TEST_F(Strides, AreSaidInWordsUntilAJointIsMarkedSince) {
    StrideWork work(bench);
    follow_three_moments(work);
    ASSERT_FALSE(work.words().empty());
    EXPECT_THAT(work.words()[0].toStdString(), HasSubstr("The lower leg swings"));
    EXPECT_FALSE(work.outdated());
    mark(bench.deck().facts().frames / 3);
    EXPECT_TRUE(work.outdated()) << "a joint was marked since";
}

TEST_F(Strides, JudgeTheRideWithoutABench) {
    forget_kept();
    say_and_mark_two();
    const store::Ride ride = bench.review().ride();
    EXPECT_TRUE(ride_data(yard, ride).strides.empty());
    StrideWork work(bench);
    follow(work);
    const auto judged = ride_data(yard, ride).strides;
    ASSERT_EQ(judged.size(), 1U) << "the yard judges by them";
    EXPECT_EQ(judged[0].seen, core::seen_in(bench.review().stretch()));
    const auto swing = std::ranges::find(judged[0].values, "leg_swing", &core::StrideValues::measure);
    ASSERT_NE(swing, judged[0].values.end());
    EXPECT_GE(swing->by_stride.size(), 3U);
    EXPECT_EQ(bench.review().gathered(std::nullopt).strides.size(), 1U);
}

TEST_F(Strides, AreFoundInTheCacheAfterANewStart) {
    forget_kept();
    say_and_mark_two();
    {
        StrideWork work(bench);
        EXPECT_FALSE(work.followed());
        follow(work);
        ASSERT_TRUE(work.followed());
        EXPECT_FALSE(work.outdated());
    }
    StrideWork later(bench);
    EXPECT_TRUE(later.followed());
    EXPECT_FALSE(later.busy());
    ASSERT_TRUE(later.report());
    EXPECT_TRUE(later.report()->tempo_per_min);
}

TEST_F(Strides, AreReadAnewWhereTheTravelIsSaidOtherwise) {
    say_and_mark_two();
    const store::Ride ride = bench.review().ride();
    StrideWork work(bench);
    follow(work);
    set_travel(bench.review(), core::Travel::left);
    EXPECT_TRUE(ride_data(yard, ride).strides.empty()) << "another travel is another stretch";
    ASSERT_TRUE(wait_for([&] { return !ride_data(yard, ride).strides.empty(); }))
        << "read anew from the same way, once the hand rests";
    set_travel(bench.review(), core::Travel::right);
    EXPECT_EQ(ride_data(yard, ride).strides.size(), 1U);
}

// A stride that was found wrongly is dropped and counts again; one that starts elsewhere is moved: by the
// coach, undoable, and the judge takes it in.
TEST_F(Strides, AreMendedByTheCoach) {
    forget_kept();
    open();
    say_everything();
    set_travel(bench.review(), core::Travel::right);
    const int frames = bench.deck().facts().frames;
    for (const int share : {1, 5}) mark(share * frames / 6);
    StrideWork work(bench);
    QStringList said;
    QObject::connect(&work, &StrideWork::say, [&](const QString& line) { said << line; });
    work.say_stride_off();
    EXPECT_THAT(said.back().toStdString(), HasSubstr("Follow the joints first"));
    follow(work);
    const auto before = work.report()->strides;
    ASSERT_GE(before.size(), 4U);
    go_to(work.frame_at((before[1].start_s + before[1].end_s) / 2));
    work.say_stride_off();
    ASSERT_EQ(work.report()->strides.size(), before.size() - 1);
    ASSERT_TRUE(wait_for([&] {
        const auto all = ride_data(yard, bench.review().ride()).strides;
        return all.size() == 1 && all[0].values.front().by_stride.size() == before.size() - 1;
    }));
    work.say_stride_off();
    EXPECT_EQ(work.report()->strides.size(), before.size()) << "the same again takes it back";
    const int moved = work.frame_at(before[2].start_s) + 2;
    go_to(moved);
    work.say_stride_starts();
    EXPECT_NEAR(work.report()->strides[2].start_s, work.real_at(moved), 1e-6);
    EXPECT_NEAR(work.report()->strides[1].end_s, work.real_at(moved), 1e-6);
    yard.steps().undo();
    EXPECT_NEAR(work.report()->strides[2].start_s, before[2].start_s, 1e-6);
}

// A joint that is moved bends the way at once; following again only does what is missing.
TEST_F(Strides, AMovedJointBendsTheWayBetweenItsNeighbours) {
    forget_kept();
    open();
    say_everything();
    set_travel(bench.review(), core::Travel::right);
    const int frames = bench.deck().facts().frames;
    const int first = frames / 6, middle = frames / 2, last = 5 * frames / 6;
    for (const int frame : {first, middle, last}) mark(frame);
    StrideWork work(bench);
    follow(work);
    const auto ankle = [&](int frame) { return (*work.followed_at(frame))[core::Landmark::ankle].at; };
    const core::Point near = ankle(middle - 3), far = ankle(first + 1), beyond = ankle(last + 3);
    go_to(middle);
    const core::Point was = bench.marking().figure()[core::Landmark::ankle].at;
    bench.marking().select(core::Landmark::ankle);
    bench.marking().nudge_selected(12, 0);
    ASSERT_NEAR(bench.marking().figure()[core::Landmark::ankle].at.x - was.x, 12, 1e-6);
    EXPECT_GT(ankle(middle - 3).x - near.x, 9) << "most of it, three frames before";
    EXPECT_LT(std::abs(ankle(first + 1).x - far.x), 2) << "next to nothing beside the mark before";
    EXPECT_NEAR(ankle(last + 3).x, beyond.x, 1e-6) << "past the next mark nothing";
    EXPECT_TRUE(work.outdated());
    follow(work);
    EXPECT_FALSE(work.outdated());
}

// What is first marked late in the stretch is followed back to its beginning.
TEST_F(Strides, WhatIsMarkedLaterIsFollowedBack) {
    forget_kept();
    open();
    say_everything();
    set_travel(bench.review(), core::Travel::right);
    go_to(20);
    mark_all_asked();  // the nine that make a first judgement
    ASSERT_EQ(bench.marking().figure()[core::Landmark::withers].visibility, core::Visibility::absent);
    mark(60);
    StrideWork work(bench);
    follow(work);
    const auto at = work.followed_at(5);
    ASSERT_TRUE(at);
    ASSERT_EQ((*at)[core::Landmark::withers].visibility, core::Visibility::seen);
    EXPECT_LT(core::distance((*at)[core::Landmark::withers].at,
                             test::true_figure(source, 5)[core::Landmark::withers].at),
              6);
    ASSERT_TRUE(work.report());
    EXPECT_EQ(work.report()->stride_source, "withers");
}

TEST_F(Strides, LeaveAsTracksThatGiveTheSameStrides) {
    forget_kept();
    open();
    say_everything();
    set_travel(bench.review(), core::Travel::right);
    mark(30);
    mark(110);
    StrideWork work(bench);
    const QString file = QString::fromStdString((folder / "tracks.csv").string());
    EXPECT_THAT(export_tracks(bench, work, file).toStdString(), HasSubstr("not followed yet"));
    follow(work);
    const QString refused = export_tracks(bench, work, file);
    EXPECT_THAT(refused.toStdString(), HasSubstr("consent"))
        << "a minor's joints do not leave without it either";
    auto rider = *yard.records().people.rider(bench.review().rider());
    rider.birth_year = 1980;
    yard.step("grown up", [&] { test::to_write(yard).update(rider); });
    ASSERT_EQ(export_tracks(bench, work, file), "");
    std::ifstream in(file.toStdString());
    const core::Tracks tracks = exchange::read_tracks(in, "tracks.csv");
    ASSERT_EQ(tracks.points.size(), work.tracks()->points.size());
    EXPECT_EQ(tracks.camera.size(), work.tracks()->camera.size());
    const auto& knowledge = yard.knowledge();
    const auto again = core::motion_of(tracks, work.setting(), knowledge.body, knowledge.schools);
    ASSERT_TRUE(again.tempo_per_min && work.report()->tempo_per_min);
    EXPECT_NEAR(*again.tempo_per_min, *work.report()->tempo_per_min, 0.05);
    const auto *a = core::find(again, "leg_swing"), *b = core::find(*work.report(), "leg_swing");
    ASSERT_TRUE(a && b && a->value && b->value);
    EXPECT_NEAR(*a->value, *b->value, 0.05)
        << "hundredths of a pixel and four decimals of a second are enough";
}

TEST_F(Strides, GoOnWhereTheyWereStopped) {
    forget_kept();
    open();
    say_everything();
    mark(10);
    {
        StrideWork work(bench);
        work.follow();
        ASSERT_TRUE(wait_for(
            [&] { return yard.jobs().data(yard.jobs().index(0), Jobs::share_role).toDouble() > 0.2; }));
        work.cancel();
        ASSERT_TRUE(wait_for([&] { return yard.jobs().all_running() == 0; }));
    }
    StrideWork later(bench);
    ASSERT_TRUE(later.followed()) << "what was done until then was kept";
    EXPECT_TRUE(later.outdated()) << "but not to the end";
    EXPECT_TRUE(later.followed_at(12));
    EXPECT_FALSE(later.followed_at(bench.deck().facts().frames - 1));
    follow(later);
    EXPECT_FALSE(later.outdated());
    EXPECT_TRUE(later.followed_at(bench.deck().facts().frames - 1));
}

TEST_F(Strides, StopsAtOnceAndKeepsNothingHalf) {
    forget_kept();
    open();
    say_everything();
    mark(20);
    StrideWork work(bench);
    work.follow();
    ASSERT_TRUE(work.busy());
    work.cancel();
    EXPECT_FALSE(work.busy());
    ASSERT_TRUE(wait_for([&] { return yard.jobs().all_running() == 0; }));
    EXPECT_FALSE(work.report());
    EXPECT_TRUE(work.words().empty());
}

/// A rider standing upright, marked on two frames, and what the flow made of it in between: every joint
/// stands still but one, which slides away from its next mark.
struct SlidingAway {
    static constexpr int kLast = 20;
    explicit SlidingAway(double slides_px) {
        store::Moment first;
        const std::pair<core::Landmark, core::Point> joints[] = {
            {core::Landmark::ear, {300, 100}},   {core::Landmark::shoulder, {300, 140}},
            {core::Landmark::hip, {300, 240}},   {core::Landmark::knee, {350, 310}},
            {core::Landmark::ankle, {320, 390}}, {core::Landmark::withers, {380, 250}}};
        for (const auto& [l, at] : joints)
            first.figure[l] = {at, core::Visibility::seen, 2, core::Origin::clicked, true};
        first.figure.travel = core::Travel::right;
        store::Moment second = first;
        second.frame = kLast;
        plan = plan_to_follow({&first, &second}, core::View::side, 0, kLast);
        followed.landmarks = plan.landmarks;
        media::FollowPass pass{plan.anchors[0], 1, {}, {}};
        for (int n = 1; n <= kLast; ++n) {
            auto& points = pass.frames.emplace_back();
            for (std::size_t i = 0; i < plan.landmarks.size(); ++i) {
                core::Point at = plan.anchors[0].points[i]->at;
                if (plan.landmarks[i] == core::Landmark::withers) at.x += slides_px * n / kLast;
                points.push_back(media::CarriedPoint{at, 0.5, 1, true});
            }
        }
        followed.passes.push_back(pass);
        for (int n = 0; n <= kLast; ++n) pts_s.push_back(n / 25.0);
    }
    bool hidden(core::Landmark l, int frame) const {
        const core::Tracks tracks = tracks_of(plan, followed, pts_s);
        const auto at = std::ranges::find_if(
            tracks.points, [&](const core::TrackPoint& p) { return p.frame == frame && p.landmark == l; });
        return at == tracks.points.end() || at->hidden;
    }
    FollowPlan plan;
    FollowedStretch followed;
    std::vector<double> pts_s;
};

TEST(LostOnTheWay, WhatMissesItsNextMarkByFarIsNotSaidToBeFollowed) {
    const SlidingAway lost(60);  // of a trunk of 100 px
    EXPECT_FALSE(lost.hidden(core::Landmark::withers, 0)) << "marked there";
    EXPECT_TRUE(lost.hidden(core::Landmark::withers, 10));
    EXPECT_TRUE(lost.hidden(core::Landmark::withers, 5));
    EXPECT_FALSE(lost.hidden(core::Landmark::withers, SlidingAway::kLast));
    for (const core::Landmark l : {core::Landmark::shoulder, core::Landmark::hip, core::Landmark::knee})
        EXPECT_FALSE(lost.hidden(l, 10)) << "the others are none the worse for it";
    const SlidingAway drifts(6);
    for (int n = 0; n <= SlidingAway::kLast; ++n)
        EXPECT_FALSE(drifts.hidden(core::Landmark::withers, n))
            << "a little is spread over the way, frame " << n;
}

TEST(LostOnTheWay, WhatAReaderMadeIsNotHiddenForTheErrorOfItsPlace) {
    SlidingAway lost(60);
    lost.followed.by_reader = true;
    EXPECT_FALSE(lost.hidden(core::Landmark::withers, 10));
}

}  // namespace
}  // namespace aspen::app
