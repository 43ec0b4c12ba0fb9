#include "core/ride/summary.hpp"

#include "core/judging/sides.hpp"
#include "core/ride/ride.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

namespace aspen::core {
namespace {

constexpr int kFewJudgeable = 3;

/// Which findings of the ride drive this answer of the horse, or what answers it may explain.
std::string explained(const Fault& answer, const RideAssessment& a, const FaultBook& book) {
    std::string out;
    for (const Cause& c : a.causes) {
        const std::string& other = c.to == answer.id ? c.from : c.from == answer.id ? c.to : std::string();
        const Fault* fault = other.empty() ? nullptr : book.find(other);
        if (fault && out.find(fault->name) == std::string::npos)
            out += (out.empty() ? "" : ", ") + fault->name;
    }
    return out;
}

}  // namespace

std::string how_often(const FoundFault& f) {
    if (f.judgeable == 1) return "from one moment";
    if (f.judgeable < kFewJudgeable)
        return f.certain == f.judgeable ? "from two moments" : "at one of two moments";
    return fmt::format("at {} of {} moments", f.certain, f.judgeable);
}

std::vector<NotJudged> not_judged(const RideAssessment& a, const RideData& ride, const Knowledge& knowledge) {
    std::vector<NotJudged> out;
    bool from_side = false, frontal = false, any = false;
    std::map<std::string, std::string> why;
    std::set<std::string_view> judged;
    for (std::size_t i = 0; i < a.judged.size(); ++i) {
        any = any || !a.judged[i].empty();
        (ride.moments[i].figure.view == View::side ? from_side : frontal) = true;
        for (const Judged& j : a.judged[i]) {
            if (j.verdict != Verdict::not_judged)
                judged.insert(j.info().id);
            else
                why.emplace(j.info().id, j.reason);
        }
    }
    for (const auto& [id, reason] : why) {
        if (judged.contains(id)) continue;
        const MeasureInfo* info = find_measure(id);
        const bool oblique = reason.starts_with("seen too much");
        out.push_back({id, reason, oblique ? (info->view == View::side ? "side" : "rear") : "",
                       std::string(info->spoken)});
    }
    const std::string levels = "levels and middle over middle", line = "the line from ear to heel";
    if (any && !frontal) out.push_back({levels, "no picture from front or rear", "rear", levels});
    if (any && !from_side) out.push_back({line, "no picture from the side", "side", line});
    for (const CheckWanted& w : a.wanted) {
        const Check* check = knowledge.checks.find(w.check);
        out.push_back(
            {w.fault->id, fmt::format("look: {}", check ? check->asks : w.check), "", w.fault->name});
    }
    return out;
}

RideSummary summary_of(const RideAssessment& a, const RideData& ride, const Knowledge& knowledge) {
    RideSummary out;
    for (const Strength& s : a.good) out.good.push_back(s.words);
    std::vector<const RideFinding*> findings;
    for (const RideFinding& f : a.findings) {
        if (f.said()) findings.push_back(&f);
    }
    std::ranges::stable_sort(findings, [](const RideFinding* x, const RideFinding* y) {
        const bool doubtful_x = x->found.verdict == Verdict::borderline,
                   doubtful_y = y->found.verdict == Verdict::borderline;
        if (doubtful_x != doubtful_y) return doubtful_y;
        return x->found.weight() > y->found.weight();
    });
    // Gait, seat and side are said only where they tell findings apart.
    const bool apart = std::ranges::any_of(findings, [&](const RideFinding* f) {
        return std::ranges::any_of(findings,
                                   [&](const RideFinding* g) { return told_apart(f->seen, g->seen); });
    });
    for (const RideFinding* f : findings) {
        const std::string where = apart ? spoken(f->seen) : std::string();
        const bool doubtful = f->found.verdict == Verdict::borderline;
        out.findings.push_back({f->said(),
                                (doubtful ? std::string("too close to call") : how_often(f->found)) +
                                    (where.empty() ? "" : ", " + where),
                                doubtful});
    }
    std::set<const Fault*> named;
    for (const NamedState& s : a.states) {
        if (s.state->kind == Fault::Kind::state || !named.insert(s.state).second) continue;
        const std::string by = explained(*s.state, a, knowledge.faults);
        out.horse.push_back(by.empty() ? s.state->name : s.state->name + " (beside: " + by + ")");
    }
    out.open = not_judged(a, ride, knowledge);
    return out;
}

}  // namespace aspen::core
