#include <gmock/gmock.h>

#include "core/core_support.hpp"
#include "core/judging/judgement.hpp"

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

struct Cell {
    const char* school;
    Seat seat;
    Gait gait;
    const char* phase;
    const char* measure;
    double lo, hi;
};
class ShippedBands : public testing::TestWithParam<Cell> {};

// Starting bands as the trade states them: common practice, degrees and per cent from memory.
TEST_P(ShippedBands, AreTheTradesOwn) {
    const Cell& c = GetParam();
    const Band b = band(c.measure, setting(c.school, c.seat, c.gait, c.phase));
    EXPECT_DOUBLE_EQ(b.lo.value_or(-999), c.lo);
    EXPECT_DOUBLE_EQ(b.hi.value_or(-999), c.hi);
    EXPECT_EQ(b.source, "from memory");
}
INSTANTIATE_TEST_SUITE_P(
    Table, ShippedBands,
    testing::Values(Cell{"classical", Seat::sitting, Gait::trot, "", "trunk_lean", -3, 4},
                    Cell{"hunter", Seat::sitting, Gait::walk, "", "trunk_lean", 0, 7},
                    Cell{"jumper", Seat::sitting, Gait::canter, "", "knee_angle", 92, 120},
                    Cell{"stock", Seat::sitting, Gait::walk, "", "knee_angle", 115, 145},
                    Cell{"gaited", Seat::sitting, Gait::running_walk, "", "hand_line", -15, 15},
                    Cell{"classical", Seat::rising, Gait::trot, "", "trunk_lean", 0, 12},
                    Cell{"hunter", Seat::rising, Gait::trot, "", "trunk_lean", 8, 22},
                    Cell{"jumper", Seat::rising, Gait::trot, "", "trunk_lean", 8, 22},
                    Cell{"classical", Seat::rising, Gait::trot, "rise_top", "knee_angle", 108, 158},
                    Cell{"hunter", Seat::rising, Gait::trot, "rise_top", "knee_angle", 98, 145},
                    Cell{"stock", Seat::rising, Gait::trot, "rise_top", "knee_angle", 115, 165},
                    Cell{"classical", Seat::rising, Gait::trot, "rise_top", "hip_angle", 132, 165},
                    Cell{"hunter", Seat::rising, Gait::trot, "rise_bottom", "hip_angle", 128, 152},
                    Cell{"jumper", Seat::half, Gait::canter, "", "trunk_lean", 5, 18},
                    Cell{"hunter", Seat::half, Gait::canter, "", "shoulder_past_knee", -999, 0},
                    Cell{"hunter", Seat::two_point, Gait::canter, "", "trunk_lean", 12, 38},
                    Cell{"gaited", Seat::two_point, Gait::trot, "", "knee_angle", 104, 138},
                    Cell{"jumper", Seat::two_point, Gait::jump, "", "hip_angle", 70, 130},
                    Cell{"hunter", Seat::two_point, Gait::jump, "", "knee_angle", 98, 128},
                    Cell{"hunter", Seat::rising, Gait::trot, "", "heel_drop", 6, 20},
                    Cell{"classical", Seat::sitting, Gait::trot, "", "lateral_lean", -3, 3},
                    Cell{"stock", Seat::two_point, Gait::trot, "", "lateral_lean", -4, 4}));

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

std::string refusal(const std::string& school) {
    std::istringstream in(school);
    try {
        Schools({load_school(in, "mine.json")});
    } catch (const Refused& e) {
        return e.what();
    }
    return "taken";
}

TEST(SchoolFiles, ComplaintNamesFileEntryAndField) {
    const std::string head = R"({"id":"mine","name":"Mine","source":"me","sections":{"sitting":{"bands":{)";
    EXPECT_EQ(refusal(head + R"("trunk_lean":[-3,4]}}}})"), "taken");
    EXPECT_EQ(refusal(head + R"("trunk":[-3,4]}}}})"),
              R"(mine.json: section "sitting": field "trunk" is not a measure)");
    EXPECT_EQ(refusal(head + R"("trunk_lean":[4,-3]}}}})"),
              R"(mine.json: section "sitting": field "trunk_lean" has its lowest above its highest)");
    EXPECT_THAT(refusal(head + R"("trunk_lean":[null,null]}}}})"), HasSubstr("has no limit"));
    EXPECT_THAT(refusal(head + R"("trunk_lean@nowhen":[1,2]}}}})"), HasSubstr("unknown phase"));
    EXPECT_THAT(refusal(head + R"("trunk_lean":"upright"}}}})"), HasSubstr("must be [lowest, highest]"));
    EXPECT_EQ(refusal(R"({"id":"mine"})"), R"(mine.json: school: field "name" is missing)");
    EXPECT_THAT(refusal(R"({"id":"mine",)"), HasSubstr("not valid JSON"));
    EXPECT_THAT(refusal(R"({"id":"mine","name":"M","source":"s","inherits":"lost","sections":{}})"),
                HasSubstr("which is not there"));
    EXPECT_THAT(refusal(R"({"id":"mine","name":"M","source":"s","inherits":"mine","sections":{}})"),
                HasSubstr("inherits from itself"));
    EXPECT_THAT(refusal(R"({"id":"mine","name":"M","source":"s","sections":{"flying":{"bands":{}}}})"),
                HasSubstr("is not a seat"));
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

// The hip bands follow from the others: whoever is inside trunk, heel, knee and heel drop is inside or
// borderline on the hip in at least 95 % of all builds, and every school and seat has poses inside all of
// them at once.
TEST(Bands, OfTheHipFollowFromTheOthers) {
    std::mt19937 engine(12);
    for (const School& school : knowledge().schools.all()) {
        for (const Seat seat : {Seat::sitting, Seat::half, Seat::two_point}) {
            const Setting s{school.id, Gait::trot, seat, {}, {}};
            const auto pick = [&](std::string_view id) {
                const Band b = band(id, s);
                return std::uniform_real_distribution<double>(*b.lo, *b.hi)(engine);
            };
            int all = 0, inside = 0, held = 0;
            while (all < 600) {
                const auto f =
                    built(pick("trunk_lean"), pick("heel_offset"), pick("knee_angle"), pick("heel_drop"),
                          std::uniform_real_distribution<double>(0.92, 1.08)(engine));
                if (!f) continue;
                ++all;
                const auto judged = judge(*f, s, knowledge().body, knowledge().schools);
                const Verdict hip = find(judged, "hip_angle")->verdict;
                held += hip == Verdict::inside || hip == Verdict::borderline;
                bool every = true;
                for (const char* id : {"trunk_lean", "heel_offset", "knee_angle", "heel_drop", "hip_angle"}) {
                    const Judged* j = find(judged, id);
                    every = every && *j->measured.value >= *j->band->lo && *j->measured.value <= *j->band->hi;
                }
                inside += every;
            }
            EXPECT_GT(inside, 0) << school.id << ' ' << word(seat);
            EXPECT_GE(held, all * 95 / 100) << school.id << ' ' << word(seat);
        }
    }
}

}  // namespace
}  // namespace aspen::core
