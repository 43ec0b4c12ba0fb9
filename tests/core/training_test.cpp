#include <gmock/gmock.h>

#include <algorithm>
#include <functional>

#include "core/core_support.hpp"
#include "core/training/choice.hpp"
#include "core/training/practice.hpp"

namespace aspen::core {
namespace {

using test::knowledge;
using testing::HasSubstr;

TEST(Exercises, FortyFiveAtLeastEachWithADoseACautionAndALadder) {
    EXPECT_GE(knowledge().exercises.all().size(), 45U);
    for (const Exercise& e : knowledge().exercises.all()) {
        EXPECT_FALSE(e.caution.empty()) << e.id;
        EXPECT_GE(e.dose.ladder.size(), e.dose.once ? 1U : 3U) << e.id;
        EXPECT_FALSE(e.cue_picture.empty() || e.cue_plain.empty()) << e.id;
    }
}

// Pupils ride once or twice a week (common practice, no source), and two good rides are a rung.
TEST(Exercises, EveryLadderCanBeClimbedWithinItsOwnTerm) {
    for (const Exercise& e : knowledge().exercises.all()) {
        EXPECT_LE(2 * static_cast<int>(e.dose.ladder.size()), 2 * e.dose.weeks) << e.id;
        EXPECT_THAT(e.dose.up, HasSubstr(e.dose.once ? "once" : "two good rides")) << e.id;
        for (const Rung& r : e.dose.ladder) {
            EXPECT_LE(r.seconds(), 600) << e.id << ": short work";
            EXPECT_LE(r.minutes, 5) << e.id << ": five minutes at a time";
            EXPECT_GE(2 * r.good, r.of) << e.id << ": a good ride is better than a failed one";
        }
    }
}

TEST(Exercises, NoneAnswersWhatItMakesWorse) {
    const std::pair<const char*, std::vector<const char*>> worse[] = {
        {"touch_mane_second_stride", {"straight_arms", "tipped_forward"}},
        {"arms_out_on_lunge", {"straight_arms"}},
        {"no_stirrups_short", {"stirrup_too_short", "pinched_knee", "leg_drawn_up"}},
        {"work_without_stirrups", {"stirrup_too_short", "pinched_knee", "leg_drawn_up"}},
        {"rising_without_stirrups", {"pinched_knee", "leg_drawn_up", "knee_off_the_saddle"}},
        {"rein_marked_with_tape", {"catching_the_mouth_over_the_fence"}},
        {"stirrup_reset", {"leg_drawn_up"}}};
    for (const auto& [id, faults] : worse) {
        const Exercise* e = knowledge().exercises.find(id);
        ASSERT_TRUE(e) << id;
        for (const char* fault : faults)
            EXPECT_EQ(std::ranges::find(e->answers, fault), e->answers.end()) << id << " for " << fault;
    }
}

// What would make worse what was confirmed on this horse lately is not offered, whatever else it answers.
TEST(Exercises, NoneIsOfferedThatMakesWorseWhatWasSeen) {
    RiderNeeds rider{"established", {}, {"canter", "no_stirrups", "no_reins", "jump", "alone", "sits_trot"}};
    rider.age = 30;
    int worse = 0;
    for (const Exercise& e : knowledge().exercises.all()) {
        for (const std::string& fault : e.worse) {
            rider.seen_faults = {fault};
            EXPECT_THAT(knowledge().exercises.offer(e, rider).set_aside, HasSubstr("make worse"))
                << e.id << " with " << fault;
            ++worse;
        }
    }
    EXPECT_GT(worse, 40);
}

TEST(Exercises, WhatCanHurtIsHeldBack) {
    const auto has = [](const std::vector<std::string>& all, std::string_view what) {
        return std::ranges::find(all, what) != all.end();
    };
    for (const Exercise& e : knowledge().exercises.all()) {
        std::string rungs;
        for (const Rung& r : e.dose.ladder) rungs += r.words + "|";
        // A single cantered rung of something else is held back itself.
        for (const Rung& r : e.dose.ladder) {
            if (r.work != Work::canter || has(e.where, "mechanical horse")) continue;
            EXPECT_FALSE(has(r.levels.empty() ? e.levels : r.levels, "beginner")) << e.id;
        }
        const bool canters = has(e.where, "canter");
        const bool jumps = has(e.where, "grid");
        const bool bare = rungs.find("without stirrups") != std::string::npos ||
                          rungs.find("without irons") != std::string::npos;
        if (canters || jumps || bare) {
            EXPECT_FALSE(e.levels.empty()) << e.id;
            EXPECT_FALSE(has(e.levels, "beginner")) << e.id;
            EXPECT_FALSE(e.before.empty()) << e.id << " says what stands first";
        }
        if (has(e.where, "lunge")) {
            EXPECT_TRUE(has(e.people, "competent lunge handler")) << e.id;
        }
        if (jumps || bare) {
            EXPECT_FALSE(e.people.empty()) << e.id << ": someone on the ground";
        }
        if (!has(e.where, "unmounted")) {
            EXPECT_THAT(e.caution, HasSubstr("Helmet")) << e.id;
        }
    }
}

/// What one thing about a rider, a horse or the coach's word forbids, told here once more from the data
/// alone.
struct Bar {
    std::string name;
    std::function<void(RiderNeeds&)> put;
    std::function<bool(const Exercise&)> forbids;
};

bool has(const std::vector<std::string>& all, std::string_view what) {
    return std::ranges::find(all, what) != all.end();
}

bool asks_for(const Exercise& e, std::string_view measure) {
    return std::ranges::any_of(e.measured_gates, [&](const MeasureGate& g) { return g.measure == measure; });
}

std::vector<Bar> bars() {
    std::vector<Bar> out{{"nothing", [](RiderNeeds&) {}, [](const Exercise&) { return false; }}};
    for (const std::string& part : knowledge().exercises.parts()) {
        out.push_back({part,
                       [part](RiderNeeds& r) {
                           r.limitations.push_back({part, "", {part}});
                       },
                       [part](const Exercise& e) { return has(e.not_for, part); }});
    }
    const auto begins = [](const Exercise& e) -> const Rung& { return e.dose.ladder.front(); };
    out.push_back({"what nobody understands",
                   [](RiderNeeds& r) {
                       r.limitations.push_back({"operated in March", "", {}, "an operation"});
                   },
                   [](const Exercise&) { return true; }});
    for (const char* level : {"beginner", "novice", "established"}) {
        out.push_back({level, [level](RiderNeeds& r) { r.level = level; },
                       [level](const Exercise& e) { return !e.levels.empty() && !has(e.levels, level); }});
    }
    for (const std::string_view gate : kGates) {
        out.push_back({std::string(gate), [gate](RiderNeeds& r) { std::erase(r.signed_off, gate); },
                       [gate, begins](const Exercise& e) {
                           const bool sits = gate == "sits_trot" &&
                                             (begins(e).work == Work::canter || asks_for(e, "seat_rise"));
                           const bool folds = gate == "two_point" && asks_for(e, "leg_swing");
                           return has(e.gates, gate) || has(begins(e).gates, gate) || sits || folds ||
                                  (gate == "no_reins" && begins(e).reins == "none");
                       }});
    }
    out.push_back({"green", [](RiderNeeds& r) { r.horse_stage = "green"; },
                   [](const Exercise& e) { return has(e.not_horse, "green"); }});
    out.push_back({"cold-backed", [](RiderNeeds& r) { r.cold_backed = true; },
                   [](const Exercise& e) { return has(e.not_horse, "cold_backed"); }});
    out.push_back({"stock saddle", [](RiderNeeds& r) { r.saddle = "stock"; },
                   [](const Exercise& e) { return has(e.not_saddle, "stock"); }});
    for (const char* school : {"gaited", "stock", "hunter"}) {
        out.push_back({std::string("school ") + school, [school](RiderNeeds& r) { r.school = school; },
                       [school](const Exercise& e) { return has(e.not_school, school); }});
    }
    out.push_back({"nine years old", [](RiderNeeds& r) { r.age = 9; },
                   [](const Exercise& e) { return e.from_age > 9; }});
    out.push_back(
        {"a seat that bounces",
         [](RiderNeeds& r) {
             r.measured.push_back({"seat_rise", "trot", "sitting", 22, 1, 12});
         },
         [begins](const Exercise& e) { return begins(e).work == Work::canter || asks_for(e, "seat_rise"); }});
    return out;
}

// All combinations of two: nothing forbidden is ever offered, and nothing else is held back.
TEST(Exercises, NothingForbiddenIsEverOffered) {
    const ExerciseBook& book = knowledge().exercises;
    const auto all = bars();
    int offered = 0, held = 0;
    for (const Bar& one : all) {
        for (const Bar& two : all) {
            // Known, and able to all that no bar is put before.
            RiderNeeds rider{"", {}};
            rider.age = 30;
            for (const std::string_view g : kGates) rider.signed_off.emplace_back(g);
            one.put(rider);
            two.put(rider);
            const bool other_level =
                (!rider.level.empty() && one.name != rider.level &&
                 has({"beginner", "novice", "established"}, one.name)) ||
                (one.name.starts_with("school ") && one.name != "school " + rider.school);
            for (const Exercise& e : book.all()) {
                const bool unknown = rider.level.empty() && !e.levels.empty() && e.levels.size() < 3;
                const bool forbidden = unknown || (!other_level && one.forbids(e)) || two.forbids(e);
                EXPECT_EQ(book.offer(e, rider).set_aside.empty(), !forbidden)
                    << e.id << ": " << one.name << " and " << two.name;
                ++(forbidden ? held : offered);
            }
            for (const Fault& f : knowledge().faults.faults()) {
                ChoiceAsk ask;
                ask.fault = f.id;
                ask.rider = rider;
                for (const Candidate& c : candidates(book, knowledge().faults, ask)) {
                    EXPECT_TRUE(book.offer(*c.exercise, rider).set_aside.empty()) << c.exercise->id;
                    EXPECT_FALSE(c.reason.empty() || c.against.empty()) << c.exercise->id;
                }
            }
        }
    }
    EXPECT_GT(offered, 10000);
    EXPECT_GT(held, 5000);
}

TEST(Exercises, ARungWaitsForItsOwnWord) {
    const Exercise* e = knowledge().exercises.find("canter_depart_on_a_corner");
    ASSERT_TRUE(e);
    const RiderNeeds without{"novice", {}, {"sits_trot"}};
    EXPECT_TRUE(knowledge().exercises.offer(*e, without).set_aside.empty()) << "it begins in trot";
    const Offer rung = knowledge().exercises.rung_offer(*e, 1, without);
    EXPECT_EQ(rung.gate, "canter");
    const RiderNeeds with{"novice", {}, {"canter", "sits_trot"}};
    EXPECT_TRUE(knowledge().exercises.rung_offer(*e, 1, with).set_aside.empty());
    EXPECT_EQ(knowledge().exercises.rung_offer(*e, 1, {"novice", {}}).gate, "canter")
        << "of two words that are missing one after the other is offered";
}

TEST(Exercises, AGateSaysWhatTheCoachMaySignOff) {
    const auto of = [](const RiderNeeds& rider) {
        for (const Offer& o : knowledge().exercises.offers("locked_seat_in_canter", rider)) {
            if (o.exercise->id == "hip_loop_in_canter") return o;
        }
        return Offer{};
    };
    const Offer shut = of({"established", {}, {"sits_trot"}});
    EXPECT_EQ(shut.gate, "canter");
    EXPECT_EQ(shut.set_aside, "not signed off on this horse: may canter");
    EXPECT_TRUE(of({"established", {}, {"canter", "sits_trot"}}).set_aside.empty());
    EXPECT_EQ(of({"beginner", {}}).gate, "") << "no word opens it for a beginner";
    EXPECT_EQ(spoken_gate("no_stirrups"), "may work without stirrups");
}

TEST(Exercises, EveryFaultHasOneThatABeginnerMayDo) {
    for (const Fault& f : knowledge().faults.faults()) {
        const auto offers = knowledge().exercises.offers(f.id, {"beginner", {}});
        ASSERT_FALSE(offers.empty()) << f.id;
        EXPECT_TRUE(offers.front().set_aside.empty()) << f.id;
    }
}

// Bouncing is not mended by going faster.
TEST(Exercises, BouncingIsNotAnsweredByCantering) {
    for (const Offer& o : knowledge().exercises.offers("bouncing_in_sitting_trot", {"established", {}})) {
        const auto& ladder = o.exercise->dose.ladder;
        EXPECT_TRUE(std::ranges::none_of(ladder, [](const Rung& r) { return r.work == Work::canter; }))
            << o.exercise->id;
    }
}

// For a gaited horse a trot is a break of gait: every rung says what is ridden instead, or is not for it.
TEST(Exercises, AGaitedHorseIsNeverAskedToTrot) {
    RiderNeeds rider{"established", {}, {"canter", "no_stirrups", "no_reins", "jump", "alone", "sits_trot"}};
    rider.age = 30;
    rider.school = "gaited";
    const ExerciseBook& book = knowledge().exercises;
    int running = 0;
    for (const Exercise& shipped : book.all()) {
        const Exercise& e = book.as_ridden(shipped, rider);
        EXPECT_EQ(&book.as_ridden(e, {"established", {}}), &shipped) << "and back";
        for (std::size_t r = 0; r < e.dose.ladder.size(); ++r) {
            const Rung& rung = e.dose.ladder[r];
            if (!book.rung_offer(shipped, static_cast<int>(r), rider).set_aside.empty()) continue;
            EXPECT_NE(rung.work, Work::trot) << e.id;
            EXPECT_EQ(rung.words.find("trot"), std::string::npos) << e.id << ": " << rung.words;
            running += rung.work == Work::running_walk;
        }
    }
    EXPECT_GT(running, 25);
    // A coach's own that says nothing of it stays shut there, and stays as it is elsewhere.
    Exercise own = *book.find("chin_up_next_point");
    own.id = "own";
    for (Rung& r : own.dose.ladder) r.gaited_words.clear();
    EXPECT_THAT(book.rung_offer(own, 1, rider).set_aside, HasSubstr("break of gait"));
    rider.school = "classical";
    EXPECT_TRUE(book.rung_offer(own, 1, rider).set_aside.empty());
}

// Common practice, no source: rein tape not on a draped rein or a nodding walk.
TEST(Exercises, NoTapeOnADrapedReinOrANoddingWalk) {
    for (const char* school : {"gaited", "stock"}) {
        RiderNeeds rider{"established", {}};
        rider.school = school;
        for (const Fault& f : knowledge().faults.faults()) {
            for (const Offer& o : knowledge().exercises.offers(f.id, rider)) {
                if (o.exercise->id == "rein_marked_with_tape") {
                    EXPECT_FALSE(o.set_aside.empty()) << f.id;
                }
            }
            // And there is still something for every fault; a gaited horse has no diagonals.
            if (f.id == "wrong_diagonal" && std::string_view(school) == "gaited") continue;
            const auto offers = knowledge().exercises.offers(f.id, rider);
            EXPECT_TRUE(offers.empty() || offers.front().set_aside.empty() || !offers.front().gate.empty())
                << f.id << " in " << school << ": " << offers.front().set_aside;
        }
    }
}

TEST(Exercises, TouchingALegAsksFirst) {
    for (const char* id : {"ankle_placed_at_halt", "thigh_rolled_in_at_halt"}) {
        EXPECT_THAT(knowledge().exercises.find(id)->caution, HasSubstr("asks before touching"));
    }
}

TEST(Dose, IsSaidInWordsForEveryRide) {
    Rung r;
    r.bouts = 3;
    r.minutes = 2;
    EXPECT_EQ(spoken(r), "in every ride, 3 bouts of 2 minutes");
    EXPECT_EQ(good_ride(r), "3 of 4");
    r.bouts = 1;
    r.minutes = 1;
    r.hold = 10;
    EXPECT_EQ(spoken(r), "in every ride, 1 minute at a stretch");
    EXPECT_EQ(good_ride(r), "3 of 4, held for 10 strides");
    r.work = Work::unmounted;
    r.bouts = 5;
    EXPECT_EQ(spoken(r), "at home, 1 minute on 5 days a week");
}

/// A ride's entry for the two-point: so many of so many.
Practice rode(int good, int of, const char* day = "2026-11-20") {
    Practice p;
    p.day = day;
    p.exercise = "two_point_walk_trot";
    p.good = good;
    p.attempts = of;
    return p;
}

LadderPlace after(const std::vector<Practice>& log, const RiderNeeds& rider = {"novice", {}}, int first = 0) {
    return stand_on(*knowledge().exercises.find("two_point_walk_trot"), first, log, knowledge().exercises,
                    rider);
}

// Common practice, no source: two good rides in a row one rung up, a failed one a rung down; a failed step
// never ends it.
TEST(Ladder, IsClimbedByTwoGoodRidesAndStepsBackOnce) {
    EXPECT_EQ(after({}).rung, 0);
    EXPECT_EQ(after({rode(4, 4)}).rung, 0);
    EXPECT_EQ(after({rode(4, 4), rode(3, 4)}).rung, 1);
    EXPECT_EQ(after({rode(4, 4), rode(2, 4), rode(4, 4)}).rung, 0) << "not in a row";
    EXPECT_EQ(after({rode(4, 4), rode(4, 4), rode(4, 4), rode(1, 4)}).rung, 0) << "one down";
    EXPECT_EQ(after({rode(0, 4), rode(0, 4)}).rung, 0) << "never off the ladder";
    std::vector<Practice> all(12, rode(8, 8));
    const LadderPlace top = after(all);
    EXPECT_EQ(top.rung, 5);
    EXPECT_TRUE(top.done);
    EXPECT_EQ(top.attempts, 96);
    all.push_back(rode(1, 8));
    EXPECT_FALSE(after(all).done);
    EXPECT_EQ(after(all).rung, 4);
}

TEST(Ladder, PainStopsItUntilTheCoachTakesItUpAgain) {
    Practice hurt = rode(4, 4);
    hurt.pain = true;
    const LadderPlace at = after({rode(4, 4), hurt});
    EXPECT_TRUE(at.stopped);
    EXPECT_EQ(at.rung, 0) << "a ride that hurt is no good ride";
    Practice of_rider = rode(4, 4);
    of_rider.by_rider = true;
    const LadderPlace waiting = after({rode(4, 4), hurt, of_rider, of_rider, of_rider});
    EXPECT_TRUE(waiting.stopped) << "the rider alone does not lift it";
    EXPECT_EQ(waiting.rung, 0) << "nor climbs meanwhile";
    EXPECT_FALSE(after({rode(4, 4), hurt, of_rider, rode(4, 4)}).stopped) << "the coach does";
    EXPECT_EQ(stalled_because(at, {}, "two_point_walk_trot", 30),
              "it hurt: nothing more of it until you log a ride of it yourself");
}

TEST(Ladder, DoesNotClimbToARungThatWaitsForAWord) {
    const Exercise* e = knowledge().exercises.find("canter_depart_on_a_corner");
    Practice good;
    good.exercise = e->id;
    good.attempts = good.good = 6;
    const std::vector<Practice> log(4, good);
    const LadderPlace shut = stand_on(*e, 0, log, knowledge().exercises, {"novice", {}, {"sits_trot"}});
    EXPECT_EQ(shut.rung, 0);
    EXPECT_THAT(shut.waits_for, HasSubstr("may canter"));
    EXPECT_THAT(stalled_because(shut, log, e->id, 21), HasSubstr("the next rung waits"));
    EXPECT_EQ(stand_on(*e, 0, log, knowledge().exercises, {"novice", {}, {"canter", "sits_trot"}}).rung, 2);
}

// "Five of six" asks for five good ones: one of one is no good ride, and four of four is none either.
TEST(Ladder, AGoodRideCountsWhatWasAskedFor) {
    Rung r;
    r.good = 5;
    r.of = 6;
    const auto of = [&](int good, int tries) { return count_of(rode(good, tries), r); };
    EXPECT_EQ(of(1, 1), RideCount::middling);
    EXPECT_EQ(of(4, 4), RideCount::middling);
    EXPECT_EQ(of(5, 5), RideCount::good);
    EXPECT_EQ(of(5, 6), RideCount::good);
    EXPECT_EQ(of(10, 12), RideCount::good);
    EXPECT_EQ(of(5, 8), RideCount::middling) << "five, and three that were not";
    EXPECT_EQ(of(2, 6), RideCount::failed);
}

// An iron is set once; then it is ridden.
TEST(Ladder, WhatIsSetOnceIsDoneAfterOneGoodRide) {
    const Exercise& e = *knowledge().exercises.find("stirrup_reset");
    Practice set;
    set.exercise = e.id;
    set.good = set.attempts = 1;
    EXPECT_TRUE(stand_on(e, 0, {set}, knowledge().exercises, {"beginner", {}}).done);
}

TEST(Ladder, FeelAndStridesDecideWhereNothingWasCounted) {
    Rung r;
    r.hold = 10;
    Practice p;
    p.held = 12;
    EXPECT_EQ(count_of(p, r), RideCount::good);
    p.held = 4;
    EXPECT_EQ(count_of(p, r), RideCount::failed);
    p.held = 0;
    p.feel = 3;
    EXPECT_EQ(count_of(p, r), RideCount::middling);
    p.feel = 5;
    EXPECT_EQ(count_of(p, r), RideCount::good);
    p.pain = true;
    EXPECT_EQ(count_of(p, r), RideCount::pain);
}

TEST(Ladder, SaysWhatARideWasAndHowFarItIs) {
    Rung r;
    EXPECT_EQ(said_of(rode(4, 4), r), "4 of 4");
    EXPECT_EQ(said_of(rode(7, 8), r), "7 of 8");
    EXPECT_EQ(said_of(rode(1, 4), r), "1 of 4: one rung down, then on");
    EXPECT_EQ(said_of(rode(2, 4), r), "2 of 4; it counts from 3 of 4");
    EXPECT_EQ(toward_a_thousand(0), "");
    EXPECT_THAT(toward_a_thousand(143), HasSubstr("143 tries so far"));
    EXPECT_EQ(stalled_because(after({}), {}, "two_point_walk_trot", 16),
              "no practice is written down in 16 days");
    EXPECT_EQ(stalled_because(after({}), {}, "two_point_walk_trot", 3), "");
}

TEST(Choice, GivesThreeEachWithTheStrongestReasonAgainst) {
    ChoiceAsk ask;
    ask.fault = "lower_leg_back";
    ask.rider = {"novice", {}};
    const auto three = candidates(knowledge().exercises, knowledge().faults, ask);
    ASSERT_EQ(three.size(), 3U);
    EXPECT_GE(three[0].score, three[1].score);
    EXPECT_GE(three[1].score, three[2].score);
    EXPECT_THAT(three[0].reason, HasSubstr("made for this"));
    // What hurt stands last, or not at all; and it is said.
    ask.tried = {{three[0].exercise->id, 3, 0, true, false}};
    const auto then = candidates(knowledge().exercises, knowledge().faults, ask, 99);
    EXPECT_NE(then[0].exercise, three[0].exercise);
    const auto it = std::ranges::find(then, three[0].exercise, &Candidate::exercise);
    ASSERT_NE(it, then.end());
    EXPECT_EQ(it->against, "it hurt last time");
}

TEST(Choice, HeedsWhoAndWhatIsThere) {
    for (const Fault& f : knowledge().faults.faults()) {
        ChoiceAsk ask;
        ask.fault = f.id;
        ask.rider = {"novice", {}};
        const auto with = candidates(knowledge().exercises, knowledge().faults, ask, 99);
        ask.helper = false;
        ask.equipment = std::vector<std::string>{};
        const auto without = candidates(knowledge().exercises, knowledge().faults, ask, 99);
        ASSERT_EQ(with.size(), without.size()) << f.id;
        const auto alone = [](const Candidate& c) {
            return c.exercise->people.empty() && c.exercise->equipment.empty();
        };
        if (std::ranges::any_of(without, alone)) {
            EXPECT_TRUE(alone(without.front())) << f.id;
        }
    }
}

}  // namespace
}  // namespace aspen::core
