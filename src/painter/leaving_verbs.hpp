#pragma once

#include <iosfwd>
#include <string>
#include <vector>

namespace aspen::painter {

/// The verbs of the command line that need pictures and letters: report, export, and import of a bundle. A
/// program of its own, so that the others load no library of the desktop. Exit codes as of the command line.
int run(const std::vector<std::string>& arguments, std::ostream& out, std::ostream& err);

}  // namespace aspen::painter
