#pragma once

#include <QString>

#include "app/review/bench.hpp"
#include "exchange/report.hpp"

namespace aspen::app {

/// What is drawn on the deck's frame: the findings that this moment shows and nobody rejected, and where the
/// rider's own limbs would lie. Empty on a frame without joints, and while a joint is being dragged.
exchange::Annotated annotated_here(Bench& bench);

/// Draws on the deck's frame; refused in one line where it would lie on the face.
QString draw_here(Bench& bench, store::SketchKind kind, core::Point a, core::Point b,
                  const QString& words = {});
/// Takes the last drawing of this frame away; false when there is none.
bool undraw_here(Bench& bench);

}  // namespace aspen::app
