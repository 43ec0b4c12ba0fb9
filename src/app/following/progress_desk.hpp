#pragma once

#include <QObject>
#include <QStringList>
#include <array>
#include <optional>

#include "app/jobs/once_later.hpp"
#include "app/rides/lanes.hpp"
#include "app/yard/yard.hpp"

namespace aspen::app {

/// A rider's corrections as the coach goes through them: which are shown, what stands at one glance, and what
/// the coach says of them. Knows no widgets. Interface thread only.
class ProgressDesk : public QObject {
    Q_OBJECT
  public:
    explicit ProgressDesk(Yard& yard, QObject* parent = nullptr);

    Yard& yard() const { return yard_; }
    /// The first of the yard's riders for nobody.
    void show(store::RiderId rider);
    store::RiderId rider() const { return rider_; }
    QString rider_name() const;
    /// Those that the filters let through, the focus first.
    const std::vector<Lane>& lanes() const { return shown_; }
    const std::vector<Lane>& all_lanes() const { return all_; }
    const std::vector<TimeMark>& marks() const { return marks_; }
    /// Reads everything again.
    void refresh();
    /// While nobody looks nothing is read; what changed meanwhile is read when somebody looks again.
    void set_live(bool live);

    enum class By { horse, gait, side, group };
    static constexpr std::array<By, 4> kFilters{By::horse, By::gait, By::side, By::group};
    /// The next of what occurs, after the last one all again.
    void next(By filter);
    /// "on Cobalt", or "all horses".
    QString words(By filter) const;
    /// Whether there is anything to choose between.
    bool offers(By filter) const;
    bool filtered() const;
    void show_all();

    /// How many corrections stand where, of all of the rider's.
    struct Glance {
        int settled = 0, holding = 0, in_work = 0, came_back = 0, noticed = 0, still = 0;
    };
    Glance glance() const;

    // What the coach does, each with its one line.
    /// The stage that the rides propose.
    QString take_proposed(const Lane& lane);
    /// It stays what it was, whatever the rides propose.
    QString leave_as_it_is(const Lane& lane);
    QString say(const Lane& lane, const LanePoint& entry, const QString& words);
    /// `kind` as Milestone has it. Of the rider, and of the lane's horse where the horse is what changed.
    QString note(const QString& kind, const QString& words, store::HorseId horse = {});
    QString take_note_away(const TimeMark& mark);
    /// Puts a request for the clip that would tell into the outbox, and remembers the promise.
    QString ask_for_clip(const Lane& lane);

  signals:
    void changed();

  private:
    void sift();
    QString value_of(By filter, const Lane& lane) const;
    std::vector<QString> values(By filter) const;
    QString put_stage(const Lane& lane, core::Stage stage);
    Yard& yard_;
    OnceLater later_;
    bool live_ = true, stale_ = false;
    store::RiderId rider_;
    std::shared_ptr<const RiddenYears> years_;
    std::vector<Lane> all_, shown_;
    std::vector<TimeMark> marks_;
    std::array<QString, 4> chosen_;
};

}  // namespace aspen::app
