#pragma once

#include <stdexcept>

namespace aspen::cli {

/// What was said on the command line means nothing; exit 2.
struct WrongUsage : std::runtime_error {
    using std::runtime_error::runtime_error;
};

}  // namespace aspen::cli
