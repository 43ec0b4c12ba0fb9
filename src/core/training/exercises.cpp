#include "core/training/exercises.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
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

constexpr std::array<std::string_view, 6> kWorks{"unmounted", "halt", "walk", "trot", "canter", "jump"};

/// What the coach signs off among the things that must stand first.
std::vector<std::string> gates_in(const Entry& entry, const std::vector<std::string>& before) {
    std::vector<std::string> out;
    for (const std::string& b : before) {
        if (!b.starts_with("may ")) continue;
        const auto gate = std::ranges::find(kGates, b, spoken_gate);
        if (gate == kGates.end())
            entry.complain("before", fmt::format("says \"{}\", which nobody can sign off", b));
        out.emplace_back(*gate);
    }
    return out;
}

Rung read_rung(const Json& json, const std::string& file, const std::string& id, std::size_t number) {
    const Entry entry(json, file, fmt::format("exercise \"{}\", rung {}", id, number));
    Rung r;
    r.words = entry.text("do");
    const std::string work = entry.text("gait");
    const auto it = std::ranges::find(kWorks, work);
    if (it == kWorks.end()) entry.complain("gait", "must be unmounted, halt, walk, trot, canter or jump");
    r.work = static_cast<Work>(it - kWorks.begin());
    r.bouts = positive(entry, "bouts");
    r.minutes = positive(entry, "minutes");
    if (r.seconds() > 20 * 60) entry.complain("bouts", "come to more than 20 minutes a ride");
    r.good = positive(entry, "good");
    r.of = positive(entry, "of");
    if (r.good > r.of) entry.complain("good", "must not be more than of");
    r.hold = entry.whole_or("hold", 0);
    const std::string stirrups = entry.text_or("stirrups", "on");
    if (stirrups != "on" && stirrups != "off") entry.complain("stirrups", "must be on or off");
    r.stirrups = stirrups == "on";
    r.reins = entry.text_or("reins", "both");
    if (r.reins != "both" && r.reins != "one" && r.reins != "none")
        entry.complain("reins", "must be both, one or none");
    r.before = entry.texts_or_none("before");
    r.gates = gates_in(entry, r.before);
    return r;
}

Dose read_dose(const Json& json, const std::string& file, const std::string& id) {
    const Entry entry(json, file, fmt::format("exercise \"{}\", dose", id));
    Dose dose;
    dose.weeks = positive(entry, "weeks");
    for (const Json& one : entry.array("ladder"))
        dose.ladder.push_back(read_rung(one, file, id, dose.ladder.size() + 1));
    if (dose.ladder.empty()) entry.complain("ladder", "needs at least one step");
    dose.up = entry.text("up");
    dose.down = entry.text("down");
    return dose;
}

MeasureGate read_measure_gate(const Json& json, const std::string& file, const std::string& id) {
    const Entry entry(json, file, fmt::format("exercise \"{}\", measured gate", id));
    return {entry.text("measure"), entry.text("gait"),         entry.text("seat"),
            entry.number("below"), positive(entry, "strides"), entry.text("says")};
}

/// Lists whose words are fixed.
std::vector<std::string> among(const Entry& entry, const char* field,
                               std::initializer_list<std::string_view> known) {
    std::vector<std::string> out = entry.texts_or_none(field);
    for (const std::string& one : out) {
        if (std::ranges::find(known, one) == known.end())
            entry.complain(field, fmt::format("says \"{}\"; it knows {}", one, fmt::join(known, ", ")));
    }
    return out;
}

void read_whom(Exercise& e, const Entry& entry, const std::string& file) {
    e.not_for = entry.texts_or_none("not_for");
    e.levels = among(entry, "levels", {"beginner", "novice", "established"});
    e.not_horse = among(entry, "not_horse", {"green", "cold_backed"});
    e.not_saddle = entry.texts_or_none("not_saddle");
    e.not_school = entry.texts_or_none("not_school");
    e.from_age = entry.whole_or("from_age", 0);
    if (entry.has("measured_gates")) {
        for (const Json& one : entry.array("measured_gates"))
            e.measured_gates.push_back(read_measure_gate(one, file, e.id));
    }
    if (entry.has("school_notes")) {
        const Json& notes = entry.object("school_notes");
        const Entry n(notes, file, fmt::format("exercise \"{}\", school_notes", e.id));
        for (const auto& [school, words] : notes.items()) e.school_notes[school] = n.text(school.c_str());
    }
    if (entry.has("variants")) {
        const Entry v(entry.object("variants"), file, fmt::format("exercise \"{}\", variants", e.id));
        e.variants = {v.text_or("stock", ""), v.text_or("lunge", ""), v.text_or("mechanical_horse", ""),
                      v.text_or("no_arena", "")};
    }
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
    e.gates = gates_in(entry, e.before);
    read_whom(e, entry, file);
    const Entry cues(entry.object("cues"), file, fmt::format("exercise \"{}\", cues", name));
    e.cue_picture = cues.text("picture");
    e.cue_plain = cues.text("plain");
    e.hidden = entry.flag_or("hidden", false);
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

/// What the horse or its saddle keeps from.
std::string horse_sets_aside(const Exercise& e, const RiderNeeds& rider) {
    const auto among_horses = [&](const char* what) {
        return std::ranges::find(e.not_horse, what) != e.not_horse.end();
    };
    const bool on_foot = e.where.size() == 1 && e.where.front() == "unmounted";
    if (rider.mechanical) {
        const bool there = std::ranges::find(e.where, "mechanical horse") != e.where.end();
        return there || on_foot || !e.variants.mechanical_horse.empty() ? std::string()
                                                                        : "not on the mechanical horse";
    }
    if (rider.cold_backed && among_horses("cold_backed")) return "not on a cold-backed horse";
    if (rider.horse_stage == "green" && among_horses("green")) return "not on a green horse";
    if (!rider.saddle.empty() && std::ranges::find(e.not_saddle, rider.saddle) != e.not_saddle.end())
        return fmt::format("not in a {} saddle", rider.saddle);
    if (std::ranges::find(e.not_school, rider.school) != e.not_school.end())
        return fmt::format("not in the {} school", rider.school);
    return {};
}

/// What was measured on this horse and is not there yet. What was never measured keeps from nothing.
std::string measured_sets_aside(const Exercise& e, const RiderNeeds& rider) {
    for (const MeasureGate& gate : e.measured_gates) {
        for (const MeasuredOnce& m : rider.measured) {
            if (m.measure != gate.measure || m.gait != gate.gait || m.seat != gate.seat ||
                m.strides < gate.strides)
                continue;
            if (m.value - kNinetyPercent * m.sd <= gate.below) continue;
            return fmt::format("first {}: {:.1f} over {} strides, it should be under {:g}", gate.says,
                               m.value, m.strides, gate.below);
        }
    }
    return {};
}

void add_gates(Offer& out, const std::vector<std::string>& gates, const RiderNeeds& rider) {
    for (const std::string& gate : gates) {
        if (std::ranges::find(rider.signed_off, gate) != rider.signed_off.end()) continue;
        // One word of the coach's opens it only where no other is missing too.
        out.gate = out.set_aside.empty() ? gate : std::string();
        out.set_aside += fmt::format("{}not signed off on this horse: {}", out.set_aside.empty() ? "" : "; ",
                                     spoken_gate(gate));
    }
}

std::ptrdiff_t place_of(const Exercise& e, std::string_view fault) {
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

std::string_view word(Work work) { return kWorks[static_cast<std::size_t>(work)]; }

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
    if (!rider.level.empty() && !e.levels.empty() &&
        std::ranges::find(e.levels, rider.level) == e.levels.end())
        return fmt::format("not yet for a {}", rider.level);
    if (e.from_age > 0 && rider.age > 0 && rider.age < e.from_age)
        return fmt::format("not before the age of {}", e.from_age);
    if (std::string horse = horse_sets_aside(e, rider); !horse.empty()) return horse;
    return measured_sets_aside(e, rider);
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
    add_gates(out, e.gates, rider);
    // A ladder whose first rung is shut cannot be begun.
    if (out.set_aside.empty()) add_gates(out, e.dose.ladder.front().gates, rider);
    return out;
}

Offer ExerciseBook::rung_offer(const Exercise& e, int rung, const RiderNeeds& rider) const {
    Offer out = offer(e, rider);
    if (!out.set_aside.empty() || rung < 0 || rung >= static_cast<int>(e.dose.ladder.size())) return out;
    add_gates(out, e.dose.ladder[static_cast<std::size_t>(rung)].gates, rider);
    return out;
}

std::vector<Offer> ExerciseBook::offers(std::string_view fault, const RiderNeeds& rider) const {
    std::vector<Offer> out;
    for (const Exercise& e : exercises_) {
        if (!e.hidden && std::ranges::find(e.answers, fault) != e.answers.end())
            out.push_back(offer(e, rider));
    }
    std::ranges::stable_sort(out, [&](const Offer& a, const Offer& b) {
        if (a.set_aside.empty() != b.set_aside.empty()) return a.set_aside.empty();
        return place_of(*a.exercise, fault) < place_of(*b.exercise, fault);
    });
    return out;
}

std::string spoken(const Rung& rung) {
    const auto count = [](int n, const char* one, const char* many) {
        return n == 1 ? fmt::format("1 {}", one) : fmt::format("{} {}", n, many);
    };
    const std::string minutes = count(rung.minutes, "minute", "minutes");
    return rung.bouts == 1 ? fmt::format("in every ride, {} at a stretch", minutes)
                           : fmt::format("in every ride, {} bouts of {}", rung.bouts, minutes);
}

std::string spoken(const Dose& dose) {
    return fmt::format("{}; looked at again in {} weeks", spoken(dose.ladder.front()), dose.weeks);
}

std::string good_ride(const Rung& rung) {
    return fmt::format("{} of {}{}", rung.good, rung.of,
                       rung.hold > 0 ? fmt::format(", held for {} strides", rung.hold) : std::string());
}

}  // namespace aspen::core
