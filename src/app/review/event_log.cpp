#include "app/review/event_log.hpp"

#include <algorithm>
#include <charconv>
#include <functional>
#include <iterator>
#include <map>

#include "core/motion/counts.hpp"
#include "core/motion/happening_words.hpp"
#include "core/motion/hooves.hpp"
#include "core/motion/stride_guess.hpp"

namespace aspen::app {
namespace {

// The left hand on the letters, the right one on play and speed; Shift reaches the rarer ones of the same
// finger.
constexpr EventKey kKeys[] = {
    {"1", "attempt", "", 0, 0},
    {"2", "good_one", "", 0, 1},
    {"3", "pole", "", 0, 2},
    {"4", "fence", "", 0, 3},
    {"5", "spook", "", 0, 4},
    {"Q", "aid", "with=calf", 1, 0},
    {"W", "answer", "", 1, 1},
    {"E", "aid_off", "", 1, 2},
    {"R", "break", "", 1, 3},
    {"T", "halt", "", 1, 4},
    {"A", "let_go", "", 2, 0},
    {"S", "set_again", "", 2, 1},
    {"D", "bounce", "", 2, 2},
    {"F", "back_step", "", 2, 3},
    {"G", "walk_off", "", 2, 4},
    {"Z", "lead_left", "", 3, 0},
    {"X", "lead_right", "", 3, 1},
    {"C", "wrong_lead", "", 3, 2},
    {"V", "wrong_diagonal", "", 3, 3},
    {"B", "lap_line", "", 3, 4},
    {"Shift+Q", "aid", "with=heel", 5, 0},
    {"Shift+W", "aid", "with=stronger", 5, 1},
    {"Shift+E", "rise", "", 5, 2},
    {"Shift+R", "sit", "", 5, 3},
    {"Shift+T", "aid", "with=voice", 5, 4},
    {"Shift+A", "iron_lost", "", 6, 0},
    {"Shift+S", "iron_found", "", 6, 1},
    {"Shift+D", "take_off", "", 6, 2},
    {"Shift+F", "landing", "", 6, 3},
    {"Shift+G", "aid", "with=hand", 6, 4},
    {"Shift+Z", "diagonal_left", "", 7, 0},
    {"Shift+X", "diagonal_right", "", 7, 1},
    {"Shift+C", "rein_left", "", 7, 2},
    {"Shift+V", "rein_right", "", 7, 3},
    {"Shift+B", "half_halt", "", 7, 4},
};

// In slow play: near the order in which a horse's feet lie under it, lifting on the shifted layer.
constexpr EventKey kHoofKeys[] = {
    {"Q", "rise", "", 1, 0},
    {"W", "sit", "", 1, 1},
    {"A", "hoof_on", "hoof=left_hind", 2, 0},
    {"S", "hoof_on", "hoof=left_fore", 2, 1},
    {"D", "hoof_on", "hoof=right_fore", 2, 2},
    {"F", "hoof_on", "hoof=right_hind", 2, 3},
    {"Shift+A", "hoof_off", "hoof=left_hind", 6, 0},
    {"Shift+S", "hoof_off", "hoof=left_fore", 6, 1},
    {"Shift+D", "hoof_off", "hoof=right_fore", 6, 2},
    {"Shift+F", "hoof_off", "hoof=right_hind", 6, 3},
};

struct Group {
    std::vector<const char*> events;
    const char* key;
    std::vector<const char*> values;
};
const std::vector<Group>& groups() {
    static const std::vector<Group> all{
        {{"aid"}, "with", {"calf", "heel", "stronger", "voice", "hand", "seat", "breath"}},
        {{"aid"}, "lead", {"left", "right"}},
        {{"aid", "aid_off"}, "side", {"left", "right"}},
        {{"let_go"},
         "what",
         {"heel_up", "lower_leg_back", "lower_leg_forward", "tipped_forward", "leaning_back", "looking_down",
          "hands_high", "straight_arms", "lost_iron"}},
        {{"fence", "landing"}, "drift", {"left", "right"}},
        {{"fence"}, "leg", {"on", "off"}},
        {{"fence", "take_off"}, "seat", {"ahead", "behind"}},
        {{"attempt", "good_one"}, "bout", {"1", "2", "3", "4", "5"}},
        {{"pole"}, "at", {"pole_left", "pole_middle", "pole_right"}},
        {{"break", "spook", "bounce", "let_go", "halt", "iron_lost"},
         "at",
         {"A", "K", "E", "H", "C", "M", "B", "F", "corner_AK", "corner_CH", "corner_CM", "corner_AF"}}};
    return all;
}

/// How a clip's own clock becomes real time, and which frame an instant lies in.
struct FilmClock {
    core::CaptureMap real;
    std::function<int(double)> frame_at;
};

core::HappeningReport counted_of(const FilmClock& film, const core::Stretches& stretches,
                                 const std::vector<store::Event>& events) {
    std::vector<core::Happening> out;
    for (const store::Event& e : events) {
        core::Happening h{film.real.real_s(e.time_s), e.event, e.detail};
        // The stretch an event lies in says rein and gait, where the event does not say it itself.
        const core::Stretch& s = core::ridden_at(stretches, film.frame_at(e.time_s));
        if (s.gait && core::detail_of(h.detail, "gait").empty())
            h.detail = core::detail_with(h.detail, "gait", core::word(*s.gait));
        if (s.rein && core::detail_of(h.detail, "rein").empty() && !h.event.starts_with("rein_"))
            h.detail = core::detail_with(h.detail, "rein", core::word(*s.rein));
        h.detail = core::detail_in(h.detail, s);
        out.push_back(std::move(h));
    }
    return core::sum_up(std::move(out));
}

/// Without the film at hand its frames are taken to come evenly.
FilmClock film_of(const store::Clip& clip) {
    const double fps = clip.duration_s > 0 ? clip.frames / clip.duration_s : 0;
    return {fps > 0 ? core::CaptureMap(clip.capture, fps) : core::CaptureMap(),
            [fps](double s) { return std::max(0, static_cast<int>(s * fps + 1e-6)); }};
}

}  // namespace

std::span<const EventKey> event_keys(bool hooves) {
    return hooves ? std::span<const EventKey>(kHoofKeys) : kKeys;
}

std::vector<EventChoice> choices_of(const store::Event& event) {
    std::vector<EventChoice> out;
    for (const Group& g : groups()) {
        if (std::ranges::find(g.events, event.event, [](const char* e) { return std::string(e); }) ==
            g.events.end())
            continue;
        for (const char* value : g.values) {
            core::Happening h{0, "", std::string(g.key) + "=" + value};
            QString words = QString::fromStdString(core::spoken(h)).remove(0, 2);
            out.push_back({g.key, value, words, core::detail_of(event.detail, g.key) == value});
        }
    }
    return out;
}

int reaction_ms(const Yard& yard) {
    const std::string said = yard.records().settings.setting("reaction_ms", "");
    int ms = kUsualReactionMs;
    std::from_chars(said.data(), said.data() + said.size(), ms);
    return std::clamp(ms, 0, 1000);
}
bool reaction_measured(const Yard& yard) {
    return !yard.records().settings.setting("reaction_ms", "").empty();
}
void set_reaction_ms(Yard& yard, int ms) { yard.set("reaction_ms", std::to_string(std::clamp(ms, 0, 1000))); }

EventLog::EventLog(Bench& bench, Player& player, QObject* parent)
    : QObject(parent), bench_(bench), player_(player) {
    connect(&bench_, &Bench::closing, this, [this] {
        chosen_ = {};
        set_on(false);
    });
    connect(&bench_, &Bench::changed, this, [this](const BenchState&, BenchParts what) {
        if (what & BenchPart::rider) choose({});
        if (what & BenchPart::events) emit changed();
    });
}

void EventLog::set_on(bool on) {
    if (on_ == on) return;
    on_ = on && bench_.is_open();
    hooves_ = false;
    emit changed();
}

void EventLog::set_hooves(bool on) {
    hooves_ = on && on_;
    emit changed();
}

double EventLog::instant() const {
    const auto& times = bench_.deck().facts().pts_s;
    if (times.empty()) return 0;
    if (!player_.playing()) return times[static_cast<std::size_t>(bench_.deck().frame())];
    const double back = reaction_ms(bench_.yard()) / 1000.0 * player_.speed() * player_.direction();
    return std::clamp(player_.position_s() - back, times.front(), times.back());
}

store::EventId EventLog::log(const std::string& event, const std::string& detail) {
    if (!bench_.is_open() || !bench_.deck().ready()) return {};
    store::Event e;
    e.ride = bench_.review().ride().id;
    e.clip = bench_.review().clip().id;
    e.slot = bench_.review().slot();
    e.time_s = instant();
    e.event = event;
    e.detail = detail;
    const store::EventId id =
        add_event(bench_.yard(), e,
                  tr("Log: %1").arg(QString::fromStdString(core::spoken(core::Happening{0, event, detail}))));
    choose(id);
    return id;
}

std::optional<store::Event> EventLog::chosen() const {
    const auto& all = bench_.review().events();
    const auto at = std::ranges::find(all, chosen_, &store::Event::id);
    return at == all.end() ? std::nullopt : std::optional(*at);
}

void EventLog::choose(store::EventId id) {
    chosen_ = id;
    emit changed();
}

void EventLog::say_more(const EventChoice& choice) {
    auto e = chosen();
    if (!e) return;
    e->detail = core::detail_with(e->detail, choice.key, choice.holds ? std::string() : choice.value);
    change_event(bench_.yard(), *e);
}

void EventLog::begin_move() { move_gesture_ = bench_.yard().steps().new_gesture(); }

void EventLog::move_to(double time_s) {
    auto e = chosen();
    const auto& times = bench_.deck().facts().pts_s;
    if (!e || times.empty()) return;
    e->time_s = std::clamp(time_s, times.front(), times.back());
    change_event(bench_.yard(), *e, move_gesture_);
}

void EventLog::take_away() {
    const auto e = chosen();
    if (!e) return;
    chosen_ = {};
    remove_event(bench_.yard(), *e,
                 tr("Take away: %1")
                     .arg(QString::fromStdString(core::spoken(core::Happening{0, e->event, e->detail}))));
}

void EventLog::go(int direction) {
    const auto& all = bench_.review().events();
    const auto& times = bench_.deck().facts().pts_s;
    if (times.empty()) return;
    const double here = times[static_cast<std::size_t>(bench_.deck().frame())];
    const store::Event* best = nullptr;
    for (const store::Event& e : all) {
        if (e.slot != bench_.review().slot() || e.id == chosen_) continue;
        const bool ahead = direction > 0 ? e.time_s > here + 1e-6 : e.time_s < here - 1e-6;
        if (ahead && (!best || (direction > 0 ? e.time_s < best->time_s : e.time_s > best->time_s)))
            best = &e;
    }
    if (!best) return;
    const auto at = std::ranges::lower_bound(times, best->time_s - 1e-6);
    const store::EventId id = best->id;
    bench_.deck().go_to(std::min(static_cast<int>(at - times.begin()), bench_.deck().facts().frames - 1));
    choose(id);
}

core::HappeningReport EventLog::counted_here() const {
    const Review& r = bench_.review();
    if (!r.is_open() || !bench_.deck().ready()) return core::sum_up({});
    std::vector<store::Event> mine;
    std::ranges::copy_if(r.events(), std::back_inserter(mine),
                         [&](const store::Event& e) { return e.slot == r.slot(); });
    const FilmClock film{bench_.deck().capture_map(), [&times = bench_.deck().facts().pts_s](double s) {
                             const auto at = std::ranges::upper_bound(times, s + 1e-6);
                             return std::max(0, static_cast<int>(at - times.begin()) - 1);
                         }};
    return counted_of(film, r.stretches(), mine);
}

core::HappeningReport EventLog::counted_in_ride() const {
    return counted_in(bench_.yard(), bench_.review().ride());
}

QStringList EventLog::words_here() const {
    QStringList out;
    const auto tempo = usual_tempo(bench_.review().stretches(), bench_.deck().frame());
    for (const std::string& line : core::in_words(counted_here(), tempo)) out << QString::fromStdString(line);
    std::vector<core::Happening> mine;  // one clip's counts: a round does not go on in the next
    const core::CaptureMap real = bench_.deck().capture_map();
    for (const store::Event& e : bench_.review().events()) {
        if (e.slot == bench_.review().slot()) mine.push_back({real.real_s(e.time_s), e.event, e.detail});
    }
    if (const std::string line = core::in_words(core::counts_kept(mine)); !line.empty())
        out << QString::fromStdString(line);
    const auto falls = core::footfalls_of(mine);
    if (const auto gait = core::gait_by_hooves(falls)) {
        for (const std::string& line : core::in_words(*gait)) out << QString::fromStdString(line);
    }
    std::vector<double> sits;
    for (const core::Happening& h : mine) {
        if (h.event == "sit") sits.push_back(h.time_s);
    }
    if (const auto fore = core::sits_on(falls, sits))
        out << tr("The rider sits as the %1 lands").arg(QString::fromUtf8(core::spoken(*fore).data()));
    return out;
}

QStringList EventLog::words_of_ride() const {
    QStringList out;
    const auto tempo = usual_tempo(bench_.review().stretches(), bench_.deck().frame());
    for (const std::string& line : core::in_words(counted_in_ride(), tempo))
        out << QString::fromStdString(line);
    return out;
}

core::HappeningReport counted_in(const Yard& yard, const store::Ride& ride) {
    std::map<store::ClipId, std::vector<store::Event>> by_clip;
    for (const store::Event& e : yard.records().reviews.events(ride.id)) {
        if (e.clip) by_clip[e.clip].push_back(e);
    }
    std::vector<core::HappeningReport> all;
    for (const auto& [id, events] : by_clip) {
        const auto clip = yard.records().rides.clip(id);
        if (clip) all.push_back(counted_of(film_of(*clip), yard.records().rides.stretches(id), events));
    }
    return core::together(all);
}

std::pair<core::HappeningSums, int> leads_on(const Yard& yard, store::HorseId horse, int rides) {
    core::HappeningSums out;
    int n = 0;
    for (const store::RideId id : yard.records().people.rides_with_leads(horse, rides)) {
        const auto ride = yard.records().rides.ride(id);
        if (!ride) continue;
        const core::HappeningReport counted = counted_in(yard, *ride);
        for (const auto& [to, from] :
             {std::pair{&out.left, &counted.left}, std::pair{&out.right, &counted.right}}) {
            to->taken += from->taken;
            to->wrong += from->wrong;
        }
        ++n;
    }
    return {out, n};
}

std::optional<double> usual_tempo(const core::Stretches& stretches, int frame) {
    const auto gait = core::ridden_at(stretches, frame).gait;
    return gait ? std::optional(core::typical_tempo_per_min(*gait)) : std::nullopt;
}

}  // namespace aspen::app

#include "moc_event_log.cpp"
