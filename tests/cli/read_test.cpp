// `read`: what is found of a rider nobody marked. What needs the body-pose network is left out by name where
// it was not fetched.

#include <gmock/gmock.h>

#include <cstdlib>
#include <nlohmann/json.hpp>

#include "app/review/figure_maker.hpp"
#include "cli/cli_support.hpp"
#include "support/support.hpp"

namespace aspen::cli {
namespace {

using testing::HasSubstr;
using Json = nlohmann::json;

class ReadVerb : public testing::Test {
  protected:
    ReadVerb() { setenv("ASPEN_PAINTER", ASPEN_PAINTER, 1); }
    const std::string clip = short_clip().string();
};

TEST_F(ReadVerb, WithoutTheNetworkSaysHowToGetIt) {
    const test::TempFolder empty;
    const char* before = std::getenv("ASPEN_MODELS");
    const std::string kept = before ? before : "";
    setenv("ASPEN_MODELS", (empty / "models").c_str(), 1);
    const Said s = say({"read", clip});
    before ? setenv("ASPEN_MODELS", kept.c_str(), 1) : unsetenv("ASPEN_MODELS");
    EXPECT_EQ(s.code, kRefused);
    EXPECT_THAT(s.err, HasSubstr("./aspen setup fetches it"));
    EXPECT_TRUE(s.out.empty());
}

TEST_F(ReadVerb, RefusesWhatIsNoClipAndNoFrame) {
    if (!app::FigureMaker::has_model())
        GTEST_SKIP() << "the body-pose network is not there (./aspen setup fetches it)";
    EXPECT_EQ(say({"read", "/nowhere/clip.mp4"}).code, kRefused);
    const Said s = say({"read", clip, "--frames", "300"});
    EXPECT_EQ(s.code, kRefused);
    EXPECT_THAT(s.err, HasSubstr("has no frame 300; its last is 29"));
}

TEST_F(ReadVerb, GivesStretchesAndFiguresNearTheTruth) {
    if (!app::FigureMaker::has_model())
        GTEST_SKIP() << "the body-pose network is not there (./aspen setup fetches it)";
    const Said s = say({"read", clip, "--frames", "8,20", "--json"});
    ASSERT_EQ(s.code, kDone) << s.err;
    const Json j = Json::parse(s.out);
    ASSERT_TRUE(j.at("upright").is_object());
    EXPECT_NEAR(j.at("upright").at("roll_deg").get<double>(), 0, 1.5);
    EXPECT_GT(j.at("upright").at("sd_deg").get<double>(), 0.5);
    EXPECT_EQ(j.at("upright").at("from"), "lines");
    ASSERT_EQ(j.at("frames").size(), 2U);
    for (const Json& f : j.at("frames")) {
        const core::Figure truth = test::true_figure(short_clip(), f.at("frame"));
        const double trunk =
            core::distance(truth[core::Landmark::shoulder].at, truth[core::Landmark::hip].at);
        for (const Json& rider : f.at("riders")) {
            EXPECT_EQ(rider.at("travel"), "right");
            EXPECT_GE(rider.at("score").get<double>(), 0.0);
            EXPECT_LE(rider.at("score").get<double>(), 1.0);
            for (const char* id : {"ear", "shoulder", "elbow", "hip"}) {
                const Json& at = rider.at("landmarks").at(id);
                const core::Point p{at.at("x"), at.at("y")};
                EXPECT_LT(core::distance(p, truth[*core::landmark_from(id)].at), 0.35 * trunk) << id;
                EXPECT_GT(at.at("sd_px").get<double>(), 0);
                EXPECT_GE(at.at("offset_sd_px").get<double>(), 0.035 * trunk);
            }
        }
    }
    for (const Json& stretch : j.at("stretches")) {
        EXPECT_LE(stretch.at("first").get<int>(), stretch.at("last").get<int>());
        EXPECT_EQ(stretch.at("view"), "side");
    }
}

}  // namespace
}  // namespace aspen::cli
