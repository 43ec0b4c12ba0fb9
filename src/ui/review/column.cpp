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

constexpr double kColumnHead = 40, kColumnFoot = 26, kRider = 184, kColumnGap = 10, kColumnRail = 72,
                 kWordsHigh = 17, kRailHigh = 18;

QString band_text(const core::Band& band) {
    if (band.lo && band.hi) return value_text(*band.lo) + " … " + value_text(*band.hi);
    return band.lo ? QObject::tr("at least ") + value_text(*band.lo)
                   : QObject::tr("at most ") + value_text(*band.hi);
}

/// The first joint that keeps a measure from being taken.
std::optional<core::Landmark> missing_joint(const core::Judged& j, const core::Figure& f) {
    for (const core::Landmark l : j.info().needs) {
        if (!f.measurable(l)) return l;
    }
    return std::nullopt;
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
    return {right ? width() - kRider - 8 : 8, kColumnHead, kRider, height() - kColumnHead - kColumnFoot - 4};
}

/// The rider's height, where the card knows it: lengths are said in centimetres then.
std::optional<int> Column::height_cm() const {
    const auto& rider = now_.review().rider_card();
    return rider ? rider->height_cm : std::nullopt;
}

bool Column::waits_for_yes() const {
    if (followed_here_ || figure_.marked() == 0) return false;
    return std::ranges::none_of(core::landmarks_of(figure_.view),
                                [this](core::Landmark l) { return figure_.measurable(l); });
}

std::vector<Column::Row> Column::rows() const {
    std::vector<Row> out;
    if (waits_for_yes()) return out;
    const std::vector<core::Judged>& judged = judged_;
    const RiderDrawing rider(figure_, judged, rider_area());
    const QRectF drawn = rider_area();
    const bool right = rider.faces_right();
    const double left = right ? 14 : drawn.right() + kColumnGap;
    const double wide = right ? drawn.left() - kColumnGap - 14 : width() - left - 12;
    const core::Knowledge& known = now_.knowledge();
    const std::optional<int> tall = height_cm();
    const core::Setting here = now_.review().setting();
    // Before school, gait and seat are said no measure has a band: then all are shown.
    const bool all = all_ || here.school.empty();
    for (const core::Judged& j : judged) {
        const bool stated = std::holds_alternative<core::Band>(known.schools.band(j.info().id, here));
        const bool held = j.band.has_value() || (!j.measured.value && stated);
        if (!held && !all) continue;
        Row row{j,
                sentence(QString::fromStdString(known.measure_words.of(j, known.body, tall))),
                {},
                rider.anchor(j.info())};
        // Without a band there is no rail: name and number are one line.
        if (j.measured.value && !j.band)
            row.words += QString("   %1 %2%3")
                             .arg(value_text(*j.measured.value), error_text(j.measured.sd),
                                  unit_text(j.info().unit).trimmed());
        if (!j.measured.value)
            row.words = sentence(text(j.info().spoken)) + ": " + QString::fromStdString(j.reason);
        const QFontMetrics metrics(text_font(12, j.verdict == core::Verdict::outside));
        const int lines = std::min(
            2, metrics.boundingRect(QRect(0, 0, static_cast<int>(wide), 400), Qt::TextWordWrap, row.words)
                           .height() /
                       std::max(1, metrics.lineSpacing()) +
                   (metrics.horizontalAdvance(row.words) > wide ? 1 : 0));
        const double high =
            kWordsHigh * std::max(1, lines) + (j.measured.value && j.band ? kRailHigh : 0) + 5;
        row.area = {left, row.anchor.y() - high / 2, wide, high};
        out.push_back(std::move(row));
    }
    std::ranges::stable_sort(out, {}, [](const Row& r) { return r.anchor.y(); });
    // Head to heel, each as near to its part as the others leave room.
    const double top = kColumnHead, bottom = height() - kColumnFoot - 2;
    double full = 0;
    for (const Row& r : out) full += r.area.height();
    const double squeeze = full > bottom - top ? (bottom - top) / full : 1;
    double lowest = top;
    for (Row& r : out) {
        r.area.setHeight(r.area.height() * squeeze);
        r.area.moveTop(std::max(r.area.top(), lowest));
        lowest = r.area.bottom();
    }
    double highest = bottom;
    for (auto r = out.rbegin(); r != out.rend(); ++r) {
        if (r->area.bottom() > highest) r->area.moveBottom(highest);
        highest = r->area.top();
    }
    return out;
}

void Column::paint_row(QPainter& p, const Row& row) const {
    const Theme& t = theme();
    const core::Judged& j = row.judged;
    const QRectF a = row.area;
    const bool live = j.measured.value.has_value(), out = j.verdict == core::Verdict::outside,
               doubtful = j.verdict == core::Verdict::borderline;
    const bool right = figure_.travel != core::Travel::left;
    QColor hair = out ? t.clay : doubtful ? t.leaf : t.line;
    p.setPen(QPen(hair, 1));
    const double edge = right ? a.right() + 3 : a.left() - 3;
    const QPointF from(edge, a.top() + kWordsHigh / 2 + 1);
    if (live) p.drawLine(from, row.anchor);
    p.setFont(text_font(12, out));
    p.setPen(live ? t.ink : t.quiet);
    const double words_high = a.height() - (live && j.band ? kRailHigh : 0);
    p.drawText(QRectF(a.left(), a.top(), a.width(), words_high),
               Qt::AlignTop | (right ? Qt::AlignRight : Qt::AlignLeft) | Qt::TextWordWrap, row.words);
    if (!live || !j.band) return;
    // Numbers stand on the decimal point: one decimal each, the error after it in quiet ink.
    const double y = a.bottom() - kRailHigh;
    const double numbers = 84, x = right ? a.right() - numbers - kColumnRail - 6 : a.left();
    paint_rail(p, QRectF(x, y, kColumnRail, kRailHigh), rail_value(j));
    const double point = x + kColumnRail + 6 + 38;
    p.setFont(text_font(12, true));
    p.setPen(t.ink);
    p.drawText(QRectF(point - 60, y, 60, kRailHigh), Qt::AlignVCenter | Qt::AlignRight,
               value_text(*j.measured.value));
    p.setFont(text_font(12));
    p.setPen(t.quiet);
    p.drawText(QRectF(point + 4, y, 60, kRailHigh), Qt::AlignVCenter | Qt::AlignLeft,
               error_text(j.measured.sd) + unit_text(j.info().unit).trimmed());
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
    rider.paint(p);
    for (const Row& row : all) paint_row(p, row);
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
    for (const Row& row : rows()) {
        if (text(row.judged.info().id) == measure) return row.area;
    }
    return {};
}

/// A value is framed and drawn in the picture; where it is not judged, the joint that is missing is asked
/// for.
void Column::press(const core::Judged& judged) {
    const core::Figure f = figure_;
    const auto missing = judged.measured.value || followed_here_ ? std::nullopt : missing_joint(judged, f);
    if (!missing) return emit wants_measure(text(judged.info().id));
    if (f[*missing].visibility == core::Visibility::absent)
        emit wants(app::AskForJoint{*missing});
    else
        emit wants(app::ChooseJoint{*missing});
}

void Column::mousePressEvent(QMouseEvent* e) {
    for (const Row& row : rows()) {
        if (e->button() == Qt::LeftButton && row.area.contains(e->position()) && row.judged.measured.info)
            return press(row.judged);
    }
}

bool Column::event(QEvent* e) {
    if (e->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(e);
        for (const Row& row : rows()) {
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
    const Row& r = all[static_cast<std::size_t>(row)];
    QString out = sentence(QString::fromUtf8(r.judged.info().spoken.data())) + ", ";
    if (r.judged.measured.value) out += r.words + ", ";
    out += value_words(r.judged);
    if (r.judged.measured.value && !r.judged.reason.empty())
        out += ", " + QString::fromStdString(r.judged.reason);
    return out;
}

QRect Column::row_area(int row) const { return rows()[static_cast<std::size_t>(row)].area.toRect(); }

void Column::row_pressed(int row) { press(rows()[static_cast<std::size_t>(row)].judged); }

void Column::keyPressEvent(QKeyEvent* e) {
    if (!take_row_key(*this, *e)) QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui

#include "moc_column.cpp"
