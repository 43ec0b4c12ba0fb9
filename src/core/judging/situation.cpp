#include "core/judging/situation.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <functional>

#include "core/judging/schools.hpp"
#include "core/measures/measures.hpp"
#include "core/reading/json_reading.hpp"

namespace aspen::core {
namespace {

using reading::Entry;
using reading::Json;
using Words = std::vector<std::string>;

template <typename Enum>
Words one(const std::optional<Enum>& value) {
    return value ? Words{std::string(word(*value))} : Words{};
}

/// What a moment says of an aid: the leg in view gives one, the trunk may answer a transition.
Words moment(const Setting& s) {
    Words out;
    const bool transition = s.movement == "transition";
    if (s.leg_aids.value_or(transition)) out.emplace_back("aid");
    if (transition && !s.upward.value_or(false)) out.emplace_back("not_upward");
    return out;
}

/// The fields a rule may ask for, and what a setting says of each.
const std::map<std::string, std::function<Words(const Setting&)>, std::less<>>& fields() {
    static const std::map<std::string, std::function<Words(const Setting&)>, std::less<>> all{
        {"gait", [](const Setting& s) { return Words{std::string(word(s.gait))}; }},
        {"seat", [](const Setting& s) { return Words{std::string(word(s.seat))}; }},
        {"phase", [](const Setting& s) { return Words{s.phase}; }},
        {"movement", [](const Setting& s) { return Words{s.movement}; }},
        {"stirrups", [](const Setting& s) { return one(s.stirrups); }},
        {"reins", [](const Setting& s) { return one(s.reins); }},
        {"hands", [](const Setting& s) { return one(s.hands); }},
        {"line", [](const Setting& s) { return one(s.line); }},
        {"mount", [](const Setting& s) { return one(s.mount); }},
        {"circle_leg", [](const Setting& s) { return one(s.circle_leg); }},
        {"level", [](const Setting& s) { return Words{s.level}; }},
        {"horse", [](const Setting& s) { return s.horse; }},
        {"body", [](const Setting& s) { return s.body; }},
        {"moment", moment},
    };
    return all;
}

std::optional<double> number_or_null(const Entry& rule, const std::string& key, const Json& value) {
    if (value.is_null()) return std::nullopt;
    if (!value.is_number()) rule.complain(key, "needs numbers or null");
    return value.get<double>();
}

void move_limit(std::optional<double>& limit, const std::optional<double>& by) {
    if (limit && by) *limit += *by;
}

}  // namespace

Situations::Situations(std::istream& in, const std::string& file) {
    const Json json = reading::parse(in, file);
    for (const Json& each : Entry(json, file, "file").array("rules")) {
        const Entry entry(each, file, fmt::format("rule {}", rules_.size() + 1));
        Rule rule;
        rule.why = entry.text("why");
        for (const auto& [field, values] : entry.object("when").items()) {
            if (!fields().contains(field))
                entry.complain("when", fmt::format("names \"{}\", which no setting has", field));
            if (!values.is_array()) entry.complain("when", "needs a list of words for each field");
            for (const Json& v : values) rule.when[field].push_back(v.get<std::string>());
        }
        rule.not_judged = entry.texts_or_none("not_judged");
        for (const std::string& id : rule.not_judged) {
            if (!find_measure(id)) entry.complain("not_judged", fmt::format("\"{}\" is not a measure", id));
        }
        for (const auto& [how, name] :
             {std::pair{Change::How::add, "add"}, std::pair{Change::How::at_least, "at_least"}}) {
            if (!entry.has(name)) continue;
            for (const auto& [id, range] : entry.object(name).items()) {
                if (!find_measure(id) || !range.is_array() || range.size() != 2)
                    entry.complain(name, "needs [lowest, highest] for each measure");
                rule.moves[id] = {how, number_or_null(entry, name, range[0]),
                                  number_or_null(entry, name, range[1])};
            }
        }
        if (entry.has("judged_as")) {
            rule.seat = seat_from(entry.text("judged_as"));
            if (!rule.seat) entry.complain("judged_as", "is not a seat");
        }
        rules_.push_back(std::move(rule));
    }
}

bool Situations::holds(const Rule& rule, const Setting& setting) {
    return std::ranges::all_of(rule.when, [&](const auto& asked) {
        const Words said = fields().find(asked.first)->second(setting);
        return std::ranges::any_of(
            asked.second, [&](const std::string& w) { return std::ranges::find(said, w) != said.end(); });
    });
}

Situated Situations::apply(std::string_view measure, const Setting& setting, Band* band) const {
    Situated out;
    for (const Rule& rule : rules_) {
        const bool suspends = std::ranges::find(rule.not_judged, measure) != rule.not_judged.end();
        const auto move = rule.moves.find(measure);
        if ((!suspends && move == rule.moves.end()) || !holds(rule, setting)) continue;
        if (suspends) return {rule.why, {}};
        if (!band) continue;
        const Change& change = move->second;
        if (change.how == Change::How::add) {
            move_limit(band->lo, change.lo);
            move_limit(band->hi, change.hi);
        } else {
            if (band->lo && change.lo) band->lo = std::min(*band->lo, *change.lo);
            if (band->hi && change.hi) band->hi = std::max(*band->hi, *change.hi);
        }
        out.note += (out.note.empty() ? "" : "; ") + rule.why;
    }
    return out;
}

Situations::SeatHere Situations::seat(const Setting& setting) const {
    for (const Rule& rule : rules_) {
        if (rule.seat && rule.seat != setting.seat && holds(rule, setting)) return {*rule.seat, rule.why};
    }
    return {setting.seat, {}};
}

}  // namespace aspen::core
