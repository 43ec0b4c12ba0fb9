#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/knowledge/knowledge.hpp"
#include "core/training/choice.hpp"
#include "core/training/going_home.hpp"
#include "core/training/practice.hpp"
#include "core/training/session.hpp"
#include "exchange/calendar.hpp"
#include "store/yard_store.hpp"

/// A rider's plan put together from the records: what is in work, which exercise, where on its ladder, the
/// weeks. The same for the window, the page and the command line; without Qt.
namespace aspen::app {

/// What decides which exercise fits: the rider, the horse, what the coach signed off, what hurts on this day.
/// `ride` gives the day's own words where there is one.
core::RiderNeeds needs_of(const store::YardStore& records, const core::Knowledge& knowledge,
                          store::RiderId rider, store::HorseId horse, const std::string& today,
                          const store::Ride* ride = nullptr);

/// What the rider's body does not allow on the day of a ride, as it is understood: limitations that hold that
/// day, and what hurts, which counts like one for two weeks or until it is said to be over.
std::vector<core::Limitation> limits_on(const store::YardStore& records, const core::Knowledge& knowledge,
                                        const store::Ride& ride);

struct GivenExercise {
    store::Prescription record;
    const core::Exercise* exercise = nullptr;
    core::LadderPlace place;
    std::vector<core::Practice> log;  ///< of this exercise since it was given
    std::string stalled;              ///< why nothing moves, where the log says it
    std::string shut{};  ///< why it may not be ridden now, though it was given: nothing of it goes home
};

struct RidersPlan {
    store::Rider rider;
    std::optional<store::Horse> horse;            ///< the one it is for
    std::optional<store::Correction> correction;  ///< the focus
    const core::Fault* fault = nullptr;
    std::vector<std::pair<const core::Fault*, std::string>>
        drives;  ///< what the focus explains here, and why
    core::RiderNeeds needs;
    store::RiderPlan weeks;
    std::optional<GivenExercise> given;  ///< what is practised
    std::vector<core::Candidate> candidates;
    std::vector<core::Offer> set_aside;
    std::optional<core::Homework> homework;   ///< of what was given, where the rider's days are known
    std::vector<core::HomeworkLine> lines{};  ///< what goes home beside the focus: for the horse, off it
    std::vector<const core::Exercise*> horse_lines{}, off_lines{};  ///< what could
    std::vector<core::Practice> log;                                ///< all of the rider's, by day
    int attempts = 0;                                               ///< of the exercise, ever
};
/// Nothing where there is no such rider. `fault` overrides the recorded focus (a review that is open). The
/// pointers belong to `knowledge`.
std::optional<RidersPlan> plan_for(const store::YardStore& records, const core::Knowledge& knowledge,
                                   store::RiderId rider, const std::string& today,
                                   const std::string& fault = {});

/// What goes home of the exercise that was given, or of another. Throws Refused while it may not.
core::GoingHome goes_home(const RidersPlan& plan, const core::Knowledge& knowledge, const std::string& today,
                          const core::Exercise* other = nullptr);

/// The weeks as calendar entries, each with everything that says what may be done, and the next clip. Throws
/// Refused like goes_home, and where there are no weeks.
std::vector<exchange::CalendarDay> calendar_days(const RidersPlan& plan, const core::Knowledge& knowledge,
                                                 const std::string& today);

/// What is asked of the planner for a ride of this rider: what is given first, then what else is in work.
/// With the minutes the horse has done that day.
core::SessionAsk session_ask(const store::YardStore& records, const core::Knowledge& knowledge,
                             const RidersPlan& plan, const std::string& today);

/// All equipment that exercises name, less what the yard has not got.
std::vector<std::string> equipment_of(const store::YardStore& records, const core::Knowledge& knowledge);

/// The id of an exercise by its id or name in any case; "" where none is called so.
std::string exercise_called(const core::Knowledge& knowledge, const std::string& words);

struct TakenIn {
    int added = 0, known = 0;         ///< a row that stands in the log already is not written twice
    std::vector<std::string> beyond;  ///< rows that were ridden beyond a gate: kept, and said
};
/// Writes a rider's log into the records, as one change.
TakenIn take_in_practice(store::YardStore& records, const core::Knowledge& knowledge, store::RiderId rider,
                         const std::vector<core::Practice>& rows);

/// Minutes a horse has worked on a day, over all its riders, and how many fences it jumped: lessons by their
/// clock, other rides by how long their riders ride (what is filmed of one is the least of it).
struct HorseLoad {
    int minutes = 0, fences = 0;
    std::vector<std::string> riders;
};
/// What is not counted: a rider's rides that were no lesson, and a lesson.
struct NotCounted {
    store::RiderId rider{};
    store::LessonId lesson{};
};
HorseLoad load_of(const store::YardStore& records, store::HorseId horse, const std::string& day,
                  const NotCounted& but = {});

/// Seconds between two instants of the wall clock ("2026-11-27T14:05:00"); 0 where one is none.
int seconds_between(const std::string& from, const std::string& to);

}  // namespace aspen::app
