#include "core/measures/measure_table.hpp"

namespace aspen::core::detail {
namespace {

using L = Landmark;

/// Front and rear view: roll only. `s` is +1 from behind and -1 from the front, so that right is the rider's
/// right.
class Frontal {
  public:
    Frontal(const Inputs& in, const Figure& figure)
        : in_(in), side_(figure.view == View::front ? -1.0 : 1.0) {}
    double x(L l) const { return unrolled(in_.at[index(l)], in_.roll_rad).x; }
    double u(L l) const { return -unrolled(in_.at[index(l)], in_.roll_rad).y; }
    double mid_x(L a, L b) const { return (x(a) + x(b)) / 2; }
    double mid_u(L a, L b) const { return (u(a) + u(b)) / 2; }
    double width(L a, L b) const { return std::hypot(x(a) - x(b), u(a) - u(b)); }
    double right() const { return side_; }

  private:
    const Inputs& in_;
    double side_;
};

double tilt(const Frontal& v, L left, L right) {
    return degrees(std::atan2(v.u(left) - v.u(right), std::abs(v.x(left) - v.x(right))));
}
double off_middle(const Frontal& v, double x) {
    return 100.0 * v.right() * (x - v.x(L::horse_mid)) / v.width(L::left_hip, L::right_hip);
}

#define ASPEN_FRONTAL(expression)                          \
    [](const Inputs& in, const Figure& figure) -> double { \
        const Frontal v(in, figure);                       \
        return expression;                                 \
    }

}  // namespace

std::span<const Formula> frontal_formulas() {
    using P = BodyPart;
    constexpr View w = View::rear;
    static const std::vector<Formula> table{
        {{"chin_offset",
          "chin from horse's middle",
          "%",
          P::head,
          w,
          {L::chin, L::horse_mid, L::left_hip, L::right_hip}},
         ASPEN_FRONTAL(off_middle(v, v.x(L::chin)))},
        {{"shoulder_tilt", "shoulders level", "deg", P::shoulder, w, {L::left_shoulder, L::right_shoulder}},
         ASPEN_FRONTAL(tilt(v, L::left_shoulder, L::right_shoulder)),
         false,
         true},
        {{"hands_tilt", "hands level", "deg", P::hand, w, {L::left_knuckle, L::right_knuckle}},
         ASPEN_FRONTAL(tilt(v, L::left_knuckle, L::right_knuckle)),
         false,
         true},
        {{"hands_width",
          "width of hands",
          "%",
          P::hand,
          w,
          {L::left_knuckle, L::right_knuckle, L::left_shoulder, L::right_shoulder}},
         ASPEN_FRONTAL(100.0 * v.width(L::left_knuckle, L::right_knuckle) /
                       v.width(L::left_shoulder, L::right_shoulder))},
        {{"lateral_lean",
          "lean to the side",
          "deg",
          P::trunk,
          w,
          {L::left_shoulder, L::right_shoulder, L::left_hip, L::right_hip}},
         ASPEN_FRONTAL(degrees(std::atan2(
             v.right() * (v.mid_x(L::left_shoulder, L::right_shoulder) - v.mid_x(L::left_hip, L::right_hip)),
             v.mid_u(L::left_shoulder, L::right_shoulder) - v.mid_u(L::left_hip, L::right_hip)))),
         false,
         true},
        {{"hip_tilt", "hips level", "deg", P::hip, w, {L::left_hip, L::right_hip}},
         ASPEN_FRONTAL(tilt(v, L::left_hip, L::right_hip)),
         false,
         true},
        {{"centre_offset", "middle over middle", "%", P::hip, w, {L::left_hip, L::right_hip, L::horse_mid}},
         ASPEN_FRONTAL(off_middle(v, v.mid_x(L::left_hip, L::right_hip)))},
        {{"saddle_offset",
          "saddle over middle",
          "%",
          P::hip,
          w,
          {L::saddle_mid, L::horse_mid, L::left_hip, L::right_hip}},
         ASPEN_FRONTAL(off_middle(v, v.x(L::saddle_mid)))},
        {{"heels_tilt", "heels level", "deg", P::heel, w, {L::left_heel, L::right_heel}},
         ASPEN_FRONTAL(tilt(v, L::left_heel, L::right_heel)),
         false,
         true},
        {{"stirrup_difference",
          "irons level",
          "%",
          P::iron,
          w,
          {L::left_iron, L::right_iron, L::left_hip, L::right_hip}},
         ASPEN_FRONTAL(100.0 * (v.u(L::left_iron) - v.u(L::right_iron)) /
                       v.width(L::left_hip, L::right_hip))},
    };
    return table;
}

#undef ASPEN_FRONTAL

}  // namespace aspen::core::detail
