#include <algorithm>
#include <cmath>

#include "simulate/painting.hpp"

namespace aspen::simulate {
namespace {

/// Maps points of the horse's trunk (metres from its centre) into the scene.
class Trunk {
  public:
    Trunk(const Projection& view, const Instant& now)
        : view_(view), centre_(now.horse.at("centre")), pitch_(now.trunk_pitch_rad) {}
    QPointF operator()(double x, double y, double z = 0) const {
        const double c = std::cos(pitch_), s = std::sin(pitch_);
        return view_.scene({centre_.x + x * c - y * s, centre_.y + x * s + y * c, z * view_.near_side()});
    }

  private:
    const Projection& view_;
    Vec3 centre_;
    double pitch_;
};

void paint_leg(QPainter& p, const Projection& view, const std::array<Vec3, 4>& leg, const Looks& looks,
               bool fore, bool far) {
    const double m = view.scale();
    const QColor coat = far ? looks.coat.darker(138) : looks.coat;
    const QColor low = looks.socks.isValid() ? (far ? looks.socks.darker(125) : looks.socks)
                                             : (far ? looks.mane.darker(105) : looks.mane.lighter(120));
    const QPointF top = view.scene(leg[0]), mid = view.scene(leg[1]), fet = view.scene(leg[2]),
                  hoof = view.scene(leg[3]);
    p.setPen(Qt::NoPen);
    QLinearGradient shade(mid - QPointF(m * 0.08, 0), mid + QPointF(m * 0.08, 0));
    shade.setColorAt(0, coat.darker(120));
    shade.setColorAt(0.45, coat.lighter(104));
    shade.setColorAt(1, coat.darker(128));
    p.setBrush(shade);
    p.drawPath(limb(top, mid, m * (fore ? 0.20 : 0.25), m * (fore ? 0.105 : 0.115)));
    p.setBrush(low);
    p.drawPath(limb(mid, fet, m * 0.098, m * 0.066));
    p.setBrush(shade);
    p.drawEllipse(mid, m * 0.058, m * 0.062);
    p.setBrush(low);
    p.drawEllipse(fet, m * 0.046, m * 0.046);
    const QPointF toe = hoof + QPointF(0, -m * 0.055);
    p.drawPath(limb(fet, toe, m * 0.068, m * 0.07));
    const double d = view.near_side();
    p.setBrush(QColor(0x3a, 0x31, 0x2a));
    QPolygonF shoe;
    shoe << hoof + QPointF(-d * m * 0.055, -m * 0.085) << hoof + QPointF(d * m * 0.035, -m * 0.10)
         << hoof + QPointF(d * m * 0.085, 0) << hoof + QPointF(-d * m * 0.065, 0);
    p.drawPolygon(shoe);
}

std::vector<QPointF> outline(const Trunk& t, const Projection& view, const Instant& now) {
    const Vec3 poll3 = now.horse.at("poll"), muzzle3 = now.horse.at("muzzle");
    const QPointF poll = view.scene(poll3), muzzle = view.scene(muzzle3);
    const double m = view.scale(), d = view.near_side();
    const QPointF down =
        (muzzle - poll) / std::max(1.0, std::hypot((muzzle - poll).x(), (muzzle - poll).y()));
    const QPointF front(d * std::abs(down.y()), -std::abs(down.x()));
    const auto head = [&](double along, double across) {
        return poll + down * along * m + front * across * m;
    };
    return {head(0.62, 0.07),
            head(0.45, 0.085),
            head(0.25, 0.115),
            head(0.06, 0.10),
            head(-0.02, 0.02),
            (poll + t(0.45, 0.33) * 2) / 3 + QPointF(d * m * 0.02, -m * 0.13),
            (poll * 2 + t(0.45, 0.33)) / 3 + QPointF(d * m * 0.0, -m * 0.055),
            t(0.45, 0.33),
            t(0.22, 0.245),
            t(-0.05, 0.215),
            t(-0.35, 0.255),
            t(-0.62, 0.30),
            t(-0.80, 0.24),
            t(-0.90, 0.06),
            t(-0.90, -0.14),
            t(-0.78, -0.30),
            t(-0.55, -0.27),
            t(-0.25, -0.30),
            t(0.10, -0.345),
            t(0.40, -0.32),
            t(0.66, -0.22),
            t(0.76, -0.02),
            t(0.80, 0.14),
            head(0.34, -0.185),
            head(0.18, -0.15),
            head(0.30, -0.13),
            head(0.48, -0.055),
            head(0.62, -0.065),
            head(0.665, 0.0)};
}

void paint_tail(QPainter& p, const Trunk& t, double m, double d, double phase, const QColor& mane) {
    p.setPen(Qt::NoPen);
    const QPointF dock = t(-0.87, 0.17);  // tail
    const double sway = std::sin(6.28 * phase) * 0.05 * m;
    p.setBrush(mane);
    p.drawPath(smooth(
        {dock + QPointF(d * m * 0.03, -m * 0.03), dock + QPointF(-d * m * 0.10, m * 0.02),
         dock + QPointF(-d * m * 0.17 - sway, m * 0.35), dock + QPointF(-d * m * 0.16 - sway * 1.6, m * 0.75),
         dock + QPointF(-d * m * 0.08 - sway * 1.4, m * 0.68), dock + QPointF(-d * m * 0.04, m * 0.3)},
        true));
}

/// A soft light or shadow on the coat.
void glow(QPainter& p, QPointF at, double rx, double ry, QColor c, int alpha) {
    c.setAlpha(alpha);
    QRadialGradient g(at, rx);
    g.setColorAt(0, c);
    c.setAlpha(0);
    g.setColorAt(1, c);
    p.save();
    p.translate(at);
    p.scale(1, ry / rx);
    p.translate(-at);
    p.setBrush(g);
    p.drawEllipse(at, rx, rx);
    p.restore();
}

/// Neck, mane, ears, face and bridle.
void paint_head(QPainter& p, const Projection& view, const Instant& now, const Trunk& t, const Looks& looks) {
    const double m = view.scale(), d = view.near_side();
    const QPointF poll = view.scene(now.horse.at("poll")), muzzle = view.scene(now.horse.at("muzzle")),
                  bit = view.scene(now.horse.at("bit"));
    const QPointF withers = t(0.42, 0.33);
    const QPointF along =
        (muzzle - poll) / std::max(1.0, std::hypot((muzzle - poll).x(), (muzzle - poll).y()));
    const QPointF front(d * std::abs(along.y()), -std::abs(along.x()));
    p.setPen(Qt::NoPen);
    p.setBrush(looks.mane);  // mane
    p.drawPath(smooth(
        {poll + QPointF(d * m * 0.03, -m * 0.03), (poll * 2 + withers) / 3 + QPointF(0, -m * 0.075),
         (poll + withers * 2) / 3 + QPointF(d * m * 0.02, -m * 0.15), withers + QPointF(0, -m * 0.03),
         (poll + withers * 2) / 3 + QPointF(d * m * 0.07, -m * 0.02),
         (poll * 2 + withers) / 3 + QPointF(d * m * 0.09, m * 0.05), poll + QPointF(d * m * 0.03, m * 0.06)},
        true));
    p.setBrush(looks.coat.darker(105));  // ears
    QPolygonF ear;
    ear << poll + QPointF(-d * m * 0.025, 0) << poll + QPointF(d * m * 0.005, -m * 0.145)
        << poll + QPointF(d * m * 0.055, -m * 0.01);
    p.drawPolygon(ear);
    const QPointF eye = poll + along * m * 0.17 + front * m * 0.05;
    p.setBrush(QColor(0x1d, 0x16, 0x12));
    p.drawEllipse(eye, m * 0.022, m * 0.018);
    p.setBrush(looks.coat.darker(165));
    p.drawEllipse(muzzle - along * m * 0.045 + front * m * 0.035, m * 0.02, m * 0.026);
    const QPen leather(QColor(0x2e, 0x1c, 0x12), m * 0.018, Qt::SolidLine, Qt::RoundCap);
    p.setPen(leather);  // bridle
    p.drawLine(poll + front * m * 0.02, bit);
    p.drawLine(poll + along * m * 0.40 + front * m * 0.095, poll + along * m * 0.42 - front * m * 0.08);
    p.drawLine(poll + along * m * 0.10 + front * m * 0.11, poll + along * m * 0.06 - front * m * 0.06);
    p.setPen(QPen(QColor(0xd0, 0xd0, 0xcc), m * 0.014));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(bit, m * 0.022, m * 0.022);
}

/// Pad, girth and saddle.
void paint_tack(QPainter& p, const Trunk& t, double m, const Looks& looks) {
    p.setPen(Qt::NoPen);  // pad, saddle, girth
    p.setBrush(looks.pad);
    p.drawPath(smooth({t(0.40, 0.31), t(0.42, 0.05), t(0.30, -0.16), t(0.02, -0.16), t(-0.20, 0.02),
                       t(-0.24, 0.29), t(0.05, 0.27)},
                      true));
    if (looks.texture > 0) {
        QPainterPath pad;
        pad.addPolygon(QPolygonF{
            {t(0.40, 0.31), t(0.42, 0.05), t(0.30, -0.16), t(0.02, -0.16), t(-0.20, 0.02), t(-0.24, 0.29)}});
        texture(p, pad, t(-0.2, 0.05), t(0.4, 0.05), m * 0.3, 0.6 * looks.texture, 33);
    }
    p.setPen(QPen(looks.saddle.darker(130), m * 0.045));
    p.drawLine(t(0.27, -0.10), t(0.37, -0.33));
    QLinearGradient hide(t(0, 0.4), t(0, -0.15));
    hide.setColorAt(0, looks.saddle.lighter(150));
    hide.setColorAt(0.5, looks.saddle);
    hide.setColorAt(1, looks.saddle.darker(120));
    p.setPen(Qt::NoPen);
    p.setBrush(hide);
    p.drawPath(
        smooth({t(0.33, 0.39), t(0.24, 0.345), t(0.09, 0.315), t(-0.07, 0.34), t(-0.17, 0.39), t(-0.19, 0.33),
                t(-0.10, 0.24), t(0.00, 0.10), t(0.10, -0.10), t(0.24, -0.13), t(0.36, -0.06), t(0.37, 0.15)},
               true));
}

}  // namespace

void paint_horse_far(QPainter& p, const Projection& view, const Instant& now, const Looks& looks) {
    const bool right_near = view.near_side() > 0;
    const double m = view.scale();
    const QPointF belly = view.scene({now.horse.at("centre").x - 0.05, 0, 0});
    QRadialGradient shadow(belly, m * 1.35);
    shadow.setColorAt(0, QColor(40, 30, 15, 120));
    shadow.setColorAt(0.6, QColor(40, 30, 15, 70));
    shadow.setColorAt(1, QColor(40, 30, 15, 0));
    p.save();
    p.translate(belly);
    p.scale(1, 0.13);
    p.translate(-belly);
    p.setPen(Qt::NoPen);
    p.setBrush(shadow);
    p.drawEllipse(belly, m * 1.35, m * 1.35);
    p.restore();
    paint_leg(p, view, now.legs[right_near ? 0 : 2], looks, false, true);
    paint_leg(p, view, now.legs[right_near ? 1 : 3], looks, true, true);
}

void paint_horse_near(QPainter& p, const Projection& view, const Instant& now, const Looks& looks) {
    const bool right_near = view.near_side() > 0;
    const double m = view.scale();
    const Trunk t(view, now);
    paint_tail(p, t, m, view.near_side(), now.phase, looks.mane);
    const QPainterPath body = smooth(outline(t, view, now), true);
    const QPointF up = t(0, 0.4), down = t(0, -0.4);
    QLinearGradient shade(up, down);
    shade.setColorAt(0, looks.coat.lighter(122));
    shade.setColorAt(0.35, looks.coat);
    shade.setColorAt(1, looks.coat.darker(150));
    p.setBrush(shade);
    p.drawPath(body);
    texture(p, body, t(-0.85, 0.0), t(0.65, 0.0), m * 0.7, 0.5 * looks.texture, 31);
    texture(p, body, t(-0.85, 0.1), t(0.65, 0.1), m * 0.25, 0.5 * looks.texture, 32);
    p.setPen(Qt::NoPen);
    glow(p, t(-0.62, 0.02), m * 0.36, m * 0.34, looks.coat.lighter(140), 120);
    glow(p, t(0.55, -0.02), m * 0.30, m * 0.32, looks.coat.lighter(135), 110);
    glow(p, t(-0.10, -0.05), m * 0.35, m * 0.22, looks.coat.lighter(120), 70);
    glow(p, t(-0.42, -0.20), m * 0.16, m * 0.18, looks.coat.darker(170), 90);
    glow(p, t(0.36, -0.20), m * 0.12, m * 0.22, looks.coat.darker(170), 80);
    paint_leg(p, view, now.legs[right_near ? 2 : 0], looks, false, false);
    paint_leg(p, view, now.legs[right_near ? 3 : 1], looks, true, false);
    glow(p, t(-0.62, -0.12), m * 0.22, m * 0.2, looks.coat, 230);
    glow(p, t(0.52, -0.20), m * 0.17, m * 0.14, looks.coat, 230);
    paint_head(p, view, now, t, looks);
    paint_tack(p, t, m, looks);
}

namespace {

void leg_from_behind(QPainter& p, const Projection& view, const Instant& now, const Looks& looks,
                     std::size_t limb_index, bool hind) {
    const double m = view.scale();
    const auto& leg = now.legs[limb_index];
    p.setPen(Qt::NoPen);
    p.setBrush(hind ? looks.coat.darker(112) : looks.coat.darker(150));
    p.drawPath(limb(view.scene(leg[0]), view.scene(leg[1]), m * (hind ? 0.26 : 0.16), m * 0.11));
    const QColor low = looks.socks.isValid() ? looks.socks : looks.mane.lighter(hind ? 125 : 105);
    p.setBrush(low);
    p.drawPath(limb(view.scene(leg[1]), view.scene(leg[2]), m * 0.10, m * 0.075));
    p.drawPath(limb(view.scene(leg[2]), view.scene(leg[3]) - QPointF(0, m * 0.05), m * 0.08, m * 0.10));
    p.setBrush(QColor(0x3a, 0x31, 0x2a));
    p.drawRoundedRect(QRectF(view.scene(leg[3]) - QPointF(m * 0.065, m * 0.08), QSizeF(m * 0.13, m * 0.08)),
                      3, 3);
}

/// `face`: the rider looks this way; a face without features.
void rider_from_behind(QPainter& p, const Projection& view, const Instant& now, const Looks& looks,
                       bool face = false) {
    const double m = view.scale();
    const auto at = [&](const char* name, bool right) {
        return view.scene((right ? now.rider_right : now.rider_left).at(name));
    };
    for (const bool right : {false, true}) {
        p.setBrush(looks.breeches.darker(108));
        p.drawPath(limb(at("hip", right), at("knee", right), m * 0.20, m * 0.13));
        p.setBrush(looks.boots);
        p.drawPath(limb(at("knee", right), at("ankle", right), m * 0.125, m * 0.085));
        p.drawPath(limb(at("ankle", right), at("heel", right) - QPointF(0, m * 0.01), m * 0.085, m * 0.08));
        if (looks.irons) {
            p.setPen(QPen(QColor(0xc9, 0xc9, 0xc4), m * 0.02));
            p.drawLine(at("iron", right) + QPointF(-m * 0.06, 0), at("iron", right) + QPointF(m * 0.06, 0));
        }
        p.setPen(Qt::NoPen);
        p.setBrush(looks.jacket.darker(112));
        p.drawPath(limb(at("shoulder", right), at("elbow", right), m * 0.12, m * 0.095));
        p.drawPath(limb(at("elbow", right), at("wrist", right), m * 0.09, m * 0.065));
    }
    const QPointF lh = at("hip", false), rh = at("hip", true), ls = at("shoulder", false),
                  rs = at("shoulder", true);
    QLinearGradient cloth(ls, rs);
    cloth.setColorAt(0, looks.jacket.darker(125));
    cloth.setColorAt(0.5, looks.jacket.lighter(112));
    cloth.setColorAt(1, looks.jacket.darker(125));
    p.setBrush(looks.breeches.darker(104));
    p.drawEllipse((lh + rh) / 2 + QPointF(0, m * 0.03), m * 0.24, m * 0.15);
    p.setBrush(cloth);
    p.drawPath(
        smooth({ls + QPointF(-m * 0.03, 0), (ls + rs) / 2 + QPointF(0, -m * 0.07), rs + QPointF(m * 0.03, 0),
                (rs + rh * 2) / 3 + QPointF(-m * 0.01, 0), rh + QPointF(m * 0.03, m * 0.02),
                lh + QPointF(-m * 0.03, m * 0.02), (ls + lh * 2) / 3 + QPointF(m * 0.01, 0)},
               true));
    const QPointF ear = (at("ear", false) + at("ear", true)) / 2;
    p.setBrush(looks.skin.darker(106));
    p.drawPath(limb((ls + rs) / 2, ear, m * 0.12, m * 0.12));
    p.setBrush(looks.helmet);
    p.drawEllipse(ear + QPointF(0, -m * 0.05), m * 0.115, m * 0.13);
    p.setBrush(looks.helmet.lighter(150));
    p.drawEllipse(ear + QPointF(-m * 0.03, -m * 0.11), m * 0.03, m * 0.025);
    if (!face) return;
    p.setBrush(looks.skin);
    p.drawEllipse(ear + QPointF(0, m * 0.035), m * 0.075, m * 0.095);
    p.setBrush(looks.helmet);
    p.drawRoundedRect(QRectF(ear + QPointF(-m * 0.10, -m * 0.055), QSizeF(m * 0.20, m * 0.035)), m * 0.015,
                      m * 0.015);
}

}  // namespace

void paint_from_behind(QPainter& p, const Projection& view, const Instant& now, const Looks& looks) {
    const double m = view.scale();
    p.setPen(Qt::NoPen);
    leg_from_behind(p, view, now, looks, 1, false);
    leg_from_behind(p, view, now, looks, 3, false);
    const QPointF poll = view.scene(now.horse.at("poll"));
    p.setBrush(looks.coat.darker(120));
    p.drawPath(limb(poll + QPointF(0, m * 0.05), view.scene(now.horse.at("neck_base")), m * 0.20, m * 0.36));
    p.setBrush(looks.mane);
    p.drawPath(limb(poll, poll + QPointF(0, m * 0.30), m * 0.06, m * 0.05));
    p.setBrush(looks.coat.darker(110));
    for (const double side : {-1.0, 1.0})
        p.drawEllipse(poll + QPointF(side * m * 0.06, -m * 0.05), m * 0.022, m * 0.065);
    rider_from_behind(p, view, now, looks);
    const QPointF croup = view.scene(now.horse.at("croup")), dock = view.scene(now.horse.at("dock"));
    leg_from_behind(p, view, now, looks, 0, true);
    leg_from_behind(p, view, now, looks, 2, true);
    QRadialGradient rump(croup + QPointF(-m * 0.08, m * 0.16), m * 0.5);
    rump.setColorAt(0, looks.coat.lighter(128));
    rump.setColorAt(1, looks.coat.darker(128));
    p.setBrush(rump);
    p.drawPath(smooth({croup + QPointF(0, -m * 0.01), croup + QPointF(m * 0.20, m * 0.06),
                       croup + QPointF(m * 0.29, m * 0.28), croup + QPointF(m * 0.27, m * 0.52),
                       croup + QPointF(m * 0.08, m * 0.62), croup + QPointF(-m * 0.08, m * 0.62),
                       croup + QPointF(-m * 0.27, m * 0.52), croup + QPointF(-m * 0.29, m * 0.28),
                       croup + QPointF(-m * 0.20, m * 0.06)},
                      true));
    p.setBrush(looks.mane);
    p.drawPath(smooth({dock + QPointF(-m * 0.04, 0), dock + QPointF(m * 0.04, 0),
                       dock + QPointF(m * 0.075, m * 0.35), dock + QPointF(m * 0.03, m * 0.82),
                       dock + QPointF(-m * 0.05, m * 0.8), dock + QPointF(-m * 0.08, m * 0.35)},
                      true));
}

void paint_from_front(QPainter& p, const Projection& view, const Instant& now, const Looks& looks) {
    const double m = view.scale();
    p.setPen(Qt::NoPen);
    leg_from_behind(p, view, now, looks, 0, false);
    leg_from_behind(p, view, now, looks, 2, false);
    const QPointF base = view.scene(now.horse.at("neck_base")), poll = view.scene(now.horse.at("poll")),
                  muzzle = view.scene(now.horse.at("muzzle"));
    QRadialGradient chest(base + QPointF(-m * 0.07, m * 0.10), m * 0.45);
    chest.setColorAt(0, looks.coat.lighter(122));
    chest.setColorAt(1, looks.coat.darker(126));
    p.setBrush(chest);
    p.drawEllipse(base + QPointF(0, m * 0.20), m * 0.27, m * 0.38);
    rider_from_behind(p, view, now, looks, true);
    leg_from_behind(p, view, now, looks, 1, true);
    leg_from_behind(p, view, now, looks, 3, true);
    p.setBrush(chest);
    p.drawEllipse(base + QPointF(0, m * 0.14), m * 0.22, m * 0.28);
    p.setBrush(looks.coat.darker(108));
    p.drawPath(limb(base + QPointF(0, m * 0.05), poll + QPointF(0, m * 0.05), m * 0.32, m * 0.20));
    for (const double side : {-1.0, 1.0})
        p.drawEllipse(poll + QPointF(side * m * 0.07, -m * 0.05), m * 0.024, m * 0.07);
    p.setBrush(looks.coat);
    p.drawPath(limb(poll + QPointF(0, m * 0.06), muzzle, m * 0.22, m * 0.15));
    p.setBrush(looks.mane);
    p.drawPath(limb(poll + QPointF(0, -m * 0.01), poll + QPointF(0, m * 0.12), m * 0.06, m * 0.03));
}

}  // namespace aspen::simulate
