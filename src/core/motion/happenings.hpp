#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/body/stretches.hpp"
#include "core/motion/small_numbers.hpp"

/// What happened, logged by key: counts, how long the answer took, what got it, how long a position held,
/// laps, attempts, leads. The rules are those of the command line's `events` verb; docs/formats.md has them
/// in words.
namespace aspen::core {

struct Happening {
    double time_s = 0;
    std::string event;
    std::string detail{};  ///< key=value by blanks
};

/// The value of a key in an event's detail; "" where it is not said.
std::string detail_of(std::string_view detail, std::string_view key);
/// The same detail with a key said otherwise; an empty value takes the key out.
std::string detail_with(std::string_view detail, std::string_view key, std::string_view value);

/// The same detail with what the stretch says that an event lies in, as far as a lead is read by it.
std::string detail_in(const std::string& detail, const Stretch& stretch);
/// The lead that belongs to a rein: the other one where the detail says `movement=counter_canter`. "" where
/// the rein is none.
std::string lead_on(std::string_view rein, std::string_view detail);

/// How long from one event to the next of another kind, before the first comes again.
struct Delay {
    std::string from, to;
    std::vector<double> all_s;
    int n() const { return static_cast<int>(all_s.size()); }
};

struct LeadCount {
    int taken = 0, wrong = 0;
};

/// Everything that is counted of one list of events.
struct HappeningSums {
    std::map<std::string, int> counts;  ///< only what occurs
    std::vector<Delay> delays;  ///< aid → answer → aid off, break → halt → walk off; always these four
    std::map<std::string, int> got_by;  ///< with what the last aid before each answer was given
    std::vector<double> runs_s;         ///< how long the position held, each time
    std::vector<double> laps_s;
    std::vector<double> clean_laps_s;                          ///< without a break inside
    std::map<std::string, int> let_go_first;                   ///< what was let go, where it was said
    std::map<std::string, std::map<std::string, int>> places;  ///< event, then the place it was said at
    int attempts = 0, good = 0;
    LeadCount left, right;

    std::optional<double> longest_run_s() const;
    std::optional<double> fastest_clean_s() const;
};

/// The sums of what happened on one rein, in one gait and bout, as they were last said; empty: not said.
struct HappeningGroup : HappeningSums {
    std::optional<std::string> rein, gait, bout;
};

struct HappeningReport : HappeningSums {
    std::vector<HappeningGroup> groups;  ///< in the order in which they first come
};

/// Several lists that know nothing of each other (the clips of a ride), counted together: no pair spans two.
HappeningReport together(const std::vector<HappeningReport>& reports);

/// Sorts by time first; events of one instant keep their order.
HappeningReport sum_up(std::vector<Happening> events);

/// Whole strides in so long, at a tempo in strides a minute.
int whole_strides(double seconds, double tempo_per_min);

}  // namespace aspen::core
