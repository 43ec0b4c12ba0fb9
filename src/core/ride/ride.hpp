#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/judging/said.hpp"
#include "core/knowledge/knowledge.hpp"

/// The judgement of a ride, put together in one place for bench, lanes, page, demo and command line alike.
namespace aspen::core {

/// What decides the bands of a moment in a stretch. Without gait or seat the school stays empty: there are no
/// bands.
Setting setting_in(const Stretch& stretch, const RideContext& ride, const std::string& phase);
/// The same at a frame; whether a transition goes up follows from the stretches on both sides of it.
Setting setting_at(const Stretches& stretches, int frame, const RideContext& ride, const std::string& phase);
/// The leg that is seen from the side on a circle: on the right rein the right one is the inner.
std::optional<CircleLeg> circle_leg_of(std::optional<Rein> rein, Travel travel);

/// One marked moment of the ride, in whichever of its clips it lies.
struct RideMoment {
    Figure figure;
    Setting setting;
    SeenIn seen;
    bool judged = true;  ///< false where the coach said that the view cannot judge this stretch
};

/// What a measure over strides gives for each of them.
struct StrideValues {
    std::string measure;
    std::vector<std::optional<double>> by_stride;  ///< empty where it was not followed
    double sd = 0;                                 ///< of one stride's value
};
/// In place of a measure: a trot whose beats are not alike, by how much (MotionReport::uneven).
inline constexpr std::string_view kUnevenStrides = "uneven";
/// A stretch whose joints were followed.
struct RideStrides {
    Setting setting;  ///< without a phase
    SeenIn seen;
    View view = View::side;
    bool judged = true;
    std::vector<StrideValues> values;
    std::optional<Rein> rein{};
};
/// Each stride held against its bands, as a moment is.
std::vector<std::vector<Judged>> judge_strides(const RideStrides& strides, const Schools& schools);

struct RideData {
    std::vector<RideMoment> moments;
    std::vector<Decided> decided;
    std::vector<InWork> in_work{};  ///< faults that are this rider's focus on this horse
    std::string level{};            ///< of the rider that day: beginner, novice, established or ""
    std::vector<CheckAnswer> checks{};
    std::vector<RideStrides> strides{};
};

struct RideFinding {
    FoundFault found;
    SeenIn seen;
    int moments = 0;  ///< of this gait, seat and side that could judge it
    Decision decision = Decision::open;
    const Fault* changed_to = nullptr;
    /// What the coach says is there: the changed one, the found one, or nothing when rejected.
    const Fault* said() const {
        return decision == Decision::rejected ? nullptr : changed_to ? changed_to : found.fault;
    }
};

/// A state of the rider or an answer of the horse, and in what it was seen.
struct NamedState {
    const Fault* state = nullptr;
    SeenIn seen;
};

struct RideAssessment {
    std::vector<std::vector<Judged>> judged;  ///< one list a moment, in the order given
    std::vector<RideFinding> findings;        ///< the base before what it carries
    std::vector<Cause> causes;                ///< among what the coach says is there, and what is part of it
    std::optional<Focus> focus;       ///< among what was accepted; while nothing is decided, what was found
    std::vector<Strength> good;       ///< seen by eye first, then best first
    std::vector<NamedState> states;   ///< of the rider, and the horse's answers, that were seen
    std::vector<CheckWanted> wanted;  ///< what the eye could still settle
};

/// Fewest joints that a moment needs to be judged: the column comes alive from the third.
inline constexpr int kFewestJoints = 3;

/// Measures a moment and holds it against its bands; in a stretch that cannot be judged every measure says
/// so. Empty with fewer than kFewestJoints.
std::vector<Judged> judge_moment(const RideMoment& moment, const Knowledge& knowledge);

/// What a moment says of every fault it can judge, by its values and by what the coach's eye answered.
ObservedMoment observe_moment(const RideData& data, std::size_t moment, const std::vector<Judged>& judged,
                              const Knowledge& knowledge);

/// What a stride says of a fault, and where it was ridden.
struct SeenStride {
    SeenIn seen;
    Observation said;
};
/// What every followed stride says; of what the coach's eye settled in the same gait, seat and side nothing:
/// a motion that was looked at is not counted against the eye.
std::vector<SeenStride> observe_strides(const RideData& data, const Knowledge& knowledge);

/// Pure: the same data and knowledge always give the same assessment. Pointers go into `knowledge`, which has
/// to outlive it.
RideAssessment assess_ride(const RideData& data, const Knowledge& knowledge);
/// The same from values that were judged already, one list a moment.
RideAssessment assess_judged(const RideData& data, std::vector<std::vector<Judged>> judged,
                             const Knowledge& knowledge);

}  // namespace aspen::core
