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

constexpr std::array<std::string_view, 7> kWorks{"unmounted", "halt",   "walk", "running_walk",
                                                 "trot",      "canter", "jump"};

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

Work read_work(const Entry& entry) {
    const auto it = std::ranges::find(kWorks, entry.text("gait"));
    if (it == kWorks.end())
        entry.complain("gait", "must be unmounted, halt, walk, running_walk, trot, canter or jump");
    return static_cast<Work>(it - kWorks.begin());
}

/// For whom a rung is, how a fence is come to, and what a gaited horse does instead.
void read_exceptions(Rung& r, const Entry& entry, const std::string& file, const std::string& id) {
    r.levels = entry.texts_or_none("levels");
    const std::string from = entry.text_or("from", "");
    if (!from.empty() && from != "trot") entry.complain("from", "must be trot, or not there");
    r.from_trot = from == "trot";
    if (!entry.has("gaited")) return;
    const Entry gaited(entry.object("gaited"), file, fmt::format("exercise \"{}\", gaited", id));
    r.gaited_words = gaited.text("do");
    r.gaited_work = read_work(gaited);
    if (r.gaited_work == Work::trot) gaited.complain("gait", "is a trot, which is a break there");
}

Rung read_rung(const Json& json, const std::string& file, const std::string& id, std::size_t number) {
    const Entry entry(json, file, fmt::format("exercise \"{}\", rung {}", id, number));
    Rung r;
    r.words = entry.text("do");
    r.work = read_work(entry);
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
    read_exceptions(r, entry, file, id);
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
    dose.once = entry.flag_or("once", false);
    return dose;
}

MeasureGate read_measure_gate(const Json& json, const std::string& file, const std::string& id) {
    const Entry entry(json, file, fmt::format("exercise \"{}\", measured gate", id));
    MeasureGate out{entry.text("measure"), entry.text("gait"),         entry.text("seat"),
                    entry.number("below"), positive(entry, "strides"), entry.text("says")};
    out.sign_off = entry.text_or("sign_off", "");
    out.fault = entry.text_or("fault", "");
    if (!out.sign_off.empty() && std::ranges::find(kGates, out.sign_off) == kGates.end())
        entry.complain("sign_off", fmt::format("names \"{}\", which nobody can sign off", out.sign_off));
    return out;
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
    e.for_horse = among(entry, "for_horse", {"any", "stiff", "green", "gaited"});
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
    e.worse = entry.texts_or_none("worse");
    for (const std::string& id : e.worse) {
        if (!faults.find(id)) entry.complain("worse", fmt::format("names \"{}\", which is not a fault", id));
        if (std::ranges::find(e.answers, id) != e.answers.end())
            entry.complain("worse", fmt::format("names \"{}\", which it answers", id));
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

bool has_word(const std::vector<std::string>& all, std::string_view one) {
    return std::ranges::find(all, one) != all.end();
}

/// Something that is missing, and the sign-off that would open it.
struct Missing {
    std::string why, gate;  ///< gate: "" where no word of the coach's helps
};

/// What is missing of a measure that must stand first.
std::optional<Missing> missing_of(const MeasureGate& gate, const RiderNeeds& rider) {
    if (!gate.fault.empty() && has_word(rider.seen_faults, gate.fault))
        return Missing{fmt::format("first {}: it was seen otherwise on this horse", gate.says), {}};
    const bool signed_off = !gate.sign_off.empty() && has_word(rider.signed_off, gate.sign_off);
    const std::string gait = rider.school == "gaited" && gate.gait == "trot" ? "running_walk" : gate.gait;
    for (const MeasuredOnce& m : rider.measured) {
        if (m.measure != gate.measure || m.gait != gait || m.seat != gate.seat || m.strides < gate.strides)
            continue;
        const double error = kNinetyPercent * m.sd;
        if (m.value + error < gate.below) return std::nullopt;
        // The coach's word stands where the measure leaves a doubt, not against it.
        const bool doubt = m.value - error < gate.below;
        if (doubt && signed_off) return std::nullopt;
        return Missing{
            fmt::format("first {}: {:.1f} ± {:.1f} over {} strides, it should be under {:g} with its error",
                        gate.says, m.value, error, m.strides, gate.below),
            doubt ? gate.sign_off : std::string()};
    }
    if (signed_off) return std::nullopt;
    return Missing{fmt::format("first {}: not measured on this horse in the last four weeks", gate.says),
                   gate.sign_off};
}

/// What a rung itself keeps this rider from, whatever was signed off.
std::string rung_sets_aside(const Rung& rung, const RiderNeeds& rider) {
    if (!rung.levels.empty() && !has_word(rung.levels, rider.level))
        return fmt::format("this rung is for {} riders", fmt::join(rung.levels, " and "));
    if (rider.school == "gaited" && rung.work == Work::trot && !rider.mechanical)
        return "it asks for a trot, which is a break of gait here: the rung says nothing of a gaited horse";
    return {};
}

Exercise on_a_gaited_horse(Exercise e) {
    for (Rung& r : e.dose.ladder) {
        if (r.gaited_words.empty()) continue;
        r.words = r.gaited_words;
        r.work = r.gaited_work;
    }
    return e;
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
        {"alone", "may ride alone"},
        {"sits_trot", "sits the trot"},
        {"two_point", "holds the two-point"}};
    const auto at = std::ranges::find(kSpoken, gate, &std::pair<std::string_view, std::string_view>::first);
    return at == std::end(kSpoken) ? gate : at->second;
}

std::string held_by(const RiderNeeds& rider) {
    for (const Limitation& l : rider.limitations) {
        if (!l.holds.empty())
            return fmt::format(
                "\"{}\" holds all work ({}) until it is cleared: say on the rider's card who "
                "said so, from when and until when",
                l.words, l.holds);
    }
    if (!rider.uneven_on.empty())
        return fmt::format(
            "the horse's trot was uneven on {}: have it looked at; work goes on when \"horse fit\" is ticked "
            "before "
            "mounting, or a newer clip shows an even trot",
            rider.uneven_on);
    return {};
}

std::string_view word(Work work) { return kWorks[static_cast<std::size_t>(work)]; }

std::optional<Limitation> ExerciseBook::understood(const BodySaid& said, const std::string& day) const {
    const BodyReading read = body_.read(said.words, said.since, day);
    Limitation out{said.words, said.side, read.parts, said.cleared_on(day) ? std::string() : read.holds};
    if (out.side.empty()) {
        bool left = false, right = false;
        for (const std::string& w : words_in(said.words)) {
            left |= w == "left";
            right |= w == "right";
        }
        out.side = left && right ? "both" : left ? "left" : right ? "right" : "";
    }
    if (said.loads == "nothing")
        out.parts.clear();
    else if (!said.loads.empty())
        out.parts = words_in(said.loads);
    if (out.parts.empty() && out.holds.empty()) return std::nullopt;
    return out;
}

std::string ExerciseBook::set_aside(const Exercise& e, const RiderNeeds& rider) const {
    if (std::string held = held_by(rider); !held.empty()) return held;
    for (const Limitation& limitation : rider.limitations) {
        for (const std::string& part : limitation.parts) {
            if (std::ranges::find(e.spares, part) != e.spares.end())
                return fmt::format("not with a sore or stiff {}", part);
        }
    }
    // Who is not known to be able is not asked to.
    constexpr std::size_t kAllLevels = 3;
    if (!e.levels.empty() && std::ranges::find(e.levels, rider.level) == e.levels.end()) {
        if (!rider.level.empty()) return fmt::format("not yet for a {}", rider.level);
        if (e.levels.size() < kAllLevels) return "the rider's level is not known: say it on the card";
    }
    if (e.from_age > 0 && rider.age < e.from_age)
        return rider.age > 0
                   ? fmt::format("not before the age of {}", e.from_age)
                   : fmt::format("not before the age of {}, and the birth year is not known", e.from_age);
    for (const std::string& fault : e.worse) {
        if (!has_word(rider.seen_faults, fault)) continue;
        std::string words = fault;
        std::ranges::replace(words, '_', ' ');
        return fmt::format("it would make worse what was seen on this horse lately: {}", words);
    }
    return horse_sets_aside(e, rider);
}

std::vector<std::string> ExerciseBook::gates_of(const Exercise& e, const Rung& rung,
                                                const RiderNeeds& rider) const {
    std::vector<std::string> out;
    const auto add = [&](std::string_view gate) {
        if (!has_word(out, gate)) out.emplace_back(gate);
    };
    for (const std::string& gate : e.gates) add(gate);
    for (const std::string& gate : rung.gates) add(gate);
    if (rung.work == Work::unmounted) return out;
    if (!rung.stirrups) add("no_stirrups");
    if (rung.reins == "none") add("no_reins");
    if (rider.mechanical) return out;  // it neither runs nor falls
    // A fence is cantered to, unless it says that it is trotted to.
    if (rung.work == Work::canter || (rung.work == Work::jump && !rung.from_trot)) add("canter");
    if (rung.work == Work::jump) add("jump");
    const bool held = has_word(e.where, "lunge") || !e.people.empty();
    const bool new_to_it = rider.level.empty() || rider.level == "beginner";
    if (rung.work >= Work::canter && !held && new_to_it) add("alone");
    return out;
}

std::vector<const MeasureGate*> ExerciseBook::measures_before(const Exercise& e, const Rung& rung,
                                                              const RiderNeeds& rider) const {
    std::vector<const MeasureGate*> out;
    for (const MeasureGate& gate : e.measured_gates) out.push_back(&gate);
    const bool canters = rung.work == Work::canter || (rung.work == Work::jump && !rung.from_trot);
    if (canters && before_canter_ && !rider.mechanical) out.push_back(&*before_canter_);
    return out;
}

void ExerciseBook::shut(Offer& out, const Exercise& e, const Rung& rung, const RiderNeeds& rider) const {
    std::vector<Missing> all;
    for (const std::string& gate : gates_of(e, rung, rider)) {
        if (!has_word(rider.signed_off, gate))
            all.push_back({fmt::format("not signed off on this horse: {}", spoken_gate(gate)), gate});
    }
    for (const MeasureGate* gate : measures_before(e, rung, rider)) {
        if (auto missing = missing_of(*gate, rider)) all.push_back(*std::move(missing));
    }
    for (const Missing& m : all) out.set_aside += (out.set_aside.empty() ? "" : "; ") + m.why;
    // Where words of the coach's are all that is missing, one after the other is offered.
    const bool words_help = std::ranges::none_of(all, [](const Missing& m) { return m.gate.empty(); });
    if (words_help && !all.empty()) out.gate = all.front().gate;
}

ExerciseBook::ExerciseBook(std::istream& in, const std::string& file, const FaultBook& faults) {
    const Json json = reading::parse(in, file);
    const Entry top(json, file, "file");
    body_ = BodyWords(top.object("body_words"), file);
    if (top.has("before_canter"))
        before_canter_ = read_measure_gate(top.object("before_canter"), file, "before_canter");
    for (const Json& one : top.array("exercises")) {
        Exercise e = read_exercise(one, file, faults);
        for (const std::string& part : e.not_for) {  // a coach's own words among them
            e.spares.push_back(part);
            for (const std::string& read : body_.read(part, {}, {}).parts) e.spares.push_back(read);
        }
        if (find(e.id)) throw Refused(fmt::format("{}: exercise \"{}\" stands twice", file, e.id));
        gaited_.push_back(on_a_gaited_horse(e));
        exercises_.push_back(std::move(e));
    }
    if (top.has("school_changes")) read_school_changes(top.array("school_changes"), file);
}

void ExerciseBook::read_school_changes(const Json& list, const std::string& file) {
    for (const Json& one : list) {
        const Entry entry(one, file, "school_changes");
        const std::string toward = entry.text("toward");
        if (toward != "more" && toward != "less") entry.complain("toward", "must be more or less");
        auto ids = entry.texts_or_none("exercises");
        for (const std::string& id : ids) {
            if (!find(id)) entry.complain("exercises", fmt::format("names \"{}\", which is not there", id));
        }
        school_changes_[{entry.text("measure"), toward == "more"}] = std::move(ids);
    }
}

const std::vector<std::string>& ExerciseBook::for_school_change(std::string_view measure,
                                                                bool toward_more) const {
    static const std::vector<std::string> none;
    const auto at = school_changes_.find({std::string(measure), toward_more});
    return at == school_changes_.end() ? none : at->second;
}

const Exercise* ExerciseBook::find(std::string_view wanted) const {
    const auto it = std::ranges::find(exercises_, wanted, &Exercise::id);
    return it == exercises_.end() ? nullptr : &*it;
}

const Exercise& ExerciseBook::as_ridden(const Exercise& e, const RiderNeeds& rider) const {
    const bool gaited = rider.school == "gaited" && !rider.mechanical;
    for (std::size_t i = 0; i < exercises_.size(); ++i) {
        if (&e == &exercises_[i] || &e == &gaited_[i]) return (gaited ? gaited_ : exercises_)[i];
    }
    return e;  // none of the book's, though it may have the id of one
}

const Exercise* ExerciseBook::find(std::string_view wanted, const RiderNeeds& rider) const {
    const Exercise* e = find(wanted);
    return e ? &as_ridden(*e, rider) : nullptr;
}

Offer ExerciseBook::offer(const Exercise& e, const RiderNeeds& rider) const {
    return rung_offer(e, 0, rider);  // a ladder whose first rung is shut cannot be begun
}

Offer ExerciseBook::rung_offer(const Exercise& exercise, int rung, const RiderNeeds& rider) const {
    const Exercise& e = as_ridden(exercise, rider);
    Offer out{&e, set_aside(e, rider)};
    if (!out.set_aside.empty() || rung < 0 || rung >= static_cast<int>(e.dose.ladder.size())) return out;
    const Rung& r = e.dose.ladder[static_cast<std::size_t>(rung)];
    out.set_aside = rung_sets_aside(r, rider);
    if (out.set_aside.empty()) shut(out, e, r, rider);
    return out;
}

Offer ExerciseBook::work_offer(Work work, bool stirrups, const RiderNeeds& rider) const {
    static const Exercise plain;
    Rung rung;
    rung.work = work;
    rung.stirrups = stirrups;
    Offer out{nullptr, held_by(rider)};
    if (out.set_aside.empty()) shut(out, plain, rung, rider);  // what trots is a running walk for some
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
    if (rung.work == Work::unmounted)
        return fmt::format("at home, {} on {} a week", minutes, count(rung.bouts, "day", "days"));
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
