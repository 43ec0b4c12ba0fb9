// What corrections teach of where the reader sees joints, and when a moved one is asked for again.

#include "core/proposal/reader_offset.hpp"

#include <gmock/gmock.h>

#include <cmath>
#include <random>

#include "core/core_support.hpp"

namespace aspen::core {
namespace {

using L = Landmark;
using test::sitting_rider;

/// The rider with joints that were read somewhere else, trunk lengths forward and up, and moved by hand.
Figure corrected(const std::map<L, PlanePoint>& by) {
    Figure f = sitting_rider();
    const double trunk = distance(f[L::shoulder].at, f[L::hip].at);
    for (const auto& [l, offset] : by)
        f[l].put_at = Point{f[l].at.x - offset.f * trunk, f[l].at.y + offset.u * trunk};
    return f;
}

std::map<L, ReaderOffset> learned_from(const std::vector<Figure>& own,
                                       const std::vector<std::vector<Figure>>& others = {}) {
    std::vector<RiderCorrections> of_others;
    for (const std::vector<Figure>& figures : others) of_others.push_back(corrections_in(figures));
    return reader_offsets(corrections_in(own), of_others);
}

TEST(ReaderOffsets, NothingIsKnownOfWhatNobodyMoved) {
    Figure laid = corrected({{L::hip, {0.1, 0}}});
    laid[L::hip].origin = Origin::laid;
    Figure open = corrected({{L::hip, {0.1, 0}}});
    open[L::hip].confirmed = false;
    const std::vector<Figure> own{sitting_rider(), laid, open};
    EXPECT_TRUE(learned_from(own).empty());
}

// By hand, normal distributions: before, 0 +- 0.04; one correction of 0.1 scatters by 0.03, so it weighs
// 0.0016 / (0.0016 + 0.0009) = 0.64; ten weigh 0.0016 / (0.0016 + 0.00009).
TEST(ReaderOffsets, OneCorrectionCountsInPartAndManyWhole) {
    const std::vector<Figure> one{corrected({{L::hip, {0.1, -0.05}}})}, ten(10, one.front());
    const ReaderOffset first = learned_from(one).at(L::hip), later = learned_from(ten).at(L::hip);
    EXPECT_NEAR(first.by.f, 0.064, 1e-9);
    EXPECT_NEAR(first.by.u, -0.032, 1e-9);
    EXPECT_NEAR(first.sd, 0.04 * std::sqrt(1 - 0.64), 1e-9);
    EXPECT_NEAR(later.by.f, 0.1 * 0.0016 / 0.00169, 1e-9);
    EXPECT_LT(later.sd, first.sd);
    EXPECT_GE(learned_from(std::vector<Figure>(500, one.front())).at(L::hip).sd, 0.01)
        << "a spot on clothes is never known better";
}

TEST(ReaderOffsets, OtherRidersTellWhatIsCommonToAll) {
    const std::vector<Figure> other(20, corrected({{L::knee, {0.06, 0}}}));
    const std::vector<std::vector<Figure>> two{other, other};
    const ReaderOffset one = learned_from({}, {other}).at(L::knee), both = learned_from({}, two).at(L::knee);
    EXPECT_GT(one.by.f, 0.01);
    EXPECT_GT(both.by.f, one.by.f);
    EXPECT_LT(both.by.f, 0.06) << "two riders are not all";
    EXPECT_GT(both.sd, 0.03) << "and this one may differ from them";
    const std::vector<Figure> own(20, corrected({{L::knee, {-0.02, 0}}}));
    EXPECT_LT(learned_from(own, two).at(L::knee).by.f, 0) << "the rider's own say more";
}

TEST(ReaderOffsets, AreTheSameOnTheOtherReinAndWithATiltedCamera) {
    Figure left = mirrored(corrected({{L::hip, {0.1, -0.05}}}), 1280);
    EXPECT_NEAR(learned_from({left}).at(L::hip).by.f, 0.064, 1e-9);
    left.camera.roll_deg = 8;
    const double trunk = distance(left[L::shoulder].at, left[L::hip].at);
    const auto learned = learned_from(std::vector<Figure>(2000, left)).at(L::hip);
    const Point there = offset_taken(*left[L::hip].put_at, learned, left, trunk);
    EXPECT_LT(distance(there, left[L::hip].at), 0.002 * trunk) << "taken on, it leads to where it was put";
}

TEST(LiesBeside, ATenthOfTheTrunkIsFoundIn95Of100AndAnUnmovedJointIsNot) {
    std::mt19937 random(29);
    std::normal_distribution<double> scatter(0, 2);  // % of a trunk of 100 px, each axis
    std::uniform_real_distribution<double> way(0, 2 * std::acos(-1.0));
    int found = 0, wrongly = 0;
    constexpr int kTimes = 4000;
    for (int i = 0; i < kTimes; ++i) {
        const double a = way(random);
        const Point read{scatter(random), scatter(random)};
        found += lies_beside(read, {10 * std::cos(a), 10 * std::sin(a)}, 100);
        wrongly += lies_beside(read, {0, 0}, 100);
    }
    EXPECT_GE(found, kTimes * 95 / 100);
    EXPECT_LE(wrongly, kTimes / 100);
}

TEST(UnlikeLimbs, AreNamedAtTheirFarEndAndWhatHangsOnThem) {
    const Limbs usual = typical_limbs(test::knowledge().body);
    Figure f = sitting_rider();
    EXPECT_TRUE(ends_of_unlike_limbs(f, usual).empty()) << "a rider";
    const Point ankle = f[L::ankle].at;
    // Half way up the shin, where a network takes the boot's top for the foot.
    f[L::ankle].at = {(f[L::knee].at.x + ankle.x) / 2, (f[L::knee].at.y + ankle.y) / 2};
    EXPECT_THAT(ends_of_unlike_limbs(f, usual), testing::UnorderedElementsAre(L::ankle, L::toe));
    f = sitting_rider();
    const double trunk = distance(f[L::shoulder].at, f[L::hip].at);
    f[L::knee].at.x += 0.6 * trunk;  // the horse's
    EXPECT_THAT(ends_of_unlike_limbs(f, usual), testing::IsSupersetOf({L::knee, L::ankle}));
    f[L::knee] = {};
    EXPECT_TRUE(ends_of_unlike_limbs(f, usual).empty()) << "of what is not there nothing is said";
}

}  // namespace
}  // namespace aspen::core
