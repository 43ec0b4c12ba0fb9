#include "ui/arena/ground_plan.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace aspen::ui {
namespace {

constexpr double kAround = 3;  // m beside the track, for the letters

}  // namespace

void lay_row(GroundPlan& plan, const std::vector<double>& at_m, core::GroundPoint at, double angle_deg,
             double pole_m, bool fences) {
    const double a = angle_deg * std::numbers::pi / 180, dx = std::sin(a), dy = std::cos(a);
    for (std::size_t i = 0; i < at_m.size(); ++i) {
        const core::GroundPoint c{at.x + at_m[i] * dx, at.y + at_m[i] * dy};
        const double h = pole_m / 2;
        plan.poles.push_back({{c.x - h * dy, c.y + h * dx},
                              {c.x + h * dy, c.y - h * dx},
                              fences,
                              QString::number(at_m[i], 'f', 2)});
    }
}

void lay_fan(GroundPlan& plan, core::GroundPoint centre, double radius_m, double angle_between_deg, int poles,
             double pole_m) {
    for (int i = 0; i < poles; ++i) {
        const double a = (90 + (i - (poles - 1) / 2.0) * angle_between_deg) * std::numbers::pi / 180;
        const auto at = [&](double r) {
            return core::GroundPoint{centre.x + r * std::cos(a), centre.y + r * std::sin(a)};
        };
        plan.poles.push_back(
            {at(radius_m - pole_m / 2), at(radius_m + pole_m / 2), false, QString::number(i + 1)});
    }
}

double paint_ground(QPainter& p, const GroundPlan& plan, const QRectF& area, const GroundLook& look) {
    // The long way lies across the page: A on the left, C on the right.
    const core::Arena arena(plan.length_m);
    const double scale = std::min(area.width() / (plan.length_m + 2 * kAround),
                                  area.height() / (core::Arena::kWidthM + 2 * kAround));
    const QPointF origin(area.center().x() - plan.length_m * scale / 2,
                         area.center().y() - core::Arena::kWidthM * scale / 2);
    const auto map = [&](core::GroundPoint m) { return origin + QPointF(m.y * scale, m.x * scale); };
    p.setPen(QPen(look.ink, 2));
    p.setBrush(look.ground);
    p.drawRect(QRectF(map({0, 0}),
                      map({static_cast<double>(core::Arena::kWidthM), static_cast<double>(plan.length_m)})));
    p.setFont(look.font);
    for (const core::ArenaLetter& l : arena.letters()) {
        const bool inside =
            l.at.x > 0 && l.at.x < core::Arena::kWidthM && l.at.y > 0 && l.at.y < plan.length_m;
        core::GroundPoint at = l.at;
        if (!inside) {
            if (at.x == 0)
                at.x -= 1.4;
            else if (at.x == core::Arena::kWidthM)
                at.x += 1.4;
            else
                at.y += at.y == 0 ? -1.4 : 1.4;
        }
        p.setPen(inside ? look.quiet : look.ink);
        p.drawText(QRectF(map(at) - QPointF(14, 10), QSizeF(28, 20)), Qt::AlignCenter,
                   QString(QChar(l.letter)));
        if (!inside) {
            p.setPen(QPen(look.ink, 1.5));
            const QPointF on = map(l.at);
            p.drawEllipse(on, 2, 2);
        }
    }
    if (plan.circle) {
        p.setPen(QPen(look.mark, 2));
        p.setBrush(Qt::NoBrush);
        const double r = plan.circle->radius_m * scale;
        p.drawEllipse(map(plan.circle->centre), r, r);
        for (const core::GroundPoint& t : plan.circle->touches) p.drawEllipse(map(t), 4, 4);
    }
    if (plan.line.size() > 1) {
        QPolygonF way;
        for (const core::GroundPoint& g : plan.line) way << map(g);
        p.setPen(QPen(look.mark, 2, Qt::DashLine));
        p.drawPolyline(way);
    }
    for (const GroundPlan::Pole& pole : plan.poles) {
        p.setPen(QPen(look.ink, pole.fence ? 4 : 3, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(map(pole.from), map(pole.to));
        if (pole.fence) {
            for (const core::GroundPoint& end : {pole.from, pole.to}) p.drawEllipse(map(end), 2.5, 2.5);
        }
    }
    return scale;
}

}  // namespace aspen::ui
