#include "ui/lesson/rider_tile.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "ui/lesson/ring.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kLongUnspokenMin = 5;
constexpr RiderTile::Touch kTouches[] = {RiderTile::Touch::good,     RiderTile::Touch::look,
                                         RiderTile::Touch::word,     RiderTile::Touch::attempt,
                                         RiderTile::Touch::good_one, RiderTile::Touch::hold};
constexpr const char* kTileRows[] = {"12345678", "QWERTYUI", "ASDFGHJK", "ZXCVBNM,"};

bool is_before(const app::LessonDesk& desk) { return desk.state() == app::LessonDesk::State::before; }

}  // namespace

RiderTile::RiderTile(app::LessonDesk& desk, int rider, QWidget* parent)
    : QWidget(parent), desk_(desk), rider_(rider) {
    setMinimumSize(scaled_px(250), scaled_px(190));
    setCursor(Qt::PointingHandCursor);
    setFocusPolicy(Qt::TabFocus);
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
    // As high as a thumb likes, and lower in a small tile: who, whom and the task keep their lines.
    constexpr int kLeastTouch = 48;
    const int margin = scaled_px(8), gap = scaled_px(6),
              words = scaled_px(6) + ring_px(28) + ring_px(21) + ring_px(22),
              rows = std::clamp((height() - words - margin - gap) / 2, kLeastTouch,
                                std::max(kLeastTouch, ring_px(36)));
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
    // In a small tile the lines stand closer: who rides whom is never written over.
    constexpr int kItemLines = 4;
    const int who = scaled_px(6) + ring_px(28) + ring_px(21), margin = scaled_px(8), gap = scaled_px(4),
              h = std::min(ring_px(24), (height() - margin - who) / kItemLines - gap),
              w = (width() - 2 * margin - gap) / 2;
    const int top = height() - margin - 4 * (h + gap);
    return {margin + item % 2 * (w + gap), top + item / 2 * (h + gap), w, h};
}

QString RiderTile::touch_words(Touch touch) const {
    const app::LessonRider& r = desk_.riders()[static_cast<std::size_t>(rider_)];
    switch (touch) {
        case Touch::good:
            return r.goods > 0 ? tr("good %1").arg(r.goods) : tr("good");
        case Touch::look:
            return r.looks > 0 ? tr("look %1").arg(r.looks) : tr("look here");
        case Touch::word:
            return tr("a word");
        case Touch::attempt:
            return r.attempts > 0 ? tr("try %1").arg(r.attempts) : tr("try");
        case Touch::good_one:
            return r.good_ones > 0 ? tr("got it %1").arg(r.good_ones) : tr("got it");
        case Touch::hold:
            return !r.held_since.isEmpty() ? tr("let go")
                   : r.held_s > 0          ? tr("held %1 s").arg(r.held_s, 0, 'f', 0)
                                           : tr("holds");
        case Touch::name:
            break;
    }
    return r.name;
}

int RiderTile::row_count() const {
    if (rider_ >= static_cast<int>(desk_.riders().size())) return 0;
    if (desk_.state() == app::LessonDesk::State::ended) return 1;
    return is_before(desk_) ? static_cast<int>(app::before_mounting().size())
                            : static_cast<int>(std::size(kTouches));
}

QString RiderTile::row_words(int row) const {
    const app::LessonRider& r = desk_.riders()[static_cast<std::size_t>(rider_)];
    if (desk_.state() == app::LessonDesk::State::ended) return tr("%1: one line at the end").arg(r.name);
    if (is_before(desk_)) {
        const auto& [id, words] = app::before_mounting()[static_cast<std::size_t>(row)];
        return tr("%1: %2, %3").arg(r.name, words, app::looked_at(r, id) ? tr("looked at") : tr("open"));
    }
    const Touch touch = kTouches[row];
    return tr("%1: %2, key %3").arg(r.name, touch_words(touch), key_of(touch, rider_));
}

QRect RiderTile::row_area(int row) const {
    if (desk_.state() == app::LessonDesk::State::ended) return rect();
    return is_before(desk_) ? item_area(row) : touch_area(kTouches[row]);
}

void RiderTile::row_pressed(int row) {
    if (desk_.state() == app::LessonDesk::State::ended) return emit touched(rider_, Touch::name);
    if (is_before(desk_))
        return emit looked(rider_, app::before_mounting()[static_cast<std::size_t>(row)].first);
    emit touched(rider_, kTouches[row]);
}

void RiderTile::paint_touch(QPainter& p, Touch touch) {
    const Theme& t = theme();
    const QRect area = touch_area(touch);
    const bool holds =
        touch == Touch::hold && !desk_.riders()[static_cast<std::size_t>(rider_)].held_since.isEmpty();
    p.setPen(QPen(holds ? t.sky : ring_quiet(), holds ? 4 : 1.2));
    p.setBrush(t.ground);
    p.drawRoundedRect(area, 8, 8);
    p.setPen(t.ink);
    p.setFont(ring_font(14, true));
    if (QFontMetrics(p.font()).horizontalAdvance(touch_words(touch)) > area.width() - 8)
        p.setFont(ring_font(12, true));
    p.drawText(area.adjusted(4, 0, -4, -scaled_px(12)), Qt::AlignCenter,
               QFontMetrics(p.font()).elidedText(touch_words(touch), Qt::ElideRight, area.width() - 8));
    p.setPen(ring_quiet());
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
        const double s = ring_px(10);
        paint_tick(p, QRectF(area.left() + 4, area.center().y() - s / 2, s, s), done);
        p.setPen(done ? ring_quiet() : t.ink);
        p.setFont(ring_font(12, !done));
        p.drawText(area.adjusted(s + 12, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft,
                   QFontMetrics(p.font()).elidedText(words, Qt::ElideRight,
                                                     static_cast<int>(area.width() - s - 12)));
    }
}

void RiderTile::paint_running(QPainter& p, const app::LessonRider&) {
    for (const Touch t : kTouches) paint_touch(p, t);
}

/// Who on whom, and how long nobody spoke to them: what is read first, from two metres.
void RiderTile::paint_who(QPainter& p, const app::LessonRider& r, int& y) const {
    const Theme& t = theme();
    const int x = scaled_px(14), w = width() - 2 * x;
    const int waited = desk_.unspoken_s(rider_) / 60;
    const bool before = is_before(desk_), is_long = !before && !r.place.absent && waited >= kLongUnspokenMin;
    const QString wait = r.place.absent ? tr("absent")
                         : before       ? QString()
                         : waited < 1   ? tr("just now")
                         : is_long      ? tr("a word: %1 min").arg(waited)
                                        : tr("%1 min").arg(waited);
    p.setFont(ring_font(14, is_long));
    const int wait_w = wait.isEmpty() ? 0 : QFontMetrics(p.font()).horizontalAdvance(wait) + 12;
    const QRect at(x, y, w, ring_px(28));
    if (is_long) {  // said by shape, not by colour alone
        p.setPen(Qt::NoPen);
        p.setBrush(t.ink);
        p.drawRoundedRect(QRect(at.right() - wait_w - 6, at.top() + ring_px(3), wait_w + 6, ring_px(22)), 6,
                          6);
    }
    p.setPen(is_long ? t.panel : ring_quiet());
    p.drawText(at.adjusted(0, 0, is_long ? -8 : 0, 0), Qt::AlignRight | Qt::AlignVCenter, wait);
    const int room = w - wait_w - 12;
    QFont name = ring_heading(26);
    QString who = r.name;
    if (QFontMetrics(name).horizontalAdvance(who) > room) name = ring_heading(18);
    if (QFontMetrics(name).horizontalAdvance(who) > room && who.contains(' '))
        who = r.name.section(' ', 0, 0) + ' ' + r.name.section(' ', -1).left(1) + '.';
    p.setFont(name);
    p.setPen(t.ink);
    p.drawText(at, Qt::AlignLeft | Qt::AlignVCenter,
               QFontMetrics(name).elidedText(who, Qt::ElideRight, room));
    y += ring_px(28);
    QString horse = r.horse;
    if (r.horse_minutes > 0) horse += tr(", %1 min today").arg(r.horse_minutes);
    if (r.fences > 0) horse += tr(", %1 fences").arg(r.fences);
    p.setFont(ring_font(14));
    p.setPen(ring_quiet());
    p.drawText(QRect(x, y, w, ring_px(19)), Qt::AlignLeft | Qt::AlignVCenter,
               QFontMetrics(p.font()).elidedText(horse, Qt::ElideRight, w));
    y += ring_px(21);
}

/// The own task, strong, and its cue; before everything what this rider may not ride: the others ride it,
/// this one walks.
void RiderTile::paint_task(QPainter& p, const app::LessonRider& r, const QRect& area) const {
    const Theme& t = theme();
    const bool over = desk_.state() == app::LessonDesk::State::ended, before = is_before(desk_);
    const bool kept_from = !r.not_this.isEmpty() && !before && !over;
    QString own = kept_from ? tr("Not this one: %1.").arg(r.not_this) : r.variant;
    if (over) own = r.place.said.empty() ? app::proposed_line(desk_.yard(), r) : text(r.place.said);
    QRect words = area;
    if (kept_from) {
        p.setPen(Qt::NoPen);
        p.setBrush(t.clay);
        p.drawRect(QRect(area.left(), area.top() + 2, scaled_px(6), std::min(area.height(), ring_px(40))));
        words.adjust(scaled_px(14), 0, 0, 0);
    }
    p.setPen(t.ink);
    p.setFont(ring_font(18, !over));
    if (QFontMetrics(p.font()).boundingRect(words, Qt::TextWordWrap, own).height() > words.height())
        p.setFont(ring_font(12, !over));
    QRect used;
    p.drawText(words, Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, own, &used);
    if (r.cue.isEmpty() || before || over || kept_from) return;
    p.setFont(ring_font(14));
    p.setPen(ring_quiet());
    const QRect rest(words.left(), used.bottom() + 4, words.width(), words.bottom() - used.bottom() - 4);
    const QString cue = QString::fromUtf8("“") + r.cue + QString::fromUtf8("”");
    if (rest.height() >= QFontMetrics(p.font()).boundingRect(rest, Qt::TextWordWrap, cue).height())
        p.drawText(rest, Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, cue);
}

void RiderTile::paintEvent(QPaintEvent*) {
    if (rider_ >= static_cast<int>(desk_.riders().size())) return;
    const app::LessonRider& r = desk_.riders()[static_cast<std::size_t>(rider_)];
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    p.setPen(selected_ ? QPen(t.ink, 3) : QPen(t.line, 1));
    p.setBrush(t.panel);
    p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 10, 10);
    if (r.place.absent) p.setOpacity(0.45);
    int y = scaled_px(6);
    paint_who(p, r, y);
    const bool over = desk_.state() == app::LessonDesk::State::ended, before = is_before(desk_);
    const int bottom = over     ? height() - scaled_px(8)
                       : before ? item_area(0).top()
                                : touch_area(Touch::good).top();
    const int x = scaled_px(14);
    paint_task(p, r, QRect(x, y, width() - 2 * x, std::max(0, bottom - y - 4)));
    if (!over) before ? paint_before(p, r) : paint_running(p, r);
    paint_current(p, *this);
}

void RiderTile::mousePressEvent(QMouseEvent* e) {
    const QPoint at = e->position().toPoint();
    for (int row = 0; row < row_count(); ++row) {
        if (!row_area(row).contains(at)) continue;
        set_current_row(row);
        return row_pressed(row);
    }
    emit touched(rider_, Touch::name);
}

void RiderTile::keyPressEvent(QKeyEvent* e) {
    // Space is the lesson's clock, wherever the focus stands; Enter touches.
    const bool own = e->key() == Qt::Key_Up || e->key() == Qt::Key_Down || e->key() == Qt::Key_Return ||
                     e->key() == Qt::Key_Enter;
    if (!own || !take_row_key(*this, *e)) QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_rider_tile.cpp"
