// Measures over strides, against riders whose motion is known: every joint goes by sines that are written
// down here.

#include <gmock/gmock.h>

#include <cmath>
#include <random>
#include <set>

#include "core/core_support.hpp"
#include "core/motion/hip_loop.hpp"
#include "core/motion/motion.hpp"
#include "core/motion/motion_curves.hpp"
#include "core/motion/motion_words.hpp"
#include "core/motion/series.hpp"
#include "core/ridden.hpp"

namespace aspen::core {
namespace {

using L = Landmark;
using test::knowledge;
using testing::HasSubstr;
using namespace ridden;

TEST(Motion, FindsWhatWasRidden) {
    const Ridden r;
    const auto m = report_of(r);
    EXPECT_EQ(m.stride_source, "withers");
    EXPECT_EQ(m.parity, "unknown");
    EXPECT_NEAR(*m.tempo_per_min, 60 / 0.77, 0.3);
    EXPECT_LT(*m.tempo_cv_pct, 1);
    EXPECT_NEAR(*of(m, "leg_swing").value, 10, 0.05);
    EXPECT_EQ(of(m, "leg_swing").verdict, Verdict::outside) << "up to 8 degrees is quiet in the rise";
    EXPECT_NEAR(*of(m, "seat_rise").value, 8, 0.05);
    EXPECT_NEAR(*of(m, "rise_phase").value, 0.05, 0.003);
    EXPECT_NEAR(*of(m, "hand_bounce").value, 100 * 10 / kTrunkPx, 0.1);
    EXPECT_NEAR(*of(m, "trunk_swing").value, 0, 0.02);
    EXPECT_EQ(of(m, "chin_nod").reason, "ear not followed");
    EXPECT_THAT(of(m, "hip_loop_width").reason, HasSubstr("only in canter"));
}

TEST(Motion, ARiderWhoIsEarlyHasTheOtherSign) {
    Ridden r;
    r.late = -0.08;
    EXPECT_NEAR(*of(report_of(r), "rise_phase").value, -0.08, 0.004);
    r.late = 0.25;
    r.noise_px = 1;
    EXPECT_EQ(of(report_of(r), "rise_phase").reason, "early or late cannot be told");
}

TEST(Motion, ATiltedCameraChangesNothingOnceItIsSaid) {
    Ridden r;
    r.roll_deg = 6;
    EXPECT_NEAR(*of(report_of(r), "leg_swing").value, 10, 0.05);
    EXPECT_NEAR(*of(report_of(r), "seat_rise").value, 8, 0.08);
}

TEST(Motion, TheHipsLoopInCanter) {
    Ridden r;
    r.canter = true;
    r.stride_s = 0.6;
    const auto m = report_of(r);
    EXPECT_EQ(m.parity, "") << "every lowest point is a stride";
    EXPECT_NEAR(*m.tempo_per_min, 100, 0.5);
    EXPECT_NEAR(*of(m, "hip_loop_width").value, 100 * 30 / kTrunkPx, 0.1);
    EXPECT_NEAR(*of(m, "hip_loop_height").value, 100 * 20 / kTrunkPx, 0.1);
    EXPECT_NEAR(*of(m, "hip_loop_tilt").value, 0, 0.2);
    EXPECT_EQ(of(m, "hip_loop_sense").words.at("sense"), "anticlockwise");
    // The hip is rearmost half a stride after the start, the withers highest there too.
    EXPECT_NEAR(*of(m, "hip_loop_phase").value, 0, 0.01);
    EXPECT_EQ(*of(m, "hip_still_pct").value, 0);
    r.loop_u = 14;
    EXPECT_THAT(of(report_of(r), "hip_loop_tilt").reason, HasSubstr("too round"));
}

TEST(Motion, AHoleOrAMissedBeatLosesItsStridesAndNoOthers) {
    Ridden r;
    const auto whole = report_of(r).strides.size();
    r.seen = [](double t, L) { return t < 3 || t > 3.4; };
    const auto m = report_of(r);
    EXPECT_LT(m.strides.size(), whole);
    EXPECT_GE(m.strides.size() + 3, whole);
    EXPECT_NEAR(*m.tempo_per_min, 60 / 0.77, 0.5);
    EXPECT_NEAR(*of(m, "leg_swing").value, 10, 0.1);
    r.seen = [](double t, L l) { return l != L::ankle || t < 3 || t > 3.07; };
    EXPECT_EQ(of(report_of(r), "leg_swing").strides, static_cast<int>(whole)) << "a short hole is bridged";
}

TEST(Motion, SaysWhatCannotBeSaid) {
    Ridden r;
    r.seconds = 1.6;
    EXPECT_EQ(of(report_of(r), "leg_swing").reason, "fewer than three whole strides");
    EXPECT_FALSE(report_of(r).tempo_per_min);
    EXPECT_TRUE(motion_of({}, setting_of(r), knowledge().body, knowledge().schools).strides.empty());
    r.seconds = 2 / r.fps;
    EXPECT_TRUE(report_of(r).strides.empty()) << "two frames";
    Ridden still;
    still.stride_s = 1e9;
    still.noise_px = 0.5;
    EXPECT_TRUE(report_of(still).strides.size() < 3 || !report_of(still).tempo_per_min) << "no rhythm";
    Ridden no_horse;
    no_horse.withers = false;
    const auto m = report_of(no_horse);
    EXPECT_EQ(m.stride_source, "rider");
    EXPECT_NEAR(*m.tempo_per_min, 60 / 0.77, 0.5) << "the riser goes down once a stride";
    EXPECT_EQ(of(m, "seat_rise").reason, "withers not followed");
    EXPECT_NEAR(*of(m, "leg_swing").value, 10, 0.1);
    MotionSetting bare = setting_of({}, "");
    EXPECT_EQ(of(report_of({}, bare), "leg_swing").verdict, Verdict::no_band);
    bare.view = View::rear;
    EXPECT_EQ(of(report_of({}, bare), "leg_swing").reason, "seen from the side only");
}

TEST(Motion, HowLongItHoldsAndWhatGoesFirst) {
    Ridden r;
    r.seconds = 14;
    r.swing_deg = 0;
    r.lean_deg = [](double t) { return t < 8 ? 6.0 : 40.0; };
    MotionSetting s = setting_of(r);
    s.hold = {"trunk_lean"};
    const auto m = report_of(r, s);
    EXPECT_NEAR(*of(m, "strides_held").value, 8 / 0.77, 1.6);
    EXPECT_EQ(of(m, "strides_held").words.at("lets_go_first"), "trunk_lean");
    r.lean_deg = [](double) { return 6.0; };
    const auto held = report_of(r, s);
    EXPECT_EQ(*of(held, "strides_held").value, static_cast<double>(held.strides.size()));
    EXPECT_FALSE(of(held, "strides_held").words.contains("lets_go_first"));
}

TEST(Motion, TheTrunkAnswersAChangeOfPaceLate) {
    Ridden r;
    r.seconds = 10;
    r.camera = true;
    // The horse gathers speed around the fifth second; the trunk answers its pull so much later.
    constexpr double kLate = 0.25;
    const auto pull = [](double t) { return std::exp(-std::pow((t - 5) / 0.8, 2)); };
    r.lean_deg = [pull](double t) { return 10 - 12 * pull(t - kLate); };
    r.travel_px = [pull](double t) {
        double v = 0, x = 0;
        for (double s = 0; s < t; s += 0.002) {
            v += 0.002 * 120 * pull(s);
            x += 0.002 * v;
        }
        return x;
    };
    MotionSetting s = setting_of(r);
    s.change_at_s = 5;
    const auto lag = of(report_of(r, s), "trunk_lag_ms");
    ASSERT_TRUE(lag.value) << lag.reason;
    EXPECT_NEAR(*lag.value, 1000 * kLate, 25);
    EXPECT_LT(lag.numbers.at("r"), -0.8) << "thrown back as the horse goes";
    r.camera = false;
    EXPECT_EQ(of(report_of(r, s), "trunk_lag_ms").reason, "the camera's motion is not known");
}

TEST(Motion, SeatLegAndTrunkOverAFence) {
    Ridden r;
    r.rise_pct = 0;
    r.swing_deg = 0;
    r.lean_deg = [](double t) { return t < 5 ? 10.0 : t < 5.6 ? 10 + 40 * (t - 5) : 10.0; };
    MotionSetting s = setting_of(r);
    s.events = {{5.0, "take_off"}, {5.6, "landing"}};
    const auto m = report_of(r, s);
    EXPECT_NEAR(*of(m, "fold").value, 24, 4) << "smoothing rounds the point";
    EXPECT_NEAR(*of(m, "leg_slip").value, 0, 0.1);
    EXPECT_NEAR(*of(m, "after_landing_leg").value, -20, 0.1);
    EXPECT_EQ(of(m, "seat_early_ms").reason, "the seat does not leave before take-off");
    EXPECT_EQ(of(report_of(r), "fold").reason, "no take-off and landing were logged");
}

// The outer leg is drawn back by the thigh for half a second after the aid, the trunk tips with it; the truth
// is what was drawn.
TEST(Motion, TheAidForACanterIsReadOnTheOuterLeg) {
    Ridden r;
    r.swing_deg = 0;
    r.rise_pct = 0;
    const auto given = [](double t) { return std::exp(-std::pow((t - 5.3) / 0.2, 2)); };
    r.lean_deg = [given](double t) { return 4 + 9 * given(t); };
    r.heel_back_px = [given](double t) { return 34 * given(t); };  // a tenth of the leg
    MotionSetting s = setting_of(r);
    s.events = {{5.0, "aid", "lead=left with=calf"}};
    const auto m = report_of(r, s);
    ASSERT_TRUE(of(m, "aid_leg_back").value) << of(m, "aid_leg_back").reason;
    EXPECT_NEAR(*of(m, "aid_leg_back").value, -10, 1.0) << "smoothing rounds the point";
    EXPECT_NEAR(*of(m, "aid_trunk").value, 9, 1.0);
    EXPECT_EQ(of(m, "aid_leg_back").verdict, Verdict::no_band);
    EXPECT_THAT(in_words(m, s, test::knowledge().spoken()),
                testing::Contains(HasSubstr("the trunk tips forward")));
    // Travelling right shows the right leg: for the right lead that is the inner one.
    s.events = {{5.0, "aid", "lead=right"}};
    EXPECT_EQ(of(report_of(r, s), "aid_leg_back").reason, "the outer leg is not seen");
    s.events = {{5.0, "aid", "with=calf"}};
    EXPECT_EQ(of(report_of(r, s), "aid_trunk").reason, "no aid for a lead was logged");
}

// In which part of the rise it was asked; beginners ask from sitting (common practice, no source).
TEST(Motion, SaysInWhichPartOfTheRiseTheCanterWasAsked) {
    Ridden r;
    r.late = 0;
    MotionSetting s = setting_of(r);
    std::set<std::string> said;
    for (const double part : {0.25, 0.75}) {  // the seat is highest at a quarter of the stride
        s.events = {{5 * r.stride_s + part * r.stride_s, "aid", "lead=left"}};
        const auto m = report_of(r, s);
        ASSERT_TRUE(of(m, "aid_trunk").words.contains("asked_in"));
        EXPECT_EQ(of(m, "aid_trunk").words.at("asked_in"), part < 0.5 ? "top of the rise" : "sitting");
    }
}

TEST(Motion, SlowMotionThatIsSaidIsTakenOut) {
    Ridden r;
    MotionSetting s = setting_of(r);
    Tracks slow = tracks_of(r);
    for (TrackPoint& p : slow.points) p.time_s *= 4;
    s.time_scale = 0.25;
    const auto m = motion_of(slow, s, knowledge().body, knowledge().schools);
    EXPECT_NEAR(*m.tempo_per_min, 60 / 0.77, 0.3);
}

// Noise lifts a swing, be it white or keep a part of itself from frame to frame as a tracker's does; what is
// stated holds the truth as often as it says.
class StatedErrors : public testing::TestWithParam<double> {};

TEST_P(StatedErrors, HoldTheTruthInNineOfTen) {
    std::map<std::string, int> inside;
    std::map<std::string, double> sum;
    constexpr int kRiders = 60;
    const std::map<std::string, double> truth{{"leg_swing", 10}, {"seat_rise", 8}, {"hand_bounce", 5}};
    for (int i = 0; i < kRiders; ++i) {
        Ridden r;
        r.noise_px = 1.5;
        r.keeps = GetParam();
        r.seconds = 14;
        r.seed = static_cast<unsigned>(100 + i);
        MotionSetting s = setting_of(r);
        s.camera.roll_sd_deg = s.camera.yaw_sd_deg = 0;  // it stood square and upright, and that is known
        const auto m = report_of(r, s);
        for (const auto& [id, value] : truth) {
            const MotionMeasure& one = of(m, id.c_str());
            inside[id] += std::abs(*one.value - value) <= kNinetyPercent * one.sd;
            sum[id] += *one.value / kRiders;
        }
    }
    for (const auto& [id, value] : truth) {
        EXPECT_NEAR(sum[id], value, (GetParam() > 0 ? 0.05 : 0.02) * value)
            << id << ": taken out of the mean";
        EXPECT_GE(inside[id], (GetParam() > 0 ? 0.70 : 0.80) * kRiders) << id;
        EXPECT_LE(inside[id], 0.97 * kRiders) << id;
    }
}
INSTANTIATE_TEST_SUITE_P(WhiteAndCorrelated, StatedErrors, testing::Values(0.0, 0.5));

TEST(NoiseLift, IsWhatRepeatedDrawsGive) {
    EXPECT_EQ(noise_in({0, {3, 0, 0}, {0, 0, 0}}, 0).lift, 0);
    // Large against the noise, one harmonic: each harmonic k lifts by k^2 variance / A (worked by hand).
    EXPECT_NEAR(noise_in({0, {20, 0, 0}, {0, 0, 0}}, 1).lift, 14.0 / 20, 0.25);
    // Two equal highest points: the noisier of them counts, which is a matter of the first order.
    EXPECT_GT(noise_in({0, {0, 20, 0}, {0, 0, 0}}, 1).lift, 1.5);
    EXPECT_NEAR(noise_in({0, {0, 0, 0}, {0, 0, 0}}, 1).lift, 5.6, 0.5) << "nothing but noise";
}

TEST(Series, HolesAndEndsStayWhatTheyAre) {
    const std::vector<double> grid{0, 0.1, 0.2, 0.3, 0.4};
    const std::vector<Sample> some{{0.1, 1}, {0.2, 2}, {0.4, 4}};
    const auto x = on_grid(some, grid);
    EXPECT_TRUE(std::isnan(x[0]));
    EXPECT_EQ(x[1], 1);
    EXPECT_TRUE(std::isnan(x[3])) << "a hole of 0.2 s is too long";
    std::vector<double> with_hole{1, 1, 1, 1, 1, std::nan(""), 5, 5, 5, 5, 5};
    smooth(with_hole, 30);
    EXPECT_NEAR(with_hole[4], 1, 1e-9) << "nothing leaks over a hole";
    EXPECT_TRUE(std::isnan(with_hole[5]));
    std::vector<double> turning{170, 178, -174, -166};
    unwrap(turning);
    EXPECT_EQ(turning.back(), 194);
    EXPECT_TRUE(even_times(std::vector<double>{1}).empty());
}

TEST(MotionCurves, RunAlongTheStretchAndCarryTheirBands) {
    Ridden r;
    r.swing_deg = 14;
    MotionSetting s = setting_of(r);
    const auto m = report_of(r, s);
    const auto curve = std::ranges::find(m.curves, "lower_leg", &MotionCurve::id);
    ASSERT_NE(curve, m.curves.end());
    ASSERT_EQ(curve->values.size(), m.times.size());
    const auto lean = std::ranges::find(m.curves, "trunk_lean", &MotionCurve::id);
    ASSERT_NE(lean, m.curves.end());
    ASSERT_TRUE(lean->band) << "classical, rising: 0 to 12";
    EXPECT_EQ(lean->band->hi, 12);
    EXPECT_NEAR(lean->values[lean->values.size() / 2], 10, 0.1);
    const auto seat = std::ranges::find(m.curves, "seat_height", &MotionCurve::id);
    ASSERT_NE(seat, m.curves.end());
    double sum = 0;
    for (const double v : seat->values) sum += v;
    EXPECT_NEAR(sum / static_cast<double>(seat->values.size()), 0, 1e-9) << "about its own middle";
}

TEST(MotionCurves, StridesLieOverEachOther) {
    Ridden r;
    r.swing_deg = 14;
    const auto m = report_of(r);
    const auto over = lay_over(m, *std::ranges::find(m.curves, "lower_leg", &MotionCurve::id));
    ASSERT_EQ(over.strides.size(), m.strides.size());
    ASSERT_EQ(over.mean.size(), static_cast<std::size_t>(kPlacesOfStride));
    const auto [low, high] = std::ranges::minmax(over.mean);
    EXPECT_NEAR(high - low, 14, 0.3);
    EXPECT_LT(std::ranges::max(over.spread), 0.2) << "every stride is the same";
    EXPECT_NEAR(over.mean.front(), over.mean.back(), 0.2) << "a stride ends where it began";
}

TEST(MotionCurves, WithoutAKnownDiagonalStridesMayBeginHalfAStrideLater) {
    const auto m = report_of({});
    const auto curve = *std::ranges::find(m.curves, std::string("lower_leg"), &MotionCurve::id);
    const StridesLaidOver over = lay_over(m, curve);
    const StridesLaidOver later = begun_half_later(over);
    EXPECT_NEAR(later.mean.front(), over.mean[25], 1e-9);
    EXPECT_EQ(later.mean.front(), later.mean.back());
    EXPECT_TRUE(half_a_stride_apart(over, later));
    EXPECT_FALSE(half_a_stride_apart(over, over));
    EXPECT_FALSE(half_a_stride_apart(over, {}));
    EXPECT_NEAR(begun_half_later(later).mean[10], over.mean[10], 1e-9) << "twice is the same again";
}

TEST(MotionCurves, TheWorstStrideIsTheOneThatStandsOut) {
    Ridden r;
    r.seen = [](double t, L l) { return l != L::ankle || t < 4.0 || t > 4.4; };
    const auto m = report_of(r);
    const MotionMeasure& swing = of(m, "leg_swing");
    ASSERT_EQ(swing.by_stride.size(), m.strides.size());
    EXPECT_LT(swing.strides, static_cast<int>(m.strides.size())) << "a hole in one";
    EXPECT_TRUE(std::ranges::any_of(swing.by_stride, [](const auto& v) { return !v; }));
    MotionMeasure made = swing;
    made.by_stride = {3, 4, 12, std::nullopt, 5};
    made.stride_sd = 1;
    made.band = Band{{}, 6, 4, {}, {}};
    EXPECT_EQ(worst_stride(made), 2U);
    EXPECT_EQ(strides_outside(made), (std::vector<std::size_t>{2}));
    MotionReport known;
    known.strides = {{0, 1}, {1, 2}};
    known.times = {0, 0.5, 1.2, 1.6, 2};
    const double nan = std::nan("");
    EXPECT_EQ(farthest_in(known, {"", "", "", {0, 1, 0, 9, 0}, {}}, 1), 1.6);
    EXPECT_EQ(farthest_in(known, {"", "", "", {0, 1, nan, nan, nan}, {}}, 1), 1.0)
        << "nothing followed there";
    made.unit = "stride";
    made.by_stride = {0.02, -0.2, 0.1};
    EXPECT_EQ(worst_stride(made), 1U) << "early and late are as far off";
    made.by_stride = {9, 9};
    EXPECT_FALSE(worst_stride(made));
}

TEST(Motion, WhatTheMarksMissIsMissedInEveryStride) {
    const Ridden r;
    MotionSetting s = setting_of(r);
    const double sd = of(report_of(r, s), "leg_swing").sd;
    s.anchor_sd_px = 2;
    const MotionReport marked = report_of(r, s);
    const MotionMeasure& m = of(marked, "leg_swing");
    // 10 degrees over half the leg's 340 px, both ends clicked.
    EXPECT_NEAR(std::sqrt(m.sd * m.sd - sd * sd), 10 * std::numbers::sqrt2 * 2 / (kLegPx / 2), 0.02);
}

TEST(Motion, TellsTheSpeedWhereAScaleIsKnown) {
    Ridden r;
    r.camera = true;
    r.travel_px = [](double t) { return 660 * t; };  // 3.3 m/s at 200 px a metre
    MotionSetting s = setting_of(r);
    EXPECT_EQ(find(report_of(r, s), "speed"), nullptr) << "no scale, no speed";
    s.px_per_m = 200;
    s.px_per_m_sd = 10;
    const MotionReport told = report_of(r, s);
    const MotionMeasure& m = of(told, "speed");
    ASSERT_TRUE(m.value);
    EXPECT_NEAR(*m.value, 3.3, 0.01);
    EXPECT_NEAR(m.sd, 3.3 * 0.05, 0.02) << "a scale that may be off by a twentieth";
    r.camera = false;
    EXPECT_EQ(of(report_of(r, s), "speed").reason, "the camera's motion is not known");
}

}  // namespace
}  // namespace aspen::core
