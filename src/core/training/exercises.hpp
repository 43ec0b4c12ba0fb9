#pragma once

#include <iosfwd>
#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "core/judging/faults.hpp"

namespace aspen::core {

struct Dose {
    int minutes = 0;  ///< a session
    int times_per_week = 0;
    int weeks = 0;
    std::vector<std::string> ladder;  ///< easiest step first
    std::string up, down;             ///< when to climb, when to come down a step
};

struct Exercise {
    std::string id, name, purpose, next_clip, caution;
    std::vector<std::string> answers;  ///< fault ids, the one it answers best first
    std::vector<std::string> where, equipment, people, before, not_for, levels, cues;
    Dose dose;
};

/// What of the rider decides which exercise fits.
struct RiderNeeds {
    std::string level;  ///< beginner, novice or established; "" when not known
    /// In free words, also what hurts today: "left hip", "knee replacement".
    std::vector<std::string> limitations;
};

/// An exercise offered, or set aside with the reason.
struct Offer {
    const Exercise* exercise = nullptr;
    std::string set_aside;  ///< empty: it fits
};

class ExerciseBook {
  public:
    ExerciseBook() = default;
    /// Throws Refused naming file, entry and field; every answered fault must be in the book.
    ExerciseBook(std::istream& in, const std::string& file, const FaultBook& faults);

    const std::vector<Exercise>& all() const { return exercises_; }
    const Exercise* find(std::string_view id) const;
    /// Exercises that answer a fault, those that fit the rider first, best answer first; then those set
    /// aside: for a part of the body, for the level, and, where a limitation is not understood, everything
    /// that loads the body until the coach says otherwise.
    std::vector<Offer> offers(std::string_view fault, const RiderNeeds& rider) const;

    /// The parts of the body that free words name, as the exercises' not_for has them; empty where none is
    /// understood.
    std::vector<std::string> parts_in(const std::string& words) const;

  private:
    std::string set_aside(const Exercise& exercise, const RiderNeeds& rider) const;
    std::vector<Exercise> exercises_;
    std::map<std::string, std::vector<std::string>, std::less<>> body_words_;
};

/// "10 minutes, 4 times a week, for 2 weeks".
std::string spoken(const Dose& dose);

}  // namespace aspen::core
