#include "ui/shared/figure_painter.hpp"

#include <algorithm>
#include <cmath>
#include <tuple>

#include "ui/shared/rail.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

/// Round all that is light: dark enough that one of the two is told from any ground.
// As measured on real ground by aspen-crest-contrast: at 215 and 1.4 px one place in ten fell below 3:1.
const QColor kEdge(14, 18, 17, 245);
constexpr double kEdgeWide = 4.6, kGuessWide = 2.6, kCoreWide = 2;
const QColor kUnconfirmed(0xb4, 0xbb, 0xb6);

void paint_upright(QPainter& p, const core::Figure& f, const FigureLook& look) {
    const core::Mark& heel = f[core::Landmark::heel];
    if (heel.visibility == core::Visibility::absent || f.view != core::View::side) return;
    const double r = core::radians(f.camera.roll_deg);
    const QPointF foot = look.to_widget(heel.at), up(std::sin(r), -std::cos(r));
    p.setPen(QPen(QColor(20, 26, 24, 150), 2.6));  // it is an aid, not the rider
    p.drawLine(foot + up * -14, foot + up * look.height);
    p.setPen(QPen(QColor(255, 253, 248, 210), 1, f.camera.roll_marked ? Qt::SolidLine : Qt::DashLine));
    p.drawLine(foot + up * -14, foot + up * look.height);
}

void paint_tag(QPainter& p, QPointF c, const QString& words) {
    p.setFont(text_font(12, true));
    const QRectF tag(c.x() + 16, c.y() - 10, p.fontMetrics().horizontalAdvance(words) + 12.0, 20);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(20, 26, 24, 190));
    p.drawRoundedRect(tag, 4, 4);
    p.setPen(QColor(0xff, 0xfd, 0xf8));
    p.drawText(tag, Qt::AlignCenter, words);
}

}  // namespace

QColor slot_colour(int slot) {
    static const QColor colours[] = {QColor(0xff, 0xfd, 0xf8), QColor(0xf3, 0xc9, 0x6b),
                                     QColor(0x9f, 0xd3, 0xf0), QColor(0xe7, 0xa6, 0xc9)};
    return colours[static_cast<std::size_t>(slot) % std::size(colours)];
}

void paint_joint(QPainter& p, QPointF at, double r, int slot) {
    switch (slot % 4) {
        case 1:
            p.drawRect(QRectF(at.x() - r * 0.88, at.y() - r * 0.88, r * 1.76, r * 1.76));
            break;
        case 2: {
            const QPointF corners[] = {at + QPointF(0, -r * 1.2), at + QPointF(r * 1.1, r * 0.8),
                                       at + QPointF(-r * 1.1, r * 0.8)};
            p.drawPolygon(corners, 3);
            break;
        }
        case 3: {
            const QPointF corners[] = {at + QPointF(0, -r * 1.25), at + QPointF(r * 1.25, 0),
                                       at + QPointF(0, r * 1.25), at + QPointF(-r * 1.25, 0)};
            p.drawPolygon(corners, 4);
            break;
        }
        default:
            p.drawEllipse(at, r, r);
    }
}

void paint_figure(QPainter& p, const core::Figure& f, const FigureLook& look) {
    const auto there = [&](core::Landmark l) { return f[l].visibility != core::Visibility::absent; };
    const auto hidden = [&](core::Landmark l) { return f[l].visibility == core::Visibility::hidden; };
    const QColor own = slot_colour(look.slot);
    if (!look.quiet) paint_upright(p, f, look);
    for (const auto& [a, b] : core::segments_of(f.view)) {
        if (!there(a) || !there(b)) continue;
        const bool guessed = hidden(a) || hidden(b), unconfirmed = !f[a].confirmed || !f[b].confirmed;
        const Qt::PenStyle style = guessed ? Qt::DotLine : unconfirmed ? Qt::DashLine : Qt::SolidLine;
        p.setPen(QPen(kEdge, look.quiet ? 2.6 : unconfirmed ? kGuessWide : kEdgeWide, style, Qt::RoundCap));
        p.drawLine(look.to_widget(f[a].at), look.to_widget(f[b].at));
        QColor line = unconfirmed ? kUnconfirmed : own;
        line.setAlpha(guessed ? 150 : 255);
        p.setPen(QPen(line, look.quiet ? 1 : kCoreWide, style, Qt::RoundCap));
        p.drawLine(look.to_widget(f[a].at), look.to_widget(f[b].at));
    }
    if (!look.name.isEmpty()) {  // whose figure it is, above its highest joint
        QPointF top(0, 1e9);
        for (const core::Landmark l : core::landmarks_of(f.view)) {
            if (there(l) && look.to_widget(f[l].at).y() < top.y()) top = look.to_widget(f[l].at);
        }
        if (top.y() < 1e8) {
            p.setFont(text_font(12, true));
            const double wide = p.fontMetrics().horizontalAdvance(look.name) + 12.0;
            const QRectF tag(top.x() - wide / 2, top.y() - 46, wide, 20);
            p.setPen(Qt::NoPen);
            p.setBrush(QColor(20, 26, 24, 190));
            p.drawRoundedRect(tag, 4, 4);
            p.setPen(own);
            p.drawText(tag, Qt::AlignCenter, look.name);
        }
    }
    for (const core::Landmark l : core::landmarks_of(f.view)) {
        if (!there(l)) continue;
        const QPointF c = look.to_widget(f[l].at);
        const bool chosen = look.selected == l;
        const double r = chosen ? kHandleRadius : look.quiet ? 3 : 4;
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(kEdge, f[l].confirmed ? kEdgeWide : kGuessWide));
        paint_joint(p, c, r, look.slot);
        p.setPen(QPen(f[l].confirmed ? own : kUnconfirmed, chosen ? 2.4 : 1.8,
                      hidden(l) || !f[l].confirmed ? Qt::DotLine : Qt::SolidLine));
        paint_joint(p, c, r, look.slot);
        if (chosen)
            paint_tag(p, c,
                      f[l].confirmed
                          ? text(core::spoken(l))
                          : QObject::tr("%1 · %2 ±%3 px")
                                .arg(text(core::spoken(l)), QString::fromUtf8(core::word(f[l].origin).data()))
                                .arg(f[l].sd_px, 0, 'f', 1));
    }
}

void paint_moving_figure(QPainter& p, const core::Figure& f,
                         const std::function<QPointF(core::Point)>& to_widget) {
    const auto seen = [&](core::Landmark l) { return f[l].visibility == core::Visibility::seen; };
    p.setBrush(Qt::NoBrush);
    // All that is dark under all that is light: no limb cuts through another.
    for (const auto& [colour, width, radius] :
         {std::tuple{kEdge, 4.0, 2.6}, std::tuple{slot_colour(0), 1.8, 1.6}}) {
        p.setPen(QPen(colour, width, Qt::SolidLine, Qt::RoundCap));
        for (const auto& [a, b] : core::segments_of(f.view)) {
            if (seen(a) && seen(b)) p.drawLine(to_widget(f[a].at), to_widget(f[b].at));
        }
        for (const core::Landmark l : core::landmarks_of(f.view)) {
            if (seen(l)) p.drawEllipse(to_widget(f[l].at), radius, radius);
        }
    }
}

void paint_measure(QPainter& p, const core::Figure& f, const core::Judged& judged, const FigureLook& look,
                   const core::SpokenAmounts& amounts) {
    std::vector<QPointF> points;
    for (const core::Landmark l : judged.info().needs) {
        if (f[l].visibility != core::Visibility::absent) points.push_back(look.to_widget(f[l].at));
    }
    if (points.empty()) return;
    QRectF around(points.front(), QSizeF(1, 1));
    for (const QPointF& q : points) around = around.united(QRectF(q, QSizeF(1, 1)));
    p.setPen(QPen(QColor(0x8D, 0xB6, 0xDE, 230), 2.4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    // The joints of an angle stand in their order along the limbs; other measures hold between their first
    // two.
    const bool chain = judged.info().id.ends_with("_angle");
    p.drawPolyline(points.data(), static_cast<int>(std::min<std::size_t>(points.size(), chain ? 3 : 2)));
    const QString says = amount_words(judged, amounts);
    p.setFont(text_font(26));
    const double wide = p.fontMetrics().horizontalAdvance(says) + 20.0;
    // To the side away from the joints; the rider's back has the room.
    const bool right = f.travel == core::Travel::left;
    QRectF tag(right ? around.right() + 26 : around.left() - 26 - wide, around.center().y() - 20, wide, 40);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(20, 26, 24, 170));
    p.drawRoundedRect(tag, 8, 8);
    p.setPen(QColor(0xff, 0xfd, 0xf8, 235));
    p.drawText(tag, Qt::AlignCenter, says);
}

}  // namespace aspen::ui
