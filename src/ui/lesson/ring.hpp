#pragma once

#include <QPainter>

#include "ui/shared/theme.hpp"

/// At the ring one stands two metres away, in the sun: everything there is drawn at one and a half times the
/// usual size, and no ink is quieter than 7:1 on its ground.
namespace aspen::ui {

inline int ring_px(int px) { return scaled_px(px) * 3 / 2; }
inline QFont ring_font(int px, bool strong = false) {
    QFont f = text_font(px, strong);
    f.setPixelSize(ring_px(px));
    return f;
}
inline QFont ring_heading(int px) {
    QFont f = heading_font(px);
    f.setPixelSize(ring_px(px));
    return f;
}
/// The quieter of the two inks at the ring.
inline QColor ring_quiet() {
    const Theme& t = theme();
    const auto middle = [](int a, int b) { return (2 * a + b) / 3; };
    return {middle(t.ink.red(), t.quiet.red()), middle(t.ink.green(), t.quiet.green()),
            middle(t.ink.blue(), t.quiet.blue())};
}

/// A box that is ticked, filled and with its tick in paper, or open.
inline void paint_tick(QPainter& p, const QRectF& box, bool on) {
    const Theme& t = theme();
    const double s = box.width();
    p.setPen(QPen(t.ink, 2));
    p.setBrush(on ? QBrush(t.ink) : QBrush(Qt::NoBrush));
    p.drawRoundedRect(box, s / 8, s / 8);
    if (!on) return;
    p.setPen(QPen(t.panel, s / 7));
    const QPointF tick[] = {box.topLeft() + QPointF(s * 0.2, s * 0.55),
                            box.topLeft() + QPointF(s * 0.42, s * 0.78),
                            box.topLeft() + QPointF(s * 0.82, s * 0.25)};
    p.drawPolyline(tick, 3);
}

}  // namespace aspen::ui
