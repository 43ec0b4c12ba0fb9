#pragma once

#include <QImage>

#include "core/body/face.hpp"
#include "core/body/figure.hpp"
#include "core/judging/target.hpp"
#include "exchange/frame_marks_painter.hpp"

/// Pictures with what is found on them.
namespace aspen::exchange {

/// What is drawn on a frame beside the figure.
struct Annotated {
    std::vector<core::FrameMark> marks;
    std::optional<core::Figure> target;
    std::vector<Drawn> drawn;  ///< by the coach
};

/// Covers what lies inside the ellipse, display pixels.
void cover(QImage& picture, const core::Ellipse& face);

/// The picture with the figure drawn on it and what is found where it is, the face covered when asked.
QImage picture_with_figure(const QImage& picture, const core::Figure& figure, bool cover_face,
                           const Annotated& annotated = {});

}  // namespace aspen::exchange
