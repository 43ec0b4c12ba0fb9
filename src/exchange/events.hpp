#pragma once

#include <iosfwd>
#include <string>
#include <vector>

/// What happened in a clip or a lesson, as CSV with the header `time_s,event,detail`. Fields:
/// docs/formats.md.
namespace aspen::exchange {

struct EventRow {
    double time_s = 0;   ///< on the clip's own clock
    std::string event;   ///< one of event_words()
    std::string detail;  ///< key=value by blanks
    friend bool operator==(const EventRow&, const EventRow&) = default;
};

const std::vector<std::string>& event_words();

void write_events(std::ostream& out, const std::vector<EventRow>& rows);
/// Sorted by time. Throws core::Refused naming the line and what is wrong with it.
std::vector<EventRow> read_events(std::istream& in, const std::string& name);

}  // namespace aspen::exchange
