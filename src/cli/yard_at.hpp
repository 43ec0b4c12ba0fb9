#pragma once

#include <string>

#include "store/yard_store.hpp"

namespace aspen::cli {

/// The records of the yard in a folder. Throws core::Refused where there is none.
store::YardStore yard_at(const std::string& folder);

}  // namespace aspen::cli
