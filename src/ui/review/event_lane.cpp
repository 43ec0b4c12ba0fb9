#include "ui/review/event_lane.hpp"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "core/motion/happening_words.hpp"
#include "ui/shared/theme.hpp"
#include "ui/shared/widgets.hpp"

namespace aspen::ui {
namespace {

constexpr double kLaneSide = 16, kReach = 6, kHalf = 4.5;

bool one_of(const std::string& event, std::initializer_list<const char*> words) {
    return std::ranges::any_of(words, [&](const char* w) { return event == w; });
}

QPainterPath triangle(QPointF a, QPointF b, QPointF c) {
    QPainterPath path(a);
    path.lineTo(b);
    path.lineTo(c);
    path.closeSubpath();
    return path;
}

void paint_mark(QPainter& p, const std::string& event, QPointF c, const QColor& ink) {
    const double h = kHalf;
    p.setPen(QPen(ink, 1.6, Qt::SolidLine, Qt::RoundCap));
    p.setBrush(Qt::NoBrush);
    if (event == "aid") return p.drawLine(c + QPointF(0, -h), c + QPointF(0, h));
    if (event == "aid_off") return p.drawLine(c + QPointF(-h, h), c + QPointF(h, h));
    if (event == "answer")
        return p.drawPolyline(QPolygonF{c + QPointF(-h, 0), c + QPointF(-1, h), c + QPointF(h, -h)});
    if (one_of(event, {"attempt", "good_one"})) {
        if (event == "good_one") p.setBrush(ink);
        return p.drawEllipse(c, h - 0.5, h - 0.5);
    }
    if (one_of(event, {"fence", "pole", "take_off", "landing"})) {
        p.drawLine(c + QPointF(-h, h), c + QPointF(h, h));
        if (event != "pole") p.drawLine(c + QPointF(-h, -1), c + QPointF(h, -1));
        return;
    }
    const bool wrong = event.starts_with("wrong_");
    if (wrong || one_of(event, {"break", "spook", "bounce", "iron_lost"})) {
        p.drawLine(c + QPointF(-h, -h), c + QPointF(h, h));
        p.drawLine(c + QPointF(-h, h), c + QPointF(h, -h));
        return;
    }
    p.setBrush(ink);
    p.setPen(Qt::NoPen);
    if (event == "set_again")
        return p.drawPath(triangle(c + QPointF(-h, h), c + QPointF(h, h), c + QPointF(0, -h)));
    if (event == "let_go") {
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(ink, 1.6));
        return p.drawPath(triangle(c + QPointF(-h, -h), c + QPointF(h, -h), c + QPointF(0, h)));
    }
    if (event.ends_with("_left"))
        return p.drawPath(triangle(c + QPointF(h, -h), c + QPointF(h, h), c + QPointF(-h, 0)));
    if (event.ends_with("_right"))
        return p.drawPath(triangle(c + QPointF(-h, -h), c + QPointF(-h, h), c + QPointF(h, 0)));
    p.drawRect(QRectF(c.x() - 2.5, c.y() - 2.5, 5, 5));
}

}  // namespace

EventLane::EventLane(const app::BenchState& now, app::EventLog& log, QWidget* parent)
    : BenchPanel(now, parent), log_(log) {
    setFixedHeight(22);
    setMouseTracking(true);
    setAccessibleName(tr("What happened"));
    connect(&log_, &app::EventLog::changed, this, &EventLane::refresh);
    refresh();
}

void EventLane::show_frame() { update(); }

void EventLane::clip_opened() { refresh(); }

void EventLane::clip_closing() { refresh(); }

void EventLane::refresh() {
    setVisible(now_.is_open() && (log_.on() || !now_.review().events().empty()));
    QStringList all;
    for (const store::Event& e : now_.review().events())
        all << tr("%1 s %2")
                   .arg(e.time_s, 0, 'f', 2)
                   .arg(text(core::spoken(core::Happening{0, e.event, e.detail})));
    setAccessibleDescription(all.join(", "));
    update();
}

double EventLane::x_of(double time_s) const {
    const auto& times = now_.deck().facts().pts_s;
    if (times.size() < 2) return kLaneSide;
    const auto after = std::ranges::upper_bound(times, time_s);
    const auto i = std::clamp<std::ptrdiff_t>(after - times.begin() - 1, 0, std::ssize(times) - 2);
    const auto at = times.begin() + i;
    const double share = std::clamp((time_s - *at) / std::max(1e-9, *(at + 1) - *at), 0.0, 1.0);
    return kLaneSide + (width() - 2 * kLaneSide) * (static_cast<double>(i) + share) /
                           static_cast<double>(times.size() - 1);
}

double EventLane::time_at(double x) const {
    const auto& times = now_.deck().facts().pts_s;
    if (times.size() < 2) return 0;
    const double place = std::clamp((x - kLaneSide) / (width() - 2 * kLaneSide), 0.0, 1.0) *
                         static_cast<double>(times.size() - 1);
    const auto i = std::min<std::size_t>(static_cast<std::size_t>(place), times.size() - 2);
    return times[i] + (place - static_cast<double>(i)) * (times[i + 1] - times[i]);
}

const store::Event* EventLane::event_at(QPointF p) const {
    const store::Event* best = nullptr;
    double near = kReach;
    for (const store::Event& e : now_.review().events()) {
        if (e.slot != now_.review().slot()) continue;
        const double d = std::abs(x_of(e.time_s) - p.x());
        if (d <= near) {
            near = d;
            best = &e;
        }
    }
    return best;
}

void EventLane::mousePressEvent(QMouseEvent* e) {
    if (!now_.deck().ready()) return;
    const store::Event* at = event_at(e->position());
    held_ = at != nullptr;
    log_.begin_move();
    if (at) log_.choose(at->id);
    const auto& times = now_.deck().facts().pts_s;
    const double s = at ? at->time_s : time_at(e->position().x());
    const auto frame = std::ranges::lower_bound(times, s - 1e-6) - times.begin();
    emit wants(app::GoTo{std::min(static_cast<int>(frame), now_.deck().facts().frames - 1)});
}

void EventLane::mouseMoveEvent(QMouseEvent* e) {
    if (!(e->buttons() & Qt::LeftButton) || !held_)
        return setCursor(event_at(e->position()) ? Qt::PointingHandCursor : Qt::ArrowCursor);
    log_.move_to(time_at(e->position().x()));
}

void EventLane::mouseReleaseEvent(QMouseEvent*) { held_ = false; }

bool EventLane::event(QEvent* e) {
    if (e->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(e);
        if (const store::Event* at = event_at(help->pos()))
            QToolTip::showText(help->globalPos(),
                               text(core::spoken(core::Happening{0, at->event, at->detail})), this);
        else
            QToolTip::hideText();
        return true;
    }
    return QWidget::event(e);
}

void EventLane::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (!now_.deck().ready()) return;
    const double middle = height() / 2.0;
    p.setPen(QPen(t.line, 1));
    p.drawLine(QPointF(kLaneSide, middle), QPointF(width() - kLaneSide, middle));
    const auto& times = now_.deck().facts().pts_s;
    const double here = x_of(times[static_cast<std::size_t>(now_.deck().frame())]);
    p.setPen(QPen(t.quiet, 1));
    p.drawLine(QPointF(here, 0), QPointF(here, height()));
    const auto chosen = log_.chosen();
    for (const store::Event& e : now_.review().events()) {
        if (e.slot != now_.review().slot()) continue;
        const QPointF c(x_of(e.time_s), middle);
        const bool now = chosen && chosen->id == e.id;
        if (now) {
            p.setPen(Qt::NoPen);
            p.setBrush(t.sky);
            p.drawEllipse(c, 9, 9);
        } else if (e.event == "lap_line") {
            p.setPen(QPen(t.ink, 1.6));
            p.drawLine(QPointF(c.x(), 1), QPointF(c.x(), height() - 1));
            continue;
        } else {
            p.setPen(Qt::NoPen);
            p.setBrush(t.ground);
            p.drawEllipse(c, 7, 7);
        }
        paint_mark(p, e.event, c, now ? t.ground : t.ink);
    }
}

}  // namespace aspen::ui

#include "moc_event_lane.cpp"
