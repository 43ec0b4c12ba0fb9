#include "ui/lesson/rider_tile.hpp"

#include <QMouseEvent>
#include <QPainter>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

// At the ring one stands three steps away: everything here is drawn at one and a half times the usual size.
int ring_px(int px) { return scaled_px(px) * 3 / 2; }
QFont ring_font(int px, bool strong = false) {
    QFont f = text_font(px, strong);
    f.setPixelSize(ring_px(px));
    return f;
}
QFont ring_heading(int px) {
    QFont f = heading_font(px);
    f.setPixelSize(ring_px(px));
    return f;
}

constexpr const char* kTileRows[] = {"12345678", "QWERTYUI", "ASDFGHJK", "ZXCVBNM,"};

bool is_before(const app::LessonDesk& desk) { return desk.state() == app::LessonDesk::State::before; }

}  // namespace

RiderTile::RiderTile(app::LessonDesk& desk, int rider, QWidget* parent)
    : QWidget(parent), desk_(desk), rider_(rider) {
    setMinimumSize(scaled_px(250), scaled_px(190));
    setCursor(Qt::PointingHandCursor);
    const app::LessonRider& r = desk_.riders()[static_cast<std::size_t>(rider)];
    setAccessibleName(
        tr("%1 on %2, %3, %4 of %5 good").arg(r.name, r.horse, r.variant).arg(r.good_ones).arg(r.attempts));
}

QString RiderTile::key_of(Touch touch, int rider) {
    const auto key = [&](int row) { return QString(QChar(kTileRows[row][rider])); };
    if (rider < 0 || rider > 7) return {};
    switch (touch) {
        case Touch::good:
            return key(0);
        case Touch::look:
            return QString::fromUtf8("⇧") + key(0);
        case Touch::attempt:
            return key(1);
        case Touch::good_one:
            return key(2);
        case Touch::word:
            return key(3);
        case Touch::hold:
            return QString::fromUtf8("⇧") + key(1);
        default:
            return {};
    }
}

void RiderTile::set_selected(bool on) {
    if (std::exchange(selected_, on) != on) update();
}

QRect RiderTile::touch_area(Touch touch) const {
    const int margin = scaled_px(8), gap = scaled_px(6), rows = ring_px(34);
    const int y2 = height() - margin - rows, y1 = y2 - gap - rows;
    const auto third = [&](int n, int y) {
        const int w = (width() - 2 * margin - 2 * gap) / 3;
        return QRect(margin + n * (w + gap), y, w, rows);
    };
    switch (touch) {
        case Touch::good:
            return third(0, y1);
        case Touch::look:
            return third(1, y1);
        case Touch::word:
            return third(2, y1);
        case Touch::attempt:
            return third(0, y2);
        case Touch::good_one:
            return third(1, y2);
        case Touch::hold:
            return third(2, y2);
        default:
            return {0, 0, width(), y1 - gap};
    }
}

QRect RiderTile::item_area(int item) const {
    const int margin = scaled_px(8), gap = scaled_px(4), h = ring_px(24),
              w = (width() - 2 * margin - gap) / 2;
    const int top = height() - margin - 4 * (h + gap);
    return {margin + item % 2 * (w + gap), top + item / 2 * (h + gap), w, h};
}

void RiderTile::paint_touch(QPainter& p, Touch touch, const QString& words) {
    const Theme& t = theme();
    const QRectF area = touch_area(touch);
    p.setPen(QPen(t.line, 1));
    p.setBrush(t.ground);
    p.drawRoundedRect(area, 6, 6);
    p.setPen(t.ink);
    p.setFont(ring_font(12, true));
    p.drawText(area.adjusted(4, 0, -4, -scaled_px(10)), Qt::AlignCenter,
               QFontMetrics(p.font()).elidedText(words, Qt::ElideRight, static_cast<int>(area.width()) - 8));
    p.setPen(t.quiet);
    p.setFont(text_font(12));
    p.drawText(area.adjusted(4, 0, -4, -scaled_px(3)), Qt::AlignHCenter | Qt::AlignBottom,
               key_of(touch, rider_));
}

void RiderTile::paint_before(QPainter& p, const app::LessonRider& rider) {
    const Theme& t = theme();
    int n = 0;
    for (const auto& [id, words] : app::before_mounting()) {
        const QRectF area = item_area(n++);
        const bool done = app::looked_at(rider, id);
        p.setPen(QPen(done ? t.ink : t.quiet, 1.6));
        p.setBrush(done ? QBrush(t.ink) : QBrush(Qt::NoBrush));
        const double s = ring_px(10);
        const QRectF box(area.left() + 4, area.center().y() - s / 2, s, s);
        p.drawRoundedRect(box, 2, 2);
        if (done) {
            p.setPen(QPen(t.panel, 2));
            p.drawLine(box.topLeft() + QPointF(s * 0.2, s * 0.55),
                       box.topLeft() + QPointF(s * 0.42, s * 0.78));
            p.drawLine(box.topLeft() + QPointF(s * 0.42, s * 0.78),
                       box.topLeft() + QPointF(s * 0.82, s * 0.25));
        }
        p.setPen(done ? t.quiet : t.ink);
        p.setFont(ring_font(12));
        p.drawText(area.adjusted(s + 12, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft,
                   QFontMetrics(p.font()).elidedText(words, Qt::ElideRight,
                                                     static_cast<int>(area.width() - s - 12)));
    }
}

void RiderTile::paint_running(QPainter& p, const app::LessonRider& r) {
    const Theme& t = theme();
    paint_touch(p, Touch::good, r.goods > 0 ? tr("good %1").arg(r.goods) : tr("good"));
    paint_touch(p, Touch::look, r.looks > 0 ? tr("look %1").arg(r.looks) : tr("look here"));
    paint_touch(p, Touch::word, tr("a word"));
    paint_touch(p, Touch::attempt, tr("try %1").arg(r.attempts));
    paint_touch(p, Touch::good_one, tr("got it %1").arg(r.good_ones));
    const bool holds = !r.held_since.isEmpty();
    paint_touch(p, Touch::hold,
                holds          ? tr("let go")
                : r.held_s > 0 ? tr("held %1 s").arg(r.held_s, 0, 'f', 0)
                               : tr("holds"));
    if (holds) {
        p.setPen(QPen(t.sky, 3));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(QRectF(touch_area(Touch::hold)), 6, 6);
    }
}

void RiderTile::paintEvent(QPaintEvent*) {
    if (rider_ >= static_cast<int>(desk_.riders().size())) return;
    const app::LessonRider& r = desk_.riders()[static_cast<std::size_t>(rider_)];
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    p.setPen(selected_ ? QPen(t.ink, 2) : QPen(t.line, 1));
    p.setBrush(t.panel);
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 10, 10);
    if (r.place.absent) p.setOpacity(0.45);
    const int x = scaled_px(12), w = width() - 2 * x;
    int y = scaled_px(6);
    const bool before = is_before(desk_);
    const int waited = desk_.unspoken_s(rider_) / 60;
    const QString wait = r.place.absent ? tr("absent")
                         : before       ? QString()
                         : waited < 1   ? tr("just now")
                                        : tr("%1 min").arg(waited);
    p.setFont(ring_font(14, waited >= 5));
    p.setPen(waited >= 5 ? t.ink : t.quiet);
    const int wait_w = QFontMetrics(p.font()).horizontalAdvance(wait);
    p.drawText(QRect(x, y, w, ring_px(24)), Qt::AlignRight | Qt::AlignVCenter, wait);
    p.setFont(ring_heading(18));
    p.setPen(t.ink);
    p.drawText(QRect(x, y, w - wait_w - 8, ring_px(24)), Qt::AlignLeft | Qt::AlignVCenter,
               QFontMetrics(p.font()).elidedText(r.name, Qt::ElideRight, w - wait_w - 8));
    y += ring_px(24);
    p.setFont(ring_font(12));
    p.setPen(t.quiet);
    QString horse = r.horse;
    if (r.horse_minutes > 0) horse += tr(", %1 min today").arg(r.horse_minutes);
    if (r.fences > 0) horse += tr(", %1 fences").arg(r.fences);
    p.drawText(QRect(x, y, w, ring_px(16)), Qt::AlignLeft | Qt::AlignVCenter,
               QFontMetrics(p.font()).elidedText(horse, Qt::ElideRight, w));
    y += ring_px(18);
    const bool over = desk_.state() == app::LessonDesk::State::ended;
    const int bottom = over     ? height() - scaled_px(8)
                       : before ? item_area(0).top()
                                : touch_area(Touch::good).top();
    p.setPen(t.ink);
    p.setFont(ring_font(12));
    // What one may not ride stands before everything: the others ride it, this one walks.
    QString own = r.not_this.isEmpty() || before ? r.variant : tr("Not this one: %1.").arg(r.not_this);
    if (over) own = r.place.said.empty() ? app::proposed_line(desk_.yard(), r) : text(r.place.said);
    const bool kept_from = !r.not_this.isEmpty() && !before && !over;
    if (kept_from) {
        p.setFont(ring_font(12, true));
        p.setPen(t.clay);
    }
    if (!r.cue.isEmpty() && !before && !over && !kept_from)
        own += QString::fromUtf8("\n“") + r.cue + QString::fromUtf8("”");
    p.drawText(QRect(x, y, w, std::max(0, bottom - y - 4)), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
               own);
    if (over) return;
    before ? paint_before(p, r) : paint_running(p, r);
}

void RiderTile::mousePressEvent(QMouseEvent* e) {
    const QPoint at = e->position().toPoint();
    if (desk_.state() == app::LessonDesk::State::ended) return emit touched(rider_, Touch::name);
    if (is_before(desk_)) {
        for (int i = 0; i < static_cast<int>(app::before_mounting().size()); ++i) {
            if (item_area(i).contains(at))
                return emit looked(rider_, app::before_mounting()[static_cast<std::size_t>(i)].first);
        }
        return emit touched(rider_, Touch::name);
    }
    for (const Touch t :
         {Touch::good, Touch::look, Touch::word, Touch::attempt, Touch::good_one, Touch::hold}) {
        if (touch_area(t).contains(at)) return emit touched(rider_, t);
    }
    emit touched(rider_, Touch::name);
}

}  // namespace aspen::ui

#include "moc_rider_tile.cpp"
