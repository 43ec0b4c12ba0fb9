#include "exchange/calendar.hpp"

#include <fmt/format.h>
#include <libical/ical.h>

#include <memory>
#include <ostream>

#include "core/reading/refused.hpp"
#include "core/training/homework.hpp"

namespace aspen::exchange {
namespace {

struct Free {
    void operator()(icalcomponent* c) const { icalcomponent_free(c); }
    void operator()(char* text) const { icalmemory_free_buffer(text); }
};

std::string digits_of(const std::string& iso) {
    std::string out;
    for (const char c : iso) {
        if (c != '-' && c != ':') out += c;
    }
    return out;
}

}  // namespace

void write_calendar(std::ostream& out, const std::string& name, const std::vector<CalendarDay>& days,
                    const std::string& stamp) {
    const std::unique_ptr<icalcomponent, Free> calendar(icalcomponent_new(ICAL_VCALENDAR_COMPONENT));
    icalcomponent_add_property(calendar.get(), icalproperty_new_version("2.0"));
    icalcomponent_add_property(calendar.get(), icalproperty_new_prodid("-//Aspen Crest//homework//EN"));
    icalproperty* called = icalproperty_new_x(name.c_str());
    icalproperty_set_x_name(called, "X-WR-CALNAME");
    icalcomponent_add_property(calendar.get(), called);
    for (const CalendarDay& d : days) {
        core::weekday_of(d.day);  // refused where it is no day
        icalcomponent* event = icalcomponent_new(ICAL_VEVENT_COMPONENT);
        icalcomponent_add_property(event, icalproperty_new_uid(d.uid.c_str()));
        icalcomponent_add_property(
            event, icalproperty_new_dtstamp(icaltime_from_string((digits_of(stamp) + "Z").c_str())));
        icalcomponent_add_property(event,
                                   icalproperty_new_dtstart(icaltime_from_string(digits_of(d.day).c_str())));
        icalcomponent_add_property(
            event,
            icalproperty_new_dtend(icaltime_from_string(digits_of(core::day_after(d.day, 1)).c_str())));
        icalcomponent_add_property(event, icalproperty_new_summary(d.summary.c_str()));
        if (!d.words.empty())
            icalcomponent_add_property(event, icalproperty_new_description(d.words.c_str()));
        // The day is not blocked for anything else.
        icalcomponent_add_property(event, icalproperty_new_transp(ICAL_TRANSP_TRANSPARENT));
        icalcomponent_add_component(calendar.get(), event);
    }
    const std::unique_ptr<char, Free> text(icalcomponent_as_ical_string_r(calendar.get()));
    out << text.get();
}

}  // namespace aspen::exchange
