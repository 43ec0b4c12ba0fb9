#include "ui/prescribe/ladder_view.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kLadderRow = 44, kLadderRail = 46;

}  // namespace

LadderView::LadderView(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::TabFocus);
    setAccessibleName(tr("Ladder"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Preferred);
}

void LadderView::show_ladder(const core::Exercise& exercise, int standing, int good_in_a_row, bool done,
                             const QStringList& waits) {
    rungs_ = exercise.dose.ladder;
    standing_ = standing;
    good_ = good_in_a_row;
    done_ = done;
    waits_ = waits;
    updateGeometry();
    update();
}

QSize LadderView::sizeHint() const {
    return {320, scaled_px(kLadderRow) * std::max(1, row_count()) + scaled_px(10)};
}
QSize LadderView::minimumSizeHint() const {
    return {200, scaled_px(34) * std::max(1, row_count()) + scaled_px(10)};
}

QRect LadderView::row_area(int row) const {
    const int h = std::min(scaled_px(92), (height() - scaled_px(10)) / std::max(1, row_count()));
    return {0, height() - scaled_px(5) - (row + 1) * h, width(), h};
}

QString LadderView::row_words(int row) const {
    const core::Rung& r = rungs_[static_cast<std::size_t>(row)];
    QString out = tr("Rung %1: %2, %3").arg(row + 1).arg(text(r.words), text(core::spoken(r)));
    if (row < standing_ || done_) out += tr(", climbed");
    if (row == standing_ && !done_)
        out += tr(", ridden now, a good ride is %1, %2 of 2 good rides")
                   .arg(text(core::good_ride(r)))
                   .arg(good_);
    if (row < waits_.size() && !waits_[row].isEmpty()) out += tr(", waits: ") + waits_[row];
    return out;
}

void LadderView::paint_rung(QPainter& p, int row) const {
    const Theme& t = theme();
    const core::Rung& r = rungs_[static_cast<std::size_t>(row)];
    const QRectF area = row_area(row);
    const double y = area.center().y(), left = scaled_px(6), right = scaled_px(kLadderRail - 6);
    const bool climbed = row < standing_ || done_, here = row == standing_ && !done_;
    const bool waits = row < waits_.size() && !waits_[row].isEmpty();
    p.setPen(QPen(here      ? t.sky
                  : climbed ? t.ink
                            : t.line,
                  climbed || here ? scaled_px(5) : scaled_px(2), waits ? Qt::DotLine : Qt::SolidLine,
                  Qt::RoundCap));
    p.drawLine(QPointF(left, y), QPointF(right, y));
    if (here) {  // two notches: the good rides in a row that take it up
        for (int i = 0; i < 2; ++i) {
            const QRectF notch(right + scaled_px(8) + i * scaled_px(13), y - scaled_px(5), scaled_px(10),
                               scaled_px(10));
            p.setPen(QPen(t.sky, 1.5));
            p.setBrush(i < good_ ? QBrush(t.sky) : QBrush(Qt::NoBrush));
            p.drawRoundedRect(notch, 2, 2);
        }
        p.setBrush(Qt::NoBrush);
    }
    const double x = right + scaled_px(here ? 40 : 14);
    const QRectF words(x, area.top(), width() - x, area.height());
    const QFont font = text_font(14, here);
    p.setFont(font);
    const QString first = QString::number(row + 1) + "  " + text(r.words);
    QString under;
    if (standing_ < 0 && !done_) under = text(core::spoken(r));
    if (here) under = text(core::spoken(r)) + tr("; a good ride: ") + text(core::good_ride(r));
    if (waits) under = tr("waits: ") + waits_[row];
    p.setPen(here || climbed || standing_ < 0 ? t.ink : t.quiet);
    if (under.isEmpty() || area.height() < scaled_px(32)) {
        p.drawText(words, Qt::AlignVCenter | Qt::AlignLeft | Qt::TextWordWrap,
                   QFontMetrics(font).elidedText(first, Qt::ElideRight, static_cast<int>(words.width())));
        return;
    }
    const int line = QFontMetrics(font).height();
    const double top = y - line;
    p.drawText(QRectF(x, top, words.width(), line), Qt::AlignLeft | Qt::AlignVCenter,
               QFontMetrics(font).elidedText(first, Qt::ElideRight, static_cast<int>(words.width())));
    p.setFont(text_font(12));
    p.setPen(t.quiet);
    p.drawText(QRectF(x, top + line, words.width(), line), Qt::AlignLeft | Qt::AlignVCenter,
               QFontMetrics(p.font()).elidedText(under, Qt::ElideRight, static_cast<int>(words.width())));
}

void LadderView::paintEvent(QPaintEvent*) {
    if (rungs_.empty()) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    const double foot = height() - scaled_px(2), top = row_area(row_count() - 1).top();
    for (const double x :
         {static_cast<double>(scaled_px(6)), static_cast<double>(scaled_px(kLadderRail - 6))}) {
        p.setPen(QPen(t.quiet, scaled_px(3), Qt::SolidLine, Qt::RoundCap));
        p.drawLine(QPointF(x, foot), QPointF(x, top));
    }
    for (int i = 0; i < row_count(); ++i) paint_rung(p, i);
    paint_current(p, *this);
}

void LadderView::keyPressEvent(QKeyEvent* e) {
    if (!take_row_key(*this, *e)) QWidget::keyPressEvent(e);
}

void LadderView::mousePressEvent(QMouseEvent* e) {
    for (int row = 0; row < row_count(); ++row) {
        if (!row_area(row).contains(e->position().toPoint())) continue;
        set_current_row(row);
        return row_pressed(row);
    }
    QWidget::mousePressEvent(e);
}

}  // namespace aspen::ui

#include "moc_ladder_view.cpp"
