#include "app/rides/ride_data_builder.hpp"

#include <algorithm>

#include "app/rides/answers_by_events.hpp"
#include "app/rides/ridden_ground.hpp"

namespace aspen::app {

void RideDataBuilder::add(const core::Stretches& stretches, const store::Moment& m) {
    at_[{m.clip.value, m.slot, m.frame}] = data.moments.size();
    data.moments.push_back(ridden_.moment(stretches, m));
}

std::size_t RideDataBuilder::place_of(const core::Stretches& stretches, const store::Answer& a) {
    const auto [it, fresh] = at_.emplace(std::tuple{a.clip.value, a.slot, a.frame}, data.moments.size());
    if (!fresh) return it->second;
    store::Moment unmarked;  // seen by eye alone: no joint, and yet in its gait, seat and side
    unmarked.clip = a.clip;
    unmarked.slot = a.slot;
    unmarked.frame = a.frame;
    data.moments.push_back(ridden_.moment(stretches, unmarked));
    data.moments.back().figure.view = core::ridden_at(stretches, a.frame).view;
    return it->second;
}

void RideDataBuilder::add(const core::Stretches& stretches, const store::Answer& a) {
    data.checks.push_back({a.check, a.said, place_of(stretches, a)});
}

void RideDataBuilder::add_clip(const store::YardStore& records, const store::Clip& clip,
                               const std::vector<int>& places) {
    const core::Stretches stretches = records.rides.stretches(clip.id);
    const auto mine = [&](int slot) { return std::ranges::find(places, slot) != places.end(); };
    const std::vector<store::Moment> moments = records.reviews.moments(clip.id);
    for (const store::Moment& m : moments) {
        if (mine(m.slot)) add(stretches, m);
    }
    for (const store::Answer& a : records.reviews.answers(clip.id)) {
        if (mine(a.slot)) add(stretches, a);
    }
    for (const int slot : places) {
        for (const store::Answer& a : answers_by_events(clip, slot, stretches, ridden_.events()))
            add(stretches, a);
        for (const store::Answer& a : answers_by_ground(records, clip, slot)) add(stretches, a);
    }
    for (const int slot : places) add_strides(clip, slot, stretches, moments);
}

}  // namespace aspen::app
