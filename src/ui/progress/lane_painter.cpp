#include "ui/progress/lane_painter.hpp"

#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "core/motion/small_numbers.hpp"
#include "ui/shared/rail.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr double kBelow = 30;    // practice and exercises
constexpr double kOwnRoom = 14;  // pixels between two rides from which each is drawn in full
constexpr double kReachPx = 16;  // of the pointer

bool by_eye(const app::Lane& lane) { return lane.measure == nullptr; }

/// What is drawn of an entry: its value in the lane's phase, else the eye's share.
std::optional<core::ReviewValue> drawn(const app::Lane& lane, const app::LanePoint& entry) {
    if (by_eye(lane)) return seen_share(entry);
    if (entry.phases.empty()) return std::nullopt;
    for (const core::ReviewValue& v : entry.phases) {
        if (v.phase == lane.phase) return v;
    }
    return entry.phases.front();
}

/// The same of a lane that is measured, without a copy.
const core::ReviewValue* phase_of(const app::Lane& lane, const app::LanePoint& entry) {
    for (const core::ReviewValue& v : entry.phases) {
        if (v.phase == lane.phase) return &v;
    }
    return entry.phases.empty() ? nullptr : &entry.phases.front();
}

bool same_limits(const core::Band& a, const core::Band& b) { return a.lo == b.lo && a.hi == b.hi; }

core::Verdict colour_of(core::RideVerdict v) {
    switch (v) {
        case core::RideVerdict::inside:
            return core::Verdict::inside;
        case core::RideVerdict::borderline:
            return core::Verdict::borderline;
        case core::RideVerdict::outside:
        case core::RideVerdict::unsteady:
        case core::RideVerdict::other_side:
            return core::Verdict::outside;
        default:
            return core::Verdict::not_judged;
    }
}

}  // namespace

double when(const app::LanePoint& e) {
    const QString at = QString::fromStdString(e.film.recorded_at);
    return TimeAxis::days(at.startsWith(e.day) ? at : e.day);
}

std::optional<core::ReviewValue> seen_share(const app::LanePoint& e) {
    const auto share = core::wilson(e.eye.good, e.eye.of);
    if (!share) return std::nullopt;
    core::ReviewValue out;
    out.value = 100 * share->share;
    out.sd = 100 * (share->hi - share->lo) / 2 / core::kNinetyPercent;
    out.verdict = colour_of(e.verdict);
    out.moments = e.eye.of;
    return out;
}

void paint_stage_ground(QPainter& p, const QRectF& area, core::Stage stage) {
    const Theme& t = theme();
    QColor ink = t.ink;
    p.setPen(Qt::NoPen);
    switch (stage) {
        case core::Stage::noticed:
        case core::Stage::confirmed:
            return;
        case core::Stage::in_work:
            ink.setAlpha(t.dark ? 40 : 26);
            p.fillRect(area, QBrush(ink, Qt::BDiagPattern));
            return;
        case core::Stage::holding:
            ink.setAlpha(t.dark ? 26 : 14);
            p.fillRect(area, ink);
            return;
        case core::Stage::settled:
            ink.setAlpha(t.dark ? 56 : 34);
            p.fillRect(area, ink);
            return;
        case core::Stage::back_again:
        case core::Stage::overcorrected:
            ink.setAlpha(t.dark ? 60 : 42);
            p.fillRect(area, QBrush(ink, Qt::DiagCrossPattern));
            return;
    }
}

LanePainter::LanePainter(const app::Lane& lane, const TimeAxis& axis, const QRectF& plot, double today)
    : lane_(lane), axis_(axis), plot_(plot), today_(today) {
    const double below = scaled_px(static_cast<int>(kBelow));
    values_ = plot.adjusted(0, 18, 0, -below - 4);
    below_ = QRectF(plot.left(), plot.bottom() - below, plot.width(), below);
    room_ = plot.width();
    if (lane.entries.size() > 1) {
        const double span = axis.x(when(lane.entries.back())) - axis.x(when(lane.entries.front()));
        room_ = span / static_cast<double>(lane.entries.size() - 1);
    }
    if (by_eye(lane)) {
        low_ = -6;
        high_ = 106;
        return;
    }
    double low = 1e300, high = -1e300;
    for (const app::LanePoint& p : lane.points) {
        const auto v = drawn(lane, p);
        low = std::min(low, v->value - 2 * v->sd);
        high = std::max(high, v->value + 2 * v->sd);
        // A band with one limit may lie beside all values.
        for (const auto& limit : {v->band.lo, v->band.hi}) {
            if (limit) low = std::min(low, *limit), high = std::max(high, *limit);
        }
    }
    if (low > high) low = 0, high = 1;
    const double air = std::max(0.5, (high - low) * 0.06);
    low_ = low - air;
    high_ = high + air;
}

double LanePainter::y_of(double v) const {
    return values_.bottom() - values_.height() * (v - low_) / (high_ - low_);
}

QPointF LanePainter::at(std::size_t entry) const {
    const app::LanePoint& e = lane_.entries[entry];
    const auto v = drawn(lane_, e);
    return {axis_.x(when(e)), v ? y_of(v->value) : values_.bottom() + 2};
}

std::optional<std::size_t> LanePainter::nearest(QPointF to) const {
    std::optional<std::size_t> out;
    double best = kReachPx;
    for (std::size_t i = 0; i < lane_.entries.size(); ++i) {
        const QPointF c = at(i);
        // A column is easier to hit than a dot.
        const double off = std::hypot(c.x() - to.x(), (c.y() - to.y()) / 4);
        if (off < best) {
            best = off;
            out = i;
        }
    }
    return out;
}

void LanePainter::paint(QPainter& p) const {
    paint_limits(p);  // in the margin beside the plot
    p.save();
    p.setClipRect(plot_.adjusted(-2, 0, 2, 0));
    paint_ground(p);
    paint_band(p);
    paint_trend(p);
    paint_below(p);
    paint_entries(p);
    p.setPen(QPen(theme().quiet, 1, Qt::DotLine));
    const double x = axis_.x(today_);
    if (x < plot_.right()) p.drawLine(QPointF(x, plot_.top()), QPointF(x, plot_.bottom()));
    p.restore();
}

void LanePainter::paint_ground(QPainter& p) const {
    const Theme& t = theme();
    const auto& along = lane_.life.along;
    const double start = axis_.x(TimeAxis::days(QString::fromStdString(lane_.correction.noticed_on)));
    const auto end_of = [&](std::size_t i) {
        return i + 1 < along.size() ? axis_.x(when(lane_.entries[i + 1]))
                                    : std::min(axis_.x(today_), plot_.right() + 2);
    };
    const auto stage_at = [&](std::size_t i) { return i + 1 == along.size() ? lane_.stage : along[i]; };
    double words_free = -1e9;
    const QFontMetrics fm(text_font(12));
    for (std::size_t i = 0; i < along.size();) {
        const core::Stage s = stage_at(i);
        std::size_t last = i;  // as long as the stage stays
        while (last + 1 < along.size() && stage_at(last + 1) == s) ++last;
        const double here = axis_.x(when(lane_.entries[i]));
        const double x = i == 0 ? std::min(start, here) : here, end = end_of(last);
        paint_stage_ground(p, QRectF(x, plot_.top(), end - x, plot_.height()), s);
        i = last + 1;
        const QString word = text(core::spoken(s));
        const double left = std::max(x + 4, plot_.left() + 2);
        if (left < words_free || end < plot_.left()) continue;
        p.setPen(QPen(t.line, 1));
        p.drawLine(QPointF(x, plot_.top()), QPointF(x, plot_.bottom()));
        p.setFont(text_font(12));
        p.setPen(t.quiet);
        p.drawText(QRectF(left, plot_.top() + 1, 120, 16), Qt::AlignLeft | Qt::AlignVCenter, word);
        words_free = left + fm.horizontalAdvance(word) + 8;
    }
}

void LanePainter::paint_band(QPainter& p) const {
    if (by_eye(lane_)) {
        p.setPen(QPen(theme().line, 1));
        for (const double share : {0.0, 50.0, 100.0})
            p.drawLine(QPointF(values_.left(), y_of(share)), QPointF(values_.right(), y_of(share)));
        return;
    }
    if (lane_.points.empty()) return;
    const Theme& t = theme();
    // The band moves with school and phase: each ride's own, up to where it is another one.
    QColor soft = t.teal;
    soft.setAlpha(t.dark ? 52 : 38);
    for (std::size_t i = 0; i < lane_.points.size();) {
        const core::Band& band = phase_of(lane_, lane_.points[i])->band;
        std::size_t end = i + 1;
        while (end < lane_.points.size() && same_limits(phase_of(lane_, lane_.points[end])->band, band))
            ++end;
        const double left = i == 0 ? plot_.left() : axis_.x(when(lane_.points[i]));
        const double right = end < lane_.points.size() ? axis_.x(when(lane_.points[end])) : plot_.right();
        const double top = band.hi ? y_of(*band.hi) : values_.top() - 2;
        const double bottom = band.lo ? y_of(*band.lo) : values_.bottom() + 2;
        p.fillRect(QRectF(left, top, right - left, bottom - top), soft);
        p.setPen(QPen(t.teal, 1));
        for (const auto& limit : {band.lo, band.hi}) {
            if (limit) p.drawLine(QPointF(left, y_of(*limit)), QPointF(right, y_of(*limit)));
        }
        i = end;
    }
}

void LanePainter::paint_limits(QPainter& p) const {
    p.setFont(text_font(12));
    p.setPen(theme().quiet);
    const auto number = [&](double v, const QString& words, bool under = false) {
        p.drawText(QRectF(plot_.left() - 226, y_of(v) + (under ? 1 : -15), 220, 14),
                   Qt::AlignRight | (under ? Qt::AlignTop : Qt::AlignBottom), words);
    };
    if (by_eye(lane_)) {
        number(0, QObject::tr("none good"));
        return number(100, QObject::tr("all good"));
    }
    if (lane_.points.empty()) return;
    const auto v = drawn(lane_, lane_.points.front());
    const core::Band& band = v->band;
    // On a narrow band the lower number would lie on the upper one: it stands below then.
    const bool narrow = band.lo && band.hi && std::abs(y_of(*band.lo) - y_of(*band.hi)) < 15;
    if (band.lo) number(*band.lo, lane_.low_says, narrow);
    if (band.hi) number(*band.hi, lane_.high_says);
}

void LanePainter::paint_trend(QPainter& p) const {
    if (!lane_.trend || lane_.points.size() < 3) return;
    const Theme& t = theme();
    const double first = TimeAxis::days(lane_.points.front().day);
    const double last = TimeAxis::days(lane_.points.back().day) - first;
    QPolygonF upper, lower, line;
    for (int i = 0; i <= 24; ++i) {
        const double day = last * i / 24, x = axis_.x(first + day), reach = lane_.trend->reach(day);
        line << QPointF(x, y_of(lane_.trend->at(day)));
        upper << QPointF(x, y_of(lane_.trend->at(day) + reach));
        lower << QPointF(x, y_of(lane_.trend->at(day) - reach));
    }
    QColor ink = t.quiet;
    p.setPen(QPen(ink, 1.5, lane_.trend->told ? Qt::SolidLine : Qt::DashLine));
    p.drawPolyline(line);
    ink.setAlpha(110);
    p.setPen(QPen(ink, 1, Qt::DotLine));
    p.drawPolyline(upper);
    p.drawPolyline(lower);
}

void LanePainter::paint_value(QPainter& p, std::size_t i) const {
    const Theme& t = theme();
    const app::LanePoint& e = lane_.entries[i];
    const QPointF c = at(i);
    const auto v = drawn(lane_, e);
    if (!v) {  // nothing could judge it
        p.setPen(QPen(t.quiet, 1.2));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(c, 3, 3);
        return;
    }
    for (const core::ReviewValue& other : e.phases) {  // phases apart
        if (other.phase == v->phase) continue;
        p.setPen(QPen(t.quiet, 1.2));
        const QPointF o(c.x() + 9, y_of(other.value));
        p.drawLine(o - QPointF(4, 0), o + QPointF(4, 0));
        p.drawLine(QPointF(o.x(), y_of(other.value - core::kNinetyPercent * other.sd)),
                   QPointF(o.x(), y_of(other.value + core::kNinetyPercent * other.sd)));
    }
    const double reach = core::kNinetyPercent * v->sd;
    const QColor colour = t.verdict(v->verdict);
    QColor bar = colour;
    bar.setAlpha(95);
    const double top = y_of(std::min(v->value + reach, high_)),
                 bottom = y_of(std::max(v->value - reach, low_));
    if (room_ < kOwnRoom) {  // years close together: as narrow as leaves them apart, and plain
        const double wide = std::max(1.5, room_ * 0.6);
        p.fillRect(QRectF(c.x() - wide / 2, top, wide, bottom - top), bar);
        p.fillRect(QRectF(c.x() - wide / 2 - 0.5, c.y() - 1, wide + 1, 2), colour);
        return;
    }
    p.setPen(Qt::NoPen);
    p.setBrush(bar);
    p.drawRoundedRect(QRectF(c.x() - 5, top, 10, bottom - top), 3, 3);
    p.setPen(QPen(colour, 3, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(c - QPointF(8, 0), c + QPointF(8, 0));
    if (v->verdict == core::Verdict::outside) {  // the barb, towards where it is out
        const bool over = v->band.hi && v->value > *v->band.hi;
        const QPointF tip(c.x(), over ? top - 5 : bottom + 5);
        const double back = over ? 4 : -4;
        p.setPen(QPen(colour, 1.6));
        p.drawPolyline(QPolygonF{tip + QPointF(-3.5, back), tip, tip + QPointF(3.5, back)});
    }
    if (!e.coach_word.isEmpty()) {
        p.setPen(t.ink);
        p.setFont(text_font(14, true));
        p.drawText(QPointF(c.x() + 7, top - 2), "”");
    }
}

void LanePainter::paint_entries(QPainter& p) const {
    QPolygonF way;
    for (std::size_t i = 0; i < lane_.entries.size(); ++i) {
        if (drawn(lane_, lane_.entries[i])) way << at(i);
    }
    QColor thin = theme().quiet;
    thin.setAlpha(120);
    p.setPen(QPen(thin, 1));
    if (!lane_.trend) p.drawPolyline(way);
    for (std::size_t i = 0; i < lane_.entries.size(); ++i) {
        const double x = axis_.x(when(lane_.entries[i]));
        if (x > plot_.left() - 20 && x < plot_.right() + 20) paint_value(p, i);
    }
}

void LanePainter::paint_below(QPainter& p) const {
    const Theme& t = theme();
    const QFontMetrics fm(text_font(12));
    for (const app::LaneExercise& e : lane_.exercises) {
        const double from = axis_.x(TimeAxis::days(e.from)),
                     to = std::min(axis_.x(TimeAxis::days(e.until)), plot_.right());
        if (to < plot_.left() || from > plot_.right()) continue;
        QColor ink = t.quiet;
        if (e.withdrawn) ink.setAlpha(110);
        p.fillRect(QRectF(from, below_.bottom() - 3, std::max(3.0, to - from), 3), ink);
        const double left = std::max(from, plot_.left() + 2);
        p.setFont(text_font(12));
        p.setPen(ink);
        const double room = std::max(to, plot_.right() - 60) - left;
        p.drawText(QRectF(left, below_.top() + 6, room, 18), Qt::AlignLeft | Qt::AlignVCenter,
                   fm.elidedText(e.name, Qt::ElideRight, static_cast<int>(room)));
    }
    int most = 1;
    for (const core::Practice& k : lane_.practice) most = std::max(most, k.attempts);
    for (const core::Practice& k : lane_.practice) {
        const double x = axis_.x(TimeAxis::days(QString::fromStdString(k.day)));
        if (x < plot_.left() || x > plot_.right()) continue;
        const double full = 5 + (below_.height() - 12) * k.attempts / most;
        const double good = k.attempts > 0 ? full * k.good / k.attempts : full * k.feel / 5;
        QColor ink = t.ink;
        ink.setAlpha(80);
        p.fillRect(QRectF(x - 1.5, below_.bottom() - 4 - full, 3, full), ink);
        p.fillRect(QRectF(x - 1.5, below_.bottom() - 4 - good, 3, good), t.ink);
    }
}

}  // namespace aspen::ui
