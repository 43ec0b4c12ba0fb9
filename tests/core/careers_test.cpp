// A thousand careers whose truth is known (tests/data/careers.csv): what is called a change, and what is not,
// over clicks, cameras and gaps. The rule is the program's own (Weir 2005 for the smallest detectable
// change).

#include <gmock/gmock.h>

#include <cmath>
#include <fstream>
#include <random>
#include <sstream>

#include "core/core_support.hpp"
#include "core/following/following.hpp"

namespace aspen::core {
namespace {

constexpr double kLimit = 6;

/// One rider: the errors that a measure of theirs has, in degrees, and what becomes of a fault.
struct Career {
    double click = 2.0;   ///< of a moment
    double wander = 1.5;  ///< how much the position itself varies from moment to moment
    double camera = 1.0;  ///< of a stretch: roll, yaw and scale as they were marked
    int moments = 6;
    double gap = 0;           ///< share of rides that could not be judged
    std::string course;       ///< stays, goes, comes_back
    double out = 8, in = -6;  ///< past the limit while it is there, and once it is gone
};

const std::vector<Career>& careers() {
    static const std::vector<Career> all = [] {
        std::vector<Career> out;
        std::ifstream in(ASPEN_SOURCE_DIR "/tests/data/careers.csv");
        std::string line;
        while (std::getline(in, line)) {
            if (line.empty() || !std::isdigit(static_cast<unsigned char>(line[0]))) continue;
            std::ranges::replace(line, ',', ' ');
            std::istringstream fields(line);
            int rider = 0;
            Career b;
            fields >> rider >> b.click >> b.wander >> b.camera >> b.moments >> b.gap >> b.course >> b.out >>
                b.in;
            out.push_back(b);
        }
        return out;
    }();
    return all;
}

/// A ride's moments around the truth, in two stretches where there are enough of them.
std::optional<ReviewValue> ride(std::mt19937& random, double truth, const Career& b, int moments) {
    std::normal_distribution<double> unit;
    std::vector<MomentValue> all;
    const double cameras[2] = {b.camera * unit(random), b.camera * unit(random)};
    for (int i = 0; i < moments; ++i) {
        const int stretch = moments >= 4 ? i % 2 : 0;
        all.push_back({truth + cameras[stretch] + b.click * unit(random) + b.wander * unit(random), b.click,
                       b.camera, 0, stretch});
    }
    const Band band{std::nullopt, kLimit, 6, "", ""};
    return mean_of(all, band, *find_measure("trunk_lean"), test::knowledge().body);
}

/// Share of pairs of rides that are called changed, four pairs a career; as many moments a ride as each
/// career has with `moments` 0.
double called_changed(int moments, double by, unsigned seed) {
    std::mt19937 random(seed);
    int called = 0, all = 0;
    for (const Career& b : careers()) {
        for (int i = 0; i < 4; ++i) {
            const int n = moments > 0 ? moments : b.moments;
            const auto first = ride(random, 3, b, n), then = ride(random, 3 + by, b, n);
            called += changed(*first, *then) ? 1 : 0;
            ++all;
        }
    }
    return static_cast<double>(called) / all;
}

TEST(Careers, AreAThousand) { ASSERT_EQ(careers().size(), 1000U); }

TEST(Careers, OverAllOfThemNothingIsCalledAChangeThatIsNone) {
    const double share = called_changed(0, 0, 99);
    std::printf("all careers, as many moments as they have: %.1f %% called changed where nothing changed\n",
                100 * share);
    EXPECT_LE(share, 0.06);
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
    if (v.verdict == Verdict::outside) return RideVerdict::outside;
    if (v.verdict == Verdict::inside) return RideVerdict::inside;
    return v.verdict == Verdict::borderline ? RideVerdict::borderline : RideVerdict::not_judged;
}

/// What decides whether a stage can be told: how far the truth lies past the limit, against the smallest
/// change that this career's rides could show.
bool far_enough(const Career& b) {
    std::mt19937 random(1);
    double sd = 0;
    for (int i = 0; i < 20; ++i) sd += ride(random, kLimit + b.out, b, b.moments)->sd / 20;
    const double detectable = 1.96 * std::sqrt(2.0) * sd;
    return b.out > 2 * detectable && -b.in > 2 * detectable;
}

// A fault that is worked off and stays off, one that stays, one that comes back, with gaps in between: right
// where the truth lies beyond twice the detectable change.
TEST(Careers, StagesAreRightWhereTheTruthIsFarEnoughOff) {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> chance(0, 1);
    int right = 0, all = 0;
    for (const Career& b : careers()) {
        if (!far_enough(b)) continue;
        for (int again = 0; again < 6; ++again) {
            std::vector<RideVerdict> rides;
            const auto rode = [&](bool there) {
                rides.push_back(verdict_of(*ride(random, kLimit + (there ? b.out : b.in), b, b.moments)));
            };
            for (int n = 0; n < 10; ++n) {
                if (n > 0 && chance(random) < b.gap) {
                    rides.push_back(RideVerdict::not_judged);  // no clip that shows it
                    continue;
                }
                rode(b.course == "stays" || n < 3 || (b.course == "comes_back" && n > 7));
            }
            // The ends are shown, so that what is asked can be known; a fault that came back had been seen
            // away.
            if (b.course == "comes_back") {
                rode(false);
                rode(true);
            }
            for (int k = 0; k < 3; ++k) rode(b.course != "goes");
            const Stage wanted = b.course == "stays"  ? Stage::in_work
                                 : b.course == "goes" ? Stage::settled
                                                      : Stage::back_again;
            right += stage_of(rides, true, true) == wanted ? 1 : 0;
            ++all;
        }
    }
    std::printf("stages right in %.1f %% of %d careers far enough off\n", 100.0 * right / all, all);
    EXPECT_GE(all, 300);
    EXPECT_GE(right, all * 95 / 100);
}

}  // namespace
}  // namespace aspen::core
