#pragma once

#include <optional>
#include <span>
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

/// One measured moment of a review: the value, its error in parts as Measured has them, and which camera
/// marks it rests on (any numbers that tell marks apart): 0 where nothing was marked, which is one camera for
/// all of a ride.
struct MomentValue {
    double value = 0;
    double sd_random = 0, sd_roll = 0, sd_yaw = 0, sd_build = 0;
    int roll_mark = 0, yaw_mark = 0;
};

/// One measured value of a review: the mean over its moments of one phase, gait, seat and side.
struct ReviewValue {
    double value = 0;
    double sd = 0;                          ///< half-width of its two-sided 90 % interval / 1.645
    Verdict verdict = Verdict::not_judged;  ///< of the whole interval against the band; names no fault
    Band band;
    int moments = 0;
    std::string phase{};
    double sd_common = 0;  ///< of sd, what no number of moments averages out
};

/// Mean of several moments of one ride, phase, gait, seat and side, with h = sqrt((t * s)^2 / n + (1.645 *
/// c)^2), s^2 = max(spread^2, mean sd_random^2), t the 0.95 quantile of Student's t with n - 1 degrees of
/// freedom; below three moments the square of a typical spread is added to s^2 and t is 2.92. c is what does
/// not average out: sqrt(sum over camera marks of (n_k / n * sd_k)^2 + sd_build^2), roll and turn apart.
/// Angles that can turn right round are averaged modulo 360. Empty when no value is given.
std::optional<ReviewValue> mean_of(const std::vector<MomentValue>& moments, const Band& band,
                                   const MeasureInfo& measure, const Body& body);

/// The same over strides, whose neighbours are alike: so many count as they are worth (measures/student.hpp).
/// `sd`: what is common to all of them. Empty below three strides.
std::optional<ReviewValue> mean_of_strides(std::span<const std::optional<double>> by_stride, double sd,
                                           const Band& band);

/// What one ride says of a correction: inside is at least one moment inside and none whose value lies past
/// the limit; where a fault of the other side of the band is certain and this one is not it is `other_side`,
/// where both are `unsteady`; what is seen once counts as borderline.
enum class RideVerdict { not_judged, inside, borderline, outside, other_side, unsteady };
std::string_view word(RideVerdict v);
/// The verdict, and by how many moments or strides: those inside, or those certainly outside.
struct RideSays {
    RideVerdict verdict = RideVerdict::not_judged;
    int by = 0;
    int of = 0;  ///< that could judge it
    RideSays() = default;
    RideSays(RideVerdict v, int moments = 0) : RideSays(v, moments, moments) {}
    RideSays(RideVerdict v, int moments, int judged) : verdict(v), by(moments), of(judged) {}
    friend bool operator==(const RideSays&, const RideSays&) = default;
};
RideSays verdict_on(const std::string& fault, const SeenIn& seen, const RideData& ride,
                    const std::vector<std::vector<Judged>>& judged, const Knowledge& knowledge);
/// What every moment of a ride says of every fault: made once for the verdicts on several of them.
std::vector<ObservedMoment> observed_of(const RideData& ride, const std::vector<std::vector<Judged>>& judged,
                                        const Knowledge& knowledge);
RideSays verdict_on(const std::string& fault, const SeenIn& seen, const RideData& ride,
                    const std::vector<std::vector<Judged>>& judged,
                    const std::vector<ObservedMoment>& observed, const Knowledge& knowledge);

/// What carries a proposal: two rides in a row, each by three moments or strides, or one by six. A ride by
/// fewer neither adds to a row of inside nor ends it; one outside ends it. Inside alone carries only where
/// at most a fifth of what could judge it is in doubt: one good day with many moments lets through more than
/// five in a hundred riders who never changed otherwise.
inline constexpr int kCarriesARide = 3, kCarriesAlone = 6, kRidesInARow = 2;
inline constexpr double kInDoubtAlone = 0.2;
/// Rides inside in a row, each by three, that make a correction settled.
inline constexpr int kSettledAfter = 3;

/// The stage after a series of rides, oldest first. After one outside (or unsteady): inside as above is
/// holding, in the last three settled; outside again as above after it held is back_again; certain on the
/// other side alone overcorrected. Borderline neither adds nor ends, not judged changes nothing. Else it
/// stays in_work once an exercise was given, before that confirmed when the coach accepted it, else noticed.
Stage stage_of(const std::vector<RideSays>& rides, bool accepted, bool prescribed);

/// The form of the day: the standard deviation of a ride about a rider's own line, the measure's unit
/// (data/body.json, from memory).
double usual_form(const MeasureInfo& measure, const Body& body);

/// How far two rides have to differ before more than a good and a bad day lie between them: 1.96 sqrt(sd_a^2
/// + sd_b^2 + 2 form^2), the smallest detectable change at 95 % (Weir 2005, with the errors of both occasions
/// instead of sqrt(2) SEM); where either rests on fewer than three moments no less than 3 sqrt(2) form.
double smallest_change(const ReviewValue& a, const ReviewValue& b, double form);
/// Angles that can turn right round differ by the shorter way.
bool changed(const ReviewValue& a, const ReviewValue& b, double form, bool full_turn = false);
/// How many moments more of the later ride would tell a difference of this size, all else as it is: 0 where
/// it is told already, nothing where no number of them would.
std::optional<int> moments_to_tell(const ReviewValue& a, const ReviewValue& b, double form,
                                   bool full_turn = false);
/// From a to b, signed.
double difference(const ReviewValue& a, const ReviewValue& b, bool full_turn = false);

}  // namespace aspen::core
