#pragma once

#include <nlohmann/json.hpp>

#include "app/yard/yard.hpp"
#include "exchange/coco.hpp"

/// Rides as JSON, the way they stand in a bundle (docs/formats.md). Internal to leaving.
namespace aspen::app {

nlohmann::json to_json(const core::Stretch& stretch);
/// Throws nlohmann::json's own exceptions for what is no stretch; unknown words are passed over.
core::Stretch stretch_from(const nlohmann::json& j);

/// Day, place, school, level, saddle, what the rider said; rider and horse by name.
nlohmann::json ride_facts(Yard& yard, const store::Ride& ride);
/// What the coach said: the word, notes, remarks, decisions.
nlohmann::json said_of(Yard& yard, const store::Ride& ride, const std::vector<store::Clip>& clips);

/// Who rides by such facts; "" where they do not say.
std::string rider_in(const nlohmann::json& facts);
bool same_name(const std::string& a, const std::string& b);

/// A ride with its rider and horse from such facts; both are found by name or made.
store::Ride take_ride(const Yard& yard, store::YardStore& records, const nlohmann::json& facts);

/// Moments of one slot for COCO, with the file name the clip has in the bundle; the picture's size is not
/// known to the records.
std::vector<exchange::MarkedMoment> marks_of(Yard& yard, const store::Clip& clip, const store::Ride& ride,
                                             int slot, const std::string& file_name);

}  // namespace aspen::app
