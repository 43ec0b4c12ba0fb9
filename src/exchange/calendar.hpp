#pragma once

#include <iosfwd>
#include <string>
#include <vector>

/// Days of homework as an iCalendar file (RFC 5545), written with libical.
namespace aspen::exchange {

struct CalendarDay {
    std::string uid;      ///< the same for the same day and rider, so that a second file changes the first's
    std::string day;      ///< ISO 8601; an event of the whole day
    std::string summary;  ///< one line
    std::string words;    ///< more, may have lines
};

/// `stamp` is when it was written, ISO 8601 in UTC ("2026-11-27T14:05:00"). Throws core::Refused for a day
/// that is none.
void write_calendar(std::ostream& out, const std::string& name, const std::vector<CalendarDay>& days,
                    const std::string& stamp);

}  // namespace aspen::exchange
