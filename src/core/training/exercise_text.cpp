#include "core/training/exercise_text.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <nlohmann/json.hpp>
#include <optional>
#include <sstream>

#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

using OrderedJson = nlohmann::ordered_json;

std::string trimmed(std::string_view text) {
    const auto first = text.find_first_not_of(" \t\r\n"), last = text.find_last_not_of(" \t\r\n");
    return first == std::string_view::npos ? std::string()
                                           : std::string(text.substr(first, last - first + 1));
}

std::vector<std::string> parts_by(std::string_view text, char separator) {
    std::vector<std::string> out;
    std::size_t start = 0;
    while (start <= text.size()) {
        const std::size_t end = std::min(text.find(separator, start), text.size());
        if (std::string one = trimmed(text.substr(start, end - start)); !one.empty())
            out.push_back(std::move(one));
        start = end + 1;
    }
    return out;
}

/// A list as it is written: by commas, or by semicolons where one of them holds a comma itself.
std::string list_text(const std::vector<std::string>& all) {
    const bool commas =
        std::ranges::any_of(all, [](const std::string& s) { return s.find(',') != std::string::npos; });
    return commas ? fmt::format("{};", fmt::join(all, "; ")) : fmt::format("{}", fmt::join(all, ", "));
}
std::vector<std::string> list_in(const std::string& text) {
    return parts_by(text, text.find(';') == std::string::npos ? ',' : ';');
}

[[noreturn]] void refuse(const std::string& field, const std::string& what) {
    throw Refused(fmt::format("{}: {}", field, what));
}

std::string rung_text(const Rung& r) {
    std::string out =
        fmt::format("{}: {} ({} x {} min, {} of {}", word(r.work), r.words, r.bouts, r.minutes, r.good, r.of);
    if (r.hold > 0) out += fmt::format(", held {}", r.hold);
    if (!r.stirrups) out += ", no stirrups";
    if (r.reins == "none") out += ", no reins";
    if (r.reins == "one") out += ", one rein";
    if (r.from_trot) out += ", from trot";
    for (const std::string& level : r.levels) out += ", for " + level;
    if (!r.before.empty()) out += fmt::format("; {}", fmt::join(r.before, "; "));
    if (!r.gaited_words.empty()) out += fmt::format("; gaited {}: {}", word(r.gaited_work), r.gaited_words);
    return out + ")";
}

OrderedJson rung_json(const Rung& r) {
    OrderedJson out{{"do", r.words},        {"gait", word(r.work)}, {"bouts", r.bouts},
                    {"minutes", r.minutes}, {"good", r.good},       {"of", r.of}};
    if (r.hold > 0) out["hold"] = r.hold;
    if (!r.stirrups) out["stirrups"] = "off";
    if (r.reins != "both") out["reins"] = r.reins;
    if (!r.before.empty()) out["before"] = r.before;
    if (!r.levels.empty()) out["levels"] = r.levels;
    if (r.from_trot) out["from"] = "trot";
    if (!r.gaited_words.empty()) out["gaited"] = {{"do", r.gaited_words}, {"gait", word(r.gaited_work)}};
    return out;
}

/// Two whole numbers around a word: "5 x 2 min", "3 of 4".
bool pair_in(const std::string& text, const char* between, int& a, int& b) {
    std::istringstream in(text);
    std::string mid;
    int first = 0, second = 0;
    if (!(in >> first >> mid >> second) || mid != between) return false;
    a = first;
    b = second;
    return true;
}

std::optional<Work> work_in(std::string_view text) {
    for (int w = 0; w <= static_cast<int>(Work::jump); ++w) {
        if (text == word(static_cast<Work>(w))) return static_cast<Work>(w);
    }
    return std::nullopt;
}

/// "gaited running_walk: one long side"; false where it is none.
bool gaited_in(const std::string& clause, Rung& r) {
    const std::size_t colon = clause.find(':');
    if (!clause.starts_with("gaited ") || colon == std::string::npos) return false;
    const auto work = work_in(trimmed(std::string_view(clause).substr(7, colon - 7)));
    if (!work) return false;
    r.gaited_work = *work;
    r.gaited_words = trimmed(std::string_view(clause).substr(colon + 1));
    return true;
}

/// What a word of a rung says beside its dose; false where it says nothing that is known.
bool word_of_rung(const std::string& part, Rung& r) {
    if (part == "no stirrups")
        r.stirrups = false;
    else if (part == "no reins")
        r.reins = "none";
    else if (part == "one rein")
        r.reins = "one";
    else if (part == "from trot")
        r.from_trot = true;
    else if (part.starts_with("for "))
        r.levels.push_back(part.substr(4));
    else if (part.starts_with("held ") && std::isdigit(static_cast<unsigned char>(part[5])))
        r.hold = std::atoi(part.c_str() + 5);
    else if (part.starts_with("may "))
        r.before.push_back(part);
    else
        return false;
    return true;
}

OrderedJson rung_from(const std::string& line, std::size_t number) {
    const auto wrong = [&](const std::string& what) {
        refuse("ladder", fmt::format("line {} {}", number, what));
    };
    const std::size_t colon = line.find(':');
    if (colon == std::string::npos) wrong("says no gait; write it like \"walk: one long side\"");
    Rung r;
    const std::string gait = trimmed(std::string_view(line).substr(0, colon));
    const auto work = work_in(gait);
    if (!work)
        wrong(fmt::format("says \"{}\"; it knows unmounted, halt, walk, running_walk, trot, canter, jump",
                          gait));
    r.work = *work;
    std::string rest = trimmed(std::string_view(line).substr(colon + 1)), dose;
    if (const std::size_t open = rest.rfind('('); rest.ends_with(')') && open != std::string::npos) {
        dose = rest.substr(open + 1, rest.size() - open - 2);
        rest = trimmed(std::string_view(rest).substr(0, open));
    }
    if (rest.empty()) wrong("says nothing to do");
    r.words = rest;
    r.bouts = 3;
    r.minutes = 2;
    const auto clauses = parts_by(dose, ';');
    for (std::size_t c = 1; c < clauses.size(); ++c) {
        if (!gaited_in(clauses[c], r)) r.before.push_back(clauses[c]);
    }
    for (const std::string& part : clauses.empty() ? std::vector<std::string>{} : parts_by(clauses[0], ',')) {
        if (pair_in(part, "x", r.bouts, r.minutes) || pair_in(part, "of", r.good, r.of)) continue;
        if (!word_of_rung(part, r))
            wrong(
                fmt::format("says \"{}\"; it knows 3 x 2 min, 3 of 4, held 10, no stirrups, no reins, "
                            "one rein, from trot, for established, may …",
                            part));
    }
    return rung_json(r);
}

const std::vector<std::string>* list_of(const Exercise& e, const std::string& field) {
    const std::pair<const char*, const std::vector<std::string>*> lists[] = {
        {"where", &e.where},         {"equipment", &e.equipment},   {"people", &e.people},
        {"before", &e.before},       {"not_for", &e.not_for},       {"levels", &e.levels},
        {"not_horse", &e.not_horse}, {"not_saddle", &e.not_saddle}, {"not_school", &e.not_school}};
    const auto it =
        std::ranges::find(lists, field, &std::pair<const char*, const std::vector<std::string>*>::first);
    return it == std::end(lists) ? nullptr : it->second;
}

}  // namespace

const std::vector<std::string>& exercise_fields() {
    static const std::vector<std::string> fields{
        "name",       "purpose",    "answers",  "picture",   "plain",  "ladder",  "weeks",
        "where",      "equipment",  "people",   "before",    "levels", "not_for", "not_horse",
        "not_saddle", "not_school", "from_age", "next_clip", "caution"};
    return fields;
}

std::string field_text(const Exercise& e, const std::string& field, const FaultBook& faults) {
    if (const auto* list = list_of(e, field)) return list_text(*list);
    if (field == "name") return e.name;
    if (field == "purpose") return e.purpose;
    if (field == "picture") return e.cue_picture;
    if (field == "plain") return e.cue_plain;
    if (field == "next_clip") return e.next_clip;
    if (field == "caution") return e.caution;
    if (field == "weeks") return std::to_string(e.dose.weeks);
    if (field == "from_age") return e.from_age > 0 ? std::to_string(e.from_age) : std::string();
    std::vector<std::string> lines;
    if (field == "answers") {
        for (const std::string& id : e.answers) {
            const Fault* f = faults.find(id);
            lines.push_back(f ? f->name : id);
        }
        return fmt::format("{}", fmt::join(lines, ", "));
    }
    for (const Rung& r : e.dose.ladder) lines.push_back(rung_text(r));
    return fmt::format("{}", fmt::join(lines, "\n"));
}

OrderedJson field_json(const std::string& field, const std::string& text, const FaultBook& faults) {
    const std::string said = trimmed(text);
    const Exercise none;
    if (field == "answers") {
        OrderedJson ids = OrderedJson::array();
        for (const std::string& one : parts_by(said, ',')) {
            const auto& all = faults.faults();
            const auto it =
                std::ranges::find_if(all, [&](const Fault& f) { return f.name == one || f.id == one; });
            if (it == all.end())
                refuse("what it answers", fmt::format("\"{}\" is not a fault; choose one of the list", one));
            ids.push_back(it->id);
        }
        return {{"answers", ids}};
    }
    if (list_of(none, field)) return {{field, list_in(said)}};
    if (field == "weeks" || field == "from_age") {
        const int n = std::atoi(said.c_str());
        if (!said.empty() && (n < 0 || n > 99 || std::to_string(n) != said))
            refuse(field, fmt::format("\"{}\" is no whole number", said));
        if (field == "weeks") return {{"dose", {{"weeks", n}}}};
        return {{"from_age", n}};
    }
    if (field == "ladder") {
        OrderedJson rungs = OrderedJson::array();
        std::istringstream in(said);
        std::size_t number = 0;
        for (std::string line; std::getline(in, line);) {
            ++number;
            if (!trimmed(line).empty()) rungs.push_back(rung_from(trimmed(line), number));
        }
        return {{"dose", {{"ladder", rungs}}}};
    }
    if (field == "picture" || field == "plain") return {{"cues", {{field, said}}}};
    return {{field, said}};
}

OrderedJson as_json(const Exercise& e, const std::string& id, const std::string& name) {
    OrderedJson ladder = OrderedJson::array(), measured = OrderedJson::array();
    for (const Rung& r : e.dose.ladder) ladder.push_back(rung_json(r));
    for (const MeasureGate& g : e.measured_gates) {
        measured.push_back({{"measure", g.measure},
                            {"gait", g.gait},
                            {"seat", g.seat},
                            {"below", g.below},
                            {"strides", g.strides},
                            {"says", g.says}});
        if (!g.sign_off.empty()) measured.back()["sign_off"] = g.sign_off;
        if (!g.fault.empty()) measured.back()["fault"] = g.fault;
    }
    OrderedJson variants = OrderedJson::object();
    const std::pair<const char*, const std::string*> ways[] = {
        {"stock", &e.variants.stock},
        {"lunge", &e.variants.lunge},
        {"mechanical_horse", &e.variants.mechanical_horse},
        {"no_arena", &e.variants.no_arena}};
    for (const auto& [key, words] : ways) {
        if (!words->empty()) variants[key] = *words;
    }
    OrderedJson dose{{"weeks", e.dose.weeks}, {"ladder", ladder}, {"up", e.dose.up}, {"down", e.dose.down}};
    if (e.dose.once) dose["once"] = true;
    return {{"id", id},
            {"name", name},
            {"purpose", e.purpose},
            {"answers", e.answers},
            {"where", e.where},
            {"equipment", e.equipment},
            {"people", e.people},
            {"before", e.before},
            {"not_for", e.not_for},
            {"levels", e.levels},
            {"cues", {{"picture", e.cue_picture}, {"plain", e.cue_plain}}},
            {"dose", dose},
            {"school_notes", e.school_notes},
            {"next_clip", e.next_clip},
            {"caution", e.caution},
            {"variants", variants},
            {"not_horse", e.not_horse},
            {"not_saddle", e.not_saddle},
            {"not_school", e.not_school},
            {"from_age", e.from_age},
            {"worse", e.worse},
            {"for_horse", e.for_horse},
            {"measured_gates", measured}};
}

}  // namespace aspen::core
