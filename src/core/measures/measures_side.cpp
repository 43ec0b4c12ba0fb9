#include "core/measures/side_plane.hpp"

#include <algorithm>
#include <iterator>

namespace aspen::core::detail {
namespace {

using L = Landmark;

PlanePoint minus(PlanePoint a, PlanePoint b) { return {a.f - b.f, a.u - b.u}; }

/// Angle of the line from `from` up to `to`, forward of the vertical.
double from_upright(const Side& s, L from, L to) {
    const PlanePoint d = minus(s.at(to), s.at(from));
    return degrees(std::atan2(d.f, d.u));
}
/// Angle of the line from `from` down to `to`, forward of the vertical.
double from_plumb(const Side& s, L from, L to) {
    const PlanePoint d = minus(s.at(to), s.at(from));
    return degrees(std::atan2(d.f, -d.u));
}
double from_level(PlanePoint d) { return degrees(std::atan2(d.u, d.f)); }
double at_joint(const Side& s, L joint, L one, L other) {
    return degrees(signed_angle(minus(s.at(one), s.at(joint)), minus(s.at(other), s.at(joint))));
}
double share(double part, double whole) { return 100.0 * part / whole; }

#define ASPEN_SIDE(expression)                             \
    [](const Inputs& in, const Figure& figure) -> double { \
        const Side s(in, figure);                          \
        return expression;                                 \
    }

/// Head, arms and hands.
std::vector<Formula> above_the_hip() {
    using P = BodyPart;
    constexpr View v = View::side;
    return {
        {{"ear_offset", "ear from shoulder", "%", P::head, v, {L::ear, L::shoulder, L::hip}},
         ASPEN_SIDE(share(s.at(L::ear).f - s.at(L::shoulder).f, s.trunk())),
         {{L::shoulder, L::hip}}},
        {{"head_pitch", "chin up or down", "deg", P::head, v, {L::ear, L::eye}},
         ASPEN_SIDE(from_level(minus(s.at(L::eye), s.at(L::ear)))),
         {{L::ear, L::eye}}},
        {{"shoulder_past_knee", "shoulder past knee", "%", P::shoulder, v, {L::shoulder, L::hip, L::knee}},
         ASPEN_SIDE(share(s.at(L::shoulder).f - s.at(L::knee).f, s.thigh())),
         {{L::hip, L::knee}}},
        {{"upper_arm", "upper arm", "deg", P::elbow, v, {L::shoulder, L::elbow}},
         ASPEN_SIDE(from_plumb(s, L::shoulder, L::elbow)),
         {{L::shoulder, L::elbow}}},
        {{"elbow_angle", "elbow", "deg", P::elbow, v, {L::shoulder, L::elbow, L::wrist}},
         ASPEN_SIDE(at_joint(s, L::elbow, L::shoulder, L::wrist)),
         {{L::shoulder, L::elbow}, {L::elbow, L::wrist}},
         true},
        {{"hand_line", "hand off elbow\u2013bit line", "deg", P::hand, v, {L::elbow, L::knuckle, L::bit}},
         [](const Inputs& in, const Figure& figure) -> double {
             const Side s(in, figure);
             const PlanePoint a = minus(s.at(L::knuckle), s.at(L::elbow));
             const PlanePoint b = minus(s.at(L::bit), s.at(L::knuckle));
             return degrees(std::atan2(a.u * b.f - a.f * b.u, a.f * b.f + a.u * b.u));
         },
         {{L::elbow, L::knuckle}, {L::knuckle, L::bit}}},
        {{"hand_height",
          "hand above withers",
          "%",
          P::hand,
          v,
          {L::knuckle, L::withers, L::shoulder, L::hip}},
         ASPEN_SIDE(share(s.at(L::knuckle).u - s.at(L::withers).u, s.trunk())),
         {{L::shoulder, L::hip}}},
        {{"hand_ahead",
          "hand ahead of withers",
          "%",
          P::hand,
          v,
          {L::knuckle, L::withers, L::shoulder, L::hip}},
         ASPEN_SIDE(share(s.at(L::knuckle).f - s.at(L::withers).f, s.trunk())),
         {{L::shoulder, L::hip}}},
    };
}

/// Trunk, legs and the horse.
std::vector<Formula> trunk_leg_and_horse() {
    using P = BodyPart;
    constexpr View v = View::side;
    return {
        {{"trunk_lean", "trunk lean", "deg", P::trunk, v, {L::shoulder, L::hip}},
         ASPEN_SIDE(from_upright(s, L::hip, L::shoulder)),
         {{L::shoulder, L::hip}}},
        {{"hip_angle", "hip", "deg", P::hip, v, {L::shoulder, L::hip, L::knee}},
         ASPEN_SIDE(at_joint(s, L::hip, L::shoulder, L::knee)),
         {{L::shoulder, L::hip}, {L::hip, L::knee}},
         true},
        {{"seat_place", "seat in the saddle", "%", P::hip, v, {L::hip, L::cantle, L::withers}},
         ASPEN_SIDE(share(s.at(L::hip).f - s.at(L::cantle).f, s.at(L::withers).f - s.at(L::cantle).f)),
         {{L::cantle, L::withers}}},
        {{"knee_angle", "knee", "deg", P::knee, v, {L::hip, L::knee, L::ankle}},
         ASPEN_SIDE(at_joint(s, L::knee, L::hip, L::ankle)),
         {{L::hip, L::knee}, {L::knee, L::ankle}},
         true},
        {{"lower_leg", "lower leg", "deg", P::lower_leg, v, {L::knee, L::ankle}},
         ASPEN_SIDE(from_plumb(s, L::knee, L::ankle)),
         {{L::knee, L::ankle}}},
        {{"heel_offset", "heel from hip", "%", P::lower_leg, v, {L::heel, L::hip, L::knee, L::ankle}},
         ASPEN_SIDE(share(s.at(L::heel).f - s.at(L::hip).f, s.leg())),
         {{L::hip, L::knee}, {L::knee, L::ankle}}},
        {{"ankle_angle", "ankle", "deg", P::heel, v, {L::knee, L::ankle, L::toe}},
         ASPEN_SIDE(at_joint(s, L::ankle, L::knee, L::toe)),
         {{L::knee, L::ankle}, {L::ankle, L::toe}},
         true},
        {{"heel_drop", "heel drop", "deg", P::heel, v, {L::heel, L::toe}},
         ASPEN_SIDE(from_level(minus(s.at(L::toe), s.at(L::heel)))),
         {{L::heel, L::toe}}},
        {{"leather", "leather", "deg", P::iron, v, {L::leather_top, L::iron}},
         ASPEN_SIDE(from_plumb(s, L::leather_top, L::iron)),
         {{L::leather_top, L::iron}}},
        {{"poll_height", "poll above withers", "%", P::horse, v, {L::poll, L::withers, L::croup}},
         ASPEN_SIDE(share(s.at(L::poll).u - s.at(L::withers).u, distance(s.at(L::withers), s.at(L::croup)))),
         {{L::withers, L::croup}}},
        {{"horse_nose", "horse's nose", "deg", P::horse, v, {L::poll, L::bit}},
         ASPEN_SIDE(from_plumb(s, L::poll, L::bit)),
         {{L::poll, L::bit}}},
    };
}

}  // namespace

std::span<const Formula> side_formulas() {
    static const std::vector<Formula> table = [] {
        std::vector<Formula> all = above_the_hip();
        std::ranges::move(trunk_leg_and_horse(), std::back_inserter(all));
        return all;
    }();
    return table;
}

#undef ASPEN_SIDE

double side_trunk_px(const Inputs& in, const Figure& figure) { return Side(in, figure).trunk0(); }
double side_length(const Span& span, const Inputs& in, const Figure& figure) {
    const Side s(in, figure);
    return distance(s.at(span.a), s.at(span.b));
}

}  // namespace aspen::core::detail
