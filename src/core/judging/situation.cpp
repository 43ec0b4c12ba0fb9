#include "core/judging/situation.hpp"

#include <algorithm>
#include <array>

namespace aspen::core {
namespace {

template <std::size_t N>
bool among(const std::array<std::string_view, N>& all, std::string_view one) {
    return std::ranges::find(all, one) != all.end();
}

constexpr std::array<std::string_view, 4> kNeedStirrups{"heel_drop", "ankle_angle", "leather",
                                                        "stirrup_difference"};
constexpr std::array<std::string_view, 7> kOfTheHands{
    "elbow_angle", "upper_arm", "hand_line", "hand_height", "hand_ahead", "hands_tilt", "hands_width"};
constexpr std::array<std::string_view, 7> kOfTheLeg{"heel_offset", "lower_leg", "knee_angle", "ankle_angle",
                                                    "heel_drop",   "leather",   "hip_angle"};
constexpr std::array<std::string_view, 3> kOfTheTrunk{"trunk_lean", "hip_angle", "shoulder_past_knee"};
constexpr std::array<std::string_view, 3> kOfTheHorse{"poll_height", "horse_nose", "hand_line"};

std::string hands_busy(const Setting& s) {
    if (s.hands == Hands::out) return "the arms are out";
    if (s.hands && *s.hands != Hands::reins) return "a hand holds on";
    if (s.reins == ReinsHeld::none) return "ridden without reins";
    if (s.reins == ReinsHeld::one) return "the reins are in one hand";
    return {};
}

void move(Band& band, double lo, double hi) {
    if (band.lo) *band.lo += lo;
    if (band.hi) *band.hi += hi;
}

}  // namespace

Situated situate(std::string_view measure, const Setting& s, Band& band) {
    const bool no_stirrups = s.stirrups == Stirrups::off;
    if (no_stirrups && among(kNeedStirrups, measure)) return {"ridden without stirrups", {}};
    if (among(kOfTheHands, measure)) {
        if (const std::string why = hands_busy(s); !why.empty()) return {why, {}};
    }
    if (s.movement == "transition" && among(kOfTheLeg, measure)) return {"the moment of an aid", {}};
    if (s.movement == "transition" && among(kOfTheTrunk, measure))
        return {"a transition: the trunk may answer it", {}};
    if (s.mount == Mount::mechanical && among(kOfTheHorse, measure)) return {"on the mechanical horse", {}};
    if (no_stirrups && measure == "knee_angle") {
        move(band, 0, 15);
        return {{}, "the leg may hang longer without stirrups"};
    }
    const bool circle = s.movement == "circle" || s.movement == "turn";
    if (circle && s.circle_leg == CircleLeg::outer && measure == "heel_offset") {
        move(band, s.gait == Gait::canter ? -8 : -4, -2);
        return {{}, "the outer leg lies a little behind the girth on a circle"};
    }
    return {};
}

}  // namespace aspen::core
