#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/training/homework.hpp"

/// What goes home of an exercise: what is done, what may be done and what must stand first, who must be
/// there, when to stop. Made here for page, fridge page, phone page, calendar and message alike, so that none
/// of them says less than another.
namespace aspen::core {

struct GoingHome {
    struct Step {
        std::string words;
        std::string first{};  ///< what must stand before this rung is ridden: "may canter, sits the trot"; ""
                              ///< for nothing
        /// Both in one line.
        std::string spoken() const;
    };
    std::string name, purpose, cue_picture, cue_plain;
    std::vector<Step> steps;  ///< the whole ladder as this rider rides it, the easiest first
    int here = 0;             ///< where the rider stands
    std::string dose;         ///< how much in every ride, as the week has it
    std::string good_ride, up, down;
    std::vector<std::string> before, people, things;
    std::vector<std::string> ways;  ///< what is otherwise for this rider: saddle, place, mount, school
    std::string caution, stop;

    /// Everything that says what may be done, a sentence each, for where there is only text: what stands
    /// first, who and what must be there, what is otherwise, caution, when to stop.
    std::vector<std::string> rules() const;
};

/// Where an exercise is ridden: what decides which of its ways hold.
struct GoingWhere {
    bool arena = true;
    std::string today{};                 ///< ISO 8601; which week's dose is said
    const Homework* homework = nullptr;  ///< empty: the rung's full dose
};

/// What must stand before a rung beyond what the whole exercise asks, as the coach says it: "may canter,
/// steady sitting trot"; "" for nothing.
std::string stands_first(const Exercise& exercise, const Rung& rung, const ExerciseBook& book,
                         const RiderNeeds& rider);

/// Throws Refused while the rung may not be ridden by this rider: nothing of it goes home.
GoingHome going_home(const Exercise& exercise, int rung, const ExerciseBook& book, const RiderNeeds& rider,
                     const GoingWhere& where);

/// A line beside the focus: something for the horse, or something off it.
struct HomeworkLine {
    std::string whose;  ///< "for Fig", "off the horse"
    std::string id;     ///< of the exercise
    GoingHome home;
    /// "For Fig: Stiff side first. Walk, a circle each way (in every ride, 5 bouts of 1 minute). …", with
    /// everything that says what may be done but when to stop, which stands there already.
    std::string spoken() const;
};
/// Whose line it is: "for Fig", and for no horse "off the horse".
std::string beside_for(const std::string& horse);

/// A day of the weeks as it stands in a calendar.
struct HomeEntry {
    std::string day;    ///< ISO 8601
    bool clip = false;  ///< the day of the next clip
    std::string summary, words;
};
/// Every day of the weeks with everything that says what may be done, and the next clip.
std::vector<HomeEntry> entries_of(const GoingHome& home, const Homework& weeks,
                                  const std::vector<HomeworkLine>& lines);

/// What would do this horse good under this rider, what it needs most first, none that is the focus's own.
std::vector<const Exercise*> for_the_horse(const ExerciseBook& book, const RiderNeeds& rider, bool stiff,
                                           std::string_view focus_exercise, std::size_t most = 4);
/// What is done on foot: what helps the faults, the first of them first, then the rest.
std::vector<const Exercise*> off_the_horse(const ExerciseBook& book, const RiderNeeds& rider,
                                           const std::vector<std::string>& faults,
                                           std::string_view focus_exercise, std::size_t most = 4);

/// "in every ride, 3 bouts of 2 minutes"; "1 stretch of 2½ minutes".
std::string spoken(const HomeworkDay& day);
/// The week that a day lies in, else the first that is still to come, else the last; nothing without weeks.
const HomeworkWeek* week_at(const Homework& homework, const std::string& day);

}  // namespace aspen::core
