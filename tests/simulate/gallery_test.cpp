// Filmed from the gallery: what the simulator says of its ground is what core finds by marks alone, and a
// figure ridden with a said fault is held against what was asked.

#include <gmock/gmock.h>

#include <cmath>
#include <fstream>
#include <nlohmann/json.hpp>
#include <random>

#include "core/arena/ridden_figure.hpp"
#include "core/reading/refused.hpp"
#include "media/reading/video_reader.hpp"
#include "simulate/gallery.hpp"
#include "support/support.hpp"

namespace aspen::simulate {
namespace {

/// What a coach clicks of it: letters' feet that are in the picture, by two pixels.
std::vector<core::GroundMark> clicked(const GalleryPlan& plan, std::mt19937& engine, double sd_px) {
    const core::ArenaFrame arena(plan.length_m, plan.width_m);
    const GalleryView view(plan, 0);
    std::normal_distribution<double> error(0, std::max(sd_px, 1e-9));
    std::vector<core::GroundMark> out;
    for (const char* name : {"K", "E", "H", "C", "M", "B", "CH", "CM", "A"}) {
        const core::GroundPoint g = arena.at(name);
        const auto at = view.see({g.x, g.y, 0});
        if (!at || at->x() < 0 || at->x() > plan.camera.width || at->y() < 0 || at->y() > plan.camera.height)
            continue;
        out.push_back({g, at->x() + error(engine), at->y() + error(engine), std::max(sd_px, 0.3)});
    }
    return out;
}

core::RiddenFigure held(const GalleryPlan& plan, const core::AskedFigure& asked, unsigned seed) {
    std::mt19937 engine(seed);
    std::normal_distribution<double> error(0, 2);
    const std::vector<core::LaidGround> grounds{core::LaidGround(clicked(plan, engine, 2))};
    std::vector<core::WayPoint> way;
    for (double t = 0; t <= plan.duration_s; t += 0.1) {
        const OnGround on = ridden_at(plan.figure, t);
        const auto at = GalleryView(plan, t).see({on.x, on.y, 0});
        if (!at) continue;
        core::WayPoint w{t, at->x() + error(engine), at->y() + error(engine), 2, 0, 0, {}, {}};
        w.place = grounds[0].place(w.x, w.y, 2, 0, core::kHoofHeightSd);
        way.push_back(w);
    }
    return core::hold_against(asked, way, grounds, core::ArenaFrame(plan.length_m, plan.width_m));
}

TEST(Gallery, ItsHomographyIsTheOneThatMarksGive) {
    GalleryPlan plan;
    std::mt19937 engine(1);
    const core::LaidGround ground(clicked(plan, engine, 0));
    const auto h = GalleryView(plan, 0).homography();
    for (const auto& [x, y] : {std::pair{10.0, 2.0}, {25.0, -6.0}, {36.0, 8.0}}) {
        const double w = h[6] * x + h[7] * y + h[8];
        const Eigen::Vector2d theirs((h[0] * x + h[1] * y + h[2]) / w, (h[3] * x + h[4] * y + h[5]) / w);
        EXPECT_NEAR((ground.picture({x, y}) - theirs).norm(), 0, 0.05);
    }
    ASSERT_TRUE(ground.camera());
    EXPECT_NEAR(ground.camera()->z(), plan.camera.at.z, 0.1);
}

TEST(Gallery, ARoundAndASquareCircleAreToldApart) {
    GalleryPlan plan;
    plan.camera.width = 1920, plan.camera.height = 1080;
    const core::AskedFigure circle{core::FigureKind::circle, 0, plan.duration_s};
    const core::RiddenFigure round = held(plan, circle, 3);
    EXPECT_NEAR(*round.diameter_m, 16, 0.5);
    EXPECT_LT(*round.square_m, 0.3);
    plan.figure.square_m = 0.8;
    const core::RiddenFigure square = held(plan, circle, 3);
    EXPECT_NEAR(*square.square_m, 0.8, 0.3);
    EXPECT_GT(*square.square_m, 2.45 * *square.square_sd_m);
}

TEST(Gallery, AQuarterThatFallsInIsFoundWhereItIs) {
    GalleryPlan plan;
    plan.camera.width = 1920, plan.camera.height = 1080;
    plan.figure.falls_in_m = 1.2;
    plan.figure.falls_in_from_deg = 90;
    const core::RiddenFigure f =
        held(plan, {core::FigureKind::circle, 0, plan.duration_s, 16.0, core::GroundPoint{20, 0}}, 5);
    ASSERT_EQ(f.eighths.size(), 8U);
    EXPECT_LT(f.eighths[2].deviation_m, -0.5) << "90 to 135 degrees";
    EXPECT_LT(f.eighths[3].deviation_m, -0.5);
    EXPECT_GT(f.eighths[6].deviation_m, -0.3);
}

TEST(Gallery, AWallIsRiddenAsFarFromItAsSaid) {
    GalleryPlan plan;
    plan.figure.kind = GalleryFigure::Kind::wall;
    plan.figure.off_wall_m = 1.6;
    plan.figure.sways_m = 0.7;
    plan.duration_s = 9;
    core::AskedFigure wall{core::FigureKind::wall, 0, 9};
    wall.side = "left";
    const core::RiddenFigure f = held(plan, wall, 7);
    EXPECT_LT(std::abs(*f.off_m - 1.6), 2.6 * *f.off_sd_m);
    EXPECT_LT(*f.off_sd_m, 0.5);
    EXPECT_NEAR(*f.sway_m, 0.7, 0.25);
}

TEST(Gallery, TheHalfTowardsCIsRiddenFasterWhereItIsSaid) {
    GalleryFigure f;
    f.faster_in_turn = 0.3;
    const auto speed = [&](double t) {
        const OnGround a = ridden_at(f, t), b = ridden_at(f, t + 0.05);
        return std::hypot(b.x - a.x, b.y - a.y) / 0.05;
    };
    EXPECT_NEAR(speed(0), 1.3 * f.speed_mps, 0.1);
    double slowest = 100;
    for (double t = 0; t < 16; t += 0.2) slowest = std::min(slowest, speed(t));
    EXPECT_NEAR(slowest, f.speed_mps, 0.1);
}

TEST(Gallery, TheClipAndItsTruthBelongTogether) {
    const test::TempFolder folder;
    GalleryPlan plan;
    plan.duration_s = 0.4;
    plan.camera.pans = true;
    const auto file = folder / "gallery.mp4";
    ASSERT_TRUE(make_gallery_clip(plan, file));
    media::VideoReader reader(file);
    std::ifstream in(folder / "gallery.truth.json");
    const auto truth = nlohmann::json::parse(in);
    ASSERT_EQ(truth["frames"].size(), static_cast<std::size_t>(reader.facts().frames));
    const auto& last = truth["frames"].back();
    EXPECT_NEAR(last["at"][0].get<double>(), plan.camera.width / 2.0, 2) << "it turns after the rider";
    // Where the truth puts the hooves something else is painted than without the rider.
    GalleryPlan without = plan;
    without.figure.centre_x = 300;
    without.camera.pans = false;
    plan.camera.pans = false;
    const QImage with = paint_gallery(plan, 0), bare = paint_gallery(without, 0);
    const OnGround on = ridden_at(plan.figure, 0);
    const auto at = GalleryView(plan, 0).see({on.x, on.y, 1.2});
    ASSERT_TRUE(at);
    EXPECT_NE(with.pixel(at->toPoint()), bare.pixel(at->toPoint()));
}

}  // namespace
}  // namespace aspen::simulate
