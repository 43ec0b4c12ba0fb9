// Tracks and plain CSV, out and in again.

#include <gmock/gmock.h>

#include <sstream>

#include "exchange/csv.hpp"
#include "exchange/tracks.hpp"
#include "support/refusal.hpp"

namespace aspen::exchange {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

core::Tracks tracks_in(const std::string& rows,
                       const std::string& head = "frame,time_s,landmark,x,y,confidence") {
    std::istringstream in(head + "\n" + rows);
    return read_tracks(in, "tracks.csv");
}
std::string tracks_refusal(const std::string& rows,
                           const std::string& head = "frame,time_s,landmark,x,y,confidence") {
    return test::refusal_of([&] { tracks_in(rows, head); });
}

// RFC 4180, section 2: the rules of fields, quotes and doubled quotes, with its own examples.
TEST(Csv, FieldsAreReadAsTheStandardSays) {
    EXPECT_THAT(csv_fields("aaa,bbb,ccc"), ElementsAre("aaa", "bbb", "ccc"));
    EXPECT_THAT(csv_fields("\"aaa\",\"bbb\",\"ccc\""), ElementsAre("aaa", "bbb", "ccc"));
    EXPECT_THAT(csv_fields("\"aaa\",\"b\"\"bb\",\"ccc\""), ElementsAre("aaa", "b\"bb", "ccc"));
    EXPECT_THAT(csv_fields("a,,c,"), ElementsAre("a", "", "c", ""));
    EXPECT_THAT(csv_fields("\"a,b\",c"), ElementsAre("a,b", "c"));
}

TEST(Csv, WhatIsQuotedComesBack) {
    for (const std::string word :
         {"plain", "", "with, comma", "a \"quoted\" word", "\"", ",", " blanks ", "Größe 3°"}) {
        const auto back = csv_fields(csv_quoted(word) + "," + csv_quoted(word));
        ASSERT_EQ(back.size(), 2U) << word;
        EXPECT_EQ(back[0], word);
        EXPECT_EQ(back[1], word);
    }
    EXPECT_EQ(csv_quoted("plain"), "plain") << "only where it is needed";
}

TEST(TrackFiles, ComeBackAsTheyWentOut) {
    core::Tracks out;
    for (int n = 0; n < 5; ++n) {
        core::TrackPoint p{n, n / 30.0, core::Landmark::hip, {600.25 + n, 300.5}};
        p.confidence = 0.75;
        p.sd_px = 1.5;
        out.points.push_back(p);
    }
    std::ostringstream file;
    write_tracks(file, out);
    std::istringstream in(file.str());
    const core::Tracks back = read_tracks(in, "tracks.csv");
    ASSERT_EQ(back.points.size(), out.points.size());
    for (std::size_t i = 0; i < out.points.size(); ++i) {
        EXPECT_EQ(back.points[i].frame, out.points[i].frame);
        EXPECT_EQ(back.points[i].landmark, out.points[i].landmark);
        EXPECT_NEAR(back.points[i].time_s, out.points[i].time_s, 5e-5) << "four decimals";
        EXPECT_NEAR(back.points[i].at.x, out.points[i].at.x, 5e-3) << "two decimals";
    }
}

TEST(TrackFiles, TakeTheirColumnsInAnyOrder) {
    const auto t = tracks_in("0.5,12,100,200,hip,0.9\n", "time_s,frame,x,y,landmark,confidence");
    ASSERT_EQ(t.points.size(), 1U);
    EXPECT_EQ(t.points[0].frame, 12);
    EXPECT_EQ(t.points[0].at, (core::Point{100, 200}));
}

TEST(TrackFiles, KnowHoovesFromLandmarks) {
    const auto t = tracks_in("0,0,hip,100,200,0.9\n0,0,left_fore_hoof,150,400,0.9\n");
    EXPECT_EQ(t.points.size(), 1U);
    ASSERT_EQ(t.hooves.size(), 1U);
    EXPECT_EQ(t.hooves[0].at, (core::Point{150, 400}));
}

TEST(TrackFiles, KnowTheCamerasMotion) {
    const auto t = tracks_in("3,0.1,hip,100,200,0.9,12.5,-3,1.02\n",
                             "frame,time_s,landmark,x,y,confidence,cam_x,cam_y,cam_scale");
    ASSERT_TRUE(t.camera.contains(3));
    EXPECT_EQ(t.camera.at(3).x, 12.5);
    EXPECT_EQ(t.camera.at(3).scale, 1.02);
}

TEST(TrackFiles, SayLineAndWhatIsWrong) {
    const std::pair<const char*, const char*> all[] = {
        {"0,0,nose,1,2,1\n", "nose"},          {"0,0,hip,1,2\n", "fields"},
        {"0.5,0,hip,1,2,1\n", "whole number"}, {"0,0,hip,1e9,2,1\n", "farther"},
        {"0,nan,hip,1,2,1\n", "no number"},    {"0,0,hip,left,2,1\n", "no number"},
    };
    for (const auto& [row, named] : all) {
        const std::string line = tracks_refusal(row);
        EXPECT_THAT(line, HasSubstr("tracks.csv")) << row;
        EXPECT_THAT(line, HasSubstr("line 2")) << row;
        EXPECT_THAT(line, HasSubstr(named)) << row;
        EXPECT_EQ(line.find('\n'), std::string::npos);
    }
    EXPECT_THAT(tracks_refusal("0,0,hip,1,2,1\n0,0,nose,1,2,1\n"), HasSubstr("line 3"));
}

TEST(TrackFiles, AFileThatIsNoneIsRefused) {
    EXPECT_NE(tracks_refusal("", "colour,size"), "taken");
    EXPECT_NE(tracks_refusal("", ""), "taken");
    EXPECT_TRUE(tracks_in("").points.empty()) << "a head alone is a file of none";
}

}  // namespace
}  // namespace aspen::exchange
