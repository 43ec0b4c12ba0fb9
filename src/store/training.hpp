#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "store/part.hpp"

namespace aspen::store {

/// What is practised, how riders' weeks look, and lessons.
class Training : Part {
  public:
    explicit Training(Transactions& transactions) : Part(transactions) {}

    PracticeId add(const PracticeEntry& entry);
    void update(const PracticeEntry& entry);
    void remove(PracticeId id);
    /// In order of days.
    std::vector<PracticeEntry> practice_of(RiderId rider) const;

    /// The later one takes the place of the earlier.
    void put(const RiderPlan& plan);
    /// What is taken for granted where nothing was said.
    RiderPlan plan_of(RiderId rider) const;

    LessonId add(const Lesson& lesson);
    void update(const Lesson& lesson);
    void remove(LessonId id);
    std::optional<Lesson> lesson(LessonId id) const;
    /// Newest first, so many at most.
    std::vector<Lesson> lessons(int most = 30) const;
    LessonPlaceId add(const LessonPlace& place);
    void update(const LessonPlace& place);
    void remove(LessonPlaceId id);
    /// In turn.
    std::vector<LessonPlace> places(LessonId id) const;
    /// Logged by the wall clock in this ride and not yet laid under a clip, in order.
    std::vector<Note> clock_notes(RideId ride) const;
    std::vector<Event> clock_events(RideId ride) const;
    /// The lessons of a day in which this horse went, with the ride.
    std::vector<std::pair<Lesson, LessonPlace>> lessons_of(HorseId horse, const std::string& day) const;
    /// Lessons in which this horse went, newest day first, so many at most, with the ride.
    std::vector<std::pair<Lesson, LessonPlace>> lessons_with(HorseId horse, int most = 60) const;
};

}  // namespace aspen::store
