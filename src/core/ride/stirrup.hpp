#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "core/judging/situation.hpp"

/// How long the stirrups should be for a job, from the ankle-bone test and what the ride says.
namespace aspen::core {

struct RideAssessment;
struct RideData;

/// What the stirrups are set for (common practice, no source: the tread hangs just below the ankle bone for
/// flat work, at it for general work, just above it for jumping, several holes higher for galloping).
enum class StirrupJob { flat, general, jump, gallop };
std::string_view spoken(StirrupJob job);
/// The job that a ride's school, seat and gait ask for.
StirrupJob stirrup_job(const Setting& setting);

/// A hole of a leather, from memory.
inline constexpr double kHoleMm = 25;

struct StirrupAdvice {
    int holes = 0;      ///< up (shorter) is positive, the same on both sides
    std::string words;  ///< the whole sentence
};

/// From where the tread hangs, foot out and leg hanging: centimetres above the ankle bone. Whole holes; 0
/// when it hangs within half a hole of where the job wants it.
StirrupAdvice stirrup_advice(StirrupJob job, double tread_above_bone_cm);
/// From the ride: the eye's ankle-bone test, and never longer for a leg that is drawn up. By how much says
/// the knee, from where it is to the middle of its band, on a leg as long as the rider's height makes it
/// (thigh and shank 0.245 and 0.246 of it: Drillis & Contini 1966, from memory): several holes up at once,
/// down one at a time. Without a knee one hole. Empty when nothing was answered.
std::optional<StirrupAdvice> stirrup_advice(const RideData& ride, const RideAssessment& assessment,
                                            std::optional<int> height_cm = {});

}  // namespace aspen::core
