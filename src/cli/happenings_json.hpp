#pragma once

#include <nlohmann/json.hpp>
#include <optional>

#include "core/motion/happenings.hpp"

namespace aspen::cli {

/// As the command line's `events` verb gives it (docs/formats.md).
nlohmann::ordered_json happenings_json(const core::HappeningReport& report,
                                       std::optional<double> tempo_per_min);

}  // namespace aspen::cli
