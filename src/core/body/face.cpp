#include "core/body/face.hpp"

#include <algorithm>
#include <vector>

namespace aspen::core {
namespace {

/// Rough head size in pixels where the three points do not tell: a quarter of the trunk, or of the shoulders'
/// width.
double head_px(const Figure& f) {
    const auto between = [&](Landmark a, Landmark b) {
        const bool both = f[a].visibility != Visibility::absent && f[b].visibility != Visibility::absent;
        return both ? distance(f[a].at, f[b].at) : 0.0;
    };
    const double trunk = std::max(between(Landmark::shoulder, Landmark::hip),
                                  between(Landmark::left_shoulder, Landmark::right_shoulder));
    return trunk > 0 ? trunk / 4 : 40.0;
}

}  // namespace

bool Ellipse::contains(Point p) const {
    const double a = radians(angle_deg);
    const double dx = p.x - centre.x, dy = p.y - centre.y;
    const double along = dx * std::cos(a) + dy * std::sin(a), across = -dx * std::sin(a) + dy * std::cos(a);
    return std::pow(along / long_half, 2) + std::pow(across / short_half, 2) <= 1.0;
}

Figure without_guesses(Figure figure) {
    for (const Landmark l : {Landmark::ear, Landmark::eye, Landmark::chin}) {
        if (!figure[l].confirmed) figure[l] = {};
    }
    return figure;
}

std::optional<Ellipse> face_ellipse(const Figure& figure) {
    std::vector<Point> points;
    for (const Landmark l : {Landmark::ear, Landmark::eye, Landmark::chin}) {
        if (figure[l].visibility != Visibility::absent) points.push_back(figure[l].at);
    }
    if (points.empty()) return std::nullopt;
    Ellipse out;
    double reach = 0;
    for (const Point p : points) {
        out.centre.x += p.x / static_cast<double>(points.size());
        out.centre.y += p.y / static_cast<double>(points.size());
    }
    for (const Point p : points) reach = std::max(reach, distance(p, out.centre));
    const double size = std::max(reach, head_px(figure) * 0.8);
    out.long_half = 1.5 * size;
    out.short_half = 1.3 * size;
    const Mark& ear = figure[Landmark::ear];
    const Mark& chin = figure[Landmark::chin];
    if (ear.visibility != Visibility::absent && chin.visibility != Visibility::absent) {
        out.angle_deg = degrees(std::atan2(chin.at.y - ear.at.y, chin.at.x - ear.at.x));
    } else {
        out.angle_deg = 90;
    }
    return out;
}

}  // namespace aspen::core
