#pragma once

#include <QString>
#include <string>
#include <vector>

#include "app/jobs/jobs.hpp"
#include "core/body/stretches.hpp"
#include "core/motion/motion.hpp"
#include "media/pose/point_follower.hpp"
#include "media/reading/video_reader.hpp"
#include "store/records.hpp"

/// What of a stretch is followed from which marked moments, what came of it, and how that is kept: in the
/// cache, as what can be made again.
namespace aspen::app {

/// Fewest joints of a moment from which others are followed.
inline constexpr int kFewestToFollow = 5;
/// The moments of a place in a clip, within [first, last], that are followed from; by frame.
std::vector<const store::Moment*> follow_anchors(const std::vector<store::Moment>& moments, int slot,
                                                 int first, int last);
/// Frames and joints of them in letters, to tell whether something changed.
std::string spelled(const std::vector<const store::Moment*>& anchors);

/// A joint whose own error is larger than this, in trunk lengths, is not said to be followed: on riders that
/// were not drawn here 98 of 100 of the others lie within 5 % of the trunk (tools/measure/riders.py).
inline constexpr double kLostSdTrunk = 0.03;

struct FollowPlan {
    QString file;
    std::string hash;  ///< of the clip
    media::OrderCache cache;
    int first = 0, last = 0;
    std::vector<core::Landmark> landmarks;
    std::vector<media::FollowAnchor> anchors;
    std::vector<core::Figure> figures;  ///< the marked ones, one for each anchor
    media::FollowWith with;
};
/// `anchors` not empty.
FollowPlan plan_to_follow(const std::vector<const store::Moment*>& anchors, core::View view, int first,
                          int last);

/// What came of a stretch so far.
struct FollowedStretch {
    std::vector<media::FollowPass> passes;  ///< their points in the order of `landmarks`
    std::vector<core::Landmark> landmarks;
    media::CameraSteps camera;
    /// Read before anyone marked: a point's error is that of its place, and nothing is hidden for it where
    /// only its way from a mark on is wanted.
    bool by_reader = false;
    bool any() const;
};
/// Whether every way of the plan was followed from just these marks to its end.
bool followed_through(const FollowPlan& plan, const FollowedStretch& so_far);
/// What of a plan lies in the cache.
FollowedStretch kept_of(const FollowPlan& plan);
/// Keeps passes that came about otherwise, as if they had been followed for this plan.
void keep(const FollowPlan& plan, const FollowedStretch& made);
/// Reads the camera's motion where it is missing, beside what was followed, and keeps it. Throws what the
/// reader throws, ReadCancelled when stopped.
void add_camera(const FollowPlan& plan, FollowedStretch& followed, media::VideoReader& reader, Job& job);
/// Follows what is missing, keeping what is done every few seconds, so that a stop or a kill costs little.
/// Throws what the reader throws, ReadCancelled when stopped.
FollowedStretch follow(const FollowPlan& plan, const FollowedStretch& so_far, Job& job);

/// The joints on every frame, as they go through the marks that stand now; `pts_s`: of the clip's frames.
/// What the limbs rule out is hidden.
core::Tracks tracks_of(const FollowPlan& plan, const FollowedStretch& followed,
                       const std::vector<double>& pts_s);

}  // namespace aspen::app
