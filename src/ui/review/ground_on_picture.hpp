#pragma once

#include <QPainter>
#include <QPointF>
#include <optional>

#include "app/review/bench_state.hpp"
#include "app/review/way_work.hpp"
#include "ui/shared/picture_stage.hpp"

namespace aspen::ui {

/// Where a place of the arena is seen in a frame, `to_laid` of that frame; nothing behind the camera.
std::optional<QPointF> seen_on(const app::RiddenGround& ground, const Eigen::Matrix3d& to_laid,
                               core::GroundPoint at);
/// The arena as a quiet grid over the picture, what was clicked of it, and the way of the horse, so that a
/// wrong letter is seen at once. `waiting`: a click that has no name yet.
void paint_ground_over(QPainter& p, const PictureStage::Place& place, const app::WayWork& work,
                       const app::BenchState& now, std::optional<core::Point> waiting);

}  // namespace aspen::ui
