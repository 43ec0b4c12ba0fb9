#include "ui/lesson/roster_delegate.hpp"

#include <QPainter>

#include "app/models/riders_model.hpp"
#include "ui/lesson/ring.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kTileGap = 6;

}  // namespace

RosterDelegate::RosterDelegate(const app::LessonDesk& desk, QObject* parent)
    : QStyledItemDelegate(parent), desk_(desk) {}

const app::LessonDesk::RosterLine& RosterDelegate::line(const QModelIndex& index) const {
    const qlonglong id = index.data(app::RidersModel::id_role).toLongLong();
    const auto it = lines_.find(id);
    return it != lines_.end() ? it->second
                              : lines_.emplace(id, desk_.roster_line(store::RiderId{id})).first->second;
}

QSize RosterDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const {
    return {ring_px(200), ring_px(98)};
}

void RosterDelegate::paint(QPainter* p, const QStyleOptionViewItem& o, const QModelIndex& index) const {
    const Theme& t = theme();
    const auto& l = line(index);
    const QRect tile = o.rect.adjusted(kTileGap, kTileGap, -kTileGap, -kTileGap);
    const bool rides = o.state & QStyle::State_Selected, here = o.state & QStyle::State_HasFocus;
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    p->setPen(rides || here ? QPen(t.ink, rides ? 3 : 2, rides ? Qt::SolidLine : Qt::DashLine)
                            : QPen(t.line, 1));
    p->setBrush(t.panel);
    p->drawRoundedRect(tile, 10, 10);
    const int size = ring_px(16), x = tile.left() + scaled_px(12);
    const QRectF box(tile.right() - size - scaled_px(10), tile.top() + scaled_px(12), size, size);
    paint_tick(*p, box, rides);
    const auto write = [&](const QFont& font, const QColor& c, int y, int high, int wide,
                           const QString& words) {
        p->setFont(font);
        p->setPen(c);
        p->drawText(QRect(x, tile.top() + y, wide, high), Qt::AlignLeft | Qt::AlignVCenter,
                    QFontMetrics(font).elidedText(words, Qt::ElideRight, wide));
    };
    const int wide = tile.width() - scaled_px(24);
    QFont name = ring_heading(18);
    const int beside_box = wide - size - scaled_px(12);
    QString who = index.data().toString();
    if (QFontMetrics(name).horizontalAdvance(who) > beside_box) name = ring_heading(14);
    write(name, t.ink, scaled_px(4), ring_px(24), beside_box, who);
    write(ring_font(12), ring_quiet(), scaled_px(4) + ring_px(24), ring_px(17), wide,
          l.horse.isEmpty() ? tr("which horse?") : l.horse);
    write(ring_font(12, true), t.ink, scaled_px(4) + ring_px(42), ring_px(17), wide,
          l.task.isEmpty() ? tr("nothing in work") : l.task);
    if (!l.word.isEmpty()) {
        p->setPen(Qt::NoPen);
        p->setBrush(t.ink);
        const QRect band(tile.left() + scaled_px(8), tile.top() + scaled_px(4) + ring_px(62),
                         tile.width() - scaled_px(16), ring_px(18));
        p->drawRoundedRect(band, 5, 5);
        write(ring_font(12), t.panel, scaled_px(4) + ring_px(62), ring_px(18), wide, l.word);
    }
    p->restore();
}

}  // namespace aspen::ui

#include "moc_roster_delegate.cpp"
