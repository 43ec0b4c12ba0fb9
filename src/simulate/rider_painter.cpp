#include <cmath>

#include "simulate/painting.hpp"

namespace aspen::simulate {
namespace {

struct Near {
    Near(const Projection& view, const Instant& now, bool near)
        : view_(view), side_((view.near_side() > 0) == near ? now.rider_right : now.rider_left) {}
    QPointF operator()(const char* name) const { return view_.scene(side_.at(name)); }
    const Projection& view_;
    const std::map<std::string, Vec3>& side_;
};

QLinearGradient shaded(QPointF a, QPointF b, double width, QColor c) {
    const QPointF d = b - a;
    const double l = std::max(1e-6, std::hypot(d.x(), d.y()));
    const QPointF n = QPointF(-d.y(), d.x()) / l * width / 2;
    QLinearGradient g(a - n, a + n);
    g.setColorAt(0, c.darker(128));
    g.setColorAt(0.5, c.lighter(107));
    g.setColorAt(1, c.darker(122));
    return g;
}

void paint_rider_leg(QPainter& p, const Near& at, double m, const Looks& looks, double d, bool far) {
    const QColor cloth = far ? looks.breeches.darker(130) : looks.breeches;
    const QColor boot = far ? looks.boots.darker(120) : looks.boots;
    const QPointF hip = at("hip"), knee = at("knee"), ankle = at("ankle"), heel = at("heel"), toe = at("toe"),
                  bar = at("leather_top"), iron = at("iron");
    p.setPen(QPen(looks.saddle.darker(far ? 160 : 125), m * 0.024, Qt::SolidLine, Qt::RoundCap));
    if (far && looks.irons) p.drawLine(bar, iron - QPointF(0, m * 0.05));
    p.setPen(Qt::NoPen);
    p.setBrush(shaded(hip, knee, m * 0.18, cloth));
    const auto part = [&](const QPainterPath& path, QPointF a, QPointF b, double width, unsigned seed) {
        p.drawPath(path);
        texture(p, path, a, b, width, looks.texture, seed + (far ? 100 : 0));
    };
    part(limb(hip, knee, m * 0.205, m * 0.125), hip, knee, m * 0.17, 1);
    p.setPen(Qt::NoPen);
    p.setBrush(shaded(knee, ankle, m * 0.11, boot.lighter(125)));
    part(limb(knee + (ankle - knee) * 0.06, ankle, m * 0.115, m * 0.078), knee, ankle, m * 0.1, 2);
    if (!far && looks.irons) {
        p.setPen(QPen(looks.saddle.darker(125), m * 0.022, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(bar + (iron - bar) * 0.30, iron - QPointF(0, m * 0.06));
    }
    const QPointF along = (toe - heel) / std::max(1e-6, std::hypot((toe - heel).x(), (toe - heel).y()));
    const QPointF up(d * along.y(), -d * along.x());
    p.setPen(Qt::NoPen);
    p.setBrush(boot);
    part(smooth({heel, heel + up * m * 0.05, ankle + up * m * 0.01, ankle + along * m * 0.06,
                 toe + up * m * 0.055 - along * m * 0.03, toe + up * m * 0.02, toe,
                 (heel + toe) / 2 + up * m * 0.004},
                true),
         heel + up * m * 0.03, toe + up * m * 0.03, m * 0.06, 3);
    if (!looks.irons) return;
    p.setPen(QPen(QColor(0xcf, 0xcf, 0xca), m * 0.018, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(iron - along * m * 0.05, iron + along * m * 0.05);
    p.drawLine(iron - along * m * 0.045, iron - QPointF(0, m * 0.10));
    p.drawLine(iron + along * m * 0.045, iron - QPointF(0, m * 0.10));
}

void paint_arm(QPainter& p, const Near& at, double m, const Looks& looks, bool far) {
    const QColor cloth = far ? looks.jacket.darker(135) : looks.jacket;
    const QPointF shoulder = at("shoulder"), elbow = at("elbow"), wrist = at("wrist"),
                  knuckle = at("knuckle");
    p.setPen(Qt::NoPen);
    p.setBrush(shaded(shoulder, elbow, m * 0.11, cloth.darker(108)));
    const auto part = [&](const QPainterPath& path, QPointF a, QPointF b, double width, unsigned seed) {
        p.setPen(Qt::NoPen);
        p.drawPath(path);
        texture(p, path, a, b, width, looks.texture, seed + (far ? 100 : 0));
    };
    part(limb(shoulder, elbow, m * 0.125, m * 0.095), shoulder, elbow, m * 0.11, 11);
    p.setBrush(shaded(elbow, wrist, m * 0.085, cloth));
    part(limb(elbow, wrist, m * 0.095, m * 0.062), elbow, wrist, m * 0.08, 12);
    p.setBrush(far ? QColor(0x3b, 0x33, 0x2c).darker(120) : QColor(0x3b, 0x33, 0x2c));
    part(limb(wrist, knuckle, m * 0.062, m * 0.058), wrist, knuckle, m * 0.055, 13);
}

}  // namespace

void paint_rider_far(QPainter& p, const Projection& view, const Instant& now, const Looks& looks) {
    const Near at(view, now, false);
    const double m = view.scale();
    p.setPen(QPen(QColor(0x2e, 0x1c, 0x12), m * 0.014));
    if (looks.reins) p.drawLine(at("knuckle"), view.scene(now.horse.at("bit")));
    paint_arm(p, at, m, looks, true);
    paint_rider_leg(p, at, m, looks, view.near_side(), true);
}

void paint_rider_near(QPainter& p, const Projection& view, const Instant& now, const Looks& looks) {
    const Near at(view, now, true);
    const Near away(view, now, false);
    const double m = view.scale(), d = view.near_side();
    const QPointF hip = at("hip"), shoulder = (at("shoulder") + away("shoulder")) / 2, ear = at("ear"),
                  eye = at("eye"), crown = at("crown");
    p.setPen(Qt::NoPen);
    const QPointF spine = shoulder - hip;
    const double l = std::max(1e-6, std::hypot(spine.x(), spine.y()));
    const QPointF u = spine / l, f = QPointF(d * -u.y(), d * u.x());  // up the trunk, and to its front
    QLinearGradient cloth(hip - f * m * 0.16, hip + f * m * 0.16);
    cloth.setColorAt(0, looks.jacket.darker(135));
    cloth.setColorAt(0.55, looks.jacket.lighter(108));
    cloth.setColorAt(1, looks.jacket.darker(112));
    p.setBrush(looks.breeches.darker(104));  // seat
    p.drawEllipse(hip - f * m * 0.045 + QPointF(0, m * 0.005), m * 0.155, m * 0.125);
    p.setBrush(looks.skin.darker(108));  // neck and face
    p.drawPath(limb(shoulder + u * m * 0.01, ear + QPointF(-d * m * 0.005, m * 0.04), m * 0.115, m * 0.105));
    p.setBrush(cloth);
    const QPainterPath jacket =
        smooth({hip - f * m * 0.145 - u * m * 0.02, hip - f * m * 0.115 + u * m * 0.16,
                shoulder - f * m * 0.115 - u * m * 0.09, shoulder - f * m * 0.05 + u * m * 0.045,
                shoulder + f * m * 0.06 + u * m * 0.03, shoulder + f * m * 0.125 - u * m * 0.12,
                hip + f * m * 0.115 + u * m * 0.16, hip + f * m * 0.13 - u * m * 0.01,
                hip + f * m * 0.02 - u * m * 0.06},
               true);
    p.drawPath(jacket);
    texture(p, jacket, hip, shoulder, m * 0.24, 0.7 * looks.texture, 21);
    p.setPen(Qt::NoPen);
    const QPointF look = (eye - ear) / std::max(1e-6, std::hypot((eye - ear).x(), (eye - ear).y()));
    const QPointF top(d * look.y(), -d * look.x());
    p.setBrush(looks.skin);
    p.drawPath(smooth({ear - look * m * 0.05 - top * m * 0.02, ear + look * m * 0.02 + top * m * 0.05,
                       eye + look * m * 0.018 + top * m * 0.03, eye + look * m * 0.03 - top * m * 0.035,
                       eye + look * m * 0.008 - top * m * 0.11, ear + look * m * 0.03 - top * m * 0.115,
                       ear - look * m * 0.03 - top * m * 0.09},
                      true));
    QRadialGradient shell(crown - top * m * 0.02 - look * m * 0.02, m * 0.17);
    shell.setColorAt(0, looks.helmet.lighter(190));
    shell.setColorAt(1, looks.helmet);
    p.setBrush(shell);
    p.drawPath(smooth({ear - look * m * 0.105 - top * m * 0.01, ear - look * m * 0.10 + top * m * 0.08,
                       crown - look * m * 0.02, ear + look * m * 0.095 + top * m * 0.085,
                       eye + look * m * 0.035 + top * m * 0.035, eye + look * m * 0.085 + top * m * 0.022,
                       eye - look * m * 0.01 + top * m * 0.015, ear + look * m * 0.01 + top * m * 0.012},
                      true));
    p.setPen(QPen(looks.helmet, m * 0.012));
    p.drawLine(ear + top * m * 0.01, eye - look * m * 0.02 - top * m * 0.10);
    paint_rider_leg(p, at, m, looks, d, false);
    p.setPen(QPen(QColor(0x2e, 0x1c, 0x12), m * 0.016));
    if (looks.reins && looks.near_rein) p.drawLine(at("knuckle"), view.scene(now.horse.at("bit")));
    paint_arm(p, at, m, looks, false);
}

}  // namespace aspen::simulate
