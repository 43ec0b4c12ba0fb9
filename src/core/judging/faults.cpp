#include "core/judging/faults.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <functional>
#include <map>
#include <set>

#include "core/reading/json_reading.hpp"

namespace aspen::core {
namespace {

using reading::Entry;
using reading::Json;

constexpr int kFewestForShare = 3;  // judgeable moments from which "seen once" is said

constexpr std::array<std::string_view, 6> kGroupWords{"safety", "base", "trunk", "head", "arms", "fine"};
constexpr std::array<std::string_view, 6> kGroupSpoken{"safety",        "the base",       "the trunk",
                                                       "head and eyes", "arms and hands", "fine aids"};

Fault::Side side_from(const Entry& entry, const std::string& w) {
    if (w == "below") return Fault::Side::below;
    if (w == "above") return Fault::Side::above;
    if (w == "either") return Fault::Side::either;
    entry.complain("side", "must be below, above or either");
}

Fault read_fault(const Json& json, const std::string& file) {
    const std::string name = json.is_object() ? json.value("id", std::string("fault without id")) : "fault";
    const Entry entry(json, file, fmt::format("fault \"{}\"", name));
    Fault fault;
    fault.id = entry.text("id");
    fault.name = entry.text("name");
    fault.says = entry.text("says");
    fault.good = entry.text_or("good", "");
    const auto part = body_part_from(entry.text("part"));
    if (!part) entry.complain("part", "is not a part of the body");
    fault.part = *part;
    const auto group = std::ranges::find(kGroupWords, entry.text("group"));
    if (group == kGroupWords.end()) entry.complain("group", "is not in the order of attention");
    fault.group = static_cast<AttentionGroup>(group - kGroupWords.begin());
    fault.by_eye = entry.flag_or("eye", false);
    fault.needs_stirrups = entry.flag_or("needs_stirrups", false);
    fault.covers = entry.texts_or_none("covers");
    for (const std::string& w : entry.texts_or_none("seats")) {
        const auto seat = seat_from(w);
        if (!seat) entry.complain("seats", fmt::format("has the unknown seat \"{}\"", w));
        fault.seats.push_back(*seat);
    }
    for (const std::string& w : entry.texts_or_none("views")) {
        const auto view = view_from(w);
        if (!view) entry.complain("views", fmt::format("has the unknown view \"{}\"", w));
        fault.views.push_back(*view);
    }
    if (fault.by_eye) return fault;
    for (const Json& one : entry.array("when")) {
        const Entry condition(one, file, fmt::format("fault \"{}\", when", fault.id));
        const std::string measure = condition.text("measure");
        if (!find_measure(measure))
            condition.complain("measure", fmt::format("\"{}\" is not a measure", measure));
        fault.when.push_back({measure, side_from(condition, condition.text("side"))});
    }
    if (fault.when.empty()) entry.complain("when", "needs at least one condition, or \"eye\": true");
    return fault;
}

bool applies(const Fault& fault, const Setting& setting, View view) {
    if (fault.by_eye || (fault.needs_stirrups && setting.stirrups == Stirrups::off)) return false;
    const bool seat =
        fault.seats.empty() || std::ranges::find(fault.seats, setting.seat) != fault.seats.end();
    const bool seen =
        fault.views.empty() ? view == View::side : std::ranges::find(fault.views, view) != fault.views.end();
    return seat && seen;
}

bool matches(Fault::Side wanted, Beyond beyond) {
    if (beyond == Beyond::neither) return false;
    return wanted == Fault::Side::either || (wanted == Fault::Side::below) == (beyond == Beyond::below);
}

/// One fault against one set of values; nothing when the moment cannot judge it.
std::optional<Observation> check(const Fault& fault, const std::vector<Judged>& judged) {
    Observation out{&fault, Verdict::outside};
    out.past_limit = true;
    bool all_judged = true;
    for (const Fault::Condition& c : fault.when) {
        const Judged* j = find(judged, c.measure);
        const bool known = j && (j->verdict == Verdict::inside || j->verdict == Verdict::borderline ||
                                 j->verdict == Verdict::outside);
        if (!known) {
            all_judged = false;
            continue;
        }
        out.evidence.emplace_back(c.measure);
        if (!matches(c.side, j->beyond)) {
            // Inside, or certainly past the other limit: this condition fails, whatever the others say.
            if (j->verdict != Verdict::borderline)
                return Observation{&fault, Verdict::inside, 0, false, {c.measure}};
            out.past_limit = false;
        } else if (j->verdict == Verdict::borderline && out.verdict == Verdict::outside) {
            out.verdict = Verdict::borderline;
        }
        out.severity = std::max(out.severity, j->severity);
    }
    if (!all_judged) return std::nullopt;
    if (!out.past_limit)
        out.verdict = Verdict::borderline;  // it cannot be told, and tends to none or the other way
    if (out.verdict != Verdict::outside) out.severity = 0;
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

}  // namespace

std::string_view word(AttentionGroup g) { return kGroupWords[static_cast<std::size_t>(g)]; }
std::string_view spoken(AttentionGroup g) { return kGroupSpoken[static_cast<std::size_t>(g)]; }

std::string_view leading_measure(const Fault& fault) {
    return fault.when.empty() ? std::string_view() : std::string_view(fault.when.front().measure);
}

FaultBook::FaultBook(std::istream& faults, const std::string& faults_file, std::istream& causes,
                     const std::string& causes_file) {
    const Json json = reading::parse(faults, faults_file);
    for (const Json& one : Entry(json, faults_file, "file").array("faults")) {
        Fault fault = read_fault(one, faults_file);
        if (find(fault.id))
            throw Refused(fmt::format("{}: fault \"{}\" stands twice", faults_file, fault.id));
        faults_.push_back(std::move(fault));
    }
    for (const Fault& fault : faults_) {
        for (const std::string& other : fault.covers) {
            if (!find(other))
                throw Refused(
                    fmt::format("{}: fault \"{}\": field \"covers\" names \"{}\", which is not there",
                                faults_file, fault.id, other));
        }
    }
    const Json edges = reading::parse(causes, causes_file);
    for (const Json& one : Entry(edges, causes_file, "file").array("causes")) {
        const Entry entry(one, causes_file, "cause");
        Cause cause{entry.text("from"), entry.text("to"), entry.text("because")};
        for (const std::string& end : {cause.from, cause.to}) {
            if (!find(end)) entry.complain("from/to", fmt::format("names \"{}\", which is not a fault", end));
        }
        causes_.push_back(std::move(cause));
    }
    refuse_rings(causes_file);
    make_unsteady();
}

const Fault* FaultBook::find(std::string_view wanted) const {
    if (const auto it = std::ranges::find(faults_, wanted, &Fault::id); it != faults_.end()) return &*it;
    const auto it = std::ranges::find(unsteady_, wanted, &Fault::id);
    return it == unsteady_.end() ? nullptr : &*it;
}

std::vector<Observation> FaultBook::observe(const std::vector<Judged>& judged, const Setting& setting,
                                            View view) const {
    std::vector<Observation> out;
    for (const Fault& fault : faults_) {
        if (!applies(fault, setting, view)) continue;
        if (auto one = check(fault, judged)) out.push_back(std::move(*one));
    }
    return out;
}

MergedFaults FaultBook::merge(std::vector<ObservedMoment> moments) const {
    struct Sum {
        FoundFault found;
        double severity = 0;
        int doubtful = 0;
        std::set<std::string> evidence, phases;
    };
    std::map<const Fault*, Sum> sums;
    std::set<const Fault*> struck;
    MergedFaults out;
    for (ObservedMoment& moment : moments) {
        struck.merge(strike_covered(moment));
        for (const Observation& o : moment.observations) {
            Sum& sum = sums[o.fault];
            ++sum.found.judgeable;
            auto& tally = out.tallies[o.fault];
            tally.past_limit += o.past_limit;
            tally.inside += o.verdict == Verdict::inside;
            if (!o.past_limit) continue;
            sum.evidence.insert(o.evidence.begin(), o.evidence.end());
            if (o.verdict == Verdict::borderline) ++sum.doubtful;
            if (o.verdict != Verdict::outside) continue;
            ++sum.found.certain;
            sum.severity += o.severity;
            sum.phases.insert(moment.phase);
        }
    }
    for (const Fault& fault : faults_) {  // the book's order, so that ties come out the same every time
        const auto it = sums.find(&fault);
        const bool there = it != sums.end() && (it->second.found.certain > 0 || it->second.doubtful > 0);
        if (!there) {
            if (struck.contains(&fault)) out.covered.push_back(&fault);
            continue;
        }
        FoundFault f = it->second.found;
        f.fault = &fault;
        f.evidence.assign(it->second.evidence.begin(), it->second.evidence.end());
        f.verdict = f.certain > 0 ? Verdict::outside : Verdict::borderline;
        f.severity = f.certain > 0 ? it->second.severity / f.certain : 0;
        f.share = static_cast<double>(f.certain) / f.judgeable;
        f.seen_once = f.certain > 0 && f.judgeable >= kFewestForShare && 3 * f.certain < f.judgeable;
        if (it->second.phases.size() == 1) f.phase = *it->second.phases.begin();
        out.found.push_back(std::move(f));
    }
    find_unsteady(out);
    sort_by_weight(out.found);
    return out;
}

/// What drives itself explains nothing: a ring of causes is refused with the faults on it.
void FaultBook::refuse_rings(const std::string& file) const {
    enum class Seen { open, done };
    std::map<std::string, Seen> seen;
    std::vector<std::string> way;
    const std::function<void(const std::string&)> walk = [&](const std::string& at) {
        if (const auto it = seen.find(at); it != seen.end()) {
            if (it->second == Seen::done) return;
            std::string ring = at;
            for (auto back = std::ranges::find(way, at) + 1; back != way.end(); ++back) ring += " → " + *back;
            throw Refused(
                fmt::format("{}: causes run in a ring: {} → {}; take one of them out", file, ring, at));
        }
        seen[at] = Seen::open;
        way.push_back(at);
        for (const Cause& c : causes_) {
            if (c.from == at) walk(c.to);
        }
        way.pop_back();
        seen[at] = Seen::done;
    };
    for (const Cause& c : causes_) walk(c.from);
}

/// One fault for each measure that a fault of its own names below and another above its band.
void FaultBook::make_unsteady() {
    for (const Fault& below : faults_) {
        if (below.when.size() != 1 || below.when.front().side != Fault::Side::below) continue;
        for (const Fault& above : faults_) {
            if (above.when.size() != 1 || above.when.front().side != Fault::Side::above ||
                above.when.front().measure != below.when.front().measure)
                continue;
            const MeasureInfo* measure = find_measure(below.when.front().measure);
            Fault f = below.group <= above.group ? below : above;
            f.id = fmt::format("unsteady_{}", measure->id);
            f.name = fmt::format("Unsteady: {}", measure->spoken);
            f.says = fmt::format("{} and {} in turn", below.name, above.name);
            f.good.clear();
            f.when = {{below.when.front().measure, Fault::Side::either}};
            f.covers = {below.id, above.id};
            unsteady_.push_back(std::move(f));
        }
    }
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
