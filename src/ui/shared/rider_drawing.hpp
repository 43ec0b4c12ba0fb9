#pragma once

#include <QPainter>
#include <map>
#include <vector>

#include "core/judging/judgement.hpp"

namespace aspen::ui {

/// A rider drawn true to scale as the marked joints lie, upright and forward as they are; what is not marked
/// stands quiet where a rider usually has it. Each limb carries the verdict of what is measured on it, and
/// the school's own range lies behind it as a faint second limb.
class RiderDrawing {
  public:
    RiderDrawing(const core::Figure& figure, const std::vector<core::Judged>& judged, const QRectF& area);
    void paint(QPainter& p) const;
    /// Where a joint is drawn.
    QPointF at(core::Landmark l) const;
    /// Where a measure's hair line ends on the body.
    QPointF anchor(const core::MeasureInfo& measure) const;
    /// True when the rider faces to the right.
    bool faces_right() const { return right_; }

  private:
    void lay(const QRectF& area);
    void lay_frontal(const QRectF& area);
    void paint_range(QPainter& p) const;
    void paint_body(QPainter& p) const;
    void paint_frontal(QPainter& p) const;
    /// The body of a limb, and over all bodies its line with the verdict of what is measured on it.
    void flesh(QPainter& p, std::initializer_list<core::Landmark> joints, double wide) const;
    void limb(QPainter& p, std::initializer_list<core::Landmark> joints, const char* measure,
              const char* or_measure = "") const;
    const core::Judged* find(std::string_view measure) const { return core::find(judged_, measure); }
    const core::Figure& figure_;
    const std::vector<core::Judged>& judged_;
    std::map<core::Landmark, QPointF> at_;
    double scale_ = 100;  ///< pixels of a trunk
    bool right_ = true;
};

}  // namespace aspen::ui
