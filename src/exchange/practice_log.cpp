#include "exchange/practice_log.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>
#include <istream>
#include <map>
#include <optional>
#include <ostream>

#include "core/reading/refused.hpp"
#include "core/training/homework.hpp"
#include "exchange/csv.hpp"

namespace aspen::exchange {
namespace {

constexpr std::size_t kMostPracticeRows = 20'000;

std::string trimmed_lower(std::string_view text) {
    std::string out;
    for (const char c : text) out += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    const auto first = out.find_first_not_of(" \t\r"), last = out.find_last_not_of(" \t\r");
    return first == std::string::npos ? std::string() : out.substr(first, last - first + 1);
}

/// What a phone's or a person's header may call a column.
std::string column_of(const std::string& heading) {
    static const std::map<std::string, std::string, std::less<>> other{
        {"day", "date"},          {"when", "date"},      {"what", "exercise"},  {"step", "rung"},
        {"tries", "attempts"},    {"tried", "attempts"}, {"good ones", "good"}, {"strides", "held"},
        {"strides held", "held"}, {"ride feel", "feel"}, {"hurt", "pain"},      {"note", "words"},
        {"notes", "words"},       {"remarks", "words"},  {"comment", "words"}};
    const std::string h = trimmed_lower(heading);
    const auto it = other.find(h);
    return it == other.end() ? h : it->second;
}

std::string day_in(const std::string& text) {
    const std::string t = trimmed_lower(text);
    int a = 0, b = 0, c = 0;
    char s1 = 0, s2 = 0;
    if (std::sscanf(t.c_str(), "%d%c%d%c%d", &a, &s1, &b, &s2, &c) != 5 || s1 != s2) return {};
    std::string iso;
    if (s1 == '-' && a > 31) iso = fmt::format("{:04}-{:02}-{:02}", a, b, c);
    if (s1 == '.') iso = fmt::format("{:04}-{:02}-{:02}", c < 100 ? 2000 + c : c, b, a);
    try {
        if (!iso.empty()) core::weekday_of(iso);
        return iso;
    } catch (const core::Refused&) {
        return {};
    }
}

bool yes(const std::string& text) {
    const std::string t = trimmed_lower(text);
    return t == "yes" || t == "y" || t == "x" || t == "1" || t == "true" || t == "ja";
}

/// Nothing said is nothing; what is no number, or out of its range, is said.
std::optional<double> number_in(const std::string& text, double least, double most) {
    std::string t = trimmed_lower(text);
    std::ranges::replace(t, ',', '.');
    double v = 0;
    const auto [end, error] = std::from_chars(t.data(), t.data() + t.size(), v);
    if (error != std::errc() || end != t.data() + t.size() || !std::isfinite(v) || v < least || v > most)
        return std::nullopt;
    return v;
}

class Row {
  public:
    Row(const std::map<std::string, std::size_t>& columns, const std::vector<std::string>& fields)
        : columns_(columns), fields_(fields) {}
    std::string text(const char* column) const {
        const auto it = columns_.find(column);
        return it == columns_.end() || it->second >= fields_.size() ? std::string() : fields_[it->second];
    }
    double number(const char* column, double least, double most, double otherwise) {
        const std::string t = text(column);
        if (trimmed_lower(t).empty()) return otherwise;
        if (const auto v = number_in(t, least, most)) return *v;
        if (wrong_.empty())
            wrong_ = fmt::format("{} \"{}\" is no number from {:g} to {:g}", column, t, least, most);
        return otherwise;
    }
    void wrong(std::string words) {
        if (wrong_.empty()) wrong_ = std::move(words);
    }
    const std::string& wrong() const { return wrong_; }

  private:
    const std::map<std::string, std::size_t>& columns_;
    const std::vector<std::string>& fields_;
    std::string wrong_;
};

core::Practice practice_in(Row& row, const std::function<std::string(const std::string&)>& exercise) {
    core::Practice p;
    p.day = day_in(row.text("date"));
    if (p.day.empty())
        row.wrong(fmt::format("date \"{}\" is no day; write it like 2026-11-27", row.text("date")));
    p.exercise = exercise(row.text("exercise"));
    if (p.exercise.empty()) row.wrong(fmt::format("exercise \"{}\" is not known", row.text("exercise")));
    p.rung = static_cast<int>(row.number("rung", 1, 99, 0)) - 1;
    p.attempts = static_cast<int>(row.number("attempts", 0, 10000, 0));
    p.good = static_cast<int>(row.number("good", 0, 10000, 0));
    if (p.good > p.attempts && p.attempts > 0)
        row.wrong(fmt::format("{} good of {} attempts", p.good, p.attempts));
    p.attempts = std::max(p.attempts, p.good);
    p.held = row.number("held", 0, 100000, 0);
    p.guess = row.number("guess", 0, 10000, -1);
    p.feel = static_cast<int>(row.number("feel", 1, 5, 0));
    p.pain = yes(row.text("pain"));
    const std::string tired = trimmed_lower(row.text("tired"));
    p.tired_rider = tired == "rider" || tired == "both" || yes(tired);
    p.tired_horse = tired == "horse" || tired == "both";
    p.by_rider = trimmed_lower(row.text("by")) != "coach";
    p.words = row.text("words");
    if (p.words.size() > 500) p.words.resize(500);
    return p;
}

}  // namespace

void write_practice(std::ostream& out, const std::vector<core::Practice>& rows) {
    out << "date,exercise,rung,attempts,good,held,guess,feel,pain,tired,by,words\n";
    const auto said = [](double v, double nothing) {
        return v == nothing ? std::string() : fmt::format("{:g}", v);
    };
    for (const core::Practice& p : rows) {
        const char* tired = p.tired_rider && p.tired_horse ? "both"
                            : p.tired_rider                ? "rider"
                            : p.tired_horse                ? "horse"
                                                           : "";
        out << fmt::format("{},{},{},{},{},{},{},{},{},{},{},{}\n", p.day, p.exercise, said(p.rung + 1, 0),
                           p.attempts, p.good, said(p.held, 0), said(p.guess, -1), said(p.feel, 0),
                           p.pain ? "yes" : "no", tired, p.by_rider ? "rider" : "coach", csv_quoted(p.words));
    }
}

ReadPractice read_practice(std::istream& in, const std::string& name,
                           const std::function<std::string(const std::string&)>& exercise) {
    std::string line;
    const auto next = [&] { return next_csv_line(in, line, name); };
    if (!next()) throw core::Refused(name + ": is empty; it starts with a line that names date and exercise");
    if (line.starts_with("\xEF\xBB\xBF")) line.erase(0, 3);
    const bool semicolons = std::ranges::count(line, ';') > std::ranges::count(line, ',');
    const auto fields_of = [&](std::string text) {
        if (semicolons) {  // commas of such a file are decimal points or words
            std::ranges::replace(text, ',', '\x01');
            std::ranges::replace(text, ';', ',');
        }
        auto fields = csv_fields(text);
        for (std::string& f : fields) std::ranges::replace(f, '\x01', ',');
        return fields;
    };
    std::map<std::string, std::size_t> columns;
    const auto headings = fields_of(line);
    for (std::size_t i = 0; i < headings.size(); ++i) columns.emplace(column_of(headings[i]), i);
    if (!columns.contains("date") || !columns.contains("exercise"))
        throw core::Refused(name +
                            ": line 1: names no date and exercise; a practice log starts with such a line");
    ReadPractice out;
    for (std::size_t number = 2; next(); ++number) {
        if (trimmed_lower(line).empty() || line.find_first_not_of(",; \t") == std::string::npos) continue;
        const auto fields = fields_of(line);
        Row row(columns, fields);
        core::Practice p = practice_in(row, exercise);
        if (!row.wrong().empty())
            out.passed_over.push_back(fmt::format("line {}: {}", number, row.wrong()));
        else if (out.rows.size() == kMostPracticeRows)
            throw core::Refused(fmt::format("{}: line {}: more than {} rows; split the file", name, number,
                                            kMostPracticeRows));
        else
            out.rows.push_back(std::move(p));
    }
    std::ranges::stable_sort(out.rows, {}, &core::Practice::day);
    return out;
}

}  // namespace aspen::exchange
