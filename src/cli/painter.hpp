#pragma once

#include <iosfwd>
#include <string>
#include <vector>

namespace aspen::cli {

/// Has the program beside this one do what needs pictures and letters (report, export, a bundle); gives its
/// exit code. ASPEN_PAINTER names it where it lies elsewhere.
int have_painted(const std::vector<std::string>& arguments, std::ostream& out, std::ostream& err);

}  // namespace aspen::cli
