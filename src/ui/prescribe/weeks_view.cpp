#include "ui/prescribe/weeks_view.hpp"

#include <QDate>
#include <QKeyEvent>
#include <QLocale>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kLabel = 66, kTotal = 56, kWeekHead = 30, kWeek = 34, kManyWeek = 26, kMany = 4;

QString week_label(const std::string& monday) {
    return QLocale(QLocale::English).toString(QDate::fromString(text(monday), Qt::ISODate), "d MMM");
}

}  // namespace

WeeksView::WeeksView(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::TabFocus);
    setAccessibleName(tr("Weeks"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void WeeksView::show_weeks(const app::RidersPlan& plan, const QString& today) {
    weeks_ = plan.homework.value_or(core::Homework{});
    days_ = core::weekdays_in(plan.weeks.days);
    practised_.clear();
    for (const core::Practice& p : plan.log) practised_.push_back(p.day);
    today_ = today;
    updateGeometry();
    update();
}

/// A long term's weeks stand closer, so that what is beside them has room.
int WeeksView::week_height() const {
    return scaled_px(static_cast<int>(weeks_.weeks.size()) > kMany ? kManyWeek : kWeek);
}

QSize WeeksView::sizeHint() const {
    return {260, scaled_px(kWeekHead) + week_height() * static_cast<int>(weeks_.weeks.size()) + 4};
}

QRectF WeeksView::cell(int week, int day) const {
    const double w = (width() - scaled_px(kLabel) - scaled_px(kTotal)) / 7.0;
    return {scaled_px(kLabel) + day * w, static_cast<double>(scaled_px(kWeekHead) + week * week_height()), w,
            static_cast<double>(week_height())};
}

QString WeeksView::row_words(int row) const {
    if (row < 7) {
        const bool on = std::ranges::find(days_, row) != days_.end();
        return QLocale(QLocale::English).dayName(row + 1) + (on ? tr(", rides") : tr(", free"));
    }
    const core::HomeworkWeek& w = weeks_.weeks[static_cast<std::size_t>(row - 7)];
    QStringList days;
    for (const core::HomeworkDay& d : w.days)
        days << QLocale(QLocale::English).toString(QDate::fromString(text(d.day), Qt::ISODate), "ddd") +
                    tr(" %1 minutes").arg(d.seconds / 60.0, 0, 'g', 3);
    return tr("Week of %1: ").arg(week_label(w.starts)) + days.join(", ");
}

QRect WeeksView::row_area(int row) const {
    if (row < 7) {
        QRectF head = cell(0, row);
        head.setTop(0);
        head.setHeight(scaled_px(kWeekHead));
        return head.toRect();
    }
    return {0, scaled_px(kWeekHead) + (row - 7) * week_height(), width(), week_height()};
}

void WeeksView::row_pressed(int row) {
    if (row < 7) emit day_pressed(row);
}

void WeeksView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    for (int d = 0; d < 7; ++d) {
        const bool on = std::ranges::find(days_, d) != days_.end();
        const QRectF head = row_area(d);
        p.setFont(text_font(14, on));
        p.setPen(on ? t.ink : t.quiet);
        // One letter where two would run into their neighbours.
        QString name = QLocale(QLocale::English).dayName(d + 1, QLocale::ShortFormat).left(2);
        if (QFontMetrics(text_font(14, true)).horizontalAdvance(QStringLiteral("We ")) > head.width())
            name = name.left(1);
        p.drawText(head, Qt::AlignCenter, name);
        if (on) {
            p.setPen(QPen(t.ink, 2));
            p.drawLine(QPointF(head.left() + 4, head.bottom() - 3),
                       QPointF(head.right() - 4, head.bottom() - 3));
        }
    }
    int most = 1;
    for (const auto& w : weeks_.weeks) {
        for (const auto& d : w.days) most = std::max(most, d.seconds);
    }
    for (std::size_t i = 0; i < weeks_.weeks.size(); ++i) {
        const core::HomeworkWeek& w = weeks_.weeks[i];
        const int week = static_cast<int>(i);
        const double y = cell(week, 0).top();
        p.setFont(text_font(14));
        p.setPen(t.ink);
        p.drawText(QRectF(0, y, scaled_px(kLabel) - 6, week_height()), Qt::AlignVCenter | Qt::AlignLeft,
                   week_label(w.starts));
        p.drawText(QRectF(width() - scaled_px(kTotal), y, scaled_px(kTotal), week_height()),
                   Qt::AlignVCenter | Qt::AlignRight, tr("%1 min").arg(w.seconds() / 60.0, 0, 'f', 0));
        for (const core::HomeworkDay& d : w.days) {
            const QPointF c = cell(week, core::weekday_of(d.day)).center();
            const double r = scaled_px(4) + scaled_px(6) * static_cast<double>(d.seconds) / most;
            const bool done = std::ranges::find(practised_, d.day) != practised_.end();
            const bool over = d.day < today_.toStdString();
            p.setPen(QPen(done ? t.ink : over ? t.line : t.quiet, 1.6));
            p.setBrush(done ? QBrush(t.ink) : QBrush(Qt::NoBrush));
            p.drawEllipse(c, r, r);
            if (d.day == weeks_.clip_on) {
                p.setBrush(Qt::NoBrush);
                p.setPen(QPen(t.sky, 2));
                p.drawRoundedRect(QRectF(c.x() - scaled_px(13), c.y() - week_height() / 2.0 + 1,
                                         scaled_px(26), week_height() - 2.0),
                                  4, 4);
            }
        }
    }
    paint_current(p, *this);
}

void WeeksView::mousePressEvent(QMouseEvent* e) {
    for (int d = 0; d < 7; ++d) {
        if (row_area(d).contains(e->position().toPoint())) return emit day_pressed(d);
    }
}

void WeeksView::keyPressEvent(QKeyEvent* e) {
    if (!take_row_key(*this, *e)) QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_weeks_view.cpp"
