#include "app/demo/demo_yard.hpp"

namespace aspen::app {
namespace {

using simulate::ClipPlan;

ClipPlan base_plan(simulate::Gait gait, simulate::Seat seat, unsigned seed, bool left) {
    ClipPlan p;
    p.ride.gait = gait;
    p.ride.seat = seat;
    p.ride.seed = seed;
    p.camera.travel_left = left;
    p.duration_s = 4.0;
    return p;
}

/// `fault` runs from 1 (as at the first review) towards 0 (held).
DemoReview bram(int days_ago, double fault, unsigned seed, bool reviewed) {
    ClipPlan p = base_plan(simulate::Gait::walk, simulate::Seat::sitting, seed, false);
    p.ride.knee_deg = 127;
    p.ride.leg_set_m = 0.015 + 0.115 * fault;
    p.ride.trunk_lean_deg = -0.5 - 10 * fault;
    p.ride.heel_drop_deg = 6;
    p.ride.upper_arm_deg = 14;
    p.looks.coat = QColor(0x7a, 0x4a, 0x2a);
    p.looks.jacket = QColor(0x8c, 0x3f, 0x2f);
    p.looks.breeches = QColor(0x54, 0x5e, 0x6b);
    p.looks.pad = QColor(0xc9, 0xa0, 0x54);
    return {"Bram Oddleif",
            "Old Thunder",
            "stock",
            core::Gait::walk,
            core::Seat::sitting,
            days_ago,
            reviewed,
            p,
            "T17:00:00",
            store::Place::lesson,
            "",
            "",
            ""};
}

DemoReview ines(int days_ago, double fault, unsigned seed, bool reviewed) {
    ClipPlan p = base_plan(simulate::Gait::trot, simulate::Seat::sitting, seed, true);
    p.ride.knee_deg = 121;
    p.ride.heel_drop_deg = 5.5 - 13 * fault;
    p.ride.trunk_lean_deg = 0.5;
    p.ride.leg_set_m = 0.01 - 0.02 * fault;
    p.looks.coat = QColor(0xb4, 0xb2, 0xae);
    p.looks.mane = QColor(0x63, 0x63, 0x66);
    p.looks.jacket = QColor(0x2b, 0x2f, 0x3a);
    p.looks.pad = QColor(0xf0, 0xec, 0xe2);
    return {"Ines Varga-Holt",
            "Cobalt",
            "classical",
            core::Gait::trot,
            core::Seat::sitting,
            days_ago,
            reviewed,
            p,
            "T17:00:00",
            store::Place::lesson,
            "",
            "",
            ""};
}

DemoReview joss(int days_ago, double fault, unsigned seed, bool reviewed) {
    ClipPlan p = base_plan(simulate::Gait::trot, simulate::Seat::rising, seed, false);
    p.ride.knee_deg = 108;
    p.ride.rise_m = 0.08;
    p.ride.rise_forward_m = 0.05;
    p.ride.heel_drop_deg = 12 - 4 * fault;
    p.ride.trunk_lean_deg = 13 + 17 * fault;
    p.ride.leg_set_m = 0.05 - 0.17 * fault;
    p.ride.leg_swing_deg = 3 + 6 * fault;
    p.ride.upper_arm_deg = 16;
    p.looks.coat = QColor(0x9a, 0x5f, 0x33);
    p.looks.socks = QColor(0xea, 0xe4, 0xd8);
    p.looks.jacket = QColor(0x3f, 0x5c, 0x3c);
    return {"Joss Penhallow",
            "Fig",
            "hunter",
            core::Gait::trot,
            core::Seat::rising,
            days_ago,
            reviewed,
            p,
            "T17:00:00",
            store::Place::lesson,
            "",
            "",
            ""};
}

DemoReview maude(int days_ago, double fault, unsigned seed, bool reviewed) {
    ClipPlan p = base_plan(simulate::Gait::canter, simulate::Seat::two_point, seed, false);
    p.ride.knee_deg = 98;
    p.ride.heel_drop_deg = 13;
    p.ride.trunk_lean_deg = 17 + 30 * fault;
    p.ride.leg_set_m = 0.02 - 0.09 * fault;
    p.ride.ear_ahead_pct = 8;
    p.ride.upper_arm_deg = 30;
    p.looks.coat = QColor(0xc2, 0x8b, 0x4b);
    p.looks.mane = QColor(0xe6, 0xd8, 0xb8);
    p.looks.jacket = QColor(0x5b, 0x2f, 0x4a);
    p.looks.pad = QColor(0x2f, 0x4b, 0x6e);
    return {"Maude Estrell",
            "Saffron",
            "jumper",
            core::Gait::canter,
            core::Seat::two_point,
            days_ago,
            reviewed,
            p,
            "T17:00:00",
            store::Place::lesson,
            "",
            "",
            ""};
}

DemoReview pell(int days_ago, double fault, unsigned seed, bool reviewed) {
    ClipPlan p = base_plan(simulate::Gait::walk, simulate::Seat::sitting, seed, true);
    p.ride.knee_deg = 125;
    p.ride.heel_drop_deg = 6;
    p.ride.trunk_lean_deg = 0.0;
    p.ride.leg_set_m = 0.01;
    p.ride.upper_arm_deg = 12 - 27 * fault;
    p.looks.coat = QColor(0x4e, 0x38, 0x2c);
    p.looks.jacket = QColor(0x3f, 0x62, 0x74);
    p.looks.breeches = QColor(0x6a, 0x58, 0x45);
    p.looks.pad = QColor(0x6d, 0x7f, 0x5a);
    return {"Pell Marrow",
            "Bramble Pie",
            "gaited",
            core::Gait::walk,
            core::Seat::sitting,
            days_ago,
            reviewed,
            p,
            "T17:00:00",
            store::Place::lesson,
            "",
            "",
            ""};
}

}  // namespace

namespace {

/// The leg swings in a way that no single frame shows; the coach had the joints followed.
DemoReview swinging(DemoReview r, double degrees) {
    r.plan.ride.leg_swing_deg = degrees;
    r.followed = true;
    return r;
}
/// Up when the horse comes down.
DemoReview against_the_beat(DemoReview r, double late) {
    r.plan.ride.rise_late = late;
    r.followed = true;
    return r;
}
/// A running walk that falls into the pace twice, logged by key.
DemoReview running(DemoReview r) {
    r.gait = core::Gait::running_walk;
    r.plan.ride.gait = simulate::Gait::running_walk;
    r.plan.ride.breaks = {{2.0, 2.8}, {4.4, 5.1}};
    r.plan.duration_s = 6;
    r.logged = {{0.1, "rein_left", ""}, {0.5, "aid", "with=calf"}, {1.2, "answer", ""},
                {2.1, "break", ""},     {2.9, "set_again", ""},    {3.1, "aid", "with=calf"},
                {4.0, "answer", ""},    {4.5, "break", ""},        {5.2, "set_again", ""}};
    return r;
}
/// Two small fences, one stride between them.
DemoReview grid(DemoReview r) {
    r.gait = core::Gait::jump;
    r.plan.ride.fences_m = {8.0, 15.0};
    r.plan.ride.leave_early_ms = 180;
    r.plan.ride.flight_leg_slip_deg = 10;
    r.plan.duration_s = 4.5;
    r.followed = true;
    return r;
}

}  // namespace

std::vector<DemoReview> demo_reviews() {
    // Joss sent two clips of one lesson; they are one ride.
    DemoReview second = joss(1, 0.75, 306, false);
    second.clock = "T17:12:00";
    DemoReview first = joss(1, 0.75, 305, false);
    first.plan.ride.leg_swing_deg = 27;
    first.question = "Is my leg steadier than last time?";
    DemoReview hurting = bram(2, 0.95, 105, false);
    hurting.hurts = "left knee";
    DemoReview remote = ines(3, 0.12, 205, false);
    remote.place = store::Place::home;
    std::vector<DemoReview> out{first,
                                hurting,
                                remote,
                                second,
                                joss(118, 1.0, 300, true),
                                swinging(joss(90, 0.95, 301, true), 30),
                                against_the_beat(joss(62, 0.65, 302, true), 0.13),
                                joss(34, 0.45, 303, true),
                                joss(15, 0.20, 304, true),
                                bram(85, 1.0, 100, true),
                                bram(57, 1.05, 101, true),
                                bram(36, 0.8, 102, true),
                                bram(16, 0.85, 103, true),
                                ines(99, 1.0, 200, true),
                                ines(71, 0.7, 201, true),
                                ines(43, 0.35, 202, true),
                                ines(20, 0.1, 203, true),
                                maude(80, 1.0, 400, true),
                                maude(52, 0.4, 401, true),
                                maude(31, 0.15, 402, true),
                                grid(maude(10, 0.5, 403, true)),
                                pell(66, 1.0, 500, true),
                                pell(38, 0.5, 501, true),
                                running(pell(12, 0.05, 502, true))};
    return out;
}

}  // namespace aspen::app
