#include "ui/review/column.hpp"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "ui/shared/rail.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr double kHead = 40, kFoot = 24, kRiderWidth = 72, kLabel = 106, kNumbers = 98;

QString band_text(const core::Band& band) {
    if (band.lo && band.hi) return value_text(*band.lo) + " … " + value_text(*band.hi);
    return band.lo ? QObject::tr("at least ") + value_text(*band.lo)
                   : QObject::tr("at most ") + value_text(*band.hi);
}

}  // namespace

Column::Column(app::Bench& bench, const KeyMap& keys, QWidget* parent)
    : QWidget(parent), bench_(bench), foot_(new HintLine(keys, this)) {
    setMinimumWidth(340);
    setAccessibleName(tr("Measures, head to heel"));
    setFocusPolicy(Qt::TabFocus);
    make_rows_accessible();
    setCursor(Qt::PointingHandCursor);
    const auto refresh = [this] {
        tell_foot();
        update();
    };
    connect(&bench_.marking(), &app::Marking::figure_changed, this, refresh);
    connect(&bench_.deck(), &app::ClipDeck::frame_changed, this, refresh);
    connect(&bench_.findings(), &app::RideFindings::changed, this, refresh);
    connect(&bench_.marking(), &app::Marking::asked_changed, this, refresh);
}

std::vector<Column::Row> Column::rows() const {
    std::vector<core::Judged> all = bench_.marking().judged();
    if (all.empty()) {  // nothing marked yet: the rows stand open, so that one sees what will be read
        core::Figure f = bench_.marking().figure();
        if (f.travel == core::Travel::unknown) f.travel = core::Travel::right;
        for (core::Landmark l : core::landmarks_of(f.view)) f[l] = core::Mark{};
        all = core::judge(f, {}, bench_.yard().knowledge().body, bench_.yard().knowledge().schools);
    }
    std::vector<Row> out;
    const double step =
        std::min(38.0, (height() - kHead - kFoot) / std::max<double>(1.0, static_cast<double>(all.size())));
    double y = kHead;
    for (core::Judged& j : all) {
        out.push_back({std::move(j), QRectF(kRiderWidth, y, width() - kRiderWidth - 12, step)});
        y += step;
    }
    return out;
}

void Column::paint_rider(QPainter& p, const std::vector<Row>& rows) const {
    const core::Figure f = bench_.marking().figure();
    const auto height_of = [&](core::BodyPart part, double otherwise) {
        double sum = 0;
        int n = 0;
        for (const Row& r : rows) {
            if (r.judged.info().part == part) sum += r.area.center().y(), ++n;
        }
        return n ? sum / n : otherwise;
    };
    using L = core::Landmark;
    using P = core::BodyPart;
    const double top = rows.front().area.top(), bottom = rows.back().area.bottom();
    const std::pair<L, double> joints[] = {{L::ear, height_of(P::head, top)},
                                           {L::shoulder, height_of(P::shoulder, top)},
                                           {L::elbow, height_of(P::elbow, top)},
                                           {L::wrist, height_of(P::hand, top)},
                                           {L::hip, height_of(P::hip, top)},
                                           {L::knee, height_of(P::knee, bottom)},
                                           {L::ankle, height_of(P::lower_leg, bottom) + 12},
                                           {L::heel, height_of(P::heel, bottom) + 8},
                                           {L::toe, height_of(P::heel, bottom)}};
    // Forward offsets of a quiet rider, in trunk lengths, until the marked ones are known.
    const std::pair<L, double> quiet[] = {{L::ear, 0.03},   {L::shoulder, 0.0}, {L::elbow, 0.08},
                                          {L::wrist, 0.62}, {L::hip, 0.0},      {L::knee, 0.62},
                                          {L::ankle, 0.12}, {L::heel, 0.0},     {L::toe, 0.46}};
    const double r = core::radians(f.camera.roll_deg), sign = f.travel == core::Travel::left ? -1 : 1;
    const auto forward = [&](L l) { return sign * core::unrolled(f[l].at, r).x; };
    const bool known = f.measurable(L::hip) && f.measurable(L::shoulder);
    const double trunk = known ? core::distance(f[L::hip].at, f[L::shoulder].at) : 1;
    std::map<L, double> ahead;
    double rear = 0, front = 0.1;
    for (const auto& [l, share] : quiet) {
        ahead[l] = std::clamp(known && f[l].visibility != core::Visibility::absent
                                  ? (forward(l) - forward(L::hip)) / trunk
                                  : share,
                              -1.2, 1.5);
        rear = std::min(rear, ahead[l]);
        front = std::max(front, ahead[l]);
    }
    const double scale = std::min(66.0, (kRiderWidth - 22) / (front - rear));
    std::map<L, QPointF> at;
    for (const auto& [l, y] : joints) at[l] = {12 + scale * (ahead[l] - rear), y};
    const Theme& t = theme();
    const auto line = [&](L a, L b) {
        const bool marked =
            f[a].visibility != core::Visibility::absent && f[b].visibility != core::Visibility::absent;
        p.setPen(QPen(marked ? t.ink : t.line, marked ? 2 : 1.5, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(at[a], at[b]);
    };
    if (bench_.marking().figure().view == core::View::side) {
        for (const auto& [a, b] : {std::pair{L::shoulder, L::hip},
                                   {L::shoulder, L::elbow},
                                   {L::elbow, L::wrist},
                                   {L::hip, L::knee},
                                   {L::knee, L::ankle},
                                   {L::ankle, L::heel},
                                   {L::heel, L::toe},
                                   {L::ankle, L::toe}})
            line(a, b);
        const bool ear = f[L::ear].visibility != core::Visibility::absent;
        p.setPen(QPen(ear ? t.ink : t.line, 2));
        p.drawEllipse(at[L::ear], 8, 9.5);
        p.drawLine(at[L::ear] + QPointF(0, 10), at[L::shoulder]);
        if (const auto asked = bench_.marking().asked();
            asked && bench_.deck().ready() &&
            at.contains(*asked)) {  // the next joint, where it is on a rider
            p.setPen(QPen(t.panel, 2));
            p.setBrush(t.sky);
            p.drawEllipse(at[*asked], 6, 6);
            p.setBrush(Qt::NoBrush);
        }
    }
}

void Column::paint_row(QPainter& p, const Row& row) const {
    const Theme& t = theme();
    const core::Judged& j = row.judged;
    const QRectF a = row.area;
    const bool live = j.measured.value.has_value();
    p.setFont(text_font(12, live && j.verdict == core::Verdict::outside));
    p.setPen(live ? t.ink : t.quiet);
    p.drawText(QRectF(a.left(), a.top(), kLabel, a.height()), Qt::AlignVCenter | Qt::TextWordWrap,
               sentence(text(j.info().spoken)));
    if (!live) {
        p.setFont(text_font(12));
        p.setPen(t.quiet);
        const QString reason =
            bench_.marking().judged().empty() ? QString() : QString::fromStdString(j.reason);
        if (reason.isEmpty())
            paint_rail(p,
                       QRectF(a.left() + kLabel + 8, a.top(), a.width() - kLabel - kNumbers - 16, a.height()),
                       {});
        p.drawText(QRectF(a.left() + kLabel + 6, a.top(), a.width() - kLabel - 6, a.height()),
                   Qt::AlignVCenter | Qt::AlignLeft | Qt::TextWordWrap, reason);
        return;
    }
    const double left = a.left() + kLabel + 8;
    if (j.band)
        paint_rail(p, QRectF(left, a.top(), a.right() - kNumbers - left - 8, a.height()), rail_value(j));
    // Numbers stand on the decimal point: one decimal each, value to the left of a fixed line, error after
    // it.
    const double point = a.right() - 52;
    p.setFont(text_font(14, j.band.has_value()));
    p.setPen(j.band ? t.ink : t.quiet);
    p.drawText(QRectF(point - 60, a.top(), 60, a.height()), Qt::AlignVCenter | Qt::AlignRight,
               value_text(*j.measured.value));
    p.setFont(text_font(12));
    p.setPen(t.quiet);
    p.drawText(QRectF(point + 4, a.top(), 56, a.height()), Qt::AlignVCenter | Qt::AlignLeft,
               error_text(j.measured.sd) + unit_text(j.info().unit).trimmed());
}

void Column::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    p.fillRect(rect(), t.panel);
    const int marked = bench_.marking().figure().marked();
    p.setFont(heading_font(18));
    p.setPen(t.ink);
    const QString title = !bench_.is_open() ? tr("Head to heel")
                          : marked == 0     ? tr("Mark the rider")
                          : marked < 3      ? tr("Three joints wake this")
                                            : tr("Head to heel");
    p.drawText(QRectF(16, 8, width() - 32, 26), Qt::AlignVCenter | Qt::AlignLeft, title);
    const auto all = rows();
    paint_rider(p, all);
    for (const Row& row : all) paint_row(p, row);
    paint_current(p, *this);
}

/// What the numbers rest on, with the key that betters it.
void Column::tell_foot() {
    const core::CameraPose camera = bench_.marking().figure().camera;
    const QString note = !bench_.is_open() ? QString()
                         : bench_.deck().damaged(bench_.deck().frame())
                             ? tr("this picture is damaged: values may be wrong, take another frame")
                         : camera.roll_marked ? tr("upright set: %1° ±%2")
                                                    .arg(value_text(camera.roll_deg),
                                                         QString::number(camera.roll_sd_deg, 'f', 1))
                                              : tr("upright not set: errors are wider · [upright] draws it");
    const double scale = bench_.is_open() ? bench_.review().clip().px_per_m : 0;
    const QString metre = scale > 0 ? tr(" · 1 m is %1 px").arg(scale, 0, 'f', 0) : QString();
    foot_->say(note + metre);
    foot_->setGeometry(16, height() - kFoot, width() - 32, kFoot - 4);
}

void Column::resizeEvent(QResizeEvent*) { tell_foot(); }

QRectF Column::row_of(const QString& measure) const {
    for (const Row& row : rows()) {
        if (text(row.judged.info().id) == measure) return row.area;
    }
    return {};
}

void Column::mousePressEvent(QMouseEvent* e) {
    for (const Row& row : rows()) {
        if (e->button() == Qt::LeftButton && row.area.contains(e->position()) && row.judged.measured.info)
            return emit wants_measure(text(row.judged.info().id));
    }
}

bool Column::event(QEvent* e) {
    if (e->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(e);
        for (const Row& row : rows()) {
            if (!row.area.contains(help->pos())) continue;
            QString tip = sentence(text(row.judged.info().spoken));
            if (row.judged.band) {
                tip += tr("\nband ") + band_text(*row.judged.band) + unit_text(row.judged.info().unit) +
                       " (" + QString::fromStdString(row.judged.band->source) + ")";
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
    const core::Judged& j = all[static_cast<std::size_t>(row)].judged;
    return sentence(QString::fromUtf8(j.info().spoken.data())) + ", " + value_words(j);
}

QRect Column::row_area(int row) const { return rows()[static_cast<std::size_t>(row)].area.toRect(); }

void Column::row_pressed(int row) {
    emit wants_measure(QString::fromUtf8(rows()[static_cast<std::size_t>(row)].judged.info().id.data()));
}

void Column::keyPressEvent(QKeyEvent* e) {
    if (!take_row_key(*this, *e)) QWidget::keyPressEvent(e);
}

}  // namespace aspen::ui
