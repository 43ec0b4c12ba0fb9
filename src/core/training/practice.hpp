#pragma once

#include <string>
#include <vector>

#include "core/training/exercises.hpp"

/// What a practice log says of a ladder.
namespace aspen::core {

/// One ride's practice of one exercise, as coach or rider wrote it down.
struct Practice {
    std::string day;       ///< ISO 8601
    std::string exercise;  ///< id
    int rung = -1;         ///< from 0; −1: the one that was due
    int attempts = 0, good = 0;
    double held = 0;    ///< strides held, the longest; 0 not said
    double guess = -1;  ///< the rider's own guess of good ones, said before; −1 not said
    int feel = 0;       ///< 1 … 5, 0 not said
    bool pain = false;
    bool tired_rider = false, tired_horse = false;
    bool by_rider = false;  ///< else by the coach
    std::string words;
};

/// What a ride was for the ladder. A good one reaches the rung's good tries and their share of all tries (and
/// the strides to hold, where they were written down); a failed one has less than half of its tries good;
/// without counted tries the feel decides (4 and 5 good, 1 and 2 failed); pain is no good ride whatever was
/// counted.
enum class RideCount { good, middling, failed, pain };
RideCount count_of(const Practice& practice, const Rung& rung);

struct LadderPlace {
    int rung = 0;           ///< where the rider stands, from 0
    int good_in_a_row = 0;  ///< on this rung: two take it up
    bool done = false;      ///< two good rides on the last rung
    bool stopped = false;   ///< a ride hurt: nothing more of it until the coach logs one that did not
    std::string waits_for;  ///< what must stand before the next rung, "" where nothing does
    int rides = 0, attempts = 0, good = 0;
};
/// Where a rider stands on a ladder who began on `first`: two good rides in a row one rung up, a failed one
/// one rung down, never off the ladder. An entry that says its rung puts the rider there first. A rung that
/// needs a word of the coach's is not climbed to without it. Entries in order of their days; those of other
/// exercises are passed over.
LadderPlace stand_on(const Exercise& exercise, int first, const std::vector<Practice>& log,
                     const ExerciseBook& book, const RiderNeeds& rider);

/// "4 of 4", "7 of 8 this time, 6 of 8 asked", "not good enough to count yet: 2 of 6".
std::string said_of(const Practice& practice, const Rung& rung);
/// How far it is to the thousand tries that coaches say a horse may need: "143 tries so far; coaches say a
/// horse may need a thousand". Empty for none.
std::string toward_a_thousand(int attempts);
/// Why nothing moves, where the log says it: no practice, or not since. Empty where the log explains nothing.
/// `today` and `given` are days, `rides_a_week` what the rider said.
std::string stalled_because(const LadderPlace& place, const std::vector<Practice>& log,
                            const std::string& exercise, int days_since_given);

}  // namespace aspen::core
