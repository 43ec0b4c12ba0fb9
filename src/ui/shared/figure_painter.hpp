#pragma once

#include <QPainter>
#include <functional>
#include <optional>

#include "core/body/figure.hpp"
#include "core/judging/amounts.hpp"
#include "core/judging/judgement.hpp"

namespace aspen::ui {

/// What is needed to draw a figure over its picture.
struct FigureLook {
    std::function<QPointF(core::Point)> to_widget;
    double height = 0;  ///< of the widget, for the upright through the heel
    std::optional<core::Landmark> selected;
    int slot = 0;        ///< colour and shape of the rider's marks in a clip of several
    bool quiet = false;  ///< another rider's figure: thin, without upright
    QString name{};      ///< whose it is, in a clip of several
};

constexpr double kHandleRadius = 11;  ///< 22 px to grab, though the mark drawn is hair-thin

/// Limbs, joints and the upright through the heel. Joints that nobody confirmed are grey and broken.
void paint_figure(QPainter& p, const core::Figure& figure, const FigureLook& look);

/// The limbs alone, whole and quiet, for a picture that moves: nothing of it is asked or counted.
void paint_moving_figure(QPainter& p, const core::Figure& figure,
                         const std::function<QPointF(core::Point)>& to_widget);

/// The measure drawn where it is: its two lines and beside them, in large quiet type and never over a joint,
/// how much it is.
void paint_measure(QPainter& p, const core::Figure& figure, const core::Judged& judged,
                   const FigureLook& look, const core::SpokenAmounts& amounts);

/// Colour of the rider's marks in a clip of several: bone for the first, then tints that differ in lightness
/// too.
QColor slot_colour(int slot);
/// The shape drawn at a joint of the rider in this slot: circle, square, triangle, diamond.
void paint_joint(QPainter& p, QPointF at, double radius, int slot);

}  // namespace aspen::ui
