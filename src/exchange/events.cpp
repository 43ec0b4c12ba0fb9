#include "exchange/events.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <istream>
#include <ostream>

#include "core/reading/refused.hpp"
#include "exchange/csv.hpp"

namespace aspen::exchange {
namespace {

constexpr std::size_t kMostEvents = 200'000;

}  // namespace

const std::vector<std::string>& event_words() {
    static const std::vector<std::string> words{
        "aid",        "answer",     "aid_off",       "break",          "halt",           "back_step",
        "walk_off",   "pole",       "fence",         "take_off",       "landing",        "lead_left",
        "lead_right", "wrong_lead", "diagonal_left", "diagonal_right", "wrong_diagonal", "rein_left",
        "rein_right", "lap_line",   "let_go",        "set_again",      "iron_lost",      "iron_found",
        "sit",        "rise",       "bounce",        "spook",          "attempt",        "good_one",
        "half_halt",  "hoof_on",    "hoof_off",      "stride_start",   "stride_off"};
    return words;
}

void write_events(std::ostream& out, const std::vector<EventRow>& rows) {
    out << "time_s,event,detail\n";
    for (const EventRow& r : rows)
        out << fmt::format("{:.4f},{},{}\n", r.time_s, r.event, csv_quoted(r.detail));
}

std::vector<EventRow> read_events(std::istream& in, const std::string& name) {
    const auto refuse = [&](std::size_t line, const std::string& what) {
        throw core::Refused(fmt::format("{}: line {}: {}", name, line, what));
    };
    std::string line;
    std::size_t number = 1;
    const auto next = [&] { return next_csv_line(in, line, name); };
    if (!next()) refuse(1, "is empty; it starts with time_s,event,detail");
    if (line.starts_with("\xEF\xBB\xBF")) line.erase(0, 3);
    if (line != "time_s,event,detail") refuse(1, "is not the header time_s,event,detail; write that first");
    std::vector<EventRow> out;
    while (next()) {
        ++number;
        if (line.empty()) continue;
        const auto fields = csv_fields(line);
        if (fields.size() != 3)
            refuse(number, fmt::format("has {} fields instead of 3; put a detail with commas in quotes",
                                       fields.size()));
        EventRow row{0, fields[1], fields[2]};
        const auto [end, error] =
            std::from_chars(fields[0].data(), fields[0].data() + fields[0].size(), row.time_s);
        if (error != std::errc() || end != fields[0].data() + fields[0].size() || !std::isfinite(row.time_s))
            refuse(number, fmt::format("time_s \"{}\" is no number of seconds", fields[0]));
        if (std::ranges::find(event_words(), row.event) == event_words().end())
            refuse(number, fmt::format("event \"{}\" is not known; see docs/formats.md", row.event));
        if (out.size() == kMostEvents)
            refuse(number, fmt::format("more than {} events; split the file", kMostEvents));
        out.push_back(std::move(row));
    }
    std::ranges::stable_sort(out, {}, &EventRow::time_s);
    return out;
}

}  // namespace aspen::exchange
