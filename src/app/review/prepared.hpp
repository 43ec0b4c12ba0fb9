#pragma once

#include <QString>
#include <optional>
#include <string>
#include <vector>

#include "app/jobs/jobs.hpp"
#include "app/rides/follow_plan.hpp"
#include "core/knowledge/knowledge.hpp"
#include "core/motion/telling_moments.hpp"
#include "core/proposal/upright.hpp"

/// A clip looked through before anyone opened it: a rider found by the body-pose network, read on every
/// frame, and what that seems to say. Proposals, kept in the cache; nothing of them counts until a coach
/// confirms it.
namespace aspen::app {

struct PreparedStretch {
    int first = 0, last = 0;  ///< frames
    core::Gait gait = core::Gait::walk;
    bool rising = false;
    int strides = 0;
    double tempo_per_min = 0;  ///< 0: fewer than three strides
};
struct PreparedMoment {
    int frame = 0;
    std::string phase;  ///< "" where the gait has none that tells
};
struct Prepared {
    core::Travel travel = core::Travel::unknown;  ///< unknown: no rider was found
    std::vector<PreparedStretch> stretches;
    std::vector<PreparedMoment> moments;                ///< by frame
    std::vector<std::pair<int, core::Figure>> anchors;  ///< where runs of frames with the rider begin
    std::optional<core::ReadUpright> upright;           ///< read from what stands in the picture
    bool found() const { return !anchors.empty(); }
};

/// Clips longer than this are opened first: nobody waits overnight for a whole lesson.
inline constexpr double kLongestPreparedS = 600;

struct ToPrepare {
    QString file;
    std::string hash;
    core::Capture capture;
};
/// Finds, reads and guesses, as a job; keeps the result. Throws what the reader throws, ReadCancelled when
/// stopped: it is begun anew then.
Prepared prepare(const ToPrepare& clip, const core::Knowledge& knowledge, Job& job);

/// The same with the joints on every frame.
struct LookedThrough {
    Prepared seems;
    FollowedStretch followed;  ///< for prepared_plan()
};
LookedThrough look_through_clip(const ToPrepare& clip, const core::Knowledge& knowledge, Job& job);

/// Of the clip with this hash; empty: it was not prepared yet.
std::optional<Prepared> kept_prepared(const std::string& hash);
void keep_prepared(const std::string& hash, const Prepared& prepared);

/// What was read of it, as a plan over all frames of the clip, and its passes, which lie in the cache.
FollowPlan prepared_plan(const Prepared& prepared, const QString& file, const std::string& hash, int frames);
FollowedStretch prepared_ways(const FollowPlan& plan);

/// The joints on every frame as they were read; nothing where the clip was not looked through, or nobody
/// found.
std::optional<core::Tracks> read_tracks(const QString& file, const std::string& hash,
                                        const std::vector<double>& pts_s);
/// The joints on every frame as they were followed from marks, held against what was read
/// (core::held_against_the_reader). What the reader followed itself stays.
core::Tracks checked_tracks(const FollowPlan& plan, const FollowedStretch& followed,
                            const std::vector<double>& pts_s, const std::optional<core::Tracks>& read);

/// Whether what is read there is the horse's.
bool is_of_horse(core::Landmark landmark);

/// How it seems to be sat; only the trot tells its seats apart. The walks are sat (common practice, no
/// source), how a canter is ridden nothing tells.
std::optional<core::Seat> seat_of(const PreparedStretch& stretch);

/// "Seems trot, rising: 14 strides, 79 a minute; then walk"; "" for nothing.
QString in_words(const Prepared& prepared);
/// "walk, trot"; each gait once.
QString in_short(const Prepared& prepared);

}  // namespace aspen::app
