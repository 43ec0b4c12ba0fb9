// The upright read from painted pictures, whose tilt is known.

#include "core/proposal/upright.hpp"

#include <gmock/gmock.h>

#include <cmath>
#include <cstdio>

#include "media/pose/upright_edges.hpp"
#include "media/reading/video_reader.hpp"
#include "support/support.hpp"

namespace aspen::media {
namespace {

std::optional<core::ReadUpright> read_in(const std::filesystem::path& clip) {
    VideoReader reader(clip);
    std::vector<core::StraightEdge> edges;
    constexpr int kFrames = 5;
    for (int k = 0; k < kFrames; ++k) {
        const auto here = straight_edges(reader.picture(k * (reader.facts().frames - 1) / (kFrames - 1)));
        edges.insert(edges.end(), here.begin(), here.end());
    }
    return core::read_upright(edges, reader.facts().width, reader.facts().height, kFrames);
}

TEST(ReadUprightOfPictures, LiesWithinWhatItStates) {
    int held = 0, read_at_all = 0;
    constexpr int kClips = 6;
    for (int i = 0; i < kClips; ++i) {
        simulate::ClipPlan plan = test::faulty_plan();
        plan.ride.seed = 700 + static_cast<unsigned>(i);
        plan.duration_s = 0.4;
        plan.camera.roll_deg = 2 * i - 5;
        plan.camera.yaw_deg = i % 3 * 6;
        plan.camera.grain = i % 2 * 4;
        const auto read = read_in(test::simulated_clip(plan, "upright-" + std::to_string(i)));
        if (!read) continue;
        ++read_at_all;
        const double off = std::abs(read->roll_deg - plan.camera.roll_deg);
        std::printf("%+.1f read as %+.2f +- %.2f (%d edges)\n", plan.camera.roll_deg, read->roll_deg,
                    read->sd_deg, read->edges);
        held += off < 1.645 * read->sd_deg;
        EXPECT_LT(off, 3) << plan.camera.roll_deg;
    }
    EXPECT_GE(read_at_all, kClips - 1) << "posts, letters and trees stand there";
    EXPECT_GE(held, read_at_all - 1) << "nine of ten";
}

TEST(ReadUprightOfPictures, SaysNothingOfAnEvenPicture) {
    Picture grey;
    grey.width = 320;
    grey.height = 180;
    grey.bgra.assign(320 * 180 * 4, 120);
    EXPECT_TRUE(straight_edges(grey).empty());
}

}  // namespace
}  // namespace aspen::media
