#include "app/rides/ridden_in.hpp"

#include <cmath>

#include "app/rides/rider_plan.hpp"
#include "app/rides/stride_values.hpp"
#include "core/motion/happenings.hpp"
#include "core/ride/ride.hpp"

namespace aspen::app {
namespace {

// Common practice, no source: an aid and its answer within half a second.
constexpr double kMomentOfAidS = 0.5;

}  // namespace

RiddenIn::RiddenIn(const store::YardStore& records, const core::Knowledge& knowledge,
                   const store::Ride& ride) {
    context_.school = ride.school;
    context_.level = ride.level;
    context_.mount = ride.mount;
    if (const auto horse = records.people.horse(ride.horse)) {
        if (!horse->stage.empty()) context_.horse.push_back(horse->stage);
        if (horse->half_seat_better) context_.horse.emplace_back("half_seat_better");
        if (horse->cold_backed) context_.horse.emplace_back("cold_backed");
    }
    for (const core::Limitation& l : limits_on(records, knowledge, ride)) {
        for (const std::string& part : l.parts) context_.body.push_back({part, l.side});
    }
    for (const store::Event& e : records.reviews.events(ride.id)) {
        if (e.clip) events_.push_back(e);
        if (e.event == "aid" && e.clip)
            aids_.push_back({e.clip, e.slot, e.time_s, core::detail_of(e.detail, "side")});
    }
}

core::Setting RiddenIn::setting(const core::Stretches& stretches, const store::Moment& m) const {
    core::Setting out = core::setting_at(stretches, m.frame, context_, m.phase);
    const std::string_view side = core::word(core::ridden_at(stretches, m.frame).travel);
    for (const Aid& a : aids_) {
        if (a.clip != m.clip || a.slot != m.slot || std::abs(a.time_s - m.time_s) > kMomentOfAidS) continue;
        out.leg_aids = out.leg_aids.value_or(false) || a.side.empty() || a.side == side;
    }
    return out;
}

core::Setting RiddenIn::stretch_setting(const core::Stretches& stretches, std::size_t place) const {
    return core::setting_at(stretches, stretches[place].first, context_, "");
}

void RiddenIn::add_strides(const store::Clip& clip, int slot, const core::Stretches& stretches,
                           const std::vector<store::Moment>& moments, core::RideData& data) const {
    for (std::size_t i = 0; i < stretches.size(); ++i) {
        const auto key = stride_key(clip, slot, stretches, i, moments, events_);
        const auto values = key ? kept_strides(*key) : std::nullopt;
        if (!values) continue;
        const core::Stretch& s = stretches[i];
        data.strides.push_back(
            {stretch_setting(stretches, i), core::seen_in(s), s.view, s.judged, *values, s.rein});
    }
}

core::RideMoment RiddenIn::moment(const core::Stretches& stretches, const store::Moment& m) const {
    const core::Stretch& s = core::ridden_at(stretches, m.frame);
    return {m.figure, setting(stretches, m), core::seen_in(s), s.judged};
}

}  // namespace aspen::app
