#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/judging/faults.hpp"
#include "core/judging/said.hpp"

/// Following a correction through the months.
namespace aspen::core {

struct Knowledge;
struct RideData;

/// A correction's life (common practice, no source).
enum class Stage { noticed, confirmed, in_work, holding, settled, back_again, overcorrected };
std::string_view word(Stage s);
std::string_view spoken(Stage s);
std::optional<Stage> stage_from(std::string_view word);

/// One measured moment of a review: the value, its error in three parts as Measured has them, and the stretch
/// it lies in (any number that tells stretches apart), whose camera errors are common to it.
struct MomentValue {
    double value = 0;
    double sd_random = 0, sd_camera = 0, sd_build = 0;
    int stretch = 0;
};

/// One measured value of a review: the mean over its moments of one phase, gait, seat and side.
struct ReviewValue {
    double value = 0;
    double sd = 0;                          ///< half-width of its two-sided 90 % interval / 1.645
    Verdict verdict = Verdict::not_judged;  ///< of the whole interval against the band; names no fault
    Band band;
    int moments = 0;
    std::string phase{};
};

/// Mean of several moments of one ride, phase, gait, seat and side, with h = sqrt((t * s)^2 / n + (1.645 *
/// c)^2), s^2 = max(spread^2, mean sd_random^2), t the 0.95 quantile of Student's t with n - 1 degrees of
/// freedom; below three moments the square of a typical spread is added to s^2 and t is 2.92. c is what does
/// not average out: sqrt(sum over stretches of (n_k / n * sd_camera_k)^2 + sd_build^2). Angles that can turn
/// right round are averaged modulo 360. Empty when no value is given.
std::optional<ReviewValue> mean_of(const std::vector<MomentValue>& moments, const Band& band,
                                   const MeasureInfo& measure, const Body& body);

/// The 0.95 quantile of Student's t; within 0.3 % (expansion in 1/df from Abramowitz & Stegun 26.7.5, from
/// memory; the first two from the table).
double t_quantile_95(int degrees_of_freedom);

/// What one ride says of a correction: inside is at least one moment inside and none whose value lies past
/// the limit; certain past the other limit is `other_side`; what is seen once counts as borderline.
enum class RideVerdict { not_judged, inside, borderline, outside, other_side };
std::string_view word(RideVerdict v);
RideVerdict verdict_on(const std::string& fault, const SeenIn& seen, const RideData& ride,
                       const std::vector<std::vector<Judged>>& judged, const Knowledge& knowledge);
/// What every moment of a ride says of every fault: made once for the verdicts on several of them.
std::vector<ObservedMoment> observed_of(const RideData& ride, const std::vector<std::vector<Judged>>& judged,
                                        const Knowledge& knowledge);
RideVerdict verdict_on(const std::string& fault, const SeenIn& seen, const RideData& ride,
                       const std::vector<std::vector<Judged>>& judged,
                       const std::vector<ObservedMoment>& observed, const Knowledge& knowledge);

/// Rides inside in a row that make a correction settled.
inline constexpr int kSettledAfter = 3;

/// The stage after a series of rides, oldest first. After one outside: inside in the last that could judge it
/// is holding, in the last three settled; outside again after it once held is back_again; certain on the
/// other side overcorrected. Borderline neither adds nor ends, not judged changes nothing. Never outside: it
/// stays in_work once an exercise was given, before that confirmed when the coach accepted it, else noticed.
Stage stage_of(const std::vector<RideVerdict>& rides, bool accepted, bool prescribed);

/// Whether two values differ by more than measuring error: |a - b| > 1.96 sqrt(sd_a^2 + sd_b^2), the smallest
/// detectable change at 95 % (Weir 2005, with the errors of both occasions instead of sqrt(2) SEM). Angles
/// that can turn right round differ by the shorter way.
bool changed(const ReviewValue& a, const ReviewValue& b, bool full_turn = false);
double smallest_change(const ReviewValue& a, const ReviewValue& b);
/// From a to b, signed.
double difference(const ReviewValue& a, const ReviewValue& b, bool full_turn = false);

}  // namespace aspen::core
