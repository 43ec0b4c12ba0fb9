#include "simulate/camera.hpp"

#include <algorithm>
#include <cmath>

namespace aspen::simulate {

Projection::Projection(const Camera& camera, double look_x_m)
    : camera_(camera),
      look_x_(look_x_m),
      look_y_(1.33),
      scale_(std::min(camera.width, camera.height) / camera.metres_high) {}

QPointF Projection::scene(const Vec3& p) const {
    const double psi = rad(camera_.yaw_deg);
    if (camera_.from != From::side) {
        const double across = p.z * std::cos(psi) + (p.x - look_x_) * std::sin(psi);
        return {(camera_.from == From::front ? -across : across) * scale_, -(p.y - look_y_) * scale_};
    }
    const double towards_camera = near_side() * p.z;
    const double along = (p.x - look_x_) * std::cos(psi) + towards_camera * std::sin(psi);
    return {near_side() * along * scale_, -(p.y - look_y_) * scale_};
}

QPointF Projection::display(const Vec3& p) const {
    const QPointF s = scene(p);
    const double r = rad(camera_.roll_deg);
    return {camera_.width / 2.0 + camera_.shift_x + s.x() * std::cos(r) - s.y() * std::sin(r),
            camera_.height / 2.0 + camera_.shift_y + s.x() * std::sin(r) + s.y() * std::cos(r)};
}

}  // namespace aspen::simulate
