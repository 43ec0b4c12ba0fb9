#pragma once

#include <iosfwd>
#include <string>
#include <vector>

namespace aspen::cli {

enum Exit { kDone = 0, kWrongUsage = 2, kRefused = 3, kFailed = 4 };

/// Runs one verb. JSON goes to `out`, words for a person to `err`.
int run(const std::vector<std::string>& arguments, std::ostream& out, std::ostream& err);

}  // namespace aspen::cli
