#include <gmock/gmock.h>

#include <functional>

#include "core/core_support.hpp"
#include "core/training/going_home.hpp"

namespace aspen::core {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

HomeworkAsk ask(std::vector<int> days, const char* starts = "2026-11-23", int rung = 2) {
    return {std::move(days), starts, test::knowledge().exercises.find("two_point_walk_trot"), rung, 45};
}

/// Every plan of four kinds of weeks, three first days and six rungs.
void every_plan(const std::function<void(const Homework&, const char* starts, std::size_t ridden)>& look) {
    for (const std::vector<int>& days : {std::vector<int>{1, 3, 5}, {0}, {0, 1, 2, 3, 4, 5, 6}, {2, 6}}) {
        for (const char* starts : {"2026-11-23", "2026-11-26", "2026-11-29"}) {
            for (int rung = 0; rung < 6; ++rung)
                look(homework(ask(days, starts, rung)), starts, std::min<std::size_t>(days.size(), 6));
        }
    }
}

// Common practice, no source: gently, and to what the rung asks for. What the page says of the weeks is what
// the rung says: so many bouts of so many minutes.
TEST(Homework, GrowsFromHalfOfTheRungToAllOfIt) {
    for (const Exercise& e : test::knowledge().exercises.all()) {
        for (std::size_t r = 0; r < e.dose.ladder.size(); ++r) {
            const Rung& rung = e.dose.ladder[r];
            if (rung.work == Work::unmounted) continue;  // at home, once on a day
            const Homework h = homework({{1, 4}, "2026-11-23", &e, static_cast<int>(r), 60});
            int before = 0;
            for (const HomeworkWeek& w : h.weeks) {
                for (const HomeworkDay& d : w.days) {
                    EXPECT_GE(d.seconds, before) << e.id << ": never less";
                    EXPECT_LE(d.bouts, before == 0 ? (rung.bouts + 1) / 2 : before / 60 / rung.minutes + 1)
                        << e.id << ": one bout more at a time";
                    EXPECT_EQ(rung.bouts > 1 ? d.bout_s() : 60 * rung.minutes, 60 * rung.minutes) << e.id;
                    before = d.seconds;
                }
            }
            EXPECT_EQ(before, rung.seconds()) << e.id << ", rung " << r << ": the full measure";
        }
    }
}

// A calendar says of what is done on foot that it is done at home, and a line's question stays one.
TEST(Homework, OnFootItIsDoneAtHome) {
    const ExerciseBook& book = test::knowledge().exercises;
    const Exercise& e = *book.find("core_hold");
    const Homework h = homework({{1, 4}, "2026-11-23", &e, 0, 60});
    const RiderNeeds rider{"novice", {}, {}, 30};
    const GoingHome home = going_home(e, 0, book, rider, {true, "2026-11-23", &h});
    EXPECT_EQ(home.dose, "at home, 1 minute on each day that is marked");
    EXPECT_EQ(entries_of(home, h, {}).front().summary, e.name + ": " + home.dose);
    const Exercise& stiff = *book.find("stiff_side_first");
    const HomeworkLine line{beside_for("Fig"), stiff.id, going_home(stiff, 0, book, rider, {})};
    EXPECT_THAT(
        line.spoken(),
        HasSubstr("For Fig: Find the stiff side first. Walk, a circle each way: which is rounder? ("));
}

// Half of a ride is the most that goes to one thing.
TEST(Homework, NeverTakesMoreThanHalfOfTheRide) {
    HomeworkAsk of = ask({1}, "2026-11-23", 0);
    of.ride_minutes = 20;
    for (const HomeworkWeek& w : homework(of).weeks) {
        for (const HomeworkDay& d : w.days) EXPECT_LE(d.seconds, 600);
    }
    of.ride_minutes = 10;
    for (const HomeworkWeek& w : homework(of).weeks) {
        for (const HomeworkDay& d : w.days) EXPECT_LE(d.seconds, 300);
    }
}

// Common practice, no source: at least one day free.
TEST(Homework, StaysWithinItsTermItsDaysAndTenMinutes) {
    every_plan([](const Homework& h, const char* starts, std::size_t) {
        ASSERT_FALSE(h.weeks.empty());
        for (const HomeworkWeek& w : h.weeks) {
            EXPECT_LE(w.days.size(), 6U) << "a free day";
            for (const HomeworkDay& d : w.days) {
                EXPECT_GE(d.day, starts);
                EXPECT_LT(days_between(starts, d.day), 42) << "within its term";
                EXPECT_EQ(d.seconds % 30, 0);
                EXPECT_LE(d.seconds, 600);
                EXPECT_GE(d.bouts, 1);
            }
        }
        EXPECT_EQ(h.clip_on, h.weeks.back().days.back().day);
        EXPECT_GE(h.shots.size(), 3U);
    });
}

TEST(Homework, LeavesADayFreeAndRefusesWhatIsNoPlan) {
    EXPECT_THAT(homework(ask({0, 1, 2, 3, 4, 5, 6})).notes, ElementsAre(HasSubstr("Monday is left free")));
    EXPECT_THROW(homework(ask({})), Refused);
    EXPECT_THROW(homework(ask({1}, "soon")), Refused);
}

// Days against the calendar of 2026: 1 January was a Thursday, 29 February is none (from memory).
TEST(Days, AreCountedByTheCalendar) {
    EXPECT_EQ(weekday_of("2026-01-01"), 3);
    EXPECT_EQ(weekday_of("2026-11-27"), 4);
    EXPECT_EQ(day_after("2026-12-31", 1), "2027-01-01");
    EXPECT_EQ(day_after("2028-02-28", 1), "2028-02-29");
    EXPECT_EQ(days_between("2026-02-28", "2026-03-01"), 1);
    for (const char* none : {"2026-02-29", "2026-13-01", "26-1-1", "", "2026-11-2x"})
        EXPECT_THROW(weekday_of(none), Refused) << none;
    EXPECT_THAT(weekdays_in("sat mon, wed"), ElementsAre(0, 2, 5));
}

}  // namespace
}  // namespace aspen::core
