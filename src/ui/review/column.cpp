#include "ui/review/column.hpp"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "core/ride/ride.hpp"
#include "ui/shared/rail.hpp"
#include "ui/shared/rider_drawing.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr double kColumnHead = 66, kColumnFoot = 26, kColumnLines = 76, kRider = 184, kColumnGap = 10,
                 kColumnRail = 72, kRailHigh = 18;

QString band_text(const core::Band& band) {
    if (band.lo && band.hi) return value_text(*band.lo) + " … " + value_text(*band.hi);
    return band.lo ? QObject::tr("at least ") + value_text(*band.lo)
                   : QObject::tr("at most ") + value_text(*band.hi);
}

}  // namespace

Column::Column(const app::BenchState& now, const KeyMap& keys, QWidget* parent)
    : BenchPanel(now, parent), foot_(new HintLine(keys, this)) {
    setMinimumWidth(340);
    setAccessibleName(tr("Measures, head to heel"));
    setFocusPolicy(Qt::TabFocus);
    make_rows_accessible();
    setCursor(Qt::PointingHandCursor);
}

void Column::show_state(app::BenchParts what) {
    using P = app::BenchPart;
    if (what & (P::figure | P::findings | P::clip)) refresh();
}

/// What was followed is another at every frame; where nothing was, nothing is painted.
void Column::show_frame() {
    const core::Figure before = figure_;
    look();
    tell_foot();
    if (!(figure_ == before)) update();
}

void Column::set_followed(std::function<std::optional<core::Figure>(int)> followed) {
    followed_ = std::move(followed);
}

void Column::refresh() {
    look();
    tell_foot();
    update();
}

/// The marked figure and its values; on a frame without one what was followed to it, with its own errors.
void Column::look() {
    figure_ = now_.marking().figure();
    judged_ = now_.marking().judged();
    followed_here_ = false;
    if (!followed_ || !now_.is_open() || !now_.deck().ready() || figure_.marked() > 0) return;
    auto there = followed_(now_.deck().frame());
    if (!there) return;
    for (core::Mark& m : there->marks) m.confirmed = m.visibility == core::Visibility::seen;
    const app::Review& review = now_.review();
    core::RideMoment moment{*there, review.setting_of(now_.deck().frame(), ""), {}, review.stretch().judged};
    judged_ = core::judge_moment(moment, now_.knowledge());
    figure_ = *std::move(there);
    followed_here_ = true;
}

void Column::show_all(bool all) {
    all_ = all;
    update();
}

/// The rider looks the way the picture's does; what is measured hangs at the back, where the room is.
QRectF Column::rider_area() const {
    const bool right = figure_.travel != core::Travel::left;
    return {right ? width() - kRider - 8 : 8, kColumnHead, kRider,
            height() - kColumnHead - kColumnFoot - kColumnLines - 4};
}

bool Column::waits_for_yes() const {
    if (followed_here_ || figure_.marked() == 0) return false;
    return std::ranges::none_of(core::landmarks_of(figure_.view),
                                [this](core::Landmark l) { return figure_.measurable(l); });
}

std::vector<ColumnRow> Column::rows() const {
    if (waits_for_yes() || !now_.is_open()) return {};
    const RiderDrawing rider(figure_, judged_, rider_area());
    const QRectF drawn = rider_area();
    const bool right = rider.faces_right();
    ColumnRoom room;
    room.left = right ? 14 : drawn.right() + kColumnGap;
    room.wide = right ? drawn.left() - kColumnGap - 14 : width() - room.left - 12;
    room.top = kColumnHead;
    room.bottom = drawn.bottom();
    room.lines = {14, drawn.bottom() + 4, width() - 28.0, kColumnLines - 4};
    return column_rows(now_, judged_, figure_, rider, room, all_);
}

/// A line at the foot: a tick before what is good, a ring before what is waited for.
void Column::paint_line(QPainter& p, const ColumnRow& row) const {
    const Theme& t = theme();
    const QPointF at(row.area.left() + 6, row.area.top() + 14);
    p.setBrush(Qt::NoBrush);
    if (row.kind == ColumnRow::Kind::good) {
        p.setPen(QPen(t.teal, 2.2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        const QPointF tick[] = {at + QPointF(-5, 0), at + QPointF(-1, 4), at + QPointF(6, -5)};
        p.drawPolyline(tick, 3);
    } else {
        p.setPen(QPen(t.quiet, 1.4));
        p.drawEllipse(at, 5, 5);
    }
    p.setFont(text_font(14));
    p.setPen(row.kind == ColumnRow::Kind::good ? t.ink : t.quiet);
    p.drawText(row.area.adjusted(22, 3, 0, 0), Qt::AlignTop | Qt::AlignLeft | Qt::TextWordWrap, row.words);
}

void Column::paint_row(QPainter& p, const ColumnRow& row) const {
    using Kind = ColumnRow::Kind;
    if (row.kind == Kind::good || row.kind == Kind::waits) return paint_line(p, row);
    const Theme& t = theme();
    const QRectF a = row.area;
    const bool live = row.judged.measured.value.has_value(), out = row.kind == Kind::out,
               judged = out || row.kind == Kind::close;
    const bool right = figure_.travel != core::Travel::left;
    const auto side = right ? Qt::AlignRight : Qt::AlignLeft;
    p.setPen(QPen(out ? t.clay : judged ? t.leaf : t.line, out ? 1.4 : 1));
    const QPointF from(right ? a.right() + 3 : a.left() - 3, a.top() + 10);
    if (live) p.drawLine(from, row.anchor);
    p.setFont(text_font(judged ? 14 : 12, out));
    p.setPen(out || (judged && live) ? t.ink : t.quiet);
    QRectF used;
    p.drawText(a, Qt::AlignTop | side | Qt::TextWordWrap, row.words, &used);
    if (!judged) return;
    const double y = used.bottom();
    paint_rail(p, QRectF(right ? a.right() - kColumnRail - 8 : a.left() + 8, y, kColumnRail, kRailHigh),
               rail_value(row.judged));
    p.setFont(text_font(12));
    p.setPen(t.quiet);
    p.drawText(QRectF(a.left(), y + kRailHigh, a.width(), a.bottom() - y - kRailHigh),
               Qt::AlignTop | side | Qt::TextWordWrap, row.detail);
}

/// "2 out, 1 too close to call": what there is to read, before any of it is read.
QString Column::summary(const std::vector<ColumnRow>& rows) const {
    using Kind = ColumnRow::Kind;
    const auto count = [&](Kind k) { return std::ranges::count(rows, k, &ColumnRow::kind); };
    const auto out = count(Kind::out), close = count(Kind::close), good = count(Kind::good);
    if (out + close + good == 0) return {};
    QStringList said;
    if (out > 0) said << tr("%1 out").arg(out);
    if (close > 0) said << tr("%1 too close to call").arg(close);
    return said.isEmpty() ? tr("all of it is good") : said.join(QString::fromUtf8(" · "));
}

/// The next joint, where it is on a rider, and its name: the first thing to do on an unmarked frame.
void Column::paint_next(QPainter& p, const RiderDrawing& rider) const {
    const auto asked = now_.marking().asked();
    if (!asked || !now_.deck().ready() || followed_here_) return;
    const QPointF at = rider.at(*asked);
    if (at.isNull()) return;
    const Theme& t = theme();
    p.setPen(QPen(t.panel, 2));
    p.setBrush(t.sky);
    p.drawEllipse(at, 7, 7);
    p.setBrush(Qt::NoBrush);
    if (!judged_.empty()) return;
    const bool right = rider.faces_right();
    const QRectF area = rider_area();
    const double edge = right ? area.left() - kColumnGap : area.right() + kColumnGap;
    p.setPen(QPen(t.sky, 1));
    p.drawLine(at, QPointF(edge, at.y()));
    p.setPen(t.ink);
    p.setFont(text_font(14, true));
    const QRectF words = right ? QRectF(14, at.y() - 12, edge - 20, 24)
                               : QRectF(edge + 6, at.y() - 12, width() - edge - 20, 24);
    p.drawText(words, (right ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter,
               sentence(text(core::spoken(*asked))));
}

void Column::paint_waiting(QPainter& p) const {
    const QRectF drawn = rider_area();
    const bool right = figure_.travel != core::Travel::left;
    const double left = right ? 16 : drawn.right() + kColumnGap;
    const double wide = right ? drawn.left() - kColumnGap - left : width() - left - 16;
    p.setFont(text_font(14));
    p.setPen(theme().ink);
    p.drawText(QRectF(left, kColumnHead + 8, wide, 200), Qt::AlignTop | Qt::AlignLeft | Qt::TextWordWrap,
               tr("The program put these joints here. Nothing is judged before you take them."));
}

void Column::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    p.fillRect(rect(), t.panel);
    const int marked = figure_.marked();
    p.setFont(heading_font(18));
    p.setPen(t.ink);
    const QString title = !now_.is_open()   ? tr("Head to heel")
                          : followed_here_  ? tr("As it was followed to here")
                          : marked == 0     ? tr("Mark the rider")
                          : waits_for_yes() ? tr("Waits for your yes")
                          : marked < 3      ? tr("Three joints wake this")
                                            : tr("Head to heel");
    p.drawText(QRectF(16, 8, width() - 32, 26), Qt::AlignVCenter | Qt::AlignLeft, title);
    const RiderDrawing rider(figure_, judged_, rider_area());
    const auto all = rows();
    p.setFont(text_font(14));
    p.setPen(t.quiet);
    p.drawText(QRectF(16, 34, width() - 32, 22), Qt::AlignVCenter | Qt::AlignLeft, summary(all));
    rider.paint(p);
    for (const ColumnRow& row : all) paint_row(p, row);
    if (waits_for_yes()) paint_waiting(p);
    paint_next(p, rider);
    paint_current(p, *this);
}

/// What the numbers rest on, with the key that betters it.
void Column::tell_foot() {
    const core::CameraPose camera = figure_.camera;
    const QString note = !now_.is_open() ? QString()
                         : now_.deck().damaged(now_.deck().frame())
                             ? tr("this picture is damaged: values may be wrong, take another frame")
                         : camera.roll_marked ? tr("upright set: %1° ±%2")
                                                    .arg(value_text(camera.roll_deg),
                                                         QString::number(camera.roll_sd_deg, 'f', 1))
                                              : tr("upright not set: errors are wider · [upright] draws it");
    const double scale = now_.is_open() ? now_.review().clip().px_per_m : 0;
    const QString metre = scale > 0 ? tr(" · 1 m is %1 px").arg(scale, 0, 'f', 0) : QString();
    foot_->say(note + metre);
    foot_->setGeometry(16, height() - kColumnFoot, width() - 32, kColumnFoot - 4);
}

void Column::resizeEvent(QResizeEvent*) { tell_foot(); }

QRectF Column::row_of(const QString& measure) const {
    for (const ColumnRow& row : rows()) {
        if (row.judged.measured.info && text(row.judged.info().id) == measure) return row.area;
    }
    return {};
}

/// A value is framed and drawn in the picture; where it is not judged, the joint that is missing is asked
/// for.
void Column::press(const ColumnRow& row) {
    if (row.kind == ColumnRow::Kind::good) return show_all(!all_);
    const core::Judged& judged = row.judged;
    const core::Figure f = figure_;
    const auto missing = judged.measured.value || followed_here_ ? std::nullopt : missing_joint(judged, f);
    if (!missing) return emit wants_measure(text(judged.info().id));
    if (f[*missing].visibility == core::Visibility::absent)
        emit wants(app::AskForJoint{*missing});
    else
        emit wants(app::ChooseJoint{*missing});
}

void Column::mousePressEvent(QMouseEvent* e) {
    for (const ColumnRow& row : rows()) {
        if (e->button() == Qt::LeftButton && row.area.contains(e->position())) return press(row);
    }
}

bool Column::event(QEvent* e) {
    if (e->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(e);
        for (const ColumnRow& row : rows()) {
            if (!row.area.contains(help->pos())) continue;
            QString tip = sentence(text(row.judged.info().spoken));
            if (row.judged.band) {
                const core::School* school = now_.knowledge().schools.find(row.judged.band->school);
                tip += tr("\nband ") + band_text(*row.judged.band) + unit_text(row.judged.info().unit) +
                       " (" + (school ? QString::fromStdString(school->name) + ", " : QString()) +
                       QString::fromStdString(row.judged.band->source) + ")";
                if (!row.judged.band->why.empty()) tip += "\n" + QString::fromStdString(row.judged.band->why);
            }
            if (!row.judged.reason.empty()) tip += "\n" + QString::fromStdString(row.judged.reason);
            QToolTip::showText(help->globalPos(), tip, this);
            return true;
        }
    }
    return QWidget::event(e);
}

QString Column::row_words(int row) const {
    const auto all = rows();
    const ColumnRow& r = all[static_cast<std::size_t>(row)];
    if (r.kind == ColumnRow::Kind::good || r.kind == ColumnRow::Kind::waits) return r.words;
    QString out = sentence(QString::fromUtf8(r.judged.info().spoken.data())) + ", ";
    if (r.judged.measured.value) out += r.words + ", ";
    out += value_words(r.judged, now_.amounts());
    if (r.judged.measured.value && !r.judged.reason.empty())
        out += ", " + QString::fromStdString(r.judged.reason);
    return out;
}

QRect Column::row_area(int row) const { return rows()[static_cast<std::size_t>(row)].area.toRect(); }

void Column::row_pressed(int row) { press(rows()[static_cast<std::size_t>(row)]); }

void Column::keyPressEvent(QKeyEvent* e) {
    if (!take_row_key(*this, *e)) QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_column.cpp"
