#include "core/body/geometry.hpp"

#include <algorithm>
#include <utility>

namespace aspen::core {

double roll_from_upright(Point a, Point b) {
    if (a.y > b.y) std::swap(a, b);  // a is the upper end
    return degrees(std::atan2(a.x - b.x, b.y - a.y));
}

double roll_sd_from_upright(Point a, Point b, double sd_px) {
    const double length = std::max(1.0, distance(a, b));
    return degrees(std::sqrt(2.0) * sd_px / length);
}

}  // namespace aspen::core
