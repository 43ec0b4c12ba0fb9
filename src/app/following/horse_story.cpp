#include "app/following/horse_story.hpp"

#include <algorithm>
#include <map>
#include <set>
#include <tuple>

#include "app/files/text.hpp"
#include "app/review/event_log.hpp"
#include "app/rides/rider_plan.hpp"
#include "core/motion/happening_words.hpp"

namespace aspen::app {
namespace {

std::vector<HorseStory::Rider> riders_on(const store::YardStore& records, store::HorseId horse,
                                         const std::vector<store::RiddenClip>& ridden) {
    std::map<store::RiderId, std::map<store::RideId, std::string>> rides;  // with their days
    for (const store::RiddenClip& r : ridden) {
        if (r.ride.rider) rides[r.ride.rider][r.ride.id] = r.ride.day;
    }
    std::vector<HorseStory::Rider> out;
    for (const auto& [id, all] : rides) {
        const auto rider = records.people.rider(id);
        if (!rider || rider->trashed) continue;
        HorseStory::Rider one{text(rider->name), {}, static_cast<int>(all.size()), 0, {}};
        for (const auto& [ride, day] : all) one.days.push_back(QDate::fromString(text(day), Qt::ISODate));
        std::ranges::sort(one.days);
        one.last_day = one.days.back().toString(Qt::ISODate);
        for (const store::Correction& c : records.work.corrections(id)) one.open += c.horse == horse ? 1 : 0;
        out.push_back(std::move(one));
    }
    std::ranges::stable_sort(out, std::greater{}, &HorseStory::Rider::rides);
    return out;
}

std::vector<HorseStory::Work> work_on(Yard& yard, store::HorseId horse) {
    std::vector<HorseStory::Work> out;
    for (const store::Correction& c : yard.records().work.all_corrections()) {
        const auto rider = c.horse == horse ? yard.records().people.rider(c.rider) : std::nullopt;
        const core::Fault* fault = yard.knowledge().faults.find(c.fault);
        if (rider && fault)
            out.push_back({text(fault->name), text(rider->name), text(c.noticed_on), c.focus});
    }
    std::ranges::stable_sort(out, [](const auto& a, const auto& b) {
        return std::tuple(!a.focus, a.rider) < std::tuple(!b.focus, b.rider);
    });
    return out;
}

std::optional<HorseStory::Seen> last_seen(const store::YardStore& records,
                                          const std::vector<store::RiddenClip>& ridden) {
    std::optional<HorseStory::Seen> out;
    for (const store::RiddenClip& r : ridden) {
        const QString day = text(r.ride.day);
        if (r.clip.trashed || (out && out->day > day)) continue;
        const auto rider = records.people.rider(r.ride.rider);
        out = {r.clip, day, rider ? text(rider->name) : QString()};
    }
    return out;
}

std::vector<HorseStory::Shared> shared_on(Yard& yard, store::HorseId horse) {
    std::map<std::string, std::set<std::string>> by_fault;
    for (const store::Correction& c : yard.records().work.all_corrections()) {
        const auto rider = c.horse == horse ? yard.records().people.rider(c.rider) : std::nullopt;
        if (rider) by_fault[c.fault].insert(rider->name);
    }
    std::vector<HorseStory::Shared> out;
    for (const auto& [id, names] : by_fault) {
        const core::Fault* fault = yard.knowledge().faults.find(id);
        if (!fault || names.size() < 2) continue;
        HorseStory::Shared one{text(fault->name), {}};
        for (const std::string& n : names) one.riders.push_back(text(n));
        out.push_back(std::move(one));
    }
    return out;
}

}  // namespace

std::optional<HorseStory> story_of(Yard& yard, store::HorseId id) {
    const store::YardStore& records = yard.records();
    const auto horse = records.people.horse(id);
    if (!horse) return std::nullopt;
    HorseStory out;
    out.horse = *horse;
    const auto ridden = records.rides.ridden_on(id);
    out.riders = riders_on(records, id, ridden);
    out.work = work_on(yard, id);
    out.last = last_seen(records, ridden);
    out.shared = shared_on(yard, id);
    for (const auto& [name, rides] : records.people.named_on(id)) {
        const core::Fault* f = yard.knowledge().faults.find(name);
        using K = core::Fault::Kind;
        if (f && (f->kind == K::answer || f->kind == K::good_answer))
            out.answers.push_back({text(f->name), rides, f->kind == K::good_answer});
    }
    std::set<std::string> days;
    for (const auto& [lesson, place] : records.training.lessons_with(id)) days.insert(lesson.day);
    for (auto day = days.rbegin(); day != days.rend(); ++day) {
        const HorseLoad load = load_of(records, id, *day);
        HorseStory::Day one{text(*day), load.minutes, load.fences, {}};
        for (const std::string& r : load.riders) one.riders << text(r);
        one.riders.removeDuplicates();  // in several lessons of the day
        out.load.push_back(std::move(one));
    }
    const auto [leads, rides] = leads_on(yard, id);
    if (const std::string words = core::leads_in_words(leads); !words.empty())
        out.leads = rides == 1 ? QObject::tr("%1, in one ride").arg(text(words))
                               : QObject::tr("%1, in %2 rides").arg(text(words)).arg(rides);
    out.notes = records.following.milestones_of(id);
    return out;
}

}  // namespace aspen::app
