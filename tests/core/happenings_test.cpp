// What is counted of events logged by key. The cases are worked by hand from the rules of the command line's
// `events` verb.

#include <gmock/gmock.h>

#include "core/motion/counts.hpp"
#include "core/motion/ground.hpp"
#include "core/motion/happening_words.hpp"

namespace aspen::core {
namespace {

using testing::Contains;
using testing::DoubleNear;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::Pointwise;

TEST(SmallNumbers, MedianIntervalHoldsTheMedianWithAtLeastNinetyInAHundred) {
    // Pascal's triangle says how likely a pair of order statistics misses the median.
    for (int n = 1; n <= 40; ++n) {
        std::vector<double> values;
        for (int i = 1; i <= n; ++i) values.push_back(i);
        const auto found = median_interval(values);
        std::vector<double> row{1};
        for (int i = 0; i < n; ++i) {
            row.push_back(0);
            for (std::size_t k = row.size() - 1; k > 0; --k) row[k] += row[k - 1];
        }
        const auto covers = [&](int k) {
            double out = 0;
            for (int i = 0; i < k; ++i) out += row[static_cast<std::size_t>(i)];
            return 1 - 2 * out / std::pow(2.0, n);
        };
        if (n < 5) {
            EXPECT_FALSE(found) << n;
            continue;
        }
        ASSERT_TRUE(found) << n;
        const int k = static_cast<int>(found->first);
        EXPECT_EQ(found->second, n + 1 - k);
        EXPECT_GE(covers(k), 0.9) << n;
        EXPECT_LT(covers(k + 1), 0.9) << n << ": a narrower pair would do";
    }
}

TEST(SmallNumbers, ShareOfNoneAndAll) {
    EXPECT_FALSE(wilson(0, 0));
    EXPECT_EQ(wilson(0, 8)->lo, 0);
    EXPECT_GT(wilson(0, 8)->hi, 0.2);
    EXPECT_EQ(wilson(8, 8)->hi, 1);
    EXPECT_NEAR(wilson(8, 8)->lo, 1 - wilson(0, 8)->hi, 1e-12);
}

TEST(Delays, AreFromTheLastFirstToTheNextSecond) {
    const auto r =
        sum_up({{0, "aid"}, {1, "aid"}, {1.5, "answer"}, {2.0, "answer"}, {2.5, "aid_off"}, {9, "aid"}});
    ASSERT_EQ(r.delays.size(), 4u);
    EXPECT_THAT(r.delays[0].all_s, ElementsAre(0.5)) << "the first aid had no answer before the second";
    EXPECT_THAT(r.delays[1].all_s, ElementsAre(0.5)) << "from the second answer";
    EXPECT_EQ(r.delays[2].n(), 0);
    EXPECT_EQ(r.got_by.at("unsaid"), 2) << "both answers follow the second aid";
}

TEST(GotBy, IsTheLastAidBeforeEachAnswer) {
    const auto r = sum_up({{0, "answer"},
                           {1, "aid", "with=calf lead=left"},
                           {2, "aid", "with=heel"},
                           {3, "answer"},
                           {4, "aid", "with=calf"},
                           {5, "answer"}});
    EXPECT_EQ(r.got_by.at("heel"), 1);
    EXPECT_EQ(r.got_by.at("calf"), 1);
    EXPECT_EQ(r.got_by.at("unsaid"), 0) << "an answer before any aid was got by none";
}

TEST(Runs, GoFromSetAgainToLetGo) {
    const auto r = sum_up({{2, "rise"},
                           {6, "let_go", "what=heel_up"},
                           {7, "let_go"},
                           {8, "set_again"},
                           {9, "set_again"},
                           {18, "let_go", "what=heel_up"},
                           {20, "set_again"},
                           {23, "sit"}});
    EXPECT_THAT(r.runs_s, ElementsAre(4, 10, 3)) << "from the file's first event; the open one to its last";
    EXPECT_EQ(r.longest_run_s(), 10);
    EXPECT_EQ(r.let_go_first.at("heel_up"), 2);
    EXPECT_EQ(whole_strides(10, 78), 13);
    EXPECT_EQ(whole_strides(2, 90), 3) << "three whole strides, not two by rounding";
    EXPECT_TRUE(sum_up({{0, "sit"}, {5, "rise"}}).runs_s.empty()) << "nobody spoke of a position";
}

TEST(Laps, AreTimedBetweenCrossings) {
    const auto r =
        sum_up({{0, "lap_line"}, {40, "break"}, {60, "lap_line"}, {122, "lap_line"}, {186, "lap_line"}});
    EXPECT_THAT(r.laps_s, ElementsAre(60, 62, 64));
    EXPECT_EQ(*r.fastest_clean_s(), 62) << "the first had a break in it";
    EXPECT_DOUBLE_EQ(*slope(r.laps_s), 2);
    EXPECT_NEAR(*cv_pct(r.laps_s), 100 * 2.0 / 62, 1e-9);
    EXPECT_FALSE(slope(sum_up({{0, "lap_line"}, {60, "lap_line"}}).laps_s));
}

TEST(Attempts, AGoodOneMarksTheLatestThatIsNotMarked) {
    const auto r = sum_up(
        {{0, "good_one"}, {1, "attempt"}, {2, "attempt"}, {3, "good_one"}, {4, "good_one"}, {5, "good_one"}});
    EXPECT_EQ(r.attempts, 4) << "two tries, and two good ones that were none before";
    EXPECT_EQ(r.good, 4);
}

TEST(Leads, CountUnderTheLeadThatWasAsked) {
    const auto r = sum_up({{0, "rein_right"},
                           {1, "aid", "lead=left"},
                           {3, "lead_right"},   // asked for left: wrong, under left
                           {10, "lead_right"},  // no aid: the rein says right, and right it is
                           {20, "lead_left"},   // wrong on this rein
                           {30, "lead_right"},
                           {34, "wrong_lead"},  // marks that one
                           {36, "wrong_lead"},  // six seconds after it: one of its own, under the rein
                           {50, "aid", "lead=right"},
                           {55, "wrong_lead"}});
    EXPECT_EQ(r.left.taken, 0);
    EXPECT_EQ(r.left.wrong, 1);
    EXPECT_EQ(r.right.taken, 1);
    EXPECT_EQ(r.right.wrong, 4);
    const auto bare = sum_up({{0, "wrong_lead"}, {10, "lead_left"}});
    EXPECT_EQ(bare.left.taken, 1);
    EXPECT_EQ(bare.left.wrong + bare.right.wrong, 0) << "asked of nothing: it stands in counts alone";
    EXPECT_EQ(bare.counts.at("wrong_lead"), 1);
}

// In a counter-canter the other lead belongs to the rein.
TEST(Leads, ACounterCanterIsNoWrongLead) {
    const auto r = sum_up({{0, "rein_right"},
                           {1, "lead_left", "movement=counter_canter"},
                           {20, "lead_right", "movement=counter_canter"},
                           {40, "aid", "lead=right"},
                           {41, "lead_right", "movement=counter_canter"}});
    EXPECT_EQ(r.left.taken, 1);
    EXPECT_EQ(r.left.wrong, 1) << "the true lead where the other was meant";
    EXPECT_EQ(r.right.taken, 1) << "what was asked goes before";
    EXPECT_EQ(lead_on("left", ""), "left");
    EXPECT_EQ(lead_on("", "movement=counter_canter"), "");
}

// Trouble is often tied to a spot (common practice, no source).
TEST(Places, AreSaidWhereTroubleComesAgain) {
    const auto r = sum_up({{0, "break", "at=corner_AK"},
                           {9, "break", "at=K"},
                           {20, "break", "at=corner_AK"},
                           {30, "pole", "at=pole_left"},
                           {40, "pole", "at=pole_left"},
                           {50, "spook", "at=C"}});
    EXPECT_EQ(r.places.at("break").at("corner_AK"), 2);
    const auto said = in_words(r, std::nullopt);
    EXPECT_THAT(said, Contains("Break of gait: 2 of 3 in the corner between A and K"));
    EXPECT_THAT(said, Contains("Pole: 2 of 2 left of the pole's middle"));
    EXPECT_THAT(said, testing::Not(Contains(HasSubstr("Spook")))) << "once is no spot";
    EXPECT_EQ(spoken({0, "break", "gait=trot at=corner_AK"}),
              "break of gait, trot, in the corner between A and K");
}

TEST(GotBy, SeatAndBreathAreAidsToo) {
    const auto r = sum_up({{0, "aid", "with=breath"}, {1, "answer"}, {5, "aid", "with=seat"}, {6, "answer"}});
    EXPECT_EQ(r.got_by.at("breath"), 1);
    EXPECT_EQ(r.got_by.at("seat"), 1);
    EXPECT_EQ(r.got_by.at("unsaid"), 0);
    EXPECT_EQ(spoken({0, "half_halt", ""}), "half-halt");
}

TEST(Groups, HoldWhatFollowsFromTheirFirstEvent) {
    const auto r = sum_up({{0, "aid"},
                           {1, "rein_left"},
                           {2, "answer"},
                           {3, "attempt", "gait=trot bout=1"},
                           {4, "rein_right"},
                           {5, "good_one"}});
    ASSERT_EQ(r.groups.size(), 4u);
    EXPECT_FALSE(r.groups[0].rein);
    EXPECT_EQ(r.groups[0].delays[0].n(), 1) << "the delay belongs to its aid";
    EXPECT_EQ(r.groups[1].rein, "left");
    EXPECT_EQ(r.groups[1].counts.at("answer"), 1);
    EXPECT_EQ(r.groups[1].got_by.at("unsaid"), 1) << "the answer itself was counted on the left rein";
    EXPECT_EQ(r.groups[2].gait, "trot");
    EXPECT_EQ(r.groups[2].bout, "1");
    EXPECT_EQ(r.groups[2].good, 1) << "the try it marks was in this bout";
    EXPECT_EQ(r.groups[3].rein, "right");
    EXPECT_EQ(r.groups[3].gait, "trot") << "goes on until something else is said";
}

TEST(Together, NoPairSpansTwoClips) {
    const auto a = sum_up({{0, "lap_line"}, {60, "lap_line"}, {61, "aid"}});
    const auto b = sum_up({{0, "answer"}, {5, "lap_line"}, {70, "lap_line"}});
    const auto r = together({a, b});
    EXPECT_THAT(r.laps_s, ElementsAre(60, 65));
    EXPECT_EQ(r.delays[0].n(), 0);
    EXPECT_EQ(r.counts.at("lap_line"), 4);
    ASSERT_EQ(r.groups.size(), 1u);
    EXPECT_EQ(r.groups[0].laps_s.size(), 2u);
    EXPECT_EQ(together({}).delays.size(), 4u);
}

TEST(InWords, SayWhatACoachCanUse) {
    const auto lines = in_words(sum_up({{0, "rein_left"},
                                        {1, "aid", "with=calf"},
                                        {1.8, "answer"},
                                        {3.9, "aid_off"},
                                        {10, "set_again"},
                                        {22, "let_go", "what=heel_up"}}),
                                78);
    EXPECT_THAT(lines, Contains(HasSubstr("From aid to answer 0.8 s")));
    EXPECT_THAT(lines, Contains(HasSubstr("it nags"))) << "2.1 s is longer than a stride of 0.77 s";
    EXPECT_THAT(lines, Contains(HasSubstr("about 28 strides")));
    EXPECT_THAT(lines, Contains(HasSubstr("Let go first: heel up 1")));
    EXPECT_TRUE(in_words(sum_up({}), 78).empty());
}

TEST(Detail, IsReadAndSaidByKey) {
    EXPECT_EQ(detail_of("with=calf lead=left", "lead"), "left");
    EXPECT_EQ(detail_of("withers=1", "with"), "");
    EXPECT_EQ(detail_with("with=calf lead=left", "with", "heel"), "lead=left with=heel");
    EXPECT_EQ(detail_with("with=calf", "with", ""), "");
}

TEST(Ground, OverstepInHoovesAndStepsBeforeAPole) {
    const auto sums =
        ground_sums({{0, 26, 100}, {1, -13, 100}, {2, 40, 0}},
                    {{0, 100, 0}, {1, 102, 0}, {2, 98, 0}, {7.5, 90, 0}, {8.2, 85, 0}, {9, 80, 0}}, {9.6});
    EXPECT_THAT(sums.overstep_hooves, Pointwise(DoubleNear(1e-9), {2.0, -1.0}));
    EXPECT_EQ(sums.overstep_unscaled, 1);
    EXPECT_THAT(sums.before_pole, ElementsAre(DoubleNear(0.85, 1e-9)));
    EXPECT_THAT(in_words(sums), Contains(HasSubstr("they shorten")));
    EXPECT_TRUE(ground_sums({}, {{8, 80, 0}}, {9}).before_pole.empty()) << "nothing usual to hold it against";
}

// Two up, one down: the count that comes most often is the rider's, and where it was lost is said.
TEST(Counts, AreKeptOrLostRoundByRound) {
    std::vector<Happening> events;
    double t = 0;
    const auto round = [&](int rises, int sits) {
        for (int i = 0; i < rises; ++i) events.push_back({t += 0.4, "rise"});
        for (int i = 0; i < sits; ++i) events.push_back({t += 0.4, "sit"});
    };
    round(2, 1);
    round(2, 1);
    EXPECT_FALSE(counts_kept(events)) << "two rounds, the second perhaps not at its end";
    round(2, 2);
    round(2, 1);
    round(2, 1);
    events.push_back({t += 0.4, "rise"});
    const auto kept = counts_kept(events);
    ASSERT_TRUE(kept);
    EXPECT_EQ(kept->rises, 2);
    EXPECT_EQ(kept->sits, 1);
    EXPECT_EQ(kept->rounds, 5);
    EXPECT_EQ(kept->kept, 4);
    ASSERT_EQ(kept->off_s.size(), 1U);
    EXPECT_NEAR(kept->off_s[0], 7 * 0.4, 1e-9) << "two sits in a row";
    EXPECT_EQ(in_words(kept), "Up 2, sit 1, kept in 4 of 5 rounds; not at 2.8 s");
    EXPECT_EQ(in_words(std::optional<CountsKept>{}), "");
    EXPECT_FALSE(counts_kept({{1, "sit"}, {2, "sit"}}));
}

TEST(Ground, ALapLineIsCrossedOnceALapTheSameWay) {
    std::vector<PlaceAt> way;
    for (int i = 0; i <= 900; ++i) {  // three rounds of ten seconds
        const double w = 2 * std::numbers::pi * i / 300;
        way.push_back({i / 30.0, {100 * std::cos(w), 60 * std::sin(w)}});
    }
    const auto at = crossings(way, {0, 30}, {0, 90});
    ASSERT_EQ(at.size(), 3U);
    EXPECT_NEAR(at[0], 2.5, 0.01);
    EXPECT_NEAR(at[1] - at[0], 10, 0.01);
    EXPECT_TRUE(crossings(way, {0, 10}, {0, 30}).empty()) << "inside the track nobody passes";
    EXPECT_TRUE(crossings(way, {0, 30}, {0, 30}).empty());
    std::vector<PlaceAt> dithers{{0, {-1, 50}}, {1, {1, 50}},  {1.5, {-1, 50}},
                                 {2, {1, 50}},  {9, {-1, 50}}, {10, {1, 50}}};
    EXPECT_EQ(crossings(dithers, {0, 30}, {0, 90}).size(), 2U)
        << "back and forth on the line is one crossing";
}

}  // namespace
}  // namespace aspen::core
