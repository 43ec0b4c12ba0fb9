#include "core/training/homework.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <chrono>
#include <cmath>
#include <numeric>

#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

using std::chrono::sys_days;
using std::chrono::year_month_day;

constexpr double kStart = 0.5;
constexpr int kHomeworkUnit = 30;  // s

sys_days parsed(std::string_view text) {
    int y = 0, m = 0, d = 0;
    const auto number = [&](std::size_t at, std::size_t length, int& into) {
        if (text.size() < at + length) return false;
        const char* first = text.data() + at;
        const auto [end, error] = std::from_chars(first, first + length, into);
        return error == std::errc() && end == first + length;
    };
    const bool read = text.size() == 10 && text[4] == '-' && text[7] == '-' && number(0, 4, y) &&
                      number(5, 2, m) && number(8, 2, d);
    const year_month_day day{std::chrono::year(y), std::chrono::month(static_cast<unsigned>(m)),
                             std::chrono::day(static_cast<unsigned>(d))};
    if (!read || !day.ok()) throw Refused(fmt::format("day \"{}\": must be like 2026-11-27", text));
    return sys_days(day);
}

std::string iso_words(sys_days day) {
    const year_month_day d(day);
    return fmt::format("{:04}-{:02}-{:02}", static_cast<int>(d.year()), static_cast<unsigned>(d.month()),
                       static_cast<unsigned>(d.day()));
}

int iso_weekday(sys_days day) { return static_cast<int>(std::chrono::weekday(day).iso_encoding()) - 1; }

/// What is done on a day when so much of the term has gone, 0 … 1: whole bouts, or of a single stretch
/// half minutes.
HomeworkDay portion(const std::string& day, double gone, const Rung& rung, int most_s) {
    const double share = kStart + (1 - kStart) * gone;
    const auto part = [&](int units) {
        return std::max(1, static_cast<int>(std::ceil(share * units - 1e-9)));
    };
    const int bout = 60 * rung.minutes;
    if (rung.work == Work::unmounted) return {day, bout, 1, true};  // its bouts are days of the week
    if (rung.bouts > 1 && bout <= most_s) {
        const int bouts = part(std::min(rung.bouts, most_s / bout));
        return {day, bouts * bout, bouts};
    }
    return {day, kHomeworkUnit * part(std::min(bout, most_s) / kHomeworkUnit), 1};
}

}  // namespace

int HomeworkWeek::seconds() const {
    return std::accumulate(days.begin(), days.end(), 0,
                           [](int s, const HomeworkDay& d) { return s + d.seconds; });
}

std::vector<int> weekdays_in(std::string_view words) {
    std::vector<int> out;
    for (std::size_t i = 0; i < kWeekdays.size(); ++i) {
        if (words.find(kWeekdays[i]) != std::string_view::npos) out.push_back(static_cast<int>(i));
    }
    return out;
}

int days_between(std::string_view from, std::string_view to) {
    return static_cast<int>((parsed(to) - parsed(from)).count());
}
std::string day_after(std::string_view day, int days) {
    return iso_words(parsed(day) + std::chrono::days(days));
}
int weekday_of(std::string_view day) { return iso_weekday(parsed(day)); }

std::vector<std::string> shot_list(const Exercise& e) {
    return {e.next_clip, "the same gaits on both reins, a straight line and a circle",
            "from the side, camera square on, still, at the height of the rider's hip",
            "some seconds from behind, riding away"};
}

Homework homework(const HomeworkAsk& ask) {
    if (!ask.exercise) throw Refused("homework: needs an exercise; choose one");
    if (ask.days.empty())
        throw Refused("homework: says no day of the week; say on which days the rider rides");
    const sys_days start = parsed(ask.starts);
    Homework out;
    std::vector<int> days = ask.days;
    std::ranges::sort(days);
    days.erase(std::unique(days.begin(), days.end()), days.end());
    if (days.size() == 7) {
        days.erase(days.begin());  // horse and rider have one free day
        out.notes.emplace_back("Monday is left free: a horse and a body need one day a week");
    }
    const auto& ladder = ask.exercise->dose.ladder;
    const Rung& rung =
        ladder[static_cast<std::size_t>(std::clamp(ask.rung, 0, static_cast<int>(ladder.size()) - 1))];
    const int most_s = std::max(kHomeworkUnit, 60 * ask.ride_minutes / 2);
    const int term = ask.exercise->dose.weeks;
    const sys_days monday = start - std::chrono::days(iso_weekday(start));
    for (int w = 0; w < term + 1; ++w) {
        HomeworkWeek week{iso_words(monday + std::chrono::days(7 * w)), {}};
        for (const int d : days) {
            const sys_days day = monday + std::chrono::days(7 * w + d);
            // A term is whole weeks from its first day: what the first week lacks stands in the last.
            if (day < start || day >= start + std::chrono::days(7 * term)) continue;
            // Weeks of the term, not of the calendar: a term that begins on a Thursday has no half week.
            const auto gone = static_cast<int>((day - start).count()) / 7;
            const double share = term > 1 ? static_cast<double>(gone) / (term - 1) : 1;
            week.days.push_back(portion(iso_words(day), share, rung, most_s));
        }
        if (!week.days.empty()) out.weeks.push_back(std::move(week));
    }
    out.clip_on = out.weeks.empty() ? iso_words(start) : out.weeks.back().days.back().day;
    out.shots = shot_list(*ask.exercise);
    return out;
}

}  // namespace aspen::core
