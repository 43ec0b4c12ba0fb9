#include "app/rides/rider_plan.hpp"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <cstdio>
#include <set>

#include "app/rides/ride_data_builder.hpp"
#include "core/measures/student.hpp"
#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

/// The day part of an instant, and its seconds.
std::optional<std::pair<std::string, int>> instant(const std::string& at) {
    int h = 0, m = 0, s = 0;
    if (at.size() < 16 || std::sscanf(at.c_str() + 11, "%d:%d:%d", &h, &m, &s) < 2) return std::nullopt;
    return std::pair(at.substr(0, 10), 3600 * h + 60 * m + s);
}

std::vector<core::Practice> practised(const std::vector<store::PracticeEntry>& all) {
    std::vector<core::Practice> out;
    for (const store::PracticeEntry& e : all) out.push_back(e.done);
    return out;
}

/// The running one of a correction, the newest.
std::optional<store::Prescription> running_now(const store::YardStore& records, store::CorrectionId id) {
    std::optional<store::Prescription> best;
    for (const store::Prescription& p : records.work.prescriptions(id)) {
        if (p.withdrawn || (best && p.given_on < best->given_on)) continue;
        if (!best || p.given_on > best->given_on || p.id > best->id) best = p;
    }
    return best;
}

/// On this horse, or on any where none is said.
bool on_horse(const store::PracticeEntry& e, store::HorseId horse) {
    return !horse || !e.horse || e.horse == horse;
}

std::vector<core::Tried> tried_before(const std::vector<store::PracticeEntry>& all,
                                      const core::Knowledge& knowledge, const core::RiderNeeds& needs) {
    std::set<std::string> ids;
    for (const store::PracticeEntry& e : all) ids.insert(e.done.exercise);
    const auto log = practised(all);
    std::vector<core::Tried> out;
    for (const std::string& id : ids) {
        const core::Exercise* e = knowledge.exercises.find(id);
        if (!e) continue;
        const core::LadderPlace at = core::stand_on(*e, 0, log, knowledge.exercises, needs);
        out.push_back({id, at.rides, at.rung, at.stopped, at.done});
    }
    return out;
}

void add_given(RidersPlan& out, const store::YardStore& records, const core::Knowledge& knowledge,
               const std::vector<store::PracticeEntry>& all, const std::string& today) {
    if (!out.correction) return;
    const auto given = running_now(records, out.correction->id);
    const core::Exercise* e = given ? knowledge.exercises.find(given->exercise, out.needs) : nullptr;
    if (!e) return;
    GivenExercise g;
    g.record = *given;
    g.exercise = e;
    for (const store::PracticeEntry& p : all) {
        if (p.done.exercise != e->id) continue;
        out.attempts += p.done.attempts;
        if (on_horse(p, out.correction->horse) && p.done.day >= given->given_on) g.log.push_back(p.done);
    }
    g.place = core::stand_on(*e, given->step, g.log, knowledge.exercises, out.needs);
    int since = 0;
    try {
        since = core::days_between(given->given_on, today);
    } catch (const core::Refused&) {
        since = 0;  // given on no day: then nothing can be said of how long ago
    }
    g.stalled = core::stalled_because(g.place, g.log, e->id, since);
    g.shut = knowledge.exercises.rung_offer(*e, g.place.rung, out.needs).set_aside;
    if (const auto days = core::weekdays_in(out.weeks.days); !days.empty() && g.shut.empty()) {
        core::HomeworkAsk ask{days, out.weeks.starts.empty() ? given->given_on : out.weeks.starts, e,
                              g.place.rung, out.weeks.minutes};
        if (!ask.starts.empty()) out.homework = core::homework(ask);
    }
    out.given = std::move(g);
}

core::BodySaid said_of_body(const store::Limitation& l) {
    return {l.words, l.side, l.loads, l.since, l.cleared_by, l.cleared_from, l.cleared_until};
}

/// What holds on a day: what stands on the card, and what hurts, which counts like it. The same words on the
/// card are where the coach answers for what was said of the day.
std::vector<core::Limitation> limitations_on(const store::YardStore& records,
                                             const core::Knowledge& knowledge, store::RiderId rider,
                                             const std::string& day, const std::string& hurts) {
    std::vector<core::Limitation> out;
    const auto add = [&](const core::BodySaid& said) {
        if (auto l = knowledge.exercises.understood(said, day)) out.push_back(*std::move(l));
    };
    std::vector<store::Limitation> on_card;
    if (rider) on_card = records.people.limitations(rider);
    for (const store::Limitation& l : on_card) {
        const bool begun = l.since.empty() || l.since <= day, over = !l.until.empty() && l.until < day;
        if (begun && !over) add(said_of_body(l));
    }
    const auto same = [&](const store::Limitation& l) { return l.words == hurts; };
    if (!hurts.empty() && std::ranges::none_of(on_card, same)) add({hurts});
    return out;
}

constexpr int kLatelyDays = 28;
/// What hurt is asked after for two weeks (common practice, no source): nobody has said that it is over.
constexpr int kPainDays = 14;

/// Whether something was ticked before mounting for a ride ("pain": none today, "fit": the horse is).
bool ticked(const store::YardStore& records, const store::Ride& ride, const std::string& item) {
    return std::ranges::any_of(records.training.lessons_of(ride.horse, ride.day), [&](const auto& one) {
        const store::LessonPlace& place = one.second;
        return place.ride == ride.id &&
               (" " + place.looked + " ").find(" " + item + " ") != std::string::npos;
    });
}

/// The rider's newest word of what hurts, up to a day, whichever horse it was said on: it holds until a newer
/// ride says otherwise, be it by the tick before mounting, or the coach clears it on the card.
std::string hurts_on(const store::YardStore& records, store::RiderId rider, const std::string& day) {
    for (const store::Ride& r : records.rides.rides_of(rider)) {
        if (r.day > day) continue;
        try {
            if (core::days_between(r.day, day) > kPainDays) break;
        } catch (const core::Refused&) {
            continue;  // ridden on no day
        }
        if (!r.own.hurts.empty()) return r.own.hurts;
        if (ticked(records, r, "pain")) return {};
    }
    return {};
}

bool lately(const std::string& ride_day, const std::string& day) {
    try {
        const int ago = core::days_between(ride_day, day);
        return ago >= 0 && ago <= kLatelyDays;
    } catch (const core::Refused&) {
        return false;  // ridden on no day
    }
}

/// The mean over a stretch's strides. What one stride is wrong by is much the same in all of them.
std::optional<core::MeasuredOnce> mean_of(const core::SeenIn& seen, const core::StrideValues& v) {
    std::vector<double> all;
    for (const auto& one : v.by_stride) {
        if (one) all.push_back(*one);
    }
    if (all.empty() || !seen.gait || !seen.seat) return std::nullopt;
    const double n = static_cast<double>(all.size()),
                 worth = core::worth(static_cast<int>(all.size()), core::neighbours_correlation(v.by_stride));
    double mean = 0, spread = 0;
    for (const double one : all) mean += one / n;
    for (const double one : all) spread += (one - mean) * (one - mean) / std::max(1.0, n - 1);
    return core::MeasuredOnce{
        v.measure, std::string(core::word(*seen.gait)),     std::string(core::word(*seen.seat)),
        mean,      std::sqrt(v.sd * v.sd + spread / worth), static_cast<int>(all.size())};
}

/// Whether a ride says how level the horse is: by its trot, which comes after the tick before mounting, else
/// by that tick; an uneven one is written down.
bool says_of_trot(core::RiderNeeds& n, const store::Ride& ride, const std::vector<core::RideStrides>& strides,
                  const store::YardStore& records) {
    bool trotted = false;
    for (const core::RideStrides& s : strides) {
        trotted |= s.seen.gait == core::Gait::trot && !s.values.empty();
        if (std::ranges::find(s.values, core::kUnevenStrides, &core::StrideValues::measure) != s.values.end())
            n.uneven_on = ride.day;
    }
    return trotted || ticked(records, ride, "fit");
}

/// What was measured and confirmed on this horse in the last four weeks, the newest ride that shows it first.
void add_lately(core::RiderNeeds& n, const store::YardStore& records, const core::Knowledge& knowledge,
                store::RiderId rider, store::HorseId horse, const std::string& day) {
    if (!horse) return;
    bool looked_at = false;  // a newer ride says how the horse trots, or a person how it stands
    for (const store::Ride& ride : records.rides.rides_of(rider)) {
        if (ride.horse != horse || !lately(ride.day, day)) continue;
        for (const store::Finding& f : records.reviews.findings(ride.id)) {
            const bool there =
                f.decision == store::Decision::accepted || f.decision == store::Decision::changed;
            const std::string& what = f.decision == store::Decision::changed ? f.changed_to : f.fault;
            if (there && std::ranges::find(n.seen_faults, what) == n.seen_faults.end())
                n.seen_faults.push_back(what);
        }
        const RiddenIn ridden(records, knowledge, ride);
        RideDataBuilder builder(ridden);
        for (const store::Clip& clip : records.rides.clips_of(ride.id)) {
            const auto stretches = records.rides.stretches(clip.id);
            const auto moments = records.reviews.moments(clip.id);
            for (const store::Slot& s : records.rides.places(clip.id)) {
                if (s.ride == ride.id) builder.add_strides(clip, s.slot, stretches, moments);
            }
        }
        if (!looked_at) looked_at = says_of_trot(n, ride, builder.data.strides, records);
        for (const core::RideStrides& s : builder.data.strides) {
            for (const core::StrideValues& v : s.values) {
                if (const auto m = mean_of(s.seen, v)) n.measured.push_back(*m);
            }
        }
    }
}

/// What goes home beside the focus, and what could.
void add_lines(RidersPlan& out, const core::Knowledge& knowledge) {
    const core::ExerciseBook& book = knowledge.exercises;
    const std::string focus = out.given ? out.given->exercise->id : std::string();
    if (out.horse)
        out.horse_lines = core::for_the_horse(book, out.needs, !out.horse->stiff_side.empty(), focus);
    std::vector<std::string> faults;
    if (out.fault) faults.push_back(out.fault->id);
    for (const bool drives_it : {true, false}) {  // what drives the focus, then what it drives
        for (const core::Cause& c : knowledge.faults.causes()) {
            if (out.fault && out.fault->id == (drives_it ? c.to : c.from))
                faults.push_back(drives_it ? c.from : c.to);
        }
    }
    out.off_lines = core::off_the_horse(book, out.needs, faults, focus);
    const auto add = [&](const std::string& id, const std::string& whose) {
        const core::Exercise* e = id.empty() || id == focus ? nullptr : book.find(id, out.needs);
        if (!e) return;
        const int rung = core::stand_on(*e, 0, out.log, book, out.needs).rung;
        if (!book.rung_offer(*e, rung, out.needs).set_aside.empty()) return;  // shut since it was chosen
        out.lines.push_back({whose, id, core::going_home(*e, rung, book, out.needs, {out.weeks.arena})});
    };
    if (out.horse) add(out.weeks.for_horse, core::beside_for(out.horse->name));
    add(out.weeks.off_horse, core::beside_for({}));
}

}  // namespace

core::GoingHome goes_home(const RidersPlan& plan, const core::Knowledge& knowledge, const std::string& today,
                          const core::Exercise* other) {
    const bool given = plan.given && (!other || other == plan.given->exercise);
    const core::Exercise* e = given ? plan.given->exercise : other;
    if (!e) throw core::Refused("homework: no exercise was given; give one first");
    return core::going_home(*e, given ? plan.given->place.rung : 0, knowledge.exercises, plan.needs,
                            {plan.weeks.arena, today, given && plan.homework ? &*plan.homework : nullptr});
}

std::vector<exchange::CalendarDay> calendar_days(const RidersPlan& plan, const core::Knowledge& knowledge,
                                                 const std::string& today) {
    const core::GoingHome home = goes_home(plan, knowledge, today);
    if (!plan.homework) throw core::Refused("calendar: says no day; say on which days the rider rides");
    const std::string whose = "-" + std::to_string(plan.rider.id.value) + "@aspen-crest";
    std::vector<exchange::CalendarDay> out;
    for (core::HomeEntry& e : core::entries_of(home, *plan.homework, plan.lines))
        out.push_back({e.day + "-" + (e.clip ? "clip" : plan.given->exercise->id) + whose, e.day,
                       std::move(e.summary), std::move(e.words)});
    return out;
}

core::RiderNeeds needs_of(const store::YardStore& records, const core::Knowledge& knowledge,
                          store::RiderId rider_id, store::HorseId horse_id, const std::string& today,
                          const store::Ride* ride) {
    core::RiderNeeds n{"", {}};
    const auto rider = records.people.rider(rider_id);
    if (!rider) return n;
    n.level = ride && !ride->level.empty() ? ride->level : rider->level;
    if (rider->birth_year && today.size() >= 4)
        n.age = std::max(0, std::stoi(today.substr(0, 4)) - *rider->birth_year);
    // What is planned is ridden from today on, however old the ride is that it rests on.
    const std::string& day = today.empty() && ride ? ride->day : today;
    n.limitations = limitations_on(records, knowledge, rider_id, day, hurts_on(records, rider_id, day));
    for (const store::SignOff& s : records.people.sign_offs(rider_id)) {
        if (s.horse == horse_id) n.signed_off.push_back(s.gate);
    }
    add_lately(n, records, knowledge, rider_id, horse_id, day);
    if (const auto horse = records.people.horse(horse_id)) {
        n.horse_stage = horse->stage;
        n.cold_backed = horse->cold_backed;
    }
    if (ride) {
        n.mechanical = ride->mount == core::Mount::mechanical;
        n.saddle = ride->saddle;
    }
    // What fits a school fits one that a coach copied from it.
    n.school = knowledge.schools.family(ride && !ride->school.empty() ? ride->school : rider->school);
    if (n.saddle.empty() && n.school == "stock") n.saddle = "stock";
    return n;
}

std::vector<core::Limitation> limits_on(const store::YardStore& records, const core::Knowledge& knowledge,
                                        const store::Ride& ride) {
    return limitations_on(records, knowledge, ride.rider, ride.day,
                          ride.own.hurts.empty() ? hurts_on(records, ride.rider, ride.day) : ride.own.hurts);
}

std::optional<RidersPlan> plan_for(const store::YardStore& records, const core::Knowledge& knowledge,
                                   store::RiderId id, const std::string& today, const std::string& fault) {
    const auto rider = records.people.rider(id);
    if (!rider) return std::nullopt;
    RidersPlan out;
    out.rider = *rider;
    out.weeks = records.training.plan_of(id);
    for (const store::Correction& c : records.work.corrections(id)) {
        if (c.focus && !out.correction) out.correction = c;
    }
    const std::string focus = !fault.empty() ? fault : out.correction ? out.correction->fault : std::string();
    out.fault = focus.empty() ? nullptr : knowledge.faults.find(focus);
    if (out.correction && out.correction->fault != focus) out.correction.reset();
    // The last ride says which horse and which saddle.
    const auto rides = records.rides.rides_of(id);
    std::optional<store::Ride> last;
    for (const store::Ride& r : rides) {
        if (!last && (!out.correction || r.horse == out.correction->horse)) last = r;
    }
    store::HorseId horse = out.correction ? out.correction->horse : last ? last->horse : store::HorseId{};
    out.horse = records.people.horse(horse);
    out.needs = needs_of(records, knowledge, id, horse, today, last ? &*last : nullptr);
    const auto all = records.training.practice_of(id);
    out.log = practised(all);
    add_given(out, records, knowledge, all, today);
    add_lines(out, knowledge);
    if (!out.fault) return out;
    core::ChoiceAsk ask;
    ask.fault = out.fault->id;
    for (const core::Cause& c : knowledge.faults.causes()) {
        const core::Fault* to = c.from == out.fault->id ? knowledge.faults.find(c.to) : nullptr;
        if (!to) continue;
        ask.drives.push_back(to->id);
        out.drives.emplace_back(to, c.because);
    }
    ask.rider = out.needs;
    ask.minutes = out.weeks.minutes;
    if (const auto days = core::weekdays_in(out.weeks.days); !days.empty())
        ask.rides_a_week = static_cast<double>(days.size());
    ask.arena = out.weeks.arena;
    ask.helper = out.weeks.helper;
    ask.equipment = equipment_of(records, knowledge);
    ask.tried = tried_before(all, knowledge, out.needs);
    out.candidates = core::candidates(knowledge.exercises, knowledge.faults, ask);
    for (const core::Offer& o : knowledge.exercises.offers(out.fault->id, out.needs)) {
        if (!o.set_aside.empty()) out.set_aside.push_back(o);
    }
    return out;
}

core::SessionAsk session_ask(const store::YardStore& records, const core::Knowledge& knowledge,
                             const RidersPlan& plan, const std::string& today) {
    core::SessionAsk ask;
    ask.minutes = std::clamp(plan.weeks.minutes, 20, 90);
    ask.rider = plan.needs;
    if (plan.given) ask.works.push_back({plan.given->exercise, plan.given->place.rung});
    for (const core::Candidate& c : plan.candidates) {
        if (!plan.given || c.exercise != plan.given->exercise) ask.works.push_back({c.exercise, 0});
    }
    // What else is in work, by what was last given for it.
    for (const store::Correction& c : records.work.corrections(plan.rider.id)) {
        if (c.focus) continue;
        const auto other = running_now(records, c.id);
        const core::Exercise* e = other ? knowledge.exercises.find(other->exercise, plan.needs) : nullptr;
        if (e) ask.works.push_back({e, 0});
    }
    if (ask.works.size() > 4) ask.works.resize(4);
    if (plan.horse) {
        ask.stiff_side = plan.horse->stiff_side;
        int rides = 0;
        for (const store::Ride& r : records.rides.rides_of(plan.rider.id))
            rides += r.horse == plan.horse->id ? 1 : 0;
        ask.strange_horse = rides < 2;
        const HorseLoad load = load_of(records, plan.horse->id, today, {plan.rider.id, {}});
        ask.horse_minutes_today = load.minutes;
        ask.horse_fences_today = load.fences;
    }
    return ask;
}

std::vector<std::string> equipment_of(const store::YardStore& records, const core::Knowledge& knowledge) {
    const std::string missing = ";" + records.settings.setting("no_equipment") + ";";
    std::vector<std::string> out;
    for (const core::Exercise& e : knowledge.exercises.all()) {
        for (const std::string& one : e.equipment) {
            if (missing.find(";" + one + ";") == std::string::npos &&
                std::ranges::find(out, one) == out.end())
                out.push_back(one);
        }
    }
    return out;
}

std::string exercise_called(const core::Knowledge& knowledge, const std::string& words) {
    const auto plain = [](const std::string& text) {
        std::string out;
        for (const char c : text) {
            if (std::isalnum(static_cast<unsigned char>(c)))
                out += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        }
        return out;
    };
    const std::string wanted = plain(words);
    for (const core::Exercise& e : knowledge.exercises.all()) {
        if (!wanted.empty() && (plain(e.id) == wanted || plain(e.name) == wanted)) return e.id;
    }
    return {};
}

TakenIn take_in_practice(store::YardStore& records, const core::Knowledge& knowledge, store::RiderId rider,
                         const std::vector<core::Practice>& rows) {
    TakenIn out;
    records.within([&] {
        const auto plan = plan_for(records, knowledge, rider, rows.empty() ? "" : rows.back().day);
        if (!plan) throw core::Refused("rider: is not in this yard; choose one who is");
        auto there = records.training.practice_of(rider);
        for (const core::Practice& p : rows) {
            const auto same = [&](const store::PracticeEntry& e) {
                return e.done.day == p.day && e.done.exercise == p.exercise &&
                       e.done.attempts == p.attempts && e.done.good == p.good &&
                       e.done.by_rider == p.by_rider && e.done.words == p.words && e.done.rung == p.rung;
            };
            if (std::ranges::any_of(there, same)) {
                ++out.known;
                continue;
            }
            store::PracticeEntry entry;
            entry.rider = rider;
            if (plan->horse) entry.horse = plan->horse->id;
            entry.done = p;
            const core::Exercise* e = knowledge.exercises.find(p.exercise);
            const std::string why =
                e ? knowledge.exercises.rung_offer(*e, std::max(0, p.rung), plan->needs).set_aside
                  : std::string();
            if (!why.empty()) out.beyond.push_back(p.day + ", " + e->name + ": " + why);
            records.add(entry);
            there.push_back(entry);
            ++out.added;
        }
    });
    return out;
}

HorseLoad load_of(const store::YardStore& records, store::HorseId horse, const std::string& day,
                  const NotCounted& but) {
    HorseLoad out;
    std::set<store::RideId> in_lessons;
    for (const auto& [lesson, place] : records.training.lessons_of(horse, day)) {
        if (place.absent || lesson.started_at.empty()) continue;
        in_lessons.insert(place.ride);
        if (lesson.id == but.lesson) continue;
        std::string end = lesson.ended_at;
        if (end.empty() && !lesson.block_since.empty()) end = lesson.block_since;
        out.minutes += std::max(0, seconds_between(lesson.started_at, end)) / 60;
        const auto ride = records.rides.ride(place.ride);
        if (const auto rider = ride ? records.people.rider(ride->rider) : std::nullopt)
            out.riders.push_back(rider->name);
    }
    for (const store::Ride& ride : records.rides.rides_on(horse, day)) {
        for (const store::Event& e : records.reviews.events(ride.id))
            out.fences += e.event == "fence" ? 1 : 0;
        if (in_lessons.contains(ride.id) || ride.rider == but.rider) continue;
        const auto rider = records.people.rider(ride.rider);
        if (!rider) continue;
        out.minutes += records.training.plan_of(ride.rider).minutes;
        out.riders.push_back(rider->name);
    }
    return out;
}

int seconds_between(const std::string& from, const std::string& to) {
    const auto a = instant(from), b = instant(to);
    if (!a || !b) return 0;
    try {
        return 86400 * core::days_between(a->first, b->first) + b->second - a->second;
    } catch (const core::Refused&) {
        return 0;
    }
}

}  // namespace aspen::app
