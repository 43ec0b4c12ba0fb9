#pragma once

#include <QPainter>
#include <QRectF>
#include <QStringList>
#include <optional>
#include <vector>

#include "core/arena/arena_frame.hpp"
#include "core/arena/ground_work.hpp"

namespace aspen::exchange {

/// A part of a way that was ridden: what it was asked to be decides how it is drawn.
struct RiddenPart {
    std::vector<core::GroundPoint> at;
    enum class Told { plain, off, well } told = Told::plain;
};

/// What lies in the arena and what was ridden in it, in metres: for the window and for paper alike.
struct GroundPlan {
    core::ArenaFrame arena{60, core::Arena::kWidthM};
    struct Pole {
        core::GroundPoint from, to;
        bool fence = false;
        QString words{};
    };
    std::vector<Pole> poles;
    std::optional<core::RiddenCircle> circle;
    std::vector<core::GroundPoint> line;  ///< a way that was asked
    std::vector<RiddenPart> ridden;
    std::optional<core::GroundPoint> horse;  ///< where it is now
    double horse_sd_m = 0;
    /// What happened where, by a short word.
    std::vector<std::pair<core::GroundPoint, QString>> happened;
    QStringList results;  ///< one line each
    QStringList notes;
};

/// A row of poles or fences along a direction, the first at `at`. `angle_deg` 0 goes up the arena, towards C.
void lay_row(GroundPlan& plan, const std::vector<double>& at_m, core::GroundPoint at, double angle_deg,
             double pole_m, bool fences);
/// Poles of a circle about a centre.
void lay_fan(GroundPlan& plan, core::GroundPoint centre, double radius_m, double angle_between_deg, int poles,
             double pole_m);

struct GroundLook {
    QColor ink, quiet, line, ground, mark, off, well;
    QFont font;
};

/// Metres to pixels and back: the long way lies across the page, A on the left, C on the right, or up it.
class GroundMap {
  public:
    /// Upright, with A below and C above, where the area is taller than wide.
    GroundMap(const core::ArenaFrame& arena, const QRectF& area);
    QPointF operator()(core::GroundPoint m) const {
        return origin_ +
               (upright_ ? QPointF(-m.y * scale_, -m.x * scale_) : QPointF(m.x * scale_, -m.y * scale_));
    }
    core::GroundPoint metres(QPointF p) const {
        const QPointF m = (p - origin_) / scale_;
        return upright_ ? core::GroundPoint{-m.y(), -m.x()} : core::GroundPoint{m.x(), -m.y()};
    }
    double scale() const { return scale_; }

  private:
    bool upright_;
    double scale_ = 1;
    QPointF origin_;  ///< of A's short side on the centre line
};
/// How tall the arena is where it is so wide, with the letters beside it.
double plan_height(const core::ArenaFrame& arena, double wide);

/// Draws the arena to scale into an area; gives metres to pixels.
double paint_ground(QPainter& p, const GroundPlan& plan, const QRectF& area, const GroundLook& look);

}  // namespace aspen::exchange
