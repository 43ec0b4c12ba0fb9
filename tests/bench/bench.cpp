// How fast: measuring, judging, exact frames, painting. Compare ratios within one run, not seconds between
// machines.

#include <benchmark/benchmark.h>

#include <QGuiApplication>
#include <random>

#include "app/files/data_files.hpp"
#include "app/review/bench.hpp"
#include "app/yard/importer.hpp"
#include "core/ride/ride.hpp"
#include "media/reading/video_reader.hpp"
#include "support/support.hpp"

namespace {

using namespace aspen;

std::filesystem::path clip() {
    auto plan = test::faulty_plan();
    plan.duration_s = 4;
    return test::simulated_clip(plan, "bench");
}

void MeasureOneMoment(benchmark::State& state) {
    const auto knowledge = app::shipped_knowledge();
    const core::Figure f = test::true_figure(clip(), 20);
    for (auto _ : state) benchmark::DoNotOptimize(core::measure(f, knowledge->body));
}
BENCHMARK(MeasureOneMoment)->Unit(benchmark::kMicrosecond);

void AssessOneMoment(benchmark::State& state) {
    const auto knowledge = app::shipped_knowledge();
    const core::Figure f = test::true_figure(clip(), 20);
    core::RideData ride;
    ride.moments.push_back({f, {"hunter", core::Gait::trot, core::Seat::rising, "rise_top", {}}, {}, true});
    for (auto _ : state) benchmark::DoNotOptimize(core::assess_ride(ride, *knowledge));
}
BENCHMARK(AssessOneMoment)->Unit(benchmark::kMicrosecond);

void OpenClip(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(media::VideoReader(clip()).facts().frames);
}
BENCHMARK(OpenClip)->Unit(benchmark::kMillisecond);

void StepForward(benchmark::State& state) {
    media::VideoReader reader(clip());
    int n = 0;
    for (auto _ : state) benchmark::DoNotOptimize(reader.picture(n++ % reader.facts().frames));
}
BENCHMARK(StepForward)->Unit(benchmark::kMillisecond);

void RandomFrameOfAFreshReader(benchmark::State& state) {
    std::mt19937 engine(1);
    for (auto _ : state) {
        state.PauseTiming();
        media::VideoReader reader(clip());
        state.ResumeTiming();
        benchmark::DoNotOptimize(reader.native_md5(static_cast<int>(engine() % 120)));
    }
}
BENCHMARK(RandomFrameOfAFreshReader)->Unit(benchmark::kMillisecond);

/// A yard with one clip whose review holds ten stretches and thirty moments of twenty joints.
class FullReview {
  public:
    FullReview()
        : yard(QString::fromStdString((folder / "yard").string()), app::shipped_knowledge()), bench(yard) {
        auto plan = test::faulty_plan();
        plan.duration_s = 60;
        plan.camera.width = 1920;
        plan.camera.height = 1080;
        const auto file = test::simulated_clip(plan, "bench-minute");
        app::Importer importer(yard);
        bool known = false;
        clip = importer.record(app::look_at(QString::fromStdString(file.string())), known);
        test::Said c;
        c.rider = add_rider(yard, test::rider("Maude Estrell", 1990, "hunter"));
        c.horse = add_horse(yard, {{}, "Saffron", 165, ""});
        yard.quietly([&] {
            test::say(yard, clip, c);
            core::Stretches stretches;
            for (int i = 0; i < 10; ++i) {
                stretches.push_back({});
                stretches.back().first = i * 180;
                stretches.back().gait = i % 2 ? core::Gait::canter : core::Gait::trot;
                stretches.back().seat = core::Seat::rising;
                stretches.back().travel = core::Travel::right;
            }
            set_stretches(yard, clip, stretches, "stretches");
            for (int i = 0; i < 30; ++i) {
                store::Moment m;
                m.clip = clip;
                m.frame = i * 60 + 5;
                m.time_s = m.frame / 30.0;
                m.phase = "rise_top";
                m.figure = test::true_figure(file, m.frame);
                add_moment(yard, m);
            }
        });
    }
    void open() {
        bench.open(clip);
        while (!bench.deck().ready() || bench.deck().picture().isNull())
            QCoreApplication::processEvents(QEventLoop::AllEvents, 5);
    }
    test::TempFolder folder;
    app::Yard yard;
    app::Bench bench;
    store::ClipId clip;
};

FullReview& full_review() {
    static FullReview review;
    return review;
}

/// Ten stretches, thirty moments, six hundred joints: from the card to the first picture with its figure and
/// findings.
void OpenAFullReview(benchmark::State& state) {
    FullReview& r = full_review();
    r.open();
    for (auto _ : state) {
        r.bench.close();
        r.open();
    }
}
BENCHMARK(OpenAFullReview)->Unit(benchmark::kMillisecond);

/// One movement of a held joint: the neighbours, every measure with its error, verdicts and the faults of all
/// moments.
void DragOneJoint(benchmark::State& state) {
    FullReview& r = full_review();
    r.open();
    r.bench.deck().go_to(65);
    while (!r.bench.deck().picture_is_current()) QCoreApplication::processEvents(QEventLoop::AllEvents, 5);
    core::Figure f = r.bench.marking().figure();
    for (core::Mark& m : f.marks) m.confirmed = false;
    r.bench.marking().put_figure(f, std::nullopt, "unconfirmed");
    double x = 0;
    for (auto _ : state) {
        const core::Point at = f[core::Landmark::knee].at;
        r.bench.marking().drag(core::Landmark::knee, {at.x + (x += 0.1), at.y}, 1);
    }
    r.bench.marking().end_drag();
}
BENCHMARK(DragOneJoint)->Unit(benchmark::kMillisecond);

void PaintOneFrame(benchmark::State& state) {
    const auto plan = test::faulty_plan();
    const simulate::Simulation simulation(plan.ride);
    const simulate::ArenaPainter arena(plan.camera, 1);
    for (auto _ : state)
        benchmark::DoNotOptimize(simulate::paint_frame(
            plan, arena, simulate::projection_at(plan, simulation, 0.7), simulation.at(0.7)));
}
BENCHMARK(PaintOneFrame)->Unit(benchmark::kMillisecond);

}  // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QGuiApplication application(argc, argv);
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
}
