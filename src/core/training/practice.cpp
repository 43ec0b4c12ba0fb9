#include "core/training/practice.hpp"

#include <fmt/format.h>

#include <algorithm>

namespace aspen::core {
namespace {

constexpr int kGoodRides = 2;

}  // namespace

RideCount count_of(const Practice& p, const Rung& rung) {
    if (p.pain) return RideCount::pain;
    if (p.attempts > 0) {
        const bool held = rung.hold == 0 || p.held <= 0 || p.held >= rung.hold;
        // As many good ones as are asked for, and their share: 6 of 8 where 3 of 4 are asked, not 1 of 1.
        const bool as_asked = p.good >= rung.good && p.good * rung.of >= rung.good * p.attempts;
        if (as_asked && held) return RideCount::good;
        return 2 * p.good < p.attempts ? RideCount::failed : RideCount::middling;
    }
    if (rung.hold > 0 && p.held > 0) {
        if (p.held >= rung.hold) return RideCount::good;
        return 2 * p.held < rung.hold ? RideCount::failed : RideCount::middling;
    }
    if (p.feel >= 4) return RideCount::good;
    return p.feel > 0 && p.feel <= 2 ? RideCount::failed : RideCount::middling;
}

LadderPlace stand_on(const Exercise& e, int first, const std::vector<Practice>& log, const ExerciseBook& book,
                     const RiderNeeds& rider) {
    const int last = static_cast<int>(e.dose.ladder.size()) - 1;
    LadderPlace at;
    at.rung = std::clamp(first, 0, last);
    for (const Practice& p : log) {
        if (p.exercise != e.id) continue;
        if (p.rung >= 0 && std::min(p.rung, last) != at.rung) {
            at.rung = std::min(p.rung, last);
            at.good_in_a_row = 0;
            at.done = false;
        }
        ++at.rides;
        at.attempts += p.attempts;
        at.good += p.good;
        const RideCount count = count_of(p, e.dose.ladder[static_cast<std::size_t>(at.rung)]);
        // What hurt is taken up again by the coach alone, with an entry of the coach's own.
        if (count == RideCount::pain)
            at.stopped = true;
        else if (!p.by_rider)
            at.stopped = false;
        if (count == RideCount::failed) {
            at.rung = std::max(0, at.rung - 1);
            at.done = false;
        }
        if (count != RideCount::good || at.stopped) {
            at.good_in_a_row = 0;
            continue;
        }
        if (++at.good_in_a_row < (e.dose.once ? 1 : kGoodRides)) continue;
        if (at.rung == last) {
            at.done = true;
        } else if (book.rung_offer(e, at.rung + 1, rider).set_aside.empty()) {
            ++at.rung;
            at.good_in_a_row = 0;
        }
    }
    if (at.rung < last) at.waits_for = book.rung_offer(e, at.rung + 1, rider).set_aside;
    return at;
}

std::string said_of(const Practice& p, const Rung& rung) {
    if (p.pain) return "it hurt: stopped";
    if (p.attempts == 0) {
        if (p.held > 0) return fmt::format("held for {:g} strides", p.held);
        return p.feel > 0 ? fmt::format("felt {} of 5", p.feel) : "done, nothing counted";
    }
    std::string out = fmt::format("{} of {}", p.good, p.attempts);
    if (p.held > 0) out += fmt::format(", held for {:g} strides", p.held);
    switch (count_of(p, rung)) {
        case RideCount::good:
            return out;
        case RideCount::failed:
            return out + ": one rung down, then on";
        default:
            return fmt::format("{}; it counts from {}", out, good_ride(rung));
    }
}

std::string toward_a_thousand(int attempts) {
    if (attempts <= 0) return {};
    if (attempts >= 1000) return fmt::format("{} tries: the thousand is behind you", attempts);
    return fmt::format("{} {} so far; coaches say a horse may need a thousand", attempts,
                       attempts == 1 ? "try" : "tries");
}

std::string stalled_because(const LadderPlace& place, const std::vector<Practice>& log,
                            const std::string& exercise, int days_since_given) {
    if (place.done || days_since_given < 7) return {};
    if (place.stopped) return "it hurt: nothing more of it until you log a ride of it yourself";
    if (place.rides == 0) return fmt::format("no practice is written down in {} days", days_since_given);
    if (place.good_in_a_row >= kGoodRides && !place.waits_for.empty())
        return fmt::format("the next rung waits: {}", place.waits_for);
    const int weeks = std::max(1, days_since_given / 7);
    if (place.rides * 2 < weeks)
        return fmt::format("practised {} {} in {} weeks", place.rides, place.rides == 1 ? "time" : "times",
                           weeks);
    const auto hurt_or_tired = std::ranges::count_if(
        log, [&](const Practice& p) { return p.exercise == exercise && (p.tired_horse || p.tired_rider); });
    if (2 * hurt_or_tired > place.rides) return "horse or rider was tired in most of the rides";
    return {};
}

}  // namespace aspen::core
