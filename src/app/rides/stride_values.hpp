#pragma once

#include <optional>
#include <string>
#include <vector>

#include "app/rides/ridden_in.hpp"
#include "core/motion/capture_map.hpp"
#include "core/motion/motion.hpp"
#include "core/ride/ride.hpp"
#include "store/records.hpp"

/// What the strides of followed stretches said last, kept in the cache so that a ride is judged by them
/// wherever it is judged, without a picture read or a stride computed again. Derived: it can be thrown away.
/// Any stretch whose marks, gait, camera or events changed since is another one, and finds nothing.
namespace aspen::app {

/// A stretch of one rider in a clip, with all that its strides are computed from.
struct StrideKey {
    std::string hash;     ///< of the clip
    std::string spelled;  ///< everything else
    friend bool operator==(const StrideKey&, const StrideKey&) = default;
};
/// Empty where nothing can have been followed: too few joints marked, or no gait said.
std::optional<StrideKey> stride_key(const store::Clip& clip, int slot, const core::Stretches& stretches,
                                    std::size_t place, const std::vector<store::Moment>& moments,
                                    const std::vector<store::Event>& events);

/// What of a stretch its strides are judged in; `events` of the clip, on the stream's clock. `size`: of the
/// picture, display pixels; `trunk_px`: of the rider.
struct PictureSize {
    int width = 0, height = 0;
    double px_per_m = 0, px_per_m_sd = 0;  ///< where a scale was said
};
core::MotionSetting motion_setting(const RiddenIn& ridden, const core::Stretches& stretches,
                                   std::size_t place, int slot, const std::vector<store::Event>& events,
                                   PictureSize size, double trunk_px);
/// What happens over the strides, in real time, also where a phone slowed only the middle.
core::MotionReport motion_report(core::Tracks tracks, core::MotionSetting setting,
                                 const core::CaptureMap& real, const core::Knowledge& knowledge);

/// What a report says of each stride, of all measures that have a value for each, and its tempo.
std::vector<core::StrideValues> values_of(const core::MotionReport& report);

/// The mean over a ride's strides of one gait, seat and side, held against its band, with the error of one
/// stride (the same in all of them, for the most part); empty where none was followed.
std::optional<core::Judged> mean_over_strides(const core::RideData& data, const core::SeenIn& seen,
                                              const core::Fault& fault, const core::Schools& schools);

/// False when just this was kept already.
bool keep_strides(const StrideKey& key, const std::vector<core::StrideValues>& values);
std::optional<std::vector<core::StrideValues>> kept_strides(const StrideKey& key);

}  // namespace aspen::app
