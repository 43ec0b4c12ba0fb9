#include "ui/shared/rail.hpp"

#include <algorithm>
#include <cmath>

#include "ui/shared/theme.hpp"

namespace aspen::ui {

RailValue rail_value(const core::Judged& j) {
    RailValue v;
    v.judged = j.measured.value.has_value();
    v.value = j.measured.value.value_or(0);
    v.sd = j.measured.sd;
    v.verdict = j.verdict;
    if (j.band) v.lo = j.band->lo, v.hi = j.band->hi;
    return v;
}

void paint_rail(QPainter& p, const QRectF& area, const RailValue& v) {
    const Theme& t = theme();
    const double y = area.center().y();
    const bool banded = v.lo || v.hi;
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    if (!v.judged || !banded) {
        p.setPen(QPen(t.line, 1.5, Qt::SolidLine, Qt::FlatCap));  // open: two short ends, nothing between
        p.drawLine(QPointF(area.left(), y), QPointF(area.left() + area.width() * 0.2, y));
        p.drawLine(QPointF(area.right() - area.width() * 0.2, y), QPointF(area.right(), y));
        if (v.judged) {
            p.setPen(QPen(t.quiet, 2));
            p.drawLine(QPointF(area.center().x(), y - 5), QPointF(area.center().x(), y + 5));
        }
        p.restore();
        return;
    }
    const double lo = v.lo.value_or(*v.hi - 20), hi = v.hi.value_or(*v.lo + 20);
    const double low_end = lo - (hi - lo) * 0.65, high_end = hi + (hi - lo) * 0.65;
    const auto x = [&](double value) {
        return area.left() + area.width() * std::clamp((value - low_end) / (high_end - low_end), 0.0, 1.0);
    };
    p.setPen(QPen(t.line, 1.5));
    p.drawLine(QPointF(area.left(), y), QPointF(area.right(), y));
    p.setPen(QPen(t.quiet, 5, Qt::SolidLine, Qt::FlatCap));
    p.drawLine(QPointF(v.lo ? x(lo) : area.left(), y), QPointF(v.hi ? x(hi) : area.right(), y));
    const QColor colour = t.verdict(v.verdict);
    const double reach = core::kNinetyPercent * v.sd;
    QColor soft = colour;
    soft.setAlpha(95);
    p.setPen(Qt::NoPen);
    p.setBrush(soft);
    const double left = x(v.value - reach), right = x(v.value + reach);
    p.drawRoundedRect(QRectF(left, y - 6, std::max(3.0, right - left), 12), 3, 3);
    // Far off the rail the tick stands just inside the barb, so that the two never run together.
    const double tick = std::clamp(x(v.value), area.left() + 9, area.right() - 9);
    p.setPen(QPen(colour, 2.6, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(QPointF(tick, y - 7), QPointF(tick, y + 7));
    if (v.verdict == core::Verdict::outside) {
        const bool below = v.lo && v.value < *v.lo;
        const double end = below ? area.left() - 1 : area.right() + 1, d = below ? 6 : -6;
        p.setPen(QPen(colour, 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        const QPointF barb[] = {{end + d, y - 5}, {end, y}, {end + d, y + 5}};
        p.drawPolyline(barb, 3);
    }
    p.restore();
}

QString value_text(double value) {
    QString s = QString::number(value, 'f', 1);
    if (s == "-0.0") s = "0.0";
    return s.replace('-', QChar(0x2212));
}
QString error_text(double sd) { return QString(QChar(0x00B1)) + QString::number(sd, 'f', 1); }
QString unit_text(std::string_view unit) { return unit == "deg" ? QString(QChar(0x00B0)) : QString(" %"); }

QString amount_words(const core::Judged& j, const core::SpokenAmounts& amounts) {
    if (!j.measured.value) return QObject::tr("not judged");
    return text(amounts.of(j.info().id, j.info().unit, *j.measured.value));
}

QString value_words(const core::Judged& j, const core::SpokenAmounts& amounts) {
    if (!j.measured.value) return QObject::tr("not judged: ") + QString::fromStdString(j.reason);
    const QString out =
        text(amounts.with_doubt(j.info().id, j.info().unit, *j.measured.value, j.measured.sd));
    return out + (j.band ? ", " + QString::fromUtf8(core::word(j.verdict).data()) : QObject::tr(", no band"));
}

}  // namespace aspen::ui
