#include "ui/progress/time_head.hpp"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <cmath>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {

constexpr int kTicks = 22, kMarks = 26;

void paint_mark(QPainter& p, QPointF at, const std::string& kind, const QColor& ink) {
    p.save();
    p.setPen(QPen(ink, 1.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.setBrush(Qt::NoBrush);
    const double r = 5;
    if (kind == "sign_off") {  // a tick
        p.drawPolyline(
            QPolygonF{{at.x() - r, at.y()}, {at.x() - 1, at.y() + r - 1}, {at.x() + r, at.y() - r}});
    } else if (kind == "saddle") {  // its seat
        p.drawArc(QRectF(at.x() - r - 1, at.y() - r - 3, 2 * r + 2, 2 * r + 2), 200 * 16, 140 * 16);
        p.drawLine(QPointF(at.x() - r - 1, at.y() - 3), QPointF(at.x() - r + 1, at.y() + 1));
    } else if (kind == "bit") {  // two rings
        p.drawEllipse(QPointF(at.x() - 4, at.y()), 3, 3);
        p.drawEllipse(QPointF(at.x() + 4, at.y()), 3, 3);
    } else if (kind == "horse") {  // a hoof print
        p.drawArc(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r + 2), -40 * 16, 260 * 16);
    } else if (kind == "injury") {
        p.drawLine(at - QPointF(r, 0), at + QPointF(r, 0));
        p.drawLine(at - QPointF(0, r), at + QPointF(0, r));
    } else if (kind == "pause") {
        p.drawLine(at + QPointF(-3, -r), at + QPointF(-3, r));
        p.drawLine(at + QPointF(3, -r), at + QPointF(3, r));
    } else {
        p.drawRect(QRectF(at.x() - 4, at.y() - 4, 8, 8));
    }
    p.restore();
}

TimeHead::TimeHead(TimeAxis& axis, QWidget* parent) : QWidget(parent), axis_(axis) {
    setFocusPolicy(Qt::TabFocus);
    setAccessibleName(tr("What happened beside the corrections"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setCursor(Qt::OpenHandCursor);
}

void TimeHead::show_marks(const std::vector<app::TimeMark>& marks, double today) {
    marks_ = marks;
    today_ = today;
    update();
}
QSize TimeHead::sizeHint() const { return {400, scaled_px(kTicks + kMarks)}; }

double TimeHead::mark_x(int row) const {
    return axis_.x(TimeAxis::days(marks_[static_cast<std::size_t>(row)].day));
}
QString TimeHead::row_words(int row) const {
    const app::TimeMark& m = marks_[static_cast<std::size_t>(row)];
    return spoken_date(m.day) + (m.until.isEmpty() ? QString() : tr(" to ") + spoken_date(m.until)) + ": " +
           m.words;
}
QRect TimeHead::row_area(int row) const {
    return QRectF(mark_x(row) - 14, scaled_px(kTicks), 28, scaled_px(kMarks)).toRect();
}
void TimeHead::row_pressed(int row) { emit mark_pressed(row); }

void TimeHead::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    const QFontMetrics fm(text_font(12));
    for (const TimeAxis::Tick& tick : axis_.ticks()) {
        const double x = axis_.x(tick.at);
        if (x < axis_.left() - 1 || x > axis_.right() + 1) continue;
        p.setPen(QPen(t.line, 1));
        p.drawLine(QPointF(x, scaled_px(4)), QPointF(x, height()));
        p.setFont(text_font(12, tick.strong));
        p.setPen(tick.strong ? t.ink : t.quiet);
        p.drawText(QRectF(x + 4, 0, 120, scaled_px(kTicks)), Qt::AlignLeft | Qt::AlignVCenter, tick.words);
    }
    const double y = scaled_px(kTicks) + scaled_px(kMarks) / 2.0;
    double free_from = -1e9;  // words where they have room, else the sign alone
    for (int i = 0; i < row_count(); ++i) {
        const app::TimeMark& m = marks_[static_cast<std::size_t>(i)];
        const double x = mark_x(i);
        if (!m.until.isEmpty()) {
            const double end = axis_.x(TimeAxis::days(m.until));
            p.fillRect(QRectF(std::max(x, axis_.left()), y + 10,
                              std::max(0.0, std::min(end, axis_.right()) - std::max(x, axis_.left())), 2),
                       t.quiet);
        }
        if (x < axis_.left() || x > axis_.right()) continue;
        const double next =
            i + 1 < row_count() ? std::min(mark_x(i + 1) - 10, axis_.right() + 8) : axis_.right() + 8;
        paint_mark(p, {x, y}, m.kind, t.ink);
        if (x + 12 < free_from) continue;
        const QString words = fm.elidedText(m.words, Qt::ElideRight, static_cast<int>(next - x - 14));
        if (words.size() < 4) continue;
        p.setFont(text_font(12));
        p.setPen(t.quiet);
        p.drawText(QRectF(x + 11, y - 9, next - x, 18), Qt::AlignLeft | Qt::AlignVCenter, words);
        free_from = x + 14 + fm.horizontalAdvance(words);
    }
    paint_current(p, *this);
}

bool TimeHead::event(QEvent* e) {
    if (e->type() != QEvent::ToolTip) return QWidget::event(e);
    auto* help = static_cast<QHelpEvent*>(e);
    for (int i = 0; i < row_count(); ++i) {
        if (!row_area(i).contains(help->pos())) continue;
        QToolTip::showText(help->globalPos(), row_words(i), this);
        return true;
    }
    QToolTip::hideText();
    return true;
}

void TimeHead::wheelEvent(QWheelEvent* e) {
    if (e->angleDelta().x() != 0)
        axis_.pan(-e->angleDelta().x() / 2.0);
    else
        axis_.zoom(std::pow(1.25, e->angleDelta().y() / 120.0), e->position().x());
    emit moved();
    e->accept();
}
void TimeHead::mousePressEvent(QMouseEvent* e) {
    dragged_from_ = e->position().x();
    for (int i = 0; i < row_count(); ++i) {
        if (row_area(i).contains(e->position().toPoint())) return row_pressed(i);
    }
}
void TimeHead::mouseMoveEvent(QMouseEvent* e) {
    if (!(e->buttons() & Qt::LeftButton)) return;
    axis_.pan(dragged_from_ - e->position().x());
    dragged_from_ = e->position().x();
    emit moved();
}
void TimeHead::mouseDoubleClickEvent(QMouseEvent*) {
    axis_.show_whole();
    emit moved();
}
void TimeHead::keyPressEvent(QKeyEvent* e) {
    if (!take_row_key(*this, *e)) QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_time_head.cpp"
