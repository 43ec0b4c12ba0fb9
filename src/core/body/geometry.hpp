#pragma once

#include <cmath>
#include <numbers>

namespace aspen::core {

/// Picture coordinates: display orientation, pixels, x to the right, y down. Never anything else.
struct Point {
    double x = 0;
    double y = 0;
    friend bool operator==(const Point&, const Point&) = default;
};

/// Side-view plane after roll and yaw are taken out: f towards the horse's head, u up, both in pixels.
struct PlanePoint {
    double f = 0;
    double u = 0;
};

enum class View { side, front, rear };
enum class Travel { unknown, left, right };

constexpr double radians(double degrees) { return degrees * std::numbers::pi / 180.0; }
constexpr double degrees(double rad) { return rad * 180.0 / std::numbers::pi; }

/// How the camera stood. roll_deg is positive when the picture's true vertical leans to the right; yaw_deg is
/// positive when the horse's head end is turned away from the camera. An unmarked camera is taken as square
/// and upright with the wide errors below (from memory), and what is shown says so.
struct CameraPose {
    static constexpr double kUnmarkedRollSdDeg = 1.5;
    static constexpr double kUnmarkedYawSdDeg = 7.0;         ///< from the side
    static constexpr double kUnmarkedFrontalYawSdDeg = 8.0;  ///< from front and rear

    double roll_deg = 0;
    double roll_sd_deg = kUnmarkedRollSdDeg;
    double yaw_deg = 0;
    double yaw_sd_deg = kUnmarkedYawSdDeg;
    bool roll_marked = false;
    bool yaw_marked = false;
    friend bool operator==(const CameraPose&, const CameraPose&) = default;
};

/// Turns a picture point so that the true vertical is upright: x' = x cos r + y sin r, y' = -x sin r + y cos
/// r. Example: with r = 90 degrees the point (0, 1) becomes (1, 0).
inline Point unrolled(Point p, double roll_rad) {
    const double c = std::cos(roll_rad);
    const double s = std::sin(roll_rad);
    return {p.x * c + p.y * s, -p.x * s + p.y * c};
}

inline double distance(Point a, Point b) { return std::hypot(a.x - b.x, a.y - b.y); }
inline double distance(PlanePoint a, PlanePoint b) { return std::hypot(a.f - b.f, a.u - b.u); }

/// Angle in radians from p to q, counter-clockwise positive in (f, u), range (-pi, pi].
inline double signed_angle(PlanePoint p, PlanePoint q) {
    return std::atan2(p.f * q.u - p.u * q.f, p.f * q.f + p.u * q.u);
}

/// The camera's roll, in degrees, from a line marked along something truly upright (a post, an arena letter's
/// stand). Positive when the upright leans to the right in the picture; range (-90, 90]. The ends may come in
/// either order.
double roll_from_upright(Point a, Point b);

/// Standard deviation in degrees of the roll read from a line whose two ends each have an isotropic error
/// sd_px.
double roll_sd_from_upright(Point a, Point b, double sd_px);

}  // namespace aspen::core
