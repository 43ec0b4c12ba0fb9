#pragma once

#include <QString>

#include "app/review/bench.hpp"
#include "exchange/report.hpp"

namespace aspen::app {

/// What is drawn on a figure: of the faults that it shows those that are named, and where the rider's own
/// limbs would lie. `eye`: what was answered on this very frame.
exchange::Annotated annotated(const core::FaultBook& faults, const core::Figure& figure,
                              const core::Setting& setting, const std::vector<core::Judged>& judged,
                              const std::vector<const core::Fault*>& named, const core::EyeAnswers& eye = {});

/// The eye's answers on a frame, for one rider.
core::EyeAnswers eye_on(const std::vector<store::Answer>& answers, int slot, int frame);

/// What is drawn on the deck's frame: the findings that this moment shows and nobody rejected, and where the
/// rider's own limbs would lie. Empty on a frame without joints, and while a joint is being dragged.
exchange::Annotated annotated_here(const BenchState& bench);

/// Draws on the deck's frame; refused in one line where it would lie on the face.
QString draw_here(Bench& bench, store::SketchKind kind, core::Point a, core::Point b,
                  const QString& words = {});
/// Takes the last drawing of this frame away; false when there is none.
bool undraw_here(Bench& bench);

}  // namespace aspen::app
