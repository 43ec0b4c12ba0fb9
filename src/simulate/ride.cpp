#include "simulate/ride.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>

namespace aspen::simulate {

// Frame holds these, so they are not this file's alone.
using V = Vec2;
V operator+(V a, V b) { return {a.x + b.x, a.y + b.y}; }
V operator-(V a, V b) { return {a.x - b.x, a.y - b.y}; }
V operator*(double s, V a) { return {s * a.x, s * a.y}; }
struct GaitFacts {
    double tempo, speed, withers_pp;
    int waves;  // up and down of the withers in a stride
    double crest, pitch_deg, duty, lift, nod_m;
    std::array<double, 4> landing;  // left hind, left fore, right hind, right fore
};

namespace {

constexpr double kPi = std::numbers::pi;
constexpr double kHand = 0.08;
constexpr double kTurnOverS = 0.6, kBackAfterS = 0.4, kGravity = 9.81;
constexpr double kBall = 0.17;                         // heel to ball of the foot, along the sole
constexpr double kAnkleAhead = 0.05, kAnkleUp = 0.07;  // of the heel

double deg(double radians) { return radians * 180 / kPi; }

double length(V a) { return std::hypot(a.x, a.y); }
V unit(V a) { return (1 / std::max(1e-9, length(a))) * a; }

/// The bend of a two-link chain from `from` to `to`. `forward`: the bend points to +x. Straight when out of
/// reach.
V bend(V from, V to, double upper, double lower, bool forward) {
    const V d = to - from;
    const double reach = std::min(length(d), upper + lower - 1e-9);
    const double along = (upper * upper - lower * lower + reach * reach) / (2 * reach);
    const double off = std::sqrt(std::max(0.0, upper * upper - along * along));
    const V e = unit(d);
    V n{-e.y, e.x};
    if ((n.x > 0) != forward) n = -1.0 * n;
    return from + along * e + off * n;
}

GaitFacts facts(Gait gait, bool left_lead) {
    switch (gait) {
        case Gait::walk:
            return {55, 1.6, 0.03, 2, 0.30, 1.5, 0.62, 0.10, 0.06, {0, 0.25, 0.5, 0.75}};
        case Gait::trot:
            return {79, 3.3, 0.07, 2, 0.44, 1.5, 0.38, 0.17, 0.0, {0, 0.5, 0.5, 0}};
        case Gait::canter:
            if (left_lead) return {98, 5.3, 0.12, 1, 0.05, 5, 0.35, 0.20, 0.08, {0.28, 0.5, 0, 0.28}};
            return {98, 5.3, 0.12, 1, 0.05, 5, 0.35, 0.20, 0.08, {0, 0.28, 0.28, 0.5}};
        case Gait::running_walk:  // the head nods deep, twice a stride
            return {85, 2.7, 0.02, 2, 0.30, 1, 0.52, 0.13, 0.14, {0, 0.25, 0.5, 0.75}};
        case Gait::pace:
            return {85, 3.2, 0.04, 2, 0.44, 1, 0.42, 0.15, 0.0, {0, 0, 0.5, 0.5}};
        case Gait::halt:
            break;
    }
    return {12, 0, 0.004, 1, 0, 0.2, 1, 0, 0.01, {0, 0.25, 0.5, 0.75}};
}

/// Between two gaits of the same beat.
GaitFacts between(const GaitFacts& a, const GaitFacts& b, double share) {
    GaitFacts out = a;
    const auto mix = [share](double x, double y) { return x + share * (y - x); };
    out.withers_pp = mix(a.withers_pp, b.withers_pp);
    out.crest = mix(a.crest, b.crest);
    out.duty = mix(a.duty, b.duty);
    out.lift = mix(a.lift, b.lift);
    out.nod_m = mix(a.nod_m, b.nod_m);
    for (std::size_t i = 0; i < out.landing.size(); ++i) out.landing[i] = mix(a.landing[i], b.landing[i]);
    return out;
}

/// 0 below a, 1 above b, smooth between.
double ramp(double x, double a, double b) {
    const double s = std::clamp((x - a) / (b - a), 0.0, 1.0);
    return s * s * (3 - 2 * s);
}

GaitFacts facts_at(const Ride& ride, double t) {
    const GaitFacts own = facts(ride.gait, ride.left_lead);
    if (ride.gait != Gait::running_walk) return own;
    double share = 0;
    for (const GaitBreak& b : ride.breaks)
        share = std::max(share,
                         ramp(t, b.from_s - 0.2, b.from_s + 0.2) * (1 - ramp(t, b.to_s - 0.2, b.to_s + 0.2)));
    return between(own, facts(Gait::pace, false), share);
}

// A small fence of 0.6 m: take-off and landing from it, metres; how high the trunk is thrown.
constexpr double kTakeOff = 1.2, kLanding = 1.4, kThrow = 0.42, kNear = 0.5;

// The horse's trunk, metres from its centre, which stands 1.30 m above the ground.
constexpr double kTrunkHeight = 1.30;
constexpr V kWithers{0.45, 0.36}, kCroup{-0.62, 0.30}, kCantle{-0.17, 0.38}, kSeat{0.09, 0.41},
    kGirth{0.38, -0.26}, kNeckBase{0.60, 0.12}, kBar{0.16, 0.22};

}  // namespace

struct Simulation::Frame {
    double time = 0, phase = 0, pitch = 0;
    std::optional<double> flight{};
    double lift = 0;  ///< of the flight, metres
    V centre{};
    GaitFacts gait{};
    V point(V local) const {
        const double c = std::cos(pitch), s = std::sin(pitch);
        return {centre.x + local.x * c - local.y * s, centre.y + local.x * s + local.y * c};
    }
};

Simulation::Simulation(const Ride& ride) : ride_(ride) {
    const GaitFacts g = facts(ride.gait, ride.left_lead);
    strides_per_s_ = (ride.tempo_per_min > 0 ? ride.tempo_per_min : g.tempo) / 60;
    stride_length_m_ = g.speed > 0 ? g.speed / (g.tempo / 60) : 0;
    std::mt19937 engine(ride.seed);
    for (double& r : random_) r = static_cast<double>(engine()) / 4294967296.0;  // the same on every machine
    fit_leathers();
}

/// Chooses leather length and bar so that the rider, sitting still, has the wanted knee with the heel under
/// the hip, and the rein so that the upper arm hangs as wanted.
void Simulation::fit_leathers() {
    const double hip_ankle =
        std::sqrt(ride_.limbs.thigh * ride_.limbs.thigh + ride_.limbs.shank * ride_.limbs.shank -
                  2 * ride_.limbs.thigh * ride_.limbs.shank * std::cos(rad(ride_.knee_deg)));
    const double a = rad(ride_.heel_drop_deg);
    const V ball_from_heel = kBall * V{std::cos(a), std::sin(a)};
    const V ankle_from_heel =
        kAnkleAhead * V{std::cos(a), std::sin(a)} + kAnkleUp * V{-std::sin(a), std::cos(a)};
    const double drop = std::sqrt(hip_ankle * hip_ankle - ankle_from_heel.x * ankle_from_heel.x);
    const V heel{kSeat.x, kSeat.y - drop - ankle_from_heel.y};
    const V iron = heel + ball_from_heel;
    leather_top_x_ = iron.x;
    leather_m_ = kBar.y - iron.y;
    // Reins are taken up for good riding: who tips further forward bends the arms, the reins grow no shorter.
    const double lean = rad(std::clamp(ride_.trunk_lean_deg, -2.0, 14.0));
    const V shoulder{kSeat.x + ride_.limbs.trunk * std::sin(lean),
                     kSeat.y + ride_.limbs.trunk * std::cos(lean)};
    const V elbow = shoulder + ride_.limbs.upper_arm *
                                   V{std::sin(rad(ride_.upper_arm_deg)), -std::cos(rad(ride_.upper_arm_deg))};
    const V bit{1.29, 0.15};
    rein_m_ = std::max(0.3, length(bit - elbow) - ride_.limbs.forearm - kHand);
}

double Simulation::phase(double t) const {
    double s = t;
    const double depth = ride_.tempo_wander_pct / 100;
    for (int i = 0; i < 2; ++i) {
        const double w = 2 * kPi * (0.11 + 0.13 * i + 0.05 * random_[static_cast<std::size_t>(i)]);
        const double p = 2 * kPi * random_[static_cast<std::size_t>(2 + i)];
        s += depth / w * (std::sin(w * t + p) - std::sin(p));
    }
    for (const PaceChange& c : ride_.paces) {
        // The ramp's own area so far: smooth at both ends.
        const double u = std::clamp((t - c.at_s) / c.over_s, 0.0, 1.0);
        s += (c.tempo - 1) *
             (c.over_s * (u * u * u - u * u * u * u / 2) + std::max(0.0, t - c.at_s - c.over_s));
    }
    return strides_per_s_ * s;
}

double Simulation::sideways_pull(double t) const {
    return ride_.turn_at_s < 0 ? 0 : ride_.turn_mps2 * ramp(t, ride_.turn_at_s, ride_.turn_at_s + kTurnOverS);
}

double Simulation::sideways(double t) const {
    if (ride_.turn_at_s < 0 || t <= ride_.turn_at_s) return 0;
    // Twice the pull's integral: of the smooth ramp u^4/4 - u^5/10, then at an even pull.
    const double u = std::min(1.0, (t - ride_.turn_at_s) / kTurnOverS),
                 rest = std::max(0.0, t - ride_.turn_at_s - kTurnOverS);
    const double ramped = kTurnOverS * kTurnOverS * (u * u * u * u / 4 - u * u * u * u * u / 10);
    return ride_.turn_mps2 * (ramped + rest * kTurnOverS / 2 + rest * rest / 2);
}

/// About the line on the ground under the horse's middle.
void Simulation::lean_into_circle(Instant& out) const {
    const double c = std::cos(rad(ride_.circle_lean_deg)), s = std::sin(rad(ride_.circle_lean_deg));
    const double over = sideways(out.time_s);
    const auto turn = [&](Vec3& p) { p = {p.x, p.y * c - p.z * s, over + p.z * c + p.y * s}; };
    for (auto* all : {&out.rider_right, &out.rider_left, &out.horse}) {
        for (auto& [name, p] : *all) turn(p);
    }
    for (auto& leg : out.legs) {
        for (Vec3& p : leg) turn(p);
    }
}

double Simulation::acceleration(double t) const {
    const double h = 0.02;
    return stride_length_m_ * (phase(t + h) - 2 * phase(t) + phase(t - h)) / (h * h);
}

double Simulation::wander(int channel, double t) const {
    double sum = 0;
    for (int i = 0; i < 2; ++i) {
        const auto k = static_cast<std::size_t>(4 + 2 * channel + i);
        const double w = 2 * kPi * (0.17 + 0.21 * i + 0.1 * random_[k]);
        sum += std::sin(w * t + 2 * kPi * random_[(k + 13) % random_.size()]);
    }
    return ride_.wander * sum / 2;
}

Simulation::Frame Simulation::trunk_at(double t) const {
    Frame f;
    f.time = t;
    f.phase = phase(t);
    f.gait = facts_at(ride_, t);
    const double turn = 2 * kPi * f.gait.waves * (f.phase - f.gait.crest);
    f.pitch = rad(f.gait.pitch_deg) * std::cos(turn - (f.gait.waves == 2 ? kPi / 2 : 0));
    double withers_y = kTrunkHeight + kWithers.y + f.gait.withers_pp / 2 * std::cos(turn);
    f.flight = flight_share(t);
    if (f.flight) {
        // Up before take-off, down to landing, level again after it; the canter's own bounce rests meanwhile.
        const double s = *f.flight, away = ramp(s, -0.35, 0) * (1 - ramp(s, 1, 1.35));
        const double jump = 15 * ramp(s, -0.35, 0.05) - 27 * ramp(s, 0.1, 0.95) + 12 * ramp(s, 1, 1.4);
        f.pitch = (1 - away) * f.pitch + rad(jump);
        f.lift = s > 0 && s < 1 ? 4 * kThrow * s * (1 - s) : 0;
        withers_y = kTrunkHeight + kWithers.y + (1 - away) * f.gait.withers_pp / 2 * std::cos(turn) + f.lift +
                    kWithers.x * std::sin(rad(jump));
    }
    const double c = std::cos(f.pitch), s = std::sin(f.pitch);
    const double withers_x = stride_length_m_ * f.phase + kWithers.x;
    f.centre = {withers_x - (kWithers.x * c - kWithers.y * s), withers_y - (kWithers.x * s + kWithers.y * c)};
    return f;
}

void Simulation::place_legs(const Frame& f, Instant& out) const {
    const double stroke = stride_length_m_ * f.gait.duty;
    for (std::size_t limb = 0; limb < 4; ++limb) {
        const bool fore = limb % 2 == 1;
        const bool right = limb >= 2;
        const double z = (right ? 1 : -1) * (fore ? 0.15 : 0.17);
        // Measured from where the trunk is on the ground, not from its pitching centre: a loaded hoof must
        // not slide.
        const double base = stride_length_m_ * f.phase + (fore ? 0.50 : -0.66);
        double p = f.phase - f.gait.landing[limb];
        p -= std::floor(p);
        V hoof{base, 0};
        double fold = 0;
        if (ride_.gait == Gait::halt) {
            hoof.x += fore ? 0.02 : (right ? -0.05 : 0.06);
        } else if (p < f.gait.duty) {
            // Body and hoof share the phase, so a loaded hoof stands still on the ground to the last bit.
            hoof.x += stroke / 2 - stride_length_m_ * p;
        } else {
            const double s = (p - f.gait.duty) / (1 - f.gait.duty);
            const double slide =
                -stride_length_m_ * (1 - f.gait.duty);  // speed against the body at both ends
            const double h00 = 2 * s * s * s - 3 * s * s + 1, h10 = s * s * s - 2 * s * s + s;
            const double h01 = 1 - h00, h11 = s * s * s - s * s;
            hoof.x += h00 * (-stroke / 2) + h10 * slide + h01 * (stroke / 2) + h11 * slide;
            hoof.y = f.gait.lift * std::sin(kPi * std::pow(s, 0.8)) * (fore ? 1.0 : 0.8);
            fold = std::sin(kPi * s);
        }
        if (f.flight) {
            const double s = *f.flight, tucked = ramp(s, fore ? -0.12 : 0.0, fore ? 0.1 : 0.2) *
                                                 (1 - ramp(s, fore ? 0.82 : 0.92, fore ? 1.0 : 1.12));
            const V up{base + (fore ? 0.10 : -0.05), f.lift + (fore ? 0.55 : 0.42)};
            hoof = hoof + tucked * (up - hoof);
            fold = std::max(fold, 0.8 * tucked);
        }
        const double load =
            fold == 0 && ride_.gait != Gait::halt ? std::sin(kPi * std::min(1.0, p / f.gait.duty)) : 0;
        const double pastern = rad(28 + 22 * load - 75 * fold);
        const V fetlock = hoof + V{-0.19 * std::sin(pastern), 0.19 * std::cos(pastern) + 0.03};
        V top, middle;
        if (fore) {
            const V pivot = f.point({0.52, 0.10});
            top = pivot + 0.36 * unit(0.55 * unit(fetlock - pivot) + V{-0.10, -0.45});
            middle = bend(top, fetlock, 0.47, 0.43, true);
        } else {
            const V pivot = f.point({-0.60, 0.06});
            const double swing = (fetlock.x - pivot.x) * 0.45;
            top = pivot + 0.42 * unit(V{0.45 + swing, -0.9});
            middle = bend(top, fetlock, 0.47, 0.46, false);
        }
        out.legs[limb] = {Vec3{top.x, top.y, z}, Vec3{middle.x, middle.y, z}, Vec3{fetlock.x, fetlock.y, z},
                          Vec3{hoof.x, hoof.y, z}};
    }
}

void Simulation::place_arm(const Frame& f, Instant& out, Vec3 shoulder3) const {
    const V shoulder{shoulder3.x, shoulder3.y};
    const V bit{out.horse.at("bit").x, out.horse.at("bit").y};
    V elbow = shoulder + ride_.limbs.upper_arm *
                             V{std::sin(rad(ride_.upper_arm_deg)), -std::cos(rad(ride_.upper_arm_deg))};
    V knuckle{};
    for (int i = 0; i < 30;
         ++i) {  // the rein keeps its length and the hand lies on the line from elbow to bit
        knuckle = bit + rein_m_ * unit(elbow - bit);
        elbow = bend(shoulder, knuckle, ride_.limbs.upper_arm, ride_.limbs.forearm + kHand, false);
    }
    const double step = std::sin(2 * kPi * 2 * (f.phase - 0.1));
    const double lifted = ride_.hand_up_m + 0.006 * wander(5, f.time) + ride_.hand_bounce_m / 2 * step;
    knuckle.y += lifted;
    const V wanted = knuckle - shoulder;
    const double longest = ride_.limbs.upper_arm + ride_.limbs.forearm + kHand - 0.005;
    if (length(wanted) > longest) knuckle = shoulder + longest * unit(wanted);
    elbow = bend(shoulder, knuckle, ride_.limbs.upper_arm, ride_.limbs.forearm + kHand, false);
    const V wrist = elbow + ride_.limbs.forearm * unit(knuckle - elbow);
    const auto both = [&](const char* name, V p, double z) {
        out.rider_right[name] = {p.x, p.y, z};
        out.rider_left[name] = {p.x, p.y, -z};
    };
    both("elbow", elbow, 0.25);
    both("wrist", wrist, 0.15);
    both("knuckle", knuckle, 0.08);
    const V up = shoulder - elbow, fore = wrist - elbow;
    out.angles["elbow_angle"] = deg(std::acos(std::clamp(
        (up.x * fore.x + up.y * fore.y) / (ride_.limbs.upper_arm * ride_.limbs.forearm), -1.0, 1.0)));
    out.angles["upper_arm"] =
        deg(std::asin(std::clamp((elbow.x - shoulder.x) / ride_.limbs.upper_arm, -1.0, 1.0)));
}

/// Where the hip is: in the saddle, out of it as the seat and the fence ask.
Vec2 Simulation::seat_at(const Frame& f) const {
    const double once = 2 * kPi * f.phase;
    V hip = f.point(kSeat);
    if (ride_.gait == Gait::canter && ride_.seat == Seat::sitting) {
        const double p = once - 2 * kPi * f.gait.crest;
        hip = hip + V{-0.06 * std::cos(p), 0.045 * std::sin(p)};
    }
    if (ride_.seat == Seat::rising) {
        const double top = f.gait.crest + (ride_.left_diagonal ? 0.5 : 0.0) + ride_.rise_late;
        const double up = 0.5 + 0.5 * std::cos(2 * kPi * (f.phase - top));
        hip = hip + up * V{ride_.rise_forward_m, ride_.rise_m};
    }
    if (ride_.seat == Seat::two_point) hip = hip + V{-0.02, 0.08 + 0.015 * std::cos(once * f.gait.waves)};
    if (f.flight) {
        const double early =
            ride_.leave_early_ms / 1000 * stride_length_m_ * strides_per_s_ / (kTakeOff + kLanding);
        hip = hip +
              ramp(*f.flight, -early - 0.12, -early + 0.12) * (1 - ramp(*f.flight, 0.9, 1.2)) * V{0.03, 0.08};
    }
    hip.y +=
        ride_.bounce_m * std::max(0.0, std::cos(2 * kPi * f.gait.waves * (f.phase - f.gait.crest - 0.08)));
    return hip;
}

double Simulation::lean_at(const Frame& f) const {
    return ride_.trunk_lean_deg + 0.5 * ride_.trunk_swing_deg * std::sin(2 * kPi * f.phase + 0.7) +
           (f.flight ? ride_.fold_deg * ramp(*f.flight, -0.2, 0.4) * (1 - ramp(*f.flight, 0.6, 1.1)) : 0) +
           1.2 * wander(0, f.time) - 3.0 * acceleration(f.time - ride_.lag_ms / 1000) +
           3.0 * ride_.overshoot * acceleration(f.time - ride_.lag_ms / 1000 - kBackAfterS);
}

double Simulation::leather_slant_at(const Frame& f) const {
    return deg(std::asin(std::clamp(ride_.leg_set_m / leather_m_, -0.9, 0.9))) +
           0.5 * ride_.leg_swing_deg * std::sin(2 * kPi * f.phase + 2.1) + 0.8 * wander(3, f.time) -
           (f.flight
                ? ride_.flight_leg_slip_deg * ramp(*f.flight, -0.1, 0.4) * (1 - ramp(*f.flight, 0.8, 1.2))
                : 0);
}

/// Into a turn as far as its pull asks, as late as the rider answers, and past it.
double Simulation::sideways_lean_at(double time) const {
    const double late = time - ride_.lag_ms / 1000;
    return ride_.lean_right_deg + deg(std::atan(((1 + ride_.overshoot) * sideways_pull(late) -
                                                 ride_.overshoot * sideways_pull(late - kBackAfterS)) /
                                                kGravity));
}

/// The leg hangs from the bar by the iron, and the knee is where thigh and shank meet.
Simulation::Leg Simulation::leg_at(const Frame& f, V hip, double slant, double drop) const {
    const V bar = f.point({leather_top_x_, kBar.y});
    const V iron = bar + leather_m_ * V{std::sin(rad(slant)), -std::cos(rad(slant))};
    const V sole{std::cos(rad(drop)), std::sin(rad(drop))};
    const V over{-sole.y, sole.x};
    const V heel = iron - kBall * sole;
    const V ankle = heel + kAnkleAhead * sole + kAnkleUp * over;
    return {iron, heel, ankle, bend(hip, ankle, ride_.limbs.thigh, ride_.limbs.shank, true),
            heel + ride_.limbs.foot * sole};
}

/// What is not held by the irons goes with the rider's weight, the trunk with its lean.
void Simulation::shift_sideways(Instant& out, double lean_right_deg) const {
    const double lean_z = ride_.limbs.trunk * std::tan(rad(lean_right_deg));
    for (auto* half : {&out.rider_right, &out.rider_left}) {
        for (auto& [name, p] : *half) {
            const bool upper = name == "ear" || name == "eye" || name == "chin" || name == "crown" ||
                               name == "shoulder" || name == "elbow";
            if (name == "leather_top" || name == "iron" || name == "ankle" || name == "heel" || name == "toe")
                continue;
            p.z += ride_.shift_right_m + (upper ? lean_z : 0);
        }
    }
}

void Simulation::place_rider(const Frame& f, Instant& out) const {
    const V hip = seat_at(f);
    const double lean = lean_at(f), head = ride_.head_pitch_deg + 1.5 * wander(1, f.time),
                 slant = leather_slant_at(f), drop = ride_.heel_drop_deg + 1.0 * wander(4, f.time),
                 leans = sideways_lean_at(f.time);
    const V shoulder = hip + ride_.limbs.trunk * V{std::sin(rad(lean)), std::cos(rad(lean))};
    const V ear =
        shoulder + V{ride_.ear_ahead_pct / 100 * ride_.limbs.trunk + 0.004 * wander(2, f.time), 0.235};
    const V look{std::cos(rad(head)), std::sin(rad(head))};
    const V up{-look.y, look.x};
    const Leg leg = leg_at(f, hip, slant, drop);
    const auto both = [&](const char* name, V p, double z) {
        out.rider_right[name] = {p.x, p.y, z};
        out.rider_left[name] = {p.x, p.y, -z};
    };
    both("ear", ear, 0.08);
    both("eye", ear + 0.09 * look, 0.03);
    both("chin", ear + 0.085 * look + (-0.11) * up, 0);
    both("crown", ear + 0.01 * look + 0.14 * up, 0);
    both("hip", hip, 0.17);
    both("knee", leg.knee, 0.28);
    both("ankle", leg.ankle, 0.30);
    both("heel", leg.heel, 0.28);
    both("toe", leg.toe, 0.31);
    both("leather_top", f.point({leather_top_x_, kBar.y}), 0.20);
    both("iron", leg.iron, 0.30);
    const double drop_y = 0.19 * std::tan(rad(ride_.shoulder_drop_deg));
    out.rider_right["shoulder"] = {shoulder.x, shoulder.y - drop_y, 0.19};
    out.rider_left["shoulder"] = {shoulder.x, shoulder.y + drop_y, -0.19};
    place_arm(f, out, {shoulder.x, shoulder.y, 0});
    shift_sideways(out, leans);
    const V t = leg.knee - hip, s = leg.knee - leg.ankle;
    out.angles["trunk_lean"] = lean;
    out.angles["head_pitch"] = head;
    out.angles["heel_drop"] = drop;
    out.angles["leather"] = slant;
    out.angles["knee_angle"] =
        deg(std::acos(std::clamp((t.x * s.x + t.y * s.y) / (length(t) * length(s)), -1.0, 1.0)));
    out.angles["lateral_lean"] = leans;
    out.angles["shoulder_tilt"] = ride_.shoulder_drop_deg;
}

Instant Simulation::at(double t) const {
    const Frame f = trunk_at(t);
    Instant out;
    out.time_s = t;
    out.phase = f.phase;
    out.trunk_pitch_rad = f.pitch;
    const auto add = [&](const char* name, V local, double z) {
        const V p = f.point(local);
        out.horse[name] = {p.x, p.y, z};
    };
    add("centre", {0, 0}, 0);
    add("withers", kWithers, 0);
    add("croup", kCroup, 0);
    add("cantle", kCantle, 0);
    add("girth", kGirth, 0.25);
    add("dock", {-0.86, 0.16}, 0);
    add("saddle_mid", {-0.14, 0.36}, ride_.shift_right_m * 0.4);
    const double nod = f.gait.nod_m / 2 * std::cos(2 * kPi * f.gait.waves * (f.phase - f.gait.crest) + kPi);
    // Head and neck counter the trunk: the poll keeps its own height and nods about it.
    const V base = f.point(kNeckBase);
    const V poll{base.x + 0.53, kTrunkHeight + 0.62 + nod + 0.8 * f.lift};
    const double nose = rad(19);
    const V bit = poll + V{0.50 * std::sin(nose), -0.50 * std::cos(nose)};
    out.horse["neck_base"] = {base.x, base.y, 0};
    out.horse["poll"] = {poll.x, poll.y, 0};
    out.horse["bit"] = {bit.x, bit.y, 0.07};
    const V muzzle = poll + V{0.64 * std::sin(nose), -0.64 * std::cos(nose)};
    out.horse["muzzle"] = {muzzle.x, muzzle.y, 0};
    place_legs(f, out);
    place_rider(f, out);
    if (ride_.circle_lean_deg != 0 || ride_.turn_at_s >= 0) lean_into_circle(out);
    return out;
}

double Simulation::time_of_phase(double k, double duration_s) const {
    double lo = 0, hi = duration_s;
    for (int i = 0; i < 60; ++i) {
        const double mid = (lo + hi) / 2;
        (phase(mid) < k ? lo : hi) = mid;
    }
    return hi;
}

std::optional<double> Simulation::flight_share(double t) const {
    const double x = stride_length_m_ * phase(t);
    for (const double fence : ride_.fences_m) {
        const double s = (x - fence + kTakeOff) / (kTakeOff + kLanding);
        if (s > -kNear && s < 1 + kNear) return s;
    }
    return std::nullopt;
}

std::vector<Flight> Simulation::flights(double duration_s) const {
    std::vector<Flight> out;
    const double last = stride_length_m_ * phase(duration_s);
    for (const double fence : ride_.fences_m) {
        const auto at = [&](double x) { return time_of_phase(x / stride_length_m_, duration_s); };
        if (fence + kLanding > last) continue;
        out.push_back({at(fence - kTakeOff), at(fence + (kLanding - kTakeOff) / 2), at(fence + kLanding)});
    }
    return out;
}

std::vector<double> Simulation::stride_starts(double duration_s) const {
    std::vector<double> out;
    for (double k = 0; ride_.gait != Gait::halt && phase(duration_s) >= k; ++k)
        out.push_back(time_of_phase(k, duration_s));
    return out;
}

std::vector<Footfall> Simulation::footfalls(double duration_s) const {
    std::vector<Footfall> out;
    if (ride_.gait == Gait::halt) return out;
    const GaitFacts g = facts(ride_.gait, ride_.left_lead);
    for (int limb = 0; limb < 4; ++limb) {
        for (double k = g.landing[static_cast<std::size_t>(limb)]; phase(duration_s) >= k; ++k) {
            // Where the gait has broken, the limb lands at that gait's own place in the stride.
            const double about = time_of_phase(k, duration_s);
            const double moved = facts_at(ride_, about).landing[static_cast<std::size_t>(limb)] -
                                 g.landing[static_cast<std::size_t>(limb)];
            const double at = moved == 0 ? about : time_of_phase(k + moved, duration_s);
            out.push_back({limb, at});
        }
    }
    std::ranges::sort(out, {}, &Footfall::time_s);
    return out;
}

}  // namespace aspen::simulate
