// What counts as a change, against published formulas, tables and simulation.

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/core_support.hpp"
#include "core/following/following.hpp"
#include "core/following/repeatability.hpp"
#include "core/measures/student.hpp"
#include "core/motion/small_numbers.hpp"

namespace aspen::core {
namespace {

// Weir 2005, "Quantifying test-retest reliability using the intraclass correlation coefficient and the SEM":
// the minimal difference to be considered real is SEM * 1.96 * sqrt(2) (formula from memory).
TEST(Weir2005, MinimalDifference) {
    for (const double sem : {0.4, 1.0, 2.7}) {
        ReviewValue a, b;
        a.sd = b.sd = sem;
        EXPECT_NEAR(smallest_change(a, b, 0), sem * 1.96 * std::sqrt(2.0), 1e-12);
    }
}

// Student's t, one-sided 5 %, as printed in any table (from memory).
TEST(StudentsT, Table) {
    const std::pair<int, double> table[] = {{1, 6.314},  {2, 2.920},  {3, 2.353},  {4, 2.132},
                                            {5, 2.015},  {8, 1.860},  {10, 1.812}, {15, 1.753},
                                            {20, 1.725}, {30, 1.697}, {60, 1.671}, {120, 1.658}};
    for (const auto& [df, t] : table) EXPECT_NEAR(t_quantile_95(df), t, 6e-4) << df;
}

// Shrout & Fleiss 1979, "Intraclass correlations: uses in assessing rater reliability", table 2: six targets
// by four judges, with the printed correlations.
TEST(ShroutFleiss1979, SixTargetsByFourJudges) {
    const Ratings table{{9, 2, 5, 8}, {6, 1, 3, 2}, {8, 4, 6, 8}, {7, 1, 2, 6}, {10, 5, 6, 9}, {6, 2, 4, 7}};
    const Intraclass icc = intraclass(table);
    EXPECT_NEAR(icc.icc_1_1, 0.17, 0.005);
    EXPECT_NEAR(icc.icc_2_1, 0.29, 0.005);
    EXPECT_NEAR(icc.icc_3_1, 0.71, 0.005);
    EXPECT_THROW(intraclass({{1, 2}}), std::runtime_error);
    EXPECT_THROW(intraclass({{1, 2}, {3}}), std::runtime_error);
}

// Bland & Altman 1986, "Statistical methods for assessing agreement between two methods of clinical
// measurement": peak flow of 17 subjects by two meters, first readings (table from memory); printed: mean
// difference -2.1 l/min, standard deviation 38.8, limits -79.7 and 75.5.
TEST(BlandAltman1986, PeakFlow) {
    const double large[] = {494, 395, 516, 434, 476, 557, 413, 442, 650,
                            433, 417, 656, 267, 478, 178, 423, 427};
    const double mini[] = {512, 430, 520, 428, 500, 600, 364, 380, 658,
                           445, 432, 626, 260, 477, 259, 350, 451};
    const Agreement a = agreement(large, mini);
    EXPECT_NEAR(a.mean, -2.1, 0.05);
    EXPECT_NEAR(a.sd, 38.8, 0.05);
    EXPECT_NEAR(a.lo, -79.7, 0.1);
    EXPECT_NEAR(a.hi, 75.5, 0.1);
}

// Newcombe 1998, "Two-sided confidence intervals for the single proportion", table I, method 3 (score,
// without continuity correction), 95 % (printed values from memory).
TEST(Newcombe1998, WilsonsInterval) {
    const std::tuple<int, int, double, double> printed[] = {
        {81, 263, 0.2553, 0.3662}, {15, 148, 0.0624, 0.1605}, {0, 20, 0.0, 0.1611}, {1, 29, 0.0061, 0.1718}};
    for (const auto& [good, of, lo, hi] : printed) {
        const auto share = wilson(good, of, 1.959964);
        ASSERT_TRUE(share);
        EXPECT_NEAR(share->lo, lo, 5e-5) << good << " of " << of;
        EXPECT_NEAR(share->hi, hi, 5e-5) << good << " of " << of;
    }
}

// A click error that is put in comes out again, from three frames of twelve joints marked twice.
TEST(Simulation, TheCoachsOwnClickErrorIsFoundAgain) {
    std::mt19937 engine(3);
    std::normal_distribution<double> off(0, 2.4);
    double sum = 0;
    for (int coach = 0; coach < 200; ++coach) {
        std::vector<MarkedTwice> pairs;
        for (int frame = 0; frame < 3; ++frame) {
            for (int joint = 0; joint < 12; ++joint)
                pairs.push_back({1, frame, {off(engine), off(engine)}, {off(engine), off(engine)}});
        }
        const ClickError e = click_error(pairs);
        EXPECT_EQ(e.frames, 3);
        sum += e.sd_px;
    }
    EXPECT_NEAR(sum / 200, 2.4, 0.05);
}

// A rider who does not change, filmed twice with another camera each time: how often a change is claimed.
// The interval is two-sided at 95 %, so one in twenty is what it promises; never much more, whatever n.
TEST(Simulation, ARiderWhoDoesNotChangeIsRarelySaidTo) {
    const MeasureInfo& heel = *find_measure("heel_offset");
    const Body& body = test::knowledge().body;
    std::mt19937 engine(7);
    std::normal_distribution<double> normal(0, 1);
    const double click = 1.2, stride = 2.5, camera = 1.8, form = usual_form(heel, body);
    for (const int n : {1, 2, 3, 6, 12}) {
        int claimed = 0;
        const int trials = 4000;
        for (int k = 0; k < trials; ++k) {
            std::optional<ReviewValue> both[2];
            for (auto& ride : both) {
                const double roll = camera * normal(engine) + form * normal(engine);
                std::vector<MomentValue> m;
                for (int i = 0; i < n; ++i)
                    m.push_back(
                        {roll + stride * normal(engine) + click * normal(engine), click, camera, 0, 0, 0, 0});
                ride = mean_of(m, Band{-6, 6, 6, {}, {}}, heel, body);
            }
            claimed += changed(*both[0], *both[1], form);
        }
        const double share = static_cast<double>(claimed) / trials;
        EXPECT_LT(share, 0.065) << n << " moments";
        if (n >= 6) {
            EXPECT_GT(share, 0.01) << n << " moments: not blunt either";
        }
    }
}

}  // namespace
}  // namespace aspen::core
