#include "ui/progress/yard_wide_page.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "ui/progress/lane_painter.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kWideHead = 64, kWideRow = 52, kSecondHead = 56;

QString stage_sign(core::Stage s) {  // by shape: whole, half, open, crossed
    switch (s) {
        case core::Stage::settled:
            return "●";
        case core::Stage::holding:
            return "◐";
        case core::Stage::back_again:
        case core::Stage::overcorrected:
            return "✕";
        default:
            return "○";
    }
}

}  // namespace

YardWidePage::YardWidePage(app::Yard& yard, QWidget* parent) : QWidget(parent), yard_(yard) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("The whole yard"));
    reader_.setInterval(0);
    connect(&reader_, &QTimer::timeout, this, &YardWidePage::read_one);
}

void YardWidePage::open() {
    wide_ = std::make_unique<app::YardWide>(yard_.knowledge());
    riders_ = yard_.records().people.riders();
    next_ = 0;
    common_.clear();
    still_.clear();
    exercises_.clear();
    reader_.start();
}

void YardWidePage::read_one() {
    if (next_ < riders_.size()) {
        const store::Rider& rider = riders_[next_++];
        wide_->add(QString::fromStdString(rider.name),
                   app::lanes_of(yard_.records(), yard_.knowledge(), rider.id, yard_.today_iso()));
    } else {
        reader_.stop();
    }
    common_ = wide_->in_common();
    still_ = wide_->still();
    exercises_ = wide_->exercises();
    const int left = kWideHead + kWideRow * static_cast<int>(common_.size()) + kSecondHead +
                     kWideRow * static_cast<int>(still_.size());
    setMinimumHeight(
        scaled_px(std::max(left, kWideHead + kWideRow * static_cast<int>(exercises_.size())) + 40));
    update();
}

QRect YardWidePage::row_area(int row) const {
    const int half = width() / 2, common = static_cast<int>(common_.size()),
              still = static_cast<int>(still_.size());
    if (row >= common + still)
        return {half + 12, scaled_px(kWideHead) + scaled_px(kWideRow) * (row - common - still), half - 24,
                scaled_px(kWideRow)};
    const int gap = row >= common ? scaled_px(kSecondHead) : 0;
    return {0, scaled_px(kWideHead) + scaled_px(kWideRow) * row + gap, half - 24, scaled_px(kWideRow)};
}

QString YardWidePage::words_of(const app::ExerciseAgainst& e) const {
    if (!e.held)
        return e.moved.given == 1 ? tr("given once, not judged within its term yet")
                                  : tr("given %1 times, not judged within its term yet").arg(e.moved.given);
    QString out = tr("%1 of %2 held, 90 % interval %3 to %4 %")
                      .arg(e.moved.held)
                      .arg(e.moved.judged)
                      .arg(100 * e.held->lo, 0, 'f', 0)
                      .arg(100 * e.held->hi, 0, 'f', 0);
    if (const int open = e.moved.given - e.moved.judged) out += tr("; %1 not judged").arg(open);
    return out;
}

QString YardWidePage::row_words(int row) const {
    const auto n = static_cast<std::size_t>(row);
    if (n >= common_.size() + still_.size()) {
        const app::ExerciseAgainst& e = exercises_[n - common_.size() - still_.size()];
        return e.exercise + tr(" against ") + QString::fromStdString(e.fault->name) + ": " + words_of(e);
    }
    if (n >= common_.size()) {
        const auto& s = still_[n - common_.size()];
        return s.rider + ", " + QString::fromStdString(s.fault->name) + ": " + s.why;
    }
    const app::FaultInCommon& f = common_[n];
    QStringList who;
    for (const auto& w : f.riders) who << w.rider + " " + text(core::spoken(w.stage));
    return QString::fromStdString(f.fault->name) + ": " + who.join(", ");
}

void YardWidePage::row_pressed(int row) {
    const auto n = static_cast<std::size_t>(row);
    if (n < common_.size())
        emit rider_pressed(common_[n].riders.front().rider);
    else if (n < common_.size() + still_.size())
        emit rider_pressed(still_[n - common_.size()].rider);
}

void YardWidePage::paint_common(QPainter& p) const {
    const Theme& t = theme();
    for (std::size_t i = 0; i < common_.size(); ++i) {
        const QRect r = row_area(static_cast<int>(i)).adjusted(8, 0, -8, 0);
        const app::FaultInCommon& f = common_[i];
        p.setFont(text_font(14, true));
        p.setPen(t.ink);
        p.drawText(r.adjusted(0, 2, 0, -r.height() / 2), Qt::AlignLeft | Qt::AlignVCenter,
                   QString::fromStdString(f.fault->name) +
                       tr("  %1 of %2 riders").arg(f.riders.size()).arg(wide_->riders()));
        QStringList who;
        for (const auto& w : f.riders)
            who << stage_sign(w.stage) + " " + w.rider.section(' ', 0, 0) +
                       (w.horses > 1 ? tr(" (%1×)").arg(w.horses) : QString());
        p.setFont(text_font(14));
        p.setPen(t.quiet);
        p.drawText(r.adjusted(0, r.height() / 2 - 4, 0, 0), Qt::AlignLeft | Qt::AlignTop,
                   p.fontMetrics().elidedText(who.join("   "), Qt::ElideRight, r.width()));
    }
}

void YardWidePage::paint_still(QPainter& p) const {
    const Theme& t = theme();
    for (std::size_t i = 0; i < still_.size(); ++i) {
        const QRect r = row_area(static_cast<int>(common_.size() + i)).adjusted(8, 0, -8, 0);
        p.setFont(text_font(14, true));
        p.setPen(t.ink);
        p.drawText(r.adjusted(0, 2, 0, -r.height() / 2), Qt::AlignLeft | Qt::AlignVCenter,
                   still_[i].rider + ": " + QString::fromStdString(still_[i].fault->name).toLower());
        p.setFont(text_font(14));
        p.setPen(t.quiet);
        p.drawText(r.adjusted(0, r.height() / 2 - 4, 0, 0), Qt::AlignLeft | Qt::AlignTop,
                   p.fontMetrics().elidedText(sentence(still_[i].why), Qt::ElideRight, r.width()));
    }
}

void YardWidePage::paint_exercises(QPainter& p) const {
    const Theme& t = theme();
    for (std::size_t i = 0; i < exercises_.size(); ++i) {
        const QRect r = row_area(static_cast<int>(common_.size() + still_.size() + i)).adjusted(8, 0, -8, 0);
        const app::ExerciseAgainst& e = exercises_[i];
        const int rail = scaled_px(140);
        p.setFont(text_font(14, true));
        p.setPen(t.ink);
        const int wide = r.width() - rail - 16;
        p.drawText(QRect(r.left(), r.top() + 2, wide, r.height() / 2 - 2), Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(e.exercise + " → " + QString::fromStdString(e.fault->name),
                                              Qt::ElideRight, wide));
        p.setFont(text_font(12));
        p.setPen(t.quiet);
        p.drawText(QRect(r.left(), r.top() + r.height() / 2 - 2, wide, r.height() / 2),
                   Qt::AlignLeft | Qt::AlignTop,
                   p.fontMetrics().elidedText(words_of(e), Qt::ElideRight, wide));
        // Nothing to all, the interval as a soft bar, the share as its tick: no verdict, so no verdict's
        // colour.
        const QRectF line(r.right() - rail, r.top() + r.height() / 2.0 - 1, rail, 2);
        p.fillRect(line, t.line);
        if (!e.held) continue;
        const auto x = [&](double share) { return line.left() + share * line.width(); };
        QColor soft = t.ink;
        soft.setAlpha(60);
        p.setPen(Qt::NoPen);
        p.setBrush(soft);
        p.drawRoundedRect(QRectF(x(e.held->lo), line.top() - 5, x(e.held->hi) - x(e.held->lo), 12), 3, 3);
        p.setPen(QPen(t.ink, 3, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(QPointF(x(e.held->share), line.top() - 7), QPointF(x(e.held->share), line.top() + 9));
    }
}

void YardWidePage::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    const int half = width() / 2;
    const auto head = [&](int x, const QString& title, const QString& about) {
        p.setFont(heading_font(18));
        p.setPen(t.ink);
        p.drawText(QRect(x, 0, half - 24, scaled_px(28)), Qt::AlignLeft | Qt::AlignVCenter, title);
        p.setFont(text_font(12));
        p.setPen(t.quiet);
        p.drawText(QRect(x, scaled_px(28), half - 24, scaled_px(32)), Qt::AlignLeft | Qt::TextWordWrap,
                   about);
    };
    head(0, tr("What my riders have in common"),
         tr("Faults of two riders at least. ○ in work   ◐ holding   ● settled   ✕ came back"));
    head(half + 12, tr("Which exercise moved what"),
         tr("Held: inside in the last ride that could judge it, within the term and a week. Riders choose "
            "themselves into exercises; this is no proof."));
    if (reading()) {
        p.setFont(text_font(12));
        p.setPen(t.quiet);
        p.drawText(QRect(0, 0, half - 24, scaled_px(28)), Qt::AlignRight | Qt::AlignVCenter,
                   tr("%1 of %2 riders read").arg(next_).arg(riders_.size()));
    } else if (row_count() == 0) {
        p.setFont(text_font(18));
        p.drawText(
            QRect(0, scaled_px(kWideHead) + 16, width() - 40, 60), Qt::AlignLeft | Qt::TextWordWrap,
            tr("Nothing yet: corrections of two riders, or an exercise that was given, and it stands here."));
        return;
    }
    paint_common(p);
    if (!still_.empty()) {
        p.setFont(heading_font(18));
        p.setPen(t.ink);
        const int y = row_area(static_cast<int>(common_.size())).top() - scaled_px(34);
        p.drawText(QRect(0, y, half - 24, scaled_px(28)), Qt::AlignLeft | Qt::AlignVCenter,
                   tr("What stands still"));
    }
    paint_still(p);
    paint_exercises(p);
    paint_current(p, *this);
}

void YardWidePage::keyPressEvent(QKeyEvent* e) {
    if (!take_row_key(*this, *e)) QWidget::keyPressEvent(e);
}
void YardWidePage::mousePressEvent(QMouseEvent* e) {
    for (int i = 0; i < row_count(); ++i) {
        if (!row_area(i).contains(e->pos())) continue;
        set_current_row(i);
        row_pressed(i);
        return update();
    }
}

}  // namespace aspen::ui

#include "moc_yard_wide_page.cpp"
