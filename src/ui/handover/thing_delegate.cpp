#include "ui/handover/thing_delegate.hpp"

#include <QPainter>

#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

constexpr int kThingPad = 10, kThingMark = 4;

QFont title_font() {
    QFont f = text_font(14);
    f.setWeight(QFont::DemiBold);
    return f;
}

}  // namespace

QSize ThingDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const {
    return {160,
            2 * kThingPad + QFontMetrics(title_font()).height() + QFontMetrics(text_font(12)).height() + 2};
}

void ThingDelegate::paint(QPainter* painter, const QStyleOptionViewItem& o, const QModelIndex& index) const {
    QPainter& p = *painter;
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    const QRectF area = QRectF(o.rect).adjusted(1, 1, -1, -1);
    const bool at = o.state & QStyle::State_Selected;
    if (at) {
        p.setPen(Qt::NoPen);
        p.setBrush(t.panel);
        p.drawRoundedRect(area, 8, 8);
        p.setBrush(t.ink);
        p.drawRoundedRect(
            QRectF(area.left(), area.top() + kThingPad, kThingMark, area.height() - 2 * kThingPad), 2, 2);
    }
    const QRect inner = o.rect.adjusted(kThingPad + kThingMark + 2, kThingPad, -kThingPad, -kThingPad);
    const auto line = [&](int y, const QFont& font, const QColor& colour, const QString& words) {
        const QFontMetrics m(font);
        p.setFont(font);
        p.setPen(colour);
        p.drawText(QRect(inner.left(), y, inner.width(), m.height()), Qt::AlignVCenter,
                   m.elidedText(words, Qt::ElideRight, inner.width()));
    };
    line(inner.top(), title_font(), t.ink, index.data(Qt::DisplayRole).toString());
    line(inner.top() + QFontMetrics(title_font()).height() + 2, text_font(12), t.quiet,
         index.data(kUnderRole).toString());
    p.restore();
}

}  // namespace aspen::ui
