// How much is said: fingers and hands (common practice, no source: a finger's breadth about 2 cm, a hand's
// about 10), centimetres where a height is known, degrees as they are, and for a child by its own hand.

#include <gmock/gmock.h>

#include <sstream>

#include "core/core_support.hpp"
#include "core/judging/amounts.hpp"
#include "core/knowledge/knowledge.hpp"
#include "support/refusal.hpp"

namespace aspen::core {
namespace {

using test::knowledge;
using testing::HasSubstr;
using testing::Not;

const Amounts& amounts() { return knowledge().measure_words.amounts(); }

TEST(Amounts, AreFingersAndHandsWhereNoHeightIsKnown) {
    const std::pair<double, const char*> said[] = {
        {0.004, "less than a finger"}, {0.02, "a finger"},     {0.04, "two fingers"},
        {0.06, "three fingers"},       {0.08, "four fingers"}, {0.10, "a hand"},
        {0.15, "a hand and a half"},   {0.20, "two hands"},    {0.30, "three hands"},
        {0.9, "more than four hands"}};
    for (const auto& [metres, words] : said) EXPECT_EQ(amounts().length(metres, {}), words) << metres;
    EXPECT_EQ(amounts().length(-0.1, {}), "a hand") << "how much, not which way";
}

TEST(Amounts, AreCentimetresOfAKnownHeight) {
    EXPECT_EQ(amounts().length(0.083, {170, false}), "8 cm");
    EXPECT_EQ(amounts().length(0.002, {170, false}), "less than a finger") << "nobody says 0 cm";
}

TEST(Amounts, AreAsMuchSmallerAsTheChildIs) {
    // A hand of a child of 120 cm is 120/170 of a grown one: 7 cm.
    EXPECT_EQ(amounts().length(0.10 * 120 / 170, {120, true}), "a hand");
    EXPECT_EQ(amounts().length(0.10, {120, true}), "a hand and a half");
}

TEST(Amounts, NeverGetSmallerAsTheLengthGrows) {
    std::vector<std::string> order;
    for (double m = 0; m < 0.6; m += 0.001) {
        const std::string now = amounts().length(m, {});
        if (order.empty() || order.back() != now) order.push_back(now);
    }
    EXPECT_EQ(order.size(), 12U) << "each is said once and not again";
}

TEST(Amounts, TakeTheWholeThatTheMeasureIsHeldAgainst) {
    const Body& body = knowledge().body;
    // A tenth of the leg of a rider of 170 cm (0.43 and 0.42 m): 8.5 cm; of the trunk: 5; of the hips: 3.4.
    EXPECT_NEAR(*amounts().metres("heel_offset", 10, body, {170, false}), 0.085, 1e-9);
    EXPECT_NEAR(*amounts().metres("hand_height", 10, body, {170, false}), 0.05, 1e-9);
    EXPECT_NEAR(*amounts().metres("centre_offset", 10, body, {170, false}), 0.034, 1e-9);
    EXPECT_NEAR(*amounts().metres("heel_offset", 10, body, {136, false}), 0.068, 1e-9);
    EXPECT_FALSE(amounts().metres("hip_still_pct", 30, body, {})) << "a part of the stride, no length";
    EXPECT_EQ(amounts().of("hip_still_pct", "%", 33, body), "a third");
}

TEST(Amounts, SayEveryMeasureWithoutPerCent) {
    for (const View view : {View::side, View::rear, View::front}) {
        for (const MeasureInfo& info : measures_of(view)) {
            for (const double v : {0.1, -7.0, 40.0}) {
                for (const ToWhom& to : {ToWhom{}, ToWhom{170, false}, ToWhom{120, true}}) {
                    const std::string words = amounts().of(info, v, knowledge().body, to);
                    EXPECT_FALSE(words.empty()) << info.id;
                    EXPECT_THAT(words, Not(HasSubstr("%"))) << info.id;
                    EXPECT_THAT(words, Not(HasSubstr("{"))) << info.id;
                }
            }
        }
    }
}

TEST(Amounts, OfAnAngleAreDegreesButForAChild) {
    const MeasureInfo& lean = *find_measure("trunk_lean");
    EXPECT_EQ(amounts().of(lean, -26.4, knowledge().body), "26°");
    EXPECT_EQ(amounts().of(lean, -12, knowledge().body, {120, true}), "clearly");
}

TEST(Amounts, SayHowFarOffNineTimesOfTen) {
    const MeasureInfo& heel = *find_measure("heel_offset");
    // 1.645 times 3 % of the leg is 4.2 cm.
    EXPECT_EQ(amounts().doubt(heel, 3, knowledge().body), "give or take two fingers");
    EXPECT_EQ(amounts().doubt(heel, 3, knowledge().body, {170, false}), "give or take 4 cm");
    EXPECT_EQ(amounts().doubt(heel, 3, knowledge().body, {120, true}), "") << "a child is spared it";
    EXPECT_EQ(knowledge().spoken().with_doubt("trunk_lean", "deg", 26, 1.8), "26°, give or take 3°");
}

TEST(Amounts, RefuseAFileThatDoesNotGoOn) {
    const std::string rest =
        R"("centimetres": "{n} cm", "angles": "{n}°", "doubt": "± {amount}", "usual_height_cm": 170,
           "angles_for_children": [{"words": "a lot"}], "shares": [{"words": "all"}], "wholes": {)";
    const auto read = [&](const std::string& lengths, const std::string& wholes) {
        std::istringstream in("{\"lengths\": [" + lengths + "], " + rest + wholes + "}}");
        Amounts made(in, "amounts.json");
    };
    EXPECT_NO_THROW(read(R"({"below_m": 0.1, "words": "a hand"}, {"words": "more"})", ""));
    EXPECT_THAT(test::refusal_of([&] { read(R"({"below_m": 0.1, "words": "a hand"})", ""); }),
                HasSubstr("needs a last step"));
    EXPECT_THAT(test::refusal_of([&] {
                    read(R"({"below_m": 0.1, "words": "a"}, {"below_m": 0.05, "words": "b"}, {"words": "c"})",
                         "");
                }),
                HasSubstr("does not go on"));
    EXPECT_THAT(test::refusal_of([&] { read(R"({"words": "more"})", R"("heel_offset": "tail")"); }),
                HasSubstr("no length of a body"));
}

}  // namespace
}  // namespace aspen::core
