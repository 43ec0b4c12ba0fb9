#pragma once

#include <string>
#include <vector>

#include "core/judging/faults.hpp"

/// What a ride says, put together for reading: good first, then findings by weight, the horse's answers, and
/// what could not be judged.
namespace aspen::core {

struct RideAssessment;
struct RideData;
struct Knowledge;

/// Something that no moment could judge: why, and the view that would settle it ("" where none would).
struct NotJudged {
    std::string what;  ///< a measure's or fault's id, or words
    std::string why;
    std::string view;
    std::string words;  ///< `what` as it is said
};
std::vector<NotJudged> not_judged(const RideAssessment& assessment, const RideData& ride,
                                  const Knowledge& knowledge);

struct RideSummary {
    struct Line {
        const Fault* fault = nullptr;
        std::string words;  ///< "at 3 of 4 moments, trot rising, left side"
        bool doubtful = false;
    };
    std::vector<std::string> good;
    std::vector<Line> findings;      ///< by weight; the doubtful after the certain
    std::vector<std::string> horse;  ///< its answers, each with the finding it may explain
    std::vector<NotJudged> open;
};
RideSummary summary_of(const RideAssessment& assessment, const RideData& ride, const Knowledge& knowledge);

/// "from one moment", "at 3 of 4 moments".
std::string how_often(const FoundFault& found);

}  // namespace aspen::core
