#include "core/judging/target.hpp"

#include <algorithm>
#include <cmath>
#include <map>

namespace aspen::core {
namespace {

using L = Landmark;

/// The side view's plane in pixels: forward and up, roll taken out. The view's turn is left in: target and
/// rider are seen through the same camera.
class PicturePlane {
  public:
    explicit PicturePlane(const Figure& f)
        : roll_(radians(f.camera.roll_deg)), sign_(f.travel == Travel::left ? -1 : 1) {}
    PlanePoint of(Point p) const {
        const Point q = unrolled(p, roll_);
        return {sign_ * q.x, -q.y};
    }
    Point back(PlanePoint q) const { return unrolled({sign_ * q.f, -q.u}, -roll_); }

  private:
    double roll_, sign_;
};

PlanePoint difference(PlanePoint a, PlanePoint b) { return {a.f - b.f, a.u - b.u}; }
PlanePoint plus(PlanePoint a, PlanePoint b) { return {a.f + b.f, a.u + b.u}; }
PlanePoint turned(PlanePoint v, double rad) {
    return {v.f * std::cos(rad) - v.u * std::sin(rad), v.f * std::sin(rad) + v.u * std::cos(rad)};
}

/// The value nearest to the measured one that lies inside its band; the measured one where there is none.
double inside(const std::vector<Judged>& judged, std::string_view id, double otherwise) {
    const Judged* j = find(judged, id);
    if (!j || !j->measured.value || !j->band) return otherwise;
    double v = j->info().full_turn ? beside(*j->measured.value, *j->band) : *j->measured.value;
    if (j->band->lo) v = std::max(v, *j->band->lo);
    if (j->band->hi) v = std::min(v, *j->band->hi);
    return v;
}
/// By how much a measure has to change to lie inside.
double change(const std::vector<Judged>& judged, std::string_view id) {
    const Judged* j = find(judged, id);
    if (!j || !j->measured.value || !j->band) return 0;
    const double v = j->info().full_turn ? beside(*j->measured.value, *j->band) : *j->measured.value;
    return inside(judged, id, v) - v;
}

/// Hip to heel: the knee's angle and the heel's place inside their bands, the foot turned with the heel drop.
void lay_leg(std::map<L, PlanePoint>& at, const std::vector<Judged>& judged, bool toe) {
    const double thigh = distance(at[L::hip], at[L::knee]), shank = distance(at[L::knee], at[L::ankle]);
    const PlanePoint to_heel =
        turned(difference(at[L::heel], at[L::ankle]), radians(change(judged, "heel_drop")));
    const PlanePoint foot =
        toe ? turned(difference(at[L::toe], at[L::heel]), radians(change(judged, "heel_drop")))
            : PlanePoint{};
    const double measured_knee =
        std::abs(signed_angle(difference(at[L::hip], at[L::knee]), difference(at[L::ankle], at[L::knee])));
    const double knee = radians(inside(judged, "knee_angle", degrees(measured_knee)));
    const double now = 100 * (at[L::heel].f - at[L::hip].f) / (thigh + shank);
    const double offset = now + change(judged, "heel_offset");
    const double ankle_f = offset / 100 * (thigh + shank) - to_heel.f;
    const double reach = std::sqrt(thigh * thigh + shank * shank - 2 * thigh * shank * std::cos(knee));
    if (std::abs(ankle_f) >= reach) return;
    const double at_hip = (thigh * thigh + reach * reach - shank * shank) / (2 * thigh * reach);
    const double forward = std::asin(ankle_f / reach) + std::acos(std::clamp(at_hip, -1.0, 1.0));
    at[L::knee] = plus(at[L::hip], {thigh * std::sin(forward), -thigh * std::cos(forward)});
    at[L::ankle] = plus(at[L::hip], {ankle_f, -std::sqrt(reach * reach - ankle_f * ankle_f)});
    at[L::heel] = plus(at[L::ankle], to_heel);
    if (toe) at[L::toe] = plus(at[L::heel], foot);
}

/// Shoulder to wrist and knuckle, hung on the shoulder where it now is.
void lay_arm(std::map<L, PlanePoint>& at, const std::map<L, PlanePoint>& was,
             const std::vector<Judged>& judged) {
    if (!was.contains(L::elbow)) return;
    const PlanePoint upper = difference(was.at(L::elbow), was.at(L::shoulder));
    at[L::elbow] = plus(at[L::shoulder], turned(upper, radians(change(judged, "upper_arm"))));
    if (!was.contains(L::wrist)) return;
    const PlanePoint fore = difference(was.at(L::wrist), was.at(L::elbow));
    const double bend = signed_angle({-upper.f, -upper.u}, fore);
    const double open = radians(change(judged, "elbow_angle")) * (bend < 0 ? -1 : 1);
    const double turn = radians(change(judged, "upper_arm")) + open;
    at[L::wrist] = plus(at[L::elbow], turned(fore, turn));
    if (was.contains(L::knuckle))
        at[L::knuckle] = plus(at[L::wrist], turned(difference(was.at(L::knuckle), was.at(L::wrist)), turn));
}

/// Where something that only an eye sees is shown.
std::vector<L> part_limb(BodyPart part) {
    using P = BodyPart;
    static const std::map<P, std::vector<L>> limbs{
        {P::head, {L::shoulder, L::ear}},    {P::shoulder, {L::hip, L::shoulder}},
        {P::elbow, {L::shoulder, L::elbow}}, {P::hand, {L::elbow, L::wrist}},
        {P::trunk, {L::hip, L::shoulder}},   {P::hip, {L::hip}},
        {P::knee, {L::hip, L::knee}},        {P::lower_leg, {L::knee, L::ankle, L::heel}},
        {P::heel, {L::toe, L::heel}},        {P::iron, {L::heel, L::toe}}};
    const auto it = limbs.find(part);
    return it == limbs.end() ? std::vector<L>{} : it->second;
}

}  // namespace

std::optional<Figure> target_figure(const Figure& figure, const std::vector<Judged>& judged) {
    if (figure.view != View::side || figure.travel == Travel::unknown) return std::nullopt;
    for (const L l : {L::shoulder, L::hip, L::knee, L::ankle, L::heel}) {
        if (figure[l].visibility == Visibility::absent) return std::nullopt;
    }
    const PicturePlane plane(figure);
    std::map<L, PlanePoint> was;
    for (const L l :
         {L::ear, L::shoulder, L::elbow, L::wrist, L::knuckle, L::hip, L::knee, L::ankle, L::heel, L::toe}) {
        if (figure[l].visibility != Visibility::absent) was[l] = plane.of(figure[l].at);
    }
    std::map<L, PlanePoint> at = was;
    // A lean to the front turns the trunk clockwise in (forward, up).
    at[L::shoulder] = plus(at[L::hip], turned(difference(was[L::shoulder], was[L::hip]),
                                              -radians(change(judged, "trunk_lean"))));
    if (was.contains(L::ear)) {
        const double trunk = distance(was[L::shoulder], was[L::hip]);
        PlanePoint head = difference(was[L::ear], was[L::shoulder]);
        head.f += change(judged, "ear_offset") / 100 * trunk;
        at[L::ear] = plus(at[L::shoulder], head);
    }
    lay_leg(at, judged, was.contains(L::toe));
    lay_arm(at, was, judged);
    Figure out;
    out.view = figure.view;
    out.travel = figure.travel;
    out.camera = figure.camera;
    for (const auto& [l, p] : at) {
        out[l].at = plane.back(p);
        out[l].visibility = Visibility::seen;
    }
    return out;
}

std::vector<L> limb_of(std::string_view measure) {
    static const std::map<std::string_view, std::vector<L>> limbs{
        {"trunk_lean", {L::hip, L::shoulder}},
        {"hip_angle", {L::shoulder, L::hip, L::knee}},
        {"shoulder_past_knee", {L::hip, L::shoulder}},
        {"ear_offset", {L::shoulder, L::ear}},
        {"upper_arm", {L::shoulder, L::elbow}},
        {"elbow_angle", {L::shoulder, L::elbow, L::wrist}},
        {"hand_line", {L::elbow, L::knuckle}},
        {"hand_height", {L::elbow, L::wrist}},
        {"knee_angle", {L::hip, L::knee, L::ankle}},
        {"heel_offset", {L::knee, L::ankle, L::heel}},
        {"heel_drop", {L::toe, L::heel}},
        {"leather", {L::leather_top, L::iron}},
        {"seat_place", {L::hip}},
        {"shoulder_tilt", {L::left_shoulder, L::right_shoulder}},
        {"hip_tilt", {L::left_hip, L::right_hip}},
        {"hands_tilt", {L::left_knuckle, L::right_knuckle}},
        {"hands_width", {L::left_knuckle, L::right_knuckle}},
        {"heels_tilt", {L::left_heel, L::right_heel}},
        {"stirrup_difference", {L::left_iron, L::right_iron}},
        {"lateral_lean", {L::chin}},
        {"seat_on_saddle", {L::left_hip, L::right_hip}},
        {"centre_offset", {L::left_hip, L::right_hip}},
        {"saddle_offset", {L::saddle_mid}},
    };
    const auto it = limbs.find(measure);
    return it == limbs.end() ? std::vector<L>{} : it->second;
}

std::vector<FrameMark> frame_marks(const Figure& figure, const std::vector<Judged>& judged,
                                   const std::vector<Observation>& observed,
                                   const std::vector<const Fault*>& named) {
    std::vector<Observation> seen;
    for (const Observation& o : observed) {
        const bool is_named = std::ranges::find(named, o.fault) != named.end();
        if (is_named && o.past_limit && o.verdict != Verdict::inside) seen.push_back(o);
    }
    std::ranges::stable_sort(seen, [](const Observation& a, const Observation& b) {
        if (a.verdict != b.verdict) return a.verdict == Verdict::outside;
        return a.severity > b.severity;
    });
    const auto target = target_figure(figure, judged);
    std::vector<FrameMark> out;
    for (const Observation& o : seen) {
        std::vector<L> limb = limb_of(leading_measure(*o.fault));
        if (limb.empty()) limb = part_limb(o.fault->part);
        std::erase_if(limb, [&](L l) { return figure[l].visibility == Visibility::absent; });
        const bool taken = std::ranges::any_of(out, [&](const FrameMark& m) { return m.limb == limb; });
        if (limb.empty() || taken) continue;
        FrameMark mark{o.fault, limb, limb.back(), {}, o.verdict == Verdict::borderline};
        const bool measured = !leading_measure(*o.fault).empty();
        if (measured && target && (*target)[mark.end].visibility != Visibility::absent)
            mark.should_be = (*target)[mark.end].at;
        out.push_back(std::move(mark));
    }
    return out;
}

}  // namespace aspen::core
