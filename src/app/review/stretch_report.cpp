#include "app/review/stretch_report.hpp"

#include "app/files/cache_folder.hpp"
#include "app/review/prepared.hpp"
#include "app/review/real_time.hpp"
#include "app/rides/stride_values.hpp"

namespace aspen::app {

std::optional<FollowPlan> follow_plan_of(const Yard& yard, const store::Clip& clip, int slot,
                                         const core::Stretches& stretches, std::size_t place) {
    const auto [first, last] = core::extent(stretches, place, clip.frames);
    const auto moments = yard.records().reviews.moments(clip.id);
    const auto anchors = follow_anchors(moments, slot, first, last);
    if (anchors.empty()) return std::nullopt;
    FollowPlan plan = plan_to_follow(anchors, stretches[place].view, first, last);
    plan.file = yard.file_of(clip);
    plan.hash = clip.hash;
    plan.cache = {cache_folder().toStdString(), clip.hash};
    return plan;
}

std::optional<core::MotionReport> kept_report(const Yard& yard, const RiddenIn& ridden,
                                              const store::Clip& clip, int slot,
                                              const core::Stretches& stretches, std::size_t place,
                                              const media::ClipFacts* known) {
    const auto wanted = follow_plan_of(yard, clip, slot, stretches, place);
    if (!wanted) return std::nullopt;
    const FollowPlan& plan = *wanted;
    const FollowedStretch kept = kept_of(plan);
    if (!kept.any()) return std::nullopt;
    media::ClipFacts facts;
    if (known) {
        facts = *known;
    } else {
        media::ReaderOptions options;
        options.order_cache = plan.cache;
        facts = media::VideoReader(plan.file.toStdString(), {}, options).facts();
    }
    std::vector<store::Event> events;
    for (const store::Event& e : ridden.events()) {
        if (e.clip == clip.id) events.push_back(e);
    }
    const core::MotionSetting setting =
        motion_setting(ridden, stretches, place, slot, events,
                       {facts.width, facts.height, clip.px_per_m, clip.px_per_m_sd}, plan.with.trunk_px);
    return motion_report(
        checked_tracks(plan, kept, facts.pts_s, read_tracks(plan.file, plan.hash, facts.pts_s)), setting,
        real_time_of(clip.capture, facts), yard.knowledge());
}

}  // namespace aspen::app
