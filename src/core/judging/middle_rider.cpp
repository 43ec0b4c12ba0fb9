#include "core/judging/middle_rider.hpp"

#include <algorithm>
#include <cmath>

#include "core/body/geometry.hpp"

namespace aspen::core {
namespace {

// Shares of the trunk (from memory).
constexpr double kThigh = 0.86, kShank = 0.84, kFoot = 0.50, kUpperArm = 0.60, kForearm = 0.54,
                 kFistShare = 0.16, kHeelUnderAnkle = 0.14, kEarAbove = 0.46;

/// Forward and up, in trunks.
struct At {
    double f = 0, u = 0;
};
At plus(At a, double length, double from_up_deg) {
    return {a.f + length * std::sin(radians(from_up_deg)), a.u + length * std::cos(radians(from_up_deg))};
}

class Middles {
  public:
    Middles(const Schools& schools, const Setting& setting) : schools_(schools), setting_(setting) {}
    double of(std::string_view measure, double usual) const {
        const BandOrReason found = schools_.band(measure, setting_);
        const auto* band = std::get_if<Band>(&found);
        if (!band || (!band->lo && !band->hi)) return usual;
        if (band->lo && band->hi) return (*band->lo + *band->hi) / 2;
        return band->lo ? std::max(usual, *band->lo) : std::min(usual, *band->hi);
    }

  private:
    const Schools& schools_;
    const Setting& setting_;
};

}  // namespace

Figure middle_rider(const Schools& schools, const Setting& setting, double trunk_px) {
    const Middles middle(schools, setting);
    std::array<std::pair<Landmark, At>, 11> at{};
    const At hip{};
    const At shoulder = plus(hip, 1, middle.of("trunk_lean", 2));
    const At ear{shoulder.f + middle.of("ear_offset", 3) / 100, shoulder.u + kEarAbove};
    const double arm = middle.of("upper_arm", 12), bent = middle.of("elbow_angle", 118);
    const At elbow = plus(shoulder, kUpperArm, 180 - arm);
    // From the elbow the upper arm goes back up; the forearm lies that much in front of it.
    const double fore = -arm + bent;
    const At wrist = plus(elbow, kForearm, fore), knuckle = plus(wrist, kFistShare, fore);
    // The leg: as long from hip to ankle as the knee asks, the heel as far ahead as its range asks.
    const double knee = middle.of("knee_angle", 120), leg = kThigh + kShank;
    const double reach =
        std::sqrt(kThigh * kThigh + kShank * kShank - 2 * kThigh * kShank * std::cos(radians(knee)));
    const double heel_f = middle.of("heel_offset", 0) / 100 * leg, drop = middle.of("heel_drop", 8);
    const double ankle_f = heel_f + 0.08;
    const double ankle_u = -std::sqrt(std::max(0.0, reach * reach - ankle_f * ankle_f));
    const At heel{heel_f, ankle_u - kHeelUnderAnkle};
    const double along =
        std::atan2(ankle_f, -ankle_u);  // of the line from hip to ankle, forward of the plumb
    const double at_hip = std::acos(
        std::clamp((kThigh * kThigh + reach * reach - kShank * kShank) / (2 * kThigh * reach), -1.0, 1.0));
    const double thigh = along + at_hip;
    const At joint_knee{kThigh * std::sin(thigh), -kThigh * std::cos(thigh)};
    const At toe{heel.f + kFoot * std::cos(radians(drop)), heel.u + kFoot * std::sin(radians(drop))};
    at = {{{Landmark::hip, hip},
           {Landmark::shoulder, shoulder},
           {Landmark::ear, ear},
           {Landmark::elbow, elbow},
           {Landmark::wrist, wrist},
           {Landmark::knuckle, knuckle},
           {Landmark::knee, joint_knee},
           {Landmark::ankle, {ankle_f, ankle_u}},
           {Landmark::heel, heel},
           {Landmark::toe, toe},
           {Landmark::iron, {heel.f + 0.66 * (toe.f - heel.f), heel.u + 0.66 * (toe.u - heel.u)}}}};
    Figure out;
    out.view = View::side;
    out.travel = Travel::right;
    for (const auto& [landmark, place] : at) {
        out[landmark].at = {place.f * trunk_px, -place.u * trunk_px};
        out[landmark].visibility = Visibility::seen;
        out[landmark].sd_px = 0.5;
    }
    return out;
}

}  // namespace aspen::core
