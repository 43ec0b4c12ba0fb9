#include "cli/training_verbs.hpp"

#include <fmt/format.h>

#include <cmath>
#include <filesystem>
#include <memory>
#include <nlohmann/json.hpp>
#include <sstream>

#include "app/files/data_files.hpp"
#include "app/files/yard_lock.hpp"
#include "app/rides/lanes.hpp"
#include "app/rides/rider_plan.hpp"
#include "cli/painter.hpp"
#include "cli/usage.hpp"
#include "cli/verbs.hpp"
#include "cli/yard_at.hpp"
#include "core/reading/refused.hpp"
#include "exchange/practice_log.hpp"

namespace aspen::cli {
namespace {

using Json = nlohmann::ordered_json;
using core::Refused;

struct TrainingSaid {
    bool json = false;
    std::string yard, rider, log, today, calendar;
    int minutes = 0;
};

/// The knowledge with the yard's own schools, rules and exercises.
std::shared_ptr<const core::Knowledge> knowledge_in(const store::YardStore& yard) {
    const auto all = [&](const char* kind, const char* folder) {
        std::vector<app::OwnFile> out;
        for (const auto& [id, body] : yard.settings.own_data(kind))
            out.push_back({folder + id + ".json", body});
        return out;
    };
    return app::knowledge_with(all("school", "own/"), all("fault", "own/fault/"),
                               all("exercise", "own/exercise/"));
}

/// By number or by name, or by a beginning of it that only one has.
store::Rider rider_in(const store::YardStore& yard, const std::string& said) {
    std::vector<store::Rider> found;
    for (const store::Rider& r : yard.people.riders()) {
        if (r.name == said || std::to_string(r.id.value) == said) return r;
        if (r.name.starts_with(said)) found.push_back(r);
    }
    if (found.size() == 1) return found.front();
    throw Refused(fmt::format("rider \"{}\": {}; say the whole name", said,
                              found.empty() ? "is not in this yard" : "could be several"));
}

std::string today_of(const TrainingSaid& said) {
    if (said.today.empty()) return app::today_iso();
    core::weekday_of(said.today);
    return said.today;
}

Json ladder_json(const core::Exercise& e, const core::ExerciseBook& book, const core::RiderNeeds& rider) {
    Json out = Json::array();
    for (const core::Rung& r : e.dose.ladder) {
        out.push_back({{"words", r.words},
                       {"gait", core::word(r.work)},
                       {"dose", core::spoken(r)},
                       {"good_ride", core::good_ride(r)},
                       {"before", r.before},
                       {"first", core::stands_first(e, r, book, rider)}});
    }
    return out;
}

Json weeks_json(const core::Homework& h) {
    Json out = Json::array();
    for (const core::HomeworkWeek& w : h.weeks) {
        Json days = Json::array();
        for (const core::HomeworkDay& d : w.days)
            days.push_back({{"day", d.day}, {"minutes", d.seconds / 60.0}, {"bouts", d.bouts}});
        out.push_back({{"starts", w.starts}, {"minutes", w.seconds() / 60.0}, {"days", days}});
    }
    return out;
}

Json session_json(const core::Session& s) {
    Json out = Json::array();
    int at = 0;
    for (const core::Block& b : s.blocks) {
        out.push_back({{"at_s", at},
                       {"seconds", b.seconds},
                       {"kind", core::word(b.kind)},
                       {"gait", core::word(b.work)},
                       {"rein", b.rein.empty() ? Json(nullptr) : Json(b.rein)},
                       {"exercise", b.exercise.empty() ? Json(nullptr) : Json(b.exercise)},
                       {"words", b.words}});
        at += b.seconds;
    }
    return out;
}

Json plan_json(const app::RidersPlan& p, const core::ExerciseBook& book) {
    Json out{{"rider", p.rider.name},
             {"horse", p.horse ? Json(p.horse->name) : Json(nullptr)},
             {"focus", p.fault ? Json(p.fault->id) : Json(nullptr)}};
    out["given"] = nullptr;
    if (p.given) {
        const app::GivenExercise& g = *p.given;
        out["given"] = {{"exercise", g.exercise->id},
                        {"name", g.exercise->name},
                        {"since", g.record.given_on},
                        {"until", g.record.until},
                        {"rung", g.place.rung + 1},
                        {"of", g.exercise->dose.ladder.size()},
                        {"good_in_a_row", g.place.good_in_a_row},
                        {"done", g.place.done},
                        {"stopped_by_pain", g.place.stopped},
                        {"waits_for", g.place.waits_for.empty() ? Json(nullptr) : Json(g.place.waits_for)},
                        {"shut", g.shut.empty() ? Json(nullptr) : Json(g.shut)},
                        {"rides", g.place.rides},
                        {"attempts", g.place.attempts},
                        {"good", g.place.good},
                        {"stalled", g.stalled.empty() ? Json(nullptr) : Json(g.stalled)},
                        {"before", g.exercise->before},
                        {"people", g.exercise->people},
                        {"equipment", g.exercise->equipment},
                        {"caution", g.exercise->caution},
                        {"stop", core::kStopRule},
                        {"up", g.exercise->dose.up},
                        {"down", g.exercise->dose.down},
                        {"ladder", ladder_json(*g.exercise, book, p.needs)}};
    }
    Json candidates = Json::array(), aside = Json::array();
    for (const core::Candidate& c : p.candidates)
        candidates.push_back({{"id", c.exercise->id}, {"reason", c.reason}, {"against", c.against}});
    for (const core::Offer& o : p.set_aside) aside.push_back({{"id", o.exercise->id}, {"why", o.set_aside}});
    out["candidates"] = candidates;
    out["set_aside"] = aside;
    out["lines"] = Json::array();
    for (const core::HomeworkLine& l : p.lines)
        out["lines"].push_back({{"for", l.whose}, {"exercise", l.id}, {"words", l.spoken()}});
    out["weeks"] = p.homework ? weeks_json(*p.homework) : Json::array();
    out["next_clip"] =
        p.homework ? Json{{"on", p.homework->clip_on}, {"shots", p.homework->shots}} : Json(nullptr);
    return out;
}

/// The weeks leave the yard: written behind the gate, by the program that has it.
void write_ics(const TrainingSaid& said, const app::RidersPlan& p) {
    std::vector<std::string> words{"calendar", said.yard, std::to_string(p.rider.id.value), "-o",
                                   said.calendar};
    if (!said.today.empty()) words.insert(words.end(), {"--today", said.today});
    std::ostringstream told, complained;
    if (have_painted(words, told, complained) == kDone) return;
    std::string line = complained.str();
    while (line.ends_with('\n')) line.pop_back();
    throw Refused(line);
}

int plan(const TrainingSaid& said, std::ostream& out) {
    store::YardStore yard = yard_at(said.yard);
    const auto knowledge = knowledge_in(yard);
    const std::string today = today_of(said);
    const auto p = app::plan_for(yard, *knowledge, rider_in(yard, said.rider).id, today);
    Json all = plan_json(*p, knowledge->exercises);
    if (said.minutes > 0) {
        core::SessionAsk ask = app::session_ask(yard, *knowledge, *p, today);
        ask.minutes = said.minutes;
        const core::Session s = core::plan_session(ask, knowledge->exercises);
        all["session"] = session_json(s);
        all["left_out"] = s.left_out;
    }
    if (!said.calendar.empty()) write_ics(said, *p);
    if (said.json) {
        out << all.dump(1) << '\n';
        return kDone;
    }
    out << p->rider.name << ": " << (p->fault ? p->fault->name : "nothing in work") << '\n';
    if (p->given) {
        const auto& g = *p->given;
        if (!g.shut.empty()) {
            out << fmt::format("{}: not now: {}\n", g.exercise->name, g.shut);
            return kDone;
        }
        const core::GoingHome home = app::goes_home(*p, *knowledge, today);
        out << fmt::format("{}, rung {} of {}: {}\n{}; a good ride: {}\n", home.name, home.here + 1,
                           home.steps.size(), home.steps[static_cast<std::size_t>(home.here)].spoken(),
                           home.dose, home.good_ride);
        for (const std::string& rule : home.rules()) out << rule << '\n';
        for (const core::HomeworkLine& line : p->lines) out << line.spoken() << '\n';
    } else {
        for (const core::Candidate& c : p->candidates)
            out << fmt::format("{}: {}. Against it: {}\n", c.exercise->name, c.reason, c.against);
    }
    return kDone;
}

Json value_json(const std::string& id, const core::ReviewValue& v) {
    return {{"id", id},
            {"phase", v.phase.empty() ? Json(nullptr) : Json(v.phase)},
            {"n", v.moments},
            {"value", v.value},
            {"sd", v.sd}};
}

/// From the first entry that has the drawn phase to the last, and whether that is more than measuring error.
Json change_json(const app::Lane& lane) {
    std::vector<const core::ReviewValue*> alike;
    for (const app::LanePoint& p : lane.points) {
        if (p.value.phase == lane.phase) alike.push_back(&p.value);
    }
    if (!lane.measure || alike.size() < 2) return nullptr;
    const core::ReviewValue &a = *alike.front(), &b = *alike.back();
    return {{"measure", lane.measure->id},
            {"phase", lane.phase.empty() ? Json(nullptr) : Json(lane.phase)},
            {"from", a.value},
            {"to", b.value},
            {"sd", std::hypot(a.sd, b.sd)},
            {"form", lane.form},
            {"real", core::changed(a, b, lane.form, lane.measure->full_turn)}};
}

int progress(const TrainingSaid& said, std::ostream& out) {
    store::YardStore yard = yard_at(said.yard);
    const auto knowledge = knowledge_in(yard);
    const store::Rider rider = rider_in(yard, said.rider);
    Json all = Json::array();
    for (const app::Lane& lane : app::lanes_of(yard, *knowledge, rider.id, today_of(said))) {
        Json entries = Json::array();
        for (const app::LanePoint& p : lane.entries) {
            Json measures = Json::array();
            for (const core::ReviewValue& v : p.phases)
                measures.push_back(value_json(std::string(lane.measure->id), v));
            entries.push_back({{"ride", p.ride.value},
                               {"day", p.day.toStdString()},
                               {"verdict", core::word(p.verdict)},
                               {"measures", measures}});
        }
        const store::SeenIn& seen = lane.correction.seen;
        const auto word_or_null = [](const auto& v) { return v ? Json(core::word(*v)) : Json(nullptr); };
        all.push_back({{"fault", lane.correction.fault},
                       {"horse", lane.horse.isEmpty() ? Json(nullptr) : Json(lane.horse.toStdString())},
                       {"side", seen.side.empty() ? Json(nullptr) : Json(seen.side)},
                       {"gait", word_or_null(seen.gait)},
                       {"seat", word_or_null(seen.seat)},
                       {"stage", core::word(lane.stage)},
                       {"entries", entries},
                       {"change", change_json(lane)}});
        if (!said.json)
            out << fmt::format(
                "{}: {}. {}\n", lane.fault->name, core::spoken(lane.stage),
                (lane.change + (lane.stalled.isEmpty() ? QString() : "; " + lane.stalled)).toStdString());
    }
    if (said.json) out << Json{{"corrections", all}}.dump(1) << '\n';
    return kDone;
}

int import(const TrainingSaid& said, std::ostream& out) {
    if (said.rider.empty()) throw WrongUsage("import: a practice log is somebody's; say whose with --rider");
    std::ifstream in(said.log);
    if (!in) throw Refused(said.log + ": cannot be opened; check the path");
    // The window keeps its steps by what it wrote itself: nothing is written behind its back.
    if (!std::filesystem::exists(std::filesystem::path(said.yard) / "yard.db")) yard_at(said.yard);
    const app::YardLock lock(said.yard);
    store::YardStore yard = yard_at(said.yard);
    const auto knowledge = knowledge_in(yard);
    const store::Rider rider = rider_in(yard, said.rider);
    const auto exercise = [&](const std::string& words) { return app::exercise_called(*knowledge, words); };
    const exchange::ReadPractice read = exchange::read_practice(in, said.log, exercise);
    const app::TakenIn taken = app::take_in_practice(yard, *knowledge, rider.id, read.rows);
    if (!said.json) {
        out << fmt::format("{} taken in, {} known already, {} passed over\n", taken.added, taken.known,
                           read.passed_over.size());
        for (const std::string& line : read.passed_over) out << "- " << line << '\n';
        for (const std::string& line : taken.beyond) out << "- " << line << '\n';
        return kDone;
    }
    out << Json{{"rider", rider.name},
                {"added", taken.added},
                {"known", taken.known},
                {"passed_over", read.passed_over},
                {"beyond", taken.beyond}}
               .dump(1)
        << '\n';
    return kDone;
}

}  // namespace

void add_training(CLI::App& app, std::function<int(std::ostream&)>& work) {
    auto said = std::make_shared<TrainingSaid>();
    const auto verb = [&](const char* name, const char* about,
                          int (*does)(const TrainingSaid&, std::ostream&)) {
        CLI::App* v = app.add_subcommand(name, about);
        v->add_flag("--json", said->json, "JSON on standard output");
        v->add_option("YARD", said->yard, "the yard's folder")->required();
        v->callback(
            [said, &work, does] { work = [said, does](std::ostream& out) { return does(*said, out); }; });
        return v;
    };
    CLI::App* p =
        verb("plan", "a rider's exercise, ladder and weeks; three to choose from where none is given", plan);
    p->add_option("RIDER", said->rider, "name or number")->required();
    p->add_option("--minutes", said->minutes, "a session of so many minutes too, 20 to 90");
    p->add_option("--today", said->today, "as if it were this day");
    p->add_option("--calendar", said->calendar, "write the weeks as iCalendar");
    CLI::App* moves = verb("progress", "every correction of a rider through time", progress);
    moves->add_option("RIDER", said->rider, "name or number")->required();
    CLI::App* i = verb("import", "a rider's practice log as CSV, or a bundle of another yard as zip", import);
    i->add_option("FILE", said->log, "log.csv or rides.zip")->required();
    i->add_option("--rider", said->rider, "whose log it is: name or number");
}

}  // namespace aspen::cli
