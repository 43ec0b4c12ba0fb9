#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/motion/even_tracks.hpp"

/// What the measures of strides are put together from. Internal to motion.
namespace aspen::core::detail {

inline constexpr int kFewestStrides = 3;

double mean_of(const std::vector<double>& v);
/// Standard deviation with n - 1; 0 below two.
double spread_of(const std::vector<double>& v);
const Formula& formula_of(std::string_view id);

/// The samples of a stride with their places in it, 0 ... 1.
struct StridePart {
    std::vector<double> places, values;
};
/// Empty when one of them is missing.
std::optional<StridePart> part_of(const EvenTracks& even, const EvenTracks::Series& x,
                                  const StrideSpan& stride);

/// Why something that needs these landmarks, seen from the side, cannot be said; "" when it can.
std::string missing(const MotionSetting& in, const EvenTracks& even, const std::vector<Landmark>& needs);

MotionMeasure unjudged(const char* id, const char* unit, std::string reason);
/// Without a band.
void settle(MotionMeasure& measure, double value, double sd);
/// Between two samples, straight.
double value_at(const EvenTracks& even, const EvenTracks::Series& x, double real_s);

/// What the measures that are no mean over strides are read from.
struct MotionParts {
    const MotionSetting& in;
    const EvenTracks& even;
    const Schools& schools;
    const MotionReport& report;  ///< strides and tempo
    bool camera_known;
    double leg_px;
};
/// From landing to landing of one hoof (rising); where one was missed there is none.
std::vector<StrideSpan> between_landings(const std::vector<double>& landings_s);

/// Strides of a stretch, where they come from and what tells the even ones; writes them into the report,
/// with what the hooves say. The report's flights are left out: what flies is no stride.
void find_strides(const Tracks& tracks, const MotionSetting& in, const EvenTracks& even,
                  MotionReport& report);
/// Duty and limb phase, where hooves are known.
std::vector<MotionMeasure> hoof_measures(const MotionReport& report);
/// How long after a marked change the rider answers.
std::vector<MotionMeasure> change_measures(const MotionParts& parts);
/// `aid_leg_back` and `aid_trunk` around the first aid for a lead.
std::vector<MotionMeasure> aid_measures(const MotionParts& parts);
/// A fence as it was logged, real seconds; the approach begins where the one before was left.
struct FenceAt {
    std::optional<double> take_off_s{}, landing_s{}, approach_from_s{};
    std::string drift{};
};
/// Each take-off with the landing before the next one; a landing alone is a fence too.
std::vector<FenceAt> fences_logged(const MotionSetting& in);
/// Seat, leg, trunk and hand over a fence.
std::vector<MotionMeasure> fence_measures(const MotionParts& parts, const FenceAt& fence);
/// The same of each fence of a line.
std::vector<FenceSeen> fences_of(const MotionParts& parts);
/// Jumps: the withers rise well over their bounce and fall as what is thrown falls.
std::vector<FlightSeen> flights_of(const MotionParts& parts);
/// Gives what is read at an instant (lags, the fence, the aid) its error: the tracks drawn anew 200 times,
/// with a fixed seed and noise as much and as alike from frame to frame as theirs.
void state_event_errors(const Tracks& tracks, const MotionSetting& in, const Body& body,
                        const Schools& schools, const EvenTracks& even, MotionReport& report);
/// Breaks, poles and turns with the strides before and after.
std::vector<AroundEvent> around_events(const MotionParts& parts);
/// How many strides on end every watched measure stays in its band, and what leaves it first.
MotionMeasure strides_held(const MotionParts& parts);

/// What moments measure too, and heights of hand, heel and seat against the horse, all along.
std::vector<MotionCurve> curves_of(const MotionParts& parts, double trunk_px);

}  // namespace aspen::core::detail
