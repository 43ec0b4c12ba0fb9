#include "exchange/ridden_plan.hpp"

#include <cmath>
#include <numbers>

namespace aspen::exchange {
namespace {

constexpr double kJoinedS = 1;
using Told = RiddenPart::Told;

/// Which part of a circle is certainly off, at an angle; the rest is as it should be.
Told told_at(const core::RiddenFigure& ridden, core::GroundPoint centre, core::GroundPoint at, bool square) {
    // Corners out and sides in: the eighths' means do not show them.
    const double off = core::distance(at, *ridden.centre) - *ridden.diameter_m / 2;
    if (square && std::abs(off) > *ridden.square_m / 4) return Told::off;
    const double turn = std::atan2(at.y - centre.y, at.x - centre.x) * 180 / std::numbers::pi;
    const double deg = turn < 0 ? turn + 360 : turn;
    for (const core::Eighth& e : ridden.eighths) {
        constexpr double kEighth = 45;
        if (deg < e.from_deg || deg >= e.from_deg + kEighth) continue;
        return e.certain && std::abs(e.deviation_m) > core::GroundCustom{}.off_m ? Told::off : Told::well;
    }
    return Told::well;
}

}  // namespace

void add_ridden(GroundPlan& plan, const std::vector<core::WayPoint>& way) {
    double last = -1e9;
    for (const core::WayPoint& p : way) {
        if (p.time_s - last > kJoinedS) plan.ridden.push_back({});
        plan.ridden.back().at.push_back(p.place.at);
        last = p.time_s;
    }
}

void add_held(GroundPlan& plan, const core::AskedFigure& asked, const core::RiddenFigure& ridden,
              const std::vector<core::WayPoint>& way) {
    const bool circle = asked.kind == core::FigureKind::circle && ridden.centre;
    const core::GroundPoint centre =
        asked.centre && asked.diameter_m ? *asked.centre : ridden.centre.value_or(core::GroundPoint{});
    if (circle) {
        core::RiddenCircle drawn;
        drawn.centre = centre;
        drawn.radius_m = asked.diameter_m.value_or(*ridden.diameter_m) / 2;
        plan.circle = drawn;
    }
    if (asked.from && asked.until) plan.line = {*asked.from, *asked.until};
    bool any = false;
    bool off = false, square = false;
    for (const core::GroundEvidence& e : core::evidence_of(ridden, asked, way)) {
        off = off || !e.good;
        square = square || (e.check == "square_circle" && !e.good);
    }
    for (const core::WayPoint& p : way) {
        if (p.time_s < asked.from_s || p.time_s > asked.to_s) continue;
        const Told told = circle ? told_at(ridden, centre, p.place.at, square) : off ? Told::off : Told::well;
        if (!any || plan.ridden.back().told != told) {
            RiddenPart part{{}, told};
            if (any) part.at.push_back(plan.ridden.back().at.back());
            plan.ridden.push_back(std::move(part));
        }
        plan.ridden.back().at.push_back(p.place.at);
        any = true;
    }
}

}  // namespace aspen::exchange
