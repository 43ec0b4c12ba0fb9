#include "app/rides/ridden_in.hpp"

#include <algorithm>
#include <cmath>

#include "app/rides/answers_by_events.hpp"
#include "app/rides/stride_values.hpp"
#include "app/training/rider_plan.hpp"
#include "core/motion/happenings.hpp"

namespace aspen::app {
namespace {

constexpr double kMomentOfAidS = 0.5;  // TRADE: an aid within half a second

}  // namespace

RiddenIn::RiddenIn(store::YardStore& records, const core::Knowledge& knowledge, const store::Ride& ride) {
    context_.school = ride.school;
    context_.level = ride.level;
    context_.mount = ride.mount;
    if (const auto horse = records.horse(ride.horse)) {
        if (!horse->stage.empty()) context_.horse.push_back(horse->stage);
        if (horse->half_seat_better) context_.horse.emplace_back("half_seat_better");
        if (horse->cold_backed) context_.horse.emplace_back("cold_backed");
    }
    for (const core::Limitation& l : limits_on(records, knowledge, ride)) {
        for (const std::string& part : l.parts) context_.body.push_back({part, l.side});
    }
    for (const store::Event& e : records.events(ride.id)) {
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

void Gathering::add(const core::Stretches& stretches, const store::Moment& m) {
    at_[{m.clip.value, m.slot, m.frame}] = data.moments.size();
    data.moments.push_back(ridden_.moment(stretches, m));
}

std::size_t Gathering::place_of(const core::Stretches& stretches, const store::Answer& a) {
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

void Gathering::add(const core::Stretches& stretches, const store::Answer& a) {
    data.checks.push_back({a.check, a.said, place_of(stretches, a)});
}

void Gathering::add_clip(store::YardStore& records, const store::Clip& clip, const std::vector<int>& places) {
    const core::Stretches stretches = records.stretches(clip.id);
    const auto mine = [&](int slot) { return std::ranges::find(places, slot) != places.end(); };
    const std::vector<store::Moment> moments = records.moments(clip.id);
    for (const store::Moment& m : moments) {
        if (mine(m.slot)) add(stretches, m);
    }
    for (const store::Answer& a : records.answers(clip.id)) {
        if (mine(a.slot)) add(stretches, a);
    }
    for (const int slot : places) {
        for (const store::Answer& a : answers_by_events(clip, slot, ridden_.events())) add(stretches, a);
    }
    for (const int slot : places) add_strides(clip, slot, stretches, moments);
}

}  // namespace aspen::app
