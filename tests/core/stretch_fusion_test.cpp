// A rider's joints over a stretch, put together from sights, steps and limbs.

#include "core/proposal/stretch_fusion.hpp"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <random>

namespace aspen::core {
namespace {

constexpr std::size_t kFrames = 120, kLookEvery = 6;
constexpr double kBackPx = 100;

/// A shoulder, a hip and a knee that go along with a horse; the knee swings.
Point truth(std::size_t joint, std::size_t frame) {
    const double t = static_cast<double>(frame), swing = std::sin(2 * std::numbers::pi * t / 22);
    const Point hip{300 + 3 * t, 300 + 6 * swing};
    if (joint == 0) return {hip.x + 4 * swing, hip.y - kBackPx};
    if (joint == 1) return hip;
    const double angle = 0.7 + 0.12 * std::cos(2 * std::numbers::pi * t / 22);
    return {hip.x + 86 * std::cos(angle), hip.y + 86 * std::sin(angle)};
}

class FusedStretch : public testing::Test {
  protected:
    double normal() { return normal_(random_); }
    Point off(Point p, double sd) { return {p.x + sd * normal(), p.y + sd * normal()}; }

    /// Sights and steps with errors of these standard deviations, said as they are.
    StretchToFuse stretch(double sight_sd, double step_sd) {
        StretchToFuse s;
        s.frames = kFrames, s.joints = 3;
        s.limbs = {{0, 1, 0.1}, {1, 2, 0.1}};
        for (std::size_t j = 0; j < s.joints; ++j) {
            s.steps.emplace_back();
            s.start.emplace_back();
            for (std::size_t f = 0; f < kFrames; ++f) {
                if (f % kLookEvery == 0) s.seen.push_back({j, f, off(truth(j, f), sight_sd), sight_sd});
                const Point here = truth(j, f), next = truth(j, f + 1);
                s.steps[j].push_back({off({next.x - here.x, next.y - here.y}, step_sd), step_sd});
                s.start[j].push_back(off(truth(j, f), 2 * sight_sd));
            }
            s.steps[j].back() = {};
        }
        return s;
    }
    static double worst(const std::vector<std::vector<Observed>>& out, std::size_t joint) {
        double most = 0;
        for (std::size_t f = 0; f < kFrames; ++f)
            most = std::max(most, distance(out[joint][f].at, truth(joint, f)));
        return most;
    }
    std::mt19937 random_{11};
    std::normal_distribution<double> normal_;
};

TEST_F(FusedStretch, GivesBackWhatIsWithoutError) {
    StretchToFuse s = stretch(1e-6, 1e-6);
    for (SeenJoint& o : s.seen) o.sd_px = 4;
    for (auto& joint : s.steps) {
        for (SeenStep& step : joint) step.sd_px = std::isfinite(step.sd_px) ? 0.4 : step.sd_px;
    }
    s.limbs.clear();
    const auto out = fused(s);
    for (std::size_t j = 0; j < s.joints; ++j) EXPECT_LT(worst(out, j), 1e-3) << j;
}

TEST_F(FusedStretch, StepsBetweenMakeManyPoorSightsOneGoodPath) {
    double sum = 0, n = 0;
    for (int trial = 0; trial < 20; ++trial) {
        const auto out = fused(stretch(6, 0.3));
        for (std::size_t f = 0; f < kFrames; ++f, ++n)
            sum += std::pow(distance(out[2][f].at, truth(2, f)), 2);
    }
    EXPECT_LT(std::sqrt(sum / n), 3) << "one sight alone: 8.5";
}

TEST_F(FusedStretch, NineOfTenLieWithinTheErrorThatIsStated) {
    // Both axes: 2.146 standard deviations hold nine of ten (quantile of the Rayleigh distribution).
    int inside = 0, all = 0;
    for (int trial = 0; trial < 60; ++trial) {
        StretchToFuse s = stretch(6, 0.5);
        s.limbs.clear();
        const auto out = fused(s);
        for (std::size_t j = 0; j < s.joints; ++j) {
            for (std::size_t f = 3; f < kFrames; f += 10, ++all)
                inside += distance(out[j][f].at, truth(j, f)) <= 2.146 * out[j][f].sd_px;
        }
    }
    EXPECT_GT(inside, 0.85 * all);
    EXPECT_LT(inside, 0.96 * all);
}

TEST_F(FusedStretch, ASightOfSomethingElseIsLeftAside) {
    StretchToFuse s = stretch(3, 0.3);
    const auto undisturbed = fused(s);
    for (std::size_t i = 0; i < s.seen.size(); i += 5) s.seen[i].at.x += 70;
    const auto out = fused(s);
    for (std::size_t j = 0; j < s.joints; ++j) EXPECT_LT(worst(out, j), worst(undisturbed, j) + 1.5) << j;
}

TEST_F(FusedStretch, StepsOfTheBackgroundAreOutvotedBySightsAndLimb) {
    StretchToFuse s = stretch(3, 0.3);
    // For half a second the knee's step is that of the fence behind it.
    for (std::size_t f = 40; f < 55; ++f) s.steps[2][f].by = {0, 0};
    const auto out = fused(s);
    EXPECT_LT(worst(out, 2), 14) << "the fence would have been 45 away";
    EXPECT_GT(out[2][48].sd_px, out[2][80].sd_px) << "and it is known to be less sure there";
}

TEST_F(FusedStretch, WithoutAnyStepItGoesFromSightToSight) {
    StretchToFuse s = stretch(1, 0.3);
    for (std::size_t f = 60; f < 66; ++f) s.steps[1][f] = {};
    EXPECT_LT(worst(fused(s), 1), 9);
}

TEST_F(FusedStretch, ListsThatDoNotFitAreRefused) {
    StretchToFuse s = stretch(1, 1);
    s.seen.push_back({3, 0, {0, 0}, 1});
    EXPECT_THROW(fused(s), std::invalid_argument);
    s = stretch(1, 1);
    s.seen.front().sd_px = 0;
    EXPECT_THROW(fused(s), std::invalid_argument);
    s = stretch(1, 1);
    s.start[1].pop_back();
    EXPECT_THROW(fused(s), std::invalid_argument);
    s = stretch(1, 1);
    s.limbs.push_back({0, 9, 0.1});
    EXPECT_THROW(fused(s), std::invalid_argument);
}

}  // namespace
}  // namespace aspen::core
