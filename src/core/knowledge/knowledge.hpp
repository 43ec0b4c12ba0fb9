#pragma once

#include <functional>
#include <iosfwd>
#include <memory>
#include <string>
#include <vector>

#include "core/judging/checks.hpp"
#include "core/judging/focus.hpp"
#include "core/judging/measure_words.hpp"
#include "core/proposal/proposal.hpp"
#include "core/training/exercises.hpp"

namespace aspen::core {

/// Everything the program knows about the trade, as loaded from data files. Not copied or moved: found faults
/// point into it.
struct Knowledge {
    Body body;
    Schools schools;
    FaultBook faults;
    CheckBook checks;
    StrengthBook strengths;
    MeasureWords measure_words;
    ExerciseBook exercises;
    FigureErrors figure_errors;

    /// How amounts are said of one rider.
    SpokenAmounts spoken(const ToWhom& to = {}) const { return {measure_words.amounts(), body, to}; }

    Knowledge() = default;
    Knowledge(const Knowledge&) = delete;
    Knowledge& operator=(const Knowledge&) = delete;
};

/// Opens a data file by its path below data/, e.g. "schools/hunter.json". May throw Refused.
using DataOpener = std::function<std::unique_ptr<std::istream>(const std::string& path)>;

/// Loads and cross-checks all data. `schools` are the paths of the school files. Throws Refused in one line.
std::unique_ptr<const Knowledge> load_knowledge(const DataOpener& open,
                                                const std::vector<std::string>& schools);

}  // namespace aspen::core
