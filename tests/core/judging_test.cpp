#include <gmock/gmock.h>

#include <fstream>

#include "core/core_support.hpp"
#include "core/judging/judgement.hpp"
#include "support/refusal.hpp"

namespace aspen::core {
namespace {

using test::knowledge;
using testing::HasSubstr;

Band band(std::string_view measure, const Setting& s) {
    const auto found = knowledge().schools.band(measure, s);
    if (const auto* b = std::get_if<Band>(&found)) return *b;
    ADD_FAILURE() << measure << ": " << std::get<std::string>(found);
    return {};
}
std::string no_band(std::string_view measure, const Setting& s) {
    const auto found = knowledge().schools.band(measure, s);
    return std::holds_alternative<std::string>(found) ? std::get<std::string>(found) : "there is a band";
}
Setting setting(const char* school, Seat seat, Gait gait = Gait::trot, const char* phase = "") {
    return {school, gait, seat, phase, {}};
}

// Starting bands as the trade's tables state them: common practice, degrees and per cent from memory. The
// hip's follow from the others and lie within two degrees of the table's.
TEST(Bands, AreTheTradesOwn) {
    std::ifstream in(ASPEN_SOURCE_DIR "/tests/data/bands.csv");
    std::string line;
    std::getline(in, line);
    int rows = 0;
    for (; std::getline(in, line); ++rows) {
        std::istringstream cells(line);
        std::string school, section, phase, measure, limits;
        for (std::string* cell : {&school, &section, &phase, &measure}) std::getline(cells, *cell, ',');
        cells >> limits;
        const bool jump = section == "jump";
        const Setting s = setting(school.c_str(), jump ? Seat::two_point : *seat_from(section),
                                  jump ? Gait::jump : Gait::trot, phase.c_str());
        const auto found = knowledge().schools.band(measure, s);
        const auto* b = std::get_if<Band>(&found);
        if (limits == "no") {
            EXPECT_FALSE(b) << line;
            continue;
        }
        ASSERT_TRUE(b) << line << ": " << std::get<std::string>(found);
        const auto colon = limits.find(':');
        const double off = measure == "hip_angle" ? 2 : 0;
        if (colon > 0) {
            EXPECT_NEAR(b->lo.value_or(-999), std::stod(limits.substr(0, colon)), off) << line;
        }
        EXPECT_EQ(b->lo.has_value(), colon > 0) << line;
        EXPECT_NEAR(b->hi.value_or(999), std::stod(limits.substr(colon + 1)), off) << line;
        EXPECT_FALSE(b->source.empty() || b->why.empty()) << line;
    }
    EXPECT_GT(rows, 500);
}

TEST(Bands, AtApproachAndDepartureTheSeatCounts) {
    EXPECT_EQ(band("trunk_lean", setting("hunter", Seat::half, Gait::jump, "approach")).hi, 25);
    EXPECT_EQ(band("trunk_lean", setting("hunter", Seat::two_point, Gait::jump, "departure")).hi, 38);
    EXPECT_EQ(band("trunk_lean", setting("hunter", Seat::half, Gait::jump, "top")).hi, 60);
    EXPECT_THAT(no_band("trunk_lean", setting("hunter", Seat::half, Gait::jump)), HasSubstr("which part"));
    EXPECT_EQ(no_band("knee_angle", setting("hunter", Seat::rising, Gait::trot, "beat_1")),
              "no band for this phase")
        << "not judged by the sitting band";
}

TEST(Bands, SayWhyThereIsNone) {
    EXPECT_EQ(no_band("hand_line", setting("stock", Seat::sitting)), "not held in this school");
    EXPECT_THAT(no_band("knee_angle", setting("classical", Seat::rising)), HasSubstr("top or the bottom"));
    EXPECT_EQ(no_band("shoulder_past_knee", setting("classical", Seat::sitting)), "no band for this seat");
    EXPECT_EQ(no_band("trunk_lean", setting("", Seat::sitting)), "school, gait or seat not said");
    EXPECT_THROW(knowledge().schools.band("trunk_lean", setting("nowhere", Seat::sitting)), Refused);
}

TEST(Bands, OneSidedOnesCarryTheirOwnScale) {
    EXPECT_DOUBLE_EQ(band("shoulder_past_knee", setting("hunter", Seat::half)).half_width, 20);
    EXPECT_DOUBLE_EQ(band("trunk_lean", setting("hunter", Seat::rising)).half_width, 7);
}

TEST(Verdict, StraddlingALimitIsBorderlineNeverAFault) {
    const Band b{-6, 6, 6, {}, {}};
    EXPECT_EQ(verdict_of(0, 1, b), Verdict::inside);
    EXPECT_EQ(verdict_of(6 - 1.645 - 1e-9, 1, b), Verdict::inside);
    EXPECT_EQ(verdict_of(6 - 1.645 + 1e-9, 1, b), Verdict::borderline);
    EXPECT_EQ(verdict_of(6 + 1.645 - 1e-9, 1, b), Verdict::borderline);
    EXPECT_EQ(verdict_of(6 + 1.645 + 1e-9, 1, b), Verdict::outside);
    EXPECT_EQ(verdict_of(-9, 1, b), Verdict::outside);
    EXPECT_EQ(verdict_of(0, 10, b), Verdict::borderline) << "an error wider than the band can judge nothing";
    const Band open{std::nullopt, 5, 20, {}, {}};
    EXPECT_EQ(verdict_of(-1000, 1, open), Verdict::inside);
    EXPECT_EQ(verdict_of(9, 1, open), Verdict::outside);
}

TEST(Severity, CountsHalfBandWidthsBeyondTheErrorsReach) {
    Figure f = test::sitting_rider();
    f.camera = {0, 0.3, 0, 3, true, true};
    const double lean = 24;
    f[Landmark::shoulder].at = {f[Landmark::hip].at.x + 110 * std::sin(radians(lean)),
                                f[Landmark::hip].at.y - 110 * std::cos(radians(lean))};
    const auto judged = judge(f, setting("classical", Seat::sitting), knowledge().body, knowledge().schools);
    const Judged* j = find(judged, "trunk_lean");
    ASSERT_TRUE(j && j->measured.value);
    EXPECT_EQ(j->verdict, Verdict::outside);
    EXPECT_EQ(j->beyond, Beyond::above);
    EXPECT_NEAR(j->severity, (*j->measured.value - 4 - 1.645 * j->measured.sd) / 3.5, 1e-9);
}

std::string school_refusal(const std::string& school) {
    std::istringstream in(school);
    return test::refusal_of([&] { Schools({load_school(in, "mine.json")}); });
}

const std::string kSchoolHead =
    R"({"id":"mine","name":"Mine","source":"me","sections":{"sitting":{"bands":{)";

TEST(SchoolFiles, ComplaintNamesFileEntryAndField) {
    EXPECT_EQ(school_refusal(kSchoolHead + R"("trunk_lean":[-3,4]}}}})"), "taken");
    EXPECT_EQ(school_refusal(kSchoolHead + R"("trunk":[-3,4]}}}})"),
              R"(mine.json: section "sitting": field "trunk" is not a measure)");
    EXPECT_EQ(school_refusal(kSchoolHead + R"("trunk_lean":[4,-3]}}}})"),
              R"(mine.json: section "sitting": field "trunk_lean" has its lowest above its highest)");
    EXPECT_THAT(school_refusal(kSchoolHead + R"("trunk_lean":[null,null]}}}})"), HasSubstr("has no limit"));
    EXPECT_THAT(school_refusal(kSchoolHead + R"("trunk_lean@nowhen":[1,2]}}}})"), HasSubstr("unknown phase"));
    EXPECT_THAT(school_refusal(kSchoolHead + R"("trunk_lean":"upright"}}}})"),
                HasSubstr("must be [lowest, highest]"));
    EXPECT_EQ(school_refusal(R"({"id":"mine"})"), R"(mine.json: school: field "name" is missing)");
    EXPECT_THAT(school_refusal(R"({"id":"mine",)"), HasSubstr("not valid JSON"));
    EXPECT_THAT(school_refusal(R"({"id":"mine","name":"M","source":"s","sections":{"flying":{"bands":{}}}})"),
                HasSubstr("is not a seat"));
    EXPECT_THAT(school_refusal(kSchoolHead + R"("trunk_lean/gallop":[1,2]}}}})"), HasSubstr("unknown gait"));
}

TEST(SchoolFiles, WhatABandComesFromIsThereAndDoesNotComeBackToItself) {
    EXPECT_THAT(school_refusal(R"({"id":"mine","name":"M","source":"s","inherits":"lost","sections":{}})"),
                HasSubstr("which is not there"));
    EXPECT_THAT(school_refusal(R"({"id":"mine","name":"M","source":"s","inherits":"mine","sections":{}})"),
                HasSubstr("inherits from itself"));
    EXPECT_THAT(school_refusal(kSchoolHead + R"("hip_angle":[120,150]}}}})"), HasSubstr("follows from"));
    EXPECT_EQ(school_refusal(kSchoolHead + R"("trunk_lean":{"like":"siting","add":[0,1]}}}}})"),
              R"(mine.json: section "sitting": field "trunk_lean" is like "siting", which has no such band)");
    EXPECT_EQ(
        school_refusal(
            R"({"id":"mine","name":"M","source":"s","sections":{"half":{"inherits":"siting","bands":{}}}})"),
        R"(mine.json: section "half": field "inherits" names "siting", which no section is)");
    EXPECT_THAT(
        school_refusal(
            R"({"id":"mine","name":"M","source":"s","sections":{"half":{"inherits":"half","bands":{}}}})"),
        HasSubstr("comes back to itself"));
}

/// A sitting rider made of limb lengths: thigh 0.43, shank 0.42, heel 5 cm behind and 7 cm below the ankle
/// (with the foot level), build +- 8 %. Empty when the leg does not reach.
std::optional<Figure> built(double lean, double heel_pct, double knee, double drop, double build) {
    const double thigh = 43 * build, shank = 42 * build, px = 4;
    const double hip_ankle =
        std::sqrt(thigh * thigh + shank * shank - 2 * thigh * shank * std::cos(radians(knee)));
    const double leg = thigh + shank, d = radians(drop);
    const Point ankle_from_heel{5 * std::cos(d) - 7 * std::sin(d), 5 * std::sin(d) + 7 * std::cos(d)};
    const double ankle_f = heel_pct / 100 * leg + ankle_from_heel.x;
    if (std::abs(ankle_f) >= hip_ankle) return std::nullopt;
    const double ankle_u = -std::sqrt(hip_ankle * hip_ankle - ankle_f * ankle_f);
    const double to_ankle = std::atan2(ankle_u, ankle_f);
    const double at_hip = std::acos(std::clamp(
        (thigh * thigh + hip_ankle * hip_ankle - shank * shank) / (2 * thigh * hip_ankle), -1.0, 1.0));
    const Point knee_at{thigh * std::cos(to_ankle + at_hip), thigh * std::sin(to_ankle + at_hip)};
    Figure f;
    f.travel = Travel::right;
    f.camera = {0, 0.5, 0, 3, true, true};
    const auto put = [&](Landmark l, double forward, double up) {
        f[l] = {{600 + px * forward, 300 - px * up}, Visibility::seen, 1.3};
    };
    put(Landmark::hip, 0, 0);
    put(Landmark::shoulder, 50 * std::sin(radians(lean)), 50 * std::cos(radians(lean)));
    put(Landmark::knee, knee_at.x, knee_at.y);
    put(Landmark::ankle, ankle_f, ankle_u);
    const Point heel{ankle_f - ankle_from_heel.x, ankle_u - ankle_from_heel.y};
    put(Landmark::heel, heel.x, heel.y);
    put(Landmark::toe, heel.x + 25 * std::cos(d), heel.y + 25 * std::sin(d));
    return f;
}

// Whoever is inside trunk, heel, knee and heel drop, and keeps the shoulder behind the knee, is inside or
// borderline on the hip in at least 95 % of all builds; every cell has poses inside all of its bands at once.
TEST(Bands, OfTheHipFollowFromTheOthers) {
    std::mt19937 engine(12);
    const auto cells = [] {
        std::vector<std::pair<Gait, std::pair<Seat, const char*>>> out{
            {Gait::trot, {Seat::sitting, ""}},           {Gait::trot, {Seat::half, ""}},
            {Gait::trot, {Seat::two_point, ""}},         {Gait::trot, {Seat::rising, "rise_top"}},
            {Gait::trot, {Seat::rising, "rise_bottom"}}, {Gait::jump, {Seat::two_point, "take_off"}},
            {Gait::jump, {Seat::two_point, "top"}},      {Gait::jump, {Seat::two_point, "landing"}}};
        return out;
    }();
    for (const School& school : knowledge().schools.all()) {
        for (const auto& [gait, where] : cells) {
            const Setting s = setting(school.id.c_str(), where.first, gait, where.second);
            const auto pick = [&, &g = gait](std::string_view id) {
                (void)g;
                const Band b = band(id, s);
                return std::uniform_real_distribution<double>(*b.lo, *b.hi)(engine);
            };
            int all = 0, inside = 0, held = 0;
            for (int tries = 0; all < 300 && tries < 3000; ++tries) {
                const auto f =
                    built(pick("trunk_lean"), pick("heel_offset"), pick("knee_angle"), pick("heel_drop"),
                          std::uniform_real_distribution<double>(0.92, 1.08)(engine));
                if (!f) continue;
                const auto judged = judge(*f, s, knowledge().body, knowledge().schools);
                const Judged* past = find(judged, "shoulder_past_knee");
                if (past->band && *past->measured.value > *past->band->hi) continue;
                ++all;
                const Verdict hip = find(judged, "hip_angle")->verdict;
                held += hip == Verdict::inside || hip == Verdict::borderline;
                bool every = true;
                for (const char* id : {"trunk_lean", "heel_offset", "knee_angle", "heel_drop", "hip_angle"}) {
                    const Judged* j = find(judged, id);
                    every = every && *j->measured.value >= *j->band->lo && *j->measured.value <= *j->band->hi;
                }
                inside += every;
            }
            EXPECT_EQ(all, 300) << school.id << ' ' << word(where.first) << where.second;
            EXPECT_GT(inside, 0) << school.id << ' ' << word(where.first) << where.second;
            EXPECT_GE(held, all * 95 / 100) << school.id << ' ' << word(where.first) << where.second;
        }
    }
}

Schools with(const std::string& school) {
    std::vector<School> all = knowledge().schools.all();
    std::istringstream in(school);
    all.push_back(load_school(in, "mine.json"));
    return Schools(std::move(all), knowledge().schools.situations());
}

// A7: what a coach's school does not state comes from its parent cell by cell, with scales and reasons.
TEST(OwnSchools, InheritCellByCell) {
    const Schools mine = with(
        R"({"id":"mine","name":"Mine","source":"me","inherits":"jumper","sections":{"half":{"bands":{"trunk_lean":[6,14]}},
        "sitting":{"bands":{"knee_angle/canter":[80,110],"knee_angle/canter@beat_2":[70,100]}}}})");
    const auto of = [&](std::string_view m, const Setting& s) { return std::get<Band>(mine.band(m, s)); };
    EXPECT_EQ(of("trunk_lean", setting("mine", Seat::half)).hi, 14);
    EXPECT_EQ(of("trunk_lean", setting("mine", Seat::half)).source, "me");
    EXPECT_EQ(of("knee_angle", setting("mine", Seat::half)).hi, 126) << "the parent's, of the same section";
    EXPECT_EQ(of("knee_angle", setting("mine", Seat::half)).school, "jumper");
    EXPECT_EQ(of("shoulder_past_knee", setting("mine", Seat::half)).half_width, 20) << "its scale too";
    EXPECT_FALSE(of("trunk_lean", setting("mine", Seat::half)).why.empty());
    EXPECT_LT(
        *of("hip_angle", setting("mine", Seat::half)).hi - *of("hip_angle", setting("mine", Seat::half)).lo,
        *of("hip_angle", setting("jumper", Seat::half)).hi -
            *of("hip_angle", setting("jumper", Seat::half)).lo)
        << "the hip follows the edit";
    EXPECT_EQ(of("knee_angle", setting("mine", Seat::sitting)).hi, 120);
    EXPECT_EQ(of("knee_angle", setting("mine", Seat::sitting, Gait::canter)).hi, 110);
    EXPECT_EQ(of("knee_angle", setting("mine", Seat::sitting, Gait::canter, "beat_2")).hi, 100);
}

TEST(OwnSchools, AreWrittenAsTheyAreRead) {
    for (const School& school : knowledge().schools.all()) {
        std::ostringstream out;
        save_school(school, out);
        std::istringstream in(out.str());
        const School back = load_school(in, "back.json");
        for (const auto& [name, section] : school.sections) {
            EXPECT_EQ(back.sections.at(name).bands, section.bands) << school.id << ' ' << name;
            EXPECT_EQ(back.sections.at(name).inherits, section.inherits);
        }
        EXPECT_EQ(back.why, school.why);
        EXPECT_EQ(back.scales, school.scales);
    }
}

// Common practice, no source: what the picture's situation changes.
/// A school's bands as the situation moves them.
class MovedBands : public testing::Test {
  protected:
    Band here(std::string_view m) const { return std::get<Band>(knowledge().schools.here(m, s).band); }
    std::string suspended(std::string_view m) const { return knowledge().schools.here(m, s).suspended; }
    Setting s = setting("classical", Seat::sitting);
};

TEST_F(MovedBands, TheOuterLegMayLieFurtherBackOnACircle) {
    s.movement = "circle";
    s.circle_leg = CircleLeg::outer;
    EXPECT_EQ(here("heel_offset").lo, -10);
    EXPECT_EQ(here("heel_offset").hi, 4);
    EXPECT_EQ(here("heel_offset").half_width, 7) << "severity counts in the band it is held against";
    EXPECT_THAT(here("heel_offset").note, HasSubstr("outer leg"));
    EXPECT_NE(here("hip_angle").hi, band("hip_angle", s).hi) << "the hip moves with the leg";
    EXPECT_FALSE(here("hip_angle").note.empty());
}

TEST_F(MovedBands, InCanterMoreSoAndTheInnerLegLess) {
    s.movement = "circle";
    s.gait = Gait::canter;
    s.circle_leg = CircleLeg::outer;
    EXPECT_EQ(here("heel_offset").lo, -14);
    s.circle_leg = CircleLeg::inner;
    EXPECT_EQ(here("heel_offset").lo, -6);
}

TEST_F(MovedBands, WithoutStirrupsTheKneeOpensAndTheHeelIsNotHeld) {
    s.stirrups = Stirrups::off;
    EXPECT_EQ(here("knee_angle").hi, 153);
    EXPECT_FALSE(suspended("heel_drop").empty());
    EXPECT_TRUE(suspended("heel_offset").empty());
}

TEST_F(MovedBands, TheHorseMovesThemToo) {
    s.horse = {"green"};
    EXPECT_EQ(here("hands_width").hi, 90);
    s = setting("hunter", Seat::sitting, Gait::canter);
    s.horse = {"half_seat_better"};
    EXPECT_EQ(here("trunk_lean").lo, 8) << "the half seat's";
    EXPECT_THAT(here("trunk_lean").note, HasSubstr("half seat"));
}

TEST_F(MovedBands, ARidersBodyMovesWhatItConcerns) {
    s.body = {"knee"};
    EXPECT_EQ(here("knee_angle").hi, 150) << "a stiff knee may stay more open";
    EXPECT_THAT(here("knee_angle").note, HasSubstr("knee"));
    EXPECT_NE(here("hip_angle").hi, band("hip_angle", s).hi) << "and the hip with it";
    s.body = {"shoulder"};
    EXPECT_EQ(here("knee_angle").hi, 138);
}

TEST_F(MovedBands, InATransitionTheTrunkIsHeldUpwardOnly) {
    s = setting("hunter", Seat::sitting);
    s.movement = "transition";
    EXPECT_FALSE(suspended("trunk_lean").empty());
    EXPECT_FALSE(suspended("heel_offset").empty());
    s.upward = true;
    EXPECT_TRUE(suspended("trunk_lean").empty());
    s.leg_aids = false;
    EXPECT_TRUE(suspended("heel_offset").empty()) << "the other leg gives the aid";
}

TEST_F(MovedBands, ALegThatGivesAnAidIsNotHeldMeanwhile) {
    s = setting("hunter", Seat::sitting);
    s.leg_aids = true;
    EXPECT_FALSE(suspended("knee_angle").empty());
    EXPECT_TRUE(suspended("trunk_lean").empty());
}

TEST_F(MovedBands, ABeginnersHandOnTheSaddleIsNotHeld) {
    s = setting("hunter", Seat::sitting);
    s.level = "beginner";
    s.hands = Hands::saddle;
    EXPECT_THAT(suspended("elbow_angle"), HasSubstr("beginner"));
}

}  // namespace
}  // namespace aspen::core
