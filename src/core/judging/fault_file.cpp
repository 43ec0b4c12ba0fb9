#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <functional>
#include <map>

#include "core/judging/faults.hpp"
#include "core/reading/json_reading.hpp"

/// Reading the book of faults and causes.
namespace aspen::core {
namespace {

using reading::Entry;
using reading::Json;

constexpr std::array<std::string_view, 6> kGroupWords{"safety", "base", "trunk", "head", "arms", "fine"};
constexpr std::array<std::string_view, 6> kGroupSpoken{"safety",        "the base",       "the trunk",
                                                       "head and eyes", "arms and hands", "fine aids"};

AttentionGroup group_from(const Entry& entry, const std::string& w) {
    const auto group = std::ranges::find(kGroupWords, w);
    if (group == kGroupWords.end()) entry.complain("group", "is not in the order of attention");
    return static_cast<AttentionGroup>(group - kGroupWords.begin());
}

Fault read_named(const Entry& entry) {
    Fault out;
    out.id = entry.text("id");
    out.name = entry.text("name");
    out.letters = entry.text_or("letters", "");
    if (entry.has("part")) {
        const auto part = body_part_from(entry.text("part"));
        if (!part) entry.complain("part", "is not a part of the body");
        out.part = *part;
    }
    return out;
}

Fault read_fault(const Json& json, const std::string& file) {
    const std::string name = json.is_object() ? json.value("id", std::string("fault without id")) : "fault";
    const Entry entry(json, file, fmt::format("fault \"{}\"", name));
    Fault fault = read_named(entry);
    if (!entry.has("part")) entry.complain("part", "is missing");
    fault.says = entry.text("says");
    fault.rider = entry.text_or("rider", "");
    fault.horse = entry.text_or("horse", "");
    fault.look_alike = entry.text_or("look_alike", "");
    fault.group = group_from(entry, entry.text("group"));
    fault.by_eye = entry.flag_or("eye", false);
    fault.needs_stride = entry.flag_or("stride", false);
    fault.covers = entry.texts_or_none("covers");
    fault.where = read_where(entry);
    if (entry.has("safety_past")) fault.safety_past = entry.number("safety_past");
    if (fault.by_eye) return fault;
    fault.when = read_conditions(entry.array("when"), file, fmt::format("fault \"{}\"", fault.id));
    if (fault.when.empty()) entry.complain("when", "needs at least one condition, or \"eye\": true");
    return fault;
}

Unread read_unread(const Json& json, const std::string& file) {
    const Entry entry(json, file, "unread");
    Unread out{entry.text("measure"), Condition::Side::either, entry.text("why")};
    if (!find_measure(out.measure)) entry.complain("measure", "is not a measure");
    const std::string side = entry.text_or("side", "either");
    if (side != "below" && side != "above" && side != "either")
        entry.complain("side", "must be below, above or either");
    out.side = side == "below"   ? Condition::Side::below
               : side == "above" ? Condition::Side::above
                                 : Condition::Side::either;
    return out;
}

/// The one measure and side a rule asks, where it is as plain as that.
const Condition* plain(const Fault& f, Condition::Side side) {
    const bool one = f.when.size() == 1 && !f.when.front().measure.empty() && f.when.front().side == side;
    return one ? &f.when.front() : nullptr;
}

}  // namespace

std::string_view word(AttentionGroup g) { return kGroupWords[static_cast<std::size_t>(g)]; }
std::string_view spoken(AttentionGroup g) { return kGroupSpoken[static_cast<std::size_t>(g)]; }

FaultBook::FaultBook(std::istream& faults, const std::string& faults_file, std::istream& causes,
                     const std::string& causes_file) {
    read_faults(faults, faults_file);
    read_causes(causes, causes_file);
    refuse_rings(causes_file);
    make_unsteady();
    for (const Fault& fault : faults_) {
        for (const std::string& other : fault.covers) {
            if (!find(other))
                throw Refused(
                    fmt::format("{}: fault \"{}\": field \"covers\" names \"{}\", which is not there",
                                faults_file, fault.id, other));
        }
    }
}

void FaultBook::read_faults(std::istream& in, const std::string& file) {
    const Json json = reading::parse(in, file);
    const Entry top(json, file, "file");
    const auto add = [&](std::vector<Fault>& to, Fault fault) {
        if (find(fault.id)) throw Refused(fmt::format("{}: \"{}\" stands twice", file, fault.id));
        to.push_back(std::move(fault));
    };
    for (const Json& one : top.array("faults")) add(faults_, read_fault(one, file));
    for (const char* list : {"states", "answers"}) {
        if (!top.has(list)) continue;
        for (const Json& one : top.array(list)) {
            const Entry entry(one, file, list);
            Fault named = read_named(entry);
            named.says = entry.text_or("says", "");
            named.by_eye = true;
            named.kind = std::string_view(list) == "states" ? Fault::Kind::state
                         : entry.flag_or("good", false)     ? Fault::Kind::good_answer
                                                            : Fault::Kind::answer;
            add(states_, std::move(named));
        }
    }
    if (top.has("unread")) {
        for (const Json& one : top.array("unread")) unread_.push_back(read_unread(one, file));
    }
    if (!top.has("levels")) return;
    for (const auto& [level, rules] : top.object("levels").items()) {
        const Entry entry(rules, file, fmt::format("level \"{}\"", level));
        HeldBack& held = levels_[level];
        held.why = entry.text("why");
        for (const std::string& g : entry.texts_or_none("groups"))
            held.groups.push_back(group_from(entry, g));
        held.faults = entry.texts_or_none("faults");
        for (const std::string& id : held.faults) {
            if (!find(id)) entry.complain("faults", fmt::format("names \"{}\", which is not there", id));
        }
    }
}

void FaultBook::read_causes(std::istream& in, const std::string& file) {
    const Json edges = reading::parse(in, file);
    for (const Json& one : Entry(edges, file, "file").array("causes")) {
        const Entry entry(one, file, "cause");
        Cause cause{entry.text("from"), entry.text("to"), entry.text("because")};
        for (const std::string& end : {cause.from, cause.to}) {
            if (!find(end)) entry.complain("from/to", fmt::format("names \"{}\", which is not a fault", end));
        }
        if (const auto across = entry.texts_or_none("across"); !across.empty()) {
            const auto from = across.size() == 2 ? gait_from(across[0]) : std::nullopt,
                       to = across.size() == 2 ? gait_from(across[1]) : std::nullopt;
            if (!from || !to) entry.complain("across", "must be two gaits, from and to");
            cause.across = {*from, *to};
        }
        causes_.push_back(std::move(cause));
    }
}

const Fault* FaultBook::find(std::string_view wanted) const {
    for (const auto* list : {&faults_, &states_}) {
        if (const auto it = std::ranges::find(*list, wanted, &Fault::id); it != list->end()) return &*it;
    }
    const auto it = std::ranges::find(unsteady_, wanted, &Fault::id);
    return it == unsteady_.end() ? nullptr : &*it;
}

std::string FaultBook::held_back(std::string_view level, const Fault& fault) const {
    const auto held = levels_.find(level);
    if (held == levels_.end()) return {};
    const bool waits = std::ranges::find(held->second.groups, fault.group) != held->second.groups.end() ||
                       std::ranges::find(held->second.faults, fault.id) != held->second.faults.end();
    return waits ? held->second.why : std::string();
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
        const Condition* lower = plain(below, Condition::Side::below);
        if (!lower) continue;
        for (const Fault& above : faults_) {
            const Condition* upper = plain(above, Condition::Side::above);
            if (!upper || upper->measure != lower->measure) continue;
            const MeasureInfo* measure = find_measure(lower->measure);
            Fault f = below.group <= above.group ? below : above;
            f.id = fmt::format("unsteady_{}", measure->id);
            if (find(f.id)) continue;
            f.name = fmt::format("Unsteady: {}", measure->spoken);
            f.says = fmt::format("{} and {} in turn", below.name, above.name);
            f.rider = f.horse = f.look_alike = f.letters = {};
            f.when = {*lower};
            f.when.front().side = Condition::Side::either;
            f.covers = {below.id, above.id};
            unsteady_.push_back(std::move(f));
        }
    }
}

}  // namespace aspen::core
