// What a yard's records say of a rider's progress and plan.

#include <gmock/gmock.h>

#include <algorithm>
#include <cmath>
#include <fstream>
#include <nlohmann/json.hpp>

#include "app/files/data_files.hpp"
#include "app/yard/changes.hpp"
#include "cli/cli_support.hpp"
#include "support/support.hpp"

namespace aspen::cli {
namespace {

using testing::HasSubstr;
using Json = nlohmann::json;

/// What Maude Estrell works on with Fig, not yet in the records.
store::Correction correction_of_maude(app::Yard& yard, const char* school) {
    store::Correction c;
    c.rider = app::add_rider(yard, test::rider("Maude Estrell", 1990, school, "novice"));
    c.horse = app::add_horse(yard, {{}, "Fig", 157, ""});
    c.fault = "lower_leg_back";
    c.noticed_on = "2026-01-01";
    return c;
}

/// A yard with one correction, seen in two rides, told by the verb.
class ToldProgress : public testing::Test {
  protected:
    ToldProgress() {
        {
            app::Yard open(QString::fromStdString(home), app::shipped_knowledge());
            store::Correction c = correction_of_maude(open, "hunter");
            c.seen = {core::Gait::trot, core::Seat::rising, "right"};
            open.quietly([&] {
                test::to_write(open).add(c);
                for (int n = 0; n < 2; ++n) {
                    store::Ride ride;
                    ride.rider = c.rider;
                    ride.horse = c.horse;
                    ride.day = n == 0 ? "2026-02-01" : "2026-05-01";
                    ride.school = "hunter";
                    store::Clip clip;
                    clip.path = clip.hash = "c" + std::to_string(n);
                    clip.frames = 100;
                    const auto id = test::to_write(open).add(clip);
                    test::to_write(open).put(store::Slot{id, 0, test::to_write(open).add(ride)});
                    core::Stretches all = core::whole_clip();
                    all.front().gait = core::Gait::trot;
                    all.front().seat = core::Seat::rising;
                    all.front().travel = core::Travel::right;
                    all.front().camera.roll_marked = true;
                    test::to_write(open).rides.put_stretches(id, all);
                    for (int k = 0; k < 4; ++k) {
                        store::Moment m;
                        m.clip = id;
                        m.frame = 10 * k;
                        m.phase = "rise_top";
                        m.figure = test::true_figure(short_clip(), 12);
                        for (const auto l :
                             {core::Landmark::heel, core::Landmark::toe, core::Landmark::ankle})
                            m.figure[l].at.x += n == 0 ? -60 : 0;
                        test::to_write(open).add(m);
                    }
                }
            });
        }
        const Said s = say({"progress", home, "Maude", "--json"});
        EXPECT_EQ(s.code, kDone) << s.err;
        corrections = Json::parse(s.out)["corrections"];
    }
    test::TempFolder folder;
    const std::string home = (folder / "yard").string();
    Json corrections;
};

TEST_F(ToldProgress, GivesEveryCorrectionByWhatItWasSeenIn) {
    ASSERT_EQ(corrections.size(), 1U);
    const Json& c = corrections[0];
    EXPECT_EQ(c["fault"], "lower_leg_back");
    EXPECT_EQ(c["horse"], "Fig");
    EXPECT_EQ(c["side"], "right");
    EXPECT_EQ(c["gait"], "trot");
    EXPECT_EQ(c["seat"], "rising");
    EXPECT_EQ(say({"progress", home, "Nobody"}).code, kRefused);
}

TEST_F(ToldProgress, GivesAnEntryForEachRideWithItsValues) {
    const Json& entries = corrections[0]["entries"];
    ASSERT_EQ(entries.size(), 2U);
    EXPECT_EQ(entries[0]["day"], "2026-02-01");
    EXPECT_EQ(entries[0]["verdict"], "outside");
    ASSERT_EQ(entries[0]["measures"].size(), 1U);
    const Json& m = entries[0]["measures"][0];
    EXPECT_EQ(m["id"], "heel_offset");
    EXPECT_EQ(m["phase"], "rise_top");
    EXPECT_EQ(m["n"], 4);
}

TEST_F(ToldProgress, GivesTheChangeWithItsError) {
    const Json &change = corrections[0]["change"], &entries = corrections[0]["entries"];
    EXPECT_LT(change["from"].get<double>(), change["to"].get<double>());
    EXPECT_TRUE(change["real"].get<bool>());
    EXPECT_NEAR(change["sd"].get<double>(),
                std::hypot(entries[0]["measures"][0]["sd"].get<double>(),
                           entries[1]["measures"][0]["sd"].get<double>()),
                1e-12);
}

/// A rider with a focus, and, once given, an exercise with a log.
class ToldPlan : public testing::Test {
  protected:
    ToldPlan() {
        setenv("ASPEN_PAINTER", ASPEN_PAINTER, 1);
        {
            app::Yard open(QString::fromStdString(home), app::shipped_knowledge());
            store::Correction c = correction_of_maude(open, "jumper");
            c.focus = true;
            open.quietly([&] {
                test::to_write(open).add(c);
                store::RiderPlan plan;
                plan.rider = c.rider;
                plan.days = "tue sat";
                test::to_write(open).put(plan);
            });
        }
    }
    void give() {
        app::Yard open(QString::fromStdString(home), app::shipped_knowledge());
        open.set_clock(test::noon_of(QDate(2026, 11, 2)));
        app::give_exercise(open, open.records().work.corrections(open.records().people.riders()[0].id)[0],
                           *open.knowledge().exercises.find("two_point_walk_trot"));
        std::ofstream(log) << "date,exercise,attempts,good\n2026-11-03,two_point_walk_trot,4,4\n"
                              "2026-11-07,two_point_walk_trot,8,7\nsoon,two_point_walk_trot,8,7\n";
    }
    Said import() const { return say({"import", home, log, "--rider", "Maude", "--json"}); }
    test::TempFolder folder;
    const std::string home = (folder / "yard").string(), log = (folder / "log.csv").string();
};

TEST_F(ToldPlan, GivesCandidatesAndASessionFromTheRecords) {
    const Json j = Json::parse(say({"plan", home, "Maude", "--json", "--minutes", "30"}).out);
    EXPECT_EQ(j["focus"], "lower_leg_back");
    EXPECT_EQ(j["candidates"].size(), 3U);
    EXPECT_TRUE(j["given"].is_null());
    EXPECT_EQ(j["session"].back()["kind"], "cool down");
}

TEST_F(ToldPlan, TakesInALogAndPassesOverWhatItCannotRead) {
    give();
    const Said taken = import();
    ASSERT_EQ(taken.code, kDone) << taken.err;
    EXPECT_EQ(Json::parse(taken.out)["added"], 2);
    EXPECT_EQ(Json::parse(taken.out)["passed_over"].size(), 1U);
}

TEST_F(ToldPlan, ALogWaitsWhileAWindowHasTheYard) {
    give();
    const app::Yard open(QString::fromStdString(home), app::shipped_knowledge());
    EXPECT_THAT(import().err, HasSubstr("is open in another window"));
}

TEST_F(ToldPlan, GivesTheLadderByTheLogTheWeeksAndACalendar) {
    give();
    ASSERT_EQ(import().code, kDone);
    const std::string ics = (folder / "weeks.ics").string();
    const Json j = Json::parse(
        say({"plan", home, "Maude Estrell", "--json", "--today", "2026-11-08", "--calendar", ics}).out);
    EXPECT_EQ(j["given"]["rung"], 2);
    EXPECT_EQ(j["given"]["of"], 6);
    EXPECT_EQ(j["given"]["attempts"], 12);
    EXPECT_FALSE(j["weeks"].empty());
    EXPECT_FALSE(j["next_clip"]["shots"].empty());
    EXPECT_TRUE(std::filesystem::exists(ics));
}

// What the day is bent to does not open the gate, nor go into the log; nor does a calendar leave past it.
TEST_F(ToldPlan, ACalendarPassesTheGateByTheWallClockAndIsLogged) {
    give();
    const std::string ics = (folder / "weeks.ics").string();
    const auto write = [&] {
        return say({"plan", home, "Maude Estrell", "--today", "2026-11-08", "--calendar", ics});
    };
    EXPECT_EQ(write().code, kDone);
    {
        app::Yard open(QString::fromStdString(home), app::shipped_knowledge());
        const auto left = open.records().leaving.departures();
        ASSERT_EQ(left.size(), 1U);
        EXPECT_EQ(left[0].at.substr(0, 10), QDate::currentDate().toString(Qt::ISODate).toStdString());
        auto card = open.records().people.riders()[0];
        card.birth_year = QDate::currentDate().year() - 12;
        change_rider(open, card);
        open.quietly([&] {
            test::to_write(open).add(
                store::Consent{{}, card.id, "page", "Guardian", "2026-01-01", "2026-11-09"});
        });
    }
    std::filesystem::remove(ics);
    const Said refused = write();
    EXPECT_EQ(refused.code, kRefused);
    EXPECT_THAT(refused.err, HasSubstr("ran out"));
    EXPECT_EQ(std::ranges::count(refused.err, '\n'), 1);
    EXPECT_FALSE(std::filesystem::exists(ics));
}

TEST_F(ToldPlan, WhoOrWhatIsNotThereIsRefused) {
    EXPECT_EQ(say({"plan", home, "Nobody"}).code, kRefused);
    EXPECT_EQ(say({"plan", (folder / "none").string(), "Maude"}).code, kRefused);
    EXPECT_EQ(say({"import", home, "/nowhere.csv", "--rider", "Maude"}).code, kRefused);
}

}  // namespace
}  // namespace aspen::cli
