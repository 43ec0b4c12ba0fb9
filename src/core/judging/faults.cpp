#include "core/judging/faults.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <map>
#include <set>

#include "core/reading/json_reading.hpp"

namespace aspen::core {
namespace {

using reading::Entry;
using reading::Json;

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
    if (fault.by_eye) return false;
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

/// One fault against one set of values; an empty optional when it is not there.
std::optional<FoundFault> check(const Fault& fault, const std::vector<Judged>& judged) {
    FoundFault found{&fault, Verdict::outside, 0, 1, {}};
    for (const Fault::Condition& c : fault.when) {
        const Judged* j = find(judged, c.measure);
        if (!j || !matches(c.side, j->beyond)) return std::nullopt;
        if (j->verdict == Verdict::borderline) found.verdict = Verdict::borderline;
        found.severity = std::max(found.severity, j->severity);
        found.evidence.emplace_back(c.measure);
    }
    if (found.verdict == Verdict::borderline) found.severity = 0;
    return found;
}

void drop_covered(std::vector<FoundFault>& found) {
    std::set<std::string> covered;
    for (const FoundFault& f : found) {
        if (f.verdict == Verdict::outside) covered.insert(f.fault->covers.begin(), f.fault->covers.end());
    }
    std::erase_if(found, [&](const FoundFault& f) { return covered.contains(f.fault->id); });
}

void sort_by_weight(std::vector<FoundFault>& found) {
    std::ranges::stable_sort(found, [](const FoundFault& a, const FoundFault& b) {
        if (a.verdict != b.verdict) return a.verdict == Verdict::outside;
        return a.severity * a.share > b.severity * b.share;
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
}

const Fault* FaultBook::find(std::string_view wanted) const {
    const auto it = std::ranges::find(faults_, wanted, &Fault::id);
    return it == faults_.end() ? nullptr : &*it;
}

std::vector<FoundFault> FaultBook::look_for(const std::vector<Judged>& judged, const Setting& setting,
                                            View view) const {
    std::vector<FoundFault> found;
    for (const Fault& fault : faults_) {
        if (!applies(fault, setting, view)) continue;
        if (auto one = check(fault, judged)) found.push_back(std::move(*one));
    }
    drop_covered(found);
    sort_by_weight(found);
    return found;
}

std::vector<FoundFault> FaultBook::merge(const std::vector<std::vector<FoundFault>>& moments) const {
    struct Sum {
        double severity = 0;
        int certain = 0;
        std::set<std::string> evidence;
    };
    std::map<const Fault*, Sum> sums;
    for (const auto& moment : moments) {
        for (const FoundFault& f : moment) {
            Sum& sum = sums[f.fault];
            if (f.verdict == Verdict::outside) {
                sum.severity += f.severity;
                ++sum.certain;
            }
            sum.evidence.insert(f.evidence.begin(), f.evidence.end());
        }
    }
    std::vector<FoundFault> out;
    for (const Fault& fault : faults_) {  // the book's order, so that ties come out the same every time
        const auto it = sums.find(&fault);
        if (it == sums.end()) continue;
        const Sum& sum = it->second;
        FoundFault f{&fault,
                     sum.certain ? Verdict::outside : Verdict::borderline,
                     0,
                     0,
                     {sum.evidence.begin(), sum.evidence.end()}};
        if (sum.certain) f.severity = sum.severity / sum.certain;
        f.share = static_cast<double>(sum.certain) / static_cast<double>(moments.size());
        out.push_back(std::move(f));
    }
    drop_covered(out);
    sort_by_weight(out);
    return out;
}

std::vector<Cause> FaultBook::causes_among(const std::vector<FoundFault>& found) const {
    const auto has = [&](const std::string& id) {
        return std::ranges::any_of(found, [&](const FoundFault& f) { return f.fault->id == id; });
    };
    std::vector<Cause> out;
    for (const Cause& c : causes_) {
        if (has(c.from) && has(c.to)) out.push_back(c);
    }
    return out;
}

}  // namespace aspen::core
