#include "ui/compare/difference_list.hpp"

#include <QKeyEvent>
#include <QPainter>
#include <algorithm>
#include <tuple>

#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kRowGap = 14, kDifferenceHead = 30;

bool of_horse(const core::MeasureDifference& d) { return d.info->part == core::BodyPart::horse; }

}  // namespace

DifferenceList::DifferenceList(app::Comparison& comparison, QWidget* parent)
    : QWidget(parent), comparison_(comparison) {
    setFocusPolicy(Qt::TabFocus);
    setAccessibleName(tr("What differs"));
    make_rows_accessible();
}

void DifferenceList::show_against(std::size_t side) {
    rows_ = comparison_.differences(side);
    const core::MeasureInfo* work = comparison_.with_target() ? nullptr : comparison_.in_work();
    // The correction in work, what differs of the rider (the largest against its error first), of the horse.
    const auto rank = [work](const core::MeasureDifference& d) {
        const double told = d.real ? std::abs(d.by) / std::max(1e-9, d.sd) : 0.0;
        return std::tuple(d.info != work, !d.real, of_horse(d), -told);
    };
    std::ranges::stable_sort(rows_, {}, rank);
    in_work_ = work && !rows_.empty() && rows_.front().info == work;
    told_ = static_cast<std::size_t>(std::ranges::count_if(
        rows_, [work](const core::MeasureDifference& d) { return d.real || d.info == work; }));
    spoilers_ = comparison_.spoilers(side);
    if (const QString why = comparison_.with_target() ? QString() : comparison_.why_not_in_work(side);
        !why.isEmpty())
        spoilers_.prepend(tr("In work: ") + why);
    days_ = comparison_.on_two_days(side);
    lay_out();
    update();
}

QString DifferenceList::summary() const {
    if (comparison_.with_target())
        return tr("The faint figure is the same rider with each limb at the nearest place inside its band.");
    if (comparison_.count() < 2)
        return comparison_.count() == 0 ? QString() : tr("Nothing stands against it yet.");
    if (rows_.empty()) return tr("Nothing is measured in both.");
    const auto real = std::ranges::count_if(rows_, &core::MeasureDifference::real);
    if (real == 0)
        return days_ ? tr("Nothing differs by more than a good and a bad day. The progress of several "
                          "moments tells "
                          "smaller changes.")
                     : tr("Nothing differs beyond measuring error. More moments marked would tell smaller "
                          "changes.");
    if (days_)
        return real == 1 ? tr("One thing differs by more than a good and a bad day.")
                         : tr("%1 things differ by more than a good and a bad day.").arg(real);
    return real == 1 ? tr("One thing differs beyond measuring error.")
                     : tr("%1 things differ beyond measuring error.").arg(real);
}

void DifferenceList::resizeEvent(QResizeEvent*) { lay_out(); }

void DifferenceList::lay_out() {
    const QFontMetrics big(text_font(14, true)), small(text_font(12));
    const int wide = std::max(60, width() - 8);
    double y = big.boundingRect(QRect(0, 0, wide, 1000), Qt::TextWordWrap, summary()).height() + 8;
    for (const QString& s : spoilers_)
        y += small.boundingRect(QRect(0, 0, wide - 20, 1000), Qt::TextWordWrap, s).height() + 6;
    rows_from_ = y + 8;
    double high = rows_from_;
    for (int i = 0; i < row_count(); ++i) high += high_of(static_cast<std::size_t>(i), wide);
    setMinimumHeight(static_cast<int>(high) + 12);
}

QString DifferenceList::amount(const core::MeasureDifference& d) const {
    return comparison_.amount_of(d.info->id, d.info->unit, d.by);
}

QString DifferenceList::doubt(const core::MeasureDifference& d) const {
    return comparison_.amount_of(d.info->id, d.info->unit, core::kNinetyPercent * d.sd);
}

QString DifferenceList::told(const core::MeasureDifference& d) const {
    const QString off = tr("give or take %1").arg(doubt(d));
    if (!d.real)
        return days_ ? tr("no more than a good and a bad day differ: %1, %2").arg(amount(d), off)
                     : tr("cannot be told apart: %1, %2").arg(amount(d), off);
    const QString more =
        days_ ? tr("more than a good and a bad day differ") : tr("more than measuring error");
    // Lengths are in the words already; how far an angle went is said here.
    return d.info->unit == "deg" ? tr("by %1, %2; %3").arg(amount(d), off, more)
                                 : tr("%1; %2").arg(off, more);
}

QString DifferenceList::alike() const {
    QStringList names;
    for (std::size_t i = told_; i < rows_.size(); ++i) names << text(rows_[i].info->spoken);
    return (days_ ? tr("No more than two days differ: %1.") : tr("Cannot be told apart: %1."))
        .arg(names.join(", "));
}

/// Over the first row of the horse's.
bool DifferenceList::heads_horse(std::size_t row) const {
    return row < told_ && row > 0 && of_horse(rows_[row]) && !of_horse(rows_[row - 1]);
}

double DifferenceList::high_of(std::size_t row, int wide) const {
    const QFontMetrics big(text_font(14, true)), small(text_font(12));
    const auto lines = [wide](const QFontMetrics& m, const QString& words) {
        return m.boundingRect(QRect(0, 0, wide, 1000), Qt::TextWordWrap, words).height();
    };
    if (row >= told_) return lines(small, alike()) + kRowGap;
    const core::MeasureDifference& d = rows_[row];
    const bool head = (row == 0 && in_work_) || (row == 1 && in_work_) || heads_horse(row);
    return (head ? kDifferenceHead : 0) + lines(big, sentence(comparison_.words_of(d))) +
           lines(small, sentence(told(d))) + kRowGap;
}

QRect DifferenceList::row_area(int row) const {
    const int wide = std::max(60, width() - 8);
    double y = rows_from_;
    for (int i = 0; i < row; ++i) y += high_of(static_cast<std::size_t>(i), wide);
    return QRectF(0, y, width(), high_of(static_cast<std::size_t>(row), wide)).toRect();
}

QString DifferenceList::row_words(int row) const {
    if (static_cast<std::size_t>(row) >= told_) return alike();
    const core::MeasureDifference& d = rows_[static_cast<std::size_t>(row)];
    return tr("%1: %2, %3").arg(sentence(text(d.info->spoken)), comparison_.words_of(d), told(d));
}

void DifferenceList::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    const int wide = width() - 8;
    p.setFont(text_font(14, true));
    p.setPen(t.ink);
    QRectF used;
    p.drawText(QRectF(0, 0, wide, 1000), Qt::TextWordWrap, summary(), &used);
    double y = used.height() + 8;
    for (const QString& s : spoilers_) {
        p.setPen(QPen(t.ink, 1.6));
        p.drawLine(QPointF(6, y + 3), QPointF(6, y + 9));
        p.drawPoint(QPointF(6, y + 13));
        p.setFont(text_font(12));
        p.setPen(t.ink);
        p.drawText(QRectF(18, y, wide - 20, 1000), Qt::TextWordWrap, s, &used);
        y += used.height() + 6;
    }
    if (comparison_.with_target()) return;
    for (int i = 0; i < row_count(); ++i) paint_row(p, static_cast<std::size_t>(i));
    paint_current(p, *this);
}

void DifferenceList::paint_row(QPainter& p, std::size_t row) const {
    const Theme& t = theme();
    QRectF r = row_area(static_cast<int>(row));
    r.setWidth(width() - 8);
    QRectF used;
    if (row >= told_) {
        p.setFont(text_font(12));
        p.setPen(t.quiet);
        p.drawText(r, Qt::TextWordWrap, alike());
        return;
    }
    const core::MeasureDifference& d = rows_[row];
    const QString head = row == 0 && in_work_   ? tr("In work")
                         : heads_horse(row)     ? tr("The horse")
                         : row == 1 && in_work_ ? tr("Besides")
                                                : QString();
    if (!head.isEmpty()) {
        p.setFont(heading_font(18));
        p.setPen(t.ink);
        p.drawText(QRectF(r.left(), r.top(), r.width(), kDifferenceHead - 4),
                   Qt::AlignLeft | Qt::AlignVCenter, head);
        r.setTop(r.top() + kDifferenceHead);
    }
    p.setFont(text_font(14, d.real));
    p.setPen(t.ink);
    p.drawText(
        r, Qt::TextWordWrap,
        d.real ? sentence(comparison_.words_of(d)) : sentence(text(d.info->spoken)) + tr(": as before"),
        &used);
    r.setTop(r.top() + used.height());
    p.setFont(text_font(12));
    p.setPen(t.quiet);
    p.drawText(r, Qt::TextWordWrap, sentence(told(d)));
}

void DifferenceList::keyPressEvent(QKeyEvent* e) {
    if (!take_row_key(*this, *e)) QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_difference_list.cpp"
