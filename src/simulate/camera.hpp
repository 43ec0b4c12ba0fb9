#pragma once

#include <QPointF>

#include "simulate/ride.hpp"

namespace aspen::simulate {

enum class From { side, behind, front };

/// A distant camera (weak perspective: one scale for the whole scene).
struct Camera {
    From from = From::side;
    bool travel_left = false;
    int width = 1280, height = 720;  ///< display size
    double fps = 30;
    double metres_high = 3.3;  ///< how much of the scene the picture's height (portrait: width) holds
    double roll_deg = 0;       ///< the picture's true vertical leans to the right
    /// From the side: horse's head end turned away; from behind and in front: turned, in the picture, towards
    /// the rider's right.
    double yaw_deg = 0;
    double yaw_rate_deg_s = 0;  ///< how fast the view turns as the horse goes round
    bool pan = true;            ///< follows the horse; otherwise stands still at the middle of the ride
    double shake =
        0;  ///< held in the hand: how far the picture wanders, share of its height (0.01: a calm hand)
    double zoom = 0;     ///< by how much closer the picture is at the end than at the start, share
    double shutter = 0;  ///< share of a picture's time for which it is open: what moves blurs
    double grain = 0;    ///< standard deviation of the sensor's noise, of 255
    double flicker = 0;  ///< how much lamps brighten and darken the picture, share
    double shift_x = 0, shift_y = 0;  ///< where the hand has wandered at this instant, pixels
};

/// Where world points fall in the picture.
class Projection {
  public:
    Projection(const Camera& camera, double look_x_m);

    double scale() const { return scale_; }  ///< pixels a metre
    /// Upright scene pixels (before roll) relative to the picture's centre; painters draw in these.
    QPointF scene(const Vec3& p) const;
    /// Display pixels.
    QPointF display(const Vec3& p) const;
    /// +1 when the rider's right side is the near one, -1 for the left.
    double near_side() const { return camera_.travel_left ? -1 : 1; }
    const Camera& camera() const { return camera_; }
    double look_x_m() const { return look_x_; }

  private:
    Camera camera_;
    double look_x_, look_y_, scale_;
};

}  // namespace aspen::simulate
