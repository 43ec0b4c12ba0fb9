#include <gmock/gmock.h>

#include <algorithm>
#include <chrono>
#include <fstream>
#include <functional>
#include <map>
#include <nlohmann/json.hpp>
#include <random>
#include <sstream>

#include "core/core_support.hpp"
#include "core/training/session.hpp"

namespace aspen::core {
namespace {

using test::knowledge;
using testing::Contains;
using testing::HasSubstr;

const ExerciseBook& book() { return knowledge().exercises; }

SessionWork work(const char* id, int rung = 0) { return {book().find(id), rung}; }

SessionAsk plain() {
    SessionAsk ask;
    ask.works = {work("two_point_walk_trot", 2), work("transitions_scored"), work("chin_up_next_point", 1)};
    ask.rider.level = "novice";
    ask.stiff_side = "left";
    return ask;
}

std::string broken_words(const std::vector<Broken>& all) {
    std::string out;
    for (const Broken& b : all) out += b.rule + " (" + b.words + ") ";
    return out;
}

bool breaks(const std::vector<Broken>& all, std::string_view rule) {
    return std::ranges::find(all, rule, &Broken::rule) != all.end();
}

using UpTo = std::function<int(int)>;

RiderNeeds random_rider(const UpTo& up_to) {
    RiderNeeds rider;
    const char* levels[] = {"", "beginner", "novice", "established"};
    rider.level = levels[up_to(3)];
    const char* stages[] = {"", "green", "schooled", "established"};
    rider.horse_stage = stages[up_to(3)];
    rider.cold_backed = up_to(4) == 0;
    rider.mechanical = up_to(9) == 0;
    rider.age = up_to(1) ? 0 : 8 + up_to(60);
    for (const std::string_view g : kGates) {
        if (up_to(1)) rider.signed_off.emplace_back(g);
    }
    if (up_to(2) == 0) {
        const auto parts = book().parts();
        const std::string part = parts[static_cast<std::size_t>(up_to(static_cast<int>(parts.size()) - 1))];
        rider.limitations.push_back({part, "", {part}});
    }
    const char* schools[] = {"classical", "hunter", "jumper", "stock", "gaited", "gaited"};
    rider.school = schools[up_to(5)];
    if (up_to(4) == 0) rider.seen_faults = {up_to(1) ? "tipped_forward" : "lost_iron"};
    return rider;
}

SessionAsk random_ask(std::mt19937& random) {
    const UpTo up_to = [&](int n) { return static_cast<int>(random() % static_cast<unsigned>(n + 1)); };
    SessionAsk ask;
    ask.minutes = 20 + up_to(70);
    ask.rider = random_rider(up_to);
    for (int n = up_to(3) == 0 ? 1 + up_to(3) : 0; n > 0; --n) {
        Companion other{random_rider(up_to)};
        other.horse_fences_today = up_to(5) == 0 ? up_to(50) : 0;
        other.horse_minutes_today = up_to(5) == 0 ? up_to(20) : 0;
        ask.with.push_back(other);
    }
    ask.horse_fences_today = up_to(3) == 0 ? up_to(50) : 0;
    const char* sides[] = {"", "left", "right"};
    ask.stiff_side = sides[up_to(2)];
    ask.strange_horse = up_to(3) == 0;
    for (int n = up_to(6); n > 0; --n) {
        const Exercise& e =
            book().all()[static_cast<std::size_t>(up_to(static_cast<int>(book().all().size()) - 1))];
        ask.works.push_back({&e, up_to(static_cast<int>(e.dose.ladder.size()) - 1)});
    }
    ask.horse_minutes_today = up_to(3) == 0 ? up_to(60) : 0;
    if (day_left(ask).minutes < 20) {
        ask.horse_minutes_today = 0;
        for (Companion& other : ask.with) other.horse_minutes_today = 0;
    }
    ask.minutes = std::min(ask.minutes, day_left(ask).minutes);
    return ask;
}

bool from_trot(const Block& b) {
    const Exercise* e = book().find(b.exercise);
    return e && e->dose.ladder[static_cast<std::size_t>(b.rung)].from_trot;
}

/// The rules told once more, straight from common practice (no source), without the planner's own checker.
std::string wrong_with(const Session& s, const SessionAsk& ask) {
    int total = 0, walk = 0, trot = 0, canter = 0, jump = 0, left = 0, right = 0;
    std::string first, last;
    double load = 0;
    bool fallen = false;
    std::map<std::string, int> dose;
    for (std::size_t i = 0; i < s.blocks.size(); ++i) {
        const Block& b = s.blocks[i];
        if (b.seconds <= 0) return "an empty block";
        if (total < 300 && (!b.stirrups || b.work > Work::trot)) return "the first five minutes";
        if (b.work >= Work::running_walk && walk == 0) return "walk before trot";
        if (b.work == Work::trot && ask.rider.school == "gaited" && !ask.rider.mechanical)
            return "a gaited horse trots";
        if (b.work >= Work::canter && trot == 0) return "trot before canter";
        if (b.work == Work::jump && canter == 0 && !from_trot(b)) return "canter before fences";
        if (b.work == Work::canter) canter += b.seconds;
        if (b.work == Work::jump) jump += b.seconds;
        if (b.work == Work::walk) walk += b.seconds;
        if (b.work == Work::running_walk || b.work == Work::trot) trot += b.seconds;
        if (b.full_seat && ask.rider.cold_backed && !ask.rider.mechanical && total < 600)
            return "a cold back";
        if (b.rein == "left") left += b.seconds;
        if (b.rein == "right") right += b.seconds;
        if (!b.rein.empty()) {
            if (first.empty()) first = b.rein;
            last = b.rein;
        }
        if (b.kind == BlockKind::work) {
            const Exercise* e = book().find(b.exercise, ask.rider);
            if (!e) return "an unknown exercise";
            if (e->where == std::vector<std::string>{"mechanical horse"} && !ask.rider.mechanical)
                return "another mount";
            dose[b.exercise] += b.seconds;
            if (dose[b.exercise] > e->dose.ladder[static_cast<std::size_t>(b.rung)].seconds())
                return "the dose";
            if (!book().offer(*e, ask.rider).set_aside.empty()) return "a forbidden exercise";
            for (const RiderNeeds& other : ask.with) {
                if (!book().rung_offer(*e, b.rung, other).set_aside.empty()) return "forbidden to another";
            }
            if (s.blocks[i + 1].kind != BlockKind::rest) return "no rest";
            if (b.work == Work::canter && ask.rider.horse_stage == "green" && b.seconds > 180)
                return "a green canter";
            for (const std::string& g : e->dose.ladder[static_cast<std::size_t>(b.rung)].gates) {
                if (std::ranges::find(ask.rider.signed_off, g) == ask.rider.signed_off.end())
                    return "a shut rung";
            }
        }
        if (b.kind == BlockKind::work || b.kind == BlockKind::easy || b.kind == BlockKind::finish) {
            if (fallen && load_per_min(b) > load) return "a load that rises twice";
            fallen |= load_per_min(b) < load;
            load = load_per_min(b);
        }
        total += b.seconds;
    }
    if (total != 60 * ask.minutes) return "the time";
    if (jump / 60 * kFencesPerMinute + ask.horse_fences_today > 40 && jump > 0) return "fences of the day";
    for (const Companion& other : ask.with) {
        if (jump / 60 * kFencesPerMinute + other.horse_fences_today > 40 && jump > 0)
            return "another horse's fences of the day";
        if (!other.mechanical &&
            total / 60 + other.horse_minutes_today > (other.horse_stage == "green" ? 45 : 120))
            return "another horse's day";
    }
    if (3 * left > 4 * right || 3 * right > 4 * left) return "the reins";
    if (!ask.stiff_side.empty() && (first != ask.stiff_side || last != ask.stiff_side))
        return "the stiff side";
    if (s.blocks.back().kind != BlockKind::cool_down || s.blocks.back().seconds < 180) return "the cool-down";
    if (s.blocks[s.blocks.size() - 2].kind != BlockKind::finish) return "the finish";
    return {};
}

TEST(Session, HoldsEveryRuleForTenThousandRidersAndHorses) {
    std::mt19937 random(20261127);
    int with_work = 0, bouts = 0;
    for (int i = 0; i < 10000; ++i) {
        const SessionAsk ask = random_ask(random);
        const Session s = plan_session(ask, book());
        const auto broken = broken_rules(s, ask, book());
        ASSERT_TRUE(broken.empty()) << "case " << i << ", " << ask.minutes
                                    << " min: " << broken_words(broken);
        ASSERT_EQ(wrong_with(s, ask), "") << "case " << i;
        const auto n = std::ranges::count(s.blocks, BlockKind::work, &Block::kind);
        bouts += static_cast<int>(n);
        with_work += n > 0 ? 1 : 0;
        ASSERT_TRUE(n > 0 || ask.works.empty() || !s.left_out.empty()) << "what is not ridden is said";
    }
    EXPECT_GT(with_work, 5000);
    EXPECT_GT(bouts, 30000);
}

/// The book with a course that is cantered to, as a coach would write one.
ExerciseBook with_a_course() {
    std::ifstream in(std::string(ASPEN_SOURCE_DIR) + "/data/exercises.json");
    nlohmann::ordered_json all = nlohmann::ordered_json::parse(in), course;
    for (const auto& e : all["exercises"]) {
        if (e["id"] == "grid_of_three") course = e;
    }
    course["id"] = "course";
    for (auto& rung : course["dose"]["ladder"]) rung.erase("from");
    all["exercises"].push_back(course);
    std::istringstream text(all.dump());
    return {text, "exercises.json", knowledge().faults};
}

TEST(Session, RisesToTheFencesAndFallsAfterThem) {
    const ExerciseBook own = with_a_course();
    SessionAsk ask;
    ask.minutes = 60;
    ask.rider = {"established", {}, {"canter", "jump", "sits_trot", "two_point"}, 30};
    ask.works = {
        {own.find("course"), 0}, {own.find("two_point_walk_trot"), 3}, {own.find("stiff_side_first"), 0}};
    const Session s = plan_session(ask, own);
    EXPECT_TRUE(broken_rules(s, ask, own).empty()) << broken_words(broken_rules(s, ask, own));
    const auto fence = std::ranges::find(s.blocks, Work::jump, &Block::work);
    ASSERT_NE(fence, s.blocks.end());
    const auto cantered = std::ranges::find(s.blocks, Work::canter, &Block::work);
    EXPECT_LT(cantered, fence) << "a canter before the first fence";
    EXPECT_LT(std::ranges::find(s.blocks, std::string("two_point_walk_trot"), &Block::exercise), fence);
    EXPECT_GT(std::ranges::find(s.blocks, std::string("stiff_side_first"), &Block::exercise), fence);
    // Without a canter it is said, and without leave to canter nothing cantered to is planned.
    Session bare = s;
    std::erase_if(bare.blocks, [](const Block& b) { return b.work == Work::canter; });
    EXPECT_TRUE(breaks(broken_rules(bare, ask, own), "order"));
    ask.rider.signed_off = {"jump", "two_point"};
    EXPECT_THAT(plan_session(ask, own).left_out, Contains(HasSubstr("may canter")));
    // A grid is trotted to: no canter before it.
    ask.works = {{own.find("grid_of_three"), 0}};
    ask.rider.signed_off = {"jump", "two_point"};
    const Session grid = plan_session(ask, own);
    EXPECT_NE(std::ranges::find(grid.blocks, Work::jump, &Block::work), grid.blocks.end());
    EXPECT_EQ(std::ranges::find(grid.blocks, Work::canter, &Block::work), grid.blocks.end());
    EXPECT_TRUE(broken_rules(grid, ask, own).empty()) << broken_words(broken_rules(grid, ask, own));
}

// A lesson of several is for all of them: nothing is in it that one may not ride, and the least of their
// horses sets its limits.
TEST(Session, OfAGroupHoldsNothingThatOneMayNotRide) {
    SessionAsk ask;
    ask.minutes = 60;
    ask.rider = {"established", {}, {"canter", "jump", "sits_trot", "two_point", "no_stirrups"}, 30};
    ask.works = {work("check_in_canter"), work("two_point_walk_trot", 3), work("no_stirrups_short", 1)};
    const auto rides = [&](const char* id) {
        const Session s = plan_session(ask, book());
        EXPECT_TRUE(broken_rules(s, ask, book()).empty()) << broken_words(broken_rules(s, ask, book()));
        return std::ranges::find(s.blocks, std::string(id), &Block::exercise) != s.blocks.end();
    };
    EXPECT_TRUE(rides("check_in_canter"));
    const Session alone = plan_session(ask, book());
    ask.with = {{RiderNeeds{"beginner", {}}}};
    EXPECT_FALSE(rides("check_in_canter"));
    EXPECT_FALSE(rides("no_stirrups_short"));
    EXPECT_TRUE(rides("two_point_walk_trot"));
    EXPECT_THAT(plan_session(ask, book()).left_out, Contains(HasSubstr("not for all who ride")));
    EXPECT_TRUE(breaks(broken_rules(alone, ask, book()), "gate"));
    ask.with = {{RiderNeeds{"established", {}}}};
    ask.with[0].horse_stage = "green";
    EXPECT_EQ(limits_of(ask).canter_min, limits_of(ask.with[0]).canter_min);
    // Plain work asks for the same words as an exercise.
    Block easy;
    easy.work = Work::canter;
    EXPECT_THAT(block_shut(easy, book(), {"novice", {}}), HasSubstr("may canter"));
    EXPECT_EQ(block_shut(easy, book(), {"novice", {}, {"canter", "sits_trot"}}), "");
}

TEST(Session, CountsTheFencesOfTheHorsesWholeDay) {
    SessionAsk ask;
    ask.minutes = 60;
    ask.rider = {"established", {}, {"jump", "two_point"}, 30};
    ask.works = {work("grid_of_three")};
    ask.horse_fences_today = 38;
    EXPECT_THAT(plan_session(ask, book()).left_out, Contains(HasSubstr("no strength left")));
    ask.horse_fences_today = 0;
    Session s = plan_session(ask, book());
    EXPECT_TRUE(s.left_out.empty());
    ask.horse_fences_today = 38;
    EXPECT_TRUE(breaks(broken_rules(s, ask, book()), "horse"));
}

TEST(Session, OnAHorseHoldsNothingOfTheMechanicalOne) {
    SessionAsk ask;
    ask.rider = {"novice", {}};
    ask.works = {work("quiet_leg_mechanical_horse")};
    EXPECT_THAT(plan_session(ask, book()).left_out, Contains(HasSubstr("on the mechanical horse")));
    ask.rider.mechanical = true;
    const Session s = plan_session(ask, book());
    EXPECT_TRUE(s.left_out.empty());
    ask.rider.mechanical = false;
    EXPECT_TRUE(breaks(broken_rules(s, ask, book()), "gate"));
}

TEST(Session, OfSeveralCountsTheDayOfEveryHorseInIt) {
    SessionAsk ask;
    ask.minutes = 60;
    ask.rider = {"established", {}, {"jump", "two_point"}, 30};
    ask.works = {work("grid_of_three")};
    ask.with = {{ask.rider}};
    const Session fresh = plan_session(ask, book());
    EXPECT_TRUE(fresh.left_out.empty());
    ask.with[0].horse_fences_today = 38;
    EXPECT_THAT(plan_session(ask, book()).left_out, Contains(HasSubstr("no strength left")));
    EXPECT_TRUE(breaks(broken_rules(fresh, ask, book()), "horse"));
    ask.with[0] = {ask.rider, 90};
    EXPECT_TRUE(breaks(broken_rules(fresh, ask, book()), "horse"));
    try {
        plan_session(ask, book());
        FAIL() << "the second horse has 30 minutes left";
    } catch (const Refused& e) {
        EXPECT_THAT(e.what(), HasSubstr("a horse of the lesson has done 90 minutes today: 30 are left"));
    }
}

TEST(Session, NobodyWorksAHorseWhoseTrotIsUneven) {
    SessionAsk ask = plain();
    ask.rider.uneven_on = "2026-11-25";
    const Session s = plan_session(ask, book());
    EXPECT_TRUE(s.blocks.empty());
    EXPECT_THAT(s.left_out, Contains(HasSubstr("have it looked at")));
}

TEST(Session, AGaitedHorseIsNotAskedToTrot) {
    SessionAsk ask = plain();
    ask.rider.school = "gaited";
    const Session s = plan_session(ask, book());
    EXPECT_TRUE(broken_rules(s, ask, book()).empty()) << broken_words(broken_rules(s, ask, book()));
    int running = 0;
    for (const Block& b : s.blocks) {
        EXPECT_NE(b.work, Work::trot) << b.words;
        EXPECT_EQ(b.words.find("trot"), std::string::npos) << b.words;
        running += b.work == Work::running_walk;
    }
    EXPECT_GT(running, 3);
    Session trotted = s;
    trotted.blocks[3].work = Work::trot;
    EXPECT_TRUE(breaks(broken_rules(trotted, ask, book()), "order"));
}

// Five minutes at a stretch are five minutes at a stretch.
TEST(Session, DoesNotCutAStretchInTwo) {
    SessionAsk ask = plain();
    ask.works = {work("two_point_walk_trot", 5)};
    const Session s = plan_session(ask, book());
    const auto at = std::ranges::find(s.blocks, BlockKind::work, &Block::kind);
    ASSERT_NE(at, s.blocks.end());
    EXPECT_EQ(at->seconds, 300);
    EXPECT_THAT(at->words, HasSubstr("changed half-way"));
    EXPECT_TRUE(broken_rules(s, ask, book()).empty()) << broken_words(broken_rules(s, ask, book()));
}

TEST(Session, PutsTheFocusInAndUsesTheTime) {
    SessionAsk ask = plain();
    for (const int minutes : {20, 45, 60, 90}) {
        ask.minutes = minutes;
        const Session s = plan_session(ask, book());
        EXPECT_TRUE(std::ranges::any_of(s.blocks, [](const Block& b) {
            return b.exercise == "two_point_walk_trot";
        })) << minutes;
        EXPECT_EQ(s.seconds(), 60 * minutes);
        int easy = 0;
        for (const Block& b : s.blocks) easy += b.kind == BlockKind::cool_down ? b.seconds : 0;
        EXPECT_LE(easy, 900) << "no long tail";
    }
}

TEST(Session, OpensOnAStrangeHorseByFindingTheStiffSide) {
    SessionAsk ask = plain();
    ask.strange_horse = true;
    const Session s = plan_session(ask, book());
    const auto it = std::ranges::find(s.blocks, BlockKind::opener, &Block::kind);
    ASSERT_NE(it, s.blocks.end());
    EXPECT_THAT(it->words, HasSubstr("which side is rounder"));
    EXPECT_TRUE(broken_rules(s, ask, book()).empty());
}

TEST(Session, SaysWhatWasLeftOutAndWhy) {
    SessionAsk ask = plain();
    ask.works.push_back(work("hip_loop_in_canter"));
    ask.works.push_back(work("core_hold"));
    ask.rider.age = 30;
    const Session s = plan_session(ask, book());
    ASSERT_EQ(s.left_out.size(), 2U);
    EXPECT_THAT(s.left_out[0], HasSubstr("may canter"));
    EXPECT_THAT(s.left_out[1], HasSubstr("on foot"));
}

TEST(Session, RefusesAnotherLengthAndATiredHorse) {
    SessionAsk ask = plain();
    ask.minutes = 15;
    EXPECT_THROW(plan_session(ask, book()), Refused);
    ask.minutes = 45;
    ask.horse_minutes_today = 100;
    try {
        plan_session(ask, book());
        FAIL() << "a horse that has done its day";
    } catch (const Refused& e) {
        EXPECT_THAT(e.what(), HasSubstr("20 are left"));
    }
}

// Each rule is broken once by hand, so that a checker that says nothing fails here.
class BrokenRule : public testing::Test {
  protected:
    using Change = std::function<void(std::vector<Block>&)>;
    std::vector<Broken> after(const Change& change) const {
        Session s = good;
        change(s.blocks);
        return broken_rules(s, ask, book());
    }
    static auto first(std::vector<Block>& all, BlockKind kind) {
        return std::ranges::find(all, kind, &Block::kind);
    }
    const SessionAsk ask = plain();
    const Session good = plan_session(ask, book());
};

TEST_F(BrokenRule, NoneInWhatWasPlanned) {
    EXPECT_TRUE(broken_rules(good, ask, book()).empty()) << broken_words(broken_rules(good, ask, book()));
}

TEST_F(BrokenRule, IsNamedWhateverBlockBreaksIt) {
    const std::pair<Change, const char*> all[] = {
        {[](std::vector<Block>& b) { b.pop_back(); }, "cool_down"},
        {[](std::vector<Block>& b) { b.pop_back(); }, "total"},
        {[](std::vector<Block>& b) { b.front().stirrups = false; }, "warm_up"},
        {[](std::vector<Block>& b) { b.front().work = Work::trot; }, "order"},
        {[](std::vector<Block>& b) {
             first(b, BlockKind::work)->work = Work::canter;
             b.erase(b.begin() + 2, b.begin() + 4);
         },
         "order"},
        {[](std::vector<Block>& b) { first(b, BlockKind::work)->seconds *= 3; }, "dose"},
        {[](std::vector<Block>& b) { b.erase(first(b, BlockKind::rest)); }, "rest"},
        {[](std::vector<Block>& b) { first(b, BlockKind::finish)->work = Work::jump; }, "load"},
        {[](std::vector<Block>& b) {
             for (Block& one : b) one.rein = one.rein.empty() ? "" : "left";
         },
         "reins"},
        {[](std::vector<Block>& b) { std::swap(b[0].rein, b[1].rein); }, "stiff_first"},
        {[](std::vector<Block>& b) {
             std::erase_if(b, [](const Block& one) { return one.kind == BlockKind::finish; });
         },
         "finish"},
        {[](std::vector<Block>& b) {
             auto& w = *first(b, BlockKind::work);
             w.exercise = "hip_loop_in_canter";
             w.rung = 0;
         },
         "gate"},
    };
    for (const auto& [change, rule] : all) EXPECT_TRUE(breaks(after(change), rule)) << rule;
}

TEST_F(BrokenRule, OfAColdBackAndAGreenHorseTheirOwn) {
    SessionAsk cold = ask;
    cold.rider.cold_backed = true;
    cold.works = {work("sitting_trot_short_counts")};
    Session s = plan_session(cold, book());
    EXPECT_TRUE(broken_rules(s, cold, book()).empty());
    s.blocks.front().full_seat = true;
    EXPECT_TRUE(breaks(broken_rules(s, cold, book()), "back"));
    // Sat on after seven minutes: too early; after ten: well.
    for (const int minutes : {7, 10}) {
        Session by_hand;
        Block before, sat;
        before.seconds = 60 * minutes;
        sat.seconds = 120;
        sat.full_seat = true;
        by_hand.blocks = {before, sat};
        EXPECT_EQ(breaks(broken_rules(by_hand, cold, book()), "back"), minutes < 10) << minutes;
    }
    SessionAsk green = ask;
    green.rider.horse_stage = "green";
    green.horse_minutes_today = 30;
    EXPECT_TRUE(breaks(broken_rules(good, green, book()), "horse"));
}

}  // namespace
}  // namespace aspen::core
