#include "core/judging/checks.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/reading/json_reading.hpp"

namespace aspen::core {
namespace {

using reading::Entry;
using reading::Json;
using How = RuleSays::How;

template <typename Enum>
std::vector<Enum> states_of(const Entry& entry, const char* field) {
    std::vector<Enum> out;
    for (const std::string& w : entry.texts_or_none(field)) {
        const auto value = from_word<Enum>(w);
        if (!value) entry.complain(field, fmt::format("has the unknown word \"{}\"", w));
        out.push_back(*value);
    }
    return out;
}

BodyPart body_part_of(const Entry& entry) {
    const auto part = body_part_from(entry.text("part"));
    if (!part) entry.complain("part", "is not a part of the body");
    return *part;
}

Check read_check(const Entry& entry, const FaultBook& faults) {
    Check out;
    out.id = entry.text("id");
    out.asks = entry.text("asks");
    out.good = entry.text("good");
    out.fault = entry.text("fault");
    out.part = body_part_of(entry);
    out.where = read_where(entry);
    out.stirrups = states_of<Stirrups>(entry, "stirrups");
    out.reins = states_of<ReinsHeld>(entry, "reins");
    out.moving = entry.flag_or("moving", false);
    out.whole_ride = entry.flag_or("whole_ride", false);
    out.about = entry.text_or("about", "");
    out.strength = entry.text_or("strength", "");
    if (out.about.empty() && !faults.find(out.id))
        entry.complain("id", "is neither a fault nor a state; say in \"about\" which fault it tells");
    if (!out.about.empty() && !faults.find(out.about))
        entry.complain("about", fmt::format("names \"{}\", which is not there", out.about));
    return out;
}

/// How near the middle of its band a measure lies: 1 in the middle, 0 at a limit.
double margin(const LookedAt& at, std::string_view measure) {
    const Judged* j = find(*at.judged, measure);
    if (!j || !j->band || !j->measured.value || !j->band->lo || !j->band->hi) return 0;
    return 1 - std::abs(*j->measured.value - (*j->band->lo + *j->band->hi) / 2) / j->band->half_width;
}

}  // namespace

CheckBook::CheckBook(std::istream& in, const std::string& file, const FaultBook& faults) {
    const Json json = reading::parse(in, file);
    for (const Json& one : Entry(json, file, "file").array("checks")) {
        const std::string name = one.is_object() ? one.value("id", std::string("without id")) : "";
        const Entry entry(one, file, fmt::format("check \"{}\"", name));
        Check check = read_check(entry, faults);
        if (find(check.id)) throw Refused(fmt::format("{}: check \"{}\" stands twice", file, check.id));
        checks_.push_back(std::move(check));
    }
    std::ranges::stable_sort(checks_, {}, &Check::part);
    for (const Fault& fault : faults.faults()) {
        each_condition(fault.when, [&](const Condition& c) {
            if (!c.check.empty() && !find(c.check))
                throw Refused(fmt::format("{}: check \"{}\", which fault \"{}\" asks, is not there", file,
                                          c.check, fault.id));
        });
    }
}

const Check* CheckBook::find(std::string_view id) const {
    const auto it = std::ranges::find(checks_, id, &Check::id);
    return it == checks_.end() ? nullptr : &*it;
}

std::vector<const Check*> CheckBook::asked(View view, const Setting& setting, bool moving) const {
    // What was not said is taken as usual: stirrups on, reins in both hands.
    const Stirrups stirrups = setting.stirrups.value_or(Stirrups::on);
    const ReinsHeld reins = setting.reins.value_or(ReinsHeld::both);
    std::vector<const Check*> out;
    for (const Check& c : checks_) {
        const bool fits = c.stirrups.empty() || std::ranges::find(c.stirrups, stirrups) != c.stirrups.end();
        const bool held = c.reins.empty() || std::ranges::find(c.reins, reins) != c.reins.end();
        if (fits && held && (moving || !c.moving) && c.where.holds(setting, view)) out.push_back(&c);
    }
    return out;
}

StrengthBook::StrengthBook(std::istream& in, const std::string& file) {
    const Json json = reading::parse(in, file);
    for (const Json& one : Entry(json, file, "file").array("strengths")) {
        const std::string name = one.is_object() ? one.value("id", std::string("without id")) : "";
        const Entry entry(one, file, fmt::format("strength \"{}\"", name));
        StrengthRule rule;
        rule.id = entry.text("id");
        rule.name = entry.text("name");
        rule.letters = entry.text_or("letters", "");
        rule.part = body_part_of(entry);
        rule.where = read_where(entry);
        rule.by_eye = entry.flag_or("eye", false);
        if (!rule.by_eye)
            rule.when = read_conditions(entry.array("when"), file, fmt::format("strength \"{}\"", rule.id));
        if (find(rule.id)) throw Refused(fmt::format("{}: strength \"{}\" stands twice", file, rule.id));
        rules_.push_back(std::move(rule));
    }
}

const StrengthRule* StrengthBook::find(std::string_view id) const {
    const auto it = std::ranges::find(rules_, id, &StrengthRule::id);
    return it == rules_.end() ? nullptr : &*it;
}

std::vector<Strength> StrengthBook::of(const std::vector<LookedAt>& moments,
                                       const std::vector<std::string>& seen) const {
    std::vector<Strength> out;
    for (const std::string& id : seen) {
        const StrengthRule* rule = find(id);
        if (rule && std::ranges::find(out, id, &Strength::id) == out.end())
            out.push_back({id, {}, rule->name});
    }
    std::vector<std::pair<double, Strength>> ranked;
    for (const StrengthRule& rule : rules_) {
        if (rule.by_eye || std::ranges::find(out, rule.id, &Strength::id) != out.end()) continue;
        const std::string measure(leading_measure(rule.when));
        int good = 0;
        bool broken = false;
        double sum = 0;
        for (const LookedAt& at : moments) {
            if (at.judged->empty() || !rule.where.holds(at.setting, at.view)) continue;
            const How how = evaluate(rule.when, *at.judged, at.setting, at.view, {}).how;
            broken = broken || (how != How::yes && how != How::unknown);
            if (how != How::yes) continue;
            ++good;
            sum += margin(at, measure);
        }
        if (good > 0 && !broken) ranked.emplace_back(-sum / good, Strength{rule.id, measure, rule.name});
    }
    std::ranges::stable_sort(ranked, {}, &std::pair<double, Strength>::first);
    for (auto& [rank, strength] : ranked) out.push_back(std::move(strength));
    return out;
}

}  // namespace aspen::core
