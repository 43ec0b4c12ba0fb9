#pragma once

#include <QImage>
#include <array>
#include <atomic>
#include <filesystem>
#include <functional>
#include <optional>
#include <string>

#include "simulate/painting.hpp"
#include "simulate/ride.hpp"

/// Filmed from the gallery: a pinhole camera in metres above the arena, a pair that rides a figure with a
/// said fault, and where its hooves are on the ground in every frame. Shares nothing with core's ground.
namespace aspen::simulate {

/// Where the camera stands in the arena's frame (A at the origin, x towards C, y to the left), metres, how
/// wide it sees, and whether it turns after the rider.
struct GalleryCamera {
    Vec3 at{-6, -13, 4};  ///< x, y, and z: metres above the ground
    Vec3 looks_at{18, 1.5, 0};
    double wide_deg = 60;
    bool pans = false;
    int width = 1280, height = 720;
    double fps = 25;
};

/// What is ridden. Every fault is a number on top of a good figure.
struct GalleryFigure {
    enum class Kind { circle, wall, centre_line } kind = Kind::circle;
    double speed_mps = 3.2;
    double diameter_m = 16, centre_x = 20, centre_y = 0;
    bool left_rein = true;
    double square_m = 0;  ///< corners out and sides in, of the radius from peak to peak
    double falls_in_m = 0, falls_in_from_deg = 90;  ///< over one quarter, deepest in its middle
    double faster_in_turn = 0;  ///< share of the speed that the half of the circle towards C is ridden faster
    bool left_wall = true;
    double off_wall_m = 1.2;
    double sways_m = 0, sways_over_m = 10;  ///< from side to side, and how long one sway is
    double begins_at_m = 5;                 ///< of a wall or centre line: from A's end
};

struct GalleryPlan {
    GalleryCamera camera{};
    GalleryFigure figure{};
    Looks looks{};
    double length_m = 40, width_m = 20, duration_s = 16;
    unsigned seed = 1;
};

/// The point between the hooves on the ground at an instant, and which way it goes (radians from x).
struct OnGround {
    double x = 0, y = 0, heading = 0;
};
OnGround ridden_at(const GalleryFigure& figure, double time_s);

/// The camera at an instant: still, or turned to the rider.
class GalleryView {
  public:
    GalleryView(const GalleryPlan& plan, double time_s);
    /// Display pixels; nothing behind the camera.
    std::optional<QPointF> see(const Vec3& metres) const;
    /// Pixels a metre at a place.
    double scale(const Vec3& metres) const;
    /// From the ground (x, y, 1) to the picture, row by row.
    std::array<double, 9> homography() const;
    const Vec3& forward() const { return forward_; }
    const Vec3& right() const { return right_; }

  private:
    Vec3 at_, forward_, right_, down_;
    double focal_, middle_x_, middle_y_;
};

QImage paint_gallery(const GalleryPlan& plan, double time_s);
/// "clip.mp4" and "clip.truth.json": frames[] {time_s, ground [x_m, y_m], at [px, px], homography [9]}.
/// Returns false when cancelled. Throws core::Refused on a bad folder.
bool make_gallery_clip(const GalleryPlan& plan, const std::filesystem::path& file,
                       const std::atomic<bool>* cancel = nullptr);

}  // namespace aspen::simulate
