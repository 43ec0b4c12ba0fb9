// The ground's homography against OpenCV's own, which knows nothing of it: through four marks there is
// exactly one, and it must be the same.

#include <gtest/gtest.h>

#include <opencv2/imgproc.hpp>
#include <random>

#include "core/arena/arena_frame.hpp"
#include "core/arena/laid_ground.hpp"

namespace aspen {
namespace {

TEST(LaidGroundReference, FourMarksGiveTheHomographyOfOpenCv) {
    const core::ArenaFrame arena(60, 20);
    std::mt19937 engine(3);
    std::uniform_real_distribution<double> moved(-40, 40), across(-9, 9), along(2, 58);
    int held = 0;
    for (int run = 0; run < 50; ++run) {
        // A long side near, the other far: corners as a camera from the gallery sees them, moved at random.
        std::vector<core::GroundMark> marks{{arena.at("AF"), 210, 980},
                                            {arena.at("AK"), 520, 420},
                                            {arena.at("CH"), 1500, 400},
                                            {arena.at("CM"), 1810, 930}};
        std::vector<cv::Point2f> from, to;
        for (core::GroundMark& m : marks) {
            m.x += moved(engine), m.y += moved(engine);
            from.emplace_back(static_cast<float>(m.at.x), static_cast<float>(m.at.y));
            to.emplace_back(static_cast<float>(m.x), static_cast<float>(m.y));
        }
        const core::LaidGround ground(marks);
        const cv::Mat theirs = cv::getPerspectiveTransform(from, to);
        for (int n = 0; n < 10; ++n) {
            const core::GroundPoint g{along(engine), across(engine)};
            const cv::Mat p = theirs * cv::Mat(cv::Vec3d(g.x, g.y, 1));
            const double w = p.at<double>(2), x = p.at<double>(0) / w, y = p.at<double>(1) / w;
            const Eigen::Vector2d ours = ground.picture(g);
            EXPECT_NEAR(ours.x(), x, 0.02);
            EXPECT_NEAR(ours.y(), y, 0.02);
            const core::GroundPlace back = ground.place(x, y, 1);
            EXPECT_NEAR(back.at.x, g.x, 2e-3);
            EXPECT_NEAR(back.at.y, g.y, 2e-3);
            ++held;
        }
    }
    EXPECT_EQ(held, 500);
}

}  // namespace
}  // namespace aspen
