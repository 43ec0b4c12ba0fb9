#include "app/review/commands.hpp"
#include "app/review/review_changes.hpp"

#include "app/review/event_log.hpp"
#include "app/review/first_look.hpp"
#include "app/yard/changes.hpp"
#include "app/yard/own_knowledge.hpp"
#include "core/reading/refused.hpp"

namespace aspen::app {

void Commands::carry_out(const Intent& intent) {
    try {
        std::visit([this](const auto& what) { go(what); }, intent);
    } catch (const core::Refused& e) {
        emit say(QString::fromUtf8(e.what()));
    }
}

void Commands::go(const KeepCopy&) { importer_.keep_copy(bench_.review().clip().id); }

void Commands::go(const SayRider& rider) { say_rider(bench_.yard(), bench_.review().ride().id, rider.rider); }

void Commands::go(const SayNewRider& rider) {
    store::Rider card;
    card.name = rider.name;
    bench_.yard().step(tr("New rider"), [&] {
        say_rider(bench_.yard(), bench_.review().ride().id, add_rider(bench_.yard(), card));
    });
}

void Commands::go(const SayHorse& horse) {
    set_pair(bench_.review(), bench_.review().rider(), horse.horse, "horse");
}

void Commands::go(const SayNewHorse& horse) {
    store::Horse card;
    card.name = horse.name;
    bench_.yard().step(tr("New horse"), [&] {
        set_pair(bench_.yard(), bench_.review().ride().id, bench_.review().rider(),
                 add_horse(bench_.yard(), card), "horse");
    });
}

void Commands::go(const ChangeRide& change) {
    store::Ride ride = bench_.review().ride();
    change.change(ride);
    set_ride(bench_.review(), ride, change.what);
}

void Commands::go(const SayCapture& capture) {
    store::Clip clip = bench_.review().clip();
    clip.capture = capture.capture;
    set_clip(bench_.review(), clip, tr("slow motion"));
}

void Commands::go(const SayGait& gait) { ridden_here(bench_, gait.gait); }

void Commands::go(const SaySeat& seat) { ridden_here(bench_, seat.seat); }

/// One drag is one step, and the picture follows the border.
void Commands::go(const MoveBorder& border) {
    if (border.begins) border_gesture_ = bench_.yard().steps().new_gesture();
    const auto moved = core::move_border(bench_.review().stretches(), border.border, border.frame,
                                         bench_.deck().facts().frames);
    set_stretches(bench_.yard(), bench_.review().clip().id, moved, tr("Move the border"), border_gesture_);
    bench_.deck().go_to(moved[border.border].first, media::Motion::scrub);
}

void Commands::go(const DragJoint& joint) {
    bench_.marking().drag(joint.landmark, joint.to, joint.zoom, joint.alone);
}

void Commands::go(const TakeAwayRemark& remark) { remove_remark(bench_.yard(), remark.remark); }

void Commands::go(const ChangeRule& rule) {
    if (rule.field.empty())
        remove_own_fault(bench_.yard(), rule.fault);
    else
        change_own_fault(bench_.yard(), rule.fault, rule.field, rule.value);
    if (!rule.said.isEmpty()) emit say(rule.said);
}

void Commands::go(const SayReaction& reaction) { set_reaction_ms(bench_.yard(), reaction.ms); }

}  // namespace aspen::app

#include "moc_commands.cpp"
