#include "core/proposal/fusion.hpp"

#include <algorithm>
#include <cmath>

namespace aspen::core {

Observed fused(const Observed& a, const Observed& b) {
    if (distance(a.at, b.at) > kApartSd * std::hypot(a.sd_px, b.sd_px)) return a.sd_px <= b.sd_px ? a : b;
    const double wa = 1 / (a.sd_px * a.sd_px), wb = 1 / (b.sd_px * b.sd_px);
    return {{(wa * a.at.x + wb * b.at.x) / (wa + wb), (wa * a.at.y + wb * b.at.y) / (wa + wb)},
            std::sqrt(1 / (wa + wb)),
            std::max(a.score, b.score)};
}

}  // namespace aspen::core
