#include "ui/compare/difference_list.hpp"

#include <QKeyEvent>
#include <QPainter>
#include <algorithm>

#include "ui/shared/rail.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kDifferenceRow = 40, kQuietRow = 22;

}  // namespace

DifferenceList::DifferenceList(app::Comparison& comparison, QWidget* parent)
    : QWidget(parent), comparison_(comparison) {
    setFocusPolicy(Qt::TabFocus);
    setAccessibleName(tr("What differs"));
    make_rows_accessible();
}

void DifferenceList::show_against(std::size_t side) {
    rows_ = comparison_.differences(side);
    // What is real first, the largest against its error before the others.
    std::ranges::stable_sort(rows_, std::greater{}, [](const core::MeasureDifference& d) {
        return d.real ? std::abs(d.by) / std::max(1e-9, d.sd) : 0.0;
    });
    spoilers_ = comparison_.spoilers(side);
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
    for (const core::MeasureDifference& d : rows_) high += scaled_px(d.real ? kDifferenceRow : kQuietRow);
    setMinimumHeight(static_cast<int>(high) + 12);
}

QRect DifferenceList::row_area(int row) const {
    double y = rows_from_;
    for (int i = 0; i < row; ++i)
        y += scaled_px(rows_[static_cast<std::size_t>(i)].real ? kDifferenceRow : kQuietRow);
    return QRectF(0, y, width(),
                  scaled_px(rows_[static_cast<std::size_t>(row)].real ? kDifferenceRow : kQuietRow))
        .toRect();
}

QString DifferenceList::row_words(int row) const {
    const core::MeasureDifference& d = rows_[static_cast<std::size_t>(row)];
    const QString unit = unit_text(d.info->unit);
    return tr("%1: %2, %3 to %4, by %5%6 %7, %8")
        .arg(sentence(text(d.info->spoken)), comparison_.words_of(d),
             value_text(*d.first.measured.value) + unit, value_text(*d.second.measured.value) + unit,
             value_text(d.by), unit, error_text(d.sd) + unit,
             days_
                 ? (d.real ? tr("more than a good and a bad day differ") : tr("no more than two days differ"))
             : d.real ? tr("more than measuring error")
                      : tr("within measuring error"));
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
    for (int i = 0; i < row_count(); ++i) {
        const core::MeasureDifference& d = rows_[static_cast<std::size_t>(i)];
        const QRectF r = row_area(i);
        const QString unit = unit_text(d.info->unit);
        const QString by = QString(d.by > 0 ? "+" : "") + value_text(d.by) + unit;
        p.setFont(text_font(d.real ? 14 : 12, d.real));
        p.setPen(d.real ? t.ink : t.quiet);
        const double numbers = scaled_px(110);
        const auto figures = [&](double top, double high) {
            p.drawText(QRectF(wide - numbers, top, numbers - scaled_px(44), high),
                       Qt::AlignRight | Qt::AlignVCenter, by);
            p.setFont(text_font(12));
            p.setPen(t.quiet);
            p.drawText(QRectF(wide - scaled_px(42), top, scaled_px(42), high),
                       Qt::AlignLeft | Qt::AlignVCenter, error_text(d.sd));
        };
        if (!d.real) {
            p.drawText(QRectF(0, r.top(), wide - numbers, r.height()), Qt::AlignLeft | Qt::AlignVCenter,
                       sentence(text(d.info->spoken)));
            figures(r.top(), r.height());
            continue;
        }
        const double line = r.height() / 2 + 2;
        p.drawText(QRectF(0, r.top(), wide, line), Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(sentence(comparison_.words_of(d)), Qt::ElideRight, wide));
        p.setFont(text_font(12, true));
        figures(r.top() + line - 3, r.height() - line);
        p.drawText(QRectF(0, r.top() + line - 3, wide - numbers, r.height() - line),
                   Qt::AlignLeft | Qt::AlignVCenter,
                   tr("%1: %2 to %3")
                       .arg(text(d.info->spoken), value_text(*d.first.measured.value) + unit,
                            value_text(*d.second.measured.value) + unit));
    }
    paint_current(p, *this);
}

void DifferenceList::keyPressEvent(QKeyEvent* e) {
    if (!take_row_key(*this, *e)) QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_difference_list.cpp"
