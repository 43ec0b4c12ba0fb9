#include "app/lesson/common_session.hpp"

#include <algorithm>

#include "app/files/text.hpp"
#include "core/reading/refused.hpp"
#include "core/training/session_json.hpp"

namespace aspen::app {
namespace {

bool holds_what_is_forbidden(const core::Session& own, core::SessionAsk ask, const core::ExerciseBook& book) {
    ask.minutes = std::clamp((own.seconds() + 59) / 60, 20, 90);
    return std::ranges::any_of(core::broken_rules(own, ask, book), [](const core::Broken& b) {
        return b.rule == "gate" || b.rule == "horse" || b.rule == "back";
    });
}

}  // namespace

QString held_today(Yard& yard, store::RiderId rider) {
    const auto plan = plan_for(yard.records(), yard.knowledge(), rider, yard.today_iso());
    const std::string why = plan ? core::held_by(plan->needs) : std::string();
    return why.empty() ? QString() : QObject::tr("%1: %2.").arg(text(plan->rider.name), text(why));
}

CommonSession common_session(Yard& yard, const std::vector<std::pair<store::RiderId, store::HorseId>>& pairs,
                             int minutes) {
    const core::ExerciseBook& book = yard.knowledge().exercises;
    const auto plan = plan_for(yard.records(), yard.knowledge(), pairs.front().first, yard.today_iso());
    if (!plan) throw core::Refused("lesson: its first rider is not in this yard; choose one who is");
    core::SessionAsk ask = session_ask(yard.records(), yard.knowledge(), *plan, yard.today_iso());
    ask.minutes = std::clamp(minutes, 20, 90);
    for (std::size_t i = 1; i < pairs.size(); ++i) {
        const auto& [rider, horse] = pairs[i];
        const HorseLoad load = load_of(yard.records(), horse, yard.today_iso(), {rider, {}});
        ask.with.push_back({needs_of(yard.records(), yard.knowledge(), rider, horse, yard.today_iso()),
                            load.minutes, load.fences});
    }
    CommonSession out;
    if (plan->given) out.task = plan->given->exercise->name;
    if (pairs.size() == 1 && !plan->weeks.session.empty()) {
        out.own_order_left = holds_what_is_forbidden(core::session_from(plan->weeks.session), ask, book);
        if (!out.own_order_left) out.json = plan->weeks.session;
    }
    if (out.json.empty()) out.json = core::as_json(core::plan_session(ask, book));
    return out;
}

QString shut_for(Yard& yard, const store::Ride& ride, const std::optional<RidersPlan>& plan,
                 const core::Block& block, const HorseLoad& load) {
    const bool planned_on_it = plan && plan->horse && plan->horse->id == ride.horse;
    const auto needs = planned_on_it ? plan->needs
                                     : needs_of(yard.records(), yard.knowledge(), ride.rider, ride.horse,
                                                yard.today_iso(), &ride);
    if (const std::string why = core::block_shut(block, yard.knowledge().exercises, needs); !why.empty())
        return text(why);
    const core::HorseLimits limits = core::limits_of(needs);
    if (load.minutes >= limits.day_min)
        return QObject::tr("the horse has done %1 minutes today: let it rest").arg(load.minutes);
    if (block.work == core::Work::jump && load.fences >= limits.day_fences)
        return QObject::tr("the horse has jumped %1 fences today").arg(load.fences);
    return {};
}

}  // namespace aspen::app
