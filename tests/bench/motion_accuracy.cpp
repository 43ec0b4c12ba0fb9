// How far measures over strides are off when joints are followed through a film: simulated rides whose truth
// is known, three moments marked with 2 px of noise (at 1080), at three sizes of fault and as a phone spoils
// pictures.
//   motion_accuracy     a Markdown table on standard output, for docs/accuracy.md
// Truth: the same measures on the simulator's own joints under a steady, clean camera.

#include <fmt/format.h>

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QGuiApplication>
#include <algorithm>
#include <filesystem>
#include <map>
#include <random>

#include "app/files/data_files.hpp"
#include "app/rides/follow_plan.hpp"
#include "core/motion/motion.hpp"
#include "media/reading/video_reader.hpp"
#include "simulate/clip_maker.hpp"

namespace {

using namespace aspen;
using L = core::Landmark;

struct Scenario {
    std::string name;
    simulate::ClipPlan plan;
};

simulate::ClipPlan trot(double swing, double late, double hand, double rise) {
    simulate::ClipPlan p;
    p.ride.gait = simulate::Gait::trot;
    p.ride.seat = simulate::Seat::rising;
    p.ride.leg_swing_deg = swing;
    p.ride.rise_late = late;
    p.ride.hand_bounce_m = hand;
    p.ride.rise_m = rise;
    p.ride.seed = static_cast<unsigned>(31 + 100 * swing);
    p.duration_s = 6;
    return p;
}

std::vector<Scenario> scenarios() {
    std::vector<Scenario> out{{"middling, flat cloth", trot(10, 0.06, 0.04, 0.10)},
                              {"small faults, 720p", trot(4, 0.0, 0.01, 0.08)},
                              {"middling", trot(10, 0.06, 0.04, 0.10)},
                              {"large", trot(18, 0.12, 0.08, 0.14)}};
    const auto with = [&](const char* name, auto change) {
        Scenario s{name, trot(10, 0.06, 0.04, 0.10)};
        change(s.plan.camera, s.plan);
        out.push_back(s);
    };
    using C = simulate::Camera;
    using P = simulate::ClipPlan;
    with("middling, 1080p", [](C& c, P&) { c.width = 1920, c.height = 1080; });
    with("360p", [](C& c, P&) { c.width = 640, c.height = 360; });
    with("60 pictures a second", [](C& c, P&) { c.fps = 60; });
    with("travelling left", [](C& c, P&) { c.travel_left = true; });
    with("hand-held", [](C& c, P&) { c.shake = 0.01; });
    with("zooming in by a quarter", [](C& c, P&) { c.zoom = 0.25; });
    with("blur of half a picture's time", [](C& c, P&) { c.shutter = 0.5; });
    with("grain of 8", [](C& c, P&) { c.grain = 8; });
    with("lamps flicker by 5 %", [](C& c, P&) { c.flicker = 0.05; });
    with("hard compression (crf 34)", [](C&, P& p) { p.quality_crf = 34; });
    with("a phone in a dim hall: all of these", [](C& c, P& p) {
        c.shake = 0.008, c.shutter = 0.5, c.grain = 6, c.flicker = 0.03;
        p.quality_crf = 30;
    });
    Scenario canter{"canter, sitting", {}};
    canter.plan.ride.gait = simulate::Gait::canter;
    canter.plan.ride.seed = 77;
    canter.plan.duration_s = 6;
    out.push_back(canter);
    canter.name = "canter, hand-held with blur";
    canter.plan.camera.shake = 0.01, canter.plan.camera.shutter = 0.5;
    out.push_back(canter);
    for (std::size_t i = 1; i < out.size(); ++i) out[i].plan.looks.texture = 1;
    return out;
}

/// A camera that spoils nothing, where this one stands.
simulate::ClipPlan clean(simulate::ClipPlan p) {
    p.camera.shake = p.camera.zoom = p.camera.shutter = p.camera.grain = p.camera.flicker = 0;
    return p;
}

using Points = std::map<std::string, simulate::TruePoint>;
Points true_at(const simulate::ClipPlan& plan, const simulate::Simulation& s, double t) {
    return simulate::true_points(s.at(t), simulate::projection_at(plan, s, t));
}

core::Tracks true_tracks(const simulate::ClipPlan& plan, const std::vector<double>& pts) {
    const simulate::ClipPlan steady = clean(plan);
    const simulate::Simulation s(plan.ride);
    core::Tracks out;
    for (std::size_t n = 0; n < pts.size(); ++n) {
        for (const auto& [name, p] : true_at(steady, s, pts[n])) {
            if (const auto l = core::landmark_from(name); l && !p.hidden)
                out.points.push_back({static_cast<int>(n), pts[n], *l, {p.x, p.y}});
        }
        out.camera[static_cast<int>(n)] = {};
    }
    return out;
}

core::MotionSetting setting(const simulate::ClipPlan& plan) {
    core::MotionSetting out;
    out.setting.school = "classical";
    const bool canter = plan.ride.gait == simulate::Gait::canter;
    out.setting.gait = canter ? core::Gait::canter : core::Gait::trot;
    out.setting.seat = canter ? core::Seat::sitting : core::Seat::rising;
    out.seat_said = true;
    out.travel = plan.camera.travel_left ? core::Travel::left : core::Travel::right;
    out.camera = {0, 0.3, 0, 2, true, true};  // an upright was drawn, the view set square by the drawn horse
    out.anchor_sd_px = core::click_sd_px(plan.camera.width, plan.camera.height);
    const double trunk_px = 0.5 * plan.camera.height / plan.camera.metres_high;
    out.follow_sd_px = 0.007 * trunk_px;  // as app/review/stride_values.cpp
    return out;
}

std::vector<store::Moment> marked(const simulate::ClipPlan& plan, const std::vector<double>& pts) {
    std::mt19937 engine(plan.ride.seed);
    std::normal_distribution<double> noise(0, core::click_sd_px(plan.camera.width, plan.camera.height));
    const simulate::Simulation s(plan.ride);
    std::vector<store::Moment> out;
    for (const std::size_t n : {pts.size() / 6, pts.size() / 2, 5 * pts.size() / 6}) {
        store::Moment m;
        m.frame = static_cast<int>(n);
        for (const auto& [name, p] : true_at(plan, s, pts[n])) {
            const auto l = core::landmark_from(name);
            if (!l || p.hidden) continue;
            m.figure[*l] = {{p.x + noise(engine), p.y + noise(engine)}, core::Visibility::seen, 2};
        }
        m.figure.travel = plan.camera.travel_left ? core::Travel::left : core::Travel::right;
        out.push_back(m);
    }
    return out;
}

struct Tally {
    int inside = 0, all = 0;
};

struct TrackErrors {
    double median = 0, nine_of_ten = 0, lost = 0;
};
TrackErrors errors_of(const core::Tracks& found, const simulate::ClipPlan& plan) {
    const simulate::Simulation s(plan.ride);
    std::vector<double> off;
    int lost = 0, frame = -1;
    Points truth;
    for (const core::TrackPoint& p : found.points) {
        if (p.frame != frame) truth = true_at(plan, s, p.time_s), frame = p.frame;
        if (p.hidden) {
            ++lost;
            continue;
        }
        const simulate::TruePoint& t = truth.at(std::string(core::id(p.landmark)));
        off.push_back(std::hypot(p.at.x - t.x, p.at.y - t.y) * 720 / plan.camera.height);
    }
    std::ranges::sort(off);
    return {off[off.size() / 2], off[off.size() * 9 / 10],
            100.0 * lost / static_cast<double>(found.points.size())};
}

}  // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QGuiApplication application(argc, argv);
    const auto knowledge = app::shipped_knowledge();
    const auto folder = std::filesystem::temp_directory_path() / "aspen-motion-accuracy";
    std::filesystem::create_directories(folder);
    std::map<std::string, Tally> tallies;
    fmt::print(
        "| ride | track, px at 720p: half, nine of ten | lost | of real time | measure | true | found | "
        "inside |\n"
        "|---|---|---|---|---|---|---|---|\n");
    for (const Scenario& scenario : scenarios()) {
        const auto file = folder / "clip.mp4";
        std::filesystem::remove(file);
        simulate::make_clip(scenario.plan, file);
        media::VideoReader reader(file);
        const std::vector<double> pts = reader.facts().pts_s;
        const auto moments = marked(scenario.plan, pts);
        const int last = static_cast<int>(pts.size()) - 1;
        app::FollowPlan plan =
            app::plan_to_follow(app::follow_anchors(moments, 0, 0, last), core::View::side, 0, last);
        plan.file = QString::fromStdString(file.string());
        plan.hash =
            fmt::format("accuracy{:08x}{}", std::random_device{}(), scenario.name);  // nothing kept is used
        app::Job job(1, "", true);
        QElapsedTimer clock;
        clock.start();
        const app::FollowedStretch followed = app::follow(plan, {}, job);
        const double times = pts.back() / (static_cast<double>(clock.elapsed()) / 1000);
        const core::Tracks tracks = app::tracks_of(plan, followed, pts);
        const TrackErrors off = errors_of(tracks, scenario.plan);
        const auto s = setting(scenario.plan);
        const auto found = core::motion_of(tracks, s, knowledge->body, knowledge->schools);
        const auto truth =
            core::motion_of(true_tracks(scenario.plan, pts), s, knowledge->body, knowledge->schools);
        std::string head = fmt::format("{} | {:.2f}, {:.2f} | {:.0f} % | {:.2f}", scenario.name, off.median,
                                       off.nine_of_ten, off.lost, times);
        for (const core::MotionMeasure& t : truth.measures) {
            if (!t.value || t.id == "strides_held" || t.id == "hip_loop_sense" || t.id == "hip_loop_tilt" ||
                t.id == "horse_nod" || t.id == "chin_nod")
                continue;
            const core::MotionMeasure* f = core::find(found, t.id);
            if (!f || !f->value) {
                fmt::print("| {} | {} | {:.2f} | not judged: {} | |\n", head, t.id, *t.value,
                           f ? f->reason : "");
            } else {
                const double q = 1.645 * f->sd * (f->strides < 30 ? 1.2 : 1);
                const bool in = std::abs(*f->value - *t.value) <= q;
                tallies[t.id].inside += in, ++tallies[t.id].all;
                fmt::print("| {} | {} | {:.2f} | {:.2f} ± {:.2f} | {} |\n", head, t.id, *t.value, *f->value,
                           f->sd, in ? "yes" : "no");
            }
            head = " | | | ";
        }
        std::fflush(stdout);
    }
    fmt::print("\n| measure | true value inside the stated 90 % |\n|---|---|\n");
    Tally all;
    for (const auto& [id, t] : tallies) {
        fmt::print("| {} | {} of {} |\n", id, t.inside, t.all);
        all.inside += t.inside, all.all += t.all;
    }
    fmt::print("| all | {} of {} |\n", all.inside, all.all);
}
