// The horse's outline from what goes with the rider and not with the background.

#include "media/pose/horse_outline.hpp"

#include <gmock/gmock.h>

#include <opencv2/imgproc.hpp>
#include <vector>

namespace aspen::media::horse {
namespace {

constexpr double kUnit = kTrunkPx;
const cv::Size kSize(static_cast<int>(2 * kShownAcross * kUnit),
                     static_cast<int>((kShownAbove + kShownBelow) * kUnit));
const cv::Point2d kKnee(kShownAcross* kUnit, kShownAbove* kUnit);

cv::Point at(double ahead, double up) {
    return {static_cast<int>(kKnee.x + ahead * kUnit), static_cast<int>(kKnee.y - up * kUnit)};
}

/// A pattern that is the same nowhere.
cv::Mat ground_pattern() {
    cv::Mat out(kSize.height, kSize.width * 4, CV_8U);
    cv::RNG random(29);
    random.fill(out, cv::RNG::UNIFORM, 40, 220);
    cv::GaussianBlur(out, out, {5, 5}, 0);
    return out;
}

/// A horse of trunk, rump, neck and head, with ears and reins, before a background that has gone by so far.
cv::Mat painted(int gone_by, bool horse) {
    static const cv::Mat ground = ground_pattern();
    cv::Mat out = ground({gone_by, 0, kSize.width, kSize.height}).clone();
    if (!horse) return out;
    const cv::Scalar coat(90), rein(200);
    const auto half = [](double v) { return static_cast<int>(v * kUnit); };
    cv::ellipse(out, at(-0.4, 0.2), {half(1.3), half(0.55)}, 0, 0, 360, coat, -1);   // trunk
    cv::ellipse(out, at(-1.6, 0.35), {half(0.6), half(0.55)}, 0, 0, 360, coat, -1);  // rump
    cv::line(out, at(0.6, 0.4), at(2.3, 1.3), coat, half(0.55));                     // neck
    cv::line(out, at(2.3, 1.3), at(2.7, 0.5), coat, half(0.3));                      // head
    cv::line(out, at(2.3, 1.5), at(2.33, 1.85), coat, half(0.08));                   // an ear
    cv::line(out, at(0.3, 1.1), at(2.5, 0.7), rein, 2);
    return out;
}

struct Seen {
    std::vector<cv::Mat> by_rider, by_background;
};
/// The rider stands still in these pictures: what the background does is laid back for the others.
Seen seen(int step, bool horse = true) {
    Seen out;
    const int middle = kSize.width;
    for (const int k : {0, -5, -4, -3, -2, -1, 1, 2, 3, 4, 5}) {
        const cv::Mat picture = painted(middle + k * step, horse);
        out.by_rider.push_back(picture);
        const cv::Matx23d back(1, 0, k * step, 0, 1, 0);
        cv::Mat laid;
        cv::warpAffine(picture, laid, back, kSize, cv::INTER_LINEAR, cv::BORDER_REPLICATE);
        out.by_background.push_back(laid);
    }
    return out;
}

TEST(HorseOutline, FindsPollAndCroupClearOfEarsAndReins) {
    const Seen s = seen(9);
    const OutlinePoints found = outline_points(s.by_rider, s.by_background, kKnee);
    ASSERT_TRUE(found.poll);
    ASSERT_TRUE(found.croup);
    EXPECT_NEAR(found.poll->x, at(2.35, 0).x, 0.3 * kUnit);
    EXPECT_NEAR(found.poll->y, at(0, 1.5).y, 0.2 * kUnit) << "not the ear's tip";
    EXPECT_NEAR(found.croup->x, at(-1.6, 0).x, 0.4 * kUnit);
    EXPECT_NEAR(found.croup->y, at(0, 0.9).y, 0.15 * kUnit);
}

TEST(HorseOutline, SaysNothingWhereTheBackgroundStoodStill) {
    const Seen s = seen(0);
    const OutlinePoints found = outline_points(s.by_rider, s.by_background, kKnee);
    EXPECT_FALSE(found.poll);
    EXPECT_FALSE(found.croup);
}

TEST(HorseOutline, SaysNothingWhereNoHorseIs) {
    const Seen s = seen(9, false);
    const OutlinePoints found = outline_points(s.by_rider, s.by_background, kKnee);
    EXPECT_FALSE(found.poll);
    EXPECT_FALSE(found.croup);
}

TEST(HorseOutline, SaysNothingOfTooFewPictures) {
    const Seen s = seen(9);
    const OutlinePoints found =
        outline_points(std::span(s.by_rider).first(3), std::span(s.by_background).first(3), kKnee);
    EXPECT_FALSE(found.poll || found.croup);
}

}  // namespace
}  // namespace aspen::media::horse
