#include "store/records.hpp"

#include <chrono>
#include <cstdio>

namespace aspen::store {

std::vector<std::string> Ride::missing() const {
    std::vector<std::string> out;
    if (!rider) out.emplace_back("rider");
    if (!horse && mount == core::Mount::horse) out.emplace_back("horse");
    if (school.empty()) out.emplace_back("school");
    return out;
}

std::string Clip::day() const {
    if (recorded_at.size() < 10) return added_on;
    const std::string day = recorded_at.substr(0, 10);
    int y = 0, mo = 0, d = 0, h = 0, mi = 0, s = 0;
    if (clock_off_s == 0 ||
        std::sscanf(recorded_at.c_str(), "%d-%d-%dT%d:%d:%d", &y, &mo, &d, &h, &mi, &s) != 6)
        return day;
    using namespace std::chrono;
    const auto then = sys_days(year(y) / mo / d) + hours(h) + minutes(mi) + seconds(s) + seconds(clock_off_s);
    const year_month_day shifted(floor<days>(then));
    char text[48];
    std::snprintf(text, sizeof text, "%04d-%02u-%02u", static_cast<int>(shifted.year()),
                  static_cast<unsigned>(shifted.month()), static_cast<unsigned>(shifted.day()));
    return text;
}

}  // namespace aspen::store
