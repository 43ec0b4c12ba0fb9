#include "ui/review/turned_horse.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <algorithm>
#include <cmath>

#include "ui/shared/rail.hpp"
#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

struct Solid {
    double x, y, z;
};  // metres: forward, up, towards the camera

/// A limb of the horse between two points, with its thickness.
struct Part {
    Solid a, b;
    double wide;
};
const Part kHorse[] = {{{0.50, 1.15, -0.18}, {0.42, 0.05, -0.18}, 0.10},
                       {{-0.60, 1.15, -0.20}, {-0.72, 0.05, -0.20}, 0.12},  // far legs
                       {{-0.55, 1.28, 0}, {0.50, 1.25, 0}, 0.60},
                       {{-0.66, 1.34, 0}, {-0.40, 1.32, 0}, 0.66},
                       {{0.40, 1.30, 0}, {0.60, 1.22, 0}, 0.52},
                       {{0.50, 1.36, 0}, {0.90, 1.76, 0}, 0.36},
                       {{0.90, 1.80, 0}, {1.22, 1.50, 0}, 0.22},
                       {{0.86, 1.92, 0.05}, {0.84, 2.02, 0.06}, 0.06},  // neck, head, ear
                       {{-0.92, 1.42, 0}, {-1.06, 0.75, 0}, 0.11},      // tail
                       {{0.50, 1.15, 0.18}, {0.50, 0.05, 0.18}, 0.11},
                       {{-0.60, 1.15, 0.20}, {-0.66, 0.05, 0.20}, 0.13}};

}  // namespace

TurnedHorse::TurnedHorse(const app::BenchState& now, const KeyMap& keys, QWidget* parent)
    : BenchPanel(now, parent) {
    auto* hint = new HintLine(keys, this);
    hint->say(tr("[=←] [=→] turn, Shift by five · [=Enter] keeps · [=Esc] leaves"));
    hint->move(14, 206);
    connect(hint, &HintLine::pressed, this, [this](const QString& key) {
        if (key == "Enter") return keep();
        if (key == "Esc") return leave();
        turn(key == "←" ? -1 : 1);
    });
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Turn the drawn horse until it looks like the picture"));
    setFixedSize(300, 236);
    hide();
}

void TurnedHorse::open() {
    if (!now_.is_open()) return;
    yaw_ = now_.review().stretch().camera.yaw_deg;
    move(parentWidget()->width() - width() - 12, 12);
    raise();
    show();
    setFocus();
}

void TurnedHorse::turn(double by) {
    yaw_ = std::clamp(yaw_ + by, -60.0, 60.0);
    update();
}

void TurnedHorse::keep() {
    core::CameraPose camera = now_.review().stretch().camera;
    camera.yaw_deg = yaw_;
    camera.yaw_sd_deg = kByEyeSdDeg;
    camera.yaw_marked = true;
    leave();
    emit wants(app::SayCamera{camera, tr("turn of the view")});
}

void TurnedHorse::leave() {
    hide();
    emit closed();
}

void TurnedHorse::keyPressEvent(QKeyEvent* e) {
    const double by = e->modifiers() & Qt::ShiftModifier ? 5 : 1;
    switch (e->key()) {
        case Qt::Key_Left:
        case Qt::Key_Down:
            return turn(-by);
        case Qt::Key_Right:
        case Qt::Key_Up:
            return turn(by);
        case Qt::Key_Return:
        case Qt::Key_Enter:
            return keep();
        case Qt::Key_Escape:
            return leave();
        default:
            QWidget::keyPressEvent(e);
    }
}

void TurnedHorse::mousePressEvent(QMouseEvent* e) {
    press_x_ = e->position().x();
    press_yaw_ = yaw_;
}
void TurnedHorse::mouseMoveEvent(QMouseEvent* e) {
    if (!(e->buttons() & Qt::LeftButton)) return;
    yaw_ = press_yaw_;
    turn(std::round((e->position().x() - press_x_) / 3));
}

void TurnedHorse::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    p.setPen(Qt::NoPen);
    p.setBrush(t.panel);
    p.drawRoundedRect(rect(), 12, 12);
    const double psi = core::radians(yaw_),
                 sign = now_.is_open() && now_.review().stretch().travel == core::Travel::left ? -1 : 1,
                 size = 62;
    // A camera a few horse lengths away, as in a school: what is nearer is a little larger.
    const auto at = [&](const Solid& s) {
        const double across = s.x * std::cos(psi) + s.z * std::sin(psi),
                     near = -s.x * std::sin(psi) + s.z * std::cos(psi);
        const double k = 1 / (1 - near / 9);
        return QPointF(width() / 2.0 + sign * across * size * k, 178 - s.y * size * k);
    };
    std::vector<std::pair<double, const Part*>> order;
    for (const Part& part : kHorse)
        order.emplace_back(
            -(part.a.x + part.b.x) / 2 * std::sin(psi) + (part.a.z + part.b.z) / 2 * std::cos(psi), &part);
    std::ranges::stable_sort(order, {}, &std::pair<double, const Part*>::first);
    p.setPen(QPen(t.line, 1));
    p.drawLine(QPointF(30, 176), QPointF(width() - 30, 176));
    for (const auto& [near, part] : order) {
        QColor coat = t.quiet;
        coat = coat.lighter(static_cast<int>(100 + 22 * (near + 0.3)));
        p.setPen(QPen(coat, part->wide * size, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(at(part->a), at(part->b));
    }
    p.setPen(t.ink);
    p.setFont(text_font(14, true));
    p.drawText(QRectF(14, 8, width() - 28, 22), Qt::AlignLeft | Qt::AlignVCenter,
               tr("Turn it until it looks like yours"));
    p.setFont(text_font(12));
    p.setPen(t.quiet);
    const QString way = std::abs(yaw_) < 0.5 ? tr("square to the camera")
                        : yaw_ > 0           ? tr("head turned away")
                                             : tr("head turned towards you");
    p.drawText(QRectF(14, 184, width() - 28, 18), Qt::AlignLeft | Qt::AlignVCenter,
               QString("%1°  ±%2°  %3").arg(value_text(yaw_)).arg(kByEyeSdDeg).arg(way));
}

}  // namespace aspen::ui

#include "moc_turned_horse.cpp"
