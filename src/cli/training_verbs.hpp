#pragma once

#include <CLI/CLI.hpp>
#include <functional>
#include <iosfwd>

namespace aspen::cli {

/// `plan` and `import`: a rider's plan from a yard's records, and a practice log into them. What was asked
/// waits in `work` until all has been read.
void add_training(CLI::App& app, std::function<int(std::ostream&)>& work);

}  // namespace aspen::cli
