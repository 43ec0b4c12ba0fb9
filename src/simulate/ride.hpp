#pragma once

#include <array>
#include <map>
#include <numbers>
#include <optional>
#include <string>
#include <vector>

/// The rider simulator: a jointed rider on a jointed horse. It shares nothing with core's geometry or
/// measures, so that what it knows is a second opinion on them. Defaults are plausible values from memory,
/// not standards.
namespace aspen::simulate {

inline double rad(double degrees) { return degrees * std::numbers::pi / 180; }

/// Metres. x along the line of travel, y up, z to the rider's right.
struct Vec3 {
    double x = 0, y = 0, z = 0;
};

/// In the plane of travel, metres.
struct Vec2 {
    double x = 0, y = 0;
};

enum class Gait { halt, walk, trot, canter, running_walk, pace };
enum class Seat { sitting, rising, two_point };

/// A part of the ride in which the running walk falls into the pace.
struct GaitBreak {
    double from_s = 0, to_s = 0;
};

/// How long a rider's limbs are, metres; nothing is drawn at a joint, so that other lengths look as natural.
struct Limbs {
    double trunk = 0.50, thigh = 0.43, shank = 0.42, foot = 0.25, upper_arm = 0.30, forearm = 0.27;
};

/// Another pace from here on: the tempo times this, taken up over so long.
struct PaceChange {
    double at_s = 0, tempo = 1, over_s = 1.2;
};

/// How one ride goes. Every fault is a number on top of good riding.
struct Ride {
    Gait gait = Gait::walk;
    Seat seat = Seat::sitting;
    unsigned seed = 1;
    bool left_lead = true;  ///< canter
    bool left_diagonal =
        false;  ///< rising trot: seat up with the left foreleg's suspension instead of the right's
    double tempo_per_min = 0;       ///< strides a minute; 0: the gait's own
    double tempo_wander_pct = 1.0;  ///< slow wandering of the tempo
    double wander = 1.0;            ///< scale of the slow wandering of every angle below

    double knee_deg = 118;        ///< inner knee angle while sitting still: the length of the leather
    double trunk_lean_deg = 1;    ///< forward of the upright
    double trunk_swing_deg = 1;   ///< peak to peak, once a stride
    double leg_set_m = 0;         ///< lower leg ahead (+) of or behind (-) the upright under the hip
    double leg_swing_deg = 3;     ///< leather's swing, peak to peak, once a stride
    double heel_drop_deg = 7;     ///< toe above heel
    double ear_ahead_pct = 2;     ///< ear ahead of the shoulder, % of the trunk
    double head_pitch_deg = 0;    ///< chin up
    double upper_arm_deg = 12;    ///< elbow ahead of the shoulder while still
    double hand_up_m = 0;         ///< hand above the line from elbow to bit
    double hand_bounce_m = 0.01;  ///< peak to peak, with the horse's steps
    double rise_m = 0.10, rise_forward_m = 0.08;
    double rise_late = 0;          ///< share of a stride
    double bounce_m = 0;           ///< gap that opens under the seat, sitting
    double lag_ms = 120;           ///< answer of the trunk to a change of speed
    double shoulder_drop_deg = 0;  ///< right shoulder lower
    double lean_right_deg = 0;     ///< trunk to the right
    double shift_right_m = 0;      ///< hips to the right of the horse's middle

    Limbs limbs{};
    std::vector<PaceChange> paces{};
    double overshoot = 0;   ///< share of its answer by which the trunk swings back past where it settles
    double turn_at_s = -1;  ///< from here on the horse is pulled to its right; below 0: it goes straight
    double turn_mps2 = 0;
    double circle_lean_deg = 0;  ///< horse and rider together, to the right: on a circle or at the lunge

    std::vector<GaitBreak> breaks{};  ///< of the running walk
    std::vector<double> fences_m{};   ///< where small fences stand on the line of travel; in canter
    double fold_deg = 12;             ///< how much further the trunk folds in flight
    double leave_early_ms = 0;        ///< how long before take-off the seat has left the saddle
    double flight_leg_slip_deg = 0;   ///< lower leg back in flight
};

/// One jump, seconds.
struct Flight {
    double take_off_s = 0, top_s = 0, landing_s = 0;
};

/// Everything the kinematics know at one instant.
struct Instant {
    double time_s = 0;
    double phase = 0;                         ///< strides since the start
    std::map<std::string, Vec3> rider_right;  ///< landmarks of the right side and of the middle, world
    std::map<std::string, Vec3> rider_left;
    std::map<std::string, Vec3> horse;  ///< landmarks and joints of the horse, world
    std::array<std::array<Vec3, 4>, 4>
        legs;  ///< left hind, left fore, right hind, right fore: top, middle, fetlock, hoof
    std::map<std::string, double> angles;  ///< what was set or follows from the limb lengths, degrees
    double trunk_pitch_rad = 0;
};

struct Footfall {
    int limb;
    double time_s;
};  ///< limb order as in Instant::legs

/// The kinematics of one ride.
class Simulation {
  public:
    explicit Simulation(const Ride& ride);
    Instant at(double time_s) const;
    const Ride& ride() const { return ride_; }
    double phase(double time_s) const;
    std::vector<Footfall> footfalls(double duration_s) const;
    std::vector<Flight> flights(double duration_s) const;
    /// Starts of the strides (whole phases) up to a time.
    std::vector<double> stride_starts(double duration_s) const;
    double stride_length_m() const { return stride_length_m_; }

  private:
    struct Frame;  // the horse's trunk at one instant
    Frame trunk_at(double time_s) const;
    double acceleration(double time_s) const;
    /// To the horse's right, m/s2 and m.
    double sideways_pull(double time_s) const;
    double sideways(double time_s) const;
    void lean_into_circle(Instant& out) const;
    /// How far through the flight over the nearest fence: 0 take-off, 1 landing; outside it beyond these.
    /// Empty where no fence is near.
    std::optional<double> flight_share(double time_s) const;
    double time_of_phase(double phase, double duration_s) const;
    double wander(int channel, double time_s) const;
    void place_legs(const Frame& frame, Instant& out) const;
    /// The parts of place_rider, each from what is placed before it.
    Vec2 seat_at(const Frame& frame) const;
    double lean_at(const Frame& frame) const;
    double leather_slant_at(const Frame& frame) const;
    double sideways_lean_at(double time) const;
    struct Leg {
        Vec2 iron, heel, ankle, knee, toe;
    };
    Leg leg_at(const Frame& frame, Vec2 hip, double slant, double drop) const;
    void shift_sideways(Instant& out, double lean_right_deg) const;
    void place_rider(const Frame& frame, Instant& out) const;
    void place_arm(const Frame& frame, Instant& out, Vec3 shoulder) const;
    void fit_leathers();
    Ride ride_;
    double strides_per_s_ = 0, stride_length_m_ = 0;
    double leather_m_ = 0.5, leather_top_x_ = 0, rein_m_ = 0.6;
    std::array<double, 40> random_{};
};

}  // namespace aspen::simulate
