#pragma once

#include <QColor>
#include <QImage>
#include <QPainter>
#include <QPainterPath>
#include <string>
#include <vector>

#include "simulate/camera.hpp"
#include "simulate/ride.hpp"

namespace aspen::simulate {

/// Colours of one pair.
struct Looks {
    QColor coat{0x8a, 0x5a, 0x34}, mane{0x2b, 0x1f, 0x18}, socks;  ///< socks: invalid for none
    QColor jacket{0x2d, 0x4a, 0x63}, breeches{0xe6, 0xdf, 0xcf}, helmet{0x23, 0x28, 0x2c},
        boots{0x2a, 0x24, 0x20};
    QColor pad{0x35, 0x52, 0x47}, saddle{0x4a, 0x2d, 0x1b}, skin{0xdd, 0xb2, 0x8e};
    bool irons = true, reins = true;  ///< whether stirrups and reins are drawn
    bool near_rein = true;            ///< of the reins, the near one
    double texture = 0;  ///< folds, wear and dapples of cloth, leather and coat: 0 flat, 1 as on film
};

/// Smooth path through points.
QPainterPath smooth(const std::vector<QPointF>& points, bool closed);
/// A tapering limb with rounded ends.
QPainterPath limb(QPointF a, QPointF b, double width_a, double width_b);

/// Folds and flecks on a surface between two points that carry it along, inside of what was just painted. The
/// same seed gives the same flecks at the same places of the surface, whatever it does.
void texture(QPainter& p, const QPainterPath& inside, QPointF a, QPointF b, double width, double amount,
             unsigned seed);

/// Sky, trees, fence with letters and the riding surface; drawn once wide and then blitted as the camera
/// pans.
class ArenaPainter {
  public:
    ArenaPainter(const Camera& camera, unsigned seed);
    void paint(QPainter& p, const Projection& view) const;
    double scale() const { return scale_; }  ///< pixels a metre it was drawn for

  private:
    void paint_backdrop(QPainter& p, double width, double height, double scale, unsigned seed);
    QImage far_, ground_;
    double scale_, far_origin_x_ = 0;
};

/// Small fences seen from the side, behind the horse.
void paint_fences(QPainter& p, const Projection& view, const std::vector<double>& at_m);
void paint_horse_far(QPainter& p, const Projection& view, const Instant& now, const Looks& looks);
void paint_horse_near(QPainter& p, const Projection& view, const Instant& now, const Looks& looks);
void paint_rider_far(QPainter& p, const Projection& view, const Instant& now, const Looks& looks);
void paint_rider_near(QPainter& p, const Projection& view, const Instant& now, const Looks& looks);
void paint_from_behind(QPainter& p, const Projection& view, const Instant& now, const Looks& looks);
/// In front of the horse: the rider looks this way.
void paint_from_front(QPainter& p, const Projection& view, const Instant& now, const Looks& looks);

}  // namespace aspen::simulate
