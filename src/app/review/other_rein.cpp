#include "app/review/other_rein.hpp"

#include "app/files/cache_folder.hpp"
#include "app/review/real_time.hpp"
#include "app/rides/follow_plan.hpp"
#include "app/rides/stride_values.hpp"
#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

/// One stretch of a clip of the ride, from what was followed and kept; empty where nothing was.
std::optional<core::MotionReport> report_of(Bench& bench, const store::Clip& clip, int slot,
                                            const core::Stretches& stretches, std::size_t place) {
    const auto [first, last] = core::extent(stretches, place, clip.frames);
    const auto moments = bench.yard().records().moments(clip.id);
    const auto anchors = follow_anchors(moments, slot, first, last);
    if (anchors.empty()) return std::nullopt;
    FollowPlan plan = plan_to_follow(anchors, stretches[place].view, first, last);
    plan.file = bench.yard().file_of(clip);
    plan.hash = clip.hash;
    plan.cache = {cache_folder().toStdString(), clip.hash};
    const FollowedStretch kept = kept_of(plan);
    if (!kept.any()) return std::nullopt;
    media::ClipFacts facts;
    if (clip.id == bench.review().clip().id) {
        facts = bench.deck().facts();
    } else {
        media::ReaderOptions options;
        options.order_cache = plan.cache;
        facts = media::VideoReader(plan.file.toStdString(), {}, options).facts();
    }
    std::vector<store::Event> events;
    for (const store::Event& e : bench.review().ridden().events()) {
        if (e.clip == clip.id) events.push_back(e);
    }
    const core::MotionSetting setting =
        motion_setting(bench.review().ridden(), stretches, place, slot, events,
                       {facts.width, facts.height, clip.px_per_m, clip.px_per_m_sd}, plan.with.trunk_px);
    return motion_report(tracks_of(plan, kept, facts.pts_s), setting, real_time_of(clip.capture, facts),
                         bench.yard().knowledge());
}

}  // namespace

std::optional<core::MotionReport> report_of_other_rein(Bench& bench) {
    std::optional<core::MotionReport> best;
    if (!bench.is_open() || !bench.deck().ready()) return best;
    const Review& review = bench.review();
    const core::Stretch& here = review.stretch();
    if (!here.rein || *here.rein == core::Rein::straight || !here.gait) return best;
    const core::Rein other = *here.rein == core::Rein::left ? core::Rein::right : core::Rein::left;
    store::YardStore& records = bench.yard().records();
    for (const store::Clip& clip : records.clips_of(review.ride().id)) {
        const core::Stretches stretches = records.stretches(clip.id);
        for (const store::Slot& slot : records.places(clip.id)) {
            if (slot.ride != review.ride().id) continue;
            for (std::size_t i = 0; i < stretches.size(); ++i) {
                const core::Stretch& s = stretches[i];
                if (s.rein != other || s.gait != here.gait || s.seat != here.seat) continue;
                try {
                    auto report = report_of(bench, clip, slot.slot, stretches, i);
                    if (report && (!best || report->strides.size() > best->strides.size()))
                        best = std::move(report);
                } catch (const core::Refused&) {
                    continue;  // a clip that cannot be read now says nothing
                }
            }
        }
    }
    return best;
}

}  // namespace aspen::app
