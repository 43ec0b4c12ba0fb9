#include "core/judging/schools.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/measures/measures.hpp"
#include "core/reading/json_reading.hpp"

namespace aspen::core {
namespace {

using reading::Entry;
using reading::Json;

constexpr int kDeepest = 8;  // more sections in a chain than any school can have: a ring

std::optional<double> limit(const Entry& section, const std::string& key, const Json& value) {
    if (value.is_null()) return std::nullopt;
    if (!value.is_number()) section.complain(key, "needs numbers or null as limits");
    return value.get<double>();
}

School::Cell read_cell(const Entry& section, const std::string& key, const Json& value) {
    const std::string measure = key.substr(0, key.find('@'));
    if (!find_measure(measure)) section.complain(key, "is not a measure");
    if (key.find('@') != std::string::npos && !is_phase(key.substr(key.find('@') + 1))) {
        section.complain(key, "names an unknown phase");
    }
    if (value.is_null()) return std::monostate{};
    if (value.is_array()) {
        if (value.size() != 2) section.complain(key, "must be [lowest, highest]");
        School::Range range{limit(section, key, value[0]), limit(section, key, value[1])};
        if (!range.lo && !range.hi)
            section.complain(key, "has no limit; write null for a measure that is not held");
        if (range.lo && range.hi && *range.lo >= *range.hi)
            section.complain(key, "has its lowest above its highest");
        return range;
    }
    if (value.is_object() && value.contains("like") && value.contains("add")) {
        const Json& add = value["add"];
        if (!value["like"].is_string() || !add.is_array() || add.size() != 2 || !add[0].is_number() ||
            !add[1].is_number()) {
            section.complain(key, "must be {\"like\": section, \"add\": [number, number]}");
        }
        return School::Relative{value["like"].get<std::string>(), add[0].get<double>(), add[1].get<double>()};
    }
    section.complain(key, "must be [lowest, highest], null or {\"like\", \"add\"}");
}

}  // namespace

School load_school(std::istream& in, const std::string& file) {
    const Json json = reading::parse(in, file);
    const Entry top(json, file, "school");
    School school;
    school.id = top.text("id");
    school.name = top.text("name");
    school.source = top.text("source");
    school.about = top.text_or("about", "");
    school.inherits = top.text_or("inherits", "");
    for (const auto& [name, section] : top.object("sections").items()) {
        const Entry entry(section, file, fmt::format("section \"{}\"", name));
        if (name != "jump" && !seat_from(name)) entry.complain(name, "is not a seat or \"jump\"");
        School::Section& out = school.sections[name];
        out.inherits = entry.text_or("inherits", "");
        for (const auto& [key, value] : entry.object("bands").items())
            out.bands[key] = read_cell(entry, key, value);
    }
    if (top.has("why")) {
        for (const auto& [key, value] : top.object("why").items()) {
            if (!find_measure(key) || !value.is_string()) top.complain("why", "must give a text per measure");
            school.why[key] = value.get<std::string>();
        }
    }
    if (top.has("scales")) {
        for (const auto& [key, value] : top.object("scales").items()) {
            if (!find_measure(key) || !value.is_number() || value.get<double>() <= 0) {
                top.complain("scales", "must give a number above 0 per measure");
            }
            school.scales[key] = value.get<double>();
        }
    }
    if (top.has("differs")) {
        for (const Json& one : top.array("differs")) {
            const Entry entry(one, file, "differs");
            school.differs.push_back({entry.text("on"), entry.text("why")});
        }
    }
    school.base_measures = top.texts_or_none("base_measures");
    return school;
}

Schools::Schools(std::vector<School> schools) : schools_(std::move(schools)) {
    std::set<std::string, std::less<>> ids;
    for (const School& s : schools_) {
        if (!ids.insert(s.id).second)
            throw Refused(fmt::format("schools: \"{}\" stands twice; rename one", s.id));
    }
    for (const School& s : schools_) {
        const School* up = &s;
        for (int steps = 0; !up->inherits.empty(); ++steps) {
            const School* parent = find(up->inherits);
            if (!parent)
                throw Refused(
                    fmt::format("schools: {}: inherits \"{}\", which is not there", up->id, up->inherits));
            if (steps > kDeepest) throw Refused(fmt::format("schools: {}: inherits from itself", s.id));
            up = parent;
        }
    }
}

const School* Schools::find(std::string_view wanted) const {
    const auto it = std::ranges::find(schools_, wanted, &School::id);
    return it == schools_.end() ? nullptr : &*it;
}

Schools::Hit Schools::look_up(const School& school, const std::string& section, std::string_view measure,
                              const std::string& phase, int depth) const {
    if (depth > kDeepest) return {};
    for (const School* s = &school; s; s = s->inherits.empty() ? nullptr : find(s->inherits)) {
        const auto found = s->sections.find(section);
        if (found == s->sections.end()) continue;
        const auto& bands = found->second.bands;
        const std::string prefix = std::string(measure) + "@";
        if (const auto exact = bands.find(prefix + phase); !phase.empty() && exact != bands.end()) {
            return {&exact->second};
        }
        const auto any_phase = bands.lower_bound(prefix);
        const bool by_phase = any_phase != bands.end() && any_phase->first.starts_with(prefix);
        if (by_phase && phase.empty()) return {nullptr, true};
        if (const auto plain = bands.find(measure); plain != bands.end()) return {&plain->second};
        if (found->second.inherits.empty()) return {};
        return look_up(school, found->second.inherits, measure, phase, depth + 1);
    }
    return {};
}

std::optional<School::Range> Schools::resolve(const School& school, const School::Cell& cell,
                                              std::string_view measure, int depth) const {
    if (const auto* range = std::get_if<School::Range>(&cell)) return *range;
    const auto* relative = std::get_if<School::Relative>(&cell);
    if (!relative || depth > kDeepest) return std::nullopt;
    const Hit base = look_up(school, relative->section, measure, {}, depth + 1);
    if (!base.cell) return std::nullopt;
    auto range = resolve(school, *base.cell, measure, depth + 1);
    if (!range) return std::nullopt;
    if (range->lo) *range->lo += relative->lo_add;
    if (range->hi) *range->hi += relative->hi_add;
    return range;
}

BandOrReason Schools::band(std::string_view measure, const Setting& setting) const {
    if (setting.school.empty()) return std::string("school, gait or seat not said");
    const School* school = find(setting.school);
    if (!school)
        throw Refused(fmt::format("school: \"{}\" is not known; use one of the ids that `schools` lists",
                                  setting.school));
    const std::string section = setting.gait == Gait::jump ? "jump" : std::string(word(setting.seat));
    const Hit hit = look_up(*school, section, measure, setting.phase);
    if (hit.needs_phase) return std::string("say first whether this is the top or the bottom of the rise");
    if (!hit.cell) return std::string("no band for this seat");
    if (std::holds_alternative<std::monostate>(*hit.cell)) return std::string("not held in this school");
    const auto range = resolve(*school, *hit.cell, measure, 0);
    if (!range) return std::string("no band for this seat");
    Band band{range->lo, range->hi, 1, {}, school->source};
    if (range->lo && range->hi) band.half_width = (*range->hi - *range->lo) / 2;
    if (const auto scale = school->scales.find(measure);
        scale != school->scales.end() && !(range->lo && range->hi)) {
        band.half_width = scale->second;
    }
    if (const auto why = school->why.find(measure); why != school->why.end()) band.why = why->second;
    return band;
}

}  // namespace aspen::core
