#include "media/pose/to_carry.hpp"

#include <algorithm>
#include <array>
#include <map>
#include <optional>

namespace aspen::media {

using L = core::Landmark;

namespace {

/// What a landmark hangs on, and how far it may go its own way from picture to picture, of the reach: a foot
/// turns little about its ankle and the horse's trunk is one piece; limbs swing.
struct Hangs {
    L on;
    double free;
};
std::optional<Hangs> hangs(L l) {
    static const std::map<L, Hangs> all{
        {L::ear, {L::shoulder, 1}},     {L::eye, {L::ear, 0.4}},       {L::chin, {L::ear, 0.4}},
        {L::elbow, {L::shoulder, 1}},   {L::wrist, {L::elbow, 1}},     {L::knuckle, {L::elbow, 1}},
        {L::ankle, {L::knee, 1}},       {L::heel, {L::ankle, 0.7}},    {L::toe, {L::ankle, 0.7}},
        {L::iron, {L::ankle, 0.7}},     {L::girth, {L::withers, 0.4}}, {L::leather_top, {L::withers, 0.4}},
        {L::cantle, {L::withers, 0.4}}, {L::croup, {L::withers, 0.4}}, {L::poll, {L::withers, 1}},
        {L::bit, {L::poll, 1}}};
    const auto at = all.find(l);
    return at == all.end() ? std::nullopt : std::optional(at->second);
}

}  // namespace

PointToCarry to_carry(const core::Figure& figure, core::Landmark landmark) {
    PointToCarry carried{figure[landmark].at, {}, 0};
    carried.name = static_cast<int>(core::index(landmark)) + 1;
    if (const auto on = hangs(landmark)) {
        carried.hangs_on = static_cast<int>(core::index(on->on)) + 1;
        carried.free = on->free;
    }
    // Only where the surroundings are mostly background: the foot, and the hip over saddle and skirt.
    // Elsewhere what lies around a joint is the rider's own clothes, and follows it better than a limb's edge
    // (measured, docs/accuracy.md).
    static constexpr std::array<L, 2> kSolid[] = {{L::hip, L::knee},
                                                  {L::hip, L::shoulder},
                                                  {L::knee, L::ankle},
                                                  {L::ankle, L::heel},
                                                  {L::ankle, L::toe},
                                                  {L::heel, L::toe},
                                                  {L::iron, L::heel},
                                                  {L::iron, L::toe},
                                                  {L::left_heel, L::left_ankle},
                                                  {L::right_heel, L::right_ankle},
                                                  {L::left_toe, L::left_ankle},
                                                  {L::right_toe, L::right_ankle},
                                                  {L::wrist, L::elbow},
                                                  {L::knuckle, L::wrist}};
    static constexpr L kTied[] = {L::hip,        L::ankle,    L::heel,      L::toe,   L::iron,   L::left_heel,
                                  L::right_heel, L::left_toe, L::right_toe, L::wrist, L::knuckle};
    if (std::ranges::find(kTied, landmark) == std::end(kTied)) return carried;
    if (landmark == L::wrist || landmark == L::knuckle)
        carried.solid = 4;  // a hand on its forearm
    else if (landmark != L::hip && landmark != L::ankle)
        carried.solid = core::id(landmark).starts_with("left_")    ? 2
                        : core::id(landmark).starts_with("right_") ? 3
                                                                   : 1;  // a foot in its boot
    for (const auto& [a, b] : kSolid) {
        if ((landmark == L::ankle && a != L::knee) || landmark == L::knee)
            continue;  // the ankle is the shank's end
        if (b == landmark && a == L::iron)
            continue;  // the iron is tied to the foot, not the foot to the iron
        const std::optional<L> other = a == landmark   ? std::optional(b)
                                       : b == landmark ? std::optional(a)
                                                       : std::nullopt;
        if (other && figure[*other].visibility != core::Visibility::absent)
            carried.tied_to.push_back(figure[*other].at);
    }
    return carried;
}

}  // namespace aspen::media
