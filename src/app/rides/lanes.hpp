#pragma once

#include <QString>
#include <QStringList>
#include <memory>
#include <optional>
#include <vector>

#include "core/following/life.hpp"
#include "core/following/trend.hpp"
#include "core/knowledge/knowledge.hpp"
#include "store/yard_store.hpp"

namespace aspen::app {

/// One ride of a correction: when, what it was judged as and by, and its values phase by phase.
struct LanePoint {
    store::RideId ride;
    QString day;
    store::ClipId clip;  ///< of the first moment, for the small picture
    store::Clip film;
    int frame = 0;
    core::RideVerdict verdict = core::RideVerdict::not_judged;
    int by = 0, of = 0;                     ///< moments or strides that say so, of those that judged it
    bool elsewhere = false;                 ///< it was marked, yet in another gait, seat or on the other side
    std::vector<core::ReviewValue> phases;  ///< of the correction's measure, phases apart
    core::ReviewValue value;                ///< of the phase that is drawn; of another where it has none
    int moments = 0, strides = 0;           ///< that could judge it
    core::GoodOf eye;                       ///< what the coach's eye answered of it
    int logged = 0;                         ///< of these, told by events that were logged
    QString coach_word;                     ///< on this entry
    QString says{};                         ///< what the value means: "heel a hand behind the hip"
};

/// An exercise given for a correction, from the day it was given to its end.
struct LaneExercise {
    QString name, from, until;
    bool withdrawn = false;
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
    core::Life life;
    core::Stage stage = core::Stage::noticed;  ///< what is shown of its life
    std::vector<store::Prescription> prescriptions;
    std::vector<store::CorrectionWord> words;  ///< the coach's, oldest first
    std::vector<LaneExercise> exercises;
    std::vector<core::Practice> practice;  ///< of these exercises, by day
    QStringList also_on;               ///< other horses that the same fault was noticed on: the rider's habit
    std::optional<core::Trend> trend;  ///< days since the first drawn value
    QString low_says{}, high_says{};   ///< the drawn band's ends in words; "" where it is open
    double form = 0;  ///< of the day, the measure's unit: as this rider's lines of the measure show it
    /// One sentence: whether first and last differ by more than measuring error.
    QString change;
    /// What one wants to know first: where it is, where it was, whether that differs, since what.
    QString answer;
    QString why;         ///< why it is at this stage
    QString stalled;     ///< why it stands still; "" where it does not
    QString trend_says;  ///< "better by a finger a month, give or take half of it"; "" below three values
};

/// All that a rider rode, judged: what lanes are put together from. Stays good until clips, marks, what the
/// eye answered, the rider's or horse's card, or the knowledge change.
struct RiddenYears;
std::shared_ptr<const RiddenYears> read_years(const store::YardStore& records,
                                              const core::Knowledge& knowledge, store::RiderId rider);

/// All corrections of a rider, the focus first. Clips in the trash, on another horse, rein or gait do not
/// count.
std::vector<Lane> lanes_of(const store::YardStore& records, const core::Knowledge& knowledge,
                           store::RiderId rider, const std::string& today);
/// The same from years that were read before.
std::vector<Lane> lanes_of(const store::YardStore& records, const core::Knowledge& knowledge,
                           store::RiderId rider, const std::string& today, const RiddenYears& years);

/// The entries with a picture that tell most, by their places: the last, the first, and the one nearest to
/// its band; each once.
std::vector<std::size_t> telling_entries(const Lane& lane);

/// Something on a rider's time that may explain a change.
struct TimeMark {
    QString day, until;
    std::string kind;  ///< sign_off, saddle, bit, horse, injury, pause, other
    QString words;
    store::MilestoneId milestone{};  ///< where the coach wrote it down
};
/// Sign-offs, first rides on a horse, another saddle than the ride before, what the body did not allow, and
/// what the coach wrote down; by day.
std::vector<TimeMark> time_marks(const store::YardStore& records, store::RiderId rider);

}  // namespace aspen::app
