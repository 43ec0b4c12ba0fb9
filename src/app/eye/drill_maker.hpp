#pragma once

#include <QImage>
#include <QString>
#include <QStringList>
#include <memory>
#include <optional>
#include <vector>

#include "app/yard/yard.hpp"
#include "core/eye/drills.hpp"
#include "simulate/clip_maker.hpp"

namespace aspen::app {

/// A ride of the simulator that can be shown as a still or moving, and says where its joints are.
class DrawnRide {
  public:
    DrawnRide(simulate::ClipPlan plan, double at_s);
    QImage picture(double s) const;
    double at_s() const { return at_s_; }
    const simulate::Ride& ride() const { return plan_.ride; }
    /// The truth at the instant of the still, display pixels.
    core::Figure figure() const;
    QSize size() const { return {plan_.camera.width, plan_.camera.height}; }

  private:
    simulate::ClipPlan plan_;
    simulate::Simulation ride_;
    double at_s_;
    mutable std::unique_ptr<simulate::ArenaPainter> arena_;  ///< drawn when a picture is first asked for
};

/// One question, with its answer.
struct DrillItem {
    core::DrillKind kind = core::DrillKind::angle;
    std::string about;   ///< measure for an angle; else what is asked
    std::string source;  ///< the same for everybody who is shown it
    QString question;
    QStringList choices;  ///< what can be said; none for a number
    /// The answer: a number with its unit, the place of the right choice, or for an order the places of the
    /// choices, the gravest first.
    double number = 0;
    double starts_at = 0;  ///< where a guess begins
    QString unit;
    std::vector<int> right;
    QString explained;  ///< what was to be seen
    std::shared_ptr<const DrawnRide> drawn;
    bool moves = false;
    store::ClipId clip{};  ///< of the coach's own
    int frame = 0;
    core::Figure figure;  ///< shown once it is answered; no marks where nothing is to be shown
};

/// A question of the simulator's; the same for the same number. Throws nothing: what the judge would not call
/// certain is not asked.
DrillItem drawn_item(core::DrillKind kind, unsigned number, const core::Knowledge& knowledge);
/// Questions from the coach's own marked moments: the angle of a measure as it was marked, the fault that was
/// accepted. Those never asked and longest not asked first, so many at most.
std::vector<DrillItem> own_items(Yard& yard, core::DrillKind kind, int most);

}  // namespace aspen::app
