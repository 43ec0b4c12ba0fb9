#include "app/review/other_rein.hpp"

#include "app/review/stretch_report.hpp"
#include "core/reading/refused.hpp"

namespace aspen::app {
std::optional<core::MotionReport> report_of_other_rein(const BenchState& bench) {
    std::optional<core::MotionReport> best;
    if (!bench.is_open() || !bench.deck().ready()) return best;
    const Review& review = bench.review();
    const core::Stretch& here = review.stretch();
    if (!here.rein || *here.rein == core::Rein::straight || !here.gait) return best;
    const core::Rein other = *here.rein == core::Rein::left ? core::Rein::right : core::Rein::left;
    const store::YardStore& records = bench.yard().records();
    for (const store::Clip& clip : records.rides.clips_of(review.ride().id)) {
        const core::Stretches stretches = records.rides.stretches(clip.id);
        for (const store::Slot& slot : records.rides.places(clip.id)) {
            if (slot.ride != review.ride().id) continue;
            for (std::size_t i = 0; i < stretches.size(); ++i) {
                const core::Stretch& s = stretches[i];
                if (s.rein != other || s.gait != here.gait || s.seat != here.seat) continue;
                try {
                    const bool open = clip.id == review.clip().id;
                    auto report = kept_report(bench.yard(), review.ridden(), clip, slot.slot, stretches, i,
                                              open ? &bench.deck().facts() : nullptr);
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
