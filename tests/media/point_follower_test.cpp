// How the ways of marked moments are put together: no picture is read for it.

#include "media/pose/point_follower.hpp"

#include <gmock/gmock.h>

namespace aspen::media {
namespace {

/// A point that the flow saw go 2 px a frame to the right from an anchor.
FollowPass pass(int from, core::Point at, int frames, double step_px = 2, int way = 1) {
    FollowPass out{{from, {PointToCarry{at, {}, 0}}}, way, {}, {}};
    for (int i = 1; i <= frames; ++i)
        out.frames.push_back({CarriedPoint{{at.x + way * step_px * i, at.y}, 0.1 * i, 0.9, true}});
    return out;
}
FollowAnchor anchor(int frame, core::Point at) { return {frame, {PointToCarry{at, {}, 0}}}; }
std::optional<CarriedPoint> at(const std::vector<FollowedFrame>& frames, int frame) {
    return frames[static_cast<std::size_t>(frame - frames.front().frame)].points[0];
}

TEST(BendThrough, SpreadsWhatWasMissedOverTheWay) {
    const std::vector<FollowPass> passes{pass(0, {100, 50}, 10)};
    const auto out = bend_through(0, 10, {anchor(0, {100, 50}), anchor(10, {130, 50})}, passes, {});
    EXPECT_NEAR(at(out, 0)->at.x, 100, 1e-9);
    EXPECT_NEAR(at(out, 5)->at.x, 100 + 10 + 5, 1e-9)
        << "it came to 120 instead of 130: half of that is missing here";
    EXPECT_NEAR(at(out, 10)->at.x, 130, 1e-9);
    EXPECT_GT(at(out, 5)->sd_px, at(out, 1)->sd_px) << "surest beside what was marked";
    EXPECT_NEAR(at(out, 5)->sd_px, 0.5 * 5, 1e-9) << "half of half of what was missed";
    EXPECT_EQ(at(out, 10)->sd_px, 0);
}

// A joint that is moved bends the way to its neighbours, though nothing was followed from there yet.
TEST(BendThrough, AnAnchorThatWasNotFollowedYetShiftsTheWayThereIs) {
    const std::vector<FollowPass> passes{pass(0, {100, 50}, 20)};
    const auto out = bend_through(0, 20, {anchor(0, {100, 50}), anchor(10, {126, 50})}, passes, {});
    EXPECT_NEAR(at(out, 10)->at.x, 126, 1e-9);
    EXPECT_NEAR(at(out, 15)->at.x, 136, 1e-9) << "on from the mark as the flow went";
    EXPECT_NEAR(at(out, 5)->at.x, 113, 1e-9);
}

TEST(BendThrough, TheLatestAnchorsOwnWayIsTheOneThatCounts) {
    const std::vector<FollowPass> passes{pass(0, {100, 50}, 20, 2), pass(10, {120, 50}, 10, 1)};
    const auto out = bend_through(0, 20, {anchor(0, {100, 50}), anchor(10, {120, 50})}, passes, {});
    EXPECT_NEAR(at(out, 20)->at.x, 130, 1e-9);
}

TEST(BendThrough, BeforeTheFirstAndPastTheEndOfAWay) {
    const std::vector<FollowPass> passes{pass(10, {100, 50}, 5), pass(10, {100, 50}, 10, 2, -1)};
    const auto out = bend_through(0, 20, {anchor(10, {100, 50})}, passes, {});
    EXPECT_NEAR(at(out, 0)->at.x, 80, 1e-9);
    EXPECT_NEAR(at(out, 15)->at.x, 110, 1e-9);
    EXPECT_FALSE(at(out, 16)) << "stopped there: nothing is made up";
}

TEST(BendThrough, AWayThatWasStoppedLeavesAHoleAndNoGuess) {
    FollowPass stopped = pass(0, {100, 50}, 4);
    const auto out = bend_through(0, 10, {anchor(0, {100, 50}), anchor(10, {120, 50})}, {stopped}, {});
    EXPECT_TRUE(at(out, 4));
    EXPECT_FALSE(at(out, 7));
    EXPECT_TRUE(at(out, 10));
}

TEST(BendThrough, TheCamerasStepsAreAddedUp) {
    CameraSteps steps;
    steps[0] = {3, 1, 6, 0};
    steps[3] = {6, 2, 0, 0};
    const auto out = bend_through(0, 6, {anchor(0, {0, 0})}, {pass(0, {0, 0}, 6)}, steps);
    EXPECT_NEAR(out[1].cam_x, 2, 1e-9);
    EXPECT_NEAR(out[3].cam_x, 6, 1e-9);
    EXPECT_NEAR(out[6].cam_x, 12, 1e-9) << "what came before grows with the picture";
    EXPECT_NEAR(out[6].cam_scale, 2, 1e-9);
}

// People walking (vtest.avi of Debian's opencv-doc, 10 pictures a second, a trunk of 32 px): followed for a
// second, over 96 px, against places read off by eye, from the picture enlarged four times.
TEST(FollowOn, AWalkersHeadIsFollowedAndWhatIsLostInFrontOfTheLegsIsNoticed) {
    VideoReader reader("/usr/share/doc/opencv-doc/examples/data/vtest.avi");
    FollowPass pass{{0, {}}, 1, {}, {}};
    const core::Point head{656.4, 246.5}, hip{667.1, 288.1};
    for (const core::Point p : {head, hip}) pass.anchor.points.push_back(PointToCarry{p, {}, 0});
    CameraSteps camera;
    FollowWith with;
    with.trunk_px = 32;
    ASSERT_TRUE(follow_on(reader, pass, 10, camera, with));
    const auto came = pass.at(10, 0);
    ASSERT_TRUE(came);
    EXPECT_TRUE(came->sure);
    EXPECT_LT(core::distance(came->at, {560.4, 243.5}), 3) << "of 96 px walked";
    ASSERT_TRUE(pass.at(10, 1));
    const double off = core::distance(pass.at(10, 1)->at, {563.4, 288.1});
    EXPECT_TRUE(off < 6 || !pass.at(10, 1)->sure) << "off by " << off << " and yet called sure";
    ASSERT_TRUE(camera.contains(3));
    EXPECT_LT(std::hypot(camera[3].x, camera[3].y), 0.2) << "the camera stands still";
}

TEST(FollowOn, GoesOnFromWhereItWasStopped) {
    const auto passed = [](std::initializer_list<int> stops) {
        VideoReader reader("/usr/share/doc/opencv-doc/examples/data/vtest.avi");
        FollowPass pass{{0, {PointToCarry{{656.4, 246.5}, {}, 0}}}, 1, {}, {}};
        CameraSteps camera;
        FollowWith with;
        with.trunk_px = 32;
        for (const int stop : stops) EXPECT_TRUE(follow_on(reader, pass, stop, camera, with));
        return *pass.at(8, 0);
    };
    const CarriedPoint whole = passed({8}), parts = passed({3, 8});
    EXPECT_LT(core::distance(whole.at, parts.at), 0.01);
    EXPECT_NEAR(whole.sd_px, parts.sd_px, 0.01);
    EXPECT_NEAR(whole.confidence, parts.confidence, 1e-6);
}

}  // namespace
}  // namespace aspen::media
