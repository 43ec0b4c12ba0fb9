#include "core/body/landmarks.hpp"

#include <algorithm>
#include <iterator>

namespace aspen::core {
namespace {

struct LandmarkEntry {
    std::string_view id, spoken, where;
};

constexpr std::array<LandmarkEntry, kLandmarkCount> kEntries{{
    {"ear", "ear", "the small flap in front of the ear hole; with a helmet, where the strap passes it"},
    {"eye", "eye", "outer corner of the eye"},
    {"chin", "chin", "front of the chin"},
    {"shoulder", "shoulder", "the bony point on top of the shoulder's outer end"},
    {"elbow", "elbow", "outer knob of the elbow"},
    {"wrist", "wrist", "middle of the wrist"},
    {"knuckle", "knuckle", "knuckle of the index finger"},
    {"hip", "hip", "the bony knob at the top of the thigh's outside"},
    {"knee", "knee", "outer side of the knee joint"},
    {"ankle", "ankle", "outer ankle bone"},
    {"heel", "heel", "rearmost edge of the sole"},
    {"toe", "toe", "foremost edge of the sole"},
    {"leather_top", "leather top", "where the leather leaves the flap or bar"},
    {"iron", "iron", "middle of the tread"},
    {"bit", "bit", "the bit ring"},
    {"poll", "poll", "highest point behind the horse's ears"},
    {"withers", "withers", "highest point in front of the pommel"},
    {"girth", "girth", "the girth at the height of the horse's elbow"},
    {"cantle", "cantle", "rear edge of the saddle"},
    {"croup", "croup", "highest point of the croup"},
    {"left_shoulder", "left shoulder", "top of the rider's left shoulder"},
    {"right_shoulder", "right shoulder", "top of the rider's right shoulder"},
    {"left_elbow", "left elbow", "outer knob of the left elbow"},
    {"right_elbow", "right elbow", "outer knob of the right elbow"},
    {"left_knuckle", "left knuckle", "knuckle of the left index finger"},
    {"right_knuckle", "right knuckle", "knuckle of the right index finger"},
    {"left_hip", "left hip", "outside of the left hip joint"},
    {"right_hip", "right hip", "outside of the right hip joint"},
    {"left_knee", "left knee", "middle of the left knee"},
    {"right_knee", "right knee", "middle of the right knee"},
    {"left_ankle", "left ankle", "left ankle bone"},
    {"right_ankle", "right ankle", "right ankle bone"},
    {"left_heel", "left heel", "lowest edge of the left heel"},
    {"right_heel", "right heel", "lowest edge of the right heel"},
    {"left_toe", "left toe", "tip of the left boot"},
    {"right_toe", "right toe", "tip of the right boot"},
    {"left_iron", "left iron", "middle of the left tread"},
    {"right_iron", "right iron", "middle of the right tread"},
    {"horse_mid", "horse's middle", "withers from the front; dock or middle of the croup from behind"},
    {"saddle_mid", "saddle's middle", "middle of the pommel or cantle"},
    {"ears_mid", "middle of the ears", "middle between the horse's ears"},
    {"ground_mid", "ground under the horse",
     "on the ground midway between its hind hooves from behind, its fore hooves from the front"},
}};

using L = Landmark;
constexpr std::array kSide{L::ear, L::eye,  L::chin,    L::shoulder, L::elbow,  L::wrist,       L::knuckle,
                           L::hip, L::knee, L::ankle,   L::heel,     L::toe,    L::leather_top, L::iron,
                           L::bit, L::poll, L::withers, L::girth,    L::cantle, L::croup};
constexpr std::array kFrontal{
    L::chin,          L::left_shoulder, L::right_shoulder, L::left_elbow, L::right_elbow, L::left_knuckle,
    L::right_knuckle, L::left_hip,      L::right_hip,      L::left_knee,  L::right_knee,  L::left_ankle,
    L::right_ankle,   L::left_heel,     L::right_heel,     L::left_toe,   L::right_toe,   L::left_iron,
    L::right_iron,    L::horse_mid,     L::saddle_mid,     L::ears_mid,   L::ground_mid};
constexpr std::array kNine{L::ear,  L::shoulder, L::elbow, L::wrist, L::hip,
                           L::knee, L::ankle,    L::heel,  L::toe};
constexpr std::array kSideAsking{L::ear,     L::shoulder, L::elbow, L::wrist,       L::hip,
                                 L::knee,    L::ankle,    L::heel,  L::toe,         L::eye,
                                 L::chin,    L::knuckle,  L::bit,   L::leather_top, L::iron,
                                 L::withers, L::cantle,   L::croup, L::poll,        L::girth};
constexpr std::array<std::array<Landmark, 2>, 16> kSideSegments{{{L::ear, L::shoulder},
                                                                 {L::ear, L::eye},
                                                                 {L::eye, L::chin},
                                                                 {L::shoulder, L::hip},
                                                                 {L::shoulder, L::elbow},
                                                                 {L::elbow, L::wrist},
                                                                 {L::wrist, L::knuckle},
                                                                 {L::hip, L::knee},
                                                                 {L::knee, L::ankle},
                                                                 {L::ankle, L::heel},
                                                                 {L::heel, L::toe},
                                                                 {L::ankle, L::toe},
                                                                 {L::leather_top, L::iron},
                                                                 {L::knuckle, L::bit},
                                                                 {L::poll, L::bit},
                                                                 {L::withers, L::croup}}};
constexpr std::array<std::array<Landmark, 2>, 14> kFrontalSegments{{{L::left_shoulder, L::right_shoulder},
                                                                    {L::left_hip, L::right_hip},
                                                                    {L::left_shoulder, L::left_hip},
                                                                    {L::right_shoulder, L::right_hip},
                                                                    {L::left_shoulder, L::left_elbow},
                                                                    {L::left_elbow, L::left_knuckle},
                                                                    {L::right_shoulder, L::right_elbow},
                                                                    {L::right_elbow, L::right_knuckle},
                                                                    {L::left_hip, L::left_knee},
                                                                    {L::left_knee, L::left_ankle},
                                                                    {L::right_hip, L::right_knee},
                                                                    {L::right_knee, L::right_ankle},
                                                                    {L::left_ankle, L::left_heel},
                                                                    {L::right_ankle, L::right_heel}}};

}  // namespace

std::string_view id(Landmark l) { return kEntries[index(l)].id; }
std::string_view spoken(Landmark l) { return kEntries[index(l)].spoken; }
std::string_view where(Landmark l) { return kEntries[index(l)].where; }

std::optional<Landmark> landmark_from(std::string_view wanted) {
    const auto it = std::ranges::find(kEntries, wanted, &LandmarkEntry::id);
    if (it == kEntries.end()) return std::nullopt;
    return static_cast<Landmark>(std::distance(kEntries.begin(), it));
}

std::span<const Landmark> landmarks_of(View view) {
    if (view == View::side) return kSide;
    return kFrontal;
}
std::span<const Landmark> first_nine() { return kNine; }
std::span<const Landmark> asking_order(View view) {
    if (view == View::side) return kSideAsking;
    return kFrontal;
}
std::span<const std::array<Landmark, 2>> segments_of(View view) {
    if (view == View::side) return kSideSegments;
    return kFrontalSegments;
}

}  // namespace aspen::core
