#include <gmock/gmock.h>

#include <QImage>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>
#include <sstream>

#include "app/files/data_files.hpp"
#include "app/yard/changes.hpp"
#include "cli/cli_support.hpp"
#include "exchange/coco.hpp"
#include "support/support.hpp"

namespace aspen::cli {
namespace {

using testing::HasSubstr;
using Json = nlohmann::json;

std::string marks_file(const test::TempFolder& folder, bool settled = true) {
    exchange::MarkedMoment m;
    m.id = 4;
    m.file_name = "clip.mp4";
    m.width = 1280;
    m.height = 720;
    m.frame = 12;
    m.figure = test::true_figure(short_clip(), 12);
    if (settled) {
        m.school = "hunter";
        m.gait = core::Gait::trot;
        m.seat = core::Seat::rising;
        m.phase = "rise_top";
    }
    const auto file = folder / "marks.json";
    std::ofstream out(file);
    exchange::write_coco(out, {m});
    return file.string();
}

TEST(Frames, GivesWhatIsSpecified) {
    const Said s = say({"frames", short_clip().string(), "--json"});
    ASSERT_EQ(s.code, kDone) << s.err;
    const Json j = Json::parse(s.out);
    EXPECT_EQ(j["frames"], 30);
    EXPECT_EQ(j["width"], 1280);
    EXPECT_EQ(j["height"], 720);
    EXPECT_EQ(j["rotation_deg"], 0);
    EXPECT_EQ(j["time_source"], "stream");
    EXPECT_EQ(j["variable_rate"], false);
    EXPECT_EQ(j["pts_s"].size(), 30U);
    EXPECT_NEAR(j["average_fps"].get<double>(), 30, 0.01);
    EXPECT_NEAR(j["duration_s"].get<double>(), 1, 0.01);
}

TEST(Frame, HashesAndSavesExactlyOne) {
    const test::TempFolder folder;
    const std::string png = (folder / "f.png").string();
    const Said s = say({"frame", short_clip().string(), "7", "--hash", "-o", png});
    ASSERT_EQ(s.code, kDone) << s.err;
    EXPECT_EQ(s.out.size(), 33U);
    EXPECT_EQ(QImage(QString::fromStdString(png)).size(), QSize(1280, 720));
    EXPECT_NE(say({"frame", short_clip().string(), "8", "--hash"}).out, s.out);
    EXPECT_EQ(say({"frame", short_clip().string(), "7", "--hash"}).out, s.out);
}

TEST(Frame, RefusesWhatIsNotThere) {
    const test::TempFolder folder;
    EXPECT_EQ(say({"frame", short_clip().string(), "30", "--hash"}).code, kRefused);
    EXPECT_THAT(say({"frame", short_clip().string(), "30", "--hash"}).err, HasSubstr("its last is 29"));
    EXPECT_EQ(say({"frame", (folder / "missing.mp4").string(), "1", "--hash"}).code, kRefused);
    EXPECT_EQ(say({"frame", short_clip().string(), "1", "-o", (folder / "missing" / "f.png").string()}).code,
              kRefused);
    for (const char* n : {"-1", "x", "1.5", "99999999999"})
        EXPECT_EQ(say({"frame", short_clip().string(), n, "--hash"}).code, kWrongUsage) << n;
    EXPECT_EQ(say({"frame", short_clip().string(), "1"}).code, kWrongUsage)
        << "neither picture nor hash asked for";
}

TEST(Measure, GivesEveryMeasureWithItsError) {
    const test::TempFolder folder;
    const Said s = say({"measure", marks_file(folder), "--json"});
    ASSERT_EQ(s.code, kDone) << s.err;
    const Json j = Json::parse(s.out)["annotations"];
    ASSERT_EQ(j.size(), 1U);
    EXPECT_EQ(j[0]["id"], 4);
    EXPECT_EQ(j[0]["frame"], 12);
    EXPECT_EQ(j[0]["measures"].size(), 19U);
    for (const Json& m : j[0]["measures"]) {
        for (const char* field : {"id", "value", "unit", "sd", "lo", "hi", "verdict", "reason"})
            EXPECT_TRUE(m.contains(field)) << field;
        EXPECT_GT(m["sd"].get<double>(), 0);
    }
    EXPECT_FALSE(j[0].contains("faults"));
}

TEST(Measure, WithoutASchoolThereAreNoBands) {
    const test::TempFolder folder;
    const std::string file = marks_file(folder, false);
    const Json without = Json::parse(say({"measure", file, "--json"}).out)["annotations"][0]["measures"];
    for (const Json& m : without) {
        EXPECT_EQ(m["verdict"], "no_band");
        EXPECT_EQ(m["reason"], "school, gait or seat not said");
    }
    const Json with = Json::parse(
        say({"measure", file, "--json", "--school", "classical", "--gait", "trot", "--seat", "sitting"})
            .out)["annotations"][0]["measures"];
    const auto lean = std::ranges::find_if(with, [](const Json& m) { return m["id"] == "trunk_lean"; });
    EXPECT_EQ((*lean)["lo"], -3);
    EXPECT_EQ((*lean)["verdict"], "outside");
}

TEST(Assess, NamesFaultsCausesAndTheFocus) {
    const test::TempFolder folder;
    const Said s = say({"assess", marks_file(folder), "--json"});
    ASSERT_EQ(s.code, kDone) << s.err;
    const Json a = Json::parse(s.out);
    EXPECT_EQ(a["annotations"].size(), 1U);
    EXPECT_EQ(a["faults"][0]["gait"], "trot");
    EXPECT_EQ(a["faults"][0]["side"], "right");
    EXPECT_FALSE(a["strengths"].empty());
    EXPECT_EQ(a["focus"]["id"], "lower_leg_back");
    EXPECT_THAT(a["focus"]["why"].get<std::string>(), HasSubstr("base"));
    bool cause = false;
    for (const Json& c : a["causes"])
        cause = cause || (c["from"] == "lower_leg_back" && c["to"] == "tipped_forward");
    EXPECT_TRUE(cause);
    for (const Json& f : a["faults"]) EXPECT_FALSE(f["evidence"].empty());
    EXPECT_TRUE(a["focus"]["runners_up"].is_array());
    EXPECT_EQ(a["focus"]["gait"], "trot");
    EXPECT_EQ(a["not_judged"].back()["view_that_would"], "rear") << "nothing was seen from behind";
}

TEST(Assess, TakesTheCoachsAnswersWhatIsInWorkAndTheLevel) {
    const test::TempFolder folder;
    const std::string marks = marks_file(folder), checks = (folder / "checks.json").string();
    std::ofstream(checks) << R"({"checks":[{"id":"lost_iron","answer":"fault","frame":99},
        {"id":"lower_leg_back","answer":"good","frame":12}]})";
    const Json eye = Json::parse(say({"assess", marks, "--json", "--checks", checks}).out);
    EXPECT_EQ(eye["focus"]["id"], "lost_iron") << "safety, seen by the eye alone";
    for (const Json& f : eye["faults"])
        EXPECT_NE(f["id"], "lower_leg_back") << "the eye's answer stands above the measured";
    const Json work = Json::parse(say({"assess", marks, "--json", "--in-work", "heel_up,toe_out"}).out);
    EXPECT_EQ(work["focus"]["id"], "heel_up") << "inside, by too few moments to say so";
    EXPECT_THAT(work["focus"]["why"].get<std::string>(), testing::HasSubstr("only"));
    const Json toe = Json::parse(say({"assess", marks, "--json", "--in-work", "toe_out"}).out);
    EXPECT_EQ(toe["focus"]["id"], "toe_out") << "not judged, it stays";
    EXPECT_TRUE(toe["focus"]["gait"].is_null());
    EXPECT_EQ(say({"assess", marks, "--json", "--in-work", "laziness"}).code, kWrongUsage);
    // Worked on in a gait that this file does not show.
    const Json other =
        Json::parse(say({"assess", marks, "--json", "--in-work", "heel_up@canter/sitting/left"}).out);
    EXPECT_EQ(other["focus"]["id"], "heel_up");
    EXPECT_TRUE(other["focus"]["gait"].is_null());
    for (const char* wrong :
         {"heel_up@canter", "heel_up@gallop/sitting", "heel_up@trot/rising/near", "heel_up@"})
        EXPECT_EQ(say({"assess", marks, "--json", "--in-work", wrong}).code, kWrongUsage) << wrong;
    EXPECT_EQ(say({"assess", marks, "--json", "--level", "wizard"}).code, kWrongUsage);
    std::ofstream(checks) << R"({"checks":[{"id":"laziness","answer":"fault"}]})";
    const Said refused = say({"assess", marks, "--json", "--checks", checks});
    EXPECT_EQ(refused.code, kRefused);
    EXPECT_THAT(refused.err, HasSubstr("laziness"));
}

TEST(Measure, RefusesBadInputInOneLine) {
    const test::TempFolder folder;
    std::ofstream(folder / "broken.json") << "{\"images\": [";
    const Said s = say({"measure", (folder / "broken.json").string(), "--json"});
    EXPECT_EQ(s.code, kRefused);
    EXPECT_EQ(std::ranges::count(s.err, '\n'), 1);
    EXPECT_TRUE(s.out.empty());
    EXPECT_EQ(say({"measure", "/nowhere.json", "--json"}).code, kRefused);
    EXPECT_EQ(say({"measure", marks_file(folder), "--json", "--school", "circus"}).code, kRefused);
    EXPECT_EQ(say({"measure", marks_file(folder), "--json", "--gait", "gallop"}).code, kWrongUsage);
    EXPECT_EQ(say({"measure", marks_file(folder), "--loud"}).code, kWrongUsage);
}

/// What the verb says of a file of events.
class CountedEvents : public testing::Test {
  protected:
    CountedEvents() : file((folder / "events.csv").string()) {
        std::ofstream(file)
            << "time_s,event,detail\n4,answer,\n0,rein_left,gait=trot\n1,aid,with=calf "
               "lead=left\n2.5,answer,\n"
               "3,lead_right,\n10,lap_line,\n70,lap_line,\n71,attempt,bout=1\n72,good_one,\n80,set_again,\n"
               "90,let_go,what=heel_up\n";
        const Said s = say({"events", file, "--json", "--tempo", "78"});
        EXPECT_EQ(s.code, kDone) << s.err;
        j = Json::parse(s.out);
    }
    test::TempFolder folder;
    std::string file;
    Json j;
};

TEST_F(CountedEvents, CountsOnlyWhatOccurs) {
    EXPECT_EQ(j["counts"]["answer"], 2);
    EXPECT_FALSE(j["counts"].contains("break"));
    EXPECT_EQ(j["got_by"]["calf"], 2);
}

TEST_F(CountedEvents, DelaysHaveAnIntervalFromFiveOn) {
    ASSERT_EQ(j["delays"].size(), 4u);
    EXPECT_EQ(j["delays"][0]["from"], "aid");
    EXPECT_EQ(j["delays"][0]["n"], 1);
    EXPECT_EQ(j["delays"][0]["median_s"], 1.5);
    EXPECT_TRUE(j["delays"][0]["lo_s"].is_null());
    EXPECT_EQ(j["delays"][1]["n"], 0);
    EXPECT_TRUE(j["delays"][1]["median_s"].is_null());
}

TEST_F(CountedEvents, RunsBeginWithTheFilesFirstEvent) {
    EXPECT_EQ(j["runs"]["n"], 1);
    EXPECT_EQ(j["runs"]["longest_s"], 90.0);
    EXPECT_EQ(j["runs"]["longest_strides"], 117);
    const Json bare = Json::parse(say({"events", file, "--json"}).out);
    EXPECT_TRUE(bare["runs"]["longest_strides"].is_null()) << "without a tempo";
}

TEST_F(CountedEvents, LapsAttemptsAndLeads) {
    EXPECT_EQ(j["laps"]["times_s"][0], 60.0);
    EXPECT_TRUE(j["laps"]["cv_pct"].is_null());
    EXPECT_EQ(j["attempts"]["good"], 1);
    EXPECT_NEAR(j["attempts"]["lo"].get<double>(), 0.2699, 1e-3) << "1 / (1 + 1.645 squared)";
    EXPECT_EQ(j["leads"]["left"]["wrong"], 1) << "left was asked, right was taken";
}

TEST_F(CountedEvents, GroupsRepeatEverythingForReinAndBout) {
    ASSERT_EQ(j["groups"].size(), 2u);
    EXPECT_EQ(j["groups"][0]["rein"], "left");
    EXPECT_TRUE(j["groups"][0]["bout"].is_null());
    EXPECT_EQ(j["groups"][1]["bout"], "1");
    EXPECT_EQ(j["groups"][0]["runs"]["n"], 1) << "a run belongs to its first event";
    EXPECT_FALSE(j["groups"][0].contains("groups"));
}

TEST_F(CountedEvents, WordsForAPersonAndRefusals) {
    EXPECT_THAT(say({"events", file}).out, HasSubstr("From aid to answer 1.5 s"));
    EXPECT_EQ(say({"events", file, "--tempo", "-3"}).code, kWrongUsage);
    EXPECT_EQ(say({"events", (folder / "none.csv").string(), "--json"}).code, kRefused);
}

TEST_F(CountedEvents, NoneGiveNothingButTheirNumber) {
    std::ofstream(file) << "time_s,event,detail\n";
    const Json none = Json::parse(say({"events", file, "--json"}).out);
    EXPECT_EQ(none["attempts"]["n"], 0);
    EXPECT_TRUE(none["attempts"]["good"].is_null() && none["laps"]["times_s"].is_null());
    EXPECT_TRUE(none["groups"].empty() && none["counts"].empty());
}

/// A trot of 75 strides a minute, travelling left, the lower leg swinging by 12 degrees.
class ToldMotion : public testing::Test {
  protected:
    ToldMotion() {
        {
            std::ofstream out(file);
            out << "frame,time_s,landmark,x,y,confidence,hidden,cam_x,cam_y\n";
            for (int i = 0; i < 200; ++i) {
                const double t = i / 30.0, w = 2 * 3.14159265358979 * t / 0.8;
                const auto row = [&](const char* l, double f, double u, int hidden = 0) {
                    out << i << ',' << t << ',' << l << ',' << 500 - f << ',' << 400 - u << ",0.9," << hidden
                        << ",0,0\n";
                };
                const double up = -8 * std::cos(2 * w),
                             leg = (-15 + 6 * std::cos(w)) * 3.14159265358979 / 180;
                row("withers", 80, up);
                row("croup", -150, up);
                row("hip", 0, up);
                row("shoulder", 20, up + 190);
                row("knee", 120, up - 120);
                row("ankle", 120 + 160 * std::sin(leg), up - 120 - 160 * std::cos(leg));
                row("left_fore_hoof", 0, 0);
                row("heel", 0, 0, 1);  // hidden: it is no measurement
            }
        }
    }
    Said told(const std::vector<std::string>& more = {}) const {
        std::vector<std::string> all{"motion", file};
        all.insert(all.end(), more.begin(), more.end());
        return say(all);
    }
    test::TempFolder folder;
    const std::string file = (folder / "tracks.csv").string();
};

TEST_F(ToldMotion, GivesStridesAndMeasuresAgainstTheirBands) {
    const Said s = told({"--gait", "trot", "--travel", "left", "--seat", "sitting", "--school", "classical",
                         "--roll", "0,0.5", "--json"});
    ASSERT_EQ(s.code, kDone) << s.err;
    const Json j = Json::parse(s.out);
    EXPECT_EQ(j["stride_source"], "withers");
    EXPECT_EQ(j["parity"], "unknown");
    EXPECT_NEAR(j["tempo_per_min"].get<double>(), 75, 0.3);
    EXPECT_GE(j["strides"].size(), 6u);
    std::map<std::string, Json> by_id;
    for (const Json& m : j["measures"]) by_id[m["id"]] = m;
    EXPECT_NEAR(by_id["leg_swing"]["value"].get<double>(), 12, 0.1)
        << "travelling left is mirrored, not turned over";
    EXPECT_EQ(by_id["leg_swing"]["hi"], 6.0);
    EXPECT_EQ(by_id["leg_swing"]["verdict"], "outside");
    EXPECT_EQ(by_id["heel_bob"]["reason"], "heel not followed");
    EXPECT_TRUE(by_id["heel_bob"]["value"].is_null() && by_id["heel_bob"]["sd"].is_null());
}

TEST_F(ToldMotion, WhatMeansNothingIsWrongUsage) {
    EXPECT_EQ(told({"--gait", "trot", "--json"}).code, kWrongUsage) << "which way?";
    EXPECT_EQ(told({"--gait", "hop", "--travel", "left"}).code, kWrongUsage);
    EXPECT_EQ(told({"--gait", "trot", "--travel", "left", "--roll", "steep"}).code, kWrongUsage);
    EXPECT_EQ(told({"--gait", "trot", "--travel", "left", "--hold", "nose"}).code, kWrongUsage);
}

TEST_F(ToldMotion, ABadLineIsRefusedWithItsNumberAndWhatIsWrong) {
    for (const auto& [line, names] : {std::pair{"0,0,nose,1,2,1", "nose"},
                                      {"0,0,hip,1,2", "fields"},
                                      {"0.5,0,hip,1,2,1", "whole number"},
                                      {"0,0,hip,1e9,2,1", "farther"},
                                      {"0,nan,hip,1,2,1", "no number"}}) {
        std::ofstream(file) << "frame,time_s,landmark,x,y,confidence\n" << line << '\n';
        const Said refused = told({"--gait", "trot", "--travel", "left", "--json"});
        EXPECT_EQ(refused.code, kRefused) << line;
        EXPECT_THAT(refused.err, HasSubstr(names));
        EXPECT_THAT(refused.err, HasSubstr("line 2"));
    }
}

TEST_F(ToldMotion, NoTracksGiveNoStrides) {
    std::ofstream(file) << "frame,time_s,landmark,x,y,confidence\n";
    const Json none = Json::parse(told({"--gait", "trot", "--travel", "left", "--json"}).out);
    EXPECT_TRUE(none["strides"].empty() && none["tempo_per_min"].is_null() &&
                none["stride_source"].is_null());
}

TEST(Knowledge, IsListedAsShipped) {
    const Json schools = Json::parse(say({"schools", "--json"}).out)["schools"];
    EXPECT_EQ(schools.size(), 5U);
    for (const Json& s : schools) EXPECT_GT(s["bands"].size(), 30U) << s["id"];
    const Json faults = Json::parse(say({"faults", "--json"}).out);
    EXPECT_GE(faults["faults"].size(), 10U);
    EXPECT_GE(faults["causes"].size(), 10U);
}

/// A yard of one ride with a note and an exercise given.
class OneRide : public testing::Test {
  protected:
    OneRide() {
        app::Yard open(QString::fromStdString(yard), app::shipped_knowledge());
        store::Clip c;
        c.path = "a.mp4";
        c.hash = "a";
        c.recorded_at = "2026-11-24T17:00:00";
        const auto clip = app::take_in_clip(open, c);
        const auto ride = test::ride_of(open, clip);
        app::set_pair(open, ride, add_rider(open, test::rider("Joss Penhallow", 2012, "hunter")),
                      add_horse(open, {{}, "Fig", 157, ""}), "rider");
        store::Note n;
        n.clip = clip;
        n.kind = store::NoteKind::words;
        n.words = "leg slid back again";
        app::add_note(open, n);
        const app::Accepted focus{"lower_leg_back", {core::Gait::trot, core::Seat::rising, "right"}};
        app::prescribe(open, ride, focus, {focus}, *open.knowledge().exercises.find("two_point_walk_trot"));
    }
    test::TempFolder folder;
    std::string yard = (folder / "yard").string();
};

TEST_F(OneRide, IsListed) {
    const Json rides = Json::parse(say({"rides", yard, "--json"}).out)["rides"];
    ASSERT_EQ(rides.size(), 1U);
    EXPECT_EQ(rides[0]["rider"], "Joss Penhallow");
    EXPECT_EQ(rides[0]["horse"], "Fig");
    EXPECT_EQ(rides[0]["day"], "2026-11-24");
    EXPECT_EQ(rides[0]["clips"], 1);
    EXPECT_EQ(rides[0]["focus"], "lower_leg_back");
}

TEST_F(OneRide, IsFoundByItsWords) {
    const Json hits = Json::parse(say({"search", yard, "slid joss", "--json"}).out)["hits"];
    ASSERT_EQ(hits.size(), 1U);
    EXPECT_EQ(hits[0]["kind"], "note");
    EXPECT_EQ(hits[0]["text"], "leg slid back again");
    EXPECT_EQ(hits[0]["day"], "2026-11-24");
    EXPECT_EQ(Json::parse(say({"search", yard, "unicorn", "--json"}).out)["hits"].size(), 0U);
    EXPECT_EQ(say({"search", yard}).code, kWrongUsage);
}

TEST_F(OneRide, LookingMakesNoYard) {
    EXPECT_EQ(say({"rides", (folder / "nowhere").string(), "--json"}).code, kRefused);
    EXPECT_FALSE(std::filesystem::exists(folder / "nowhere"));
}

/// The program itself, in a bare environment: nothing of a display, a home no cache can be made in (and the
/// test leaves nothing behind), and its own line alone on standard error.
TEST(Program, NeedsNoDisplayAndSaysOneLine) {
    const test::TempFolder folder;
    std::filesystem::create_directories(folder.path());
    const std::string err = (folder / "err").string();
    const test::Ran ran =
        test::run("env -i HOME=/dev/null " ASPEN_CLI " frames /nowhere.mp4 --json 2>" + err + " || echo $?");
    EXPECT_EQ(ran.out, "3\n");
    std::ifstream in(err);
    const std::string said((std::istreambuf_iterator<char>(in)), {});
    EXPECT_EQ(std::ranges::count(said, '\n'), 1) << said;
    const test::Ran needs = test::run("readelf -d " ASPEN_CLI);
    EXPECT_THAT(needs.out, HasSubstr("NEEDED"));
    for (const char* library : {"Qt6Gui", "Qt6Widgets", "libGL", "libX11", "libxcb"})
        EXPECT_THAT(needs.out, testing::Not(HasSubstr(library)));
}

TEST(Usage, IsSaidAndWrongUsageToldApart) {
    EXPECT_EQ(say({"--help"}).code, kDone);
    for (const char* said : {"frames", "VIDEO", "--hash", "MARKS.json", "search", "3 input refused"})
        EXPECT_THAT(say({"--help"}).out, HasSubstr(said));
    EXPECT_EQ(say({"frame", "--help"}).code, kDone);
    EXPECT_THAT(say({"frame", "--help"}).out, HasSubstr("MD5"));
    EXPECT_EQ(say({}).code, kWrongUsage);
    EXPECT_EQ(say({"gallop"}).code, kWrongUsage);
    EXPECT_EQ(say({"frames"}).code, kWrongUsage);
    EXPECT_EQ(say({"frames", "a", "b"}).code, kWrongUsage);
    EXPECT_EQ(say({"frame", "a", "1", "-o"}).code, kWrongUsage);
    EXPECT_EQ(say({"frames", "/nowhere.mp4"}).code, kRefused);
}

double value_of(const Json& sum, const std::string& what, const std::string& unit = "") {
    for (const Json& r : sum["results"]) {
        if (r["what"] == what && (unit.empty() || r["unit"] == unit)) return r["value"].get<double>();
    }
    ADD_FAILURE() << what << " is not among the results";
    return 0;
}

TEST(Calc, GivesInputsResultsWithUnitsAndAssumptions) {
    const Said s = say({"calc", "poles", "--step", "1.25", "--circle", "8", "--json"});
    ASSERT_EQ(s.code, kDone) << s.err;
    const Json j = Json::parse(s.out);
    EXPECT_EQ(j["inputs"]["step_m"], 1.25);
    EXPECT_FALSE(j["assumptions"].empty());
    EXPECT_NEAR(value_of(j, "first_distance", "m"), 1.07, 1e-12);
    EXPECT_NEAR(value_of(j, "pole_4_at", "m"), 3.75, 1e-12);
    EXPECT_NEAR(value_of(j, "middle_distance", "m"), 16 * std::sin(1.25 / 16), 1e-12);
    EXPECT_THAT(say({"calc", "poles"}).out, HasSubstr("first_distance: 1.07 m"));
}

TEST(Calc, GridPaceLineAndStirrup) {
    const auto sum = [](std::vector<std::string> words) {
        words.insert(words.begin(), "calc");
        words.push_back("--json");
        return Json::parse(say(words).out);
    };
    const Json grid = sum({"grid", "--kind", "rising", "--horse-cm", "165"});
    EXPECT_NEAR(value_of(grid, "bounce", "m"), 3.2, 0.2);
    const Json pace = sum({"pace", "--tempo", "80", "--stride", "2.4", "--radius", "10"});
    EXPECT_NEAR(value_of(pace, "speed", "m/s"), 3.2, 1e-12);
    EXPECT_NEAR(value_of(pace, "lean", "deg"), 5.96, 0.01);
    const Json line = sum({"arena", "--from", "K", "--to", "M"});
    EXPECT_NEAR(value_of(line, "line", "m"), 52, 1e-12) << "20 by 48: a triangle of whole numbers";
    EXPECT_EQ(value_of(sum({"stirrup", "--job", "general", "--tread-above", "-5"}), "holes_up"), 2);
}

TEST(Calc, RefusesInOneLine) {
    EXPECT_EQ(say({"calc", "poles", "--step", "9"}).code, kRefused);
    EXPECT_THAT(say({"calc", "poles", "--step", "9"}).err, HasSubstr("step 9: must be 0.9 to 1.5 m"));
    EXPECT_EQ(say({"calc"}).code, kWrongUsage);
    EXPECT_EQ(say({"calc", "arena", "--from", "KX", "--to", "M"}).code, kWrongUsage);
    EXPECT_EQ(say({"calc", "click", "--tempo", "500"}).code, kRefused);
    EXPECT_EQ(say({"calc", "click", "--tempo", "78", "-o", "/nowhere/a.wav"}).code, kRefused);
}

}  // namespace
}  // namespace aspen::cli
