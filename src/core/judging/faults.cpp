#include "core/judging/faults.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

namespace aspen::core {
namespace {

using How = RuleSays::How;

constexpr int kFewestForShare = 3;  // judgeable moments from which "seen once" is said

/// One fault against one set of values; nothing when the moment cannot judge it.
std::optional<Observation> observe_fault(const Fault& fault, const RuleSays& says) {
    if (says.how == How::unknown) return std::nullopt;
    if (says.how == How::no) return Observation{&fault, Verdict::inside, 0, false, says.evidence};
    Observation out{&fault, says.how == How::yes ? Verdict::outside : Verdict::borderline};
    out.past_limit = says.how >= How::doubtful;
    out.evidence = says.evidence;
    out.toward = says.toward;
    if (says.how != How::yes) return out;
    out.severity = leading_measure(fault).empty() ? 1 : says.severity;
    out.safety = fault.safety_past > 0 && says.past > fault.safety_past;
    return out;
}

/// Strikes the moment from what a certain fault covers; gives what was struck.
std::set<const Fault*> strike_covered(ObservedMoment& moment) {
    std::set<std::string> covered;
    for (const Observation& o : moment.observations) {
        if (o.verdict == Verdict::outside) covered.insert(o.fault->covers.begin(), o.fault->covers.end());
    }
    std::set<const Fault*> struck;
    std::erase_if(moment.observations, [&](const Observation& o) {
        if (!covered.contains(o.fault->id)) return false;
        if (o.verdict == Verdict::outside) struck.insert(o.fault);
        return true;
    });
    return struck;
}

void sort_by_weight(std::vector<FoundFault>& found) {
    std::ranges::stable_sort(found, [](const FoundFault& a, const FoundFault& b) {
        if (a.verdict != b.verdict) return a.verdict == Verdict::outside;
        return a.weight() > b.weight();
    });
}

/// What all moments say of one fault.
struct Sum {
    FoundFault found;
    double severity = 0;
    int doubtful = 0;
    bool turned = false;  ///< the certain moments do not tend the same way
    std::set<std::string> evidence, phases;

    void add(const Observation& o, const std::string& phase) {
        ++found.judgeable;
        found.strides += o.stride;
        if (!o.past_limit) return;
        evidence.insert(o.evidence.begin(), o.evidence.end());
        if (o.verdict == Verdict::borderline) ++doubtful;
        const bool first = found.certain == 0;
        if (o.verdict == Verdict::outside) {
            ++found.certain;
            severity += o.severity;
            phases.insert(phase);
            found.safety = found.safety || o.safety;
            turned = turned || (!first && o.toward != found.toward);
            found.toward = o.toward;
        } else if (first) {
            found.toward = o.toward;
        }
    }
    bool there() const { return found.certain > 0 || doubtful > 0; }
    FoundFault done(const Fault& fault) const {
        FoundFault f = found;
        f.fault = &fault;
        f.evidence.assign(evidence.begin(), evidence.end());
        f.verdict = f.certain > 0 ? Verdict::outside : Verdict::borderline;
        f.severity = f.certain > 0 ? severity / f.certain : 0;
        f.share = static_cast<double>(f.certain) / f.judgeable;
        f.seen_once = f.certain > 0 && f.judgeable >= kFewestForShare && 3 * f.certain < f.judgeable;
        if (phases.size() == 1) f.phase = *phases.begin();
        if (turned) f.toward = Beyond::neither;
        return f;
    }
};

}  // namespace

std::string_view leading_measure(const Fault& fault) { return leading_measure(fault.when); }

ObservedMoment FaultBook::observe(const std::vector<Judged>& judged, const Setting& setting, View view,
                                  const EyeAnswers& eye) const {
    ObservedMoment out{{}, setting.phase, {}};
    for (const Fault& fault : faults_) {
        if (const auto said = eye.find(fault.id); said != eye.end()) {
            out.observations.push_back({&fault,
                                        said->second ? Verdict::outside : Verdict::inside,
                                        said->second ? 1.0 : 0.0,
                                        said->second,
                                        {fault.id}});
            continue;
        }
        if (fault.by_eye || judged.empty() || !fault.where.holds(setting, view)) continue;
        const RuleSays says = evaluate(fault.when, judged, setting, view, eye);
        for (const std::string& c : says.wanted) out.wanted.push_back({c, &fault});
        if (auto one = observe_fault(fault, says)) out.observations.push_back(std::move(*one));
    }
    for (const Fault& state : states_) {
        const auto said = eye.find(state.id);
        // Of a good answer of the horse "good" means that it was seen.
        if (said != eye.end() && said->second != (state.kind == Fault::Kind::good_answer))
            out.observations.push_back({&state, Verdict::outside, 0, true, {state.id}});
    }
    return out;
}

MergedFaults FaultBook::merge(std::vector<ObservedMoment> moments) const {
    std::map<const Fault*, Sum> sums;
    std::set<const Fault*> struck;
    std::set<CheckWanted> wanted;
    MergedFaults out;
    for (ObservedMoment& moment : moments) {
        struck.merge(strike_covered(moment));
        wanted.insert(moment.wanted.begin(), moment.wanted.end());
        for (const Observation& o : moment.observations) {
            sums[o.fault].add(o, moment.phase);
            auto& tally = out.tallies[o.fault];
            tally.past_limit += o.past_limit;
            tally.inside += o.verdict == Verdict::inside;
            ++tally.judged;
        }
    }
    for (const Fault& fault : faults_) {  // the book's order, so that ties come out the same every time
        const auto it = sums.find(&fault);
        if (it != sums.end() && it->second.there())
            out.found.push_back(it->second.done(fault));
        else if (struck.contains(&fault))
            out.covered.push_back(&fault);
    }
    for (const Fault& state : states_) {
        if (const auto it = sums.find(&state); it != sums.end()) out.states.push_back(it->second.done(state));
    }
    for (const Fault& fault : faults_) {
        for (const CheckWanted& w : wanted) {
            if (w.fault == &fault) out.wanted.push_back(w);
        }
    }
    find_unsteady(out);
    // Certainly swinging says more than unsteady, and is the same leg.
    std::vector<std::string> said;
    for (const FoundFault& f : out.found) {
        if (f.certain > 0 && !f.seen_once)
            said.insert(said.end(), f.fault->covers.begin(), f.fault->covers.end());
    }
    std::erase_if(out.found, [&](const FoundFault& f) {
        return f.fault->id.starts_with("unsteady_") && std::ranges::find(said, f.fault->id) != said.end();
    });
    sort_by_weight(out.found);
    return out;
}

void FaultBook::find_unsteady(MergedFaults& merged) const {
    for (const Fault& fault : unsteady_) {
        const auto of = [&](const std::string& id) {
            return std::ranges::find_if(merged.found, [&](const FoundFault& f) {
                return f.fault->id == id && f.certain > 0 && 3 * f.certain >= f.judgeable;
            });
        };
        const auto below = of(fault.covers[0]), above = of(fault.covers[1]);
        if (below == merged.found.end() || above == merged.found.end()) continue;
        FoundFault both{&fault};
        both.certain = below->certain + above->certain;
        both.judgeable = std::max(below->judgeable, above->judgeable);
        both.severity = (below->severity * below->certain + above->severity * above->certain) / both.certain;
        both.share = static_cast<double>(both.certain) / both.judgeable;
        both.evidence = {std::string(leading_measure(fault))};
        if (below->phase == above->phase) both.phase = below->phase;
        std::erase_if(merged.found, [&](const FoundFault& f) {
            return f.fault->id == fault.covers[0] || f.fault->id == fault.covers[1];
        });
        merged.found.push_back(std::move(both));
    }
}

}  // namespace aspen::core
