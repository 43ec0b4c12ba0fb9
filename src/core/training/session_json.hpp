#pragma once

#include <string>

#include "core/training/session.hpp"

namespace aspen::core {

/// Blocks as JSON and back; throws Refused naming the block and the field where they are none.
std::string as_json(const Session& session);
Session session_from(const std::string& json);

}  // namespace aspen::core
