#pragma once

#include <QPainter>
#include <QRectF>
#include <QStringList>
#include <optional>
#include <vector>

#include "core/arena/ground_work.hpp"
#include "core/arena/letters.hpp"

namespace aspen::ui {

/// What lies in the arena, in metres: for the window and for paper alike.
struct GroundPlan {
    int length_m = 60;
    struct Pole {
        core::GroundPoint from, to;
        bool fence = false;
        QString words;
    };
    std::vector<Pole> poles;
    std::optional<core::RiddenCircle> circle;
    std::vector<core::GroundPoint> line;  ///< a way that is ridden
    QStringList results;                  ///< one line each
    QStringList notes;
};

/// A row of poles or fences along a direction, the first at `at`. `angle_deg` 0 goes up the arena, towards C.
void lay_row(GroundPlan& plan, const std::vector<double>& at_m, core::GroundPoint at, double angle_deg,
             double pole_m, bool fences);
/// Poles of a circle about a centre.
void lay_fan(GroundPlan& plan, core::GroundPoint centre, double radius_m, double angle_between_deg, int poles,
             double pole_m);

struct GroundLook {
    QColor ink, quiet, line, ground, mark;
    QFont font;
};
/// Draws the arena to scale into an area; gives metres to pixels.
double paint_ground(QPainter& p, const GroundPlan& plan, const QRectF& area, const GroundLook& look);

}  // namespace aspen::ui
