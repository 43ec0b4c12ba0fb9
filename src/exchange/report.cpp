#include "exchange/report.hpp"

#include "exchange/frame_marks_painter.hpp"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace aspen::exchange {
namespace {

/// Where a fault is shown the figure is no more than a hint: the one thing stands out, not twenty joints.
void draw_figure(QPainter& p, const core::Figure& figure, double size,
                 const std::vector<core::FrameMark>& marks) {
    const bool hint = !marks.empty();
    const int edge = hint ? 70 : 190, core = hint ? 120 : 255;
    if (hint) size *= 0.7;
    const auto at = [&](core::Landmark l) { return QPointF(figure[l].at.x, figure[l].at.y); };
    const auto there = [&](core::Landmark l) { return figure[l].visibility != core::Visibility::absent; };
    for (const auto& [a, b] : core::segments_of(figure.view)) {
        if (!there(a) || !there(b)) continue;
        p.setPen(QPen(QColor(20, 26, 24, edge), size * 2.4, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(at(a), at(b));
        p.setPen(QPen(QColor(255, 253, 248, core), size, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(at(a), at(b));
    }
    const bool of_heel = std::ranges::any_of(marks, [](const core::FrameMark& m) {
        return m.end == core::Landmark::heel || m.end == core::Landmark::shoulder;
    });
    // The upright through the heel, where the fault is one of it.
    if (there(core::Landmark::heel) && (!hint || of_heel)) {
        const double r = core::radians(figure.camera.roll_deg);
        const QPointF up(std::sin(r), -std::cos(r));
        p.setPen(QPen(QColor(255, 253, 248, 200), size * 0.8, Qt::DashLine));
        p.drawLine(at(core::Landmark::heel), at(core::Landmark::heel) + up * size * 260);
    }
}

}  // namespace

void cover(QImage& picture, const core::Ellipse& face) {
    QPainter p(&picture);
    p.setRenderHint(QPainter::Antialiasing);
    p.translate(face.centre.x, face.centre.y);
    p.rotate(face.angle_deg);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(0x6f, 0x7a, 0x74));
    p.drawEllipse(QPointF(0, 0), face.long_half, face.short_half);
}

QImage picture_with_figure(const QImage& picture, const core::Figure& figure, bool cover_face,
                           const Annotated& annotated) {
    QImage out = picture.convertToFormat(QImage::Format_RGB32);
    if (const auto face = cover_face ? core::face_ellipse(figure) : std::nullopt) cover(out, *face);
    QPainter p(&out);
    p.setRenderHint(QPainter::Antialiasing);
    const double unit = std::max(1.0, std::min(out.width(), out.height()) / 360.0);
    draw_figure(p, figure, unit, annotated.marks);
    QFont font(QStringLiteral("Lato"));
    font.setPixelSize(static_cast<int>(std::lround(13 * unit)));
    font.setBold(true);
    const MarksLook look{[](core::Point q) { return QPointF(q.x, q.y); }, unit, font};
    paint_frame_marks(p, figure, annotated.marks, annotated.target, look);
    paint_drawn(p, annotated.drawn, look);
    return out;
}

}  // namespace aspen::exchange
