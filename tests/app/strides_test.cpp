// A stretch followed from marked moments through the real film: what is read from the followed joints is what
// the simulator's own truth gives.

#include <gmock/gmock.h>

#include <QElapsedTimer>
#include <algorithm>

#include "app/bench_fixture.hpp"
#include "app/review/first_look.hpp"
#include "app/review/stride_work.hpp"

namespace aspen::app {
namespace {

using testing::HasSubstr;

class Strides : public BenchTest {
  protected:
    void SetUp() override {
        auto plan = test::faulty_plan();
        plan.duration_s = 5;
        source = test::simulated_clip(plan, "strides");
        Importer importer(yard);
        bool known = false;
        clip = importer.record(look_at(QString::fromStdString(source.string())), known);
    }
    void mark(int frame) {
        go_to(frame);
        bench.marking().ask_for_others(true);
        mark_all_asked();
        ASSERT_TRUE(bench.review().moment());
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

TEST_F(Strides, AreReadFromTheFollowedJointsAsFromTheTruth) {
    open();
    say_everything();
    bench.review().set_travel(core::Travel::right);
    StrideWork work(bench);
    QStringList said;
    QObject::connect(&work, &StrideWork::say, [&](const QString& line) { said << line; });
    work.follow();
    ASSERT_EQ(said.size(), 1);
    EXPECT_THAT(said[0].toStdString(), HasSubstr("five joints at least"));
    EXPECT_FALSE(work.report());
    const int frames = bench.deck().facts().frames;
    for (const int share : {1, 3, 5}) mark(share * frames / 6);
    QElapsedTimer clock;
    clock.start();
    work.follow();
    EXPECT_TRUE(work.busy());
    ASSERT_TRUE(wait_for([&] { return !work.busy(); }, 120000));
    const double took = static_cast<double>(clock.elapsed()) / 1000;
    std::printf("followed %d frames in %.1f s, %.2f of real time\n", frames, took,
                bench.deck().facts().duration_s / took);
    const auto report = work.report();
    ASSERT_TRUE(report);
    core::MotionSetting s;
    s.setting = bench.review().setting();
    s.seat_said = true;
    const auto wanted = core::motion_of(truth(), s, yard.knowledge().body, yard.knowledge().schools);
    ASSERT_TRUE(wanted.tempo_per_min) << wanted.strides.size() << wanted.stride_source;
    ASSERT_TRUE(report->tempo_per_min) << report->strides.size() << report->stride_source;
    EXPECT_NEAR(*report->tempo_per_min, *wanted.tempo_per_min, 1.5);
    const auto of = [](const core::MotionReport& r, const char* id) {
        return *std::ranges::find(r.measures, id, &core::MotionMeasure::id);
    };
    for (const auto& [id, within] : {std::pair{"leg_swing", 3.0}, {"trunk_swing", 2.0}, {"seat_rise", 2.0}}) {
        const auto found = of(*report, id), right = of(wanted, id);
        ASSERT_TRUE(found.value && right.value) << id << ' ' << found.reason;
        std::printf("%s: followed %.2f, true %.2f\n", id, *found.value, *right.value);
        EXPECT_NEAR(*found.value, *right.value, within) << id;
    }
    std::vector<double> off;
    for (int n = 0; n < frames; ++n) {
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
    EXPECT_FALSE(work.words().empty());
    EXPECT_THAT(work.words()[0].toStdString(), HasSubstr("The lower leg swings"));
    EXPECT_FALSE(work.outdated());
    mark(frames / 3);
    EXPECT_TRUE(work.outdated()) << "a joint was marked since";
}

TEST_F(Strides, StopsAtOnceAndKeepsNothingHalf) {
    open();
    say_everything();
    mark(20);
    StrideWork work(bench);
    work.follow();
    ASSERT_TRUE(work.busy());
    work.cancel();
    EXPECT_FALSE(work.busy());
    ASSERT_TRUE(wait_for([&] { return yard.jobs().all_running() == 0; }, 5000));
    EXPECT_FALSE(work.report());
    EXPECT_TRUE(work.words().empty());
}

}  // namespace
}  // namespace aspen::app
