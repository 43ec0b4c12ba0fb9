// report, export, and import of a bundle, done by the program that paints.

#include <gmock/gmock.h>
#include <signal.h>
#include <sys/resource.h>

#include <algorithm>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <sstream>

#include "app/files/data_files.hpp"
#include "app/yard/changes.hpp"
#include "app/yard/importer.hpp"
#include "cli/cli_support.hpp"
#include "support/support.hpp"

namespace aspen::cli {
namespace {

using testing::HasSubstr;

/// A yard with one reviewed ride of a grown rider, and its film.
std::string leaving_yard(const test::TempFolder& folder, int born) {
    const std::filesystem::path film = test::simulated_clip(test::faulty_plan(), "bench");
    const std::string at = (folder / "yard").string();
    app::Yard yard(QString::fromStdString(at), app::shipped_knowledge());
    yard.set_clock(test::noon_of(QDate(2026, 11, 24)));
    app::Importer importer(yard);
    bool known = false;
    const auto clip = importer.record(app::look_at(QString::fromStdString(film.string())), known);
    test::Said pair;
    pair.rider = app::add_rider(yard, test::rider("Maude Estrell", born, "hunter", "novice"));
    pair.horse = app::add_horse(yard, {{}, "Saffron", 165, ""});
    test::say(yard, clip, pair);
    store::Moment m;
    m.clip = clip;
    m.frame = 20;
    m.time_s = 20 / 25.0;
    m.figure = test::true_figure(film, 20);
    app::add_moment(yard, m);
    store::Note n;
    n.clip = clip;
    n.frame = 20;
    n.kind = store::NoteKind::good;
    n.words = "A long, quiet back";
    app::add_note(yard, n);
    const store::SeenIn seen{core::Gait::trot, core::Seat::rising, "right"};
    app::prescribe(yard, test::ride_of(yard, clip), {"lower_leg_back", seen}, {{"lower_leg_back", seen}},
                   *yard.knowledge().exercises.find("two_point_walk_trot"));
    return at;
}

class LeavingVerbs : public testing::Test {
  protected:
    LeavingVerbs() { setenv("ASPEN_PAINTER", ASPEN_PAINTER, 1); }
    test::TempFolder folder;
};

/// The disk ends after so many bytes of a file, for this program and those it starts (setrlimit(2)).
class DiskOf {
  public:
    explicit DiskOf(rlim_t bytes) : was_(signal(SIGXFSZ, SIG_IGN)) {
        getrlimit(RLIMIT_FSIZE, &before_);
        const rlimit now{bytes, before_.rlim_max};
        setrlimit(RLIMIT_FSIZE, &now);
    }
    ~DiskOf() {
        setrlimit(RLIMIT_FSIZE, &before_);
        signal(SIGXFSZ, was_);
    }
    DiskOf(const DiskOf&) = delete;
    DiskOf& operator=(const DiskOf&) = delete;

  private:
    rlimit before_{};
    sighandler_t was_;
};

TEST_F(LeavingVerbs, AFullDiskIsSaidAndLeavesNothingHalf) {
    const std::string yard = leaving_yard(folder, 1990);
    ASSERT_EQ(say({"export", yard, "bundle", "Maude Estrell", "-o", (folder / "whole.zip").string()}).code,
              kDone);
    for (const rlim_t bytes : {rlim_t{50} << 10, rlim_t{200} << 10}) {
        const DiskOf disk(bytes);
        for (const std::vector<std::string>& arguments :
             {std::vector<std::string>{"export", yard, "bundle", "Maude Estrell", "-o",
                                       (folder / "a.zip").string()},
              {"report", yard, "Maude Estrell", "-o", (folder / "a.html").string()}}) {
            const Said said = say(arguments);
            if (said.code == kDone) continue;  // it fitted
            EXPECT_EQ(std::ranges::count(said.err, '\n'), 1) << said.err;
            EXPECT_EQ(said.out, "");
            EXPECT_FALSE(std::filesystem::exists(arguments.back()));
        }
    }
    for (const auto& e : std::filesystem::directory_iterator(folder.path()))
        EXPECT_FALSE(e.path().filename().string().starts_with(".")) << e.path();
}

// Nothing is printed of a rider that the log does not know of.
TEST_F(LeavingVerbs, WhatGoesToStandardOutputIsLoggedByTheWallClock) {
    const std::string yard = leaving_yard(folder, 1990);
    EXPECT_EQ(say({"report", yard, "Maude Estrell", "--message", "--today", "2026-11-25"}).code, kDone);
    EXPECT_EQ(say({"export", yard, "rides", "Maude Estrell", "--today", "2026-11-25"}).code, kDone);
    app::Yard open(QString::fromStdString(yard), app::shipped_knowledge());
    const auto left = open.records().leaving.departures();
    ASSERT_EQ(left.size(), 2U);
    for (const store::Departure& d : left) {
        EXPECT_EQ(d.file, "standard output");
        EXPECT_EQ(d.at.substr(0, 10), QDate::currentDate().toString(Qt::ISODate).toStdString());
    }
}

TEST_F(LeavingVerbs, ReportWritesThePageAndSaysTheMessage) {
    const std::string yard = leaving_yard(folder, 1990);
    for (const char* name : {"page.pdf", "page.html"}) {
        const Said a = say({"report", yard, "Maude Estrell", "-o", (folder / name).string(), "--json"});
        ASSERT_EQ(a.code, kDone) << a.err;
        EXPECT_TRUE(std::filesystem::exists(folder / name));
        const auto j = nlohmann::json::parse(a.out);
        EXPECT_EQ(j["focus"], "Lower leg back");
        EXPECT_EQ(j["good"][0], "A long, quiet back");
        EXPECT_EQ(j["faces"], "covered");
    }
    const Said message = say({"report", yard, "Maude Estrell"});
    EXPECT_THAT(message.out, testing::StartsWith("Hello Maude,"));
    EXPECT_EQ(say({"report", yard, "Nobody"}).code, kRefused);
    EXPECT_EQ(say({"report", (folder / "none").string(), "x"}).code, kRefused);
    EXPECT_EQ(say({"report"}).code, kWrongUsage);
}

TEST_F(LeavingVerbs, ABundleGoesOutAndComesInAndTablesAreRead) {
    const std::string yard = leaving_yard(folder, 1990);
    const std::string zip = (folder / "rides.zip").string(), other = (folder / "other").string();
    const Said out = say({"export", yard, "bundle", "-o", zip, "--json"});
    ASSERT_EQ(out.code, kDone) << out.err;
    EXPECT_EQ(nlohmann::json::parse(out.out)["rides"], 1);
    { app::Yard empty(QString::fromStdString(other), app::shipped_knowledge()); }
    const Said in = say({"import", other, zip, "--json"});
    ASSERT_EQ(in.code, kDone) << in.err;
    EXPECT_EQ(nlohmann::json::parse(in.out)["moments"], 1);
    EXPECT_EQ(say({"import", other, zip}).code, kRefused) << "it is there already";
    const Said rides = say({"export", yard, "rides"});
    EXPECT_THAT(rides.out, testing::StartsWith("ride,day,rider,horse,"));
    EXPECT_EQ(std::ranges::count(rides.out, '\n'), 2);
    EXPECT_EQ(say({"export", yard, "gossip"}).code, kWrongUsage);
    EXPECT_EQ(say({"export", yard, "bundle"}).code, kWrongUsage) << "no file was named";
}

TEST_F(LeavingVerbs, NothingOfAMinorLeavesWithoutConsent) {
    const std::string yard = leaving_yard(folder, 2014);
    for (const std::vector<std::string>& line :
         {std::vector<std::string>{"report", yard, "Maude Estrell"},
          {"export", yard, "bundle", "-o", (folder / "a.zip").string()},
          {"export", yard, "measures"}}) {
        const Said a = say(line);
        EXPECT_EQ(a.code, kRefused);
        EXPECT_THAT(a.err, HasSubstr("consent"));
        EXPECT_TRUE(a.out.empty());
    }
}

}  // namespace
}  // namespace aspen::cli
