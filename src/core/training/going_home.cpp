#include "core/training/going_home.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <functional>
#include <utility>

#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

std::string spoken_length(int seconds) {
    const int whole = seconds / 60;
    const bool half = seconds % 60 >= 30;
    if (whole == 0) return "half a minute";
    if (half) return fmt::format("{}½ minutes", whole);
    return whole == 1 ? "1 minute" : fmt::format("{} minutes", whole);
}

std::string listed_up(const std::vector<std::string>& all) { return fmt::format("{}", fmt::join(all, ", ")); }

/// What must stand before a rung, as the coach says it, each once; what the whole exercise asks is not said
/// again.
std::vector<std::string> first_of(const Exercise& e, const Rung& rung, const ExerciseBook& book,
                                  const RiderNeeds& rider) {
    std::vector<std::string> out;
    const auto add = [&](std::string words) {
        if (std::ranges::find(out, words) == out.end() &&
            std::ranges::find(e.before, words) == e.before.end())
            out.push_back(std::move(words));
    };
    for (const std::string& b : rung.before) add(b);
    for (const std::string& gate : book.gates_of(e, rung, rider)) add(std::string(spoken_gate(gate)));
    for (const MeasureGate* gate : book.measures_before(e, rung, rider)) {
        const bool of_all = std::ranges::any_of(e.measured_gates, [&](const auto& g) { return &g == gate; });
        if (!of_all) add(gate->says);
    }
    return out;
}

/// What must stand before any of it, the measured too.
std::vector<std::string> before_all(const Exercise& e) {
    std::vector<std::string> out = e.before;
    for (const MeasureGate& gate : e.measured_gates) {
        const auto says_it = [&](const std::string& b) { return b.find(gate.says) != std::string::npos; };
        if (std::ranges::none_of(out, says_it)) out.push_back(gate.says);
    }
    return out;
}

/// What is otherwise for this rider.
std::vector<std::string> ways_of(const Exercise& e, const RiderNeeds& rider, bool arena) {
    std::vector<std::string> out;
    const auto add = [&](const std::string& words) {
        if (!words.empty() && std::ranges::find(out, words) == out.end()) out.push_back(words);
    };
    if (rider.mechanical) add(e.variants.mechanical_horse);
    if (rider.saddle == "stock") add(e.variants.stock);
    if (!arena) add(e.variants.no_arena);
    if (const auto note = e.school_notes.find(rider.school); note != e.school_notes.end()) add(note->second);
    return out;
}

std::string dose_of(const Rung& rung, const GoingWhere& where) {
    const HomeworkWeek* week = where.homework ? week_at(*where.homework, where.today) : nullptr;
    if (!week || week->days.empty()) return spoken(rung);
    const HomeworkDay &now = week->days.front(), &last = where.homework->weeks.back().days.back();
    std::string out = spoken(now);
    if (now.seconds != last.seconds)
        out += fmt::format(" this week, up to {} in the last",
                           last.bouts > 1 ? std::to_string(last.bouts) : spoken_length(last.seconds));
    return out;
}

std::string begun(std::string s) {
    if (!s.empty()) s[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(s[0])));
    return s;
}

std::string ended(std::string s) {
    if (s.empty()) return s;
    s = begun(std::move(s));
    if (s.back() != '.' && s.back() != '!' && s.back() != '?') s += '.';
    return s;
}

}  // namespace

std::string stands_first(const Exercise& exercise, const Rung& rung, const ExerciseBook& book,
                         const RiderNeeds& rider) {
    return listed_up(first_of(exercise, rung, book, rider));
}

std::string GoingHome::Step::spoken() const {
    return first.empty() ? words : fmt::format("{} (first: {})", words, first);
}

std::vector<std::string> GoingHome::rules() const {
    std::vector<std::string> out;
    const auto add = [&](const char* what, const std::vector<std::string>& all) {
        if (!all.empty()) out.push_back(ended(fmt::format("{}: {}", what, listed_up(all))));
    };
    add("First stands", before);
    std::vector<std::string> there = people;
    there.insert(there.end(), things.begin(), things.end());
    add("Must be there", there);
    for (const std::string& way : ways) out.push_back(ended(way));
    if (!caution.empty()) out.push_back(ended(caution));
    if (!stop.empty()) out.push_back(ended(stop));
    return out;
}

GoingHome going_home(const Exercise& exercise, int rung, const ExerciseBook& book, const RiderNeeds& rider,
                     const GoingWhere& where) {
    const Exercise& e = book.as_ridden(exercise, rider);
    const int last = static_cast<int>(e.dose.ladder.size()) - 1;
    GoingHome out;
    out.here = std::clamp(rung, 0, last);
    if (const Offer offer = book.rung_offer(e, out.here, rider); !offer.set_aside.empty())
        throw Refused(fmt::format("{} does not leave now: {}", e.name, offer.set_aside));
    const Rung& now = e.dose.ladder[static_cast<std::size_t>(out.here)];
    out.name = e.name;
    out.purpose = e.purpose;
    out.cue_picture = e.cue_picture;
    out.cue_plain = e.cue_plain;
    for (const Rung& r : e.dose.ladder) out.steps.push_back({r.words, stands_first(e, r, book, rider)});
    out.dose = dose_of(now, where);
    out.good_ride = good_ride(now);
    out.up = e.dose.up;
    out.down = e.dose.down;
    out.before = before_all(e);
    out.people = e.people;
    out.things = e.equipment;
    out.ways = ways_of(e, rider, where.arena);
    out.caution = e.caution;
    out.stop = kStopRule;
    return out;
}

std::string HomeworkLine::spoken() const {
    const auto step =
        home.steps.empty() ? std::string() : home.steps[static_cast<std::size_t>(home.here)].spoken();
    std::string out = fmt::format("{} {} ({}).", ended(whose + ": " + home.name), begun(step), home.dose);
    GoingHome rest = home;
    rest.stop.clear();
    for (const std::string& rule : rest.rules()) out += " " + rule;
    return out;
}

std::string beside_for(const std::string& horse) {
    return horse.empty() ? std::string("off the horse") : "for " + horse;
}

std::vector<HomeEntry> entries_of(const GoingHome& home, const Homework& weeks,
                                  const std::vector<HomeworkLine>& lines) {
    std::string rules = "\nA good ride: " + home.good_ride;
    for (const std::string& rule : home.rules()) rules += "\n" + rule;
    for (const HomeworkLine& line : lines) rules += "\n" + line.spoken();
    std::vector<HomeEntry> out;
    for (const HomeworkWeek& w : weeks.weeks) {
        for (const HomeworkDay& d : w.days)
            out.push_back({d.day, false, home.name + ": " + spoken(d),
                           home.steps[static_cast<std::size_t>(home.here)].spoken() + rules});
    }
    std::string shots = "Next clip";
    for (const std::string& s : weeks.shots) shots += "\n- " + s;
    out.push_back({weeks.clip_on, true, "Film the next clip", shots});
    return out;
}

std::vector<const Exercise*> for_the_horse(const ExerciseBook& book, const RiderNeeds& rider, bool stiff,
                                           std::string_view focus_exercise, std::size_t most) {
    const auto needs = [&](const Exercise& e) {
        int rank = 0;
        for (const std::string& what : e.for_horse) {
            const bool this_one = (what == "stiff" && stiff) ||
                                  (what == "green" && rider.horse_stage == "green") ||
                                  (what == "gaited" && rider.school == "gaited");
            rank = std::max(rank, this_one ? 2 : what == "any" ? 1 : 0);
        }
        return rank;
    };
    std::vector<std::pair<int, const Exercise*>> all;
    for (const Exercise& base : book.all()) {
        const Exercise& e = book.as_ridden(base, rider);
        const int rank = rider.mechanical ? 0 : needs(e);
        if (rank > 0 && !e.hidden && e.id != focus_exercise && book.offer(e, rider).set_aside.empty())
            all.emplace_back(rank, &e);
    }
    std::ranges::stable_sort(all, std::greater{}, &std::pair<int, const Exercise*>::first);
    std::vector<const Exercise*> out;
    for (std::size_t i = 0; i < all.size() && i < most; ++i) out.push_back(all[i].second);
    return out;
}

std::vector<const Exercise*> off_the_horse(const ExerciseBook& book, const RiderNeeds& rider,
                                           const std::vector<std::string>& faults,
                                           std::string_view focus_exercise, std::size_t most) {
    std::vector<const Exercise*> out;
    const auto take = [&](const Offer& o) {
        const bool on_foot = o.exercise->where == std::vector<std::string>{"unmounted"};
        if (o.set_aside.empty() && on_foot && !o.exercise->hidden && o.exercise->id != focus_exercise &&
            out.size() < most && std::ranges::find(out, o.exercise) == out.end())
            out.push_back(o.exercise);
    };
    for (const std::string& fault : faults) std::ranges::for_each(book.offers(fault, rider), take);
    for (const Exercise& e : book.all()) take(book.offer(e, rider));
    return out;
}

std::string spoken(const HomeworkDay& day) {
    if (day.at_home) return fmt::format("at home, {} on each day that is marked", spoken_length(day.seconds));
    if (day.bouts == 1) return fmt::format("in every ride, {} at a stretch", spoken_length(day.seconds));
    return fmt::format("in every ride, {} bouts of {}", day.bouts, spoken_length(day.bout_s()));
}

const HomeworkWeek* week_at(const Homework& homework, const std::string& day) {
    if (homework.weeks.empty()) return nullptr;
    const HomeworkWeek* out = &homework.weeks.front();
    for (const HomeworkWeek& w : homework.weeks) {
        if (w.starts <= day) out = &w;
    }
    return out;
}

}  // namespace aspen::core
