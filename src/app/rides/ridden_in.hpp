#pragma once

#include <map>
#include <string>
#include <tuple>
#include <vector>

#include "core/judging/ride.hpp"
#include "core/reading/knowledge.hpp"
#include "store/yard_store.hpp"

namespace aspen::app {

/// What of a ride decides the bands of its moments: school, level, mount, the horse's notes, and the aids
/// that were logged. Read once, used for every moment of the ride.
class RiddenIn {
  public:
    RiddenIn() = default;
    RiddenIn(store::YardStore& records, const core::Knowledge& knowledge, const store::Ride& ride);

    /// Whether the same aids were logged, as far as they decide bands.
    bool same_aids(const RiddenIn& other) const { return aids_ == other.aids_; }
    core::Setting setting(const core::Stretches& stretches, const store::Moment& moment) const;
    core::RideMoment moment(const core::Stretches& stretches, const store::Moment& moment) const;
    /// What the strides of a place in a clip said, where its stretches were followed and nothing changed
    /// since.
    void add_strides(const store::Clip& clip, int slot, const core::Stretches& stretches,
                     const std::vector<store::Moment>& moments, core::RideData& data) const;
    /// Of the whole stretch: no phase, no moment of an aid.
    core::Setting stretch_setting(const core::Stretches& stretches, std::size_t place) const;
    const std::vector<store::Event>& events() const { return events_; }

  private:
    struct Aid {
        store::ClipId clip;
        int slot;
        double time_s;
        std::string side;
        friend bool operator==(const Aid&, const Aid&) = default;
    };
    core::RideContext context_;
    std::vector<Aid> aids_;
    std::vector<store::Event> events_;  ///< of the ride, in its clips
};

/// Puts together what core judges of a ride, clip by clip: its marked moments, and what the coach's eye said
/// on frames, marked or not.
class Gathering {
  public:
    explicit Gathering(const RiddenIn& ridden) : ridden_(ridden) {}
    void add(const core::Stretches& stretches, const store::Moment& moment);
    void add(const core::Stretches& stretches, const store::Answer& answer);
    void add_strides(const store::Clip& clip, int slot, const core::Stretches& stretches,
                     const std::vector<store::Moment>& moments) {
        ridden_.add_strides(clip, slot, stretches, moments, data);
    }
    /// Everything of a clip's places.
    void add_clip(store::YardStore& records, const store::Clip& clip, const std::vector<int>& places);
    core::RideData data;

  private:
    std::size_t place_of(const core::Stretches& stretches, const store::Answer& answer);
    const RiddenIn& ridden_;
    std::map<std::tuple<std::int64_t, int, int>, std::size_t> at_;  ///< clip, slot and frame of moments
};

}  // namespace aspen::app
