#pragma once

#include <QString>
#include <optional>
#include <vector>

#include "core/following/following.hpp"
#include "core/reading/knowledge.hpp"
#include "store/yard_store.hpp"

namespace aspen::app {

/// One ride of a correction: when, what it was judged as, and its values phase by phase.
struct LanePoint {
    store::RideId ride;
    QString day;
    store::ClipId clip;  ///< of the first moment, for the small picture
    store::Clip film;
    int frame = 0;
    core::RideVerdict verdict = core::RideVerdict::not_judged;
    std::vector<core::ReviewValue> phases;  ///< of the correction's measure, phases apart
    core::ReviewValue value;                ///< of the phase that is drawn; of another where it has none
};

/// A correction through time. Values are measured afresh from the stored joints each time.
struct Lane {
    store::Correction correction;
    const core::Fault* fault = nullptr;
    const core::MeasureInfo* measure = nullptr;  ///< null for faults only an eye can see
    QString horse;
    std::vector<LanePoint> points;   ///< those with a value, oldest first
    std::vector<LanePoint> entries;  ///< every ride that could have shown it, with its verdict
    std::string phase;               ///< the one that is drawn and compared: marked in most rides
    core::Stage stage = core::Stage::noticed;
    std::vector<store::Prescription> prescriptions;
    /// One sentence: whether first and last differ by more than measuring error.
    QString change;
};

/// All corrections of a rider, the focus first. Clips in the trash, on another horse, rein or gait do not
/// count.
std::vector<Lane> lanes_of(store::YardStore& records, const core::Knowledge& knowledge, store::RiderId rider,
                           const std::string& today);

}  // namespace aspen::app
