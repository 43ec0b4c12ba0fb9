#include "exchange/ground_plan.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace aspen::exchange {
namespace {

constexpr double kAround = 3;  // m beside the track, for the letters

void paint_letters(QPainter& p, const core::ArenaFrame& arena, const GroundMap& map, const GroundLook& look) {
    const double half = arena.width_m() / 2, scale = map.scale();
    p.setFont(look.font);
    // Letters of a small drawing stand clear of the track by their own size.
    const double clear = std::max(1.4, 0.75 * QFontMetricsF(look.font).height() / scale);
    for (const auto& [name, at] : arena.places()) {
        if (name.size() == 2 && arena.is_corner(name)) continue;
        const bool inside = at.x > 0 && at.x < arena.length_m() && std::abs(at.y) < half;
        core::GroundPoint words = at;
        if (!inside) {
            if (std::abs(at.y) >= half)
                words.y += at.y > 0 ? clear : -clear;
            else
                words.x += at.x <= 0 ? -clear : clear;
        }
        p.setPen(inside ? look.quiet : look.ink);
        p.drawText(QRectF(map(words) - QPointF(24, 10), QSizeF(48, 20)), Qt::AlignCenter,
                   QString::fromStdString(name));
        if (inside) continue;
        p.setPen(QPen(look.ink, 1.5));
        p.drawEllipse(map(at), 2, 2);
    }
}

void paint_ridden(QPainter& p, const GroundPlan& plan, const GroundMap& map, const GroundLook& look) {
    p.setBrush(Qt::NoBrush);
    for (const RiddenPart& part : plan.ridden) {
        QPolygonF way;
        for (const core::GroundPoint& g : part.at) way << map(g);
        const bool off = part.told == RiddenPart::Told::off;
        p.setPen(QPen(off                                   ? look.off
                      : part.told == RiddenPart::Told::well ? look.well
                                                            : look.quiet,
                      off ? 3.5 : 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        p.drawPolyline(way);
    }
    for (const auto& [at, words] : plan.happened) {
        p.setPen(QPen(look.ink, 1.5));
        p.setBrush(look.ground);
        p.drawEllipse(map(at), 3.5, 3.5);
        p.drawText(map(at) + QPointF(6, -4), words);
    }
    if (!plan.horse) return;
    const QPointF at = map(*plan.horse);
    if (plan.horse_sd_m > 0) {
        QColor about = look.mark;
        about.setAlpha(50);
        p.setPen(Qt::NoPen);
        p.setBrush(about);
        constexpr double kNinetyOf = 1.645;
        const double r = kNinetyOf * plan.horse_sd_m * map.scale();
        p.drawEllipse(at, r, r);
    }
    p.setPen(QPen(look.ground, 1.5));
    p.setBrush(look.mark);
    p.drawEllipse(at, 5, 5);
}

}  // namespace

void lay_row(GroundPlan& plan, const std::vector<double>& at_m, core::GroundPoint at, double angle_deg,
             double pole_m, bool fences) {
    const double a = angle_deg * std::numbers::pi / 180, dx = std::cos(a), dy = -std::sin(a);
    for (const double m : at_m) {
        const core::GroundPoint c{at.x + m * dx, at.y + m * dy};
        const double h = pole_m / 2;
        plan.poles.push_back(
            {{c.x - h * dy, c.y + h * dx}, {c.x + h * dy, c.y - h * dx}, fences, QString::number(m, 'f', 2)});
    }
}

void lay_fan(GroundPlan& plan, core::GroundPoint centre, double radius_m, double angle_between_deg, int poles,
             double pole_m) {
    for (int i = 0; i < poles; ++i) {
        const double a = (i - (poles - 1) / 2.0) * angle_between_deg * std::numbers::pi / 180;
        const auto at = [&](double r) {
            return core::GroundPoint{centre.x + r * std::cos(a), centre.y + r * std::sin(a)};
        };
        plan.poles.push_back(
            {at(radius_m - pole_m / 2), at(radius_m + pole_m / 2), false, QString::number(i + 1)});
    }
}

GroundMap::GroundMap(const core::ArenaFrame& arena, const QRectF& area)
    : upright_(area.height() > area.width()) {
    const double across = arena.length_m() + 2 * kAround, down = arena.width_m() + 2 * kAround;
    scale_ = upright_ ? std::min(area.width() / down, area.height() / across)
                      : std::min(area.width() / across, area.height() / down);
    const double half = arena.length_m() * scale_ / 2;
    origin_ = area.center() + (upright_ ? QPointF(0, half) : QPointF(-half, 0));
}

double plan_height(const core::ArenaFrame& arena, double wide) {
    return wide * (arena.width_m() + 2 * kAround) / (arena.length_m() + 2 * kAround);
}

double paint_ground(QPainter& p, const GroundPlan& plan, const QRectF& area, const GroundLook& look) {
    const GroundMap map(plan.arena, area);
    const double half = plan.arena.width_m() / 2;
    p.setPen(QPen(look.ink, 2));
    p.setBrush(look.ground);
    p.drawRect(QRectF(map({0, half}), map({plan.arena.length_m(), -half})).normalized());
    paint_letters(p, plan.arena, map, look);
    if (plan.circle) {
        p.setPen(QPen(look.mark, 2, plan.ridden.empty() ? Qt::SolidLine : Qt::DashLine));
        p.setBrush(Qt::NoBrush);
        const double r = plan.circle->radius_m * map.scale();
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
    paint_ridden(p, plan, map, look);
    return map.scale();
}

}  // namespace aspen::exchange
