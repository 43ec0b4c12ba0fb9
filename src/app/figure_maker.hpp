#pragma once

#include <QImage>
#include <QObject>
#include <atomic>
#include <memory>

#include "app/bench.hpp"
#include "core/proposal.hpp"
#include "media/point_carrier.hpp"

namespace aspen::app {

/// How a landmark of a figure is followed to another frame: on which limbs, and with which others as one
/// solid.
media::PointToCarry to_carry(const core::Figure& figure, core::Landmark landmark);

/// Places whole figures on the bench's moment: laid from three clicks, proposed by the body-pose network,
/// carried from a neighbour, pasted, or mirrored from the other rein. What it places is not confirmed. Long
/// work runs off the interface thread, one piece at a time, and can be cancelled. Interface thread only.
class FigureMaker : public QObject {
    Q_OBJECT
  public:
    explicit FigureMaker(Bench& bench, QObject* parent = nullptr);
    ~FigureMaker() override;

    /// What the three clicks are used for.
    enum class Way { usual_pose, mirrored };
    /// From the side: top of the head, heel, toe. From front or rear: top of the head, left heel, right heel.
    /// Lays a figure at once; where the network is there, its joints take the place of the laid ones about a
    /// second later.
    void lay(core::Point head_top, core::Point second, core::Point third, double zoom,
             Way way = Way::usual_pose);
    /// Joints of the nearest marked moment, followed from picture to picture to this frame.
    void carry();
    /// Joints of the nearest marked moment as they lie there.
    void paste();
    /// True when this rider has a figure ridden the other way that could be mirrored.
    bool has_other_rein() const;

    bool busy() const { return busy_; }
    void cancel();

    /// Where the network should be, whether it is there or not.
    static QString model_file();
    static bool has_model();

  signals:
    void say(const QString& line);
    void busy_changed();

  private:
    struct Job {
        store::ClipId clip;
        int frame, slot, gesture;
    };
    void start(const std::function<void(const std::atomic<bool>&)>& work);
    void finish();
    void propose(const Job& job, core::Point head_top);
    void take_proposal(const Job& job, const core::Proposal& proposal, core::Point head_top);
    void take_carried(const Job& job, const core::Figure& carried, std::optional<core::Point> head_top,
                      const std::vector<core::Landmark>& lost);
    const store::Moment* nearest_marked() const;
    std::optional<store::Moment> other_rein() const;
    Bench& bench_;
    std::optional<std::pair<Job, core::Point>>
        waits_for_picture_;  ///< a proposal for which only a small picture is there yet
    std::shared_ptr<std::atomic<bool>> stop_;
    bool busy_ = false;
    int gesture_ = 0;
};

}  // namespace aspen::app
