// What happens over the strides, recovered from the simulator's own truth: its tracks go through core, and
// what was set comes out. Nothing is painted here; docs/accuracy.md has the same through film.

#include <gmock/gmock.h>

#include <cmath>

#include "core/core_support.hpp"
#include "core/motion/motion.hpp"
#include "simulate/clip_maker.hpp"

namespace aspen::simulate {
namespace {

Ride plain_ride(Gait gait, Seat seat) {
    Ride r;
    r.gait = gait;
    r.seat = seat;
    return r;
}

/// The simulator's truth as tracks, its camera standing still.
core::Tracks tracks_of(const ClipPlan& plan, const Simulation& s, bool hooves = false) {
    core::Tracks out;
    for (int n = 0; n < static_cast<int>(plan.duration_s * plan.camera.fps); ++n) {
        const double t = n / plan.camera.fps;
        const Instant now = s.at(t);
        const Projection view = projection_at(plan, s, t);
        for (const auto& [name, p] : true_points(now, view)) {
            if (const auto l = core::landmark_from(name)) out.points.push_back({n, t, *l, {p.x, p.y}});
        }
        for (std::size_t i = 0; hooves && i < 4; ++i) {
            const QPointF p = view.display(now.legs[i][3]);
            out.hooves.push_back({n, t, core::kHooves[i], {p.x(), p.y()}});
        }
        out.camera[n] = {0, 0, 1};
    }
    return out;
}
core::MotionSetting motion_setting(core::Gait gait, core::Seat seat) {
    core::MotionSetting out;
    out.setting.gait = gait;
    out.setting.seat = seat;
    out.seat_said = true;
    return out;
}
const core::Knowledge& known() { return test::knowledge(); }

TEST(Recovered, HowLateTheRiderAnswersAChangeOfPace) {
    for (const double lag : {0.0, 120.0, 300.0}) {
        ClipPlan plan;
        plan.camera.pan = false;
        plan.duration_s = 10;
        plan.ride = plain_ride(Gait::trot, Seat::sitting);
        plan.ride.wander = 0;
        plan.ride.paces = {{5, 1.35, 1.0}};
        plan.ride.lag_ms = lag;
        auto s = motion_setting(core::Gait::trot, core::Seat::sitting);
        s.change_at_s = 5.5;
        const auto r =
            core::motion_of(tracks_of(plan, Simulation(plan.ride)), s, known().body, known().schools);
        const core::MotionMeasure* m = core::find(r, "trunk_lag_ms");
        ASSERT_TRUE(m && m->value) << lag << ' ' << m->reason;
        EXPECT_NEAR(*m->value, lag, 45);
    }
}

TEST(Recovered, HowLateAndHowFarTheRiderLeansIntoATurn) {
    const auto seen = [&](double lag, double overshoot) {
        ClipPlan plan;
        plan.camera.from = From::behind;
        plan.camera.pan = false;
        plan.duration_s = 9;
        plan.ride = plain_ride(Gait::trot, Seat::sitting);
        plan.ride.wander = 0;
        plan.ride.turn_at_s = 5;
        plan.ride.turn_mps2 = 0.9;
        plan.ride.lag_ms = lag;
        plan.ride.overshoot = overshoot;
        auto s = motion_setting(core::Gait::trot, core::Seat::sitting);
        s.view = core::View::rear;
        s.change_at_s = 5.3;
        return core::motion_of(tracks_of(plan, Simulation(plan.ride)), s, known().body, known().schools);
    };
    for (const double lag : {100.0, 350.0}) {
        const auto r = seen(lag, 0);
        const core::MotionMeasure* m = core::find(r, "lateral_lag_ms");
        ASSERT_TRUE(m && m->value) << lag << ' ' << m->reason << ' ' << m->numbers.at("r");
        EXPECT_NEAR(*m->value, lag, 60);
        EXPECT_LT(*core::find(r, "overshoot_pct")->value, 12);
    }
    EXPECT_GT(*core::find(seen(150, 0.6), "overshoot_pct")->value, 15);
}

TEST(Recovered, FootfallsFromFollowedHooves) {
    struct Case {
        Gait gait;
        core::Gait is;
        double limb_phase, duty;
    };
    for (const Case& c :
         {Case{Gait::trot, core::Gait::trot, 50, 38}, Case{Gait::walk, core::Gait::walk, 25, 62},
          Case{Gait::running_walk, core::Gait::running_walk, 25, 52},
          Case{Gait::pace, core::Gait::pace, 0, 42}}) {
        for (const double fps : {30.0, 60.0}) {
            ClipPlan plan;
            plan.camera.pan = false;
            plan.camera.fps = fps;
            plan.duration_s = 8;
            plan.ride = plain_ride(c.gait, Seat::sitting);
            const Simulation s(plan.ride);
            const auto r =
                core::motion_of(tracks_of(plan, s, true), motion_setting(c.is, core::Seat::sitting),
                                known().body, known().schools);
            ASSERT_TRUE(r.hooves && r.hooves->limb_phase_pct) << static_cast<int>(c.gait);
            EXPECT_NEAR(std::remainder(*r.hooves->limb_phase_pct - c.limb_phase, 100), 0, 2) << fps;
            EXPECT_NEAR(*r.hooves->duty_pct, c.duty, 4) << fps;
            EXPECT_EQ(r.stride_source, "hooves");
            const auto starts = s.footfalls(plan.duration_s);
            ASSERT_FALSE(r.strides.empty());
            double off = 1;
            for (const Footfall& f : starts) {
                if (core::kHooves[static_cast<std::size_t>(f.limb)] == r.hooves->reference)
                    off = std::min(off, std::abs(f.time_s - r.strides.front().start_s));
            }
            EXPECT_LT(off, 1.2 / fps) << "a stride starts where that hoof lands, to a picture";
        }
    }
}

TEST(Recovered, TheLeadOfACanterByItsHooves) {
    for (const bool left : {true, false}) {
        ClipPlan plan;
        plan.camera.pan = false;
        plan.camera.fps = 60;
        plan.duration_s = 6;
        plan.ride = plain_ride(Gait::canter, Seat::sitting);
        plan.ride.left_lead = left;
        const auto r = core::motion_of(tracks_of(plan, Simulation(plan.ride), true),
                                       motion_setting(core::Gait::canter, core::Seat::sitting), known().body,
                                       known().schools);
        ASSERT_TRUE(r.hooves);
        EXPECT_EQ(r.hooves->left_lead, left);
        EXPECT_EQ(r.hooves->beats, 3);
    }
}

TEST(Recovered, TheRiseAgainstTheDiagonalThatWasLogged) {
    for (const bool left : {false, true}) {
        for (const double late : {0.0, 0.08, -0.08}) {
            ClipPlan plan;
            plan.camera.pan = false;
            plan.duration_s = 8;
            plan.ride = plain_ride(Gait::trot, Seat::rising);
            plan.ride.left_diagonal = left;
            plan.ride.rise_late = late;
            const Simulation s(plan.ride);
            auto setting = motion_setting(core::Gait::trot, core::Seat::rising);
            // The rider sits as that diagonal's fore foot stands: half its stance after it lands.
            for (const Footfall& f : s.footfalls(plan.duration_s)) {
                const bool its = f.limb == (left ? 1 : 3);
                if (its && f.time_s > 2 && setting.events.empty())
                    setting.events = {{f.time_s + 0.19 * 60 / 79, left ? "diagonal_left" : "diagonal_right"}};
            }
            const auto r = core::motion_of(tracks_of(plan, s), setting, known().body, known().schools);
            const core::MotionMeasure* m = core::find(r, "rise_phase");
            ASSERT_TRUE(m && m->value) << m->reason;
            EXPECT_NEAR(*m->value, late, 0.03) << left;
        }
    }
}

}  // namespace
}  // namespace aspen::simulate
