#include "core/training/choice.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <functional>

namespace aspen::core {
namespace {

/// One thing that speaks for or against, with how much.
struct Reason {
    double weight = 0;
    std::string words;
};

bool has(const std::vector<std::string>& all, std::string_view what) {
    return std::ranges::find(all, what) != all.end();
}

std::string small(std::string text) {
    if (!text.empty()) text[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(text[0])));
    return text;
}

std::string listed(const std::vector<std::string>& all) { return fmt::format("{}", fmt::join(all, ", ")); }

void say(std::vector<Reason>& all, double weight, std::string words) {
    all.push_back({weight, std::move(words)});
}

std::vector<Reason> for_it(const Exercise& e, const FaultBook& faults, const ChoiceAsk& ask) {
    const auto place = std::ranges::find(e.answers, ask.fault) - e.answers.begin();
    std::vector<Reason> out;
    say(out, 4.0 / (1.0 + 0.5 * static_cast<double>(place)),
        place == 0 ? "it is made for this" : "it answers this among other things");
    for (const std::string& driven : ask.drives) {
        const Fault* f = faults.find(driven);
        if (f && has(e.answers, driven)) say(out, 1.5, fmt::format("it answers \"{}\" too", small(f->name)));
    }
    for (const Tried& t : ask.tried) {
        if (t.exercise == e.id && t.held) say(out, 2, "it helped before");
        if (t.exercise == e.id && !t.held && t.rungs > 0 && !t.hurt)
            say(out, 1,
                fmt::format("{} {} of it climbed already", t.rungs, t.rungs == 1 ? "rung is" : "rungs are"));
    }
    if (e.people.empty() && e.equipment.empty()) say(out, 0.6, "it needs nobody and nothing");
    return out;
}

std::vector<Reason> against_it(const Exercise& e, const ExerciseBook& book, const ChoiceAsk& ask) {
    std::vector<Reason> out;
    const auto& ladder = e.dose.ladder;
    for (const Tried& t : ask.tried) {
        if (t.exercise != e.id) continue;
        if (t.hurt)
            say(out, 6, "it hurt last time");
        else if (!t.held && t.rides >= 4 && t.rungs == 0)
            say(out, 2.5, fmt::format("{} rides of it have not moved it a rung", t.rides));
    }
    if (!ask.helper && !e.people.empty())
        say(out, 5, "it needs " + listed(e.people));
    else if (!e.people.empty())
        say(out, 0.9, "it needs " + listed(e.people));
    std::vector<std::string> missing;
    for (const std::string& one : e.equipment) {
        if (ask.equipment && !has(*ask.equipment, one)) missing.push_back(one);
    }
    if (!missing.empty())
        say(out, 3, "there is no " + listed(missing));
    else if (!e.equipment.empty())
        say(out, 0.7, "it needs " + listed(e.equipment));
    if (!ask.arena && e.variants.no_arena.empty()) say(out, 2, "it is made for an arena");
    const int minutes = ladder.front().seconds() / 60;
    if (3 * minutes > ask.minutes)
        say(out, 1.5, fmt::format("{} minutes of it are much in a ride of {}", minutes, ask.minutes));
    const double weeks = 2.0 * static_cast<double>(ladder.size()) / std::max(0.5, ask.rides_a_week);
    if (weeks > e.dose.weeks + 0.5)
        say(out, 0.8,
            fmt::format("at {:g} rides a week its {} rungs take {:.0f} weeks", ask.rides_a_week,
                        ladder.size(), std::ceil(weeks)));
    for (std::size_t i = 1; i < ladder.size(); ++i) {
        const Offer rung = book.rung_offer(e, static_cast<int>(i), ask.rider);
        if (rung.gate.empty()) continue;
        say(out, 0.8, fmt::format("from rung {} on it waits for \"{}\"", i + 1, spoken_gate(rung.gate)));
        break;
    }
    // What can always be said: nothing is free.
    say(out, 0.1,
        e.answers.size() > 6 ? std::string("it is for many things, and so for none in particular")
        : ladder.size() <= 3 ? std::string("its ladder is short: it shows the way more than it makes a habit")
                             : fmt::format("it wants {} good rides before it is climbed", 2 * ladder.size()));
    return out;
}

}  // namespace

std::vector<Candidate> candidates(const ExerciseBook& book, const FaultBook& faults, const ChoiceAsk& ask,
                                  std::size_t most) {
    std::vector<Candidate> out;
    for (const Offer& offer : book.offers(ask.fault, ask.rider)) {
        if (!offer.set_aside.empty()) continue;
        Candidate c;
        c.exercise = offer.exercise;
        auto pro = for_it(*offer.exercise, faults, ask), contra = against_it(*offer.exercise, book, ask);
        for (const Reason& v : pro) c.score += v.weight;
        for (const Reason& v : contra) c.score -= v.weight;
        std::ranges::stable_sort(pro, std::greater{}, &Reason::weight);
        std::vector<std::string> reasons;
        for (std::size_t i = 0; i < pro.size() && i < 2; ++i) reasons.push_back(pro[i].words);
        c.reason = fmt::format("{}", fmt::join(reasons, "; "));
        c.against = std::ranges::max_element(contra, {}, &Reason::weight)->words;
        out.push_back(std::move(c));
    }
    std::ranges::stable_sort(out, std::greater{}, &Candidate::score);
    if (out.size() > most) out.resize(most);
    return out;
}

}  // namespace aspen::core
