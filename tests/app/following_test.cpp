// How corrections go on: what the coach decides, what is asked for, what leaves, what a yard has in common,
// and how good the coach's eye is.

#include <QDir>
#include <QFile>
#include <cmath>
#include <fstream>

#include "app/eye/eye_desk.hpp"
#include "app/following/asking.hpp"
#include "app/following/horse_story.hpp"
#include "app/following/progress_desk.hpp"
#include "app/leaving/outbox.hpp"
#include "app/leaving/season.hpp"
#include "app/models/rides_model.hpp"
#include "app/review/ride_findings.hpp"
#include "app/rides/yard_wide.hpp"
#include "app/yard_fixture.hpp"
#include "core/judging/sides.hpp"
#include "core/measures/measures.hpp"
#include "core/ride/ride.hpp"
#include "exchange/csv.hpp"

namespace aspen::app {
namespace {

using core::Stage;

class Following : public YardTest {
  protected:
    /// Rides a month apart, the heel so many pixels behind the hip in each.
    void ride_on(std::initializer_list<double> heel_behind, int first_month = 6) {
        int month = first_month;
        for (const double px : heel_behind) {
            const std::string day = "2026-0" + std::to_string(month++) + "-01";
            const store::Clip clip = add_clip(day.c_str(), day.c_str());
            for (const int frame : {10, 16, 22, 28, 34, 40}) add_leg(clip, frame, px + (frame > 20 ? 1 : 0));
            if (month == first_month + 1)
                prescribe(yard, test::ride_of(yard, clip.id), {"lower_leg_back", kTrotRight}, {},
                          *yard.knowledge().exercises.find("two_point_walk_trot"));
        }
        desk.show(rider);
    }
    void settle() { QCoreApplication::processEvents(); }
    ProgressDesk desk{yard};
};

TEST_F(Following, WhatTheRidesProposeIsTakenLeftAndTakenBack) {
    ride_on({45, 44, 2});
    ASSERT_EQ(desk.lanes().size(), 1U);
    EXPECT_EQ(desk.lanes()[0].life.stands, Stage::in_work);
    EXPECT_EQ(desk.lanes()[0].life.proposes, Stage::holding);
    EXPECT_TRUE(desk.lanes()[0].why.contains("2 more inside")) << desk.lanes()[0].why.toStdString();
    EXPECT_EQ(desk.glance().holding, 1);
    desk.take_proposed(desk.lanes()[0]);
    settle();
    EXPECT_EQ(desk.lanes()[0].life.stands, Stage::holding);
    EXPECT_FALSE(desk.lanes()[0].life.proposes);
    yard.steps().undo();
    settle();
    EXPECT_EQ(desk.lanes()[0].life.proposes, Stage::holding) << "a decision like any other";
    desk.leave_as_it_is(desk.lanes()[0]);
    settle();
    EXPECT_EQ(desk.lanes()[0].stage, Stage::in_work) << "the coach's word stands";
    for (const char* day : {"2026-10-01", "2026-11-01"}) {
        const store::Clip more = add_clip(day, day);
        for (const int frame : {10, 20, 30}) add_leg(more, frame, 1);
    }
    settle();
    EXPECT_EQ(desk.lanes()[0].life.proposes, Stage::settled) << "until the rides say something new";
}

// One moment is luck; one in each of two rides in a row that showed it lets the next correction come.
TEST_F(Following, AFocusIsLeftByOneMomentOnlyTwiceInARow) {
    ride_on({45});
    const auto ridden = [&](const char* day, double heel_behind) {
        const store::Clip clip = add_clip(day, day);
        add_leg(clip, 10, heel_behind);
        return *yard.records().rides.ride(test::ride_of(yard, clip.id));
    };
    const auto first = ridden("2026-07-01", 1), second = ridden("2026-08-01", 1);
    const auto inside_before = [&](const store::Ride& ride) {
        const core::RideData data = ride_data(yard, ride);
        EXPECT_EQ(data.in_work.size(), 1U);
        return data.in_work.at(0).inside_before;
    };
    EXPECT_FALSE(inside_before(first)) << "outside the ride before";
    EXPECT_TRUE(inside_before(second));
    const auto focus_of = [&](const store::Ride& ride) {
        const auto focus = core::assess_ride(ride_data(yard, ride), yard.knowledge()).focus;
        return focus ? focus->fault->id : "none";
    };
    EXPECT_EQ(focus_of(first), "lower_leg_back");
    EXPECT_NE(focus_of(second), "lower_leg_back");
    EXPECT_TRUE(inside_before(ridden("2026-09-01", 45)));
    EXPECT_FALSE(inside_before(ridden("2026-10-01", 1))) << "the row ended";
}

// Two passes before one camera that stood as it stood; then an upright drawn in each clip.
TEST_F(Following, AnUnmarkedTripodIsOneErrorHoweverManyClipsItFilms) {
    const store::Clip one = add_clip("aa", "2026-09-01"), two = add_clip("bb", "2026-09-01");
    const store::RideId ride = test::ride_of(yard, one.id);
    yard.quietly([&] { test::to_write(yard).put(store::Slot{two.id, 0, ride}); });
    for (const store::Clip& clip : {one, two}) {
        for (const int frame : {10, 20, 30}) add_leg(clip, frame, 45);
    }
    prescribe(yard, ride, {"lower_leg_back", kTrotRight}, {},
              *yard.knowledge().exercises.find("two_point_walk_trot"));
    const auto common = [&] {
        desk.show(rider);
        desk.refresh();
        const core::ReviewValue& v = desk.lanes().at(0).points.at(0).value;
        EXPECT_EQ(v.moments, 6);
        return v.sd_common;
    };
    // Said how it turned, and the upright as unsure as where nobody drew one: what counts is that there are
    // two.
    const auto upright = [&](bool drawn) {
        yard.quietly([&] {
            for (const store::Clip& clip : {one, two}) {
                auto stretches = yard.records().rides.stretches(clip.id);
                stretches[0].camera = {0, core::CameraPose::kUnmarkedRollSdDeg, 0, 0.5, drawn, true};
                test::to_write(yard).rides.put_stretches(clip.id, stretches);
            }
        });
        return common();
    };
    const double tripod = upright(false);
    EXPECT_NEAR(upright(true), tripod / std::sqrt(2.0), 0.15 * tripod);
}

TEST_F(Following, ARidesEntryTakesTheCoachsWordAndTheTrendIsTold) {
    ride_on({60, 52, 43, 33, 20, 8}, 3);
    const Lane lane = desk.lanes()[0];
    ASSERT_TRUE(lane.trend);
    EXPECT_TRUE(lane.trend_says.contains("better")) << lane.trend_says.toStdString();
    EXPECT_GT(lane.trend->a_month, 0) << "the heel comes forward";
    desk.say(lane, lane.entries[1], "  quieter in the corners ");
    settle();
    EXPECT_EQ(desk.lanes()[0].entries[1].coach_word, "quieter in the corners");
    EXPECT_EQ(desk.lanes()[0].entries[1].moments, 6) << "what it was judged by";
    EXPECT_EQ(desk.lanes()[0].exercises.size(), 1U);
}

TEST_F(Following, NothingIsReadWhileNobodyLooks) {
    ride_on({45, 44});
    int read = 0;
    QObject::connect(&desk, &ProgressDesk::changed, [&] { ++read; });
    desk.set_live(false);
    add_leg(add_clip("2026-10-01", "2026-10-01"), 10, 1);
    settle();
    EXPECT_EQ(read, 0);
    EXPECT_EQ(desk.lanes()[0].entries.size(), 2U);
    desk.set_live(true);
    EXPECT_EQ(read, 1);
    EXPECT_EQ(desk.lanes()[0].entries.size(), 3U);
}

TEST_F(Following, FiltersGoThroughWhatOccurs) {
    ride_on({45, 44});
    EXPECT_FALSE(desk.offers(ProgressDesk::By::horse));
    yard.quietly([&] {
        const auto saffron = test::to_write(yard).add(store::Horse{{}, "Saffron", 160, ""});
        store::Correction c;
        c.rider = rider;
        c.horse = saffron;
        c.fault = "lower_leg_back";
        c.seen = kTrotRight;
        c.noticed_on = "2026-07-01";
        test::to_write(yard).add(c);
        c.fault = "tipped_forward";
        c.seen.side.clear();
        test::to_write(yard).add(c);
    });
    desk.refresh();
    ASSERT_EQ(desk.lanes().size(), 3U);
    EXPECT_EQ(desk.lanes()[0].also_on, QStringList{"Saffron"}) << "on two horses it is the rider's habit";
    desk.next(ProgressDesk::By::horse);
    EXPECT_EQ(desk.lanes().size(), 1U);
    EXPECT_EQ(desk.words(ProgressDesk::By::horse), "on Fig");
    desk.next(ProgressDesk::By::horse);
    EXPECT_EQ(desk.lanes().size(), 2U);
    desk.next(ProgressDesk::By::group);
    EXPECT_EQ(desk.lanes().size(), 1U);
    desk.show_all();
    EXPECT_EQ(desk.lanes().size(), 3U);
    EXPECT_FALSE(desk.filtered());
}

TEST_F(Following, ALaneThatStandsStillSaysWhy) {
    ride_on({45});
    EXPECT_TRUE(desk.lanes()[0].stalled.contains("not judged since"))
        << "since June: " << desk.lanes()[0].stalled.toStdString();
    const auto fig = horse;
    horse = add_horse(yard, {{}, "Saffron", 160, ""});
    add_leg(add_clip("2026-11-20", "2026-11-20"), 10, 40);
    desk.refresh();
    EXPECT_TRUE(desk.lanes()[0].stalled.contains("another horse")) << desk.lanes()[0].stalled.toStdString();
    EXPECT_EQ(desk.lanes()[0].correction.horse, fig);
}

TEST_F(Following, SignOffsSaddlesHorsesAndNotesLieOnTheTime) {
    ride_on({45});
    yard.quietly([&] {
        auto ride = yard.records().rides.rides_of(rider).front();
        ride.saddle = "stock";
        test::to_write(yard).update(ride);
        test::to_write(yard).put(store::SignOff{{}, rider, horse, "canter", "2026-08-01"});
        test::to_write(yard).people.put_limitations(
            rider, {{{}, {}, "left hip", "left", "2026-09-01", "2026-10-01"}});
    });
    horse = add_horse(yard, {{}, "Saffron", 160, ""});
    const store::Clip other = add_clip("2026-07-10", "2026-07-10");
    yard.quietly([&] {
        auto ride = *yard.records().rides.ride(test::ride_of(yard, other.id));
        ride.saddle = "jumping";
        test::to_write(yard).update(ride);
    });
    desk.refresh();
    desk.note("pause", "two weeks at the sea");
    settle();
    std::vector<std::string> kinds;
    for (const TimeMark& m : desk.marks()) kinds.push_back(m.kind);
    EXPECT_THAT(kinds, testing::ElementsAre("horse", "saddle", "sign_off", "injury", "pause"));
    EXPECT_EQ(desk.marks()[3].until, "2026-10-01");
    desk.take_note_away(desk.marks()[4]);
    settle();
    EXPECT_EQ(desk.marks().size(), 4U);
    EXPECT_TRUE(desk.take_note_away(desk.marks()[0]).contains("records")) << "what is no note stays";
}

/// A clip that was asked for, and why the yard's list names the rider.
class Asked : public Following {
  protected:
    Asked() {
        ride_on({45, 44});
        desk.ask_for_clip(desk.lanes()[0]);
        for (const store::Clip& c : yard.records().rides.clips())
            set_ride_state(yard, test::ride_of(yard, c.id), store::RideState::done);
    }
    std::string why_on(QDate day) {
        yard.set_clock(test::noon_of(day));
        RidesModel list(yard);
        list.refresh();
        for (int i = 0; i < list.rowCount(); ++i) {
            if (list.data(list.index(i), RidesModel::kind_role).toInt() ==
                static_cast<int>(RidesModel::Kind::due_rider))
                return list.data(list.index(i), RidesModel::why_role).toString().toStdString();
        }
        return {};
    }
};

TEST_F(Asked, StandsAsAPromiseWithWhatToFilm) {
    const auto open = promises(yard);
    ASSERT_EQ(open.size(), 1U);
    EXPECT_EQ(open[0].rider, "Joss Penhallow");
    EXPECT_EQ(open[0].about, "Lower leg back");
    EXPECT_GE(open[0].shots.size(), 3);
    EXPECT_EQ(open[0].days_left, 14);
    EXPECT_FALSE(open[0].kept_by) << "what was there before answers nothing";
}

TEST_F(Asked, WaitsInTheOutboxAndAskedAgainIsOneQuestion) {
    const auto waiting = yard.records().following.outbox(rider);
    ASSERT_EQ(waiting.size(), 1U);
    EXPECT_THAT(waiting[0].words, testing::HasSubstr("trot two-point"));
    desk.ask_for_clip(desk.lanes()[0]);
    EXPECT_EQ(promises(yard).size(), 1U);
}

TEST_F(Asked, IsPromisedThenForgottenByTheCoachsTerm) {
    EXPECT_EQ(why_on(yard.today()), "") << "promised and not due yet";
    EXPECT_THAT(why_on(QDate(2026, 12, 10)), testing::StartsWith("Promised"));
    EXPECT_THAT(why_on(QDate(2026, 12, 16)), testing::StartsWith("Forgotten"));
    set_days_to_wait(yard, 30);
    EXPECT_THAT(why_on(QDate(2026, 12, 16)), testing::StartsWith("Promised")) << "the term is the coach's";
}

TEST_F(Asked, AClipThatComesIsLaidOnWhatItFulfils) {
    yard.set_clock(test::noon_of(QDate(2026, 12, 16)));
    const store::Clip came = add_clip("2026-12-15", "2026-12-15");
    EXPECT_EQ(kept_by(yard, came.id).size(), 1U);
    RidesModel list(yard);
    list.refresh();
    EXPECT_TRUE(list.data(list.index(0), RidesModel::facts_role).toString().contains("promised for"));
}

TEST_F(Asked, IsClosedAndOpenedAgainByUndo) {
    close_promise(yard, promises(yard)[0].promise);
    EXPECT_TRUE(promises(yard).empty());
    yard.steps().undo();
    EXPECT_EQ(promises(yard).size(), 1U);
}

// Against another reader: Python's own mail parser (email, RFC 5322 and 2047).
TEST_F(Following, TheOutboxWritesMessagesThatAnotherProgramReads) {
    ride_on({45});
    const Lane lane = desk.lanes()[0];
    desk.ask_for_clip(lane);
    EXPECT_TRUE(write_outbox(yard).contains("consent")) << "a minor without consent: nothing leaves";
    EXPECT_EQ(yard.records().following.outbox()[0].state, "waiting");
    auto card = *yard.records().people.rider(rider);
    card.name = "Jöss Penhallöw";
    card.birth_year = 1990;
    change_rider(yard, card);
    desk.ask_for_clip(desk.lanes()[0]);
    EXPECT_TRUE(write_outbox(yard).startsWith("2 messages")) << "both are files";
    EXPECT_EQ(write_outbox(yard), "Nothing waits in the outbox.");
    const auto written = yard.records().following.outbox();
    ASSERT_EQ(written.size(), 2U);
    EXPECT_EQ(written[0].state, "written");
    const QString file = outbox_folder(yard).filePath(QString::fromStdString(written[0].file));
    std::ofstream(folder / "read.py")
        << "import sys, email, email.policy\n"
           "m = email.message_from_binary_file(open(sys.argv[1], 'rb'), policy=email.policy.default)\n"
           "assert not m.defects, m.defects\n"
           "print(m['to'].groups[0].display_name); print(m['subject']); print(m['date'].datetime.date())\n"
           "print(m.get_content())\n";
    const test::Ran read =
        test::run("/usr/bin/python3 " + (folder / "read.py").string() + " '" + file.toStdString() + "'");
    ASSERT_EQ(read.code, 0) << read.out;
    EXPECT_THAT(read.out, testing::StartsWith("Jöss Penhallöw\nA clip by 8 Dec\n2026-11-2"));
    EXPECT_THAT(read.out, testing::HasSubstr("Lower leg back"));
    EXPECT_THAT(read.out, testing::HasSubstr("Hello Jöss,"));
}

TEST_F(Following, AnEntrySaysHowMuchOfItWasLogged) {
    ride_on({45});
    const auto ridden = yard.records().rides.ridden_by(rider);
    store::Correction c;
    c.rider = rider;
    c.horse = horse;
    c.fault = "wrong_diagonal";
    c.seen = core::seen_for(*yard.knowledge().faults.find("wrong_diagonal"), kTrotRight);
    c.noticed_on = ridden.at(0).ride.day;
    test::to_write(yard).add(c);
    store::Event e;
    e.ride = ridden[0].ride.id;
    e.clip = ridden[0].clip.id;
    e.time_s = 0.5;
    e.event = "wrong_diagonal";
    e.detail = "rein=left";
    add_event(yard, e, "wrong diagonal");
    const auto lanes = lanes_of(yard.records(), yard.knowledge(), rider, yard.today_iso());
    const auto lane =
        std::ranges::find_if(lanes, [](const Lane& l) { return l.correction.fault == "wrong_diagonal"; });
    ASSERT_NE(lane, lanes.end());
    ASSERT_EQ(lane->entries.size(), 1U);
    EXPECT_EQ(lane->entries[0].eye.of, 1);
    EXPECT_EQ(lane->entries[0].logged, 1) << "told by the log, not by a look";
}

TEST_F(Following, EntriesAreATableAndLeaveByTheGateAlone) {
    ride_on({45, 44, 2});
    EXPECT_TRUE(!ask_for_rider(yard, rider, Use::page).has_value()) << "a minor without consent";
    auto card = *yard.records().people.rider(rider);
    card.birth_year = 1990;
    change_rider(yard, card);
    desk.refresh();
    const QString file = QString::fromStdString((folder / "entries.csv").string());
    const auto permit = ask_for_rider(yard, rider, Use::page);
    write_entries(yard, *permit, desk.rider_name(), desk.all_lanes(), file);
    std::ifstream in(file.toStdString());
    std::string line;
    ASSERT_TRUE(std::getline(in, line));
    const auto head = exchange::csv_fields(line.substr(0, line.size() - 1));
    int rows = 0;
    while (std::getline(in, line)) {
        const auto fields = exchange::csv_fields(line.substr(0, line.size() - 1));
        ASSERT_EQ(fields.size(), head.size());
        EXPECT_EQ(fields[2], "lower_leg_back");
        EXPECT_EQ(fields[8], "heel_offset");
        ++rows;
    }
    EXPECT_EQ(rows, 3);
}

TEST_F(Following, AYardsRidersHaveFaultsInCommonAndExercisesDidWhatTheyDid) {
    ride_on({45, 44, 2});
    YardWide wide(yard.knowledge());
    wide.add("Joss", desk.all_lanes());
    EXPECT_TRUE(wide.in_common().empty()) << "of two riders at least";
    auto theirs = desk.all_lanes();
    theirs[0].entries.back().verdict = core::RideVerdict::outside;
    theirs[0].stage = Stage::in_work;
    wide.add("Maude", theirs);
    ASSERT_EQ(wide.in_common().size(), 1U);
    EXPECT_EQ(wide.in_common()[0].riders[0].rider, "Maude") << "what is furthest from settled first";
    const auto exercises = wide.exercises();
    ASSERT_EQ(exercises.size(), 1U);
    // Four weeks and a week from the first of June: the ride of July alone.
    EXPECT_EQ(exercises[0].moved.given, 2);
    EXPECT_EQ(exercises[0].moved.judged, 2);
    EXPECT_EQ(exercises[0].moved.held, 0);
    EXPECT_GT(exercises[0].held->hi, 0.5) << "two say little, and the interval says so";
}

TEST_F(Following, AHorseHasItsRidersAndWhatTheyShare) {
    ride_on({45, 44});
    const auto fig = horse;
    const auto joss = rider;
    rider = add_rider(yard, test::rider("Maude Estrell", 1990, "jumper", "novice"));
    const store::Clip clip = add_clip("2026-11-02", "2026-11-02");
    prescribe(yard, test::ride_of(yard, clip.id), {"lower_leg_back", kTrotRight}, {},
              *yard.knowledge().exercises.find("two_point_walk_trot"));
    const auto story = story_of(yard, fig);
    ASSERT_TRUE(story);
    ASSERT_EQ(story->riders.size(), 2U);
    EXPECT_EQ(story->riders[0].name, "Joss Penhallow") << "who rides it most";
    EXPECT_EQ(story->riders[0].rides, 2);
    ASSERT_EQ(story->shared.size(), 1U);
    EXPECT_EQ(story->shared[0].fault, "Lower leg back");
    EXPECT_FALSE(story_of(yard, {999}));
    EXPECT_NE(joss, rider);
}

TEST_F(Following, YearsOfRidesAreReadAtOnce) {
    add_clip("seed", "2016-01-01");
    yard.quietly([&] {
        for (int i = 0; i < 300; ++i) {
            const std::string day = QDate(2016, 1, 2).addDays(13 * i).toString(Qt::ISODate).toStdString();
            const store::Clip clip = add_clip(("years" + std::to_string(i)).c_str(), day.c_str());
            for (const int frame : {10, 40, 70}) add_leg(clip, frame, 45 - i / 8.0);
            if (i == 0)
                prescribe(yard, test::ride_of(yard, clip.id), {"lower_leg_back", kTrotRight},
                          {{"lower_leg_back", kTrotRight}, {"tipped_forward", kTrotRight}},
                          *yard.knowledge().exercises.find("two_point_walk_trot"));
        }
    });
    const auto lanes = lanes_of(yard.records(), yard.knowledge(), rider, yard.today_iso());
    ASSERT_EQ(lanes.size(), 2U);
    EXPECT_EQ(lanes[0].entries.size(), 300U);
    EXPECT_TRUE(lanes[0].trend && lanes[0].trend->told);
}

TEST_F(Following, EveryDrillAsksWhatItsTruthAnswers) {
    const core::Knowledge& k = yard.knowledge();
    for (int kind = 0; kind < core::kDrillKinds; ++kind) {
        std::set<int> answers;
        int asked = 0;
        for (unsigned n = 0; n < 24; ++n) {
            const DrillItem item = drawn_item(static_cast<core::DrillKind>(kind), n, k);
            if (!item.drawn) continue;
            ++asked;
            EXPECT_FALSE(item.question.isEmpty());
            EXPECT_EQ(item.source, drawn_item(item.kind, n, k).source) << "the same for every coach";
            if (core::is_number(item.kind)) {
                // Held against the measure of the truth's own joints.
                const auto measured = core::measure(item.drawn->figure(), k.body);
                const auto at = std::ranges::find(measured, item.about,
                                                  [](const core::Measured& m) { return m.info->id; });
                ASSERT_TRUE(at != measured.end() && at->value);
                EXPECT_NEAR(item.number, *at->value, 1e-9);
                continue;
            }
            ASSERT_FALSE(item.right.empty());
            ASSERT_LE(item.choices.size(), 4);
            for (const int r : item.right) EXPECT_LT(r, item.choices.size());
            answers.insert(item.right.front());
        }
        EXPECT_GE(asked, 12) << core::word(static_cast<core::DrillKind>(kind));
        if (kind > 0) {
            EXPECT_GE(answers.size(), 2U) << "not always the same key";
        }
    }
    // Early and late are early and late by the simulator's own numbers.
    for (unsigned n = 0; n < 8; ++n) {
        const DrillItem rise = drawn_item(core::DrillKind::rise, n, k);
        const double late = rise.drawn->ride().rise_late;
        EXPECT_EQ(rise.right.front(), late < 0 ? 0 : late > 0 ? 2 : 1);
    }
}

TEST_F(Following, ARoundIsAnsweredKeptAndComesBack) {
    EyeDesk eye(yard);
    eye.start(core::DrillKind::lead);
    ASSERT_EQ(eye.length(), EyeDesk::kOfRound);
    int wrong = 0;
    while (eye.running()) {
        const int right = eye.item()->right.front();
        const bool miss = eye.place() == 2;
        eye.answer_choice(miss ? 1 - right : right);
        EXPECT_TRUE(eye.answered());
        EXPECT_EQ(eye.was_right(), !miss);
        wrong += miss ? 1 : 0;
        eye.answer_choice(right);  // answered once, it stays
        eye.next();
    }
    const auto kept = yard.records().following.drills("lead");
    ASSERT_EQ(kept.size(), static_cast<std::size_t>(EyeDesk::kOfRound));
    const auto line = eye.lines()[static_cast<std::size_t>(core::DrillKind::lead)];
    EXPECT_NEAR(line.skill.right->share, (8.0 - wrong) / 8, 1e-12);
    EXPECT_EQ(line.due_in_days, 2);
    eye.start(core::DrillKind::lead);
    EXPECT_NE(eye.item()->source, kept[0].source) << "other questions the next time";
    eye.leave();
    eye.set_coach("AB");
    eye.start(core::DrillKind::lead);
    EXPECT_EQ(eye.item()->source, kept[0].source) << "another coach is shown the same";
}

TEST_F(Following, GuessedAnglesGiveBiasErrorAndTwoCoachesAgreement) {
    EyeDesk eye(yard);
    const auto guess = [&](double by) {
        eye.start(core::DrillKind::angle);
        while (eye.running()) {
            eye.answer_number(eye.item()->number + by + (eye.place() % 2 ? 1 : -1));
            eye.next();
        }
    };
    guess(3);
    const auto line = eye.lines()[0];
    EXPECT_NEAR(*line.skill.bias, 3, 1e-9);
    EXPECT_NEAR(*line.skill.error, 1.069, 0.001) << "of eight answers a degree on either side";
    eye.set_coach("AB");
    guess(-1);
    QString who;
    const auto both = eye.with_another(&who);
    ASSERT_TRUE(both);
    EXPECT_EQ(both->shared, 8);
    EXPECT_NEAR(both->limits.mean, -4, 1e-3);
    EXPECT_EQ(who, coach_of(yard));
}

TEST_F(Following, TheOwnMarkedMomentsAreAskedToo) {
    ride_on({45, 20});
    const auto own = own_items(yard, core::DrillKind::angle, 3);
    ASSERT_FALSE(own.empty());
    EXPECT_TRUE(own[0].clip);
    EXPECT_EQ(own[0].unit, "°");
    EyeDesk eye(yard);
    EXPECT_TRUE(eye.to_mark_again()) << "and can be marked again, blind";
}

}  // namespace
}  // namespace aspen::app
