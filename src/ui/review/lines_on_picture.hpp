#pragma once

#include <QString>
#include <optional>
#include <utility>

#include "ui/review/picture_view.hpp"

/// Lines that are drawn on the picture: what is asked for, and those of the ground that stay.
namespace aspen::ui {

/// What is asked for while a line is drawn, strong and quiet words; `begun`: one end of it stands.
std::pair<QString, QString> prompt_of(PictureView::Line line, bool begun);
/// The mark on the ground a line becomes; empty for the others.
std::optional<store::GroundMarkKind> ground_kind(PictureView::Line line);
/// Says that a near frame stands in for the one that is on its way.
void paint_stand_in(QPainter& p, const app::ClipDeck& deck, QSize room);
/// The lap line, and the prints measured on the frame that is shown.
PictureStage::Layer ground_layer(const app::BenchState& bench);

}  // namespace aspen::ui
