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

/// What the measures that are no mean over strides are read from.
struct MotionParts {
    const MotionSetting& in;
    const EvenTracks& even;
    const Schools& schools;
    const MotionReport& report;  ///< strides and tempo
    bool camera_known;
    double leg_px;
};
/// How long after a marked change the rider answers.
std::vector<MotionMeasure> change_measures(const MotionParts& parts);
/// Seat, leg and trunk over a fence whose take-off and landing were logged.
std::vector<MotionMeasure> fence_measures(const MotionParts& parts);
/// How many strides on end every watched measure stays in its band, and what leaves it first.
MotionMeasure strides_held(const MotionParts& parts);

/// What moments measure too, and heights of hand, heel and seat against the horse, all along.
std::vector<MotionCurve> curves_of(const MotionParts& parts, double trunk_px);

}  // namespace aspen::core::detail
