#include "media/pose/rider_strip.hpp"

#include <algorithm>
#include <cmath>
#include <optional>
#include <utility>

#include "media/pose/flow_step.hpp"
#include "media/pose/to_carry.hpp"
#include "media/reading/read_watch.hpp"

namespace aspen::media::strip {
namespace {

using core::Point;
using L = core::Landmark;

// Of the trunk, on riders that were not drawn here (tools/measure/riders.py): how far a run of the network
// scatters where it is sure and how much more where it is not, and how far one step of a surface is off its
// joint's.
constexpr double kSightSd = 0.04, kEndSd = 0.06, kDoubtSd = 0.08, kStepSd = 0.004, kEndStepSd = 0.015;
/// What is stated of the error: a joint's own surface slides over it, whatever is seen how often; the chain's
/// errors are not quite independent.
constexpr double kOwnSd = 0.006, kChainShare = 1.0;
/// Share of its length by which a limb may change: seen joints are not quite the limbs' ends, and turn about
/// them. A limb is only held so far that it does not stay with the background (4 % made it twice as bad).
constexpr double kLimbSd = 0.25;
constexpr int kTimesOver = 2;
/// Median distance of two normal errors in standard deviations; what was thought counts as so many sights.
constexpr double kMedianOfTwo = 1.1774, kThoughtCounts = 6;

const Sight* sight_of(const Frame& frame, std::size_t joint) {
    const auto at = std::ranges::find(frame.sights, joint, &Sight::joint);
    return at == frame.sights.end() ? nullptr : &*at;
}

/// From sight to sight in a straight line, beside how the rider as a whole moved.
std::vector<Point> start_of(const Strip& strip, std::size_t joint) {
    std::vector<std::pair<std::size_t, Point>> seen;  // about the rider's own way
    for (std::size_t f = 0; f < strip.frames.size(); ++f) {
        const Frame& frame = strip.frames[f];
        if (const Sight* s = sight_of(frame, joint))
            seen.emplace_back(f, Point{s->at.x - frame.carried.x, s->at.y - frame.carried.y});
    }
    std::vector<Point> out;
    for (std::size_t f = 0, k = 0; f < strip.frames.size(); ++f) {
        while (k + 1 < seen.size() && seen[k + 1].first <= f) ++k;
        Point at = seen[k].second;
        if (f > seen[k].first && k + 1 < seen.size()) {
            const double share = static_cast<double>(f - seen[k].first) /
                                 static_cast<double>(seen[k + 1].first - seen[k].first);
            at.x += share * (seen[k + 1].second.x - at.x);
            at.y += share * (seen[k + 1].second.y - at.y);
        }
        out.push_back({at.x + strip.frames[f].carried.x, at.y + strip.frames[f].carried.y});
    }
    return out;
}

/// Joints that were seen at all, places of kJoints in order: those of the body, and whatever ends of limbs.
using Present = std::vector<std::size_t>;
Present present_in(const Strip& strip) {
    Present out;
    for (std::size_t j = 0; j < kJoints.size(); ++j) {
        if (std::ranges::any_of(strip.frames, [&](const Frame& f) { return sight_of(f, j) != nullptr; }))
            out.push_back(j);
    }
    return out;
}

/// The points as a figure, on one frame.
core::Figure figure_on(const core::StretchToFuse& s, const std::vector<L>& landmarks, std::size_t frame,
                       core::Travel travel) {
    core::Figure out;
    out.view = core::View::side;
    out.travel = travel;
    for (std::size_t j = 0; j < landmarks.size(); ++j)
        out[landmarks[j]] = {s.start[j][frame], core::Visibility::seen, 2};
    return out;
}

SurfacesToFollow following_of(const Present& present) {
    SurfacesToFollow out;
    for (const std::size_t j : present) {
        out.landmarks.push_back(kJoints[j]);
        out.step_sd.push_back(j < kBodyJoints ? kStepSd : kEndStepSd);
    }
    return out;
}

/// Limbs that stay about as long as they are in the picture.
void tie_limbs(const Present& present, core::StretchToFuse& s) {
    struct Tie {
        L from, to;
        double sd_share;
    };
    // A head nods, a back bends.
    static constexpr Tie kTies[] = {{L::shoulder, L::elbow, kLimbSd},   {L::elbow, L::wrist, kLimbSd},
                                    {L::hip, L::knee, kLimbSd},         {L::knee, L::ankle, kLimbSd},
                                    {L::ear, L::shoulder, 2 * kLimbSd}, {L::shoulder, L::hip, 1.5 * kLimbSd},
                                    {L::heel, L::toe, kLimbSd}};
    for (const Tie& t : kTies) {
        const auto from = std::ranges::find(present, place_of(t.from)),
                   to = std::ranges::find(present, place_of(t.to));
        if (from == present.end() || to == present.end()) continue;
        s.limbs.push_back({static_cast<std::size_t>(from - present.begin()),
                           static_cast<std::size_t>(to - present.begin()), t.sd_share});
    }
}

core::StretchToFuse gathered(const Strip& strip, const Present& present) {
    core::StretchToFuse s;
    s.frames = strip.frames.size();
    s.joints = present.size();
    s.trunk_from = place_of(L::shoulder);
    s.trunk_to = place_of(L::hip);
    s.steps.assign(s.joints, std::vector<core::SeenStep>(s.frames));
    for (const std::size_t j : present) s.start.push_back(start_of(strip, j));
    for (std::size_t f = 0; f < s.frames; ++f) {
        for (const Sight& sight : strip.frames[f].sights) {
            const auto j =
                static_cast<std::size_t>(std::ranges::find(present, sight.joint) - present.begin());
            const double sure = sight.joint < kBodyJoints ? kSightSd : kEndSd;
            s.seen.push_back({j, f, sight.at, strip.frames[f].trunk * (sure + kDoubtSd * (1 - sight.score))});
        }
    }
    tie_limbs(present, s);
    return s;
}

/// How far the sights of each joint really lie from the path, against what was thought: some are seen better
/// than others, and it differs from rider to rider. By joint; 1: as was thought.
std::vector<double> found_against_thought(const core::StretchToFuse& s,
                                          const std::vector<std::vector<core::Observed>>& path) {
    std::vector<std::vector<double>> off(s.joints);
    for (const core::SeenJoint& o : s.seen)
        off[o.joint].push_back(core::distance(o.at, path[o.joint][o.frame].at) / o.sd_px);
    std::vector<double> out;
    for (auto& v : off) {
        const auto middle = v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2);
        std::ranges::nth_element(v, middle);
        const auto n = static_cast<double>(v.size());
        out.push_back((n * *middle / kMedianOfTwo + kThoughtCounts) / (n + kThoughtCounts));
    }
    return out;
}

/// How sure the network was of a joint where it looked last or looks next: what is between two looks rests on
/// both, and where one of them blinked the error says what that costs.
void put_scores(const Strip& strip, std::size_t joint, std::vector<core::Observed>& frames) {
    const bool of_body = joint < kBodyJoints;
    std::vector<std::optional<double>> looks(frames.size());
    for (std::size_t f = 0; f < frames.size(); ++f) {
        const Frame& frame = strip.frames[f];
        // Looked and not seen is as good as nothing; the ends are looked at less often than the body.
        const bool looked = std::ranges::any_of(
            frame.sights, [&](const Sight& s) { return (s.joint < kBodyJoints) == of_body; });
        if (const Sight* s = sight_of(frame, joint))
            looks[f] = s->score;
        else if (looked)
            looks[f] = 0;
    }
    const auto take = [&](std::size_t f, double& last) {
        last = looks[f].value_or(last);
        frames[f].score = std::max(frames[f].score, last);
    };
    for (core::Observed& o : frames) o.score = 0;
    double before = 0, after = 0;
    for (std::size_t f = 0; f < frames.size(); ++f) take(f, before);
    for (std::size_t f = frames.size(); f-- > 0;) take(f, after);
}

}  // namespace

void follow_surfaces(const Strip& strip, const SurfacesToFollow& what, core::StretchToFuse& s,
                     const std::atomic<bool>* stop) {
    const auto cut_of = [&](std::size_t f) -> const Cut& { return strip.frames[f].*what.cut; };
    const double reach = flow::reach_of(strip.frames.front().trunk * cut_of(0).shrunk);
    flow::Pyramid before = flow::pyramid_of(cut_of(0).grey, reach);
    for (std::size_t f = 0; f + 1 < s.frames; ++f) {
        stop_if_cancelled({stop, {}});
        const Cut &here = cut_of(f), &there = cut_of(f + 1);
        const core::Figure figure = figure_on(s, what.landmarks, f, strip.travel);
        std::vector<flow::Traveller> travellers;
        for (const L l : what.landmarks) {
            const PointToCarry p = to_carry(figure, l);
            flow::Traveller t{here.small(p.at), {}};
            t.solid = p.solid, t.name = p.name, t.hangs_on = p.hangs_on, t.free = p.free;
            for (const Point& end : p.tied_to) t.tied_to.push_back(here.small(end));
            travellers.push_back(std::move(t));
        }
        flow::Pyramid after = flow::pyramid_of(there.grey, reach);
        flow::step_all(travellers, before, after, reach);
        before = std::move(after);
        for (std::size_t j = 0; j < travellers.size(); ++j) {
            const flow::Traveller& t = travellers[j];
            s.steps[j][f] = {};
            if (!t.sure()) continue;
            const Point to = there.whole(t.at), from = s.start[j][f];
            s.steps[j][f] = {{to.x - from.x, to.y - from.y},
                             what.step_sd[j] * strip.frames[f].trunk + std::sqrt(t.variance) / here.shrunk};
        }
    }
}

std::map<std::size_t, std::vector<core::Observed>> read(const Strip& strip, const std::atomic<bool>* stop) {
    if (std::ranges::all_of(strip.frames, [](const Frame& f) { return f.sights.empty(); })) return {};
    const Present present = present_in(strip);
    core::StretchToFuse s = gathered(strip, present);
    const SurfacesToFollow following = following_of(present);
    std::vector<std::vector<core::Observed>> path;
    for (int time = 0; time < kTimesOver; ++time) {
        follow_surfaces(strip, following, s, stop);
        path = core::fused(s);
        for (std::size_t j = 0; j < s.joints; ++j) {
            for (std::size_t f = 0; f < s.frames; ++f) s.start[j][f] = path[j][f].at;
        }
    }
    const std::vector<double> shares = found_against_thought(s, path);
    std::map<std::size_t, std::vector<core::Observed>> out;
    for (std::size_t j = 0; j < path.size(); ++j) {
        std::vector<core::Observed>& frames = out[present[j]] = std::move(path[j]);
        put_scores(strip, present[j], frames);
        for (std::size_t f = 0; f < frames.size(); ++f)
            frames[f].sd_px =
                std::hypot(kOwnSd * strip.frames[f].trunk, kChainShare * shares[j] * frames[f].sd_px);
    }
    return out;
}

}  // namespace aspen::media::strip
