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
#include "core/following/trend.hpp"

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

double form() { return usual_form(*find_measure("trunk_lean"), test::knowledge().body); }

/// A ride's moments around the truth and the form of its day, in two stretches where there are enough of
/// them.
std::optional<ReviewValue> ride(std::mt19937& random, double truth, const Career& b, int moments) {
    std::normal_distribution<double> unit;
    std::vector<MomentValue> all;
    const double cameras[2] = {b.camera * unit(random), b.camera * unit(random)};
    truth += form() * unit(random);
    for (int i = 0; i < moments; ++i) {
        const int mark = moments >= 4 ? i % 2 : 0;
        all.push_back({truth + cameras[mark] + b.click * unit(random) + b.wander * unit(random), b.click,
                       b.camera, 0, 0, mark, 0});
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
            called += changed(*first, *then, form()) ? 1 : 0;
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

// How much a change of five degrees can be seen at all beside the form of the day, two days of 2 degrees: a
// coach should know before an evening is spent on marking.
TEST(Careers, ARealChangeIsSeenTheSoonerTheMoreIsMarked) {
    for (const double by : {5.0, 8.0}) {
        double before = 0;
        for (const int moments : {1, 2, 3, 6, 10, 20}) {
            const double share = called_changed(moments, by, 200 + static_cast<unsigned>(moments));
            std::printf("%2d moments a ride: a change of %.0f degrees is seen in %.0f %%\n", moments, by,
                        100 * share);
            EXPECT_GE(share, before - 0.02) << moments;
            before = share;
        }
        EXPECT_GE(before, by > 6 ? 0.6 : 0.25) << "with twenty moments";
    }
}

// The same rider, day by day, for up to twelve rides, by one unmarked tripod or a marked one: first against
// last, last against the one before it, and the trend.
TEST(Careers, OverManyRidesNothingIsSaidToHaveMoved) {
    const MeasureInfo& lean = *find_measure("trunk_lean");
    const Band band{std::nullopt, kLimit, 6, "", ""};
    std::mt19937 random(31);
    std::normal_distribution<double> unit;
    for (const bool marked : {true, false}) {
        for (const int moments : {1, 2, 3, 6, 10, 20}) {
            int whole = 0, step = 0, trend = 0;
            constexpr int kRiders = 1500;
            for (int n = 0; n < kRiders; ++n) {
                std::vector<double> days;
                std::vector<ReviewValue> rides;
                const double camera = marked ? 0.4 : 1.6;
                const int many = 2 + n % 11;
                for (int ride = 0; ride < many; ++ride) {
                    const double at = 3 + form() * unit(random), off = camera * unit(random);
                    std::vector<MomentValue> all;
                    for (int i = 0; i < moments; ++i)
                        all.push_back({at + off + 3 * unit(random) + unit(random), 1, camera, 0, 0, 0, 0});
                    rides.push_back(*mean_of(all, band, lean, test::knowledge().body));
                    days.push_back(14.0 * ride);
                }
                const double day = learned_form(std::vector{OwnLine{days, rides}}, form());
                whole += changed(rides.front(), rides.back(), day);
                step += changed(rides[rides.size() - 2], rides.back(), day);
                const auto line = trend_of(days, rides, day);
                trend += line && line->told;
            }
            const auto share = [&](int said) { return 100.0 * said / kRiders; };
            std::printf("%s camera, %2d moments: changed %.1f %%, since last %.1f %%, a trend %.1f %%\n",
                        marked ? "marked" : "unmarked", moments, share(whole), share(step), share(trend));
            EXPECT_LE(share(whole), 6);
            EXPECT_LE(share(step), 6);
            EXPECT_LE(share(trend), 6);
        }
    }
}

// A rider who never changed and sits past the limit by the form of a day or more: how often "holding" is
// proposed at least once in ten rides. (Exactly on the limit half the days are inside, and ten moments of one
// of them carry it: two in ten riders.)
TEST(Careers, HoldingIsRarelyProposedOfWhoNeverChanged) {
    std::mt19937 random(41);
    std::normal_distribution<double> unit;
    for (const int moments : {1, 2, 3, 6, 10, 20}) {
        double worst = 0;
        for (const double past : {2.0, 3.0, 5.0}) {
            int proposed = 0;
            constexpr int kRiders = 1000;
            for (int n = 0; n < kRiders; ++n) {
                std::vector<RideSays> rides{{RideVerdict::outside, 3}};  // that made it a correction
                for (int ride = 0; ride < 10; ++ride) {
                    const double day = kLimit + past + form() * unit(random) + 0.5 * unit(random);
                    int inside = 0, outside = 0, beyond = 0;
                    for (int i = 0; i < moments; ++i) {
                        const double v = day + 3 * unit(random) + unit(random), sd = std::hypot(1, 0.5);
                        inside += v + kNinetyPercent * sd < kLimit;
                        outside += v - kNinetyPercent * sd > kLimit;
                        beyond += v > kLimit;
                    }
                    if (3 * outside >= moments && outside > 0)
                        rides.emplace_back(RideVerdict::outside, outside);
                    else if (inside > 0 && beyond == 0)
                        rides.emplace_back(RideVerdict::inside, inside, moments);
                    else
                        rides.emplace_back(RideVerdict::borderline);
                }
                bool once = false;
                for (std::size_t k = 2; k <= rides.size() && !once; ++k) {
                    const Stage s =
                        stage_of({rides.begin(), rides.begin() + static_cast<std::ptrdiff_t>(k)}, true, true);
                    once = s == Stage::holding || s == Stage::settled;
                }
                proposed += once;
            }
            worst = std::max(worst, 100.0 * proposed / kRiders);
        }
        std::printf(
            "%2d moments a ride: holding is proposed of who never changed in %.1f %% over ten rides\n",
            moments, worst);
        EXPECT_LE(worst, 5) << moments;
    }
}

/// What a ride says of a correction whose truth lies at `value`, the band ending at 6: as mean and interval.
RideSays verdict_of(const ReviewValue& v) {
    if (v.verdict == Verdict::outside) return {RideVerdict::outside, v.moments};
    if (v.verdict == Verdict::inside) return {RideVerdict::inside, v.moments};
    return v.verdict == Verdict::borderline ? RideVerdict::borderline : RideVerdict::not_judged;
}

/// What decides whether a stage can be told: how far the truth lies past the limit, against the smallest
/// change that this career's rides could show.
bool far_enough(const Career& b) {
    std::mt19937 random(1);
    double sd = 0;
    for (int i = 0; i < 20; ++i) sd += ride(random, kLimit + b.out, b, b.moments)->sd / 20;
    const double detectable = 1.96 * std::sqrt(2.0) * std::hypot(sd, form());
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
            std::vector<RideSays> rides;
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
