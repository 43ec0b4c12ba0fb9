#pragma once

#include <QString>
#include <QStringList>
#include <functional>
#include <vector>

#include "app/review/bench.hpp"

/// How it is ridden beside gait, seat and rein: stirrups, reins, hands, line, and which leg is seen on a
/// circle.
namespace aspen::app {

/// One thing that can be said of a stretch; saying what holds already takes it back.
struct RidingChoice {
    QString group, words;
    bool holds = false;
    std::function<void(core::Stretch&)> say;
};

/// Everything that can be said, group by group, with what holds now.
std::vector<RidingChoice> riding_choices(const core::Stretch& now);
/// Says it from this frame on; what came before is left as it is.
void riding_from_here(Bench& bench, const RidingChoice& choice);
/// What was said of a stretch: "without stirrups", "on the lunge".
QStringList riding_in_words(const core::Stretch& stretch);

}  // namespace aspen::app
