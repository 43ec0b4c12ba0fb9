#include "core/proposal/pose.hpp"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <functional>
#include <unsupported/Eigen/NonLinearOptimization>
#include <unsupported/Eigen/NumericalDiff>

namespace aspen::core {
namespace {

using L = Landmark;
using Vector = Eigen::VectorXd;

constexpr std::array kPosed{L::ear, L::eye,  L::chin,  L::shoulder, L::elbow, L::wrist, L::knuckle,
                            L::hip, L::knee, L::ankle, L::heel,     L::toe,   L::iron};

// Of the parameters: place and size, then angles in radians.
enum Parameter { kHipF, kHipU, kSize, kLean, kNeck, kHead, kArm, kFore, kThigh, kShank, kSole, kParameters };

constexpr double kModelSlack = 0.03;  // trunk lengths: no rider has exactly these limbs
constexpr double kEyeAhead = 0.18, kChinAhead = 0.17,
                 kChinDown = 0.22;  // of the ear, trunk lengths (from memory)
// How far riders usually stray from the usual pose, one standard deviation (from memory).
constexpr double kLeanSd = 9, kNeckSd = 6, kHeadSd = 9, kArmSd = 14, kElbowSd = 16, kKneeSd = 11,
                 kHeelDropSd = 7;
constexpr double kHeelOffsetSd = 0.09;  // of the leg
constexpr double kSizeSd = 0.12;        // of the logarithm, against what the usual pose would give
constexpr double kKnownSizeSd = 0.01;
constexpr int kMostSteps = 25;

PlanePoint ahead(PlanePoint a, double length, double f, double u) {
    return {a.f + length * f, a.u + length * u};
}

/// The chain at given parameters, in trunk lengths times e^size.
struct Chain {
    std::array<PlanePoint, kLandmarkCount> at{};
    PlanePoint top;
    PlanePoint& operator[](L l) { return at[index(l)]; }
};

Chain chain(const Vector& p, const Limbs& limbs) {
    const double s = std::exp(p[kSize]);
    Chain c;
    c[L::hip] = {p[kHipF], p[kHipU]};
    c[L::shoulder] = ahead(c[L::hip], s, std::sin(p[kLean]), std::cos(p[kLean]));
    c[L::ear] = ahead(c[L::shoulder], s * limbs.neck, std::sin(p[kNeck]), std::cos(p[kNeck]));
    const double lf = std::cos(p[kHead]), lu = std::sin(p[kHead]);
    c[L::eye] = ahead(c[L::ear], s * kEyeAhead, lf, lu);
    c[L::chin] = ahead(ahead(c[L::ear], s * kChinAhead, lf, lu), s * kChinDown, lu, -lf);
    c.top = ahead(ahead(c[L::ear], s * limbs.crown, -lu, lf), s * 0.02, lf, lu);
    c[L::elbow] = ahead(c[L::shoulder], s * limbs.upper_arm, std::sin(p[kArm]), -std::cos(p[kArm]));
    c[L::wrist] = ahead(c[L::elbow], s * limbs.forearm, std::sin(p[kFore]), -std::cos(p[kFore]));
    c[L::knuckle] = ahead(c[L::wrist], s * limbs.hand, std::sin(p[kFore]), -std::cos(p[kFore]));
    c[L::knee] = ahead(c[L::hip], s * limbs.thigh, std::sin(p[kThigh]), -std::cos(p[kThigh]));
    c[L::ankle] = ahead(c[L::knee], s * limbs.shank, std::sin(p[kShank]), -std::cos(p[kShank]));
    const double sf = std::cos(p[kSole]), su = std::sin(p[kSole]);
    c[L::heel] = ahead(ahead(c[L::ankle], -s * limbs.ankle_ahead, sf, su), -s * limbs.ankle_up, -su, sf);
    c[L::toe] = ahead(c[L::heel], s * limbs.foot, sf, su);
    c[L::iron] = ahead(c[L::heel], s * limbs.tread, sf, su);
    return c;
}

/// The usual pose's angles as parameters: the heel stands below the hip, the knee bends forward.
Vector usual_parameters(const UsualPose& usual, const Limbs& limbs) {
    Vector p = Vector::Zero(kParameters);
    const double knee = radians(usual.knee_angle);
    const double reach = std::sqrt(std::max(1e-6, limbs.thigh * limbs.thigh + limbs.shank * limbs.shank -
                                                      2 * limbs.thigh * limbs.shank * std::cos(knee)));
    const double ahead = limbs.ankle_ahead + usual.heel_offset / 100 * (limbs.thigh + limbs.shank);
    const double lean = std::asin(std::clamp(ahead / reach, -0.9, 0.9));
    const double at_hip = std::acos(std::clamp(
        (limbs.thigh * limbs.thigh + reach * reach - limbs.shank * limbs.shank) / (2 * limbs.thigh * reach),
        -1.0, 1.0));
    p[kThigh] = lean + at_hip;
    p[kShank] = p[kThigh] - (std::numbers::pi - knee);
    p[kLean] = radians(usual.trunk_lean);
    p[kNeck] = radians(usual.neck);
    p[kHead] = radians(usual.head_pitch);
    p[kArm] = radians(usual.upper_arm);
    p[kFore] = p[kArm] + std::numbers::pi - radians(usual.elbow_angle);
    p[kSole] = radians(usual.heel_drop);
    return p;
}

/// Between the picture and the side-view plane, roll and yaw taken out; depth is that of data/body.json.
class PosePlane {
  public:
    PosePlane(Travel travel, const CameraPose& camera, const Body& body)
        : body_(body),
          sign_(travel == Travel::left ? -1 : 1),
          roll_(radians(camera.roll_deg)),
          cos_(std::cos(radians(camera.yaw_deg))),
          sin_(std::sin(radians(camera.yaw_deg))) {}
    PlanePoint in(Point at, L l, double trunk_px) const { return flat(at, body_.depth[index(l)] * trunk_px); }
    PlanePoint top_in(Point at, double trunk_px) const {
        return flat(at, body_.depth[index(L::eye)] * trunk_px);
    }
    Point out(PlanePoint p, L l, double trunk_px) const {
        return picture(p, body_.depth[index(l)] * trunk_px);
    }
    Point top_out(PlanePoint p, double trunk_px) const {
        return picture(p, body_.depth[index(L::eye)] * trunk_px);
    }

  private:
    PlanePoint flat(Point at, double depth_px) const {
        const Point q = unrolled(at, roll_);
        return {(sign_ * q.x - depth_px * sin_) / cos_, -q.y};
    }
    Point picture(PlanePoint p, double depth_px) const {
        return unrolled({sign_ * (p.f * cos_ + depth_px * sin_), -p.u}, -roll_);
    }
    const Body& body_;
    double sign_, roll_, cos_, sin_;
};

class Fit;

/// The fit as Eigen asks for it.
struct Residuals {
    using Scalar = double;
    using InputType = Vector;
    using ValueType = Vector;
    using JacobianType = Eigen::MatrixXd;
    enum { InputsAtCompileTime = Eigen::Dynamic, ValuesAtCompileTime = Eigen::Dynamic };
    const Fit& fit;

    int inputs() const { return kParameters; }
    int values() const;
    int operator()(const Vector& at, Vector& out) const;
};

/// One fit: residuals in standard deviations, lengths in units of a trunk guessed beforehand.
class Fit {
  public:
    Fit(const PoseFrame& frame, const Body& body, std::span<const KnownJoint> known,
        std::optional<Point> head_top, double trunk_px)
        : frame_(frame), usual_(usual_parameters(frame.usual, frame.limbs)), unit_(trunk_px) {
        const PosePlane plane(frame.travel, frame.camera, body);
        for (const KnownJoint& k : known) {
            const PlanePoint p = plane.in(k.at, k.landmark, unit_);
            known_.push_back(
                {k.landmark, {p.f / unit_, p.u / unit_}, std::hypot(k.sd_px / unit_, kModelSlack)});
        }
        if (head_top) {
            const PlanePoint p = plane.top_in(*head_top, unit_);
            top_ = PlanePoint{p.f / unit_, p.u / unit_};
        }
        rows_ = static_cast<Eigen::Index>(2 * known_.size() + (top_ ? 2 : 0) + 9);
    }

    Vector start() const {
        Vector p = usual_;
        const Chain c = chain(p, frame_.limbs);
        const PlanePoint seen = known_.empty() ? *top_ : known_.front().at;
        const PlanePoint own = known_.empty() ? c.top : c.at[index(known_.front().landmark)];
        p[kHipF] = seen.f - own.f;
        p[kHipU] = seen.u - own.u;
        return p;
    }

    Vector residuals(const Vector& p) const {
        const Chain c = chain(p, frame_.limbs);
        Vector r(rows_);
        Eigen::Index i = 0;
        const auto add = [&](double value, double sd) { r[i++] = value / sd; };
        for (const Target& k : known_) {
            add(c.at[index(k.landmark)].f - k.at.f, k.sd);
            add(c.at[index(k.landmark)].u - k.at.u, k.sd);
        }
        if (top_) {
            add(c.top.f - top_->f, 1.3 * kModelSlack);
            add(c.top.u - top_->u, 1.3 * kModelSlack);
        }
        const double loose = frame_.usual.leg_sd;
        add(p[kSize], frame_.trunk_px ? kKnownSizeSd : kSizeSd);
        add(p[kLean] - usual_[kLean], radians(kLeanSd * std::sqrt(loose)));
        add(p[kNeck] - usual_[kNeck], radians(kNeckSd));
        add(p[kHead] - usual_[kHead], radians(kHeadSd));
        add(p[kArm] - usual_[kArm], radians(kArmSd));
        add((p[kFore] - p[kArm]) - (usual_[kFore] - usual_[kArm]), radians(kElbowSd));
        add((p[kThigh] - p[kShank]) - (usual_[kThigh] - usual_[kShank]), radians(kKneeSd * loose));
        const double leg = (frame_.limbs.thigh + frame_.limbs.shank) * std::exp(p[kSize]);
        add((c.at[index(L::heel)].f - c.at[index(L::hip)].f) / leg - frame_.usual.heel_offset / 100,
            kHeelOffsetSd * loose);
        add(p[kSole] - usual_[kSole], radians(kHeelDropSd));
        return r;
    }

    /// Levenberg-Marquardt with derivatives by central differences, both Eigen's.
    Vector solve() const {
        Vector p = start();
        Eigen::NumericalDiff<Residuals, Eigen::Central> residuals_with_slopes(Residuals{*this});
        Eigen::LevenbergMarquardt<decltype(residuals_with_slopes)> search(residuals_with_slopes);
        search.parameters.maxfev = kMostSteps * (2 * kParameters + 1);
        search.minimize(p);
        return p;
    }

    double unit() const { return unit_; }
    Eigen::Index rows() const { return rows_; }

  private:
    struct Target {
        L landmark;
        PlanePoint at;
        double sd;
    };
    const PoseFrame& frame_;
    Vector usual_;
    double unit_;
    std::vector<Target> known_;
    std::optional<PlanePoint> top_;
    Eigen::Index rows_ = 0;
};

int Residuals::values() const { return static_cast<int>(fit.rows()); }
int Residuals::operator()(const Vector& at, Vector& out) const {
    out = fit.residuals(at);
    return 0;
}

/// The trunk's length in pixels if the known points lay as in the usual pose.
double usual_trunk_px(const PoseFrame& frame, std::span<const KnownJoint> known,
                      std::optional<Point> head_top) {
    const Chain usual = chain(usual_parameters(frame.usual, frame.limbs), frame.limbs);
    struct Pair {
        Point seen;
        PlanePoint own;
    };
    std::vector<Pair> points;
    for (const KnownJoint& k : known) points.push_back({k.at, usual.at[index(k.landmark)]});
    if (head_top) points.push_back({*head_top, usual.top});
    double seen = 0, own = 0;
    for (std::size_t i = 0; i < points.size(); ++i) {
        for (std::size_t j = 0; j < i; ++j) {
            const double d = distance(points[i].own, points[j].own);
            seen += d * distance(points[i].seen, points[j].seen);  // long distances tell more
            own += d * d;
        }
    }
    return own > 0 ? seen / own : 0;
}

double middle_value(std::vector<double> v) {
    std::ranges::sort(v);
    const std::size_t n = v.size();
    return n % 2 ? v[n / 2] : (v[n / 2 - 1] + v[n / 2]) / 2;
}

}  // namespace

Limbs typical_limbs(const Body& body) {
    Limbs out;
    out.thigh = body.thigh_m / body.trunk_m;
    out.shank = body.shank_m / body.trunk_m;
    out.foot = body.foot_m / body.trunk_m;
    out.upper_arm = body.upper_arm_m / body.trunk_m;
    out.forearm = body.forearm_m / body.trunk_m;
    return out;
}

Limbs limbs_of(std::span<const Figure> figures, const Body& body) {
    struct Limb {
        L a, b;
        double Limbs::*length;
    };
    static constexpr Limb kLimbs[] = {
        {L::shoulder, L::ear, &Limbs::neck},   {L::shoulder, L::elbow, &Limbs::upper_arm},
        {L::elbow, L::wrist, &Limbs::forearm}, {L::wrist, L::knuckle, &Limbs::hand},
        {L::hip, L::knee, &Limbs::thigh},      {L::knee, L::ankle, &Limbs::shank},
        {L::heel, L::toe, &Limbs::foot}};
    constexpr double kTypicalCounts = 2, kSquareEnoughDeg = 15;
    const Limbs typical = typical_limbs(body);
    Limbs out = typical;
    for (const Limb& limb : kLimbs) {
        std::vector<double> seen;
        for (const Figure& f : figures) {
            if (f.view != View::side || std::abs(f.camera.yaw_deg) > kSquareEnoughDeg) continue;
            // What was laid from these very limbs would only teach them back.
            const auto placed = [&](L l) { return f.measurable(l) && f[l].origin != Origin::laid; };
            if (!placed(L::shoulder) || !placed(L::hip) || !placed(limb.a) || !placed(limb.b)) continue;
            const PosePlane plane(f.travel, f.camera, body);
            const double trunk_px = distance(f[L::shoulder].at, f[L::hip].at);
            const auto at = [&](L l) { return plane.in(f[l].at, l, trunk_px); };
            const double trunk = distance(at(L::shoulder), at(L::hip));
            if (trunk > 1) seen.push_back(distance(at(limb.a), at(limb.b)) / trunk);
        }
        if (seen.empty()) continue;
        const double n = static_cast<double>(seen.size());
        out.*limb.length =
            (n * middle_value(seen) + kTypicalCounts * typical.*limb.length) / (n + kTypicalCounts);
    }
    return out;
}

UsualPose usual_pose(const Setting& setting, const Schools& schools) {
    UsualPose out;
    if (setting.seat == Seat::rising) out = {8, 4, 0, 14, 112, 122, 0, 8, 1.7};
    if (setting.seat == Seat::two_point) out = {22, 12, 0, 26, 120, 112, -1, 12, 1.3};
    if (setting.seat == Seat::half) out = {14, 8, 0, 20, 116, 112, 0, 10, 1.3};
    if (setting.school.empty()) return out;
    const std::pair<const char*, double UsualPose::*> from_bands[] = {
        {"trunk_lean", &UsualPose::trunk_lean},   {"upper_arm", &UsualPose::upper_arm},
        {"elbow_angle", &UsualPose::elbow_angle}, {"knee_angle", &UsualPose::knee_angle},
        {"heel_offset", &UsualPose::heel_offset}, {"heel_drop", &UsualPose::heel_drop}};
    for (const auto& [measure, field] : from_bands) {
        const BandOrReason found = schools.band(measure, setting);
        if (const Band* band = std::get_if<Band>(&found); band && band->lo && band->hi)
            out.*field = (*band->lo + *band->hi) / 2;
    }
    return out;
}

std::span<const Landmark> posed_landmarks() { return kPosed; }

std::optional<Pose> fit_pose(const PoseFrame& frame, const Body& body, std::span<const KnownJoint> known,
                             std::optional<Point> head_top) {
    std::vector<KnownJoint> posed;
    for (const KnownJoint& k : known) {
        if (std::ranges::find(kPosed, k.landmark) != kPosed.end()) posed.push_back(k);
    }
    if (posed.size() + (head_top ? 1 : 0) < 2) return std::nullopt;
    const double trunk = frame.trunk_px ? *frame.trunk_px : usual_trunk_px(frame, posed, head_top);
    if (!(trunk > 2)) return std::nullopt;
    const Fit fit(frame, body, posed, head_top, trunk);
    const Vector p = fit.solve();
    if (!p.allFinite()) return std::nullopt;
    Pose out;
    out.trunk_px = trunk * std::exp(p[kSize]);
    const Chain c = chain(p, frame.limbs);
    const PosePlane plane(frame.travel, frame.camera, body);
    const auto scaled = [&](PlanePoint q) { return PlanePoint{q.f * trunk, q.u * trunk}; };
    for (const L l : kPosed) out.at[index(l)] = plane.out(scaled(c.at[index(l)]), l, trunk);
    out.head_top = plane.top_out(scaled(c.top), trunk);
    return out;
}

Figure drag_joint(const Figure& figure, const Body& body, const Limbs& limbs, const UsualPose& usual,
                  Landmark moved, Point to) {
    Figure out = figure;
    out[moved].at = to;
    if (figure.view != View::side) return out;
    const auto loose = [&](L l) {
        return figure[l].visibility != Visibility::absent && !figure[l].confirmed && l != moved;
    };
    if (std::ranges::none_of(kPosed, loose)) return out;
    PoseFrame frame{figure.travel, figure.camera, limbs, usual, {}};
    const double trunk = figure[L::shoulder].visibility != Visibility::absent &&
                                 figure[L::hip].visibility != Visibility::absent
                             ? distance(figure[L::shoulder].at, figure[L::hip].at)
                             : 100;
    const auto known_of = [&](const Figure& f) {
        std::vector<KnownJoint> known;
        for (const L l : kPosed) {
            if (f[l].visibility != Visibility::seen) continue;  // one that cannot be seen says nothing
            known.push_back({l, f[l].at,
                             l == moved       ? 0.002 * trunk
                             : f[l].confirmed ? 0.01 * trunk
                                              : 0.10 * trunk});
        }
        return known;
    };
    const auto before = fit_pose(frame, body, known_of(figure), std::nullopt);
    if (!before) return out;
    frame.trunk_px = before->trunk_px;  // a joint pulled away stretches nobody
    const auto again = fit_pose(frame, body, known_of(figure), std::nullopt);
    const auto after = fit_pose(frame, body, known_of(out), std::nullopt);
    if (!again || !after) return out;
    for (const L l : kPosed) {
        if (!loose(l)) continue;
        // By how far the pose moves, not to where it lies: what the limbs do not explain stays as it was
        // seen.
        out[l].at.x += (*after)[l].x - (*again)[l].x;
        out[l].at.y += (*after)[l].y - (*again)[l].y;
    }
    return out;
}

std::vector<Landmark> against_the_joints(const Figure& figure) {
    struct Joint {
        L above, at, below;
        double turns;        ///< of the lower limb as it bends, seen travelling right: clockwise +1
        double least, most;  ///< of its bend, degrees; straight is 0
    };
    static constexpr std::array kJoints{
        Joint{L::shoulder, L::hip, L::knee, -1, -40, 150}, Joint{L::hip, L::knee, L::ankle, 1, -15, 150},
        Joint{L::knee, L::ankle, L::toe, -1, 10, 130}, Joint{L::shoulder, L::elbow, L::wrist, -1, -15, 150}};
    std::vector<L> out;
    if (figure.view != View::side || figure.travel == Travel::unknown) return out;
    const double way = figure.travel == Travel::right ? 1 : -1;
    for (const Joint& j : kJoints) {
        const auto there = [&](L l) { return figure[l].visibility != Visibility::absent; };
        if (!there(j.above) || !there(j.at) || !there(j.below)) continue;
        const Point a = figure[j.above].at, b = figure[j.at].at, c = figure[j.below].at;
        const Point in{way * (b.x - a.x), a.y - b.y}, on{way * (c.x - b.x), b.y - c.y};
        // How far the lower limb turns off the line of the upper one, anticlockwise.
        const double turn = degrees(std::atan2(in.x * on.y - in.y * on.x, in.x * on.x + in.y * on.y));
        const double bend = -j.turns * turn;
        if (bend < j.least || bend > j.most) out.push_back(j.at);
    }
    return out;
}

std::vector<Landmark> doubtful_by_limbs(const Figure& before, const Figure& after) {
    constexpr double kMostLonger = 1.15;
    constexpr std::size_t kFewestForZoom = 4;  // limbs, before most of them can tell a zoom
    struct Limb {
        L near, far;
        std::vector<L> with;
    };
    static const std::vector<Limb> limbs{
        {L::shoulder, L::ear, {}},  {L::shoulder, L::elbow, {}},
        {L::elbow, L::wrist, {}},   {L::hip, L::shoulder, {}},
        {L::hip, L::knee, {}},      {L::knee, L::ankle, {L::heel, L::toe, L::iron}},
        {L::ankle, L::heel, {}},    {L::heel, L::toe, {}},
        {L::withers, L::croup, {}}, {L::withers, L::cantle, {}}};
    const auto there = [&](L l) {
        return before[l].visibility != Visibility::absent && after[l].visibility != Visibility::absent;
    };
    struct Stretched {
        const Limb* limb;
        double by;
        bool off = false;
    };
    std::vector<Stretched> all;
    for (const Limb& limb : limbs) {
        if (!there(limb.near) || !there(limb.far)) continue;
        const double was = distance(before[limb.near].at, before[limb.far].at);
        if (was >= 1) all.push_back({&limb, distance(after[limb.near].at, after[limb.far].at) / was});
    }
    // A zoom stretches all alike: what counts is how far a limb is off from most.
    std::vector<double> ratios;
    for (const Stretched& s : all) ratios.push_back(s.by);
    std::ranges::sort(ratios);
    const double usual = ratios.size() < kFewestForZoom ? 1.0 : ratios[ratios.size() / 2];
    for (Stretched& s : all) s.off = s.by > usual * kMostLonger || s.by < usual / kMostLonger;
    // Of the two ends the one is blamed whose other limbs are off too; else the far one.
    const auto share_off = [&](L joint) {
        double off = 0, of = 0;
        for (const Stretched& s : all) {
            if (s.limb->near != joint && s.limb->far != joint) continue;
            ++of;
            off += s.off;
        }
        return off / of;
    };
    std::vector<L> out;
    for (const Stretched& s : all) {
        if (!s.off) continue;
        const bool near_lost = share_off(s.limb->near) > share_off(s.limb->far);
        out.push_back(near_lost ? s.limb->near : s.limb->far);
        if (!near_lost) out.insert(out.end(), s.limb->with.begin(), s.limb->with.end());
    }
    std::ranges::sort(out);
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

PlanePoint bend_between(PlanePoint a, PlanePoint b, double first, double second, double side) {
    const double apart = distance(a, b);
    if (!(first + second > 0)) return a;
    if (apart < 1e-12) return {a.f + side * first, a.u};
    const double f = (b.f - a.f) / apart, u = (b.u - a.u) / apart;
    if (apart >= first + second) return ahead(a, apart * first / (first + second), f, u);
    if (apart <= std::abs(first - second)) return ahead(a, first > second ? first : -first, f, u);
    const double along = (apart * apart + first * first - second * second) / (2 * apart);
    const double across = std::sqrt(std::max(0.0, first * first - along * along));
    return ahead(ahead(a, along, f, u), side * across, -u, f);
}

Figure mirrored(const Figure& figure, double width_px) {
    Figure out = figure;
    for (Mark& m : out.marks) {
        if (m.visibility == Visibility::absent) continue;
        m.at.x = width_px - m.at.x;
        if (m.put_at) m.put_at->x = width_px - m.put_at->x;
    }
    out.camera.roll_deg = -figure.camera.roll_deg;
    if (figure.travel != Travel::unknown)
        out.travel = figure.travel == Travel::left ? Travel::right : Travel::left;
    if (figure.view == View::side) return out;
    out.camera.yaw_deg = -figure.camera.yaw_deg;
    // Seen from front or rear the rider's left becomes the right one.
    const auto marks = out.marks;
    for (const L l : landmarks_of(figure.view)) {
        std::string other(id(l));
        if (other.starts_with("left_"))
            other.replace(0, 4, "right");
        else if (other.starts_with("right_"))
            other.replace(0, 5, "left");
        if (const auto twin = landmark_from(other)) out[*twin] = marks[index(l)];
    }
    return out;
}

Figure laid_onto(const Figure& figure, std::optional<Point> own_top, Point head_top, Point heel, Point toe) {
    std::vector<std::pair<Point, Point>> pairs;
    const auto there = [&](L l) { return figure[l].visibility != Visibility::absent; };
    if (own_top) pairs.emplace_back(*own_top, head_top);
    if (there(L::heel)) pairs.emplace_back(figure[L::heel].at, heel);
    if (there(L::toe)) pairs.emplace_back(figure[L::toe].at, toe);
    Figure out = figure;
    if (pairs.size() < 2) return out;
    // Least squares over x' = a x - b y + c, y' = b x + a y + d (Umeyama 1991, in the plane).
    Point own{}, seen{};
    const double n = static_cast<double>(pairs.size());
    for (const auto& [p, q] : pairs) own.x += p.x / n, own.y += p.y / n, seen.x += q.x / n, seen.y += q.y / n;
    double dot = 0, cross = 0, size = 0;
    for (const auto& [p, q] : pairs) {
        const double px = p.x - own.x, py = p.y - own.y, qx = q.x - seen.x, qy = q.y - seen.y;
        dot += px * qx + py * qy;
        cross += px * qy - py * qx;
        size += px * px + py * py;
    }
    if (size <= 0) return out;
    const double a = dot / size, b = cross / size;
    for (Mark& m : out.marks) {
        if (m.visibility == Visibility::absent) continue;
        const double x = m.at.x - own.x, y = m.at.y - own.y;
        m.at = {a * x - b * y + seen.x, b * x + a * y + seen.y};
        m.origin = Origin::laid;
        m.confirmed = false;
        m.put_at = m.at;
    }
    return out;
}

}  // namespace aspen::core
