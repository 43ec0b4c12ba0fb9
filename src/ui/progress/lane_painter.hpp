#pragma once

#include <QPainter>

#include "app/rides/lanes.hpp"
#include "ui/progress/time_axis.hpp"

namespace aspen::ui {

/// One correction drawn through time: the stage as the lane's own ground, the band, every ride's value with
/// its 90 % interval, other phases beside it, the trend with what it may be, practice and exercises below.
class LanePainter {
  public:
    LanePainter(const app::Lane& lane, const TimeAxis& axis, const QRectF& plot, double today);
    void paint(QPainter& p) const;
    /// Where a ride's entry is drawn; what is not judged lies on the lower edge.
    QPointF at(std::size_t entry) const;
    /// The entry nearest to a point, within reach of a pointer.
    std::optional<std::size_t> nearest(QPointF to) const;

  private:
    void paint_ground(QPainter& p) const;
    void paint_band(QPainter& p) const;
    void paint_limits(QPainter& p) const;
    void paint_trend(QPainter& p) const;
    void paint_entries(QPainter& p) const;
    void paint_value(QPainter& p, std::size_t entry) const;
    void paint_below(QPainter& p) const;
    double y_of(double value) const;
    const app::Lane& lane_;
    const TimeAxis& axis_;
    QRectF plot_, values_, below_;
    double today_, low_ = 0, high_ = 1;
    double room_ = 0;  ///< between two rides in the mean, pixels
};

/// When an entry's ride was: its film's own time of day where that is known.
double when(const app::LanePoint& entry);
/// The share of good looks with its interval (Wilson, 90 %) where an eye alone judges; in percent.
std::optional<core::ReviewValue> seen_share(const app::LanePoint& entry);
/// A ground for a stage, told apart without colour: open for what is not worked on, hatched in work, washed
/// while it holds, clean when settled, crossed when it came back.
void paint_stage_ground(QPainter& p, const QRectF& area, core::Stage stage);

}  // namespace aspen::ui
