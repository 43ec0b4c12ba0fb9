#include "core/training/exercises.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>

#include "core/reading/json_reading.hpp"

namespace aspen::core {
namespace {

using reading::Entry;
using reading::Json;

int positive(const Entry& entry, const char* field) {
    const int value = entry.whole_or(field, 0);
    if (value <= 0) entry.complain(field, "must be a whole number above 0");
    return value;
}

Dose read_dose(const Json& json, const std::string& file, const std::string& id) {
    const Entry entry(json, file, fmt::format("exercise \"{}\", dose", id));
    Dose dose;
    dose.minutes = positive(entry, "minutes");
    dose.times_per_week = positive(entry, "times_per_week");
    dose.weeks = positive(entry, "weeks");
    dose.ladder = entry.texts_or_none("ladder");
    if (dose.ladder.empty()) entry.complain("ladder", "needs at least one step");
    dose.up = entry.text("up");
    dose.down = entry.text("down");
    return dose;
}

Exercise read_exercise(const Json& json, const std::string& file, const FaultBook& faults) {
    const std::string name = json.is_object() ? json.value("id", std::string("without id")) : "entry";
    const Entry entry(json, file, fmt::format("exercise \"{}\"", name));
    Exercise e;
    e.id = entry.text("id");
    e.name = entry.text("name");
    e.purpose = entry.text("purpose");
    e.next_clip = entry.text("next_clip");
    e.caution = entry.text("caution");
    e.answers = entry.texts_or_none("answers");
    if (e.answers.empty()) entry.complain("answers", "needs at least one fault");
    for (const std::string& id : e.answers) {
        if (!faults.find(id))
            entry.complain("answers", fmt::format("names \"{}\", which is not a fault", id));
    }
    e.where = entry.texts_or_none("where");
    e.equipment = entry.texts_or_none("equipment");
    e.people = entry.texts_or_none("people");
    e.before = entry.texts_or_none("before");
    for (const std::string& b : e.before) {
        if (!b.starts_with("may ")) continue;
        const auto gate = std::ranges::find(kGates, b, spoken_gate);
        if (gate == kGates.end())
            entry.complain("before", fmt::format("says \"{}\", which nobody can sign off", b));
        e.gates.emplace_back(*gate);
    }
    e.not_for = entry.texts_or_none("not_for");
    e.levels = entry.texts_or_none("levels");
    e.cues = entry.texts_or_none("cues");
    e.dose = read_dose(entry.object("dose"), file, e.id);
    return e;
}

/// Its words in small letters.
std::vector<std::string> words_in(const std::string& text) {
    std::vector<std::string> out(1);
    for (const char c : text) {
        const auto u = static_cast<unsigned char>(c);
        if (std::isalpha(u))
            out.back() += static_cast<char>(std::tolower(u));
        else if (!out.back().empty())
            out.emplace_back();
    }
    if (out.back().empty()) out.pop_back();
    return out;
}

std::ptrdiff_t place(const Exercise& e, std::string_view fault) {
    return std::ranges::find(e.answers, fault) - e.answers.begin();
}

}  // namespace

std::string_view spoken_gate(std::string_view gate) {
    static constexpr std::pair<std::string_view, std::string_view> kSpoken[] = {
        {"canter", "may canter"},
        {"no_stirrups", "may work without stirrups"},
        {"no_reins", "may ride without reins"},
        {"jump", "may jump"},
        {"alone", "may ride alone"}};
    const auto at = std::ranges::find(kSpoken, gate, &std::pair<std::string_view, std::string_view>::first);
    return at == std::end(kSpoken) ? gate : at->second;
}

std::vector<std::string> ExerciseBook::parts_in(const std::string& words) const {
    std::vector<std::string> out;
    for (const std::string& word : words_in(words)) {
        for (const auto& [part, names] : body_words_) {
            const bool named = std::ranges::find(names, word) != names.end();
            if (named && std::ranges::find(out, part) == out.end()) out.push_back(part);
        }
    }
    return out;
}

std::vector<std::string> ExerciseBook::parts() const {
    std::vector<std::string> out;
    for (const auto& [part, names] : body_words_) out.push_back(part);
    return out;
}

std::optional<Limitation> ExerciseBook::understood(const std::string& words, std::string side,
                                                   const std::string& loads) const {
    if (loads == "nothing") return std::nullopt;
    if (side.empty()) {
        bool left = false, right = false;
        for (const std::string& w : words_in(words)) {
            left |= w == "left";
            right |= w == "right";
        }
        side = left && right ? "both" : left ? "left" : right ? "right" : "";
    }
    return Limitation{words, std::move(side), loads.empty() ? parts_in(words) : words_in(loads)};
}

std::string ExerciseBook::set_aside(const Exercise& e, const RiderNeeds& rider) const {
    const bool on_foot = e.where.size() == 1 && e.where.front() == "unmounted";
    for (const Limitation& limitation : rider.limitations) {
        for (const std::string& part : limitation.parts) {
            if (std::ranges::find(e.not_for, part) != e.not_for.end())
                return fmt::format("not with a sore or stiff {}", part);
        }
        if (limitation.parts.empty() && !on_foot)
            return fmt::format(
                "\"{}\" is not understood: say on the rider's card what it keeps from being loaded",
                limitation.words);
    }
    const bool level =
        rider.level.empty() || e.levels.empty() || std::ranges::find(e.levels, rider.level) != e.levels.end();
    return level ? std::string() : fmt::format("not yet for a {}", rider.level);
}

ExerciseBook::ExerciseBook(std::istream& in, const std::string& file, const FaultBook& faults) {
    const Json json = reading::parse(in, file);
    const Entry top(json, file, "file");
    for (const auto& [part, names] : top.object("body_words").items())
        body_words_[part] = Entry(top.object("body_words"), file, "body_words").texts_or_none(part.c_str());
    for (const Json& one : top.array("exercises")) {
        Exercise e = read_exercise(one, file, faults);
        if (find(e.id)) throw Refused(fmt::format("{}: exercise \"{}\" stands twice", file, e.id));
        exercises_.push_back(std::move(e));
    }
}

const Exercise* ExerciseBook::find(std::string_view wanted) const {
    const auto it = std::ranges::find(exercises_, wanted, &Exercise::id);
    return it == exercises_.end() ? nullptr : &*it;
}

Offer ExerciseBook::offer(const Exercise& e, const RiderNeeds& rider) const {
    Offer out{&e, set_aside(e, rider)};
    if (!out.set_aside.empty()) return out;
    for (const std::string& gate : e.gates) {
        if (std::ranges::find(rider.signed_off, gate) != rider.signed_off.end()) continue;
        // One word of the coach's opens it only where no other is missing too.
        out.gate = out.set_aside.empty() ? gate : std::string();
        out.set_aside += fmt::format("{}not signed off on this horse: {}", out.set_aside.empty() ? "" : "; ",
                                     spoken_gate(gate));
    }
    return out;
}

std::vector<Offer> ExerciseBook::offers(std::string_view fault, const RiderNeeds& rider) const {
    std::vector<Offer> out;
    for (const Exercise& e : exercises_) {
        if (std::ranges::find(e.answers, fault) != e.answers.end()) out.push_back(offer(e, rider));
    }
    std::ranges::stable_sort(out, [&](const Offer& a, const Offer& b) {
        if (a.set_aside.empty() != b.set_aside.empty()) return a.set_aside.empty();
        return place(*a.exercise, fault) < place(*b.exercise, fault);
    });
    return out;
}

std::string spoken(const Dose& dose) {
    const auto count = [](int n, const char* one, const char* many) {
        return n == 1 ? fmt::format("1 {}", one) : fmt::format("{} {}", n, many);
    };
    const std::string times = dose.times_per_week == 1 ? "once a week"
                              : dose.times_per_week == 2
                                  ? "twice a week"
                                  : fmt::format("{} times a week", dose.times_per_week);
    return fmt::format("{}, {}, for {}", count(dose.minutes, "minute", "minutes"), times,
                       count(dose.weeks, "week", "weeks"));
}

}  // namespace aspen::core
