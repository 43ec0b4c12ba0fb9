#include "core/motion/rise_phase.hpp"

namespace aspen::core {
namespace {
constexpr double kSeatedBelow = 0.11, kRisenAbove = 0.165;
}

std::string rise_phase(const Figure& f) {
    using L = Landmark;
    if (f.view != View::side || !f.measurable(L::hip) || !f.measurable(L::shoulder) ||
        !f.measurable(L::cantle))
        return {};
    const double roll = radians(f.camera.roll_deg);
    const Point hip = unrolled(f[L::hip].at, roll), cantle = unrolled(f[L::cantle].at, roll);
    const double trunk = distance(hip, unrolled(f[L::shoulder].at, roll));
    if (trunk < 4) return {};
    const double above = (cantle.y - hip.y) / trunk;
    return above > kRisenAbove ? "rise_top" : above < kSeatedBelow ? "rise_bottom" : "";
}

}  // namespace aspen::core
