#include <fmt/format.h>

#include <ostream>

#include "core/judging/schools.hpp"
#include "core/measures/measures.hpp"
#include "core/reading/json_reading.hpp"

namespace aspen::core {
namespace {

using reading::Entry;
using reading::Json;
using Ordered = nlohmann::ordered_json;

std::optional<double> limit_of(const Entry& section, const std::string& key, const Json& value) {
    if (value.is_null()) return std::nullopt;
    if (!value.is_number()) section.complain(key, "needs numbers or null as limits");
    return value.get<double>();
}

/// "measure", "measure/gait", "measure@phase" or "measure/gait@phase".
void check_key(const Entry& section, const std::string& key) {
    const auto at = key.find('@'), slash = key.find('/');
    const std::string measure = key.substr(0, std::min(at, slash));
    if (!find_measure(measure)) section.complain(key, "is not a measure");
    if (measure == "hip_angle")
        section.complain(key, "follows from trunk, heel, knee and heel drop; take it out");
    if (at != std::string::npos && !is_phase(key.substr(at + 1)))
        section.complain(key, "names an unknown phase");
    if (slash < at && !gait_from(key.substr(slash + 1, at == std::string::npos ? at : at - slash - 1)))
        section.complain(key, "names an unknown gait");
}

School::Cell read_cell(const Entry& section, const std::string& key, const Json& value) {
    check_key(section, key);
    if (value.is_null()) return std::monostate{};
    if (value.is_array()) {
        if (value.size() != 2) section.complain(key, "must be [lowest, highest]");
        School::Range range{limit_of(section, key, value[0]), limit_of(section, key, value[1])};
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

Ordered cell_json(const School::Cell& cell) {
    const auto number = [](const std::optional<double>& v) { return v ? Ordered(*v) : Ordered(nullptr); };
    if (const auto* range = std::get_if<School::Range>(&cell))
        return Ordered::array({number(range->lo), number(range->hi)});
    if (const auto* like = std::get_if<School::Relative>(&cell))
        return {{"like", like->section}, {"add", Ordered::array({like->lo_add, like->hi_add})}};
    return nullptr;
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
    school.file = file;
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
    for (const auto& [field, list] :
         {std::pair{"differs", &school.differs}, {"disputed", &school.disputed}}) {
        if (!top.has(field)) continue;
        for (const Json& one : top.array(field)) {
            const Entry entry(one, file, field);
            list->push_back({entry.text("on"), entry.text("why")});
        }
    }
    school.base_measures = top.texts_or_none("base_measures");
    return school;
}

void save_school(const School& school, std::ostream& out) {
    Ordered json{{"id", school.id},
                 {"name", school.name},
                 {"inherits", school.inherits},
                 {"source", school.source},
                 {"about", school.about}};
    for (const School::Difference& d : school.differs)
        json["differs"].push_back({{"on", d.on}, {"why", d.why}});
    for (const School::Difference& d : school.disputed)
        json["disputed"].push_back({{"on", d.on}, {"why", d.why}});
    json["sections"] = Ordered::object();
    for (const auto& [name, section] : school.sections) {
        Ordered& to = json["sections"][name];
        if (!section.inherits.empty()) to["inherits"] = section.inherits;
        to["bands"] = Ordered::object();
        for (const auto& [key, cell] : section.bands) to["bands"][key] = cell_json(cell);
    }
    for (const auto& [id, why] : school.why) json["why"][id] = why;
    for (const auto& [id, scale] : school.scales) json["scales"][id] = scale;
    json["base_measures"] = school.base_measures;
    out << json.dump(1) << '\n';
}

}  // namespace aspen::core
