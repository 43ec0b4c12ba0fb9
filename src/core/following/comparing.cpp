#include "core/following/comparing.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/body/vocabulary.hpp"
#include "core/following/following.hpp"
#include "core/following/repeatability.hpp"

namespace aspen::core {
namespace {

constexpr double kTurnedDeg = 10;  // apart in how the horse was turned to the camera: depth no longer cancels

std::string_view seen_from(View v) {
    return v == View::side ? "from the side" : v == View::rear ? "from behind" : "from the front";
}
std::string movement(std::string id) {
    std::ranges::replace(id, '_', ' ');
    return id;
}
std::string ridden(const Setting& s) { return fmt::format("{} {}", spoken(s.gait), spoken(s.seat)); }

}  // namespace

std::vector<MeasureDifference> differences_between(const std::vector<Judged>& first,
                                                   const std::vector<Judged>& second,
                                                   const Body* on_two_days) {
    std::vector<MeasureDifference> out;
    for (const Judged& b : second) {
        const Judged* a = find(first, b.info().id);
        if (!a || !a->measured.value || !b.measured.value) continue;
        MeasureDifference d;
        d.info = &b.info();
        d.first = *a;
        d.second = b;
        d.by = *b.measured.value - *a->measured.value;
        if (d.info->full_turn) d.by = std::remainder(d.by, 360.0);
        d.sd = std::hypot(a->measured.sd, b.measured.sd);
        const ReviewValue a_day{0, a->measured.sd, Verdict::not_judged, {}, 1},
            another{0, b.measured.sd, Verdict::not_judged, {}, 1};
        const double tells = on_two_days ? smallest_change(a_day, another, usual_form(*d.info, *on_two_days))
                                         : kDetectable * d.sd;
        d.real = std::abs(d.by) > tells;
        out.push_back(std::move(d));
    }
    return out;
}

std::vector<std::string> spoilers(const Shown& a, const Shown& b, bool same_side_wanted) {
    std::vector<std::string> out;
    if (a.view != b.view) {
        out.push_back(fmt::format("One is seen {}, the other {}: hardly a measure is common to both.",
                                  seen_from(a.view), seen_from(b.view)));
        return out;
    }
    const Setting &s = a.setting, &t = b.setting;
    if (s.gait != t.gait)
        out.push_back(
            fmt::format("Another gait: {} against {}; bands and body differ with it.", ridden(s), ridden(t)));
    else if (s.seat != t.seat)
        out.push_back(fmt::format("Another seat: {} against {}; trunk, hip and knee differ with it.",
                                  spoken(s.seat), spoken(t.seat)));
    else if (s.phase != t.phase && !s.phase.empty() && !t.phase.empty())
        out.push_back(fmt::format("Another moment of the stride: {} against {}.", spoken_phase(s.phase),
                                  spoken_phase(t.phase)));
    if (a.view == View::side && a.travel != b.travel && same_side_wanted)
        out.push_back("The other side of the rider is seen: a difference may be left against right.");
    const double turned = std::abs(a.yaw_deg - b.yaw_deg);
    if (turned > kTurnedDeg)
        out.push_back(fmt::format(
            "The camera stood {:.0f}° apart: lengths towards it change with the view; film square on.",
            turned));
    else if (!a.yaw_said && !b.yaw_said && a.view == View::side)
        out.push_back(
            "Nobody said how the horse was turned to the camera in either: the errors are the wider for it; "
            "say it "
            "on the bench.");
    if (s.stirrups && t.stirrups && *s.stirrups != *t.stirrups)
        out.push_back("With stirrups in one and without in the other.");
    if (s.reins && t.reins && *s.reins != *t.reins) out.push_back("The reins are held another way.");
    if (s.movement != t.movement && !s.movement.empty() && !t.movement.empty())
        out.push_back(
            fmt::format("Another figure: {} against {}.", movement(s.movement), movement(t.movement)));
    if (a.saddle != b.saddle && !a.saddle.empty() && !b.saddle.empty())
        out.push_back(fmt::format("Another saddle: {} against {}.", a.saddle, b.saddle));
    if (a.slowed || b.slowed)
        out.push_back("Slow motion was said by hand: what is measured over strides hangs on it.");
    if (!a.time_sure || !b.time_sure)
        out.push_back("The times of a clip were made up for it: speeds and strides cannot be compared.");
    return out;
}

}  // namespace aspen::core
