#include "ui/progress/lanes_widget.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "ui/shared/rail.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr double kText = 250, kHeight = 172, kEyeHeight = 108, kPicture = 76, kPictureHigh = 44;

bool plotted(const app::Lane& lane) { return lane.measure && !lane.points.empty(); }

/// Value range of a lane: the band and all values with their errors, a little air around them.
std::pair<double, double> range_of(const app::Lane& lane) {
    double low = 1e300, high = -1e300;
    for (const app::LanePoint& p : lane.points) {
        low = std::min(low, p.value.value - 2 * p.value.sd);
        high = std::max(high, p.value.value + 2 * p.value.sd);
        // A band with one limit may lie beside all values.
        for (const auto& limit : {p.value.band.lo, p.value.band.hi}) {
            if (limit) low = std::min(low, *limit), high = std::max(high, *limit);
        }
    }
    const double air = std::max(0.5, (high - low) * 0.08);
    return {low - air, high + air};
}

}  // namespace

Lanes::Lanes(app::Yard& yard, app::Thumbs& thumbs, QWidget* parent)
    : QWidget(parent), yard_(yard), thumbs_(thumbs) {
    setMouseTracking(true);
    setAccessibleName(tr("Corrections through time"));
    setFocusPolicy(Qt::StrongFocus);
    make_rows_accessible();
    connect(&thumbs_, &app::Thumbs::changed, this, [this] { update(); });
}

void Lanes::show_lanes(std::vector<app::Lane> lanes) {
    lanes_ = std::move(lanes);
    double height = 12;
    for (std::size_t i = 0; i < lanes_.size(); ++i) height += lane_area(i).height() + 12;
    setMinimumHeight(static_cast<int>(height));
    update();
}

QRectF Lanes::lane_area(std::size_t i) const {
    double y = 4;
    for (std::size_t k = 0; k < i; ++k) y += (plotted(lanes_[k]) ? kHeight : kEyeHeight) + 12;
    return {4, y, width() - 12.0, plotted(lanes_[i]) ? kHeight : kEyeHeight};
}

double Lanes::x_of(const QRectF& plot, const QString& date) const {
    QDate first = yard_.today(), last = QDate(1900, 1, 1);
    for (const app::Lane& lane : lanes_) {
        for (const app::LanePoint& p : lane.points) {
            const QDate d = QDate::fromString(p.day, Qt::ISODate);
            first = std::min(first, d);
            last = std::max(last, d);
        }
    }
    const double span = std::max<double>(1.0, static_cast<double>(first.daysTo(last)));
    const double share = static_cast<double>(first.daysTo(QDate::fromString(date, Qt::ISODate))) / span;
    return plot.left() + kPicture / 2 + (plot.width() - kPicture) * std::clamp(share, 0.0, 1.0);
}

QRectF Lanes::picture_area(std::size_t lane, std::size_t point) const {
    const QRectF a = lane_area(lane);
    const QRectF plot(a.left() + kText, a.top() + 10, a.width() - kText - 16, a.height() - 20);
    const double x = x_of(plot, lanes_[lane].points[point].day);
    return {x - kPicture / 2, a.bottom() - kPictureHigh - 10, kPicture - 6, kPictureHigh};
}

void Lanes::paint_lane(QPainter& p, std::size_t i) {
    const Theme& t = theme();
    const app::Lane& lane = lanes_[i];
    const QRectF a = lane_area(i);
    p.setPen(Qt::NoPen);
    p.setBrush(t.panel);
    p.drawRoundedRect(a, 10, 10);
    if (lane.correction.focus) {
        p.setBrush(t.ink);
        p.drawRoundedRect(QRectF(a.left(), a.top() + 14, 4, a.height() - 28), 2, 2);
    }
    p.setPen(t.ink);
    p.setFont(text_font(18, true));
    p.drawText(QRectF(a.left() + 18, a.top() + 12, kText - 30, 26), Qt::AlignLeft | Qt::AlignVCenter,
               QString::fromStdString(lane.fault->name));
    p.setFont(text_font(14));
    const QString stage = QString::fromUtf8(core::spoken(lane.stage).data()) +
                          (lane.correction.focus ? tr(" · the focus") : "");
    p.drawText(QRectF(a.left() + 18, a.top() + 38, kText - 30, 20), Qt::AlignLeft | Qt::AlignVCenter, stage);
    p.setFont(text_font(12));
    p.setPen(t.quiet);
    const core::SeenIn& seen = lane.correction.seen;
    QStringList where_parts;
    if (!lane.horse.isEmpty()) where_parts << lane.horse;
    if (seen.gait) where_parts << QString::fromUtf8(core::spoken(*seen.gait).data());
    if (seen.seat) where_parts << QString::fromUtf8(core::spoken(*seen.seat).data());
    if (!seen.side.empty()) where_parts << QString::fromStdString(seen.side) + tr(" side");
    const QString where = where_parts.join(", ");
    const QString measure = lane.measure ? QString::fromUtf8(lane.measure->spoken.data()) + ", " +
                                               unit_text(lane.measure->unit).trimmed()
                                         : QString();
    p.drawText(QRectF(a.left() + 18, a.top() + 60, kText - 30, a.height() - 66),
               Qt::AlignLeft | Qt::TextWordWrap,
               where + (plotted(lane) ? "\n" + measure : QString()) + "\n" + sentence(lane.change));
    if (!plotted(lane)) return;
    const QRectF plot(a.left() + kText, a.top() + 20, a.width() - kText - 16, a.height() - kPictureHigh - 44);
    const auto [low, high] = range_of(lane);
    const auto y_of = [&, low = low, high = high](double v) {
        return plot.bottom() - plot.height() * (v - low) / (high - low);
    };
    const core::Band& band = lane.points.back().value.band;
    QColor soft = t.teal;
    soft.setAlpha(t.dark ? 48 : 34);
    const double top = band.hi ? y_of(*band.hi) : plot.top(),
                 bottom = band.lo ? y_of(*band.lo) : plot.bottom();
    p.fillRect(QRectF(plot.left(), top, plot.width(), bottom - top), soft);
    p.setPen(QPen(t.line, 1));
    for (const auto& limit : {band.lo, band.hi}) {
        if (!limit) continue;
        p.drawLine(QPointF(plot.left(), y_of(*limit)), QPointF(plot.right(), y_of(*limit)));
        p.setPen(t.quiet);
        p.setFont(text_font(12));
        p.drawText(QRectF(plot.left() - 40, y_of(*limit) - 8, 34, 16), Qt::AlignRight | Qt::AlignVCenter,
                   QString::number(*limit).replace('-', QChar(0x2212)));
        p.setPen(QPen(t.line, 1));
    }
    QPolygonF way;
    for (const app::LanePoint& point : lane.points)
        way << QPointF(x_of(plot, point.day), y_of(point.value.value));
    p.setPen(QPen(t.quiet, 1.5));
    p.drawPolyline(way);
    for (std::size_t k = 0; k < lane.points.size(); ++k) {
        const app::LanePoint& point = lane.points[k];
        const QPointF c = way[static_cast<qsizetype>(k)];
        const double reach = core::kNinetyPercent * point.value.sd;
        const QColor colour = t.verdict(point.value.verdict);
        QColor bar = colour;
        bar.setAlpha(95);
        p.setPen(Qt::NoPen);
        p.setBrush(bar);
        p.drawRoundedRect(QRectF(c.x() - 5, y_of(point.value.value + reach), 10,
                                 y_of(point.value.value - reach) - y_of(point.value.value + reach)),
                          3, 3);
        p.setPen(QPen(colour, 3, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(c - QPointF(8, 0), c + QPointF(8, 0));
        p.setPen(t.ink);
        p.setFont(text_font(12, true));
        p.drawText(QRectF(c.x() - 30, y_of(point.value.value + reach) - 17, 60, 16), Qt::AlignCenter,
                   value_text(point.value.value));
        const QRectF frame = picture_area(i, k);
        {
            const QImage picture = thumbs_.of(point.film, point.frame);
            p.setPen(Qt::NoPen);
            p.setBrush(t.line);
            p.drawRoundedRect(frame, 4, 4);
            if (!picture.isNull()) {
                QPainterPath round;
                round.addRoundedRect(frame, 4, 4);
                p.save();
                p.setClipPath(round);
                p.setRenderHint(QPainter::SmoothPixmapTransform);
                p.drawImage(frame, picture,
                            QRectF(picture.width() * 0.2, picture.height() * 0.08, picture.width() * 0.6,
                                   picture.height() * 0.6 * kPictureHigh / (kPicture - 6) * picture.width() /
                                       picture.height()));
                p.restore();
            }
        }
        p.setPen(t.quiet);
        p.setFont(text_font(12));
        p.drawText(QRectF(frame.left() - 10, frame.top() - 18, frame.width() + 20, 16), Qt::AlignCenter,
                   spoken_date(point.day));
    }
}

void Lanes::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    for (std::size_t i = 0; i < lanes_.size(); ++i) paint_lane(p, i);
    paint_current(p, *this);
    if (lanes_.empty()) {
        p.setPen(theme().quiet);
        p.setFont(text_font(18));
        p.drawText(
            QRectF(24, 24, width() - 48.0, 60), Qt::AlignLeft | Qt::TextWordWrap,
            tr("No corrections yet. Review a clip of this rider, keep one focus, and its lane starts here."));
    }
}

std::optional<store::ClipId> Lanes::clip_at(QPointF at) const {
    for (std::size_t i = 0; i < lanes_.size(); ++i) {
        if (!plotted(lanes_[i])) continue;
        for (std::size_t k = 0; k < lanes_[i].points.size(); ++k) {
            if (picture_area(i, k).contains(at)) return lanes_[i].points[k].clip;
        }
    }
    return std::nullopt;
}

QString Lanes::row_words(int row) const {
    const app::Lane& lane = lanes_[static_cast<std::size_t>(row)];
    QStringList out{QString::fromStdString(lane.fault->name),
                    QString::fromUtf8(core::spoken(lane.stage).data())};
    if (lane.correction.focus) out << tr("the focus");
    if (!lane.horse.isEmpty()) out << lane.horse;
    const QString seen = QString::fromStdString(core::spoken(lane.correction.seen));
    if (!seen.isEmpty()) out << seen;
    for (const app::LanePoint& p : lane.points) {
        const QString unit = unit_text(lane.measure->unit);
        out << spoken_date(p.day) + " " + value_text(p.value.value) + unit + " " + error_text(p.value.sd) +
                   unit + " " + QString::fromUtf8(core::word(p.value.verdict).data());
    }
    return out.join(", ") + ". " + sentence(lane.change);
}

void Lanes::row_pressed(int row) {
    const app::Lane& lane = lanes_[static_cast<std::size_t>(row)];
    if (!lane.points.empty()) emit open_clip(lane.points.back().clip);
}

void Lanes::keyPressEvent(QKeyEvent* e) {
    if (!take_row_key(*this, *e)) QWidget::keyPressEvent(e);
}

void Lanes::mousePressEvent(QMouseEvent* e) {
    if (const auto clip = clip_at(e->position())) emit open_clip(*clip);
}
void Lanes::mouseMoveEvent(QMouseEvent* e) {
    setCursor(clip_at(e->position()) ? Qt::PointingHandCursor : Qt::ArrowCursor);
}

}  // namespace aspen::ui
