#pragma once

#include <functional>
#include <iosfwd>
#include <string>
#include <vector>

#include "core/training/practice.hpp"

/// A practice log as CSV with the header
/// `date,exercise,rung,attempts,good,held,guess,feel,pain,tired,by,words`. Fields: docs/formats.md.
namespace aspen::exchange {

/// `rung` counts from 1 in the file.
void write_practice(std::ostream& out, const std::vector<core::Practice>& rows);

struct ReadPractice {
    std::vector<core::Practice> rows;
    std::vector<std::string> passed_over;  ///< one line each for what could not be read, with its reason
};
/// Read forgivingly, because a rider's phone or hand wrote it: columns in any order and case, commas or
/// semicolons, a day as 2026-11-27 or 27.11.2026, "yes" or "x", an exercise by id or name. A row that cannot
/// be understood is passed over and said, the others are taken. Only a file without a readable header is
/// refused. `exercise(words)` gives the id, "" where it is not known.
ReadPractice read_practice(std::istream& in, const std::string& name,
                           const std::function<std::string(const std::string&)>& exercise);

}  // namespace aspen::exchange
