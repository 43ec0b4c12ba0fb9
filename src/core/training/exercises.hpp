#pragma once

#include <array>
#include <iosfwd>
#include <map>
#include <optional>
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
    std::vector<std::string> gates;  ///< of `before`, those that the coach signs off, as ids
    Dose dose;
};

/// What the coach signs off, dated, for a rider on a horse: ids. The words stand in the exercises' `before`.
inline constexpr std::array<std::string_view, 5> kGates{"canter", "no_stirrups", "no_reins", "jump", "alone"};
/// "may canter", "may work without stirrups"; an unknown id as it is.
std::string_view spoken_gate(std::string_view gate);

/// What a rider's body does not allow, or what hurts today, in free words and as it is understood.
struct Limitation {
    std::string words, side;  ///< side: left, right, both or ""
    std::vector<std::string>
        parts;  ///< of the body, as the exercises' not_for has them; empty: not understood
};

/// What of the rider decides which exercise fits.
struct RiderNeeds {
    std::string level;  ///< beginner, novice or established; "" when not known
    std::vector<Limitation> limitations;
    std::vector<std::string> signed_off{};  ///< gates, on this horse
};

/// An exercise offered, or set aside with the reason.
struct Offer {
    const Exercise* exercise = nullptr;
    std::string set_aside;  ///< empty: it fits
    std::string gate{};     ///< the one thing missing is this sign-off; "" for anything else
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
    /// that loads the body until the coach says otherwise, and what stands behind a gate that was not signed
    /// off.
    std::vector<Offer> offers(std::string_view fault, const RiderNeeds& rider) const;

    /// The parts of the body that free words name, as the exercises' not_for has them; empty where none is
    /// understood.
    std::vector<std::string> parts_in(const std::string& words) const;
    /// Every part that words can name.
    std::vector<std::string> parts() const;
    /// A limitation as it is understood: by what the coach said that it keeps from being loaded (parts by
    /// blanks), else by its own words. Empty where the coach said "nothing". A side that stands in the words
    /// alone is read there.
    std::optional<Limitation> understood(const std::string& words, std::string side,
                                         const std::string& loads) const;

  private:
    Offer offer(const Exercise& exercise, const RiderNeeds& rider) const;
    std::string set_aside(const Exercise& exercise, const RiderNeeds& rider) const;
    std::vector<Exercise> exercises_;
    std::map<std::string, std::vector<std::string>, std::less<>> body_words_;
};

/// "10 minutes, 4 times a week, for 2 weeks".
std::string spoken(const Dose& dose);

}  // namespace aspen::core
