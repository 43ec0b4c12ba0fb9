// Where the horse went, on the command line.

#include <gmock/gmock.h>

#include <fstream>
#include <nlohmann/json.hpp>

#include "cli/cli_support.hpp"

namespace aspen::cli {
namespace {

using testing::HasSubstr;

/// A camera straight above: 20 pixels a metre, A at the left, so that what is asked can be reckoned in the
/// head.
nlohmann::json from_above() {
    nlohmann::json ask{{"arena", {{"length", 40}, {"width", 20}}}, {"camera", "still"}};
    const auto pixel = [](double x, double y) {
        return nlohmann::json{{"x", 100 + 20 * x}, {"y", 300 - 20 * y}};
    };
    nlohmann::json points = nlohmann::json::array();
    for (const auto& [name, x, y] : {std::tuple{"AK", 0.0, 10.0},
                                     {"AF", 0.0, -10.0},
                                     {"CH", 40.0, 10.0},
                                     {"CM", 40.0, -10.0},
                                     {"X", 20.0, 0.0}}) {
        nlohmann::json p = pixel(x, y);
        p["name"] = name;
        points.push_back(p);
    }
    ask["marks"] = nlohmann::json::array({{{"frame", 0}, {"points", points}}});
    ask["path"] = nlohmann::json::array();
    for (int i = 0; i <= 100; ++i) {
        const double a = 2 * 3.14159265358979 * i / 100;
        nlohmann::json p = pixel(20 + 8 * std::cos(a), 8 * std::sin(a));
        p["frame"] = i, p["time_s"] = 0.2 * i;
        ask["path"].push_back(p);
    }
    ask["figures"] =
        nlohmann::json::array({{{"kind", "circle"}, {"from_s", 0}, {"to_s", 20}, {"diameter_m", 16}}});
    return ask;
}

class GroundVerb : public testing::Test {
  protected:
    Said ground(const nlohmann::json& ask, bool json = true) {
        const std::string file = (folder / "ground.json").string();
        std::ofstream(file) << ask.dump();
        return json ? say({"ground", file, "--json"}) : say({"ground", file});
    }
    test::TempFolder folder;
};

TEST_F(GroundVerb, GivesCameraPathAndFigures) {
    const Said said = ground(from_above());
    ASSERT_EQ(said.code, 0) << said.err;
    const auto out = nlohmann::json::parse(said.out);
    EXPECT_EQ(out["camera"][0]["points"], 5);
    EXPECT_NEAR(out["path"][0]["x_m"], 28, 1e-3);
    EXPECT_NEAR(out["path"][25]["y_m"], 8, 1e-3);
    EXPECT_NEAR(out["path"][50]["speed_m_per_s"], 2 * 3.14159 * 8 / 20, 0.05);
    const auto& circle = out["figures"][0];
    EXPECT_EQ(circle["kind"], "circle");
    EXPECT_NEAR(circle["diameter_m"], 16, 0.01);
    EXPECT_NEAR(circle["centre"][0], 20, 0.01);
    EXPECT_EQ(circle["eighths"].size(), 8U);
    EXPECT_LT(circle["square_m"], 0.05);
}

TEST_F(GroundVerb, SaysItToAPersonToo) {
    const Said said = ground(from_above(), false);
    EXPECT_EQ(said.code, 0);
    EXPECT_THAT(said.out, HasSubstr("16.0"));
    EXPECT_THAT(said.out, HasSubstr("5 marks"));
}

TEST_F(GroundVerb, RefusesInOneLine) {
    nlohmann::json ask = from_above();
    ask["marks"][0]["points"].erase(3);
    ask["marks"][0]["points"].erase(2);
    Said said = ground(ask);
    EXPECT_EQ(said.code, kRefused);
    EXPECT_THAT(said.err, HasSubstr("four are needed"));
    EXPECT_EQ(std::count(said.err.begin(), said.err.end(), '\n'), 1);
    ask = from_above();
    ask["figures"][0]["to_s"] = 0.5;
    EXPECT_THAT(ground(ask).err, HasSubstr("circle"));
    EXPECT_EQ(say({"ground", "/nowhere.json"}).code, kRefused);
}

}  // namespace
}  // namespace aspen::cli
