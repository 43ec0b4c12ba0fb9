#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/training/exercises.hpp"

/// A session on a clock for one rider on one horse: planned by rules, and held against the same rules when
/// the coach moves its blocks. The numbers are common practice, no source, unless said.
namespace aspen::core {

enum class BlockKind { warm_up, opener, work, rest, easy, finish, cool_down };
std::string_view word(BlockKind kind);

struct Block {
    BlockKind kind = BlockKind::easy;
    Work work = Work::walk;
    std::string rein;  ///< left, right, or "" where it does not matter
    int seconds = 60;  ///< of 30 a whole number
    std::string exercise{};
    int rung = -1;
    bool stirrups = true;
    bool full_seat = false;
    std::string words{};
    friend bool operator==(const Block&, const Block&) = default;
};
/// How hard a minute of it is, for the horse: halt and walk 1, running walk and trot 3, canter 5, jump 6;
/// without stirrups a tenth more for the rider (from memory: an order, no measure).
double load_per_min(const Block& block);

struct SessionWork {
    const Exercise* exercise = nullptr;
    int rung = 0;
};

/// Who else rides a session, and what this rider's own horse has done today under others.
struct Companion : RiderNeeds {
    int horse_minutes_today = 0, horse_fences_today = 0;
};

struct SessionAsk {
    int minutes = 45;                ///< 20 … 90
    std::vector<SessionWork> works;  ///< foremost first
    RiderNeeds rider;
    std::vector<Companion> with{};  ///< who else rides it: nothing is in it that one of them may not ride
    std::string stiff_side;         ///< of the horse: left, right or ""
    bool strange_horse = false;     ///< the rider does not know it: openers first
    int horse_minutes_today = 0;    ///< under other riders
    int horse_fences_today = 0;     ///< the same
};

struct Session {
    std::vector<Block> blocks;
    std::vector<std::string> left_out;  ///< what was asked and is not in it, each with its reason
    int seconds() const;
};

/// Longest times: a horse's trot, canter and jumping in one session and its work of a day, minutes; one bout
/// of two-point and of a green horse's canter (common practice, no source; the sums of a session and a day
/// from memory).
struct HorseLimits {
    int fast_min = 40, canter_min = 12, jump_min = 8, day_min = 120;
    int canter_bout_s = 300, two_point_bout_s = 300;
    int day_fences = 40;  ///< over all its riders
};
/// What a minute of work over fences comes to: an order, no measure (from memory).
inline constexpr int kFencesPerMinute = 4;
HorseLimits limits_of(const RiderNeeds& rider);
/// The same for all who ride it: the least of each.
HorseLimits limits_of(const SessionAsk& ask);
/// Why a rider may not ride a block, whatever it is called; "" where nothing keeps from it.
std::string block_shut(const Block& block, const ExerciseBook& book, const RiderNeeds& rider);
/// What is left of the day for the horse that has done most of its own, of all that are ridden: minutes
/// (below zero where one has done too much) and fences, never below zero.
struct DayLeft {
    int minutes = 0, fences = 0;
    int done_minutes = 0, done_fences = 0;  ///< of that horse
};
DayLeft day_left(const SessionAsk& ask);
/// Seconds of work over fences that are left: of the session, and of the horses' day.
int jump_left_s(const SessionAsk& ask, const HorseLimits& limits);

/// Throws Refused for minutes outside 20 … 90 and where the horse has done its day. Without a block, and with
/// the reason in left_out, while what is said of the rider's body holds all work.
Session plan_session(const SessionAsk& ask, const ExerciseBook& book);

/// A rule of a session that does not hold, and at which block.
struct Broken {
    std::string rule;   ///< total, warm_up, order, reins, stiff_first, dose, rest, load, finish, cool_down,
                        ///< horse, back, gate
    int block = -1;     ///< −1: of the whole
    std::string words;  ///< a sentence
};
std::vector<Broken> broken_rules(const Session& session, const SessionAsk& ask, const ExerciseBook& book);

/// Seconds on a rein.
int seconds_on(const Session& session, std::string_view rein);

}  // namespace aspen::core
