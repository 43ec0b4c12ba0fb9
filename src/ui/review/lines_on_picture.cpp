#include "ui/review/lines_on_picture.hpp"

#include <QCoreApplication>
#include <QPen>

#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

using DrawnLine = PictureView::Line;

QString tr(const char* words) { return QCoreApplication::translate("aspen::ui::PictureView", words); }

}  // namespace

std::optional<store::GroundMarkKind> ground_kind(DrawnLine line) {
    if (line == DrawnLine::lap_line) return store::GroundMarkKind::lap_line;
    if (line == DrawnLine::overstep) return store::GroundMarkKind::overstep;
    if (line == DrawnLine::step) return store::GroundMarkKind::step;
    return std::nullopt;
}

std::pair<QString, QString> prompt_of(DrawnLine line, bool begun) {
    if (line == DrawnLine::upright)
        return {
            tr("Draw along something upright"),
            tr("a post, a letter's stand or a wall's edge: press at one end, let go at the other · [let_go] "
               "leaves it")};
    if (line == DrawnLine::level)
        return {tr("Draw along something level"),
                tr("the rail of the fence, the footing's edge square to the camera · [let_go] leaves it")};
    if (line == DrawnLine::cover)
        return {tr("Cover the face"), tr("press in the middle of the face, let go at its edge; all inside is "
                                         "covered · [let_go] leaves it")};
    if (line == DrawnLine::arrow)
        return {tr("Point at it"),
                tr("press where the arrow starts, let go at its tip · [let_go] leaves it")};
    if (line == DrawnLine::circle)
        return {tr("Circle it"), tr("press in the middle, let go at the edge · [let_go] leaves it")};
    if (line == DrawnLine::words)
        return {tr("Write beside it"), tr("click where the words begin · [let_go] leaves it")};
    if (line == DrawnLine::scale)
        return {
            tr("Draw along a known length"),
            tr("from the ground to the withers, or a pole lying square to the camera · [let_go] leaves it")};
    if (line == DrawnLine::lap_line)
        return {begun ? tr("Now its other end") : tr("Draw the lap line"),
                tr("across the track, where every lap passes; then one key at each crossing · [let_go] "
                   "leaves it")};
    if (line == DrawnLine::overstep)
        return {begun ? tr("Now where the hind foot of the same side lands")
                      : tr("Click the print of a fore foot"),
                tr("hoof lengths come from the scale or the rider's trunk · [let_go] leaves it")};
    if (line == DrawnLine::step)
        return {begun ? tr("Now the next print") : tr("Click the print a step starts from"),
                tr("steps before a logged pole are held against the others · [let_go] leaves it")};
    return {};
}

void paint_stand_in(QPainter& p, const app::ClipDeck& deck, QSize room) {
    if (deck.picture_kind() != media::ShownPicture::Kind::approximate) return;
    p.setFont(text_font(12));
    const QString words = tr("near frame %1, the exact one is coming").arg(deck.picture_frame());
    const QRectF pill(room.width() - p.fontMetrics().horizontalAdvance(words) - 36.0, room.height() - 36.0,
                      p.fontMetrics().horizontalAdvance(words) + 24.0, 24);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(20, 26, 24, 200));
    p.drawRoundedRect(pill, 12, 12);
    p.setPen(kBone);
    p.drawText(pill, Qt::AlignCenter, words);
}

PictureStage::Layer ground_layer(const app::BenchState& bench) {
    return [bench](QPainter& p, const PictureStage::Place& place) {
        if (!bench.is_open()) return;
        for (const store::GroundMark& g : bench.review().ground()) {
            const bool lap = g.kind == store::GroundMarkKind::lap_line;
            if (!lap && g.frame != bench.deck().frame()) continue;
            const QPointF a = place.map(g.a), b = place.map(g.b);
            p.setBrush(Qt::NoBrush);
            p.setPen(QPen(QColor(20, 26, 24, 170), 4, lap ? Qt::DashLine : Qt::SolidLine));
            p.drawLine(a, b);
            p.setPen(QPen(Qt::white, 1.8, lap ? Qt::DashLine : Qt::SolidLine));
            p.drawLine(a, b);
            if (lap) continue;
            for (const QPointF end : {a, b}) p.drawEllipse(end, 5, 5);
        }
    };
}

}  // namespace aspen::ui
