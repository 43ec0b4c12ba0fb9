#include "core/ride/ride.hpp"

#include "core/judging/sides.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <set>

namespace aspen::core {
namespace {

/// One gait, seat and side: what its moments say together.
struct Group {
    SeenIn seen;
    std::vector<ObservedMoment> moments;
    MergedFaults merged{};
};

/// The strengths that the eye named: by their own id, or by a good answer to a check that is one.
std::vector<std::string> strengths_seen(const RideData& data, const Knowledge& knowledge) {
    std::vector<std::string> out;
    std::set<std::string> broken;  // a check answered "fault" anywhere is no strength of the ride
    for (const CheckAnswer& c : data.checks) {
        if (c.said == CheckAnswer::Said::fault) broken.insert(c.id);
    }
    for (const CheckAnswer& c : data.checks) {
        if (c.said != CheckAnswer::Said::good || broken.contains(c.id)) continue;
        const Check* check = knowledge.checks.find(c.id);
        const std::string id = check ? check->strength : c.id;
        if (knowledge.strengths.find(id)) out.push_back(id);
    }
    return out;
}

/// The coach's word stays, whatever a later computation finds.
void take_decisions(std::vector<RideFinding>& findings, const std::vector<Decided>& decided,
                    const FaultBook& book) {
    for (const Decided& d : decided) {
        const Fault* fault = book.find(d.fault);
        if (!fault) continue;
        const SeenIn seen = seen_for(*fault, d.seen);
        auto row = std::ranges::find_if(
            findings, [&](const RideFinding& f) { return f.found.fault == fault && f.seen == seen; });
        if (row == findings.end()) {
            findings.push_back(
                {{fault, Verdict::no_band, d.measured_severity, 0, {}}, seen, 0, d.decision, nullptr});
            row = std::prev(findings.end());
        }
        row->decision = d.decision;
        row->changed_to = d.decision == Decision::changed ? book.find(d.changed_to) : nullptr;
    }
}

/// What counts for the focus: once the coach has decided anything, only that, and what is in work.
std::vector<FocusCandidate> candidates(const std::vector<RideFinding>& findings,
                                       const std::vector<Group>& groups, const std::vector<InWork>& in_work) {
    const bool decided = std::ranges::any_of(findings, [](const RideFinding& f) {
        return f.decision == Decision::accepted || f.decision == Decision::changed;
    });
    std::vector<FocusCandidate> out;
    for (const RideFinding& row : findings) {
        const Fault* said = row.said();
        // What waits for the rider's answer is not called a fault meanwhile.
        const bool works_on_it =
            said && std::ranges::any_of(in_work, [&](const InWork& w) {
                return w.fault == said->id && w.in(row.seen.gait, row.seen.seat, row.seen.side);
            });
        // Safety does not wait for anybody's word, unless the coach rejected it.
        const bool safety =
            row.found.group() == AttentionGroup::safety && row.found.certain > 0 && row.changed_to == nullptr;
        if (!said || (row.decision == Decision::asked_back && !safety) ||
            (decided && row.decision == Decision::open && !works_on_it && !safety))
            continue;
        FocusCandidate c{row.found, row.seen.gait, row.seen.seat, row.seen.side};
        c.found.fault = said;
        if (row.decision != Decision::open && row.decision != Decision::asked_back) {
            // What the coach accepts counts as certain, even where the number alone was borderline.
            c.found.verdict = Verdict::outside;
            c.found.seen_once = false;
        }
        c.found.share = std::max(c.found.share, 1e-6);
        out.push_back(std::move(c));
    }
    for (const Group& g : groups) {
        for (const Fault* fault : g.merged.covered) {
            FocusCandidate c{{}, g.seen.gait, g.seen.seat, g.seen.side};
            c.found.fault = fault;
            c.covered = true;
            out.push_back(std::move(c));
        }
        // A state or an answer of the horse links causes; like a covered fault it weighs nothing itself.
        for (const FoundFault& state : g.merged.states) {
            FocusCandidate c{state, g.seen.gait, g.seen.seat, g.seen.side};
            c.covered = true;
            out.push_back(std::move(c));
        }
    }
    return out;
}

/// What this ride says of what is in work, in the gait, seat and side it is worked on: inside by three
/// moments or strides at least (by one where the ride before was inside as well), none whose value lies past
/// the limit, and not unsteady.
std::vector<WorkSeen> seen_of_work(const std::vector<InWork>& in_work, const std::vector<Group>& groups,
                                   const FaultBook& book) {
    std::vector<WorkSeen> out;
    for (const InWork& work : in_work) {
        WorkSeen seen{work};
        const Fault* fault = book.find(work.fault);
        const std::string unsteady = fmt::format("unsteady_{}", fault ? leading_measure(*fault) : "");
        int past = 0;
        for (const Group& g : groups) {
            if (!fault || !work.in(g.seen.gait, g.seen.seat, g.seen.side)) continue;
            if (const auto t = g.merged.tallies.find(fault); t != g.merged.tallies.end()) {
                seen.inside += t->second.inside;
                past += t->second.past_limit;
                if (!seen.shown || t->second.inside > 0) seen.gait = g.seen.gait, seen.seat = g.seen.seat;
                seen.shown = true;
            }
            past += static_cast<int>(std::ranges::count(g.merged.found, unsteady,
                                                        [](const FoundFault& f) { return f.fault->id; }));
        }
        seen.held = seen.inside >= (work.inside_before ? 1 : kFewestInside) && past == 0;
        out.push_back(std::move(seen));
    }
    return out;
}

}  // namespace

SeenIn seen_in(const Stretch& s) {
    return {s.gait, s.seat, s.view == View::side ? std::string(word(s.travel)) : std::string()};
}

bool has_side(const Fault& fault) {
    using P = BodyPart;
    static constexpr P kSided[] = {P::elbow, P::hand, P::knee, P::lower_leg, P::heel, P::iron};
    return std::ranges::find(kSided, fault.part) != std::end(kSided);
}

bool told_apart(const SeenIn& a, const SeenIn& b) {
    return a.gait != b.gait || a.seat != b.seat || (!a.side.empty() && !b.side.empty() && a.side != b.side);
}

SeenIn seen_for(const Fault& fault, SeenIn seen) {
    if (!has_side(fault)) seen.side.clear();
    return seen;
}

std::string spoken(const SeenIn& seen) {
    std::string out;
    if (seen.gait) out += spoken(*seen.gait);
    if (seen.seat) out += fmt::format("{}{}", out.empty() ? "" : " ", spoken(*seen.seat));
    if (!seen.side.empty()) out += fmt::format("{}{} side", out.empty() ? "" : ", ", seen.side);
    return out;
}

namespace {

/// From the side only the limbs of the nearer side are seen; what is said of no side counts for both.
bool shown(const LimitedPart& limited, const Stretch& s) {
    const bool one_sided = limited.side == "left" || limited.side == "right";
    const bool limb = limited.part != "back" && limited.part != "neck" && limited.part != "head";
    return !one_sided || !limb || s.view != View::side || limited.side == word(s.travel);
}

}  // namespace

Setting setting_in(const Stretch& s, const RideContext& ride, const std::string& phase) {
    Setting out;
    for (const LimitedPart& l : ride.body) {
        if (shown(l, s) && std::ranges::find(out.body, l.part) == out.body.end()) out.body.push_back(l.part);
    }
    if (s.gait && s.seat) out.school = ride.school;
    out.level = ride.level;
    out.horse = ride.horse;
    out.mount = ride.mount;
    out.gait = s.gait.value_or(Gait::walk);
    out.seat = s.seat.value_or(Seat::sitting);
    out.phase = phase;
    out.movement = s.shown;
    out.stirrups = s.stirrups;
    out.reins = s.reins;
    out.hands = s.hands;
    out.line = s.line;
    out.rein = s.rein;
    out.circle_leg = s.circle_leg ? s.circle_leg : circle_leg_of(s.rein, s.travel);
    return out;
}

Setting setting_at(const Stretches& stretches, int frame, const RideContext& ride, const std::string& phase) {
    const std::size_t at = stretch_at(stretches, frame);
    Setting out = setting_in(ridden_at(stretches, frame), ride, phase);
    if (out.movement != "transition" || at == 0 || at + 1 >= stretches.size()) return out;
    const auto before = stretches[at - 1].gait, after = stretches[at + 1].gait;
    if (before && after && before != after)
        out.upward = typical_tempo_per_min(*after) > typical_tempo_per_min(*before);
    return out;
}

std::optional<CircleLeg> circle_leg_of(std::optional<Rein> rein, Travel travel) {
    if (!rein || *rein == Rein::straight || travel == Travel::unknown) return std::nullopt;
    return (*rein == Rein::right) == (travel == Travel::right) ? CircleLeg::inner : CircleLeg::outer;
}

std::vector<Judged> judge_moment(const RideMoment& moment, const Knowledge& knowledge) {
    if (moment.figure.marked() < kFewestJoints) return {};
    auto out = judge(moment.figure, moment.setting, knowledge.body, knowledge.schools);
    if (moment.judged) return out;
    for (Judged& j : out) {
        j.measured.value.reset();
        j.verdict = Verdict::not_judged;
        j.beyond = Beyond::neither;
        j.severity = 0;
        j.reason = "this stretch cannot be judged from here";
    }
    return out;
}

ObservedMoment observe_moment(const RideData& data, std::size_t at, const std::vector<Judged>& judged,
                              const Knowledge& knowledge) {
    const RideMoment& m = data.moments[at];
    EyeAnswers eye;
    for (const CheckAnswer& c : data.checks) {
        const Check* check = knowledge.checks.find(c.id);
        if (c.said == CheckAnswer::Said::cannot_see || (c.moment != at && !(check && check->whole_ride)))
            continue;
        eye[c.id] = c.said == CheckAnswer::Said::fault;
    }
    return knowledge.faults.observe(judged, m.setting, m.figure.view, eye);
}

std::vector<std::vector<Judged>> judge_strides(const RideStrides& strides, const Schools& schools) {
    std::vector<std::vector<Judged>> out;
    if (!strides.judged) return out;
    for (const StrideValues& v : strides.values) {
        const MeasureInfo* info = find_measure(v.measure);
        if (!info) continue;  // shown over the strides, and held against nothing
        if (out.size() < v.by_stride.size()) out.resize(v.by_stride.size());
        for (std::size_t i = 0; i < v.by_stride.size(); ++i) {
            if (!v.by_stride[i]) continue;
            out[i].push_back(judge_value({info, v.by_stride[i], v.sd, {}}, strides.setting, schools));
        }
    }
    return out;
}

namespace {

/// What the coach's eye settled in this gait, seat and side.
std::set<std::string> said_by_eye(const RideData& data, const SeenIn& seen) {
    std::set<std::string> out;
    for (const CheckAnswer& c : data.checks) {
        if (c.said != CheckAnswer::Said::cannot_see && c.moment < data.moments.size() &&
            !told_apart(data.moments[c.moment].seen, seen))
            out.insert(c.id);
    }
    return out;
}

}  // namespace

std::vector<SeenStride> observe_strides(const RideData& data, const Knowledge& knowledge) {
    std::vector<SeenStride> out;
    for (const RideStrides& strides : data.strides) {
        const std::set<std::string> by_eye = said_by_eye(data, strides.seen);
        for (const auto& stride : judge_strides(strides, knowledge.schools)) {
            ObservedMoment observed = knowledge.faults.observe(stride, strides.setting, strides.view);
            for (Observation& o : observed.observations) {
                if (by_eye.contains(o.fault->id)) continue;
                o.stride = true;
                out.push_back({seen_for(*o.fault, strides.seen), std::move(o)});
            }
        }
    }
    return out;
}

RideAssessment assess_ride(const RideData& data, const Knowledge& knowledge) {
    std::vector<std::vector<Judged>> judged;
    judged.reserve(data.moments.size());
    for (const RideMoment& m : data.moments) judged.push_back(judge_moment(m, knowledge));
    return assess_judged(data, std::move(judged), knowledge);
}

RideAssessment assess_judged(const RideData& data, std::vector<std::vector<Judged>> judged,
                             const Knowledge& knowledge) {
    RideAssessment out;
    out.judged = std::move(judged);
    std::map<SeenIn, std::size_t> places;
    std::vector<Group> groups;
    const auto group = [&](const SeenIn& seen) -> Group& {
        const auto [it, fresh] = places.emplace(seen, groups.size());
        if (fresh) groups.push_back({seen, {}});
        return groups[it->second];
    };
    for (std::size_t i = 0; i < data.moments.size(); ++i) {
        // What belongs to one leg or arm is kept by its side, trunk and head over both.
        ObservedMoment sided = observe_moment(data, i, out.judged[i], knowledge), whole;
        whole.phase = sided.phase;
        std::erase_if(sided.observations, [&](const Observation& o) {
            if (has_side(*o.fault)) return false;
            whole.observations.push_back(o);
            return true;
        });
        SeenIn both = data.moments[i].seen;
        both.side.clear();
        group(data.moments[i].seen).moments.push_back(std::move(sided));
        group(both).moments.push_back(std::move(whole));
    }
    for (const SeenStride& s : observe_strides(data, knowledge))
        group(s.seen).moments.push_back({{s.said}, {}, {}});
    for (Group& g : groups) {
        g.merged = knowledge.faults.merge(g.moments);
        for (const FoundFault& found : g.merged.found)
            out.findings.push_back({found, g.seen, found.judgeable, Decision::open, nullptr});
        for (const FoundFault& state : g.merged.states) out.states.push_back({state.fault, g.seen});
        for (const CheckWanted& w : g.merged.wanted) {
            if (std::ranges::find(out.wanted, w) == out.wanted.end()) out.wanted.push_back(w);
        }
    }
    take_decisions(out.findings, data.decided, knowledge.faults);
    std::ranges::stable_sort(out.findings, [](const RideFinding& a, const RideFinding& b) {
        if (a.found.group() != b.found.group()) return a.found.group() < b.found.group();
        return a.found.weight() > b.found.weight();
    });
    const FocusRequest request{candidates(out.findings, groups, data.in_work),
                               seen_of_work(data.in_work, groups, knowledge.faults), data.level};
    out.causes = causes_among(request.candidates, knowledge.faults.causes());
    out.focus = choose_focus(request, knowledge.faults);
    std::vector<LookedAt> looked;
    for (std::size_t i = 0; i < data.moments.size(); ++i)
        looked.push_back({&out.judged[i], data.moments[i].setting, data.moments[i].figure.view});
    out.good = knowledge.strengths.of(looked, strengths_seen(data, knowledge));
    return out;
}

}  // namespace aspen::core
