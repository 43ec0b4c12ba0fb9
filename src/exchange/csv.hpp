#pragma once

#include <string>
#include <vector>

namespace aspen::exchange {

/// One record of a CSV line (RFC 4180: commas, fields in double quotes, a doubled quote inside).
std::vector<std::string> csv_fields(const std::string& line);
/// A field in quotes where it needs them.
std::string csv_quoted(const std::string& text);

}  // namespace aspen::exchange
