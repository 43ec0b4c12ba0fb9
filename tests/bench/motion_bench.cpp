// What happens over time, how fast: following with its parts, bending a followed stretch to its marks,
// strides of five minutes, judging a thousand of them. Ratios within one run; memory as a counter.

#include <benchmark/benchmark.h>
#include <sys/resource.h>

#include <cmath>

#include "app/files/data_files.hpp"
#include "core/motion/motion.hpp"
#include "core/ride/ride.hpp"
#include "media/pose/point_follower.hpp"
#include "media/reading/video_reader.hpp"
#include "support/support.hpp"

namespace {

using namespace aspen;
using L = core::Landmark;

constexpr int kFrames = 60;

std::filesystem::path clip(int width, int height) {
    auto plan = test::faulty_plan();
    plan.camera.width = width;
    plan.camera.height = height;
    plan.looks.texture = 1;
    plan.duration_s = 3;
    return test::simulated_clip(plan, "follow-" + std::to_string(height));
}

media::FollowAnchor anchor(const std::filesystem::path& file, int frame, std::size_t points) {
    media::FollowAnchor out{frame, {}};
    const core::Figure f = test::true_figure(file, frame);
    for (const L l : core::landmarks_of(core::View::side)) {
        if (out.points.size() < points && f[l].visibility == core::Visibility::seen)
            out.points.push_back(media::PointToCarry{f[l].at, {}, 0});
    }
    return out;
}

double most_mb() {
    rusage used{};
    getrusage(RUSAGE_SELF, &used);
    return static_cast<double>(used.ru_maxrss) / 1024;
}

/// Two seconds of film: 1 is real time at 2000 ms.
void DecodeAlone(benchmark::State& state) {
    const auto file = clip(static_cast<int>(state.range(0)), static_cast<int>(state.range(1)));
    for (auto _ : state) {
        media::VideoReader reader(file);
        for (int n = 0; n <= kFrames; ++n) benchmark::DoNotOptimize(reader.picture(n));
    }
}
void FollowFourteenPoints(benchmark::State& state) {
    const auto file = clip(static_cast<int>(state.range(0)), static_cast<int>(state.range(1)));
    const bool camera = state.range(2) != 0;
    media::FollowWith with;
    with.trunk_px = core::marked_trunk_px(test::true_figure(file, 0));
    for (auto _ : state) {
        media::VideoReader reader(file);
        media::FollowPass pass{anchor(file, 0, 14), 1, {}, {}};
        media::CameraSteps steps;
        if (!camera) {  // all of them known already
            for (int n = 0; n < kFrames; n += media::kCameraEvery)
                steps[n] = {n + media::kCameraEvery, 1, 0, 0};
        }
        media::follow_on(reader, pass, kFrames, steps, with);
        benchmark::DoNotOptimize(pass.frames.size());
    }
    state.counters["real time"] =
        benchmark::Counter(2.0 * static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(DecodeAlone)->Args({1280, 720})->Args({1920, 1080})->Unit(benchmark::kMillisecond);
BENCHMARK(FollowFourteenPoints)
    ->Args({1280, 720, 1})
    ->Args({1920, 1080, 0})
    ->Args({1920, 1080, 1})
    ->UseRealTime()
    ->Unit(benchmark::kMillisecond);

/// A stretch of so many seconds, twenty points, three marked moments, followed both ways.
void BendThroughTheMarks(benchmark::State& state) {
    const int frames = static_cast<int>(30 * state.range(0));
    std::vector<media::FollowAnchor> anchors;
    std::vector<media::FollowPass> passes;
    for (const int at : {frames / 6, frames / 2, 5 * frames / 6}) {
        media::FollowAnchor a{at, {}};
        for (int i = 0; i < 20; ++i) a.points.push_back(media::PointToCarry{{10.0 * i + at, 5.0 * i}, {}, 0});
        anchors.push_back(a);
        for (const int way : {1, -1}) {
            media::FollowPass pass{a, way, {}, {}};
            for (int n = at + way; n >= 0 && n < frames; n += way) {
                auto& f = pass.frames.emplace_back();
                for (int i = 0; i < 20; ++i)
                    f.push_back(media::CarriedPoint{{10.0 * i + n, 5.0 * i}, 1, 1, true});
            }
            passes.push_back(std::move(pass));
        }
    }
    for (auto _ : state) benchmark::DoNotOptimize(media::bend_through(0, frames - 1, anchors, passes, {}));
}
BENCHMARK(BendThroughTheMarks)->Arg(5)->Arg(60)->Unit(benchmark::kMillisecond);

core::Tracks trot(double seconds) {
    core::Tracks out;
    const core::Figure f = test::true_figure(clip(1280, 720), 10);
    for (int i = 0; i < static_cast<int>(30 * seconds); ++i) {
        const double t = i / 30.0, w = 2 * 3.14159265358979 * t / 0.77;
        for (const L l : core::landmarks_of(core::View::side)) {
            core::Point p = f[l].at;
            p.y += 8 * std::cos(2 * w) + (l == L::hip || l == L::shoulder ? 12 * std::cos(w) : 0);
            if (l == L::ankle || l == L::heel || l == L::toe) p.x += 9 * std::cos(w + 1);
            out.points.push_back({i, t, l, p});
        }
        out.camera[i] = {0, 0, 1};
    }
    return out;
}

void StridesOfAStretch(benchmark::State& state) {
    const auto knowledge = app::shipped_knowledge();
    const core::Tracks tracks = trot(static_cast<double>(state.range(0)));
    core::MotionSetting setting;
    setting.setting = {"hunter", core::Gait::trot, core::Seat::rising, {}, {}};
    setting.seat_said = true;
    std::size_t strides = 0;
    for (auto _ : state)
        strides = core::motion_of(tracks, setting, knowledge->body, knowledge->schools).strides.size();
    state.counters["strides"] = static_cast<double>(strides);
    state.counters["most MB"] = most_mb();
}
BENCHMARK(StridesOfAStretch)->Arg(5)->Arg(60)->Arg(300)->Unit(benchmark::kMillisecond);

void JudgeAThousandStrides(benchmark::State& state) {
    const auto knowledge = app::shipped_knowledge();
    core::RideData ride;
    core::RideStrides s;
    s.setting = {"hunter", core::Gait::trot, core::Seat::rising, {}, {}};
    s.seen = {core::Gait::trot, core::Seat::rising, "right"};
    for (const char* id : {"leg_swing", "seat_rise", "rise_phase"}) {
        core::StrideValues v{id, {}, 0.5};
        for (int i = 0; i < 1000; ++i) v.by_stride.emplace_back(0.01 * (i % 900));
        s.values.push_back(std::move(v));
    }
    ride.strides.push_back(std::move(s));
    for (auto _ : state) benchmark::DoNotOptimize(core::assess_ride(ride, *knowledge));
}
BENCHMARK(JudgeAThousandStrides)->Unit(benchmark::kMillisecond);

}  // namespace
