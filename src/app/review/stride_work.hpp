#pragma once

#include <QObject>
#include <QStringList>
#include <map>
#include <optional>
#include <tuple>

#include "app/review/bench.hpp"
#include "core/motion/motion.hpp"

namespace aspen::app {

/// Follows the joints of the stretch that is shown from its marked moments, as a job, and says what happens
/// over the strides. What was followed is derived: it is kept while the program runs and never recorded.
/// Interface thread only.
class StrideWork : public QObject {
    Q_OBJECT
  public:
    explicit StrideWork(Bench& bench, QObject* parent = nullptr);
    ~StrideWork() override;

    /// Starts following the stretch at the deck's frame; says why it cannot be.
    void follow();
    bool busy() const { return job_ && !job_->ended(); }
    void cancel();
    /// Of the stretch at the deck's frame; empty while it was not followed.
    std::optional<core::MotionReport> report() const;
    /// Whether the stretch at the deck's frame was followed; cheap, unlike its report.
    bool followed() const;
    /// Joints were marked or moved since it was followed.
    bool outdated() const;
    QStringList words() const;
    /// Where the joints were followed to on a frame, for the picture; empty marks where they were not.
    std::optional<core::Figure> followed_at(int frame) const;

  signals:
    void changed();
    void say(const QString& line);

  private:
    /// A stretch of one rider in a clip.
    using Place = std::tuple<store::ClipId, int, int>;
    struct Followed {
        core::Tracks tracks;
        std::string anchors;  ///< what it was followed from, to see whether that changed
    };
    Place here() const;
    std::vector<const store::Moment*> anchors() const;
    std::string spelled() const;
    core::MotionSetting setting() const;
    Bench& bench_;
    JobHandle job_;
    std::map<Place, Followed> followed_;
};

}  // namespace aspen::app
