#include "core/measures/measure_table.hpp"

#include <algorithm>
#include <iterator>

namespace aspen::core::detail {
namespace {

using L = Landmark;

/// Front and rear view of one evaluation. `side` is +1 from behind and -1 from the front, so that right is
/// the rider's right: y = (side x' - along T sin yaw) / cos yaw with T = |middle of the shoulders - middle of
/// the hips| in uncorrected pixels. On a circle or turn all points are then turned about the horse's middle
/// so that the ground under it lies straight below.
class Frontal {
  public:
    Frontal(const Inputs& in, const Figure& figure)
        : in_(in),
          side_(figure.view == View::front ? -1.0 : 1.0),
          cos_(std::cos(in.yaw_rad)),
          sin_(std::sin(in.yaw_rad)),
          trunk_(in.guessed_trunk_px > 0 ? in.guessed_trunk_px
                                         : distance(middle(L::left_shoulder, L::right_shoulder),
                                                    middle(L::left_hip, L::right_hip))) {
        if (!in.turned) return;
        pivot_ = {straight_y(L::horse_mid), straight_u(L::horse_mid)};
        const double y = pivot_.f - straight_y(L::ground_mid), u = pivot_.u - straight_u(L::ground_mid);
        const double h = std::hypot(y, u);
        if (h > 0) turn_cos_ = u / h, turn_sin_ = y / h;
    }
    /// To the rider's right.
    double y(L l) const {
        return pivot_.f + (straight_y(l) - pivot_.f) * turn_cos_ - (straight_u(l) - pivot_.u) * turn_sin_;
    }
    double u(L l) const {
        return pivot_.u + (straight_y(l) - pivot_.f) * turn_sin_ + (straight_u(l) - pivot_.u) * turn_cos_;
    }
    double mid_y(L a, L b) const { return (y(a) + y(b)) / 2; }
    double mid_u(L a, L b) const { return (u(a) + u(b)) / 2; }
    double width(L a, L b) const { return std::hypot(y(a) - y(b), u(a) - u(b)); }
    double trunk() const { return trunk_; }

  private:
    Point middle(L a, L b) const {
        const Point p = in_.at[index(a)], q = in_.at[index(b)];
        return {(p.x + q.x) / 2, (p.y + q.y) / 2};
    }
    double straight_y(L l) const {
        const double x = unrolled(in_.at[index(l)], in_.roll_rad).x;
        return (side_ * x - in_.out_of_plane[index(l)] * trunk_ * sin_) / cos_ + in_.shift[index(l)];
    }
    double straight_u(L l) const { return -unrolled(in_.at[index(l)], in_.roll_rad).y; }
    const Inputs& in_;
    double side_, cos_, sin_, trunk_;
    PlanePoint pivot_{};
    double turn_cos_ = 1, turn_sin_ = 0;
};

double tilt(const Frontal& v, L left, L right) {
    return degrees(std::atan2(v.u(left) - v.u(right), std::abs(v.y(left) - v.y(right))));
}
/// Per cent of the hips' width, to the rider's right.
double of_hips(const Frontal& v, double px) { return 100.0 * px / v.width(L::left_hip, L::right_hip); }
double off_middle(const Frontal& v, double y) { return of_hips(v, y - v.y(L::horse_mid)); }
double seat(const Frontal& v) { return v.mid_y(L::left_hip, L::right_hip); }

#define ASPEN_FRONTAL(expression)                          \
    [](const Inputs& in, const Figure& figure) -> double { \
        const Frontal v(in, figure);                       \
        return expression;                                 \
    }

constexpr double kLargestOffsetYawDeg = 10.0;

constexpr double kOff = kLargestOffsetYawDeg, kTilts = kLargestYawDeg;
const Span kHips{L::left_hip, L::right_hip}, kShoulders{L::left_shoulder, L::right_shoulder},
    kTrunkSpan{L::left_shoulder, L::left_hip, L::right_shoulder, L::right_hip};

/// Head, shoulders, hands, trunk and hips.
std::vector<Formula> level_and_upright() {
    using P = BodyPart;
    constexpr View w = View::rear;
    return {
        {{"chin_offset",
          "chin from horse's middle",
          "%",
          P::head,
          w,
          {L::chin, L::horse_mid, L::left_hip, L::right_hip}},
         ASPEN_FRONTAL(off_middle(v, v.y(L::chin))),
         {kHips},
         false,
         kOff,
         true,
         true},
        {{"shoulder_tilt", "shoulders level", "deg", P::shoulder, w, {L::left_shoulder, L::right_shoulder}},
         ASPEN_FRONTAL(tilt(v, L::left_shoulder, L::right_shoulder)),
         {kShoulders},
         false,
         kTilts,
         true},
        {{"hands_tilt", "hands level", "deg", P::hand, w, {L::left_knuckle, L::right_knuckle}},
         ASPEN_FRONTAL(tilt(v, L::left_knuckle, L::right_knuckle)),
         {{L::left_knuckle, L::right_knuckle}},
         false,
         kTilts,
         true},
        {{"hands_width",
          "width of hands",
          "%",
          P::hand,
          w,
          {L::left_knuckle, L::right_knuckle, L::left_shoulder, L::right_shoulder}},
         ASPEN_FRONTAL(100.0 * v.width(L::left_knuckle, L::right_knuckle) /
                       v.width(L::left_shoulder, L::right_shoulder)),
         {kShoulders},
         false,
         kOff},
        {{"lateral_lean",
          "lean to the side",
          "deg",
          P::trunk,
          w,
          {L::left_shoulder, L::right_shoulder, L::left_hip, L::right_hip}},
         ASPEN_FRONTAL(degrees(
             std::atan2(v.mid_y(L::left_shoulder, L::right_shoulder) - seat(v),
                        v.mid_u(L::left_shoulder, L::right_shoulder) - v.mid_u(L::left_hip, L::right_hip)))),
         {kTrunkSpan},
         false,
         kOff,
         true},
        {{"hip_tilt", "hips level", "deg", P::hip, w, {L::left_hip, L::right_hip}},
         ASPEN_FRONTAL(tilt(v, L::left_hip, L::right_hip)),
         {kHips},
         false,
         kTilts,
         true},
    };
}

/// Over the horse, saddle, heels and irons.
std::vector<Formula> on_the_horse() {
    using P = BodyPart;
    constexpr View w = View::rear;
    return {
        {{"centre_offset", "middle over middle", "%", P::hip, w, {L::left_hip, L::right_hip, L::horse_mid}},
         ASPEN_FRONTAL(off_middle(v, seat(v))),
         {kHips},
         false,
         kOff,
         true,
         true},
        {{"seat_on_saddle", "seat on the saddle", "%", P::hip, w, {L::left_hip, L::right_hip, L::saddle_mid}},
         ASPEN_FRONTAL(of_hips(v, seat(v) - v.y(L::saddle_mid))),
         {kHips},
         false,
         kOff,
         true},
        {{"saddle_offset",
          "saddle over middle",
          "%",
          P::hip,
          w,
          {L::saddle_mid, L::horse_mid, L::left_hip, L::right_hip}},
         ASPEN_FRONTAL(off_middle(v, v.y(L::saddle_mid))),
         {kHips},
         false,
         kOff,
         true,
         true},
        {{"heels_tilt", "heels level", "deg", P::heel, w, {L::left_heel, L::right_heel}},
         ASPEN_FRONTAL(tilt(v, L::left_heel, L::right_heel)),
         {{L::left_heel, L::right_heel}},
         false,
         kTilts,
         true},
        {{"stirrup_difference",
          "irons level",
          "%",
          P::iron,
          w,
          {L::left_iron, L::right_iron, L::left_hip, L::right_hip}},
         ASPEN_FRONTAL(of_hips(v, v.u(L::left_iron) - v.u(L::right_iron))),
         {kHips},
         false,
         kTilts,
         true},
    };
}

}  // namespace

double frontal_trunk_px(const Inputs& in, const Figure& figure) { return Frontal(in, figure).trunk(); }
double frontal_length(const Span& s, const Inputs& in, const Figure& figure) {
    const Frontal v(in, figure);
    const L a = s.a_pair.value_or(s.a), b = s.b_pair.value_or(s.b);
    return std::hypot(v.mid_y(s.a, a) - v.mid_y(s.b, b), v.mid_u(s.a, a) - v.mid_u(s.b, b));
}

std::span<const Formula> frontal_formulas() {
    static const std::vector<Formula> table = [] {
        std::vector<Formula> all = level_and_upright();
        std::ranges::move(on_the_horse(), std::back_inserter(all));
        return all;
    }();
    return table;
}

#undef ASPEN_FRONTAL

}  // namespace aspen::core::detail
