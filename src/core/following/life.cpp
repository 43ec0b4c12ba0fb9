#include "core/following/life.hpp"

#include <algorithm>

namespace aspen::core {
namespace {

/// Stages that rides bring, not the coach.
bool by_rides(Stage s) {
    return s == Stage::holding || s == Stage::settled || s == Stage::back_again || s == Stage::overcorrected;
}

bool says_something(RideVerdict v) { return v != RideVerdict::not_judged && v != RideVerdict::borderline; }

}  // namespace

Life life_of(std::span<const RideSays> rides, std::span<const StageSaid> said, bool accepted,
             bool prescribed) {
    Life out;
    std::vector<RideSays> so_far;
    for (const RideSays& v : rides) {
        so_far.push_back(v);
        out.along.push_back(stage_of(so_far, accepted, prescribed));
    }
    const Stage given = stage_of({}, accepted, prescribed);
    const Stage rule = out.along.empty() ? given : out.along.back();
    if (said.empty()) {
        out.stands = by_rides(rule) ? given : rule;
        if (rule != out.stands) out.proposes = rule;
    } else {
        out.stands = said.back().stage;
        const std::size_t known = std::min(said.back().rides, out.along.size());
        const Stage then = known == 0 ? given : out.along[known - 1];
        if (rule != then && rule != out.stands) out.proposes = rule;
    }
    if (!out.proposes) return out;
    // The ride from which on the rule says so.
    std::size_t at = out.along.size();
    while (at > 0 && out.along[at - 1] == rule) --at;
    if (at < out.along.size()) out.because_of = at;
    return out;
}

void add_giving(Moved& moved, std::span<const RideVerdict> within_term) {
    ++moved.given;
    for (auto v = within_term.rbegin(); v != within_term.rend(); ++v) {
        if (!says_something(*v)) continue;
        ++moved.judged;
        moved.held += *v == RideVerdict::inside ? 1 : 0;
        return;
    }
}

}  // namespace aspen::core
