#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <map>

#include "ui/eye/eye_view.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kDrillRow = 84;

QString about(core::DrillKind k) {
    switch (k) {
        case core::DrillKind::angle:
            return QObject::tr(
                "How far a trunk, shin, chin, heel or elbow stands off, in degrees: drawn riders, and your "
                "own marked moments.");
        case core::DrillKind::fault:
            return QObject::tr("One fault stands out: which, among four.");
        case core::DrillKind::order:
            return QObject::tr("Three faults on one rider: the gravest first.");
        case core::DrillKind::lead:
            return QObject::tr("A canter goes by: which foreleg leads?");
        case core::DrillKind::diagonal:
            return QObject::tr("A rising trot goes by: with which shoulder does the seat rise?");
        case core::DrillKind::rise:
            return QObject::tr("Is the rise before the horse's own, with it, or after it?");
    }
    return {};
}

QString degrees(double v, bool sign = false) {
    QString out = QString::number(v, 'f', 1).replace('-', QChar(0x2212));
    if (sign && v > 0) out = "+" + out;
    return out + "°";
}

}  // namespace

DrillList::DrillList(app::EyeDesk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setFocusPolicy(Qt::TabFocus);
    setAccessibleName(tr("Drills"));
    setCursor(Qt::PointingHandCursor);
    make_rows_accessible();
}

void DrillList::renew() {
    lines_ = desk_.lines();
    setMinimumHeight(scaled_px(kDrillRow) * static_cast<int>(lines_.size()));
    update();
}

QRect DrillList::row_area(int row) const {
    return {0, row * scaled_px(kDrillRow), width(), scaled_px(kDrillRow)};
}

QString DrillList::skill_words(const app::EyeDesk::Line& line) const {
    const core::EyeSkill& s = line.skill;
    if (s.n == 0) return tr("not done yet");
    if (core::is_number(line.kind)) {
        if (!s.bias) return tr("one answer so far");
        return tr("%1 on average, ± %2; the eye alone tells a change from %3 on")
            .arg(degrees(*s.bias, true), degrees(*s.error), degrees(*s.smallest_change));
    }
    return tr("right in %1 of %2 (90 % interval %3 to %4 %)")
        .arg(static_cast<int>(std::lround(s.right->share * s.n)))
        .arg(s.n)
        .arg(100 * s.right->lo, 0, 'f', 0)
        .arg(100 * s.right->hi, 0, 'f', 0);
}

QString DrillList::due_words(const app::EyeDesk::Line& line) const {
    if (line.due_in_days <= 0) return tr("due");
    return line.due_in_days == 1 ? tr("tomorrow") : tr("in %1 days").arg(line.due_in_days);
}

QString DrillList::row_words(int row) const {
    const app::EyeDesk::Line& l = lines_[static_cast<std::size_t>(row)];
    return QString("%1. ").arg(row + 1) + text(core::spoken(l.kind)) + ", " + due_words(l) + ", " +
           skill_words(l);
}

/// How far off, day by day: the mean with its spread for a number, the share wrong for a word.
void DrillList::paint_history(QPainter& p, const app::EyeDesk::Line& line, const QRectF& area) const {
    const Theme& t = theme();
    std::map<std::string, std::vector<double>> days;
    for (const core::DrillDone& d : line.done) days[d.day].push_back(d.off);
    const double middle = area.center().y();
    const bool number = core::is_number(line.kind);
    p.setPen(QPen(t.line, 1));
    const double zero = number ? middle : area.bottom();
    p.drawLine(QPointF(area.left(), zero), QPointF(area.right(), zero));
    if (days.empty()) return;
    double most = number ? 6 : 1;
    for (const auto& [day, off] : days) {
        for (const double o : off) most = std::max(most, std::abs(o));
    }
    const auto y = [&](double off) {
        return number ? middle - off / most * area.height() / 2 : area.bottom() - off / most * area.height();
    };
    const std::size_t n = std::min<std::size_t>(days.size(), 16);
    auto at = std::prev(days.end(), static_cast<std::ptrdiff_t>(n));
    for (std::size_t i = 0; i < n; ++i, ++at) {
        const double x = area.left() + (static_cast<double>(i) + 0.5) * area.width() /
                                           static_cast<double>(std::max<std::size_t>(n, 6));
        double sum = 0, squares = 0;
        for (const double o : at->second) sum += o, squares += o * o;
        const auto count = static_cast<double>(at->second.size());
        const double mean = sum / count, spread = std::sqrt(std::max(0.0, squares / count - mean * mean));
        QColor soft = t.ink;
        soft.setAlpha(60);
        p.setPen(Qt::NoPen);
        p.setBrush(soft);
        const double up = number ? mean + spread : mean, down = number ? mean - spread : 0;
        p.drawRoundedRect(QRectF(x - 4, y(up), 8, std::max(2.0, y(down) - y(up))), 3, 3);
        p.setPen(QPen(t.ink, 3, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(QPointF(x - 6, y(mean)), QPointF(x + 6, y(mean)));
    }
}

void DrillList::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    // The one thing to do next: the first that is due.
    const auto first = std::ranges::find_if(lines_, [](const auto& l) { return l.due_in_days <= 0; });
    for (int i = 0; i < row_count(); ++i) {
        const app::EyeDesk::Line& l = lines_[static_cast<std::size_t>(i)];
        const QRectF r = QRectF(row_area(i)).adjusted(0, 4, 0, -4);
        p.setPen(Qt::NoPen);
        p.setBrush(t.panel);
        p.drawRoundedRect(r, 10, 10);
        const bool next = first != lines_.end() && &*first == &l;
        const QRectF key(r.left() + 16, r.center().y() - 15, 30, 30);
        p.setPen(QPen(next ? t.sky : t.line, 1.6));
        p.setBrush(next ? QBrush(t.sky) : QBrush(Qt::NoBrush));
        p.drawRoundedRect(key, 6, 6);
        p.setPen(next ? (t.dark ? QColor(0x14, 0x20, 0x2b) : QColor(Qt::white)) : t.ink);
        p.setFont(text_font(14, true));
        p.drawText(key, Qt::AlignCenter, QString::number(i + 1));
        const double left = key.right() + 16, history = std::min(220.0, r.width() * 0.28);
        const double wide = r.right() - left - (l.skill.n ? history : 0) - 40;
        p.setPen(t.ink);
        p.setFont(heading_font(18));
        p.drawText(QRectF(left, r.top() + 8, wide, 26), Qt::AlignLeft | Qt::AlignVCenter,
                   sentence(text(core::spoken(l.kind))));
        p.setFont(text_font(14));
        p.setPen(t.quiet);
        p.drawText(QRectF(left, r.top() + 36, wide, 34), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
                   due_words(l) + " · " + (l.skill.n ? skill_words(l) : about(l.kind)));
        if (l.skill.n)
            paint_history(p, l, QRectF(r.right() - history - 16, r.top() + 12, history, r.height() - 24));
    }
    paint_current(p, *this);
}

void DrillList::mousePressEvent(QMouseEvent* e) {
    for (int i = 0; i < row_count(); ++i) {
        if (row_area(i).contains(e->pos())) return row_pressed(i);
    }
}
void DrillList::keyPressEvent(QKeyEvent* e) {
    if (!take_row_key(*this, *e)) QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui
