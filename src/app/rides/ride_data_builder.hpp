#pragma once

#include <map>
#include <tuple>
#include <vector>

#include "app/rides/ridden_in.hpp"
#include "core/ride/ride.hpp"

namespace aspen::app {

/// Puts together what core judges of a ride, clip by clip: its marked moments, and what the coach's eye said
/// on frames, marked or not.
class RideDataBuilder {
  public:
    explicit RideDataBuilder(const RiddenIn& ridden) : ridden_(ridden) {}
    void add(const core::Stretches& stretches, const store::Moment& moment);
    void add(const core::Stretches& stretches, const store::Answer& answer);
    void add_strides(const store::Clip& clip, int slot, const core::Stretches& stretches,
                     const std::vector<store::Moment>& moments) {
        ridden_.add_strides(clip, slot, stretches, moments, data);
    }
    /// Everything of a clip's places.
    void add_clip(const store::YardStore& records, const store::Clip& clip, const std::vector<int>& places);
    core::RideData data;

  private:
    std::size_t place_of(const core::Stretches& stretches, const store::Answer& answer);
    const RiddenIn& ridden_;
    std::map<std::tuple<std::int64_t, int, int>, std::size_t> at_;  ///< clip, slot and frame of moments
};

}  // namespace aspen::app
