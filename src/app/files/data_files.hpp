#pragma once

#include <memory>

#include "core/reading/knowledge.hpp"

namespace aspen::app {

/// The trade's knowledge as it ships inside the program. Throws core::Refused when a data file is wrong.
std::shared_ptr<const core::Knowledge> shipped_knowledge();

}  // namespace aspen::app
