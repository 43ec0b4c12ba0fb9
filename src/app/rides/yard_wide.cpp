#include "app/rides/yard_wide.hpp"

#include <QDate>
#include <algorithm>

namespace aspen::app {
namespace {

/// How far from settled: what has come back first.
int trouble(core::Stage s) {
    switch (s) {
        case core::Stage::back_again:
            return 6;
        case core::Stage::overcorrected:
            return 5;
        case core::Stage::in_work:
            return 4;
        case core::Stage::confirmed:
            return 3;
        case core::Stage::noticed:
            return 2;
        case core::Stage::holding:
            return 1;
        case core::Stage::settled:
            return 0;
    }
    return 0;
}

}  // namespace

void YardWide::add(const QString& rider, const std::vector<Lane>& lanes) {
    ++riders_;
    for (const Lane& lane : lanes) {
        if (!lane.stalled.isEmpty()) still_.push_back({rider, lane.stalled, lane.fault});
        FaultInCommon& f = faults_[lane.correction.fault];
        f.fault = lane.fault;
        auto who = std::ranges::find(f.riders, rider, &FaultInCommon::Who::rider);
        if (who == f.riders.end()) who = f.riders.insert(f.riders.end(), {rider, lane.stage, 0});
        if (trouble(lane.stage) > trouble(who->stage)) who->stage = lane.stage;
        ++who->horses;
        for (const store::Prescription& p : lane.prescriptions) {
            const QString from = QString::fromStdString(p.given_on);
            const QString until = QDate::fromString(QString::fromStdString(p.until), Qt::ISODate)
                                      .addDays(kGraceDays)
                                      .toString(Qt::ISODate);
            std::vector<core::RideVerdict> within;
            for (const LanePoint& e : lane.entries) {
                if (e.day > from && e.day <= until) within.push_back(e.verdict);
            }
            core::add_giving(moved_[{p.exercise, lane.correction.fault}], within);
        }
    }
}

std::vector<FaultInCommon> YardWide::in_common() const {
    std::vector<FaultInCommon> out;
    for (const auto& [id, f] : faults_) {
        if (f.riders.size() >= 2) out.push_back(f);
    }
    for (FaultInCommon& f : out)
        std::ranges::stable_sort(f.riders, std::greater{}, [](const auto& w) { return trouble(w.stage); });
    std::ranges::stable_sort(out, std::greater{}, [](const FaultInCommon& f) { return f.riders.size(); });
    return out;
}

std::vector<ExerciseAgainst> YardWide::exercises() const {
    std::vector<ExerciseAgainst> out;
    for (const auto& [key, moved] : moved_) {
        const core::Exercise* e = knowledge_.exercises.find(key.first);
        ExerciseAgainst one{QString::fromStdString(e ? e->name : key.first),
                            knowledge_.faults.find(key.second), moved,
                            core::wilson(moved.held, moved.judged)};
        if (one.fault) out.push_back(std::move(one));
    }
    std::ranges::stable_sort(out, std::greater{}, [](const ExerciseAgainst& a) { return a.moved.given; });
    return out;
}

}  // namespace aspen::app
