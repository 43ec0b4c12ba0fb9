#include "core/judging/ride.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <set>

namespace aspen::core {
namespace {

/// Faults of one gait, seat and side over its moments.
void find_in_group(const std::vector<const RideMoment*>& moments,
                   const std::vector<const std::vector<Judged>*>& judged, const SeenIn& seen,
                   const FaultBook& book, std::vector<RideFinding>& out) {
    std::vector<std::vector<FoundFault>> each;
    for (std::size_t i = 0; i < moments.size(); ++i) {
        if (!judged[i]->empty())
            each.push_back(book.look_for(*judged[i], moments[i]->setting, moments[i]->figure.view));
    }
    if (each.empty()) return;
    for (FoundFault& found : book.merge(each)) {
        out.push_back({std::move(found), seen, static_cast<int>(each.size()), Decision::open, nullptr});
    }
}

/// The coach's word stays, whatever a later computation finds.
void take_decisions(std::vector<RideFinding>& findings, const std::vector<Decided>& decided,
                    const FaultBook& book) {
    for (const Decided& d : decided) {
        auto row = std::ranges::find_if(
            findings, [&](const RideFinding& f) { return f.found.fault->id == d.fault && f.seen == d.seen; });
        if (row == findings.end()) {
            const Fault* fault = book.find(d.fault);
            if (!fault) continue;
            findings.push_back(
                {{fault, Verdict::no_band, d.measured_severity, 0, {}}, d.seen, 0, d.decision, nullptr});
            row = std::prev(findings.end());
        }
        row->decision = d.decision;
        row->changed_to = d.decision == Decision::changed ? book.find(d.changed_to) : nullptr;
    }
}

/// What counts for the focus: once the coach has decided anything, only that.
std::vector<FoundFault> said_faults(const std::vector<RideFinding>& findings) {
    const bool decided = std::ranges::any_of(findings, [](const RideFinding& f) {
        return f.decision == Decision::accepted || f.decision == Decision::changed;
    });
    std::map<const Fault*, FoundFault> merged;
    std::vector<const Fault*> order;
    for (const RideFinding& row : findings) {
        const Fault* said = row.said();
        // What waits for the rider's answer is not called a fault meanwhile.
        if (!said || row.decision == Decision::asked_back || (decided && row.decision == Decision::open))
            continue;
        FoundFault f = row.found;
        f.fault = said;
        // What the coach accepts counts as certain, even where the number alone was borderline.
        if (row.decision != Decision::open) f.verdict = Verdict::outside;
        f.share = std::max(f.share, 1e-6);
        const auto [it, fresh] = merged.emplace(said, f);
        if (fresh) {
            order.push_back(said);
        } else if (f.verdict == Verdict::outside &&
                   (it->second.verdict != Verdict::outside ||
                    f.severity * f.share > it->second.severity * it->second.share)) {
            it->second = f;  // the same fault in another gait: where it weighs most
        }
    }
    std::vector<FoundFault> out;
    for (const Fault* f : order) out.push_back(merged.at(f));
    return out;
}

std::vector<std::string> what_is_good(const std::vector<std::vector<Judged>>& moments,
                                      const FaultBook& book) {
    struct Tally {
        int inside = 0, other = 0;
        double margin = 0;
    };
    std::map<std::string_view, Tally> tallies;
    for (const auto& moment : moments) {
        for (const Judged& j : moment) {
            Tally& t = tallies[j.info().id];
            if (j.verdict == Verdict::inside) {
                ++t.inside;
                const double middle =
                    j.band->lo && j.band->hi ? (*j.band->lo + *j.band->hi) / 2 : *j.measured.value;
                t.margin += 1 - std::abs(*j.measured.value - middle) / j.band->half_width;
            } else if (j.verdict == Verdict::outside || j.verdict == Verdict::borderline) {
                ++t.other;
            }
        }
    }
    std::vector<std::pair<double, std::string>> ranked;
    std::set<std::string> named;
    for (const Fault& fault : book.faults()) {
        if (fault.good.empty() || named.contains(fault.good) || fault.when.size() != 1) continue;
        const auto it = tallies.find(leading_measure(fault));
        if (it == tallies.end() || it->second.inside == 0 || it->second.other > 0) continue;
        named.insert(fault.good);
        std::string text = fault.good;
        text[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(text[0])));
        ranked.emplace_back(-it->second.margin / it->second.inside, text);
    }
    std::ranges::stable_sort(ranked, {}, &std::pair<double, std::string>::first);
    std::vector<std::string> out;
    for (auto& [rank, text] : ranked) out.push_back(std::move(text));
    return out;
}

}  // namespace

SeenIn seen_in(const Stretch& s) {
    return {s.gait, s.seat, s.view == View::side ? std::string(word(s.travel)) : std::string()};
}

std::string spoken(const SeenIn& seen) {
    std::string out;
    if (seen.gait) out += spoken(*seen.gait);
    if (seen.seat) out += fmt::format("{}{}", out.empty() ? "" : " ", spoken(*seen.seat));
    if (!seen.side.empty()) out += fmt::format("{}{} side", out.empty() ? "" : ", ", seen.side);
    return out;
}

Setting setting_in(const Stretch& s, const std::string& school, const std::string& phase) {
    Setting out;
    if (s.gait && s.seat) out.school = school;
    out.gait = s.gait.value_or(Gait::walk);
    out.seat = s.seat.value_or(Seat::sitting);
    out.phase = phase;
    out.movement = s.shown;
    return out;
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

RideAssessment assess_ride(const RideData& data, const Knowledge& knowledge) {
    RideAssessment out;
    out.judged.reserve(data.moments.size());
    struct Group {
        std::vector<const RideMoment*> moments;
        std::vector<const std::vector<Judged>*> judged;
    };
    std::map<SeenIn, Group> groups;
    for (const RideMoment& m : data.moments) out.judged.push_back(judge_moment(m, knowledge));
    for (std::size_t i = 0; i < data.moments.size(); ++i) {
        Group& group = groups[data.moments[i].seen];
        group.moments.push_back(&data.moments[i]);
        group.judged.push_back(&out.judged[i]);
    }
    for (const auto& [seen, group] : groups)
        find_in_group(group.moments, group.judged, seen, knowledge.faults, out.findings);
    take_decisions(out.findings, data.decided, knowledge.faults);
    std::ranges::stable_sort(out.findings, [](const RideFinding& a, const RideFinding& b) {
        return a.found.fault->group < b.found.fault->group;
    });
    const auto said = said_faults(out.findings);
    out.causes = knowledge.faults.causes_among(said);
    out.focus = choose_focus(said, out.causes, data.in_work);
    out.good = what_is_good(out.judged, knowledge.faults);
    return out;
}

}  // namespace aspen::core
