#include "ui/prescribe/chain_link.hpp"

#include <QPainter>
#include <QVBoxLayout>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {

ChainLink::ChainLink(const QString& name, const QString& words, int depth, bool focus, QWidget* parent)
    : QWidget(parent), depth_(depth), focus_(focus) {
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(18 + 26 * depth, 8, 12, 8);
    box->setSpacing(2);
    box->addWidget(text_label(name, this, focus ? 18 : 14, true));
    box->addWidget(quiet_label(words, this));
}

void ChainLink::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const double left = 4 + 26 * depth_;
    p.setPen(Qt::NoPen);
    p.setBrush(theme().panel);
    p.drawRoundedRect(QRectF(left, 2, width() - left, height() - 4), 8, 8);
    if (focus_) {
        p.setBrush(theme().sky);
        p.drawRoundedRect(QRectF(left, 10, 4, height() - 20), 2, 2);
    }
    if (depth_ > 0) {  // the arrow from the link that drives this one
        const double x = left - 12;
        p.setPen(QPen(theme().quiet, 1.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        const QPointF way[] = {{x, 0}, {x, height() / 2.0}, {left - 3, height() / 2.0}};
        p.drawPolyline(way, 3);
        const QPointF head[] = {
            {left - 8, height() / 2.0 - 4}, {left - 3, height() / 2.0}, {left - 8, height() / 2.0 + 4}};
        p.drawPolyline(head, 3);
    }
}

CandidateCard::CandidateCard(int number, const QString& name, const QString& reason, const QString& against,
                             bool chosen, QWidget* parent)
    : QPushButton(parent), number_(number), name_(name), reason_(reason), against_(against), chosen_(chosen) {
    setText(name);
    setCheckable(true);
    setChecked(chosen);
    setCursor(Qt::PointingHandCursor);
    setAccessibleName(QString("%1. %2. %3 %4").arg(number).arg(name, reason, against));
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

int CandidateCard::heightForWidth(int width) const {
    const int inner = width - scaled_px(44);
    const auto tall = [&](const QString& words) {
        return QFontMetrics(text_font(14))
            .boundingRect(QRect(0, 0, inner, 1000), Qt::TextWordWrap, words)
            .height();
    };
    return scaled_px(18) + QFontMetrics(text_font(14, true)).height() + tall(reason_) + tall(against_);
}
QSize CandidateCard::sizeHint() const { return {320, heightForWidth(width() > 100 ? width() : 400)}; }

void CandidateCard::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    const QRectF area = QRectF(rect()).adjusted(1, 2, -1, -2);
    p.setPen(chosen_ || hasFocus() ? QPen(chosen_ ? t.sky : t.ink, 2) : QPen(t.line, 1));
    p.setBrush(t.panel);
    p.drawRoundedRect(area, 8, 8);
    p.setPen(chosen_ ? t.sky : t.quiet);
    p.setFont(heading_font(18));
    p.drawText(QRectF(area.left(), area.top(), scaled_px(34), area.height()), Qt::AlignCenter,
               QString::number(number_));
    double y = area.top() + scaled_px(6);
    const double x = area.left() + scaled_px(34), w = area.width() - scaled_px(42);
    const auto line = [&](const QString& words, const QFont& font, const QColor& colour) {
        p.setFont(font);
        p.setPen(colour);
        QRectF used;
        p.drawText(QRectF(x, y, w, 1000), Qt::TextWordWrap, words, &used);
        y += used.height();
    };
    line(name_, text_font(14, true), t.ink);
    line(reason_, text_font(14), t.ink);
    line(against_, text_font(14), t.quiet);
}

}  // namespace aspen::ui

#include "moc_chain_link.cpp"
