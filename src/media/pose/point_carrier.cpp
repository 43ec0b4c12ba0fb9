#include "media/pose/point_carrier.hpp"

#include <algorithm>
#include <cmath>

#include "media/pose/flow_step.hpp"

namespace aspen::media {

std::vector<CarriedPoint> carry_points(VideoReader& reader, int from, int to,
                                       const std::vector<PointToCarry>& points, double reach_px,
                                       const std::atomic<bool>* cancel) {
    const auto small = [](core::Point p) {
        return cv::Point2f(static_cast<float>(p.x), static_cast<float>(p.y));
    };
    std::vector<flow::Traveller> travellers;
    for (const PointToCarry& p : points) {
        travellers.push_back({small(p.at), {}});
        travellers.back().solid = p.solid;
        travellers.back().name = p.name;
        travellers.back().hangs_on = p.hangs_on;
        travellers.back().free = p.free;
        for (const core::Point& end : p.tied_to) travellers.back().tied_to.push_back(small(end));
    }
    const double reach = std::clamp(reach_px, 4.0, 60.0);
    flow::Pyramid before = flow::pyramid_of(flow::grey_of(reader.picture(from)), reach);
    const int way = to < from ? -1 : 1;
    for (int n = from; n != to; n += way) {
        if (cancel && *cancel) return {};
        flow::Pyramid after = flow::pyramid_of(flow::grey_of(reader.picture(n + way)), reach);
        flow::step_all(travellers, before, after, reach);
        before = std::move(after);
    }
    std::vector<CarriedPoint> out;
    for (const flow::Traveller& t : travellers) {
        CarriedPoint p{{t.at.x, t.at.y}, std::sqrt(t.variance), t.least_share, false};
        const bool inside =
            p.at.x >= 0 && p.at.y >= 0 && p.at.x < before.size.width && p.at.y < before.size.height;
        p.sure = inside && t.sure();
        out.push_back(p);
    }
    return out;
}

}  // namespace aspen::media
