// Footfalls by key and by track, against gaits whose landings are written down here; strides a coach moves,
// cuts and drops; residual analysis; what happens around events; proposals.

#include <gmock/gmock.h>

#include <cmath>
#include <random>

#include "core/core_support.hpp"
#include "core/motion/hooves.hpp"
#include "core/motion/motion.hpp"
#include "core/motion/motion_words.hpp"
#include "core/motion/series.hpp"
#include "core/motion/telling_moments.hpp"

namespace aspen::core {
namespace {

using test::knowledge;
using testing::Contains;
using testing::HasSubstr;
using L = Landmark;

/// Landings of left hind, left fore, right hind, right fore as shares of the stride.
using Landings = std::array<double, 4>;
constexpr Landings kWalk{0, 0.25, 0.5, 0.75}, kTrot{0, 0.5, 0.5, 0}, kPace{0, 0, 0.5, 0.5},
    kCanterLeft{0.28, 0.5, 0, 0.28}, kCanterRight{0, 0.28, 0.28, 0.5};

std::vector<Footfall> falls_of(const Landings& at, double stride_s, int strides, double duty = 0.4) {
    std::vector<Footfall> out;
    for (int k = 0; k < strides; ++k) {
        for (const Hoof h : kHooves) {
            const double t = (k + at[index(h)]) * stride_s;
            out.push_back({h, t, t + duty * stride_s});
        }
    }
    return out;
}

TEST(Hooves, TellTheGaitByLimbPhaseAndDuty) {
    const auto walk = gait_by_hooves(falls_of(kWalk, 1.1, 6, 0.62));
    ASSERT_TRUE(walk);
    EXPECT_EQ(walk->reference, Hoof::left_hind);
    EXPECT_NEAR(walk->stride_s, 1.1, 1e-9);
    EXPECT_NEAR(*walk->limb_phase_pct, 25, 1e-6);
    EXPECT_NEAR(*walk->duty_pct, 62, 1e-6);
    EXPECT_EQ(walk->beats, 4);
    EXPECT_EQ(walk->name, "lateral sequence, single foot");
    EXPECT_FALSE(walk->left_lead);
    EXPECT_EQ(gait_by_hooves(falls_of(kTrot, 0.76, 6))->name, "trot");
    EXPECT_EQ(gait_by_hooves(falls_of(kTrot, 0.76, 6))->beats, 2);
    EXPECT_EQ(gait_by_hooves(falls_of(kPace, 0.7, 6))->name, "pace");
    EXPECT_EQ(gait_by_hooves(falls_of(kPace, 0.7, 6))->beats, 2);
}

TEST(Hooves, TellTheLeadOfACanter) {
    const auto left = gait_by_hooves(falls_of(kCanterLeft, 0.61, 5)),
               right = gait_by_hooves(falls_of(kCanterRight, 0.61, 5));
    ASSERT_TRUE(left && right);
    EXPECT_EQ(left->beats, 3);
    EXPECT_EQ(left->name, "") << "no symmetrical gait";
    EXPECT_EQ(left->left_lead, true);
    EXPECT_EQ(right->left_lead, false);
    EXPECT_THAT(in_words(*left), Contains(HasSubstr("3 beats, left lead")));
}

// Hildebrand 1965 sorts symmetrical gaits by eighths of the stride around each of the eight pure ones (limits
// from memory).
TEST(Hooves, HildebrandsNamesByLimbPhase) {
    const std::pair<double, const char*> cases[] = {{0, "pace"},
                                                    {6, "pace"},
                                                    {97, "pace"},
                                                    {12.5, "lateral sequence, lateral couplets"},
                                                    {25, "lateral sequence, single foot"},
                                                    {37.5, "lateral sequence, diagonal couplets"},
                                                    {50, "trot"},
                                                    {44, "trot"},
                                                    {62.5, "diagonal sequence, diagonal couplets"},
                                                    {75, "diagonal sequence, single foot"},
                                                    {87.5, "diagonal sequence, lateral couplets"}};
    for (const auto& [phase, name] : cases) EXPECT_EQ(symmetrical_gait(phase), name) << phase;
}

TEST(Hooves, AMissedLandingCostsItsStridesOnly) {
    auto falls = falls_of(kTrot, 0.76, 8);
    std::erase_if(falls, [](const Footfall& f) { return std::abs(f.landing_s - 3 * 0.76) < 0.01; });
    const auto g = gait_by_hooves(falls);
    ASSERT_TRUE(g);
    EXPECT_NEAR(g->stride_s, 0.76, 1e-9);
    EXPECT_NEAR(*g->limb_phase_pct, 50, 1e-6);
    EXPECT_FALSE(gait_by_hooves(falls_of(kTrot, 0.76, 2))) << "one stride is none";
    EXPECT_FALSE(gait_by_hooves({}));
}

TEST(Hooves, ByKeyTheyNeedNoTrack) {
    std::vector<Happening> keys;
    for (const Footfall& f : falls_of(kWalk, 1.1, 4, 0.6)) {
        keys.push_back({f.landing_s, "hoof_on", "hoof=" + std::string(id(f.hoof))});
        keys.push_back({*f.lift_s, "hoof_off", "hoof=" + std::string(id(f.hoof))});
    }
    keys.push_back({0.1, "hoof_on", "hoof=nose"});
    keys.push_back({0.2, "aid", ""});
    const auto falls = footfalls_of(keys);
    EXPECT_EQ(falls.size(), 16U);
    EXPECT_NEAR(*gait_by_hooves(falls)->duty_pct, 60, 1e-6);
    const double sits[] = {0.27, 1.4, 2.5};
    EXPECT_EQ(sits_on(falls, sits), Hoof::left_fore);
    EXPECT_FALSE(sits_on(falls, {}));
}

/// Four hooves over the ground: they stand, then swing on in an arc.
std::vector<HoofPoint> hoof_tracks(const Landings& at, double stride_s, double duty, double seconds,
                                   double fps, double noise_px = 0) {
    std::vector<HoofPoint> out;
    std::mt19937 engine(7);
    std::normal_distribution<double> normal(0, 1);
    const double stride_px = 500;
    for (int i = 0; i < static_cast<int>(seconds * fps); ++i) {
        const double t = i / fps;
        for (const Hoof h : kHooves) {
            const double p = t / stride_s - at[index(h)], k = std::floor(p), s = p - k;
            double x = k * stride_px, up = 0;
            if (s > duty) {
                const double a = (s - duty) / (1 - duty);
                x += stride_px * (a - std::sin(2 * std::numbers::pi * a) / (2 * std::numbers::pi));
                up = 35 * std::sin(std::numbers::pi * a);
            }
            out.push_back(
                {t, h, {100 + x + noise_px * normal(engine), 600 - up + noise_px * normal(engine)}});
        }
    }
    return out;
}

TEST(Hooves, FollowedTheyTellWhenTheyLandAndLift) {
    for (const double fps : {60.0, 30.0}) {
        const auto g = gait_by_hooves(footfalls_of(hoof_tracks(kTrot, 0.76, 0.42, 8, fps, 0.7), true));
        ASSERT_TRUE(g) << fps;
        EXPECT_NEAR(g->stride_s, 0.76, 0.003) << fps;
        EXPECT_NEAR(*g->limb_phase_pct, 50, 1.5) << fps;
        EXPECT_NEAR(*g->duty_pct, 42, 5) << fps;
        EXPECT_EQ(g->name, "trot");
    }
    const auto walk = gait_by_hooves(footfalls_of(hoof_tracks(kWalk, 1.1, 0.62, 8, 30, 0.7), true));
    ASSERT_TRUE(walk);
    EXPECT_EQ(walk->name, "lateral sequence, single foot");
    EXPECT_GT(*walk->duty_pct, 56);
    // A camera that goes along sees them run back while they stand: how high they are has to do.
    auto along = hoof_tracks(kTrot, 0.76, 0.42, 8, 60, 0.7);
    for (HoofPoint& p : along) p.at.x -= 500 / 0.76 * p.time_s;
    const auto g = gait_by_hooves(footfalls_of(along, false));
    ASSERT_TRUE(g);
    EXPECT_EQ(g->name, "trot");
    EXPECT_NEAR(g->stride_s, 0.76, 0.003);
    EXPECT_TRUE(footfalls_of(std::vector<HoofPoint>{}, true).empty());
}

/// A horse and rider in trot, withers lowest at 0 and half the stride; the seat highest `late` after the
/// withers' high point that follows the even beats.
Tracks trotting(double late, double seconds = 8, double bounce_px = 6, double rise_px = 14) {
    Tracks out;
    for (int i = 0; i < static_cast<int>(seconds * 30); ++i) {
        const double t = i / 30.0, w = 2 * std::numbers::pi * t / 0.77, up = -bounce_px * std::cos(2 * w);
        const double hip = up + 20 + rise_px * std::cos(w - 2 * std::numbers::pi * (0.25 + late));
        const std::pair<L, PlanePoint> all[] = {{L::withers, {80, up}},
                                                {L::hip, {0, hip}},
                                                {L::shoulder, {20, hip + 199}},
                                                {L::knee, {120, hip - 123}},
                                                {L::ankle, {80, hip - 285}}};
        for (const auto& [l, p] : all) out.points.push_back({i, t, l, {400 + p.f + 3 * t, 500 - p.u}});
    }
    return out;
}
MotionSetting rising() {
    MotionSetting s;
    s.setting.gait = Gait::trot;
    s.setting.seat = Seat::rising;
    s.seat_said = true;
    return s;
}
MotionReport report(const Tracks& t, const MotionSetting& s) {
    return motion_of(t, s, knowledge().body, knowledge().schools);
}

TEST(RisePhase, WithAKnownDiagonalIsHeldAgainstItsOwnPeak) {
    MotionSetting s = rising();
    s.events = {{0.77 * 3 + 0.03, "diagonal_right"}};
    const auto right = report(trotting(0.06), s);
    EXPECT_EQ(right.parity, "diagonal");
    EXPECT_NEAR(*find(right, "rise_phase")->value, 0.06, 0.004);
    const auto late = report(trotting(0.30), s);
    EXPECT_NEAR(*find(late, "rise_phase")->value, 0.30, 0.004) << "more than a quarter can be told now";
    s.events = {{0.77 * 3.5, "diagonal_left"}};
    const auto wrong = report(trotting(0.06), s);
    EXPECT_NEAR(std::abs(*find(wrong, "rise_phase")->value), 0.44, 0.004) << "against the beat";
    EXPECT_THAT(in_words(wrong, s, test::knowledge().spoken()), Contains(HasSubstr("other diagonal")));
    EXPECT_NEAR(*find(report(trotting(0.30), rising()), "rise_phase")->value, -0.20, 0.004)
        << "without one, the nearest peak";
}

TEST(MotionStrides, StartWhereTheHoovesLand) {
    Tracks t = trotting(0);
    for (int i = 0; i < 240; ++i) {
        const double s = std::fmod(i / 30.0 / 0.77 + 0.9, 1.0);
        const double up = s > 0.4 ? 30 * std::sin(std::numbers::pi * (s - 0.4) / 0.6) : 0;
        t.hooves.push_back({i, i / 30.0, Hoof::left_hind, {300, 700 - up}});
    }
    const auto r = report(t, rising());
    EXPECT_EQ(r.stride_source, "hooves");
    EXPECT_EQ(r.parity, "hoof");
    ASSERT_GT(r.strides.size(), 6U);
    EXPECT_NEAR(std::fmod(r.strides[3].start_s / 0.77 + 0.9 + 0.5, 1.0), 0.5, 0.06) << "where it lands";
    EXPECT_NEAR(*r.tempo_per_min, 60 / 0.77, 0.5);
    ASSERT_NE(find(r, "hind_duty"), nullptr);
    EXPECT_NEAR(*find(r, "hind_duty")->value, 40, 9);
    EXPECT_FALSE(find(r, "limb_phase")->value) << "no fore foot was followed";
    MotionSetting s = rising();
    s.events = {{0.77 * 2 - 0.04, "hoof_on", "hoof=left_hind"}};
    EXPECT_EQ(report(trotting(0), s).parity, "hoof") << "one landing by key tells the even beats";
    EXPECT_EQ(report(trotting(0), s).stride_source, "withers");
}

TEST(MotionStrides, AreAsTheCoachSays) {
    const std::vector<StrideSpan> found{{0, 1}, {1, 2}, {2, 3}, {4, 5}, {5, 7}};
    const auto starts = [](const std::vector<StrideSpan>& all) {
        std::vector<double> out;
        for (const StrideSpan& s : all) out.push_back(s.start_s), out.push_back(s.end_s);
        return out;
    };
    using Is = std::vector<double>;
    EXPECT_EQ(starts(as_said(found, {{1.1, "stride_start"}})), (Is{0, 1.1, 1.1, 2, 2, 3, 4, 5, 5, 7}))
        << "moved";
    EXPECT_EQ(starts(as_said(found, {{6, "stride_start"}})), (Is{0, 1, 1, 2, 2, 3, 4, 5, 5, 6, 6, 7}))
        << "cut";
    EXPECT_EQ(starts(as_said(found, {{0.5, "stride_off"}})), (Is{1, 2, 2, 3, 4, 5, 5, 7})) << "dropped";
    EXPECT_EQ(starts(as_said(found, {{3.5, "stride_start"}})), (Is{0, 1, 1, 2, 2, 3, 4, 5, 5, 7}))
        << "half a stride on either side is no stride";
    EXPECT_EQ(starts(as_said({{0, 1}, {1, 2}, {4, 5}}, {{3, "stride_start"}})),
              (Is{0, 1, 1, 2, 2, 3, 3, 4, 4, 5}))
        << "a missed one filled in";
    EXPECT_TRUE(as_said({}, {{1, "stride_start"}}).empty());
    MotionSetting s = rising();
    const std::size_t all = report(trotting(0), s).strides.size();
    s.events = {{3.0, "stride_off"}};
    EXPECT_EQ(report(trotting(0), s).strides.size(), all - 1);
}

// Winter: the cut-off rises with the signal's own speed and falls with the noise.
TEST(ResidualAnalysis, FindsWhereNoiseTakesOver) {
    std::mt19937 engine(3);
    std::normal_distribution<double> normal(0, 1);
    const auto made = [&](double hz, double noise) {
        std::vector<double> x;
        for (int i = 0; i < 600; ++i)
            x.push_back(20 * std::sin(2 * std::numbers::pi * hz * i / 60.0) + noise * normal(engine));
        return x;
    };
    const auto slow = residual_cutoff_hz(made(1.3, 1), 60), quick = residual_cutoff_hz(made(5, 1), 60);
    ASSERT_TRUE(slow && quick);
    EXPECT_GT(*slow, 1.8);
    EXPECT_LT(*slow, 6);
    EXPECT_GT(*quick, 8);
    EXPECT_FALSE(residual_cutoff_hz(made(1.3, 0), 60)) << "no noise, nothing to go by";
    EXPECT_FALSE(residual_cutoff_hz({1, 2, 3}, 60));
    EXPECT_EQ(report(trotting(0), rising()).cutoff_hz, 6) << "usual motion keeps the usual one";
    MotionSetting s = rising();
    s.cutoff_hz = 4;
    EXPECT_EQ(report(trotting(0), s).cutoff_hz, 4);
}

TEST(AroundEvents, SayTheTempoBeforeABreakAndAcrossAPole) {
    MotionSetting s = rising();
    s.events = {{5.0, "break"}, {3.0, "pole"}};
    const auto r = report(trotting(0), s);
    ASSERT_EQ(r.around.size(), 2U);
    EXPECT_EQ(r.around[0].event, "break");
    EXPECT_NEAR(*r.around[0].tempo_before, 60 / 0.77, 0.5);
    EXPECT_FALSE(r.around[0].tempo_after);
    EXPECT_NEAR(*r.around[1].tempo_after, 60 / 0.77, 0.5);
    EXPECT_THAT(in_words(r, s, test::knowledge().spoken()),
                Contains(HasSubstr("breaks at 5.0 s, out of 78 strides a minute")));
    EXPECT_THAT(in_words(r, s, test::knowledge().spoken()),
                Contains(HasSubstr("Over the pole at 3.0 s the pace stays")));
}

TEST(Flights, AreWhereTheWithersAreThrown) {
    Tracks t;
    constexpr double kOff = 4.0, kLands = 4.46;
    for (int i = 0; i < 240; ++i) {
        const double time = i / 30.0, share = (time - kOff) / (kLands - kOff);
        double up = 12 * std::cos(2 * std::numbers::pi * time / 0.61);
        if (share > 0 && share < 1) up += 4 * 90 * share * (1 - share);
        for (const auto& [l, p] :
             {std::pair{L::withers, PlanePoint{80, up}}, std::pair{L::hip, PlanePoint{0, up + 20}},
              std::pair{L::shoulder, PlanePoint{20, up + 219}}})
            t.points.push_back({i, time, l, {400 + p.f, 500 - p.u}});
    }
    MotionSetting s;
    s.setting.gait = Gait::canter;
    s.seat_said = true;
    const auto r = report(t, s);
    ASSERT_EQ(r.flights.size(), 1U);
    EXPECT_NEAR(r.flights[0].take_off_s, kOff, 0.06);
    EXPECT_NEAR(r.flights[0].top_s, (kOff + kLands) / 2, 0.05);
    EXPECT_NEAR(r.flights[0].landing_s, kLands, 0.06);
    EXPECT_GE(r.strides.size(), 6U) << "the canter before and after it is told all the same";
    for (const StrideSpan& span : r.strides)
        EXPECT_TRUE(span.end_s < kOff + 0.05 || span.start_s > kLands - 0.05) << "what flies is no stride";
    const auto moments = telling_moments(r, s);
    EXPECT_THAT(moments, Contains(testing::Field(&TellingMoment::phase, "take_off")));
    EXPECT_THAT(moments, Contains(testing::Field(&TellingMoment::phase, "beat_2")));
    EXPECT_TRUE(report(trotting(0), rising()).flights.empty()) << "a bounce is no jump";
}

TEST(TellingMoments, AreTopAndBottomOfTheRise) {
    const auto s = rising();
    const auto r = report(trotting(0), s);
    const auto all = telling_moments(r, s, 2);
    ASSERT_EQ(all.size(), 4U);
    for (const TellingMoment& m : all) {
        const double share = std::fmod(m.time_s / 0.77, 1.0);
        EXPECT_NEAR(share, m.phase == "rise_top" ? 0.25 : 0.75, 0.05) << m.phase;
    }
    EXPECT_TRUE(telling_moments({}, s).empty());
}

TEST(GaitGuess, TellsTrotFromWalkAndRisingFromSitting) {
    MotionSetting s;
    const auto first = [&](const Tracks& t) {
        const auto all = guess_stretches(t, s, knowledge().body);
        return all.empty()
                   ? std::string("nothing")
                   : std::string(word(all.front().guess.gait)) + (all.front().guess.rising ? " rising" : "");
    };
    EXPECT_EQ(first(trotting(0, 8, 14, 20)), "trot rising");
    EXPECT_EQ(first(trotting(0, 8, 14, 0)), "trot");
    EXPECT_EQ(first(trotting(0, 1.5)), "nothing") << "too short";
    EXPECT_EQ(first({}), "nothing");
}

TEST(Fences, OfALineStandOneByOne) {
    MotionSetting s = rising();
    s.events = {{2.0, "take_off"},
                {2.4, "landing", "drift=left"},
                {4.0, "take_off"},
                {4.4, "landing"},
                {6.0, "take_off"}};
    const auto r = report(trotting(0), s);
    ASSERT_EQ(r.fences.size(), 2U) << "the last did not land";
    EXPECT_EQ(r.fences[0].drift, "left");
    EXPECT_EQ(r.fences[1].take_off_s, 4.0);
    EXPECT_THAT(in_words(r, s, test::knowledge().spoken()), Contains(HasSubstr("Fence 2 at 4.0 s")));
    EXPECT_THAT(in_words(r, s, test::knowledge().spoken()), Contains(HasSubstr("drifts left")));
}

}  // namespace
}  // namespace aspen::core
