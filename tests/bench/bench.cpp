// How fast: measuring, judging, exact frames, painting. Compare ratios within one run, not seconds between machines.

#include <benchmark/benchmark.h>

#include <QGuiApplication>
#include <random>

#include "app/data_files.hpp"
#include "media/video_reader.hpp"
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
    for (auto _ : state) benchmark::DoNotOptimize(core::assess(f, {"hunter", core::Gait::trot, core::Seat::rising, "rise_top", {}}, *knowledge));
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

void PaintOneFrame(benchmark::State& state) {
    const auto plan = test::faulty_plan();
    const simulate::Simulation simulation(plan.ride);
    const simulate::ArenaPainter arena(plan.camera, 1);
    for (auto _ : state) benchmark::DoNotOptimize(simulate::paint_frame(plan, arena, simulate::projection_at(plan, simulation, 0.7), simulation.at(0.7)));
}
BENCHMARK(PaintOneFrame)->Unit(benchmark::kMillisecond);

}  // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QGuiApplication application(argc, argv);
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
}
