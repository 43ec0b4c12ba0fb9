#include "ui/shared/rider_drawing.hpp"

#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "core/judging/target.hpp"
#include "ui/shared/theme.hpp"

namespace aspen::ui {
namespace {

using L = core::Landmark;

/// A quiet rider seen from the side, forward and up of the hip in trunk lengths, and the joint each hangs on
/// (from memory).
struct Quiet {
    L joint, parent;
    double f, u;
};
constexpr Quiet kQuiet[] = {{L::shoulder, L::hip, 0.02, 1.0},     {L::ear, L::shoulder, 0.02, 0.44},
                            {L::elbow, L::shoulder, 0.12, -0.58}, {L::wrist, L::elbow, 0.48, -0.08},
                            {L::knuckle, L::wrist, 0.15, -0.02},  {L::knee, L::hip, 0.60, -0.58},
                            {L::ankle, L::knee, -0.48, -0.68},    {L::heel, L::ankle, -0.10, -0.13},
                            {L::toe, L::heel, 0.46, 0.06}};
/// From front or rear: across (to the left of the picture first) and up, trunk lengths.
struct QuietPair {
    L left, right;
    double across, up;
};
constexpr QuietPair kPairs[] = {
    {L::left_shoulder, L::right_shoulder, 0.38, 1.0}, {L::left_elbow, L::right_elbow, 0.50, 0.45},
    {L::left_knuckle, L::right_knuckle, 0.14, 0.30},  {L::left_hip, L::right_hip, 0.30, 0.0},
    {L::left_knee, L::right_knee, 0.55, -0.45},       {L::left_heel, L::right_heel, 0.52, -1.15}};

}  // namespace

RiderDrawing::RiderDrawing(const core::Figure& figure, const std::vector<core::Judged>& judged,
                           const QRectF& area)
    : figure_(figure), judged_(judged) {
    right_ = figure.travel != core::Travel::left;
    if (figure.view == core::View::side)
        lay(area);
    else
        lay_frontal(area);
}

void RiderDrawing::lay(const QRectF& area) {
    const double roll = core::radians(figure_.camera.roll_deg), sign = right_ ? 1 : -1;
    const auto there = [&](L l) { return figure_[l].visibility != core::Visibility::absent; };
    const auto plane = [&](L l) {
        const core::Point q = core::unrolled(figure_[l].at, roll);
        return core::PlanePoint{sign * q.x, -q.y};
    };
    double trunk =
        there(L::shoulder) && there(L::hip) ? core::distance(plane(L::shoulder), plane(L::hip)) : 0;
    if (trunk < 4 && there(L::hip) && there(L::knee))
        trunk = core::distance(plane(L::hip), plane(L::knee)) / 0.86;
    if (trunk < 4) trunk = 100;
    std::map<L, core::PlanePoint> at;
    // Known joints where they are, the others hung on the nearest that is known.
    core::PlanePoint hip{0, 0};
    if (there(L::hip)) {
        hip = plane(L::hip);
    } else {
        for (const Quiet& q : kQuiet) {
            if (q.parent == L::hip && there(q.joint)) {
                const auto known = plane(q.joint);
                hip = {known.f - q.f * trunk, known.u - q.u * trunk};
                break;
            }
        }
    }
    at[L::hip] = {0, 0};
    for (const Quiet& q : kQuiet) {
        if (there(q.joint)) {
            const auto known = plane(q.joint);
            at[q.joint] = {std::clamp((known.f - hip.f) / trunk, -1.4, 1.8),
                           std::clamp((known.u - hip.u) / trunk, -2.2, 2.0)};
        } else {
            at[q.joint] = {at[q.parent].f + q.f, at[q.parent].u + q.u};
        }
    }
    double rear = -0.25, front = 0.8, low = -1.5, high = 1.75;
    for (const auto& [l, p] : at) {
        rear = std::min(rear, p.f - 0.16);
        front = std::max(front, p.f + 0.08);
        low = std::min(low, p.u - 0.1);
        high = std::max(high, p.u + 0.28);
    }
    scale_ = std::min(area.width() / (front - rear), area.height() / (high - low));
    const double top = area.center().y() - scale_ * (high - low) / 2;
    for (const auto& [l, p] : at) {
        const double x =
            right_ ? area.right() - scale_ * (front - p.f) : area.left() + scale_ * (front - p.f);
        at_[l] = {x, top + scale_ * (high - p.u)};
    }
}

void RiderDrawing::lay_frontal(const QRectF& area) {
    const double roll = core::radians(figure_.camera.roll_deg);
    const auto there = [&](L l) { return figure_[l].visibility != core::Visibility::absent; };
    const auto upright = [&](L l) { return core::unrolled(figure_[l].at, roll); };
    // Seen from behind the rider's left is the picture's left, from the front its right.
    const double left = figure_.view == core::View::front ? 1 : -1;
    std::optional<core::Point> middle;
    double trunk = 0;
    if (there(L::left_hip) && there(L::right_hip)) {
        const core::Point a = upright(L::left_hip), b = upright(L::right_hip);
        middle = core::Point{(a.x + b.x) / 2, (a.y + b.y) / 2};
        if (there(L::left_shoulder) && there(L::right_shoulder)) {
            const core::Point c = upright(L::left_shoulder), d = upright(L::right_shoulder);
            trunk = core::distance(*middle, {(c.x + d.x) / 2, (c.y + d.y) / 2});
        }
    }
    scale_ = std::min(area.width() / 1.35, area.height() / 3.2);
    const QPointF hip(area.center().x(), area.top() + scale_ * 1.85);
    const auto put = [&](L l, double across, double up) {
        if (middle && trunk > 4 && there(l)) {
            const core::Point q = upright(l);
            across = std::clamp((q.x - middle->x) / trunk, -0.9, 0.9);
            up = std::clamp((middle->y - q.y) / trunk, -1.6, 1.7);
        }
        at_[l] = hip + QPointF(across * scale_, -up * scale_);
    };
    for (const QuietPair& q : kPairs) {
        put(q.left, left * q.across, q.up);
        put(q.right, -left * q.across, q.up);
    }
    put(L::chin, 0, 1.28);
}

QPointF RiderDrawing::at(L l) const {
    const auto it = at_.find(l);
    return it == at_.end() ? QPointF() : it->second;
}

QPointF RiderDrawing::anchor(const core::MeasureInfo& measure) const {
    const std::vector<L> joints = core::limb_of(measure.id);
    QPointF sum;
    int n = 0;
    for (const L l : joints.empty() ? measure.needs : joints) {
        if (!at_.contains(l)) continue;
        sum += at_.at(l);
        ++n;
    }
    if (measure.id.ends_with("_angle") && joints.size() == 3 && at_.contains(joints[1]))
        return at_.at(joints[1]);
    if (n > 0) return sum / n;
    using P = core::BodyPart;
    const bool hand = measure.part == P::hand;
    const auto it = at_.find(hand ? L::wrist : L::hip);
    return it == at_.end() ? at_.begin()->second : it->second;
}

/// The school's range as a faint sector behind the limb: trunk, upper arm, shin and foot.
void RiderDrawing::paint_range(QPainter& p) const {
    QColor soft = theme().teal;
    soft.setAlpha(theme().dark ? 54 : 40);
    p.setPen(Qt::NoPen);
    p.setBrush(soft);
    const double sign = right_ ? 1 : -1;
    const auto sector = [&](QPointF from, double length, double lo_deg, double hi_deg) {
        // Degrees forward of straight up.
        QPainterPath path(from);
        constexpr int kSteps = 16;
        for (int i = 0; i <= kSteps; ++i) {
            const double a = core::radians(lo_deg + (hi_deg - lo_deg) * i / kSteps);
            path.lineTo(from + QPointF(sign * length * std::sin(a), -length * std::cos(a)));
        }
        path.closeSubpath();
        p.drawPath(path);
    };
    const auto band = [&](const char* id) -> const core::Band* {
        const core::Judged* j = find(id);
        return j && j->band && j->band->lo && j->band->hi ? &*j->band : nullptr;
    };
    const auto length = [&](L a, L b) { return std::hypot(at(a).x() - at(b).x(), at(a).y() - at(b).y()); };
    if (const core::Band* b = band("trunk_lean"))
        sector(at(L::hip), 1.06 * length(L::hip, L::shoulder), *b->lo, *b->hi);
    if (const core::Band* b = band("upper_arm"))
        sector(at(L::shoulder), 1.08 * length(L::shoulder, L::elbow), 180 - *b->lo, 180 - *b->hi);
    if (const core::Band* b = band("heel_offset")) {
        const double leg = (length(L::hip, L::knee) + length(L::knee, L::ankle)) / 100;
        const double x1 = at(L::hip).x() + sign * *b->lo * leg, x2 = at(L::hip).x() + sign * *b->hi * leg;
        const double y = at(L::heel).y();
        p.drawRoundedRect(
            QRectF(QPointF(std::min(x1, x2), y - 0.34 * scale_), QPointF(std::max(x1, x2), y + 8)), 6, 6);
    }
    if (const core::Band* b = band("heel_drop")) {
        const double foot = 1.08 * length(L::heel, L::toe);
        sector(at(L::heel), foot, 90 - *b->lo, 90 - *b->hi);
    }
}

namespace {
/// Ink thinned with the panel, opaque: where limbs lie over each other nothing shows twice.
QColor body_colour() {
    const Theme& t = theme();
    const double share = t.dark ? 0.26 : 0.16;
    const auto mix = [&](int ink, int panel) {
        return static_cast<int>(std::lround(share * ink + (1 - share) * panel));
    };
    return {mix(t.ink.red(), t.panel.red()), mix(t.ink.green(), t.panel.green()),
            mix(t.ink.blue(), t.panel.blue())};
}

}  // namespace

void RiderDrawing::flesh(QPainter& p, std::initializer_list<L> joints, double wide) const {
    QPolygonF line;
    for (const L l : joints) line << at(l);
    p.setPen(QPen(body_colour(), wide, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.drawPolyline(line);
}

void RiderDrawing::limb(QPainter& p, std::initializer_list<L> joints, const char* measure,
                        const char* or_measure) const {
    const Theme& t = theme();
    const auto rank = [](core::Verdict v) {
        return v == core::Verdict::outside      ? 3
               : v == core::Verdict::borderline ? 2
               : v == core::Verdict::inside     ? 1
                                                : 0;
    };
    core::Verdict verdict = core::Verdict::no_band;
    for (const char* id : {measure, or_measure}) {
        const core::Judged* j = find(id);
        if (j && j->measured.value && rank(j->verdict) > rank(verdict)) verdict = j->verdict;
    }
    bool marked = true;
    QPolygonF line;
    for (const L l : joints) {
        line << at(l);
        marked = marked && figure_[l].visibility != core::Visibility::absent;
    }
    QColor colour = marked ? t.ink : t.line;
    double wide = 1.6;
    if (verdict == core::Verdict::outside) colour = t.clay, wide = 4;
    if (verdict == core::Verdict::borderline) colour = t.leaf, wide = 3;
    p.setPen(QPen(colour, wide, verdict == core::Verdict::borderline ? Qt::DashLine : Qt::SolidLine,
                  Qt::RoundCap, Qt::RoundJoin));
    p.drawPolyline(line);
}

void RiderDrawing::paint_body(QPainter& p) const {
    const Theme& t = theme();
    const double s = scale_, sign = right_ ? 1 : -1;
    paint_range(p);
    // A quiet line of leather and iron.
    p.setPen(QPen(t.line, 2, Qt::SolidLine, Qt::RoundCap));
    p.setBrush(Qt::NoBrush);
    const QPointF tread = at(L::heel) + (at(L::toe) - at(L::heel)) * 0.66 + QPointF(0, 0.03 * s);
    p.drawLine(at(L::hip) + QPointF(sign * 0.30 * s, 0.16 * s), tread - QPointF(0, 0.16 * s));
    p.drawEllipse(tread - QPointF(0, 0.07 * s), 0.07 * s, 0.09 * s);
    const QPointF head = at(L::ear) + QPointF(sign * 0.03 * s, -0.02 * s);
    flesh(p, {L::hip, L::knee}, 0.24 * s);
    flesh(p, {L::knee, L::ankle, L::heel}, 0.15 * s);
    flesh(p, {L::heel, L::toe}, 0.11 * s);
    flesh(p, {L::hip, L::shoulder}, 0.32 * s);
    flesh(p, {L::shoulder, L::ear}, 0.13 * s);
    flesh(p, {L::shoulder, L::elbow, L::wrist, L::knuckle}, 0.11 * s);
    p.setPen(Qt::NoPen);
    p.setBrush(body_colour());
    p.drawEllipse(head, 0.17 * s, 0.21 * s);
    p.setBrush(Qt::NoBrush);
    limb(p, {L::hip, L::knee}, "knee_angle", "hip_angle");
    limb(p, {L::knee, L::ankle, L::heel}, "heel_offset");
    limb(p, {L::heel, L::toe}, "heel_drop");
    limb(p, {L::hip, L::shoulder}, "trunk_lean");
    limb(p, {L::shoulder, L::elbow}, "upper_arm");
    limb(p, {L::elbow, L::wrist, L::knuckle}, "elbow_angle", "hand_line");
    limb(p, {L::shoulder, L::ear}, "ear_offset");
    // The helmet's rim.
    p.setPen(QPen(t.ink, 1.6, Qt::SolidLine, Qt::RoundCap));
    const QRectF shell(head.x() - 0.19 * s, head.y() - 0.24 * s, 0.38 * s, 0.40 * s);
    QPainterPath rim;
    rim.arcMoveTo(shell, right_ ? 8 : 172);
    rim.arcTo(shell, right_ ? 8 : 172, right_ ? 172 : -172);
    p.drawPath(rim);
    p.drawLine(head + QPointF(sign * 0.19 * s, -0.06 * s), head + QPointF(sign * 0.30 * s, -0.02 * s));
}

void RiderDrawing::paint_frontal(QPainter& p) const {
    const double s = scale_;
    const QPointF hips = (at(L::left_hip) + at(L::right_hip)) / 2,
                  shoulders = (at(L::left_shoulder) + at(L::right_shoulder)) / 2;
    flesh(p, {L::left_hip, L::left_knee, L::left_heel}, 0.18 * s);
    flesh(p, {L::right_hip, L::right_knee, L::right_heel}, 0.18 * s);
    flesh(p, {L::left_hip, L::right_hip}, 0.24 * s);
    p.setPen(QPen(body_colour(), 0.42 * s, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(hips, shoulders);
    flesh(p,
          {L::left_knuckle, L::left_elbow, L::left_shoulder, L::right_shoulder, L::right_elbow,
           L::right_knuckle},
          0.12 * s);
    p.setPen(QPen(theme().ink, 1.6));
    p.setBrush(body_colour());
    p.drawEllipse(at(L::chin) - QPointF(0, 0.16 * s), 0.16 * s, 0.22 * s);
    p.setBrush(Qt::NoBrush);
    limb(p, {L::left_hip, L::left_knee, L::left_heel}, "");
    limb(p, {L::right_hip, L::right_knee, L::right_heel}, "");
    limb(p, {L::left_hip, L::right_hip}, "hip_tilt", "seat_on_saddle");
    const core::Judged* lean = find("lateral_lean");
    const bool out = lean && lean->verdict == core::Verdict::outside;
    p.setPen(QPen(out ? theme().clay : theme().ink, out ? 4 : 1.6, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(hips, shoulders);
    limb(p, {L::left_shoulder, L::right_shoulder}, "shoulder_tilt");
    limb(p, {L::left_shoulder, L::left_elbow, L::left_knuckle}, "hands_tilt");
    limb(p, {L::right_shoulder, L::right_elbow, L::right_knuckle}, "hands_tilt");
}

void RiderDrawing::paint(QPainter& p) const {
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    if (figure_.view == core::View::side)
        paint_body(p);
    else
        paint_frontal(p);
    p.restore();
}

}  // namespace aspen::ui
