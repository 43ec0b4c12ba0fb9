#pragma once

#include <QImage>
#include <QObject>
#include <memory>

#include "app/review/bench.hpp"
#include "core/proposal/proposal.hpp"
#include "media/pose/to_carry.hpp"

namespace aspen::app {

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

    bool busy() const;
    void cancel();

    /// A figure that was followed to another frame, and the joints lost on the way.
    struct Carried {
        core::Figure figure;
        std::optional<core::Point> head_top;
        std::vector<core::Landmark> lost;
    };

    /// Where the network should be, whether it is there or not.
    static QString model_file();
    /// The network for heel, toe and knuckle; without it they are laid.
    static QString ends_file();
    static bool has_model();

  signals:
    void say(const QString& line);
    void busy_changed();

  private:
    /// Where a result belongs, whatever is open when it comes.
    struct Place {
        store::ClipId clip;
        int frame, slot, field;
        double time_s;
        int gesture;
    };
    struct Recorded {
        std::optional<store::Moment> moment;
        core::Stretch seen;
        store::Ride ride;
    };
    Place here();
    std::optional<Recorded> moment_at(const Place& place) const;
    template <typename Work, typename Done>
    void start(const QString& title, Work work, Done done);
    void propose(const Place& place, core::Point head_top);
    void take_proposal(const Place& place, const core::Proposal& proposal, core::Point head_top);
    void take_carried(const Place& place, const Carried& carried);
    const store::Moment* nearest_marked() const;
    std::optional<store::Moment> other_rein() const;
    Bench& bench_;
    Review& review_;
    ClipDeck& deck_;
    Marking& marking_;
    std::function<void()> waits_for_hand_;  ///< a proposal that came while a joint was being dragged
    std::optional<std::pair<Place, core::Point>> waits_for_picture_;  ///< only a small picture is there yet
    JobHandle job_;
};

}  // namespace aspen::app
