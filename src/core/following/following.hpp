#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/judging/judgement.hpp"

/// Following a correction through the months.
namespace aspen::core {

/// A correction's life (TRADE: common practice).
enum class Stage { noticed, confirmed, in_work, holding, settled, back_again };
std::string_view word(Stage s);
std::string_view spoken(Stage s);

/// One measured value of a review: the mean over its moments.
struct ReviewValue {
    double value = 0;
    double sd = 0;  ///< of the mean, see mean_of
    Verdict verdict = Verdict::not_judged;
    Band band;
    int moments = 0;
};

/// Mean of several moments of one review and its error: sqrt(mean(sd^2)/n + spread^2/n), spread being the
/// sample standard deviation between the moments (0 for one). Click errors count as independent; what the
/// camera adds to every moment alike is then counted once too little, so for n > 1 the mean is never called
/// better than half of the single error. The verdict holds the mean against the band. Empty when no value is
/// given.
struct MomentValue {
    double value, sd;
};
std::optional<ReviewValue> mean_of(const std::vector<MomentValue>& moments, const Band& band);

/// Consecutive reviews inside the band that make a correction settled.
inline constexpr int kSettledAfter = 3;

/// The stage after a series of reviews, oldest first. Inside at the last review is holding, inside at the
/// last three settled; outside again after it once held is back_again. Never held: in_work once an exercise
/// was given, before that confirmed when the coach accepted it, else noticed. Borderline neither ends a run
/// of held reviews nor adds to it, and does not count as held.
Stage stage_of(const std::vector<Verdict>& reviews, bool accepted, bool prescribed);

/// Whether two values differ by more than measuring error: |a - b| > 1.96 sqrt(sd_a^2 + sd_b^2), the smallest
/// detectable change at 95 % (Weir 2005, with the errors of both occasions instead of sqrt(2) SEM).
bool changed(const ReviewValue& a, const ReviewValue& b);

}  // namespace aspen::core
