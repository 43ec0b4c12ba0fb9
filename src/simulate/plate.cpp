#include "simulate/plate.hpp"

#include <algorithm>
#include <cmath>

namespace aspen::simulate {
namespace {

constexpr double kUpperArm = 0.30, kForearm = 0.27, kFist = 0.08;  // metres, as Limbs has them
constexpr double kPlateMetres = 3.02, kFootMetres = 2.05;          // what the picture's height holds

QColor tint(const QColor& ink, const QColor& paper, double share) {
    const auto mix = [&](int a, int b) { return static_cast<int>(std::lround(share * a + (1 - share) * b)); };
    return {mix(ink.red(), paper.red()), mix(ink.green(), paper.green()), mix(ink.blue(), paper.blue())};
}

/// A pair in washes of one ink, like a plate in a book: no colour that could be a verdict.
Looks washes(const PlateTones& tones, bool irons, bool reins) {
    const bool dark = tones.paper.lightness() < 128;
    // On dark paper the ink is light: the pair stays a shaded one, a little above the paper.
    const QColor ink = dark ? QColor(0x10, 0x14, 0x12) : tones.ink, light = dark ? tones.ink : tones.paper;
    const QColor warm(0x8a, 0x6d, 0x47);
    Looks l;
    l.coat = tint(tint(warm, ink, 0.55), light, 0.42);
    l.mane = tint(ink, light, 0.72);
    l.jacket = tint(ink, light, 0.70);
    l.breeches = tint(ink, light, 0.12);
    l.helmet = tint(ink, light, 0.88);
    l.boots = tint(ink, light, 0.86);
    l.pad = tint(ink, light, 0.22);
    l.saddle = tint(tint(warm, ink, 0.4), light, 0.75);
    l.skin = tint(warm, light, 0.32);
    l.irons = irons;
    l.reins = reins;
    return l;
}

/// Elbow and wrist between a shoulder and where the hand is; the elbow hangs.
void reach(std::map<std::string, Vec3>& side, Vec3 hand) {
    const Vec3 s = side.at("shoulder");
    const double dx = hand.x - s.x, dy = hand.y - s.y, dz = hand.z - s.z;
    const double lower = kForearm + kFist;
    const double far = std::min(std::sqrt(dx * dx + dy * dy + dz * dz), kUpperArm + lower - 0.004);
    const double full = std::max(1e-6, std::sqrt(dx * dx + dy * dy + dz * dz));
    const Vec3 e{dx / full, dy / full, dz / full};
    const double along = (kUpperArm * kUpperArm - lower * lower + far * far) / (2 * far);
    const double off = std::sqrt(std::max(0.0, kUpperArm * kUpperArm - along * along));
    // Straight down, made square to the line.
    Vec3 n{e.y * e.x, e.y * e.y - 1, e.y * e.z};
    const double size = std::max(1e-6, std::sqrt(n.x * n.x + n.y * n.y + n.z * n.z));
    n = {n.x / size, n.y / size, n.z / size};
    const Vec3 elbow{s.x + along * e.x + off * n.x, s.y + along * e.y + off * n.y,
                     s.z + along * e.z + off * n.z};
    const Vec3 end{s.x + far * e.x, s.y + far * e.y, s.z + far * e.z};
    const double share = kForearm / lower;
    side["elbow"] = elbow;
    side["knuckle"] = end;
    side["wrist"] = {elbow.x + share * (end.x - elbow.x), elbow.y + share * (end.y - elbow.y),
                     elbow.z + share * (end.z - elbow.z)};
}

void lay_hands(Instant& now, const std::string& hands) {
    const Vec3 withers = now.horse.at("withers"), poll = now.horse.at("poll");
    const auto between = [&](double share, double up) {
        return Vec3{withers.x + share * (poll.x - withers.x), withers.y + share * (poll.y - withers.y) + up,
                    0};
    };
    for (const bool right : {true, false}) {
        auto& side = right ? now.rider_right : now.rider_left;
        const double z = right ? 1 : -1;
        const Vec3 s = side.at("shoulder"), hip = side.at("hip"), knee = side.at("knee");
        if (hands == "mane" && right) reach(side, between(0.30, 0.06));
        if (hands == "neck") reach(side, between(0.36, 0.05));
        if (hands == "up_the_neck") reach(side, between(0.62, 0.02));
        if (hands == "out") reach(side, {s.x + 0.03, s.y - 0.02, s.z + z * 0.64});
        if (hands == "strap") reach(side, between(0.14, 0.03));
        if (hands == "tray") reach(side, {s.x + 0.40, s.y - 0.36, s.z});
        if (hands == "thigh" && right)
            reach(side, {hip.x * 0.45 + knee.x * 0.55 - 0.10, hip.y * 0.45 + knee.y * 0.55 - 0.10, 0.3});
        if (hands == "one" && right) reach(side, {hip.x + 0.10, hip.y - 0.06, 0.3});
    }
}

/// A person on foot: what the joints do not say follows from them.
void stand(Instant& now, const std::map<std::string, Vec2>& person) {
    const auto joint = [&](const std::string& name, const std::string& other) {
        const auto it = person.find(name);
        const Vec2 at = it == person.end() ? person.at(other) : it->second;
        return Vec3{at.x, at.y, 0};
    };
    for (const bool near : {true, false}) {
        auto& side = near ? now.rider_right : now.rider_left;
        for (const char* name : {"shoulder", "elbow", "wrist", "hip", "knee", "ankle", "toe", "ear"})
            side[name] = joint(near ? name : std::string("far_") + name, name);
        const Vec3 ankle = side["ankle"], toe = side["toe"], knee = side["knee"], wrist = side["wrist"],
                   elbow = side["elbow"], ear = side["ear"], shoulder = side["shoulder"];
        const double shank = std::max(1e-6, std::hypot(ankle.x - knee.x, ankle.y - knee.y));
        const Vec3 down{(ankle.x - knee.x) / shank, (ankle.y - knee.y) / shank, 0};
        const double foot = std::max(1e-6, std::hypot(toe.x - ankle.x, toe.y - ankle.y));
        side["heel"] = {ankle.x + 0.05 * down.x - 0.07 * (toe.x - ankle.x) / foot,
                        ankle.y + 0.05 * down.y - 0.07 * (toe.y - ankle.y) / foot, 0};
        const double fore = std::max(1e-6, std::hypot(wrist.x - elbow.x, wrist.y - elbow.y));
        side["knuckle"] = {wrist.x + kFist * (wrist.x - elbow.x) / fore,
                           wrist.y + kFist * (wrist.y - elbow.y) / fore, 0};
        const double neck = std::max(1e-6, std::hypot(ear.x - shoulder.x, ear.y - shoulder.y));
        const Vec3 up{(ear.x - shoulder.x) / neck, (ear.y - shoulder.y) / neck, 0}, look{up.y, -up.x, 0};
        side["eye"] = {ear.x + 0.09 * look.x, ear.y + 0.09 * look.y, 0};
        side["chin"] = {ear.x + 0.085 * look.x - 0.11 * up.x, ear.y + 0.085 * look.y - 0.11 * up.y, 0};
        side["crown"] = {ear.x + 0.14 * up.x, ear.y + 0.14 * up.y, 0};
        side["iron"] = side["heel"];
        side["leather_top"] = side["hip"];
    }
}

struct Drawn {
    QPainter& p;
    const Projection& view;
    const Instant& now;
    const Plate& plate;
    const PlateTones& tones;
    QPointF at(const std::string& name) const {
        if (const auto it = now.horse.find(name); it != now.horse.end()) {
            Vec3 on = it->second;
            on.z *= view.near_side();
            return view.scene(on);
        }
        std::string plain = name;
        const bool left = plain.starts_with("left_");
        if (left || plain.starts_with("right_")) plain = plain.substr(left ? 5 : 6);
        return view.scene((left ? now.rider_left : now.rider_right).at(plain));
    }
};

void paint_poles(const Drawn& d) {
    const double m = d.view.scale();
    for (const PlatePole& pole : d.plate.poles) {
        const QPointF on = d.view.scene({d.view.look_x_m() + pole.at, pole.raised, 0});
        d.p.setPen(Qt::NoPen);
        if (pole.raised > 0) {
            d.p.setBrush(tint(d.tones.ink, d.tones.paper, 0.35));
            d.p.drawRect(QRectF(on + QPointF(-0.06 * m, 0), QSizeF(0.12 * m, pole.raised * m)));
        }
        // Across the way, so seen by its end and a little of its length.
        const QPointF back(-0.17 * m, -0.10 * m);
        d.p.setPen(QPen(tint(d.tones.ink, d.tones.paper, 0.30), 0.10 * m, Qt::SolidLine, Qt::FlatCap));
        d.p.drawLine(on + QPointF(0, -0.05 * m), on + back + QPointF(0, -0.05 * m));
        d.p.setPen(QPen(d.tones.ink, 0.012 * m));
        d.p.setBrush(tint(d.tones.ink, d.tones.paper, 0.12));
        d.p.drawEllipse(on + QPointF(0, -0.055 * m), 0.05 * m, 0.05 * m);
    }
}

/// A fence from the side, or what a person on foot stands on.
void paint_ground_things(const Drawn& d) {
    const double m = d.view.scale();
    const QColor half = tint(d.tones.ink, d.tones.paper, 0.45);
    for (const double fence : d.plate.ride.fences_m) {
        const QPointF foot = d.view.scene({fence, 0, 0});
        d.p.setPen(QPen(d.tones.ink, 0.012 * m));
        d.p.setBrush(tint(d.tones.ink, d.tones.paper, 0.16));
        d.p.drawRect(QRectF(foot + QPointF(-0.045 * m, -0.75 * m), QSizeF(0.09 * m, 0.75 * m)));
        d.p.setBrush(half);
        for (const double up : {0.30, 0.58})
            d.p.drawEllipse(foot + QPointF(0, -up * m), 0.055 * m, 0.055 * m);
    }
    const double ground = d.view.scene({d.view.look_x_m(), 0, 0}).y();
    d.p.setPen(Qt::NoPen);
    d.p.setBrush(half);
    if (d.plate.board == "board") {
        d.p.drawRoundedRect(QRectF(-0.42 * m, ground - 0.13 * m, 0.84 * m, 0.035 * m), 2, 2);
        d.p.drawEllipse(QPointF(0, ground - 0.05 * m), 0.05 * m, 0.05 * m);
    } else if (d.plate.board == "step") {
        d.p.drawRect(QRectF(-0.05 * m, ground - 0.18 * m, 0.75 * m, 0.18 * m));
    }
}

void paint_pair(const Drawn& d) {
    const std::string& hands = d.plate.hands;
    const bool one = hands == "mane" || hands == "one" || hands == "thigh";
    Looks looks = washes(d.tones, d.plate.irons, d.plate.reins && d.plate.horse && (one || hands == "rein"));
    looks.near_rein = !one;
    if (!d.plate.horse) {
        paint_rider_far(d.p, d.view, d.now, looks);
        return paint_rider_near(d.p, d.view, d.now, looks);
    }
    if (d.plate.from == From::behind) return paint_from_behind(d.p, d.view, d.now, looks);
    paint_horse_far(d.p, d.view, d.now, looks);
    paint_rider_far(d.p, d.view, d.now, looks);
    paint_horse_near(d.p, d.view, d.now, looks);
    const double m = d.view.scale();
    d.p.setBrush(Qt::NoBrush);
    if (!looks.reins) {  // the rein lies on the neck
        const QPointF bit = d.at("bit"), base = d.at("withers") + QPointF(0.10 * m, 0.02 * m);
        QPainterPath rein(bit);
        rein.quadTo((bit + base) / 2 + QPointF(0, 0.16 * m), base);
        d.p.setPen(QPen(looks.boots, 0.014 * m));
        d.p.drawPath(rein);
    }
    paint_rider_near(d.p, d.view, d.now, looks);
    if (d.plate.lunge) {
        d.p.setPen(QPen(looks.boots, 0.014 * m));
        d.p.setBrush(Qt::NoBrush);
        QPainterPath line(d.at("bit"));
        line.quadTo(d.at("bit") + QPointF(0.10 * m, 0.75 * m), d.at("bit") + QPointF(0.42 * m, 1.25 * m));
        d.p.drawPath(line);
    }
}

void arrow(QPainter& p, QPointF from, QPointF to, double size) {
    p.drawLine(from, to);
    const QPointF d = to - from;
    const double l = std::max(1e-6, std::hypot(d.x(), d.y()));
    const QPointF u = d / l, n(-u.y(), u.x());
    p.drawPolyline(QPolygonF{{to - u * size + n * size * 0.62, to, to - u * size - n * size * 0.62}});
}

/// What is asked, in ink with an edge of paper, so that it stands on coat and cloth alike.
void paint_marks(const Drawn& d) {
    const double m = d.view.scale(), size = std::clamp(0.10 * m, 7.0, 15.0);
    const double wide = std::clamp(0.026 * m, 2.0, 4.0);
    for (const bool edge : {true, false}) {
        const QColor c = edge ? d.tones.paper : d.tones.ink;
        d.p.setBrush(Qt::NoBrush);
        for (const auto& [a, b] : d.plate.lines) {
            d.p.setPen(
                QPen(c, edge ? wide + 2.5 : 0.6 * wide, edge ? Qt::SolidLine : Qt::DashLine, Qt::RoundCap));
            d.p.drawLine(d.at(a), d.at(b));
        }
        d.p.setPen(QPen(c, edge ? wide + 4 : wide, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        for (const PlateMark& mark : d.plate.marks) {
            const QPointF from = d.at(mark.on);
            const double way = std::hypot(mark.forward, mark.up);
            const QPointF by(mark.forward * m, -mark.up * m);
            arrow(d.p, from + by * (way > 0 ? 0.05 / way : 0), from + by, size);
        }
    }
}

void paint_way(QPainter& p, const QRectF& area, const Plate& plate, const PlateTones& tones) {
    const double scale = std::min(area.width() / 20, area.height() / 40);
    const QRectF ring(area.center().x() - 10 * scale, area.center().y() - 20 * scale, 20 * scale, 40 * scale);
    const auto at = [&](double x, double y) {
        return QPointF(ring.left() + x * scale, ring.bottom() - y * scale);
    };
    p.setBrush(tint(tones.ink, tones.paper, 0.04));
    p.setPen(QPen(tint(tones.ink, tones.paper, 0.45), 1.4));
    p.drawRect(ring);
    p.setPen(QPen(tint(tones.ink, tones.paper, 0.25), 1, Qt::DotLine));
    p.drawLine(at(10, 0), at(10, 40));
    for (const Vec2& b : plate.bars) {
        p.setPen(QPen(tint(tones.ink, tones.paper, 0.55), 3, Qt::SolidLine, Qt::FlatCap));
        // Across the way: from the middle of the circle it lies on outwards, else across the arena.
        QPointF across(1.4, 0);
        if (plate.way.front().arc) {
            const QPointF out(b.x - plate.way.front().x, b.y - plate.way.front().y);
            across = out * 1.4 / std::max(1e-6, std::hypot(out.x(), out.y()));
        }
        p.drawLine(at(b.x - across.x(), b.y - across.y()), at(b.x + across.x(), b.y + across.y()));
    }
    p.setPen(Qt::NoPen);
    p.setBrush(tones.ink);
    for (const Vec2& c : plate.cones)
        p.drawPolygon(QPolygonF{
            {at(c.x, c.y) + QPointF(0, -5), at(c.x, c.y) + QPointF(4, 3), at(c.x, c.y) + QPointF(-4, 3)}});
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(tones.ink, 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    for (const PlateWay& w : plate.way) {
        QPolygonF line{{at(w.x, w.y), at(w.to_x, w.to_y)}};
        if (w.arc) {
            line.clear();
            const int steps = std::max(8, static_cast<int>(std::abs(w.by_deg) / 6));
            for (int i = 0; i <= steps; ++i) {
                const double share = static_cast<double>(i) / steps, a = rad(w.from_deg + share * w.by_deg);
                const double r = w.radius + share * (w.to_radius - w.radius);
                line << at(w.x + r * std::cos(a), w.y + r * std::sin(a));
            }
        }
        p.drawPolyline(line);
        arrow(p, line[line.size() - 2], line.back(), 8);
    }
}

}  // namespace

Instant plate_instant(const Plate& plate) {
    Instant now;
    if (!plate.horse) {
        stand(now, plate.person);
        return now;
    }
    const Simulation ride(plate.ride);
    constexpr double kLongest = 12;
    double time = 0;
    if (plate.over_fence) {
        const auto flights = ride.flights(kLongest);
        if (!flights.empty()) time = flights.front().top_s;
    } else {
        double lo = 0, hi = kLongest;  // four strides in, at the wanted phase
        for (int i = 0; i < 50; ++i) {
            const double mid = (lo + hi) / 2;
            (ride.phase(mid) < 4 + plate.phase ? lo : hi) = mid;
        }
        time = plate.ride.gait == Gait::halt ? 0 : hi;
    }
    now = ride.at(time);
    lay_hands(now, plate.hands);
    return now;
}

void paint_plate(QPainter& p, const QRectF& area, const Plate& plate, const PlateTones& tones) {
    const Instant now = plate_instant(plate);
    QRectF pair = area, ring;
    if (!plate.way.empty()) {
        const double wide = std::min(area.height() / 2, area.width() * 0.30);
        pair.setWidth(area.width() - wide - 12);
        ring = QRectF(pair.right() + 12, area.top() + 4, wide, area.height() - 8);
    }
    Camera camera;
    camera.from = plate.from;
    camera.width = static_cast<int>(pair.width());
    camera.height = static_cast<int>(pair.height());
    const bool behind = plate.from == From::behind;
    const double high = plate.horse ? (plate.over_fence ? 3.7 : kPlateMetres) : kFootMetres;
    const double across = plate.horse ? (behind ? 1.7 : 3.1) : 2.3;
    // The whole pair fits, whichever side of the picture is the short one.
    const double pixels = std::min(pair.height() / high, pair.width() / across);
    camera.metres_high = std::min(camera.width, camera.height) / std::max(1.0, pixels);
    const double look =
        plate.horse ? (behind ? now.horse.at("centre").x : now.horse.at("centre").x + 0.16) : 0;
    const Projection view(camera, look);
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setClipRect(area);
    // The projection looks at a height of its own; the ground goes to the foot of the picture.
    const double ground = view.scene({look, 0, 0}).y();
    p.translate(pair.center().x(), pair.bottom() - ground - 0.09 * pixels);
    p.setPen(QPen(tint(tones.ink, tones.paper, 0.30), 1.4));
    p.drawLine(QPointF(-pair.width() / 2, ground), QPointF(pair.width() / 2, ground));
    const Drawn d{p, view, now, plate, tones};
    paint_ground_things(d);
    paint_pair(d);
    paint_poles(d);
    paint_marks(d);
    p.restore();
    if (plate.way.empty()) return;
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    paint_way(p, ring, plate, tones);
    p.restore();
}

}  // namespace aspen::simulate
