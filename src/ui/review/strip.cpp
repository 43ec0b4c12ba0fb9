#include "ui/review/strip.hpp"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <vector>

#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

/// When feet land within a stride (TRADE: four even beats; two pairs with a gap; three and a rest).
std::vector<double> beats(core::Gait gait) {
    using G = core::Gait;
    switch (gait) {
        case G::halt: return {};
        case G::trot: return {0.0, 0.07, 0.5, 0.57};
        case G::canter: return {0.0, 0.22, 0.44};
        case G::pace: case G::step_pace: return {0.0, 0.12, 0.5, 0.62};
        case G::jump: return {0.0, 0.08};
        default: return {0.0, 0.25, 0.5, 0.75};
    }
}

}  // namespace

Strip::Strip(app::Bench& bench, QWidget* parent) : QWidget(parent), bench_(bench) {
    setFixedHeight(56);
    setAccessibleName("Position in the clip");
    const auto refresh = [this] { update(); };
    connect(&bench_, &app::Bench::frame_changed, this, refresh);
    connect(&bench_, &app::Bench::moments_changed, this, refresh);
    connect(&bench_, &app::Bench::clip_opened, this, refresh);
    connect(&bench_, &app::Bench::opening, this, [this](double share) {
        opening_ = share;
        update();
    });
}

QRectF Strip::track() const { return QRectF(16, 12, width() - 32.0, 14); }

void Strip::go(double x) {
    if (!bench_.ready()) return;
    const double share = std::clamp((x - track().left()) / track().width(), 0.0, 1.0);
    bench_.go_to(static_cast<int>(std::lround(share * (bench_.facts().frames - 1))));
}
void Strip::mousePressEvent(QMouseEvent* e) { go(e->position().x()); }
void Strip::mouseMoveEvent(QMouseEvent* e) {
    if (e->buttons() & Qt::LeftButton) go(e->position().x());
}

void Strip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    p.fillRect(rect(), t.ground);
    const QRectF bar = track();
    p.setPen(Qt::NoPen);
    p.setBrush(t.line);
    p.drawRoundedRect(bar, 7, 7);
    p.setFont(text_font(12));
    if (!bench_.ready()) {
        if (bench_.is_open() && opening_ > 0) {
            p.setBrush(t.quiet);
            p.drawRoundedRect(QRectF(bar.left(), bar.top(), bar.width() * opening_, bar.height()), 7, 7);
            p.setPen(t.quiet);
            p.drawText(QRectF(16, 30, width() - 32.0, 20), Qt::AlignLeft, "counting the frames …");
        }
        return;
    }
    const media::ClipFacts& facts = bench_.facts();
    const auto x_of = [&](int frame) { return bar.left() + bar.width() * frame / std::max(1, facts.frames - 1); };
    if (const auto gait = bench_.clip().context.gait) {
        p.setBrush(t.quiet);
        const double stride = 46, direction = bench_.clip().context.travel == core::Travel::left ? -1 : 1;
        for (double start = 8; start + stride < bar.width(); start += stride) {
            for (const double beat : beats(*gait)) {
                const double x = start + beat * stride;
                p.drawEllipse(QPointF(direction > 0 ? bar.left() + x : bar.right() - x, bar.center().y()), 2, 2);
            }
        }
    }
    for (const store::Moment& m : bench_.moments()) {
        const double x = x_of(m.frame);
        p.setBrush(t.ink);
        const QPointF pin[] = {{x, bar.bottom() + 1}, {x - 5, bar.bottom() + 9}, {x + 5, bar.bottom() + 9}};
        p.drawPolygon(pin, 3);
        p.drawRect(QRectF(x - 0.75, bar.top() - 3, 1.5, bar.height() + 6));
    }
    const double x = x_of(bench_.frame());
    p.setBrush(t.panel);
    p.setPen(QPen(t.ink, 2));
    p.drawRoundedRect(QRectF(x - 5, bar.top() - 6, 10, bar.height() + 12), 4, 4);
    const double now = facts.pts_s[static_cast<std::size_t>(bench_.frame())];
    p.setPen(t.ink);
    p.setFont(text_font(14, true));
    const QString frame = QString("Frame %1").arg(bench_.frame());
    p.drawText(QRectF(16, 34, 300, 20), Qt::AlignLeft | Qt::AlignVCenter, frame);
    const double used = p.fontMetrics().horizontalAdvance(frame) + 10;
    p.setFont(text_font(12));
    p.setPen(t.quiet);
    p.drawText(QRectF(16 + used, 34, 460, 20), Qt::AlignLeft | Qt::AlignVCenter,
               QString("of %1 · %2 s%3").arg(facts.frames - 1).arg(now, 0, 'f', 3).arg(facts.time_source == media::TimeSource::stream ? QString() : QStringLiteral(" (times made, the clip has none)")));
    p.drawText(QRectF(16, 34, width() - 32.0, 20), Qt::AlignRight | Qt::AlignVCenter, "← → step · Shift ten · PgUp PgDn moments");
}

}  // namespace aspen::ui
