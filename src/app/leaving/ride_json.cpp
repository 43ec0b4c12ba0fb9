#include "app/leaving/ride_json.hpp"

#include "app/leaving/film_plan.hpp"

#include <QDate>
#include <algorithm>

namespace aspen::app {
namespace {

using nlohmann::json;

constexpr std::size_t kLongestWord = 4000;  // of anybody's words that come in

template <typename Enum>
void say(json& out, const char* field, const std::optional<Enum>& value) {
    if (value) out[field] = core::word(*value);
}
template <typename Enum>
void hear(const json& j, const char* field, std::optional<Enum>& value) {
    const auto it = j.find(field);
    if (it != j.end() && it->is_string()) value = core::from_word<Enum>(it->get<std::string>());
}
std::string words(const json& j, const char* field) {
    const auto it = j.find(field);
    return it == j.end() || !it->is_string() ? std::string() : it->get<std::string>().substr(0, kLongestWord);
}
double number_or(const json& j, const char* field, double other) {
    const auto it = j.find(field);
    return it == j.end() || !it->is_number() ? other : it->get<double>();
}

constexpr const char* kPlaceWords[] = {"", "lesson", "home", "show"};
constexpr const char* kKindWords[] = {"good", "look", "words"};
constexpr const char* kDecisionWords[] = {"open", "accepted", "changed", "rejected", "asked_back"};

std::string folded_name(const std::string& name) {
    return QString::fromStdString(name).simplified().toCaseFolded().toStdString();
}

}  // namespace

json to_json(const core::Stretch& s) {
    json out{{"first", s.first}, {"view", core::word(s.view)}, {"judged", s.judged}};
    say(out, "gait", s.gait), say(out, "rein", s.rein), say(out, "seat", s.seat);
    say(out, "stirrups", s.stirrups), say(out, "reins", s.reins), say(out, "hands", s.hands);
    say(out, "line", s.line), say(out, "circle_leg", s.circle_leg);
    if (s.travel != core::Travel::unknown) out["travel"] = core::word(s.travel);
    if (!s.asked.empty()) out["asked"] = s.asked;
    if (!s.shown.empty()) out["shown"] = s.shown;
    if (!s.name.empty()) out["name"] = s.name;
    if (s.camera.roll_marked) out["roll"] = {s.camera.roll_deg, s.camera.roll_sd_deg};
    if (s.camera.yaw_marked) out["yaw"] = {s.camera.yaw_deg, s.camera.yaw_sd_deg};
    return out;
}

core::Stretch stretch_from(const json& j) {
    core::Stretch s;
    s.first = std::max(0, j.at("first").get<int>());
    s.judged = j.value("judged", true);
    if (const auto view = core::from_word<core::View>(words(j, "view"))) s.view = *view;
    s.travel = core::travel_from(words(j, "travel")).value_or(core::Travel::unknown);
    hear(j, "gait", s.gait), hear(j, "rein", s.rein), hear(j, "seat", s.seat);
    hear(j, "stirrups", s.stirrups), hear(j, "reins", s.reins), hear(j, "hands", s.hands);
    hear(j, "line", s.line), hear(j, "circle_leg", s.circle_leg);
    s.asked = words(j, "asked");
    s.shown = words(j, "shown");
    s.name = words(j, "name");
    if (const auto it = j.find("roll"); it != j.end()) {
        s.camera.roll_deg = it->at(0).get<double>();
        s.camera.roll_sd_deg = it->at(1).get<double>();
        s.camera.roll_marked = true;
    }
    if (const auto it = j.find("yaw"); it != j.end()) {
        s.camera.yaw_deg = it->at(0).get<double>();
        s.camera.yaw_sd_deg = it->at(1).get<double>();
        s.camera.yaw_marked = true;
    }
    return s;
}

json ride_facts(Yard& yard, const store::Ride& r) {
    json out{{"day", r.day},        {"place", kPlaceWords[static_cast<int>(r.place)]},
             {"school", r.school},  {"level", r.level},
             {"saddle", r.saddle},  {"mount", core::word(r.mount)},
             {"goal", r.own.goal},  {"question", r.own.question},
             {"hurts", r.own.hurts}};
    if (const auto rider = yard.records().people.rider(r.rider)) {
        json& j = out["rider"] = {{"name", rider->name}, {"school", rider->school}, {"level", rider->level}};
        if (rider->birth_year) j["birth_year"] = *rider->birth_year;
        if (rider->height_cm) j["height_cm"] = *rider->height_cm;
    }
    if (const auto horse = yard.records().people.horse(r.horse)) {
        json& j = out["horse"] = {
            {"name", horse->name}, {"stage", horse->stage}, {"stiff_side", horse->stiff_side}};
        if (horse->height_cm) j["height_cm"] = *horse->height_cm;
    }
    return out;
}

json said_of(Yard& yard, const store::Ride& ride, const std::vector<store::Clip>& clips) {
    json out{{"word", ride.coach_word},
             {"notes", json::array()},
             {"remarks", json::array()},
             {"decisions", json::array()}};
    const auto place_of = [&](store::ClipId id) {
        const auto it = std::ranges::find(clips, id, &store::Clip::id);
        return it == clips.end() ? -1 : static_cast<int>(it - clips.begin());
    };
    for (std::size_t i = 0; i < clips.size(); ++i) {
        const int slot = slot_of(yard, clips[i].id, ride.rider);
        for (const store::Note& n : yard.records().reviews.notes(clips[i].id)) {
            if (n.slot != slot) continue;  // of somebody else in the picture
            out["notes"].push_back({{"clip", i},
                                    {"frame", n.frame},
                                    {"kind", kKindWords[static_cast<int>(n.kind)]},
                                    {"words", n.words}});
        }
    }
    for (const store::Remark& r : yard.records().reviews.remarks(ride.id))
        out["remarks"].push_back({{"clip", place_of(r.clip)},
                                  {"frame", r.frame},
                                  {"kind", r.kind == store::RemarkKind::strength ? "strength" : "finding"},
                                  {"part", r.part},
                                  {"words", r.words}});
    for (const store::Finding& f : yard.records().reviews.findings(ride.id))
        out["decisions"].push_back({{"fault", f.fault},
                                    {"decision", kDecisionWords[static_cast<int>(f.decision)]},
                                    {"called", f.changed_to},
                                    {"on", f.decided_on}});
    return out;
}

std::string rider_in(const json& facts) {
    const auto rider = facts.find("rider");
    return rider == facts.end() ? std::string() : words(*rider, "name");
}
bool same_name(const std::string& a, const std::string& b) { return folded_name(a) == folded_name(b); }

store::Ride take_ride(const Yard& yard, store::YardStore& records, const json& facts) {
    store::Ride out;
    out.day = words(facts, "day");
    if (!QDate::fromString(QString::fromStdString(out.day), Qt::ISODate).isValid())
        out.day = yard.today_iso();
    for (int i = 0; i < 4; ++i) {
        if (words(facts, "place") == kPlaceWords[i]) out.place = static_cast<store::Place>(i);
    }
    if (yard.knowledge().schools.find(words(facts, "school"))) out.school = words(facts, "school");
    out.level = words(facts, "level");
    out.saddle = words(facts, "saddle");
    if (const auto mount = core::from_word<core::Mount>(words(facts, "mount"))) out.mount = *mount;
    out.own = {words(facts, "goal"), words(facts, "question"), words(facts, "hurts")};
    if (const auto r = facts.find("rider"); r != facts.end() && !words(*r, "name").empty()) {
        for (const store::Rider& there : yard.records().people.riders()) {
            if (same_name(there.name, words(*r, "name"))) out.rider = there.id;
        }
        if (!out.rider) {
            store::Rider rider;
            rider.name = words(*r, "name");
            rider.level = words(*r, "level");
            rider.school = out.school;
            if (const double y = number_or(*r, "birth_year", 0); y > 1900 && y < 2200)
                rider.birth_year = static_cast<int>(y);
            if (const double h = number_or(*r, "height_cm", 0); h > 60 && h < 260)
                rider.height_cm = static_cast<int>(h);
            out.rider = records.add(rider);
        }
    }
    if (const auto h = facts.find("horse"); h != facts.end() && !words(*h, "name").empty()) {
        for (const store::Horse& there : yard.records().people.horses()) {
            if (same_name(there.name, words(*h, "name"))) out.horse = there.id;
        }
        if (!out.horse) {
            store::Horse horse;
            horse.name = words(*h, "name");
            horse.stage = words(*h, "stage");
            horse.stiff_side = words(*h, "stiff_side");
            if (const double cm = number_or(*h, "height_cm", 0); cm > 60 && cm < 230)
                horse.height_cm = static_cast<int>(cm);
            out.horse = records.add(horse);
        }
    }
    out.id = records.add(out);
    return out;
}

std::vector<exchange::MarkedMoment> marks_of(Yard& yard, const store::Clip& clip, const store::Ride& ride,
                                             int slot, const std::string& file_name) {
    std::vector<exchange::MarkedMoment> out;
    const core::Stretches stretches = yard.records().rides.stretches(clip.id);
    for (const store::Moment& m : yard.records().reviews.moments(clip.id)) {
        if (m.slot != slot) continue;
        const core::Stretch& s = core::ridden_at(stretches, m.frame);
        exchange::MarkedMoment one;
        one.id = m.id.value;
        one.file_name = file_name;
        one.frame = m.frame;
        one.time_s = m.time_s;
        one.figure = m.figure;
        one.figure.view = s.view;
        one.figure.travel = s.travel;
        one.figure.camera = s.camera;
        one.field = m.field;
        one.phase = m.phase;
        one.school = ride.school;
        one.gait = s.gait;
        one.seat = s.seat;
        one.rein = s.rein;
        one.movement = s.shown;
        out.push_back(std::move(one));
    }
    return out;
}

}  // namespace aspen::app
