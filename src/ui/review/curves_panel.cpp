#include "ui/review/curves_panel.hpp"

#include <qcustomplot.h>

#include <QHBoxLayout>
#include <QMouseEvent>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <limits>
#include <set>

#include "app/review/other_rein.hpp"
#include "core/motion/motion_curves.hpp"
#include "core/motion/motion_words.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr int kCurveSide = 16;  // as the film's, so that both stand on one axis

/// What most is argued about comes first; then what has a band, then the rest.
int rank(const core::MotionCurve& c) {
    static constexpr std::string_view kFirstCurves[] = {"lower_leg", "seat_height", "trunk_lean",
                                                        "hand_bob",  "heel_bob",    "head_pitch"};
    const auto at = std::ranges::find(kFirstCurves, c.id);
    if (at != std::end(kFirstCurves)) return static_cast<int>(at - kFirstCurves);
    return c.band ? 10 : 20;
}

QColor faded(QColor c, int alpha) {
    c.setAlpha(alpha);
    return c;
}

}  // namespace

CurvesPanel::CurvesPanel(const app::BenchState& now, app::StrideWork& work, const KeyMap& keys,
                         QWidget* parent)
    : BenchPanel(now, parent), work_(work) {
    setObjectName("ground");
    setAccessibleName(tr("Curves over the strides"));
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 2, 0, 2);
    all->setSpacing(0);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(kCurveSide, 0, kCurveSide, 0);
    head->setSpacing(12);
    title_ = text_label("", this, 14, true);
    said_ = text_label("", this, 14);
    said_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    foot_ = new HintLine(keys, this, 12);
    head->addWidget(title_);
    head->addWidget(said_, 1);
    head->addWidget(foot_);
    all->addLayout(head);
    plot_ = new QCustomPlot(this);
    plot_->setFocusPolicy(Qt::NoFocus);
    plot_->installEventFilter(this);
    plot_->plotLayout()->setMargins({});
    QCPAxisRect* rect = plot_->axisRect();
    rect->setAutoMargins(QCP::msNone);
    rect->setMargins({kCurveSide, 2, kCurveSide, 2});
    for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) {
        axis->grid()->setVisible(false);
        axis->setBasePen(Qt::NoPen);
        axis->setTickPen(Qt::NoPen);
        axis->setSubTickPen(Qt::NoPen);
        axis->setTickLabelSide(QCPAxis::lsInside);
        axis->ticker()->setTickCount(3);
    }
    all->addWidget(plot_, 1);
    all->addStretch(0);  // without a curve the words stay at the top
    connect(&work_, &app::StrideWork::changed, this, [this] {
        if (isVisible()) rebuild();
    });
    dress();
}

void CurvesPanel::show_frame() {
    if (!isVisible() || !now_.is_open()) return;
    const int first = now_.review().stretch().first;
    if (std::exchange(shown_stretch_, first) != first) {
        other_.reset();
        return rebuild();
    }
    place_cursor();
}

void CurvesPanel::dress() {
    const Theme& t = theme();
    plot_->setBackground(t.ground);
    for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) {
        axis->setTickLabelColor(t.quiet);
        axis->setTickLabelFont(text_font(12));
    }
}

void CurvesPanel::changeEvent(QEvent* event) {
    if (event->type() == QEvent::PaletteChange && plot_) {
        dress();
        if (isVisible()) rebuild();
    }
    QWidget::changeEvent(event);
}

std::vector<const core::MotionCurve*> CurvesPanel::curves() const {
    std::vector<const core::MotionCurve*> out;
    if (const core::MotionReport* r = work_.report()) {
        for (const core::MotionCurve& c : r->curves) out.push_back(&c);
    }
    std::ranges::stable_sort(out, {}, [](const core::MotionCurve* c) { return rank(*c); });
    return out;
}

const core::MotionCurve* CurvesPanel::curve() const {
    const auto all = curves();
    const auto at = std::ranges::find(all, chosen_, &core::MotionCurve::id);
    return at != all.end() ? *at : all.empty() ? nullptr : all.front();
}

QString CurvesPanel::title() const { return title_->text(); }
QString CurvesPanel::said() const { return said_->text(); }

void CurvesPanel::move(int by) {
    const auto all = curves();
    if (all.empty()) return;
    const auto at = std::ranges::find(all, curve()) - all.begin();
    chosen_ = all[static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(at + by, 0, std::ssize(all) - 1))]->id;
    rebuild();
}

void CurvesPanel::choose(const std::string& measure) {
    for (const core::MotionCurve* c : curves()) {
        if (c->id == measure || core::stride_measure_of(c->id) == measure) chosen_ = c->id;
    }
    rebuild();
}

void CurvesPanel::lay_over(bool on) {
    laid_over_ = on;
    rebuild();
}

bool CurvesPanel::set_against_other_rein(bool on) {
    other_ = on ? app::report_of_other_rein(now_) : std::nullopt;
    if (other_ && other_->strides.empty()) other_.reset();
    if (other_) laid_over_ = true;
    rebuild();
    return !on || other_.has_value();
}

double CurvesPanel::frame_of(double real_s) const {
    const int frame = work_.frame_at(real_s), last = now_.deck().facts().frames - 1;
    const int other = std::clamp(real_s >= work_.real_at(frame) ? frame + 1 : frame - 1, 0, last);
    const double a = work_.real_at(frame), b = work_.real_at(other);
    return other == frame || a == b ? frame : frame + (other - frame) * (real_s - a) / (b - a);
}

void CurvesPanel::rebuild() {
    plot_->clearGraphs();
    plot_->clearItems();
    cursor_ = nullptr;
    const core::MotionReport* report = work_.report();
    const core::MotionCurve* shown = curve();
    plot_->setVisible(shown != nullptr);
    if (!shown) {
        title_->setText(work_.busy() ? tr("Following …") : tr("Nothing followed yet"));
        said_->clear();
        foot_->say(work_.busy() ? tr("You can go on working.")
                                : tr("[strides] follows the joints of this stretch"));
        setAccessibleDescription(title_->text());
        return;
    }
    chosen_ = shown->id;
    say(*report, *shown);
    fit_values(*shown);
    laid_over_ ? draw_over(*report, *shown) : draw_along(*report, *shown);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

void CurvesPanel::say(const core::MotionReport& report, const core::MotionCurve& shown) {
    title_->setText(sentence(QString::fromStdString(shown.spoken)));
    said_->setText(other_ ? said_of_reins(report, shown)
                          : QString::fromStdString(core::said_of(report, shown, now_.amounts())));
    foot_->say(laid_over_ ? tr("[finding_up] [finding_down] another measure   [curves_over] along the film   "
                               "[other_rein] %1")
                                .arg(other_ ? tr("this rein alone") : tr("against the other rein"))
                          : tr("[finding_up] [finding_down] another   [curves_over] laid over   "
                               "[worst_stride] worst   [stride_start] [stride_off] mend a stride"));
    setAccessibleDescription(title_->text() + ": " + said_->text());
}

void CurvesPanel::fit_values(const core::MotionCurve& shown) {
    low_ = std::numeric_limits<double>::max();
    high_ = std::numeric_limits<double>::lowest();
    for (const double v : shown.values) {
        if (!std::isnan(v)) low_ = std::min(low_, v), high_ = std::max(high_, v);
    }
    if (other_) {
        const auto at = std::ranges::find(other_->curves, shown.id, &core::MotionCurve::id);
        for (const double v : at == other_->curves.end() ? std::vector<double>{} : at->values) {
            if (!std::isnan(v)) low_ = std::min(low_, v), high_ = std::max(high_, v);
        }
    }
    // A band far away would press the curve flat: its near end is enough.
    const double reach = std::max(1.0, high_ - low_);
    if (shown.band) {
        if (shown.band->lo && *shown.band->lo > low_ - reach) low_ = std::min(low_, *shown.band->lo);
        if (shown.band->hi && *shown.band->hi < high_ + reach) high_ = std::max(high_, *shown.band->hi);
    }
    const double room = 0.12 * std::max(1.0, high_ - low_);
    low_ -= 1.3 * room, high_ += 1.8 * room;  // above stand the strides' own marks
    plot_->yAxis->setRange(low_, high_);
    word_axis(shown);
}

/// The axis in riding words: what lies low, what lies where it should, what lies high; how much it is where
/// there are no words for it.
void CurvesPanel::word_axis(const core::MotionCurve& shown) {
    const core::MeasureInfo* measure = core::find_measure(shown.id);
    const std::optional<double> lo = shown.band ? shown.band->lo : std::nullopt,
                                hi = shown.band ? shown.band->hi : std::nullopt;
    const auto side = [&](double v) {
        if (v < lo.value_or(shown.band ? low_ : 0)) return core::Beyond::below;
        return v > hi.value_or(shown.band ? high_ : 0) ? core::Beyond::above : core::Beyond::neither;
    };
    const double span = high_ - low_;
    const double middle = lo && hi ? (*lo + *hi) / 2 : (low_ + high_) / 2;
    const double at[] = {low_ + 0.1 * span, middle, high_ - 0.16 * span};
    // Where all of it lies on one side the words would say one thing thrice: then how much it is.
    const bool told_apart = measure && side(at[0]) != side(at[2]);
    const auto words = [&](double v) {
        if (told_apart)
            return text(now_.knowledge().measure_words.of_value(*measure, side(v), v, now_.knowledge().body,
                                                                now_.to_whom()));
        const QString amount = text(now_.amounts().of(shown.id, shown.unit, v));
        return v < 0 && !amount.startsWith(QString::fromUtf8("−")) ? QString::fromUtf8("−") + amount : amount;
    };
    const QSharedPointer<QCPAxisTickerText> ticks(new QCPAxisTickerText);
    for (const double v : at) {
        // Two words never lie over each other.
        const bool clear = std::ranges::none_of(
            ticks->ticks().keys(), [&](double other) { return std::abs(other - v) < 0.22 * span; });
        if (clear) ticks->addTick(v, words(v));
    }
    plot_->yAxis->setTicker(ticks);
}

void CurvesPanel::draw_band(const core::MotionCurve& shown, double from, double to) {
    if (!shown.band) return;
    auto* band = new QCPItemRect(plot_);
    band->setPen(Qt::NoPen);
    band->setBrush(faded(theme().quiet, 38));
    band->topLeft->setCoords(from, std::min(high_, shown.band->hi.value_or(high_)));
    band->bottomRight->setCoords(to, std::max(low_, shown.band->lo.value_or(low_)));
}

void CurvesPanel::draw_along(const core::MotionReport& report, const core::MotionCurve& shown) {
    const Theme& t = theme();
    plot_->xAxis->setRange(0, std::max(1, now_.deck().facts().frames - 1));
    plot_->xAxis->setTickLabels(false);
    const auto frames = [&](double s) { return frame_of(s); };
    draw_band(shown, frames(report.times.front()), frames(report.times.back()));
    draw_strides(report, shown);
    QCPGraph* line = plot_->addGraph();
    line->setPen(QPen(t.ink, 1.6));
    line->setAntialiased(true);
    QVector<double> xs, ys;
    for (std::size_t i = 0; i < report.times.size(); ++i) {
        xs << frames(report.times[i]);
        ys << shown.values[i];  // a NaN leaves a gap
    }
    line->setData(xs, ys, true);
    mark_moments(report, shown);
    cursor_ = new QCPItemLine(plot_);
    cursor_->setPen(QPen(t.sky, 1.4));
    for (QCPItemPosition* end : {cursor_->start, cursor_->end})
        end->setTypeY(QCPItemPosition::ptAxisRectRatio);
    place_cursor();
}

void CurvesPanel::draw_strides(const core::MotionReport& report, const core::MotionCurve& shown) {
    const Theme& t = theme();
    const core::MotionMeasure* m = core::find(report, core::stride_measure_of(shown.id));
    std::set<std::size_t> outside;
    if (m) {
        for (const std::size_t i : core::strides_outside(*m)) outside.insert(i);
    }
    for (std::size_t i = 0; i < report.strides.size(); ++i) {
        const core::StrideSpan& s = report.strides[i];
        const double from = frame_of(s.start_s), to = frame_of(s.end_s);
        auto* rule = new QCPItemLine(plot_);
        rule->setPen(QPen(t.line, 1));
        for (QCPItemPosition* end : {rule->start, rule->end}) end->setTypeY(QCPItemPosition::ptAxisRectRatio);
        rule->start->setCoords(from, 0);
        rule->end->setCoords(from, 1);
        if (!m || i >= m->by_stride.size() || !m->by_stride[i]) continue;
        const bool out = outside.contains(i);
        if (out) {  // a bar over the whole stride, so that it is seen without colour too
            auto* bar = new QCPItemLine(plot_);
            bar->setPen(QPen(t.clay, 3, Qt::SolidLine, Qt::FlatCap));
            for (QCPItemPosition* end : {bar->start, bar->end})
                end->setTypeY(QCPItemPosition::ptAxisRectRatio);
            bar->start->setCoords(from, 0.01);
            bar->end->setCoords(to, 0.01);
        }
        auto* value = new QCPItemText(plot_);
        value->setText(text(now_.amounts().of(m->id, m->unit, *m->by_stride[i])));
        value->setFont(text_font(12, out));
        value->setColor(out ? t.clay : t.quiet);
        value->setPositionAlignment(Qt::AlignTop | Qt::AlignHCenter);
        value->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
        value->position->setCoords((from + to) / 2, 0.03);
    }
}

void CurvesPanel::mark_moments(const core::MotionReport& report, const core::MotionCurve& shown) {
    const Theme& t = theme();
    QCPGraph* dots = plot_->addGraph();
    dots->setLineStyle(QCPGraph::lsNone);
    dots->setScatterStyle({QCPScatterStyle::ssDisc, t.sky, t.sky, 6});
    for (const store::Moment& m : now_.review().moments()) {
        if (m.slot != now_.review().slot()) continue;
        const double at = work_.real_at(m.frame);
        const auto near = std::ranges::lower_bound(report.times, at);
        if (near == report.times.end()) continue;
        const double v = shown.values[static_cast<std::size_t>(near - report.times.begin())];
        if (at >= report.times.front() - 0.05 && !std::isnan(v)) dots->addData(m.frame, v);
    }
    for (const store::Event& e : now_.review().events()) {
        if (e.slot != now_.review().slot()) continue;
        auto* tick = new QCPItemLine(plot_);
        tick->setPen(QPen(t.ink, 1.4));
        for (QCPItemPosition* end : {tick->start, tick->end}) end->setTypeY(QCPItemPosition::ptAxisRectRatio);
        const double at = frame_of(now_.deck().capture_map().real_s(e.time_s));
        tick->start->setCoords(at, 0.93);
        tick->end->setCoords(at, 1);
    }
}

void CurvesPanel::draw_over(const core::MotionReport& report, const core::MotionCurve& shown) {
    const Theme& t = theme();
    plot_->xAxis->setRange(-2, 102);  // room for the labels at both ends
    plot_->xAxis->setTickLabels(true);
    draw_band(shown, 0, 100);
    const core::StridesLaidOver over = core::lay_over(report, shown);
    const core::MotionMeasure* m = core::find(report, core::stride_measure_of(shown.id));
    const std::size_t worst = (m ? core::worst_stride(*m) : std::nullopt).value_or(over.strides.size());
    const auto add = [&](const std::vector<double>& values, const QPen& pen) {
        QCPGraph* g = plot_->addGraph();
        g->setPen(pen);
        for (std::size_t k = 0; k < values.size(); ++k) g->addData(2.0 * static_cast<double>(k), values[k]);
        return g;
    };
    if (!over.mean.empty()) {
        std::vector<double> up = over.mean, down = over.mean;
        for (std::size_t k = 0; k < up.size(); ++k) up[k] += over.spread[k], down[k] -= over.spread[k];
        QCPGraph* top = add(up, Qt::NoPen);
        QCPGraph* bottom = add(down, Qt::NoPen);
        top->setBrush(faded(t.ink, 36));
        top->setChannelFillGraph(bottom);
    }
    for (std::size_t i = 0; i < over.strides.size(); ++i) {
        if (worst != i) add(over.strides[i], QPen(faded(t.quiet, 120), 1));
    }
    if (worst < over.strides.size()) add(over.strides[worst], QPen(t.ink, 1.4, Qt::DashLine));
    add(over.mean, QPen(t.ink, 2.4));
    if (other_) draw_other_rein(shown);
}

void CurvesPanel::draw_other_rein(const core::MotionCurve& shown) {
    const auto at = std::ranges::find(other_->curves, shown.id, &core::MotionCurve::id);
    if (at == other_->curves.end()) return;
    core::StridesLaidOver over = core::lay_over(*other_, *at);
    const core::MotionReport* here = work_.report();
    const bool either = here && (here->parity == "unknown" || other_->parity == "unknown");
    if (either && core::half_a_stride_apart(core::lay_over(*here, shown), over))
        over = core::begun_half_later(std::move(over));
    for (const double side : {-1.0, 0.0, 1.0}) {  // dashed, so that both reins are told apart without colour
        QCPGraph* g = plot_->addGraph();
        g->setPen(QPen(side == 0 ? theme().sky : faded(theme().sky, 110), side == 0 ? 2.4 : 1, Qt::DashLine));
        for (std::size_t k = 0; k < over.mean.size(); ++k)
            g->addData(2.0 * static_cast<double>(k), over.mean[k] + side * over.spread[k]);
    }
}

QString CurvesPanel::said_of_reins(const core::MotionReport& report, const core::MotionCurve& shown) const {
    const bool left = now_.review().stretch().rein == core::Rein::left;
    const auto value = [&](const core::MotionReport& r) {
        const core::MotionMeasure* m = core::find(r, core::stride_measure_of(shown.id));
        if (!m || !m->value) return tr("no value");
        return text(now_.amounts().with_doubt(m->id, m->unit, *m->value, m->sd));
    };
    return tr("%1 rein %2 a stride · ┄ %3 rein %4")
        .arg(left ? tr("left") : tr("right"), value(report), left ? tr("right") : tr("left"), value(*other_));
}

void CurvesPanel::place_cursor() {
    if (!cursor_) return;
    const double x = now_.deck().frame();
    cursor_->start->setCoords(x, 0);
    cursor_->end->setCoords(x, 1);
    plot_->replot(QCustomPlot::rpQueuedReplot);
}

bool CurvesPanel::go_to_worst() {
    const core::MotionReport* report = work_.report();
    const core::MotionCurve* shown = curve();
    const core::MotionMeasure* m =
        report && shown ? core::find(*report, core::stride_measure_of(shown->id)) : nullptr;
    const auto worst = m ? core::worst_stride(*m) : std::nullopt;
    if (!worst) return false;
    emit wants(app::GoTo{work_.frame_at(core::farthest_in(*report, *shown, *worst))});
    return true;
}

bool CurvesPanel::eventFilter(QObject* object, QEvent* event) {
    const bool press = event->type() == QEvent::MouseButtonPress, moves = event->type() == QEvent::MouseMove,
               lets = event->type() == QEvent::MouseButtonRelease;
    if (object != plot_ || laid_over_ || !(press || moves || lets))
        return QWidget::eventFilter(object, event);
    auto* mouse = static_cast<QMouseEvent*>(event);
    if (lets) {
        emit wants(app::RestHere{});
        return true;
    }
    if (!(mouse->buttons() & Qt::LeftButton)) return QWidget::eventFilter(object, event);
    const double x = plot_->xAxis->pixelToCoord(mouse->position().x());
    emit wants(app::GoTo{std::clamp(static_cast<int>(std::lround(x)), 0, now_.deck().facts().frames - 1),
                         media::Motion::scrub});
    return true;
}

}  // namespace aspen::ui

#include "moc_curves_panel.cpp"
