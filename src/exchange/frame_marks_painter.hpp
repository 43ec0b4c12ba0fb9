#pragma once

#include <QFont>
#include <QPainter>
#include <QString>
#include <functional>

#include "core/judging/target.hpp"

/// Findings drawn where they are, the same on the bench, in a picture that leaves and on the rider's page.
namespace aspen::exchange {

struct MarksLook {
    std::function<QPointF(core::Point)> map;  ///< display pixels to where it is painted
    double unit = 1;                          ///< width of a hair line there
    QFont font;
    bool target = true;  ///< the rider's own limbs laid into the bands, as a quiet second figure
};

/// The limb that is out drawn strong, an arrow to where its end should go, one word outside the figure. By
/// shape: a doubtful one is broken and has no arrow.
void paint_frame_marks(QPainter& p, const core::Figure& figure, const std::vector<core::FrameMark>& marks,
                       const std::optional<core::Figure>& target, const MarksLook& look);

/// What the coach drew on a frame, display pixels.
struct Drawn {
    enum class Kind { arrow, circle, words } kind = Kind::arrow;
    core::Point a, b;
    QString words;
};
void paint_drawn(QPainter& p, const std::vector<Drawn>& all, const MarksLook& look);

}  // namespace aspen::exchange
