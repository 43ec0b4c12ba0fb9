#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/training/exercises.hpp"

/// Which three exercises stand on the coach's page for a focus, each with what speaks for it and against.
namespace aspen::core {

/// What was given before for the same fault.
struct Tried {
    std::string exercise;
    int rides = 0;  ///< practised
    int rungs = 0;  ///< climbed
    bool hurt = false;
    bool held = false;  ///< the fault held inside its band after it
};

struct ChoiceAsk {
    std::string fault;
    std::vector<std::string> drives;  ///< faults that the focus explains
    RiderNeeds rider;
    int minutes = 45;  ///< of a ride
    double rides_a_week = 2;
    bool arena = true, helper = true;
    std::optional<std::vector<std::string>> equipment{};  ///< what there is; nothing said: everything
    std::vector<Tried> tried{};
};

struct Candidate {
    const Exercise* exercise = nullptr;
    std::string reason;   ///< a sentence
    std::string against;  ///< the strongest reason against it, a sentence; never empty
    double score = 0;
};
/// The best three, best first; only what fits the rider and may be ridden today. Fewer where fewer fit.
std::vector<Candidate> candidates(const ExerciseBook& book, const FaultBook& faults, const ChoiceAsk& ask,
                                  std::size_t most = 3);

}  // namespace aspen::core
