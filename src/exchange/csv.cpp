#include "exchange/csv.hpp"

#include <fmt/format.h>

#include "core/reading/refused.hpp"

namespace aspen::exchange {
namespace {

constexpr std::size_t kLongestLine = std::size_t{64} << 10;

/// Whether at least so many apostrophes stand before what a spreadsheet would take for a formula.
bool formula_after(const std::string& text, std::size_t apostrophes) {
    const auto at = text.find_first_not_of('\'');
    return at != std::string::npos && at >= apostrophes &&
           std::string_view("=+-@\t\r").find(text[at]) != std::string_view::npos;
}

}  // namespace

std::vector<std::string> csv_fields(const std::string& line) {
    std::vector<std::string> out(1);
    bool quoted = false;
    for (std::size_t i = 0; i < line.size(); ++i) {
        const char c = line[i];
        if (quoted && c == '"' && i + 1 < line.size() && line[i + 1] == '"')
            out.back() += line[++i];
        else if (c == '"')
            quoted = !quoted;
        else if (c == ',' && !quoted)
            out.emplace_back();
        else
            out.back() += c;
    }
    for (std::string& field : out) {
        if (formula_after(field, 1)) field.erase(0, 1);
    }
    return out;
}

std::string csv_quoted(const std::string& text) {
    const std::string safe = formula_after(text, 0) ? "'" + text : text;
    if (safe.find_first_of(",\"\n\r") == std::string::npos) return safe;
    std::string out = "\"";
    for (const char c : safe) {
        if (c == '"') out += '"';
        out += c;
    }
    return out + '"';
}

bool next_csv_line(std::istream& in, std::string& line, const std::string& name) {
    line.clear();
    std::streambuf& from = *in.rdbuf();
    for (int c = from.sbumpc(); c != std::char_traits<char>::eof(); c = from.sbumpc()) {
        if (c == '\n') {
            if (!line.empty() && line.back() == '\r') line.pop_back();
            return true;
        }
        if (line.size() == kLongestLine)
            throw core::Refused(fmt::format(
                "{}: has a line of more than {} KB, so it is no table of this program; choose the "
                "right file",
                name, kLongestLine >> 10));
        line += static_cast<char>(c);
    }
    in.setstate(std::ios::eofbit);
    if (!line.empty() && line.back() == '\r') line.pop_back();
    return !line.empty();
}

}  // namespace aspen::exchange
