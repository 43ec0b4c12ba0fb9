#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/following/repeatability.hpp"
#include "core/motion/small_numbers.hpp"

/// How good a coach's eye is, from answers whose truth is known.
namespace aspen::core {

/// Guess an angle; say which fault stands out; order faults by severity; which lead; which diagonal; early or
/// late in the rise.
enum class DrillKind { angle, fault, order, lead, diagonal, rise };
inline constexpr int kDrillKinds = 6;
std::string_view word(DrillKind k);
std::string_view spoken(DrillKind k);
std::optional<DrillKind> drill_from(std::string_view word);
/// Whether what is said is a number that can be off by some; else it is right or wrong.
bool is_number(DrillKind k);

/// One answer of the past. `off`: said less true for a number; for a word 0 right … 1 wrong.
struct DrillDone {
    std::string day, coach, about, source;
    double off = 0;
};

/// What a coach's answers of one kind say.
struct EyeSkill {
    int n = 0;
    // Of numbers, the measure's unit; empty below two.
    std::optional<double> bias;  ///< mean of said less true
    std::optional<double>
        error;  ///< standard deviation about the bias: the eye's standard error of measurement
    std::optional<double> smallest_change;  ///< 1.96 √2 times it (Weir 2005): what the eye alone can tell
    std::optional<Agreement> limits;        ///< limits of agreement (Bland & Altman 1986)
    // Of words.
    std::optional<Share> right;  ///< Wilson, 90 %
};
EyeSkill skill_of(DrillKind kind, std::span<const DrillDone> done);

/// How far two coaches agree on what both were shown: the intraclass correlation (2,1) of Shrout & Fleiss,
/// and the limits of agreement. Empty below two things shown to both. A thing shown twice counts by its last
/// answer.
struct TwoCoaches {
    int shared = 0;
    double icc_2_1 = 0;
    Agreement limits;
};
struct SaidOf {
    std::string source;
    double said = 0;
};
std::optional<TwoCoaches> agree(std::span<const SaidOf> one, std::span<const SaidOf> other);

/// Days until a drill is due again: two at first, twice as long after each good day, two again after a poor
/// one, at most sixty-four; negative once it is past (common practice, no source). Done never: due today. A
/// good day has four answers at least, eight of ten right, or numbers off by less than `tolerance` in the
/// mean.
int due_in_days(DrillKind kind, std::span<const DrillDone> done, const std::string& today,
                double tolerance = 4);

/// How far an order lies from the true one: the share of pairs that stand the wrong way round (Kendall's
/// distance), 0 … 1. Throws Refused where they do not hold the same names.
double order_off(const std::vector<std::string>& said, const std::vector<std::string>& truth);

}  // namespace aspen::core
