#pragma once

#include <CLI/CLI.hpp>
#include <functional>
#include <iosfwd>

namespace aspen::cli {

/// `calc` with its sums for the ground: poles, grid, stirrup, click, arena, pace. What was asked waits in
/// `work` until all has been read.
void add_calc(CLI::App& app, std::function<int(std::ostream&)>& work);

}  // namespace aspen::cli
