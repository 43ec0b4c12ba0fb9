// What is said over strides and at an instant, against riders whose motion is
// known: the intervals hold what they say they hold, in white noise and in
// noise that goes on, from three strides on.

#include <gmock/gmock.h>

#include "core/measures/student.hpp"
#include "core/motion/motion_words.hpp"
#include "core/ridden.hpp"

namespace aspen::core {
namespace {

using namespace ridden;
using test::knowledge;
using testing::HasSubstr;

TEST(Student, AsPrinted) {
    // Two-sided 90 %, as in any table (from memory), and between the rows.
    for (const auto& [df, t] : {std::pair{1.0, 6.314}, {2.0, 2.920}, {5.0, 2.015}, {30.0, 1.697}})
        EXPECT_NEAR(t_quantile_95(df), t, 6e-4) << df;
    EXPECT_GT(t_quantile_95(1.5), 2.920);
    EXPECT_LT(t_quantile_95(1.5), 6.314);
    EXPECT_NEAR(t_two_sided(2.571, 5), 0.05, 1e-4);
}

TEST(Student, NeighboursThatAreAlikeAreWorthLess) {
    std::vector<std::optional<double>> swings, trend;
    for (int i = 0; i < 20; ++i) swings.emplace_back(i % 2), trend.emplace_back(i);
    EXPECT_EQ(neighbours_correlation(swings), 0);
    EXPECT_GT(neighbours_correlation(trend), 0.6);
    EXPECT_EQ(neighbours_correlation(std::vector<std::optional<double>>{1.0, 2.0}), kUsualCorrelation);
    EXPECT_DOUBLE_EQ(worth(12, 0.2), 8);
}

/// Shares of riders whose true swing the stated 90 % holds; each stride swings
/// as it likes, neighbours alike.
double held(int strides, double fps, double noise_px, double keeps, double alike) {
    constexpr int kRiders = 120;
    int holds = 0, all = 0;
    for (unsigned seed = 1; seed <= kRiders; ++seed) {
        std::mt19937 random(seed * 7919);
        std::normal_distribution<double> unit;
        std::vector<double> more{unit(random)};
        for (int i = 1; i < strides + 4; ++i)
            more.push_back(alike * more.back() + std::sqrt(1 - alike * alike) * unit(random));
        Ridden r;
        r.fps = fps;
        r.seconds = (strides + 0.75) * r.stride_s;
        r.noise_px = noise_px;
        r.keeps = keeps;
        r.seed = seed;
        r.swings_at = 0.25;  // the leg hangs where strides begin: none of them takes
                             // from its neighbour
        r.more_swing_deg = [&](double t) {
            return 2 * more[std::min(more.size() - 1, static_cast<std::size_t>(t / r.stride_s + 0.5))];
        };
        MotionSetting s = setting_of(r);
        s.camera = {0, 0, 0, 0, true, true};
        const MotionReport report = report_of(r, s);
        const MotionMeasure& swing = of(report, "leg_swing");
        if (!swing.value) continue;
        ++all;
        holds += std::abs(*swing.value - r.swing_deg) <= kNinetyPercent * swing.sd;
    }
    EXPECT_GE(all, kRiders * 9 / 10) << strides;
    return static_cast<double>(holds) / all;
}

TEST(MotionErrors, AMeanOverStridesHoldsWhatItSays) {
    struct Case {
        int strides;
        double fps, noise_px, keeps, alike;
    };
    for (const Case& c : {Case{3, 30, 1, 0, 0}, Case{3, 60, 1, 0.8, 0.4}, Case{5, 24, 1, 0, 0.2},
                          Case{8, 30, 1, 0.7, 0.4}, Case{8, 120, 1, 0.9, 0}, Case{16, 30, 1, 0, 0.4}}) {
        const double share = held(c.strides, c.fps, c.noise_px, c.keeps, c.alike);
        std::printf(
            "%2d strides at %3.0f a second, noise %.1f, strides alike "
            "%.1f: the 90 %% holds %.0f %%\n",
            c.strides, c.fps, c.keeps, c.alike, 100 * share);
        EXPECT_GE(share, 0.79) << c.strides << ": 85 in a hundred, by the luck of 120 riders";
        EXPECT_LE(share, 0.99) << c.strides;
    }
}

// By hand: two joints pulled by 3 px each at the ends of a shin of half a leg.
TEST(MotionErrors, WhatFollowingPullsStandsInTheError) {
    const Ridden r;
    MotionSetting s = setting_of(r);
    s.camera = {0, 0, 0, 0, true, true};
    const double without = of(report_of(r, s), "leg_swing").sd;
    s.follow_sd_px = 3;
    const double pulled = degrees(std::sqrt(2.0) * 3 / (kLegPx / 2));
    EXPECT_NEAR(of(report_of(r, s), "leg_swing").sd, std::hypot(without, pulled), 0.01);
}

TEST(MotionErrors, AnUnevenTrotIsSaidAndKeepsItsTempo) {
    Ridden r;
    for (const double uneven : {0.4, 0.5, 0.8}) {
        r.uneven = uneven;
        r.noise_px = 1;
        const MotionReport m = report_of(r);
        ASSERT_TRUE(m.tempo_per_min) << uneven;
        EXPECT_NEAR(*m.tempo_per_min, 60 / r.stride_s, 1.5) << uneven;
        ASSERT_TRUE(m.uneven) << uneven;
        EXPECT_NEAR(*m.uneven, uneven, 0.15);
        EXPECT_EQ(of(m, "rise_phase").reason, kUnevenTrot);
        EXPECT_FALSE(of(m, "seat_rise").value);
        EXPECT_TRUE(of(m, "leg_swing").value) << "the leg is judged all the same";
        EXPECT_THAT(in_words(m, setting_of(r), test::knowledge().spoken()),
                    testing::Contains(HasSubstr("Have the horse looked at")));
    }
    for (const double even : {0.0, 0.15}) {
        r.uneven = even;
        EXPECT_FALSE(report_of(r).uneven) << even;
    }
    r.seconds = 2.6;
    r.uneven = 0;
    for (r.seed = 1; r.seed < 40; ++r.seed) {
        r.noise_px = 2;
        EXPECT_FALSE(report_of(r).uneven) << "noise in three strides is no lameness: " << r.seed;
    }
}

TEST(MotionErrors, TheWayToAFenceIsCanteredOrTrotted) {
    Ridden r;
    r.canter = true;
    r.stride_s = 0.6;
    MotionSetting s = setting_of(r);
    s.setting.gait = Gait::jump;
    s.setting.seat = Seat::two_point;
    EXPECT_NEAR(*report_of(r, s).tempo_per_min, 100, 1) << "every bounce of a canter is a stride";
    r.canter = false;
    r.stride_s = 0.77;
    EXPECT_NEAR(*report_of(r, s).tempo_per_min, 60 / 0.77, 1) << "every second of a trot";
}

TEST(MotionErrors, AHeldRunEndsWhereSomethingWasLost) {
    Ridden r;
    r.lean_deg = [](double) { return 2.0; };
    r.swing_deg = 0;
    MotionSetting s = setting_of(r);
    s.hold = {"trunk_lean"};
    const MotionReport whole = report_of(r, s);
    const int all = static_cast<int>(whole.strides.size());
    EXPECT_EQ(*of(whole, "strides_held").value, all);
    EXPECT_FALSE(of(whole, "strides_held").words.contains("at_least"));
    // The shoulder is lost from the fourth stride on to the last but two.
    r.seen = [&](double t, L l) { return l != L::shoulder || t < 2.4 || t > 7; };
    const MotionReport lost = report_of(r, s);
    EXPECT_LE(*of(lost, "strides_held").value, 3);
    EXPECT_EQ(of(lost, "strides_held").words.at("at_least"), "trunk_lean");
    EXPECT_THAT(in_words(lost, s, test::knowledge().spoken()), testing::Contains(HasSubstr("at least")));
}

MotionMeasure measured(const char* id, double value, double sd, const char* unit = "deg") {
    MotionMeasure m;
    m.id = id;
    m.unit = unit;
    m.value = value;
    m.sd = sd;
    m.verdict = Verdict::no_band;
    return m;
}

TEST(MotionErrors, WhatIsSaidHasADirectionOrSaysThatItCannotBeTold) {
    FenceSeen f;
    f.measures = {measured("leg_slip", -14, 2), measured("fold", 22, 3), measured("release", 3, 4, "%"),
                  measured("seat_early_ms", 120, 20, "ms"), measured("after_landing_leg", -9, 1)};
    EXPECT_EQ(said_of(f, test::knowledge().spoken()),
              "the seat leaves 120 ms before the horse, the leg "
              "slips back by 14°, folds 22° further, the "
              "hand stays, "
              "as far as can be told, lower leg 9° behind the plumb "
              "line after landing");
    f.measures = {measured("leg_slip", -14, 10)};
    EXPECT_EQ(said_of(f, test::knowledge().spoken()), "whether the leg slips cannot be told");
    MotionReport r;
    r.tempo_per_min = 78;
    r.tempo_cv_pct = 1;
    MotionSetting s;
    s.seat_said = true;
    s.setting.gait = Gait::trot;
    s.setting.seat = Seat::rising;
    const auto rise = [&](double value, double sd) {
        r.measures = {measured("rise_phase", value, sd)};
        return in_words(r, s, test::knowledge().spoken());
    };
    EXPECT_THAT(rise(0.13, 0.09), testing::Contains(HasSubstr("cannot be told")));
    EXPECT_THAT(rise(0.13, 0.02), testing::Contains(HasSubstr("comes a tenth of a stride late")));
    EXPECT_THAT(rise(0.01, 0.02), testing::Contains(HasSubstr("comes with the horse")));
}

/// A fence at 5 s, in the air for 0.6: the trunk folds, the leg slips, the hand
/// goes, and the seat is off early.
Ridden over_a_fence(unsigned seed, double keeps) {
    Ridden r;
    r.canter = true;
    r.stride_s = 0.6;
    r.fps = 50;
    r.loop_f = r.loop_u = 0;
    r.noise_px = 1.5;
    r.keeps = keeps;
    r.seed = seed;
    const auto hump = [](double t) {
        return t < 5 || t > 5.6 ? 0 : std::pow(std::sin(std::numbers::pi * (t - 5) / 0.6), 2);
    };
    r.lean_deg = [hump](double t) { return 20 + 15 * hump(t); };
    r.leg_deg = [hump](double t) { return -12 * hump(t); };
    r.hand_px = [hump](double t) { return 24 * hump(t); };
    r.swing_deg = 0;
    return r;
}

TEST(MotionErrors, WhatIsReadAtAnInstantHoldsWhatItSays) {
    std::map<std::string, std::pair<int, int>> held;
    constexpr int kRiders = 24;
    for (unsigned seed = 1; seed <= kRiders; ++seed) {
        const Ridden r = over_a_fence(seed, seed % 2 ? 0 : 0.7);
        MotionSetting s = setting_of(r);
        s.setting.gait = Gait::jump;
        s.setting.seat = Seat::two_point;
        s.camera = {0, 0, 0, 0, true, true};
        s.events = {{5.0, "take_off", ""}, {5.6, "landing", ""}};
        const MotionReport m = report_of(r, s);
        for (const auto& [id, truth] : {std::pair{"fold", 15.0}, {"leg_slip", -12.0}, {"release", 12.0}}) {
            const MotionMeasure& one = of(m, id);
            ASSERT_TRUE(one.value) << id << one.reason;
            EXPECT_GT(one.sd, 0.1) << id;
            auto& [in, all] = held[id];
            in += std::abs(*one.value - truth) <= kNinetyPercent * one.sd;
            ++all;
        }
    }
    for (const auto& [id, n] : held) {
        std::printf("%s: the 90 %% holds %d of %d\n", id.c_str(), n.first, n.second);
        EXPECT_GE(n.first, n.second * 80 / 100) << id;
    }
}

TEST(MotionErrors, ALagHoldsWhatItSays) {
    int in = 0, all = 0;
    constexpr int kRiders = 24;
    double stated = 0, off = 0;
    for (unsigned seed = 1; seed <= kRiders; ++seed) {
        Ridden r;
        r.camera = true;
        r.fps = std::array{24, 30, 60}[seed % 3];
        r.noise_px = 1.5;
        r.keeps = seed % 2 ? 0 : 0.7;
        r.seed = seed;
        // Pace is taken up at 4 s within 0.8; the trunk answers 120 ms later.
        const auto pull = [](double t) { return std::exp(-std::pow((t - 4.4) / 0.35, 2)); };
        r.travel_px = [](double t) {
            // Twice the integral of the pull, 240 px a second squared at its height.
            const double z = (t - 4.4) / 0.35;
            return 240 * 0.35 * 0.35 * (z * std::erf(z) + std::exp(-z * z) / std::sqrt(std::numbers::pi)) *
                   std::sqrt(std::numbers::pi) / 2;
        };
        r.lean_deg = [pull](double t) { return 5 - 12 * pull(t - 0.12); };
        MotionSetting s = setting_of(r);
        s.camera = {0, 0, 0, 0, true, true};
        s.change_at_s = 4.2;
        const MotionReport m = report_of(r, s);
        const MotionMeasure& lag = of(m, "trunk_lag_ms");
        if (!lag.value) continue;
        ++all;
        stated += lag.sd;
        off += std::pow(*lag.value - 120, 2);
        in += std::abs(*lag.value - 120) <= kNinetyPercent * lag.sd;
    }
    ASSERT_GE(all, kRiders / 2);
    std::printf("trunk_lag_ms: the 90 %% holds %d of %d, +- %.0f stated, %.0f true\n", in, all, stated / all,
                std::sqrt(off / all));
    EXPECT_GE(in, all * 80 / 100);
    EXPECT_LE(stated / all, 1.6 * std::sqrt(off / all)) << "no more cautious than it has to be";
}

}  // namespace
}  // namespace aspen::core
