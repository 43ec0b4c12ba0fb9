#pragma once

#include <istream>
#include <string>
#include <vector>

/// Tables of comma-separated values (RFC 4180): one reader and one writer of their lines and fields.
namespace aspen::exchange {

/// One record of a CSV line: commas, fields in double quotes, a doubled quote inside. The mark that
/// csv_quoted() puts before what a spreadsheet would take for a formula is taken off.
std::vector<std::string> csv_fields(const std::string& line);

/// A text in quotes where it needs them. One that a spreadsheet would take for a formula (it begins with
/// = + - @, a tab or a carriage return) gets an apostrophe before it, so that it stays a text (OWASP, "CSV
/// Injection"; from memory); so does one that begins with apostrophes and goes on like that, and reading
/// takes one off: what is read is what was written. Only for texts: numbers are written as they are.
std::string csv_quoted(const std::string& text);

/// The next line, its carriage return taken off; false at the end. Throws core::Refused in one line where it
/// is longer than any line of a table here (64 KB), before more of it is read.
bool next_csv_line(std::istream& in, std::string& line, const std::string& name);

}  // namespace aspen::exchange
