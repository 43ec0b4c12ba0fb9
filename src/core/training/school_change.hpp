#pragma once

#include <string>
#include <vector>

#include "core/judging/schools.hpp"
#include "core/training/exercises.hpp"

/// What a rider has to change who goes from one school to another: base first, then trunk, then hands.
namespace aspen::core {

struct SchoolStep {
    AttentionGroup group = AttentionGroup::base;
    std::string measure, spoken, unit;
    Band from, to;
    double shift = 0;                    ///< of the band's middle, or of the end that both have
    std::string words;                   ///< "knee angle: more open, from 108…138 to 98…125"
    const Exercise* exercise = nullptr;  ///< toward the new band; null where none answers it
    std::string clip;                    ///< what to film, to see whether it is there
};

/// Measures whose bands differ by more than a degree or a hundredth, in the order in which they are worked
/// on: base, trunk, head, arms; the larger shift first within each. The exercise answers the fault that the
/// old habit is in the new school, and fits the rider.
std::vector<SchoolStep> school_change(const Schools& schools, const FaultBook& faults,
                                      const ExerciseBook& book, const std::string& from,
                                      const std::string& to, const Setting& setting, const RiderNeeds& rider);

}  // namespace aspen::core
