#pragma once

#include <atomic>
#include <filesystem>
#include <functional>
#include <memory>
#include <nlohmann/json_fwd.hpp>

#include "simulate/camera.hpp"
#include "simulate/painting.hpp"
#include "simulate/ride.hpp"

namespace aspen::simulate {

/// Everything that makes one clip.
struct ClipPlan {
    Ride ride;
    Camera camera;
    Looks looks;
    double duration_s = 4;
    bool dots = false;     ///< a coloured dot on every joint, for checking the whole way through the encoder
    int rotation_deg = 0;  ///< stored turned, with a display matrix that turns it back
    int shape_num = 1, shape_den = 1;  ///< stored with this pixel aspect
    int quality_crf = 23;
};

/// A landmark of the truth in display pixels. `hidden`: something stands in front of it in this view.
struct TruePoint {
    double x = 0, y = 0;
    bool hidden = false;
};

/// Landmarks of one instant by the ids of the marks format; 20 from the side, 21 from behind.
std::map<std::string, TruePoint> true_points(const Instant& now, const Projection& view);
/// The projection at an instant: the camera may follow the horse.
Projection projection_at(const ClipPlan& plan, const Simulation& simulation, double time_s);
QImage paint_frame(const ClipPlan& plan, const ArenaPainter& arena, const Projection& view,
                   const Instant& now);
/// Colour of a landmark's dot when ClipPlan::dots is set: distinct, saturated.
QColor dot_colour(int index);

/// Paints and encodes the clip and writes its truth beside it ("clip.mp4" and "clip.truth.json"). The clip
/// gets its name last, so a clip that is there is whole. Returns false when cancelled. Throws core::Refused
/// on a bad folder.
bool make_clip(const ClipPlan& plan, const std::filesystem::path& file,
               const std::function<void(double)>& progress = {}, const std::atomic<bool>* cancel = nullptr);

}  // namespace aspen::simulate
