#pragma once

#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

#include "core/training/exercises.hpp"

/// An exercise as a coach writes it: short texts, lists by commas (by
/// semicolons where an entry holds a comma), a rung a line. And as the JSON of
/// exercises.json.
namespace aspen::core {

/// The fields that are written as text, in the order they are read.
const std::vector<std::string>& exercise_fields();
/// What stands in a field. A ladder is a line a rung:
/// "walk: one long side at a time (5 x 2 min, 3 of 4, held 10, no stirrups, no reins; may canter)".
std::string field_text(const Exercise& exercise, const std::string& field, const FaultBook& faults);
/// The same field as JSON for a patch of the exercise. Throws Refused naming field, line and what is wrong.
nlohmann::ordered_json field_json(const std::string& field, const std::string& text, const FaultBook& faults);
/// The whole exercise as an entry of exercises.json, under another id and name.
nlohmann::ordered_json as_json(const Exercise& exercise, const std::string& id, const std::string& name);

}  // namespace aspen::core
