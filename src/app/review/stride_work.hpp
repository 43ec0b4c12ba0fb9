#pragma once

#include <QObject>
#include <QStringList>
#include <QTimer>
#include <map>
#include <optional>
#include <set>
#include <tuple>

#include "app/review/bench.hpp"
#include "app/rides/follow_plan.hpp"
#include "core/motion/motion_words.hpp"

namespace aspen::app {

/// Follows the joints of the stretch that is shown from its marked moments, as a job, and says what happens
/// over the strides. What was followed is derived: it is kept in the cache, found again there, and never
/// recorded. Interface thread only.
class StrideWork : public QObject {
    Q_OBJECT
  public:
    explicit StrideWork(Bench& bench, QObject* parent = nullptr);
    ~StrideWork() override;

    /// Starts following the stretch at the deck's frame, or goes on with it; says why it cannot be.
    void follow();
    bool busy() const { return job_ && !job_->ended(); }
    void cancel();
    /// Of the stretch at the deck's frame; nullptr while it was not followed. Stands until `changed`, or
    /// until another stretch is asked about.
    const core::MotionReport* report() const;
    /// Whether the stretch at the deck's frame was followed; cheap, unlike its report.
    bool followed() const;
    /// Joints were marked or moved since, or it was stopped half-way: the way is bent to the marks that stand
    /// now, and following again makes it better.
    bool outdated() const;
    QStringList words() const;
    std::vector<core::StrideSaying> sayings() const;
    /// Where the joints were followed to on a frame; empty where they were not.
    std::optional<core::Figure> followed_at(int frame) const;
    /// The joints of the stretch at the deck's frame as they go through its marks, on the stream's clock;
    /// nullptr while it was not followed. Stands as long as the report.
    const core::Tracks* tracks() const;
    /// The clip's frame at a real time of the report, and the other way round.
    int frame_at(double real_s) const;
    double real_at(int frame) const;
    /// What the report was made with.
    core::MotionSetting setting() const;
    /// A stride starts at the deck's frame: moves the nearest start, or cuts the stride it lies in.
    void say_stride_starts();
    /// The stride at the deck's frame does not count; the same again takes that back.
    void say_stride_off();

  signals:
    void changed();
    void say(const QString& line);

  private:
    /// A stretch of one rider in a clip.
    using Place = std::tuple<store::ClipId, int, int, int>;
    std::optional<Place> here() const;
    std::vector<const store::Moment*> anchors() const;
    std::optional<FollowPlan> plan() const;
    const FollowedStretch* found() const;
    FollowedStretch prepared_ways(const FollowPlan& wanted) const;
    void forget();
    void review_changed();
    void tell_the_judge();
    void log_stride(const char* event);
    Bench& bench_;
    JobHandle job_;
    QTimer retell_;  ///< once the hand rests
    /// What was followed or looked for in the cache; filled where it is asked for.
    mutable std::map<Place, FollowedStretch> followed_;
    /// What stands for the marks of the stretch asked about last.
    struct Now {
        Place place;
        core::Tracks tracks;
        std::optional<core::MotionReport> report;
    };
    mutable std::optional<Now> now_;
    mutable std::optional<core::Tracks> read_;  ///< of the open clip, once it was looked through
};

}  // namespace aspen::app
