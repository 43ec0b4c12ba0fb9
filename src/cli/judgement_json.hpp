#pragma once

#include <nlohmann/json.hpp>
#include <vector>

#include "core/ride/ride.hpp"

/// The judgement and the knowledge it rests on as JSON; fields: docs/formats.md.
namespace aspen::cli {

using Json = nlohmann::ordered_json;

Json optional(const std::optional<double>& v);
Json measures_json(const std::vector<core::Judged>& judged);
/// What all moments of the file say together, as moments of one ride.
Json assessment_json(const core::RideAssessment& a, const core::RideData& ride,
                     const core::Knowledge& knowledge);
Json schools_json(const core::Knowledge& knowledge);
Json faults_json(const core::Knowledge& knowledge);

}  // namespace aspen::cli
