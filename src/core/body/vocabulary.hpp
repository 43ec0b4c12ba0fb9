#pragma once

#include <array>
#include <optional>
#include <span>
#include <string_view>

#include "core/body/geometry.hpp"

/// The words that files, options and screens use for what a rider does. One spelling each, checked on the way
/// in.
namespace aspen::core {

enum class Gait { halt, walk, trot, canter, jump, slow_walk, flat_walk, running_walk, pace, step_pace, rack };
enum class Seat { sitting, rising, two_point, half };
enum class Rein { left, right, straight };

/// Riding state: what the rider has in hand and under foot, and who holds the line.
enum class Stirrups { on, off };
enum class ReinsHeld { both, one, none };
enum class Hands { reins, saddle, strap, mane, out, thigh };
enum class Line { free, lunge, lead };
enum class Mount { horse, mechanical };
/// Which leg of the rider is towards the camera on a circle.
enum class CircleLeg { inner, outer };

std::string_view word(Stirrups s);
std::string_view word(ReinsHeld r);
std::string_view word(Hands h);
std::string_view word(Line l);
std::string_view word(Mount m);
std::string_view word(CircleLeg c);

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

/// How many words an enum of this file has.
template <typename Enum>
inline constexpr std::size_t kWordCount = 0;
template <>
inline constexpr std::size_t kWordCount<Gait> = 11;
template <>
inline constexpr std::size_t kWordCount<Seat> = 4;
template <>
inline constexpr std::size_t kWordCount<Rein> = 3;
template <>
inline constexpr std::size_t kWordCount<View> = 3;
template <>
inline constexpr std::size_t kWordCount<Stirrups> = 2;
template <>
inline constexpr std::size_t kWordCount<ReinsHeld> = 3;
template <>
inline constexpr std::size_t kWordCount<Hands> = 6;
template <>
inline constexpr std::size_t kWordCount<Line> = 3;
template <>
inline constexpr std::size_t kWordCount<Mount> = 2;
template <>
inline constexpr std::size_t kWordCount<CircleLeg> = 2;

/// The value with this word; nothing when there is none.
template <typename Enum>
std::optional<Enum> from_word(std::string_view w) {
    static_assert(kWordCount<Enum> > 0);
    for (std::size_t i = 0; i < kWordCount<Enum>; ++i) {
        if (word(static_cast<Enum>(i)) == w) return static_cast<Enum>(i);
    }
    return std::nullopt;
}

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

/// Strides a minute that a gait usually has (from memory and common practice, no source: walk 50-60, trot
/// 75-85, canter 95-105); 0 for the halt.
double typical_tempo_per_min(Gait g);

inline constexpr std::array kGaits{Gait::halt, Gait::walk,      Gait::trot,      Gait::canter,
                                   Gait::jump, Gait::slow_walk, Gait::flat_walk, Gait::running_walk,
                                   Gait::pace, Gait::step_pace, Gait::rack};
inline constexpr std::array kSeats{Seat::sitting, Seat::rising, Seat::two_point, Seat::half};

}  // namespace aspen::core
