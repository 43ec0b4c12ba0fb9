#include "exchange/frame_marks_painter.hpp"

#include <QPolygonF>
#include <algorithm>
#include <cmath>

namespace aspen::exchange {
namespace {

using L = core::Landmark;

const QColor kMarkDark(20, 26, 24), kClay(0xF2, 0x7F, 0x61), kLeaf(0xE2, 0xB5, 0x48),
    kMarkPaper(0xFF, 0xFD, 0xF8), kTarget(0x5C, 0xC4, 0xA8);

void arrow(QPainter& p, QPointF from, QPointF to, const QColor& colour, double unit) {
    const QPointF d = to - from;
    const double length = std::hypot(d.x(), d.y());
    if (length < 9 * unit) return;
    const QPointF along = d / length, across(-along.y(), along.x());
    const QPointF neck = to - along * 7 * unit;
    for (const auto& [pen, wide] : {std::pair{QColor(20, 26, 24, 215), 4.6}, std::pair{colour, 2.2}}) {
        p.setPen(QPen(pen, wide * unit, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        p.drawLine(from, neck);
        p.drawPolyline(QPolygonF{neck + across * 4 * unit, to, neck - across * 4 * unit});
    }
}

void paint_target(QPainter& p, const core::Figure& target, const std::vector<core::FrameMark>& marks,
                  const MarksLook& look) {
    QColor soft = kTarget;
    soft.setAlpha(150);
    for (const auto& [a, b] : core::segments_of(target.view)) {
        if (target[a].visibility == core::Visibility::absent ||
            target[b].visibility == core::Visibility::absent)
            continue;
        const bool shown = std::ranges::any_of(marks, [&](const core::FrameMark& m) {
            return std::ranges::find(m.limb, a) != m.limb.end() ||
                   std::ranges::find(m.limb, b) != m.limb.end();
        });
        if (!shown) continue;  // only where something is out
        p.setPen(QPen(soft, 2 * look.unit, Qt::DotLine, Qt::RoundCap));
        p.drawLine(look.map(target[a].at), look.map(target[b].at));
    }
}

/// Words stand at the rider's back, on the height of what they name, never over each other.
struct Tag {
    QString words;
    QPointF at;
    QRectF area;
    bool doubtful;
};

void place_tags(std::vector<Tag>& tags, const QRectF& figure, bool back_is_left, const QFontMetricsF& metrics,
                double unit, const QRectF& window) {
    std::ranges::sort(tags, {}, [](const Tag& t) { return t.at.y(); });
    double lowest = -1e9;
    for (Tag& t : tags) {
        const double wide = metrics.horizontalAdvance(t.words) + 14 * unit,
                     high = metrics.height() + 6 * unit;
        const double beside = back_is_left ? figure.left() - 26 * unit - wide : figure.right() + 26 * unit;
        const double x =
            std::clamp(beside, window.left() + 4, std::max(window.left() + 4, window.right() - wide - 4));
        const double y = std::max(t.at.y() - high / 2, lowest + 4 * unit);
        t.area = {x, y, wide, high};
        lowest = y + high;
    }
}

}  // namespace

void paint_drawn(QPainter& p, const std::vector<Drawn>& all, const MarksLook& look) {
    const QColor pen(0x8D, 0xB6, 0xDE);
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    for (const Drawn& d : all) {
        const QPointF a = look.map(d.a), b = look.map(d.b);
        if (d.kind == Drawn::Kind::arrow) {
            arrow(p, a, b, pen, 1.4 * look.unit);
        } else if (d.kind == Drawn::Kind::circle) {
            const double r = std::hypot(a.x() - b.x(), a.y() - b.y());
            p.setBrush(Qt::NoBrush);
            for (const auto& [colour, wide] :
                 {std::pair{QColor(20, 26, 24, 190), 5.0}, std::pair{pen, 2.6}}) {
                p.setPen(QPen(colour, wide * look.unit));
                p.drawEllipse(a, r, r);
            }
        } else {
            p.setFont(look.font);
            const QFontMetricsF metrics(look.font);
            const QRectF area(a.x(), a.y() - metrics.height() / 2 - 3 * look.unit,
                              metrics.horizontalAdvance(d.words) + 14 * look.unit,
                              metrics.height() + 6 * look.unit);
            p.setPen(Qt::NoPen);
            p.setBrush(QColor(20, 26, 24, 215));
            p.drawRoundedRect(area, 4 * look.unit, 4 * look.unit);
            p.setPen(pen);
            p.drawText(area, Qt::AlignCenter, d.words);
        }
    }
    p.restore();
}

void paint_frame_marks(QPainter& p, const core::Figure& figure, const std::vector<core::FrameMark>& marks,
                       const std::optional<core::Figure>& target, const MarksLook& look) {
    if (marks.empty()) return;
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    if (target && look.target) paint_target(p, *target, marks, look);
    QRectF around;
    for (const L l : core::landmarks_of(figure.view)) {
        if (figure[l].visibility == core::Visibility::absent || l == L::bit || l == L::poll || l == L::croup)
            continue;
        const QPointF q = look.map(figure[l].at);
        around = around.isNull() ? QRectF(q, QSizeF(1, 1)) : around.united(QRectF(q, QSizeF(1, 1)));
    }
    std::vector<Tag> tags;
    p.setFont(look.font);
    for (const core::FrameMark& m : marks) {
        const QColor colour = m.doubtful ? kLeaf : kClay;
        QPolygonF line;
        for (const L l : m.limb) line << look.map(figure[l].at);
        const Qt::PenStyle style = m.doubtful ? Qt::DashLine : Qt::SolidLine;
        // Dark, light, colour: on any ground one of the first two stands off it by 3:1.
        for (const auto& [pen, wide] :
             {std::pair{kMarkDark, 8.6}, std::pair{kMarkPaper, 6.0}, std::pair{colour, 4.0}}) {
            p.setPen(QPen(pen, wide * look.unit, style, Qt::RoundCap, Qt::RoundJoin));
            line.size() > 1 ? p.drawPolyline(line) : p.drawPoint(line.front());
        }
        const QPointF end = look.map(figure[m.end].at);
        if (m.should_be && !m.doubtful) arrow(p, end, look.map(*m.should_be), colour, look.unit);
        QPointF middle;
        for (const QPointF& q : line) middle += q / static_cast<double>(line.size());
        tags.push_back(
            {QString::fromStdString(m.fault->name) + (m.doubtful ? " ?" : ""), middle, {}, m.doubtful});
    }
    const bool back_is_left = figure.travel != core::Travel::left;
    place_tags(tags, around, back_is_left, QFontMetricsF(look.font), look.unit, QRectF(p.window()));
    for (const Tag& t : tags) {
        const QColor colour = t.doubtful ? kLeaf : kClay;
        p.setPen(QPen(colour, look.unit));
        p.drawLine(QPointF(back_is_left ? t.area.right() : t.area.left(), t.area.center().y()), t.at);
        p.setPen(Qt::NoPen);
        p.setBrush(QColor(kMarkDark.red(), kMarkDark.green(), kMarkDark.blue(), 215));
        p.drawRoundedRect(t.area, 4 * look.unit, 4 * look.unit);
        p.setBrush(colour);
        p.drawRect(QRectF(back_is_left ? t.area.right() - 3 * look.unit : t.area.left(), t.area.top(),
                          3 * look.unit, t.area.height()));
        p.setPen(kMarkPaper);
        p.drawText(t.area, Qt::AlignCenter, t.words);
    }
    p.restore();
}

}  // namespace aspen::exchange
