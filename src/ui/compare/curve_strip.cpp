#include "ui/compare/curve_strip.hpp"

#include <qcustomplot.h>

#include <QMouseEvent>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "core/motion/motion_curves.hpp"
#include "ui/shared/figure_painter.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

const core::MotionCurve* curve(const core::MotionReport& r, const std::string& id) {
    const auto at = std::ranges::find(r.curves, id, &core::MotionCurve::id);
    return at == r.curves.end() ? nullptr : &*at;
}

/// Told apart by their line, not by colour alone.
Qt::PenStyle style_of(std::size_t side) {
    constexpr Qt::PenStyle kStyles[] = {Qt::SolidLine, Qt::DashLine, Qt::DotLine, Qt::DashDotLine};
    return kStyles[side % 4];
}

}  // namespace

CurveStrip::CurveStrip(app::Comparison& comparison, QWidget* parent)
    : QWidget(parent), comparison_(comparison) {
    setAccessibleName(tr("Averaged strides"));
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 4, 0, 0);
    all->setSpacing(0);
    auto* head = new QHBoxLayout;
    title_ = text_label({}, this, 14, true);
    said_ = text_label({}, this, 14);
    said_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    head->addWidget(title_);
    head->addSpacing(12);
    head->addWidget(said_, 1);
    all->addLayout(head);
    plot_ = new QCustomPlot(this);
    plot_->setFocusPolicy(Qt::NoFocus);
    plot_->installEventFilter(this);
    plot_->setMinimumHeight(110);
    plot_->plotLayout()->setMargins({});
    QCPAxisRect* rect = plot_->axisRect();
    rect->setAutoMargins(QCP::msNone);
    rect->setMargins({scaled_px(8), 2, 8, 18});
    for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) {
        axis->grid()->setVisible(false);
        axis->setBasePen(Qt::NoPen);
        axis->setTickPen(Qt::NoPen);
        axis->setSubTickPen(Qt::NoPen);
        axis->setTickLabelSide(QCPAxis::lsInside);
    }
    plot_->xAxis->setTickLabelSide(QCPAxis::lsOutside);
    const QSharedPointer<QCPAxisTickerText> stride(new QCPAxisTickerText);
    stride->addTick(4, tr("a stride begins"));
    stride->addTick(50, tr("half of it"));
    plot_->xAxis->setTicker(stride);
    plot_->xAxis->setRange(0, 100);
    all->addWidget(plot_, 1);
    dress();
}

void CurveStrip::dress() {
    const Theme& t = theme();
    plot_->setBackground(t.ground);
    for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) {
        axis->setTickLabelColor(t.quiet);
        axis->setTickLabelFont(text_font(12));
    }
}
void CurveStrip::changeEvent(QEvent* e) {
    if (e->type() == QEvent::PaletteChange && plot_) {
        dress();
        if (isVisible()) rebuild();
    }
    QWidget::changeEvent(e);
}

std::vector<std::string> CurveStrip::common() const {
    std::vector<std::string> out;
    for (std::size_t i = 0; i < comparison_.count(); ++i) {
        const core::MotionReport* r = comparison_.strides(i);
        if (!r) continue;
        for (const core::MotionCurve& c : r->curves) {
            if (std::ranges::find(out, c.id) == out.end()) out.push_back(c.id);
        }
    }
    return out;
}

bool CurveStrip::rebuild() {
    const auto ids = common();
    setVisible(!ids.empty());
    if (ids.empty()) return false;
    if (std::ranges::find(ids, chosen_) == ids.end()) {
        const auto leg = std::ranges::find(ids, "lower_leg");
        chosen_ = leg != ids.end() ? *leg : ids.front();
    }
    draw(chosen_);
    return true;
}

void CurveStrip::next() {
    const auto ids = common();
    if (ids.empty()) return;
    const auto at = std::ranges::find(ids, chosen_);
    chosen_ = at == ids.end() || std::next(at) == ids.end() ? ids.front() : *std::next(at);
    rebuild();
}

/// One side's mean with its spread; widens `range` to hold it.
void CurveStrip::draw_side(std::size_t side, const core::StridesLaidOver& over, Range& range) {
    QVector<double> places(core::kPlacesOfStride), mean, upper, lower;
    for (int i = 0; i < core::kPlacesOfStride; ++i) places[i] = 100.0 * i / (core::kPlacesOfStride - 1);
    for (std::size_t k = 0; k < over.mean.size(); ++k) {
        mean << over.mean[k];
        upper << over.mean[k] + over.spread[k];
        lower << over.mean[k] - over.spread[k];
        range.low = std::min(range.low, lower.back());
        range.high = std::max(range.high, upper.back());
    }
    const QColor ink = side == 0 ? theme().quiet : theme().ink;
    QColor soft = ink;
    soft.setAlpha(34);
    QCPGraph* top = plot_->addGraph();
    top->setData(places, upper, true);
    top->setPen(Qt::NoPen);
    top->setBrush(soft);
    QCPGraph* bottom = plot_->addGraph();
    bottom->setData(places, lower, true);
    bottom->setPen(Qt::NoPen);
    top->setChannelFillGraph(bottom);
    QCPGraph* line = plot_->addGraph();
    line->setData(places, mean, true);
    line->setPen(QPen(ink, 2, style_of(side)));
}

/// The band behind the curves; a limit that lies near them is shown too.
void CurveStrip::draw_band(const core::Band& band, Range& range) {
    const double high = range.high - range.low;
    for (const auto& limit : {band.lo, band.hi}) {
        if (!limit || *limit < range.low - high || *limit > range.high + high) continue;
        range.low = std::min(range.low, *limit);
        range.high = std::max(range.high, *limit);
    }
    auto* area = new QCPItemRect(plot_);
    area->setLayer("background");
    QColor teal = theme().teal;
    teal.setAlpha(38);
    area->setBrush(teal);
    area->setPen(Qt::NoPen);
    area->topLeft->setCoords(0, band.hi.value_or(range.high + 1000));
    area->bottomRight->setCoords(100, band.lo.value_or(range.low - 1000));
}

void CurveStrip::draw(const std::string& id) {
    plot_->clearGraphs();
    plot_->clearItems();
    Range range;
    QStringList said;
    std::optional<core::Band> band;
    std::optional<core::StridesLaidOver> first;
    QString spoken;
    std::string unit;
    for (std::size_t i = 0; i < comparison_.count(); ++i) {
        const core::MotionReport* r = comparison_.strides(i);
        const core::MotionCurve* c = r ? curve(*r, id) : nullptr;
        if (!c) continue;
        core::StridesLaidOver over = core::lay_over(*r, *c);
        if (over.mean.empty()) continue;
        const bool unsure = first && (r->parity == "unknown" || comparison_.strides(0)->parity == "unknown");
        if (unsure && core::half_a_stride_apart(*first, over)) over = core::begun_half_later(std::move(over));
        if (!first) first = over;
        spoken = text(c->spoken);
        unit = c->unit;
        if (c->band) band = c->band;
        draw_side(i, over, range);
        const auto [least, most] = std::ranges::minmax(over.mean);
        said << tr("%1: %2 through the stride, %3 strides")
                    .arg(i + 1)
                    .arg(comparison_.amount_of(c->id, c->unit, most - least))
                    .arg(r->strides.size());
    }
    title_->setText(sentence(spoken));
    said_->setText(said.join("   ·   "));
    setAccessibleDescription(title_->text() + ": " + said_->text());
    if (range.low > range.high) return plot_->replot();
    if (band) draw_band(*band, range);
    const double air = 0.08 * (range.high - range.low) + 0.1;
    plot_->yAxis->setRange(range.low - air, range.high + air);
    const QSharedPointer<QCPAxisTickerText> ends(new QCPAxisTickerText);
    for (const double v : {range.low, range.high}) {  // how much it is, as riders say it
        const QString amount = comparison_.amount_of(id, unit, v);
        const QString minus = QString::fromUtf8("−");
        ends->addTick(v, v < 0 && !amount.startsWith(minus) ? minus + amount : amount);
    }
    plot_->yAxis->setTicker(ends);
    cursor_ = new QCPItemStraightLine(plot_);
    cursor_->setPen(QPen(theme().quiet, 1));
    show_phase(0);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

void CurveStrip::show_phase(double phase) {
    if (!cursor_ || !plot_->hasItem(cursor_)) return;
    cursor_->point1->setCoords(100 * phase, 0);
    cursor_->point2->setCoords(100 * phase, 1);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

bool CurveStrip::eventFilter(QObject* watched, QEvent* e) {
    const bool press = e->type() == QEvent::MouseButtonPress, move = e->type() == QEvent::MouseMove;
    if (watched == plot_ && (press || move)) {
        const auto* mouse = static_cast<QMouseEvent*>(e);
        if (press || mouse->buttons() & Qt::LeftButton) {
            emit phase_pressed(
                std::clamp(plot_->xAxis->pixelToCoord(mouse->position().x()) / 100, 0.0, 0.999));
            return true;
        }
    }
    return QWidget::eventFilter(watched, e);
}

}  // namespace aspen::ui

#include "moc_curve_strip.cpp"
