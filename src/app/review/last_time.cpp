#include "app/review/last_time.hpp"

#include <algorithm>

#include "app/files/text.hpp"
#include "core/following/following.hpp"
#include "core/ride/ride.hpp"

namespace aspen::app {
namespace {

/// The worst that any gait, seat and side of the correction says of this ride.
core::RideVerdict verdict_here(const BenchState& bench, const store::Correction& c) {
    const core::RideData ride = bench.review().gathered(std::nullopt);
    return core::verdict_on(c.fault, c.seen, ride, bench.findings().assessment().judged,
                            bench.yard().knowledge())
        .verdict;
}

QString words_of(core::RideVerdict v) {
    switch (v) {
        case core::RideVerdict::inside:
            return QObject::tr("shown, and inside now");
        case core::RideVerdict::borderline:
            return QObject::tr("shown, too close to call");
        case core::RideVerdict::outside:
            return QObject::tr("shown, and still there");
        case core::RideVerdict::other_side:
            return QObject::tr("shown, and past the other side now");
        case core::RideVerdict::unsteady:
            return QObject::tr("shown, now too far and now too little");
        case core::RideVerdict::not_judged:
            break;
    }
    return {};
}

}  // namespace

std::optional<LastTime> last_time(const BenchState& bench) {
    const Review& review = bench.review();
    if (!review.is_open() || !review.rider()) return std::nullopt;
    const store::YardStore& records = bench.yard().records();
    for (const store::Correction& c : records.work.corrections(review.rider())) {
        if (!c.focus || c.horse != review.horse() || c.focus_since == review.ride().id ||
            c.noticed_on > review.ride().day)
            continue;
        const core::Knowledge& known = bench.yard().knowledge();
        const core::Fault* fault = known.faults.find(c.fault);
        if (!fault) continue;
        LastTime out;
        out.focus = text(fault->name);
        const auto given = records.work.prescriptions(c.id);
        const auto latest =
            std::ranges::find_if(given, [](const store::Prescription& p) { return !p.withdrawn; });
        const core::Exercise* e = latest == given.end() ? nullptr : known.exercises.find(latest->exercise);
        if (e) {
            out.exercise = text(e->name);
            const auto rungs = static_cast<int>(e->dose.ladder.size());
            const int step = std::clamp(latest->step, 0, rungs - 1);
            out.rung = QObject::tr("rung %1 of %2: %3")
                           .arg(step + 1)
                           .arg(rungs)
                           .arg(text(e->dose.ladder[static_cast<std::size_t>(step)].words));
            out.to_show = text(e->next_clip);
        }
        const core::RideVerdict v = verdict_here(bench, c);
        out.shown = v != core::RideVerdict::not_judged;
        const QString seen = text(core::spoken(c.seen));
        out.says = out.shown ? words_of(v)
                   : !out.to_show.isEmpty()
                       ? QObject::tr("not shown yet; else please film again, like this: %1").arg(out.to_show)
                       : QObject::tr("not shown yet; else please film again: %1").arg(seen);
        return out;
    }
    return std::nullopt;
}

}  // namespace aspen::app
