#pragma once

#include <array>
#include <optional>
#include <span>
#include <string_view>

#include "core/geometry.hpp"

/// The words that files, options and screens use for what a rider does. One spelling each, checked on the way
/// in.
namespace aspen::core {

enum class Gait { halt, walk, trot, canter, jump, slow_walk, flat_walk, running_walk, pace, step_pace, rack };
enum class Seat { sitting, rising, two_point, half };
enum class Rein { left, right, straight };

std::string_view word(Gait g);
std::string_view word(Seat s);
std::string_view word(Rein r);
std::string_view word(View v);
/// "left", "right" or "" when not known: direction of travel has no default.
std::string_view word(Travel t);

std::optional<Gait> gait_from(std::string_view w);
std::optional<Seat> seat_from(std::string_view w);
std::optional<Rein> rein_from(std::string_view w);
std::optional<View> view_from(std::string_view w);
std::optional<Travel> travel_from(std::string_view w);

std::span<const std::string_view> movements();
/// Names of moments that suit a gait and seat: standing, foot-falls, top and bottom of the rise, beats, parts
/// of a jump.
std::span<const std::string_view> phases(Gait g, Seat s);
std::span<const std::string_view> all_phases();
bool is_movement(std::string_view w);
bool is_phase(std::string_view w);

/// "two_point" becomes "two-point", "running_walk" "running walk".
std::string_view spoken(Gait g);
std::string_view spoken(Seat s);
std::string_view spoken(Rein r);
/// "rise_top" becomes "top of the rise"; an unknown word stays as it is.
std::string_view spoken_phase(std::string_view phase);

/// Strides a minute that a gait usually has (from memory; TRADE: walk 50-60, trot 75-85, canter 95-105); 0
/// for the halt.
double typical_tempo_per_min(Gait g);

inline constexpr std::array kGaits{Gait::halt, Gait::walk,      Gait::trot,      Gait::canter,
                                   Gait::jump, Gait::slow_walk, Gait::flat_walk, Gait::running_walk,
                                   Gait::pace, Gait::step_pace, Gait::rack};
inline constexpr std::array kSeats{Seat::sitting, Seat::rising, Seat::two_point, Seat::half};

}  // namespace aspen::core
