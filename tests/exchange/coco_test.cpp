#include "exchange/coco.hpp"

#include <gmock/gmock.h>

#include <nlohmann/json.hpp>
#include <random>
#include <sstream>

#include "core/reading/refused.hpp"
#include "support/refusal.hpp"

namespace aspen::exchange {
namespace {

using core::Landmark;
using testing::HasSubstr;
using Json = nlohmann::json;

MarkedMoment some_moment(core::View view = core::View::side) {
    MarkedMoment m;
    m.id = 7;
    m.file_name = "clip.mp4";
    m.width = 1280;
    m.height = 720;
    m.frame = 37;
    m.time_s = 1.2333333;
    m.figure.view = view;
    if (view == core::View::side) m.figure.travel = core::Travel::left;
    m.figure.camera = {1.25, 0.4, -6.5, 3.5, true, true};
    m.school = "hunter";
    m.gait = core::Gait::trot;
    m.seat = core::Seat::rising;
    m.rein = core::Rein::left;
    m.movement = "circle";
    m.phase = "rise_top";
    m.rider_ref = "12";
    std::mt19937 engine(5);
    std::uniform_real_distribution<double> x(0, 1280), y(0, 720);
    int i = 0;
    for (const Landmark l : core::landmarks_of(view)) {
        if (++i % 7 == 0) continue;
        m.figure[l] = {{x(engine), y(engine)},
                       i % 5 == 0 ? core::Visibility::hidden : core::Visibility::seen,
                       0.5 + i * 0.125,
                       static_cast<core::Origin>(i % 4),
                       i % 3 != 0};
    }
    return m;
}

std::string written(const std::vector<MarkedMoment>& moments) {
    std::ostringstream out;
    write_coco(out, moments);
    return out.str();
}
std::vector<MarkedMoment> marks_in(const std::string& text) {
    std::istringstream in(text);
    return read_coco(in, "marks.json");
}
std::string marks_refusal(const std::string& text) {
    return test::refusal_of([&] { marks_in(text); });
}
/// The file of one moment, changed by hand.
std::string with(const std::function<void(Json&)>& change) {
    Json json = Json::parse(written({some_moment()}));
    change(json);
    return json.dump();
}

TEST(Coco, SameNumbersAfterTheRoundTrip) {
    for (const core::View view : {core::View::side, core::View::rear, core::View::front}) {
        const MarkedMoment m = some_moment(view);
        const auto back = marks_in(written({m}));
        ASSERT_EQ(back.size(), 1U);
        EXPECT_EQ(back[0].figure, m.figure) << core::word(view);
        EXPECT_EQ(back[0].frame, 37);
        EXPECT_EQ(back[0].time_s, m.time_s);
        EXPECT_EQ(back[0].school, "hunter");
        EXPECT_EQ(back[0].gait, m.gait);
        EXPECT_EQ(back[0].seat, m.seat);
        EXPECT_EQ(back[0].rein, m.rein);
        EXPECT_EQ(back[0].movement, "circle");
        EXPECT_EQ(back[0].phase, "rise_top");
        EXPECT_EQ(back[0].rider_ref, "12");
    }
}

// The COCO key-point format (cocodataset.org, "Data format", from memory): what every common reader relies
// on.
TEST(Coco, HasTheListsAndIdsThatReadersLookFor) {
    const Json json = Json::parse(written({some_moment(), some_moment(core::View::rear)}));
    for (const char* list : {"images", "annotations", "categories"})
        ASSERT_TRUE(json[list].is_array()) << list;
    EXPECT_EQ(json["annotations"][0]["image_id"], json["images"][0]["id"]);
    for (const Json& category : json["categories"]) {
        EXPECT_TRUE(category["id"].is_number_integer());
        for (const Json& bone : category["skeleton"]) {
            for (const int end : bone) {
                EXPECT_GE(end, 1) << "bones count from 1";
                EXPECT_LE(end, static_cast<int>(category["keypoints"].size()));
            }
        }
    }
}

TEST(Coco, EveryFigureHasItsPointsTheirCountAndTheirBox) {
    const Json json = Json::parse(written({some_moment(), some_moment(core::View::rear)}));
    for (const Json& a : json["annotations"]) {
        const auto category = std::ranges::find_if(
            json["categories"], [&](const Json& c) { return c["id"] == a["category_id"]; });
        ASSERT_EQ(a["keypoints"].size(), 3 * (*category)["keypoints"].size());
        const double left = a["bbox"][0], top = a["bbox"][1], right = left + a["bbox"][2].get<double>(),
                     bottom = top + a["bbox"][3].get<double>();
        int marked = 0;
        for (std::size_t i = 0; i < a["keypoints"].size(); i += 3) {
            const double x = a["keypoints"][i], y = a["keypoints"][i + 1];
            if (a["keypoints"][i + 2] == 0) {
                EXPECT_EQ(std::pair(x, y), std::pair(0.0, 0.0)) << "what is not marked lies nowhere";
                continue;
            }
            ++marked;
            EXPECT_TRUE(x >= left - 1e-6 && x <= right + 1e-6) << x;
            EXPECT_TRUE(y >= top - 1e-6 && y <= bottom + 1e-6) << y;
        }
        EXPECT_EQ(a["num_keypoints"], marked);
        EXPECT_NEAR(a["area"].get<double>(), (right - left) * (bottom - top), 1e-6);
        EXPECT_EQ(a["iscrowd"], 0);
    }
}

TEST(Coco, ImageGivesWhatTheAnnotationDoesNotSay) {
    const auto back = marks_in(with([](Json& j) {
        j["images"][0]["aspen"] = {{"school", "classical"}, {"gait", "walk"}};
        j["annotations"][0]["aspen"].erase("school");
    }));
    EXPECT_EQ(back[0].school, "classical");
    EXPECT_EQ(back[0].gait, core::Gait::trot) << "its own word comes first";
}

TEST(Coco, DefaultsAreTheSpecifications) {
    const auto back = marks_in(with([](Json& j) { j["annotations"][0]["aspen"] = {{"frame", 3}}; }));
    const core::CameraPose& c = back[0].figure.camera;
    EXPECT_FALSE(c.roll_marked);
    EXPECT_DOUBLE_EQ(c.roll_sd_deg, 1.5);
    EXPECT_DOUBLE_EQ(c.yaw_sd_deg, 7);
    EXPECT_EQ(back[0].figure.travel, core::Travel::unknown) << "direction of travel has no default";
    EXPECT_TRUE(back[0].setting().school.empty()) << "no bands without school, gait and seat";
    for (const core::Mark& m : back[0].figure.marks) {
        if (m.visibility != core::Visibility::absent) {
            EXPECT_NEAR(m.sd_px, 2.0 * 720 / 1080, 1e-12);
        }
        EXPECT_TRUE(m.confirmed);
    }
}

TEST(Coco, OneErrorForAllPointsMayBeGiven) {
    const auto back = marks_in(with([](Json& j) { j["annotations"][0]["aspen"]["sd_px"] = 3.5; }));
    EXPECT_DOUBLE_EQ(back[0].figure[Landmark::ear].sd_px, 3.5);
}

TEST(Coco, WhatIsNoFileOfMarksIsRefused) {
    EXPECT_THAT(marks_refusal("{"), HasSubstr("marks.json: not valid JSON"));
    EXPECT_THAT(marks_refusal(R"({"a": 1e999})"),
                HasSubstr("marks.json: holds something that cannot be read"));
    EXPECT_THAT(marks_refusal(std::string(100, '[')), HasSubstr("nested more than"));
    EXPECT_THAT(marks_refusal("{\"a\": \"" + std::string(std::size_t{65} << 20, 'x') + "\"}"),
                HasSubstr("larger than"));
    EXPECT_THAT(marks_refusal("[]"), HasSubstr("must be an object"));
    EXPECT_THAT(marks_refusal("{}"), HasSubstr("field \"categories\" is missing"));
    EXPECT_THAT(
        marks_refusal(
            R"({"categories":[{"id":1,"name":"person","keypoints":[]}],"images":[],"annotations":[]})"),
        HasSubstr("neither rider_side nor rider_frontal"));
}

TEST(Coco, AWrongFieldIsNamed) {
    const struct {
        std::function<void(Json&)> spoil;
        const char* named;
    } all[] = {
        {[](Json& j) { j["annotations"][0]["image_id"] = 4294967297; }, "names no image"},
        {[](Json& j) { j["annotations"][0]["category_id"] = 4294967298; }, "whole number"},
        {[](Json& j) { j["annotations"][0]["keypoints"][0] = 1e300; }, "pixels away"},
        {[](Json& j) { j["images"][0]["width"] = 4294967296; }, "width"},
        {[](Json& j) { j["annotations"][0]["keypoints"].push_back(1); }, "must hold 60 numbers"},
        {[](Json& j) { j["annotations"][0]["keypoints"][2] = 3; }, "visibility"},
        {[](Json& j) { j["annotations"][0]["keypoints"][0] = "left"; }, "numbers only"},
        {[](Json& j) { j["annotations"][0]["image_id"] = 55; }, "names no image"},
        {[](Json& j) { j["annotations"][0]["category_id"] = 9; }, "category_id"},
        {[](Json& j) { j["annotations"][0]["aspen"]["gait"] = "gallop"; }, "unknown word \"gallop\""},
        {[](Json& j) { j["annotations"][0]["aspen"]["view"] = "rear"; }, "does not go with the category"},
        {[](Json& j) { j["annotations"][0]["aspen"]["frame"] = -1; }, "whole number from 0"},
        {[](Json& j) {
             j["annotations"][0]["aspen"]["sd_px"] = {{"ear", -2}};
         },
         "sd_px"},
        {[](Json& j) { j["annotations"][0]["aspen"]["camera_roll_sd_deg"] = -2; }, "not be negative"},
        {[](Json& j) { j["annotations"][0]["aspen"]["origin"]["ear"] = "dreamt"; }, "origin"},
        {[](Json& j) { j["images"][0]["width"] = 0; }, "width"},
        {[](Json& j) { j["categories"][0]["keypoints"][0] = "nose"; }, "unknown landmark \"nose\""},
        {[](Json& j) { j["annotations"][0] = 5; }, "must be an object"},
    };
    for (const auto& one : all) EXPECT_THAT(marks_refusal(with(one.spoil)), HasSubstr(one.named));
}

TEST(Coco, AFrameAndATimeThatDisagreeAreRefused) {
    MarkedMoment a = some_moment(), b = some_moment();
    b.id = 8;
    b.time_s = 1.4;
    EXPECT_THAT(marks_refusal(written({a, b})), HasSubstr("frame 37 stands with two times"));
    b.frame = 40;
    b.time_s = 1.1;
    EXPECT_THAT(marks_refusal(written({a, b})), HasSubstr("comes after frame 37"));
    std::vector<double> pts;
    for (int i = 0; i < 60; ++i) pts.push_back(i / 30.0);
    EXPECT_NO_THROW(check_times({a}, pts, "marks.json"));
    a.time_s = 1.30;
    EXPECT_THROW(check_times({a}, pts, "marks.json"), core::Refused);
    a.frame = 60;
    EXPECT_THROW(check_times({a}, pts, "marks.json"), core::Refused);
}

}  // namespace
}  // namespace aspen::exchange
