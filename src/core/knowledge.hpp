#pragma once

#include <functional>
#include <iosfwd>
#include <memory>
#include <string>
#include <vector>

#include "core/exercises.hpp"
#include "core/focus.hpp"
#include "core/proposal.hpp"

namespace aspen::core {

/// Everything the program knows about the trade, as loaded from data files. Not copied or moved: found faults
/// point into it.
struct Knowledge {
    Body body;
    Schools schools;
    FaultBook faults;
    ExerciseBook exercises;
    FigureErrors figure_errors;

    Knowledge() = default;
    Knowledge(const Knowledge&) = delete;
    Knowledge& operator=(const Knowledge&) = delete;
};

/// Opens a data file by its path below data/, e.g. "schools/hunter.json". May throw Refused.
using DataOpener = std::function<std::unique_ptr<std::istream>(const std::string& path)>;

/// Loads and cross-checks all data. `schools` are the paths of the school files. Throws Refused in one line.
std::unique_ptr<const Knowledge> load_knowledge(const DataOpener& open,
                                                const std::vector<std::string>& schools);

/// All that one moment says.
struct Assessment {
    std::vector<Judged> judged;
    std::vector<FoundFault> faults;
    std::vector<Cause> causes;
    std::optional<Focus> focus;
};
Assessment assess(const Figure& figure, const Setting& setting, const Knowledge& knowledge);

}  // namespace aspen::core
