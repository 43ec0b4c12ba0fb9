// A thousand careers whose truth is known: what is called a change, and what is not, over clicks, cameras and
// gaps. The data are drawn here; the rule is ARCHITECTURE's (Weir 2005 for the smallest detectable change).

#include <gmock/gmock.h>

#include <cmath>
#include <random>

#include "core/core_support.hpp"
#include "core/following/following.hpp"

namespace aspen::core {
namespace {

/// One rider: the errors that a measure of theirs has, in its unit.
struct Build {
    double click = 2.0;   ///< of a moment
    double wander = 1.5;  ///< how much the position itself varies from moment to moment
    double camera = 1.0;  ///< of a stretch: roll, yaw and scale as they were marked
};

/// A ride's moments around the truth, in two stretches where there are enough of them.
std::optional<ReviewValue> ride(std::mt19937& random, double truth, const Build& b, int moments) {
    std::normal_distribution<double> unit;
    std::vector<MomentValue> all;
    const double cameras[2] = {b.camera * unit(random), b.camera * unit(random)};
    for (int i = 0; i < moments; ++i) {
        const int stretch = moments >= 4 ? i % 2 : 0;
        all.push_back({truth + cameras[stretch] + b.click * unit(random) + b.wander * unit(random), b.click,
                       b.camera, 0, stretch});
    }
    const Band band{-6.0, 6.0, 6, "", ""};
    return mean_of(all, band, *find_measure("trunk_lean"), test::knowledge().body);
}

/// Share of pairs of rides that are called changed.
double called_changed(int moments, double by, unsigned seed, int careers = 4000) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> scale(0.6, 1.6);
    int called = 0;
    for (int i = 0; i < careers; ++i) {
        Build b;
        for (double* one : {&b.click, &b.wander, &b.camera}) *one *= scale(random);
        const auto first = ride(random, 3, b, moments), then = ride(random, 3 + by, b, moments);
        called += changed(*first, *then) ? 1 : 0;
    }
    return static_cast<double>(called) / careers;
}

TEST(Careers, NothingThatDidNotChangeIsCalledAChange) {
    for (const int moments : {1, 2, 3, 4, 6, 10, 20, 40}) {
        const double share = called_changed(moments, 0, 100 + static_cast<unsigned>(moments));
        std::printf("%2d moments a ride: %.1f %% called changed where nothing changed\n", moments,
                    100 * share);
        EXPECT_LE(share, 0.06) << moments;
        if (moments >= 10) {
            EXPECT_GE(share, 0.03) << moments << ": no more cautious than it has to be";
        }
    }
}

TEST(Careers, ARealChangeIsSeenTheSoonerTheMoreIsMarked) {
    double before = 0;
    for (const int moments : {1, 3, 6, 20}) {
        const double share = called_changed(moments, 6, 200 + static_cast<unsigned>(moments));
        std::printf("%2d moments a ride: a change of 6 degrees is seen in %.0f %%\n", moments, 100 * share);
        EXPECT_GE(share, before - 0.02) << moments;
        before = share;
    }
    EXPECT_GE(before, 0.9) << "with twenty moments";
}

/// What a ride says of a correction whose truth lies at `value`, the band ending at 6: as mean and interval.
RideVerdict verdict_of(const ReviewValue& v) {
    if (v.verdict == Verdict::outside) return v.value > 6 ? RideVerdict::outside : RideVerdict::other_side;
    if (v.verdict == Verdict::inside) return RideVerdict::inside;
    return v.verdict == Verdict::borderline ? RideVerdict::borderline : RideVerdict::not_judged;
}

// A fault that is worked off and stays off, one that stays, one that comes back: far enough from the limit,
// the stage is right, with gaps in between.
TEST(Careers, StagesAreRightWhereTheTruthIsFarEnoughOff) {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> gap(0, 1);
    int right = 0, all = 0;
    for (int i = 0; i < 1000; ++i) {
        const Build b;
        for (const int kind : {0, 1, 2}) {
            std::vector<RideVerdict> rides;
            for (int n = 0; n < 10; ++n) {
                if (n > 0 && gap(random) < 0.25) {
                    rides.push_back(RideVerdict::not_judged);  // no clip that shows it
                    continue;
                }
                const double truth = kind == 0   ? 14
                                     : kind == 1 ? (n < 3 ? 14 : 0)
                                                 : (n < 3 || n > 7 ? 14 : 0);
                rides.push_back(verdict_of(*ride(random, truth, b, 6)));
            }
            // The ends are shown, so that what is asked can be known.
            const double end = kind == 1 ? 0 : 14;
            for (int k = 0; k < 3; ++k) rides.push_back(verdict_of(*ride(random, end, b, 6)));
            const Stage stage = stage_of(rides, true, true);
            const Stage wanted = kind == 0 ? Stage::in_work : kind == 1 ? Stage::settled : Stage::back_again;
            right += stage == wanted ? 1 : 0;
            ++all;
        }
    }
    std::printf("stages right in %.1f %%\n", 100.0 * right / all);
    EXPECT_GE(right, all * 95 / 100);
}

}  // namespace
}  // namespace aspen::core
