#include "app/review/limits.hpp"

namespace aspen::app {

std::vector<core::Limitation> limits_on(Yard& yard, const store::Ride& ride) {
    std::vector<core::Limitation> out;
    const core::ExerciseBook& book = yard.knowledge().exercises;
    const auto add = [&](const std::string& words, const std::string& side, const std::string& loads) {
        if (auto l = book.understood(words, side, loads)) out.push_back(*std::move(l));
    };
    if (ride.rider) {
        for (const store::Limitation& l : yard.records().limitations(ride.rider)) {
            const bool begun = l.since.empty() || ride.day.empty() || l.since <= ride.day;
            const bool over = !l.until.empty() && !ride.day.empty() && l.until < ride.day;
            if (begun && !over) add(l.words, l.side, l.loads);
        }
    }
    if (!ride.own.hurts.empty()) add(ride.own.hurts, {}, {});
    return out;
}

}  // namespace aspen::app
