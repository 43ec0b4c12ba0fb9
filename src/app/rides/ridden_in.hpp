#pragma once

#include <string>
#include <vector>

#include "core/judging/said.hpp"
#include "core/knowledge/knowledge.hpp"
#include "store/yard_store.hpp"

namespace aspen::core {
struct RideMoment;
struct RideData;
}  // namespace aspen::core

namespace aspen::app {

/// What of a ride decides the bands of its moments: school, level, mount, the horse's notes, and the aids
/// that were logged. Read once, used for every moment of the ride.
class RiddenIn {
  public:
    RiddenIn() = default;
    RiddenIn(const store::YardStore& records, const core::Knowledge& knowledge, const store::Ride& ride);

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

}  // namespace aspen::app
