#pragma once

#include <array>
#include <string>
#include <string_view>
#include <vector>

#include "core/training/exercises.hpp"

/// A rider's weeks: which days, how much of the exercise, and when the next clip is due.
namespace aspen::core {

inline constexpr std::array<std::string_view, 7> kWeekdays{"mon", "tue", "wed", "thu", "fri", "sat", "sun"};

struct HomeworkAsk {
    std::vector<int> days;  ///< of the week, 0 Monday … 6 Sunday; the days on which the rider rides
    std::string starts;     ///< ISO 8601
    const Exercise* exercise = nullptr;
    int rung = 0;
    int ride_minutes = 45;
};

struct HomeworkDay {
    std::string day;  ///< ISO 8601
    int seconds = 0;  ///< of the exercise: its bouts, each as long as the others
    int bouts = 0;
    bool at_home = false;  ///< on foot: once on the day, ridden or not
    int bout_s() const { return bouts > 0 ? seconds / bouts : 0; }
};
struct HomeworkWeek {
    std::string starts;  ///< its Monday
    std::vector<HomeworkDay> days;
    int seconds() const;
};

struct Homework {
    std::vector<HomeworkWeek> weeks;
    std::string clip_on;             ///< the last day ridden of the term
    std::vector<std::string> shots;  ///< what to film, and where to stand
    std::vector<std::string> notes;  ///< what was changed about the days, in sentences
};

/// Weeks as long as the exercise's term, in the rung's own bouts: half of them in the first week (rounded
/// up), all of them in the last, and as evenly between as whole bouts allow; where the rung is one stretch,
/// that grows by half minutes (common practice, no source). Never more than half of the ride. One day a week
/// at least is left free. Throws Refused where there is no day, or `starts` is no day.
Homework homework(const HomeworkAsk& ask);

/// The shot list of a next clip: the exercise's own first, then what every clip needs.
std::vector<std::string> shot_list(const Exercise& exercise);

/// "mon wed sat" → 0 2 5; words that are none are passed over.
std::vector<int> weekdays_in(std::string_view words);
/// Days between, `to` less `from`; Throws Refused where one is no day.
int days_between(std::string_view from, std::string_view to);
/// A day so many days later.
std::string day_after(std::string_view day, int days);
/// 0 Monday … 6 Sunday.
int weekday_of(std::string_view day);

}  // namespace aspen::core
