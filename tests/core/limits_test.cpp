// What holds a rider back: what is said of the body, what a rung does, what is not known and not measured.

#include <gmock/gmock.h>

#include <algorithm>
#include <fstream>
#include <sstream>

#include "core/core_support.hpp"
#include "core/training/exercises.hpp"
#include "core/training/session.hpp"

namespace aspen::core {
namespace {

using test::knowledge;
using testing::HasSubstr;

constexpr const char* kDay = "2026-11-24";
Limitation said(const char* words, const char* loads = "") {
    return *knowledge().exercises.understood({words, "", loads}, kDay);
}

TEST(Exercises, LimitsAndLevelSetAside) {
    const auto offers = knowledge().exercises.offers("lower_leg_back", {"beginner", {said("knee")}});
    bool aside = false;
    for (const Offer& o : offers) {
        if (o.exercise->id != "two_point_walk_trot") continue;
        aside = true;
        EXPECT_THAT(o.set_aside, HasSubstr("knee"));
        EXPECT_NE(&o, &offers.front()) << "what fits stands first";
    }
    EXPECT_TRUE(aside);
    for (const Offer& o : knowledge().exercises.offers("jammed_heel", {"beginner", {}})) {
        if (o.exercise->id == "no_stirrups_short") {
            EXPECT_THAT(o.set_aside, HasSubstr("not yet"));
        }
    }
}

/// Somebody whom no gate keeps from anything.
RiderNeeds able() {
    RiderNeeds r{"established", {}};
    r.age = 30;
    for (const std::string_view gate : kGates) r.signed_off.emplace_back(gate);
    return r;
}

// tests/data/body_words.txt: what people say, and what it must do.
TEST(BodyWords, HoldSpareOrLetGoAsTheTableSays) {
    std::ifstream in(ASPEN_SOURCE_DIR "/tests/data/body_words.txt");
    int holds = 0, free = 0, spares = 0;
    for (std::string line; std::getline(in, line);) {
        if (line.empty() || line.front() == '#') continue;
        const auto colon = line.find(": ");
        const std::string what = line.substr(0, colon), words = line.substr(colon + 2);
        const BodyReading read = knowledge().exercises.body().read(words, "", kDay);
        if (what == "hold") {
            ++holds;
            EXPECT_NE(read.holds, "") << words;
        } else if (what == "free") {
            ++free;
            EXPECT_TRUE(read.harmless) << words << ": " << read.holds;
        } else {
            ++spares;
            EXPECT_EQ(read.holds, "") << words;
            std::istringstream parts(what);
            for (std::string part; parts >> part;) EXPECT_THAT(read.parts, testing::Contains(part)) << words;
        }
    }
    EXPECT_GE(holds + spares, 200);
    EXPECT_GE(free, 60);
}

TEST(BodyWords, WhatHoldsHoldsEverythingUnmountedToo) {
    for (const char* words : {"dizzy", "pregnant", "ferret bite on the frob", "operated in March"}) {
        RiderNeeds rider = able();
        rider.limitations.push_back(said(words));
        for (const Exercise& e : knowledge().exercises.all()) {
            for (int rung = 0; rung < static_cast<int>(e.dose.ladder.size()); ++rung)
                EXPECT_THAT(knowledge().exercises.rung_offer(e, rung, rider).set_aside,
                            HasSubstr("holds all work"))
                    << e.id << " " << words;
        }
        SessionAsk ask;
        ask.rider = rider;
        ask.works = {{knowledge().exercises.find("two_point_walk_trot"), 0}};
        const Session session = plan_session(ask, knowledge().exercises);
        EXPECT_TRUE(session.blocks.empty()) << "nor is a session planned around it";
        EXPECT_THAT(session.left_out, testing::ElementsAre(HasSubstr("holds all work")));
    }
}

TEST(BodyWords, OnlyAWholeClearanceLetsGo) {
    const ExerciseBook& book = knowledge().exercises;
    BodySaid b{"operated on the knee in March"};
    const auto holds = [&](const char* day) {
        const auto l = book.understood(b, day);
        return l && !l->holds.empty();
    };
    EXPECT_TRUE(holds(kDay));
    b.loads = "nothing";
    EXPECT_TRUE(holds(kDay)) << "what it loads is not who cleared it";
    b.cleared_from = "2026-10-01";
    b.cleared_until = "2026-12-31";
    EXPECT_TRUE(holds(kDay)) << "nobody is named";
    b.cleared_by = "Dr. Fenn";
    EXPECT_FALSE(holds(kDay));
    EXPECT_TRUE(holds("2026-09-30")) << "not yet";
    EXPECT_TRUE(holds("2027-01-01")) << "no longer";
    b.cleared_until.clear();
    EXPECT_TRUE(holds(kDay)) << "without an end";
    b.cleared_until = "2026-12-31";
    b.loads.clear();
    EXPECT_EQ(book.understood(b, kDay)->parts, std::vector<std::string>{"knee"})
        << "what is sore stays spared";
}

TEST(BodyWords, AYearAfterItBeganAnOperationNoLongerHolds) {
    const BodyWords& body = knowledge().exercises.body();
    EXPECT_NE(body.read("knee operation", "2025-11-25", kDay).holds, "");
    EXPECT_EQ(body.read("knee operation", "2025-11-24", kDay).holds, "");
    EXPECT_NE(body.read("concussion", "2015-01-01", kDay).holds, "") << "the head always does";
}

TEST(BodyWords, SidesAreReadWhereTheyStandInTheWords) {
    const ExerciseBook& book = knowledge().exercises;
    EXPECT_EQ(said("left hip").side, "left");
    EXPECT_EQ(said("left and right hip").side, "both");
    EXPECT_EQ(book.understood({"left hip", "right"}, kDay)->side, "right")
        << "what was said stands above the words";
    EXPECT_FALSE(book.understood({"sunburn"}, kDay));
    EXPECT_EQ(said("left hip", "wrist").parts, std::vector<std::string>{"wrist"}) << "so does what it loads";
}

// Gates follow from what a rung does, whatever its words say.
TEST(Gates, FollowFromWhatIsDone) {
    const ExerciseBook& book = knowledge().exercises;
    Exercise own = *book.find("two_point_walk_trot");
    own.gates.clear();
    own.before.clear();
    const auto missing = [&](const Rung& rung, const RiderNeeds& rider) {
        own.dose.ladder = {rung};
        return book.offer(own, rider).set_aside;
    };
    RiderNeeds rider = able();
    rider.signed_off.clear();
    Rung rung;
    EXPECT_EQ(missing(rung, rider), "");
    rung.work = Work::jump;
    EXPECT_THAT(missing(rung, rider), HasSubstr("may jump"));
    rung.work = Work::canter;
    EXPECT_THAT(missing(rung, rider), HasSubstr("may canter"));
    rung.work = Work::trot;
    rung.stirrups = false;
    EXPECT_THAT(missing(rung, rider), HasSubstr("may work without stirrups"));
    rung.stirrups = true;
    rung.reins = "none";
    EXPECT_THAT(missing(rung, rider), HasSubstr("may ride without reins"));
    rung = {};
    rung.work = Work::canter;
    rider = able();
    std::erase(rider.signed_off, "alone");
    EXPECT_EQ(missing(rung, rider), "");
    rider.level = "beginner";
    EXPECT_THAT(missing(rung, rider), HasSubstr("may ride alone"));
}

TEST(Gates, WhoIsNotKnownIsNotAskedTo) {
    const ExerciseBook& book = knowledge().exercises;
    RiderNeeds rider = able();
    rider.level.clear();
    EXPECT_THAT(book.offer(*book.find("grid_of_three"), rider).set_aside, HasSubstr("level is not known"));
    rider = able();
    rider.age = 0;
    EXPECT_THAT(book.offer(*book.find("grid_of_three"), rider).set_aside,
                HasSubstr("birth year is not known"));
}

// A measured gate opens when its upper limit lies below, for every rung that is cantered.
TEST(Gates, TheSteadySeatIsMeasuredWithItsErrorOrSignedOff) {
    const ExerciseBook& book = knowledge().exercises;
    const Exercise& e = *book.find("check_in_canter");
    RiderNeeds rider = able();
    std::erase(rider.signed_off, "sits_trot");
    EXPECT_THAT(book.offer(e, rider).set_aside, HasSubstr("not measured on this horse"));
    EXPECT_EQ(book.offer(e, rider).gate, "sits_trot") << "one word of the coach's opens it";
    rider.measured = {{"seat_rise", "trot", "sitting", 6, 0.5, 12}};
    EXPECT_EQ(book.offer(e, rider).set_aside, "");
    rider.measured = {{"seat_rise", "trot", "sitting", 7, 1, 12}};
    EXPECT_THAT(book.offer(e, rider).set_aside, HasSubstr("7.0 ± 1.6 over 12 strides"))
        << "8 within its error";
    rider.signed_off.emplace_back("sits_trot");
    EXPECT_EQ(book.offer(e, rider).set_aside, "") << "where the measure doubts, the coach's word stands";
    rider.measured = {{"seat_rise", "trot", "sitting", 14, 1, 12}};
    EXPECT_NE(book.offer(e, rider).set_aside, "") << "but not against it";
    std::erase(rider.signed_off, "sits_trot");
    rider.measured = {{"seat_rise", "trot", "sitting", 16, 5, 12}};
    EXPECT_NE(book.offer(e, rider).set_aside, "") << "a doubt is no yes";
    rider.measured = {{"seat_rise", "trot", "sitting", 6, 0.5, 7}};
    EXPECT_NE(book.offer(e, rider).set_aside, "") << "too few strides";
    rider = able();
    rider.seen_faults = {"bouncing_in_sitting_trot"};
    EXPECT_THAT(book.offer(e, rider).set_aside, HasSubstr("was seen otherwise"));
    rider = able();
    std::erase(rider.signed_off, "sits_trot");
    rider.school = "gaited";
    rider.measured = {{"seat_rise", "running_walk", "sitting", 6, 0.5, 12}};
    EXPECT_THAT(book.offer(e, rider).set_aside, testing::Not(HasSubstr("steady sitting")))
        << "the running walk takes the trot's place";
}

TEST(Gates, EveryCanteredRungAsksForThem) {
    const ExerciseBook& book = knowledge().exercises;
    for (const Exercise& e : book.all()) {
        for (const Rung& r : e.dose.ladder) {
            RiderNeeds rider = able();
            rider.signed_off.clear();
            const auto gates = book.gates_of(e, r, rider);
            if (r.work == Work::canter) {
                EXPECT_THAT(gates, testing::Contains("canter")) << e.id;
            }
            if (r.work == Work::jump) {
                EXPECT_THAT(gates, testing::Contains("jump")) << e.id;
            }
        }
    }
}

}  // namespace
}  // namespace aspen::core
