// A rider's plan: what is chosen, given, written down, and what of it leaves the program.

#include <gmock/gmock.h>

#include <QFile>
#include <QProcess>
#include <cctype>
#include <fstream>
#include <map>

#include "app/bench_fixture.hpp"
#include "app/leaving/consents.hpp"
#include "app/leaving/page_content.hpp"
#include "app/planning/plan_desk.hpp"
#include "app/rides/rider_plan.hpp"
#include "app/rides/stride_values.hpp"
#include "app/yard/own_knowledge.hpp"
#include "core/reading/refused.hpp"
#include "exchange/handed_page.hpp"

namespace aspen::app {
namespace {

using testing::HasSubstr;

class Plan : public testing::Test {
  protected:
    Plan()
        : yard(QString::fromStdString((folder / "yard").string()), shipped_knowledge()),
          bench(yard),
          desk(bench) {
        yard.set_clock(test::noon_of(QDate(2026, 11, 26)));
        maude = add_rider(yard, test::rider("Maude Estrell", 1990, "jumper", "novice"));
        store::Horse h{{}, "Fig", 157, ""};
        h.stiff_side = "right";
        fig = add_horse(yard, h);
        store::Ride ride;
        ride.rider = maude;
        ride.horse = fig;
        ride.day = "2026-11-01";
        ride.school = "jumper";
        yard.quietly([&] {
            ride_id = test::to_write(yard).add(ride);
            store::Correction c;
            c.rider = maude;
            c.horse = fig;
            c.fault = "lower_leg_back";
            c.noticed_on = "2026-11-01";
            c.focus = true;
            test::to_write(yard).add(c);
        });
        desk.show(maude);
    }
    void settle() { QCoreApplication::processEvents(); }
    core::Practice rode(int good, int of) {
        core::Practice p;
        p.good = good;
        p.attempts = of;
        return p;
    }
    /// The ride was in this school, and something good was said of it: without that no page leaves.
    void good_and_in(const char* school) {
        yard.quietly([&] {
            auto ride = *yard.records().rides.ride(ride_id);
            ride.school = school;
            test::to_write(yard).update(ride);
            store::PracticeEntry good;
            good.rider = maude;
            good.horse = fig;
            good.done = rode(4, 4);
            good.done.day = "2026-11-20";
            good.done.exercise = "two_point_walk_trot";
            test::to_write(yard).add(good);
        });
    }
    test::TempFolder folder;
    Yard yard;
    Bench bench;
    PlanDesk desk;
    store::RiderId maude;
    store::HorseId fig;
    store::RideId ride_id;
};

TEST_F(Plan, IsThereWithoutAnOpenClipAndOffersThree) {
    ASSERT_TRUE(desk.plan());
    EXPECT_EQ(desk.plan()->fault->id, "lower_leg_back");
    EXPECT_EQ(desk.plan()->horse->name, "Fig");
    EXPECT_FALSE(desk.is_given());
    ASSERT_EQ(desk.plan()->candidates.size(), 3U);
    EXPECT_EQ(desk.exercise(), desk.plan()->candidates[0].exercise);
    desk.choose(desk.plan()->candidates[1].exercise);
    const std::string chosen = desk.exercise()->id;
    EXPECT_EQ(desk.give(), QString());
    EXPECT_TRUE(desk.is_given());
    EXPECT_EQ(desk.exercise()->id, chosen);
    yard.steps().undo();
    settle();
    EXPECT_FALSE(desk.is_given());
}

TEST_F(Plan, ClimbsByWhatIsWrittenDownAndStepsBackWithUndo) {
    desk.choose(yard.knowledge().exercises.find("two_point_walk_trot"));
    ASSERT_EQ(desk.give(), QString());
    ASSERT_EQ(desk.exercise()->id, "two_point_walk_trot");
    EXPECT_THAT(desk.write_down(rode(4, 4)).toStdString(), HasSubstr("4 of 4"));
    EXPECT_EQ(desk.plan()->given->place.rung, 0);
    desk.write_down(rode(7, 8));
    EXPECT_EQ(desk.plan()->given->place.rung, 1);
    EXPECT_EQ(desk.plan()->given->log.back().rung, 0) << "the rung it was ridden on is kept";
    yard.steps().undo();
    settle();
    EXPECT_EQ(desk.plan()->given->place.rung, 0);
    yard.steps().redo();
    core::Practice hurt = rode(0, 2);
    hurt.pain = true;
    EXPECT_THAT(desk.write_down(hurt).toStdString(), HasSubstr("It hurt"));
    EXPECT_TRUE(desk.plan()->given->place.stopped);
    EXPECT_EQ(desk.take_back_last(), QString());
    settle();
    EXPECT_FALSE(desk.plan()->given->place.stopped);
    EXPECT_EQ(desk.plan()->attempts, 12);
}

TEST_F(Plan, WeeksComeFromTheDaysAndTheSessionKeepsItsRules) {
    desk.choose(yard.knowledge().exercises.find("two_point_walk_trot"));
    desk.give();
    for (const int d : {1, 3, 5}) {
        desk.toggle_day(d);
        settle();
    }
    ASSERT_TRUE(desk.plan()->homework);
    EXPECT_EQ(desk.plan()->homework->weeks.size(), 7U) << "six weeks from a Thursday reach into seven";
    desk.toggle_day(3);
    settle();
    EXPECT_EQ(yard.records().training.plan_of(maude).days, "tue sat");
    EXPECT_EQ(desk.no_session(), QString());
    EXPECT_EQ(desk.session().seconds(), 45 * 60);
    EXPECT_TRUE(desk.broken().empty());
    EXPECT_EQ(desk.session().blocks.front().rein, "right") << "the stiff side first";
    // The coach moves the first block to the end: it is kept, and the rules that break are named.
    const auto blocks = desk.session().blocks.size();
    desk.move_block(0, static_cast<int>(blocks) - 1);
    EXPECT_TRUE(desk.own_session());
    ASSERT_FALSE(desk.broken().empty());
    EXPECT_EQ(desk.session().blocks.back().kind, core::BlockKind::warm_up);
    desk.plan_session_again();
    EXPECT_TRUE(desk.broken().empty());
    desk.set_minutes(200);
    settle();
    EXPECT_EQ(desk.session().seconds(), 90 * 60);
}

TEST_F(Plan, TakesInARidersLogOnceAndSaysWhatWasPassedOver) {
    desk.choose(yard.knowledge().exercises.find("two_point_walk_trot"));
    desk.give();
    const std::string file = (folder / "log.csv").string();
    std::ofstream(file) << "date,exercise,attempts,good\n2026-11-27,two_point_walk_trot,4,4\n"
                           "2026-11-28,two_point_walk_trot,4,4\n2026-11-29,handstand,1,1\n"
                           "2026-11-29,hip_loop_in_canter,4,4\n";
    const QString said = desk.take_in_log(QString::fromStdString(file));
    EXPECT_THAT(said.toStdString(), HasSubstr("3 rides taken in, 0 known"));
    EXPECT_THAT(said.toStdString(), HasSubstr("handstand"));
    EXPECT_THAT(said.toStdString(), HasSubstr("may canter")) << "beyond a gate is not passed without a word";
    settle();
    EXPECT_EQ(desk.plan()->given->place.rung, 1);
    EXPECT_THAT(desk.take_in_log(QString::fromStdString(file)).toStdString(),
                HasSubstr("0 rides taken in, 3 known"));
    yard.steps().undo();
    settle();
    EXPECT_TRUE(yard.records().training.practice_of(maude).empty())
        << "a reading that wrote nothing is no step";
}

TEST_F(Plan, NothingLeavesForAMinorWithoutConsent) {
    desk.choose(yard.knowledge().exercises.find("two_point_walk_trot"));
    desk.give();
    desk.toggle_day(1);
    settle();
    const QString ics = QString::fromStdString((folder / "a.ics").string()),
                  html = QString::fromStdString((folder / "a.html").string());
    EXPECT_THAT(desk.save_calendar(ics).toStdString(), HasSubstr("Saved"));
    EXPECT_THAT(desk.save_log_page(html).toStdString(), HasSubstr("Saved"));
    QFile::remove(ics);
    auto young = *yard.records().people.rider(maude);
    young.birth_year = 2014;
    change_rider(yard, young);
    settle();
    EXPECT_THAT(desk.save_calendar(ics).toStdString(), HasSubstr("consent"));
    EXPECT_THAT(desk.save_log_page(html).toStdString(), HasSubstr("consent"));
    EXPECT_FALSE(QFile::exists(ics));
}

/// What is asked for at the moment it is written: a child's plan in every form in which it goes home, after
/// each thing that may happen to the consent that was given for it.
struct Shut {
    const char* name;
    void (*happens)(Yard& yard, store::RiderId rider);
};
void take_back_consents(Yard& yard, store::RiderId rider) {
    for (const store::Consent& c : yard.records().leaving.consents_of(rider)) withdraw_consent(yard, c);
}
const Shut kShut[] = {
    {"withdrawn", take_back_consents},
    {"withdrawn and undone",
     [](Yard& yard, store::RiderId rider) {
         auto card = *yard.records().people.rider(rider);
         card.goal = "a quiet leg";
         change_rider(yard, card);
         take_back_consents(yard, rider);
         yard.steps().undo();
     }},
    {"run out", [](Yard& yard, store::RiderId) { yard.set_clock(test::noon_of(QDate(2027, 6, 1))); }},
    {"the birth year taken away",
     [](Yard& yard, store::RiderId rider) {
         auto card = *yard.records().people.rider(rider);
         card.birth_year.reset();
         change_rider(yard, card);
         take_back_consents(yard, rider);
     }},
    {"merged with a card on which it was withdrawn",
     [](Yard& yard, store::RiderId rider) {
         const auto twin = add_rider(yard, test::rider("Maude E.", 2014, "jumper"));
         give_consent(yard, {{}, twin, "page", "Ada Estrell", "2026-10-01"});
         take_back_consents(yard, twin);
         merge_riders(yard, twin, rider);
     }},
};
class PlanShut : public Plan, public testing::WithParamInterface<Shut> {};
void PrintTo(const Shut& s, std::ostream* out) { *out << s.name; }

TEST_P(PlanShut, NothingOfItLeaves) {
    auto young = *yard.records().people.rider(maude);
    young.birth_year = 2014;
    change_rider(yard, young);
    give_consent(yard, {{}, maude, "page", "Ada Estrell", "2026-01-01", "2027-01-31"});
    desk.choose(yard.knowledge().exercises.find("two_point_walk_trot"));
    desk.give();
    desk.toggle_day(1);
    settle();
    const QString file = QString::fromStdString((folder / "out").string());
    const auto ways = {&PlanDesk::save_calendar, &PlanDesk::save_log_page, &PlanDesk::save_fridge_page};
    for (const auto way : ways) ASSERT_THAT((desk.*way)(file).toStdString(), HasSubstr("Saved"));
    QFile::remove(file);
    const auto left = yard.records().leaving.departures({}).size();
    GetParam().happens(yard, maude);
    settle();
    desk.show(maude);
    for (const auto way : ways)
        EXPECT_THAT((desk.*way)(file).toStdString(),
                    testing::ContainsRegex("nothing leaves|is not recorded"));
    EXPECT_FALSE(QFile::exists(file));
    EXPECT_EQ(yard.records().leaving.departures({}).size(), left);
}
INSTANTIATE_TEST_SUITE_P(Every, PlanShut, testing::ValuesIn(kShut));

/// Everything that goes home of what is given, as text, by the way it goes.
std::map<std::string, std::string> all_that_leaves(Yard& yard, PlanDesk& desk, store::RiderId rider,
                                                   const test::TempFolder& folder) {
    std::map<std::string, std::string> out;
    const auto path = [&](const char* name) { return QString::fromStdString((folder / name).string()); };
    const auto text_of = [](const QString& pdf) {
        QProcess p;
        p.start("pdftotext", {"-raw", pdf, "-"});
        p.waitForFinished();
        return QString::fromUtf8(p.readAllStandardOutput()).toStdString();
    };
    const auto read = [](const QString& file) {
        std::ifstream in(file.toStdString());
        return std::string(std::istreambuf_iterator<char>(in), {});
    };
    EXPECT_THAT(desk.save_calendar(path("c.ics")).toStdString(), HasSubstr("Saved"));
    EXPECT_THAT(desk.save_log_page(path("l.html")).toStdString(), HasSubstr("Saved"));
    EXPECT_THAT(desk.save_fridge_page(path("f.pdf")).toStdString(), HasSubstr("Saved"));
    // A calendar's lines are folded, and its commas marked (RFC 5545, 3.1 and 3.3.11).
    out["calendar"] = QString::fromStdString(read(path("c.ics"))).remove("\r\n ").remove('\\').toStdString();
    out["phone page"] = read(path("l.html"));
    out["fridge page"] = text_of(path("f.pdf"));
    const PageDraft draft = page_of(yard, rider);
    out["page, HTML"] =
        exchange::page_html(draft.page).replace("&#39;", "'").replace("&#x27;", "'").toStdString();
    out["message"] = exchange::message_text(draft.page).toStdString();
    exchange::write_page_pdf(draft.page, path("p.pdf"));
    out["page, PDF"] = text_of(path("p.pdf"));
    for (auto& [way, text] : out) std::ranges::replace(text, '\n', ' ');
    return out;
}

/// The same text wherever its lines are broken.
bool says(const std::string& text, const std::string& words) {
    const auto plain = [](const std::string& s) {
        std::string out;
        for (const char c : s) {
            if (std::isalnum(static_cast<unsigned char>(c))) out += c;
        }
        return out;
    };
    return plain(text).find(plain(words)) != std::string::npos;
}

// Whoever climbs by two good rides reads on every way home what stands before the next rung.
TEST_F(Plan, EveryWayHomeSaysWhatMayBeDone) {
    auto card = *yard.records().people.rider(maude);
    card.level = "established";
    change_rider(yard, card);
    good_and_in("stock");
    for (const char* gate : {"canter", "no_reins", "sits_trot"}) sign_off(yard, maude, fig, gate);
    settle();
    desk.refresh();
    desk.choose(yard.knowledge().exercises.find("two_point_walk_trot"));
    ASSERT_EQ(desk.give(), QString());
    for (const char* id : {"lunge_without_reins", "canter_depart_on_a_corner", "two_point_walk_trot"}) {
        settle();
        desk.take_away();
        settle();
        desk.refresh();
        yard.quietly([&] {
            store::Prescription p;
            p.correction = yard.records().work.corrections(maude)[0].id;
            p.given_on = yard.today_iso();
            p.exercise = id;
            test::to_write(yard).add(p);
        });
        if (core::weekdays_in(yard.records().training.plan_of(maude).days).empty()) desk.toggle_day(1);
        settle();
        desk.refresh();
        ASSERT_TRUE(desk.plan() && desk.plan()->given) << id;
        const core::GoingHome home = goes_home(*desk.plan(), yard.knowledge(), yard.today_iso());
        for (const auto& [way, text] : all_that_leaves(yard, desk, maude, folder)) {
            for (const std::string& rule : home.rules()) {
                // A page names what stands first and who must be there under headings of its own.
                const auto colon = rule.find(": ");
                const bool heading = rule.starts_with("First stands") || rule.starts_with("Must be there");
                EXPECT_TRUE(says(text, heading ? rule.substr(colon + 2) : rule)) << way << ": " << rule;
            }
            const bool climbs = way != "message" && way != "calendar";  // these say the rung that is due
            for (std::size_t i = 0; i < home.steps.size(); ++i) {
                if (!climbs && static_cast<int>(i) != home.here) continue;
                EXPECT_TRUE(says(text, home.steps[i].spoken())) << way << ": " << home.steps[i].spoken();
            }
        }
    }
    EXPECT_FALSE(desk.plan()->given->exercise->variants.stock.empty());
}

// "My left knee hurts", written beside a clip on Sunday, is not over because the plan is made on Tuesday.
TEST_F(Plan, WhatHurtLastTimeHoldsUntilSomebodySaysThatItIsOver) {
    const auto hurts = [&](const char* today) {
        const auto plan = plan_for(yard.records(), yard.knowledge(), maude, today);
        std::string out;
        for (const core::Limitation& l : plan->needs.limitations) out += l.words + ";";
        return out;
    };
    const store::HorseId cobalt = add_horse(yard, {{}, "Cobalt", 168, ""});
    const auto ridden = [&](const char* day, store::HorseId on, const char* said) {
        store::Ride ride;
        ride.rider = maude;
        ride.horse = on;
        ride.day = day;
        ride.own.hurts = said;
        yard.quietly([&] { ride.id = test::to_write(yard).add(ride); });
        return ride.id;
    };
    ridden("2026-11-20", cobalt, "left knee");
    EXPECT_EQ(hurts("2026-11-19"), "") << "nothing was said yet";
    EXPECT_EQ(hurts("2026-11-22"), "left knee;") << "on another horse too";
    const store::RideId unsaid = ridden("2026-11-23", fig, "");
    EXPECT_EQ(hurts("2026-11-24"), "left knee;") << "nothing said is not well";
    EXPECT_EQ(hurts("2026-12-04"), "left knee;");
    EXPECT_EQ(hurts("2026-12-05"), "") << "asked after for two weeks";
    yard.quietly([&] {
        store::Lesson lesson;
        lesson.day = "2026-11-23";
        lesson.id = test::to_write(yard).add(lesson);
        store::LessonPlace place;
        place.lesson = lesson.id;
        place.ride = unsaid;
        place.looked = "helmet pain girth";
        test::to_write(yard).add(place);
    });
    EXPECT_EQ(hurts("2026-11-24"), "") << "\"no pain today\" was ticked before mounting";
    ridden("2026-11-25", fig, "Nothing");
    EXPECT_EQ(hurts("2026-11-26"), "");
    ridden("2026-11-25", cobalt, "right wrist");
    set_limitations(yard, maude, "right wrist");
    EXPECT_EQ(hurts("2026-11-26"), "right wrist;") << "once: the card is where the coach answers for it";
}

// A horse that goes unevenly is looked at before anybody works it, whatever the plan was.
TEST_F(Plan, AnUnevenTrotHoldsTheWorkUntilTheHorseWasLookedAt) {
    core::RiderNeeds needs;
    const auto ridden = [&](const char* day, bool fit) {
        store::Ride ride;
        ride.rider = maude;
        ride.horse = fig;
        ride.day = day;
        yard.quietly([&] {
            ride.id = test::to_write(yard).add(ride);
            store::Lesson lesson;
            lesson.day = day;
            lesson.id = test::to_write(yard).add(lesson);
            store::LessonPlace place;
            place.lesson = lesson.id;
            place.ride = ride.id;
            place.looked = fit ? "girth fit" : "girth";
            test::to_write(yard).add(place);
        });
    };
    needs.uneven_on = "2026-11-25";
    EXPECT_THAT(core::held_by(needs),
                HasSubstr("the horse's trot was uneven on 2026-11-25: have it looked at"));
    core::SessionAsk ask;
    ask.rider = needs;
    EXPECT_TRUE(core::plan_session(ask, yard.knowledge().exercises).blocks.empty());
    // A clip of a trot that was followed and turned out uneven.
    store::Ride uneven;
    uneven.rider = maude;
    uneven.horse = fig;
    uneven.day = "2026-11-25";
    yard.quietly([&] {
        uneven.id = test::to_write(yard).add(uneven);
        store::Clip clip;
        clip.path = "/nowhere/uneven.mp4";
        clip.hash = "uneven trot of this test";
        clip.frames = 60;
        clip.last_frame = 59;
        clip.duration_s = 2;
        clip.id = test::to_write(yard).add(clip);
        test::to_write(yard).put(store::Slot{clip.id, 0, uneven.id});
        core::Stretches stretches(1);
        stretches[0].gait = core::Gait::trot;
        stretches[0].seat = core::Seat::rising;
        stretches[0].travel = core::Travel::right;
        test::to_write(yard).rides.put_stretches(clip.id, stretches);
        store::Moment m;
        m.clip = clip.id;
        m.frame = 10;
        for (const core::Landmark l : {core::Landmark::ear, core::Landmark::shoulder, core::Landmark::hip,
                                       core::Landmark::knee, core::Landmark::ankle, core::Landmark::heel})
            m.figure[l] = {{100, 100.0 + static_cast<double>(l)}, core::Visibility::seen, 2};
        m.id = test::to_write(yard).add(m);
        const auto key = stride_key(clip, 0, yard.records().rides.stretches(clip.id), 0,
                                    yard.records().reviews.moments(clip.id), {});
        ASSERT_TRUE(key);
        keep_strides(
            *key, {{"tempo_per_min", {78.0, 78.0, 78.0}, 0}, {std::string(core::kUnevenStrides), {0.5}, 0}});
    });
    EXPECT_EQ(plan_for(yard.records(), yard.knowledge(), maude, "2026-11-26")->needs.uneven_on, "2026-11-25");
    EXPECT_EQ(plan_for(yard.records(), yard.knowledge(), maude, "2026-12-30")->needs.uneven_on, "")
        << "long ago";
    yard.quietly([&] {
        store::Lesson lesson;
        lesson.day = uneven.day;
        lesson.id = test::to_write(yard).add(lesson);
        store::LessonPlace place;
        place.lesson = lesson.id;
        place.ride = uneven.id;
        place.looked = "fit";
        test::to_write(yard).add(place);
    });
    EXPECT_EQ(plan_for(yard.records(), yard.knowledge(), maude, "2026-11-26")->needs.uneven_on, "2026-11-25")
        << "ticked before it trotted unevenly";
    ridden("2026-11-26", false);
    EXPECT_EQ(plan_for(yard.records(), yard.knowledge(), maude, "2026-11-26")->needs.uneven_on, "2026-11-25");
    ridden("2026-11-27", true);
    EXPECT_EQ(plan_for(yard.records(), yard.knowledge(), maude, "2026-11-27")->needs.uneven_on, "")
        << "\"horse fit\" was ticked";
}

TEST_F(Plan, UpToTwoLinesGoHomeBesideTheFocus) {
    good_and_in("classical");
    desk.choose(yard.knowledge().exercises.find("two_point_walk_trot"));
    desk.give();
    desk.toggle_day(1);
    settle();
    ASSERT_FALSE(desk.plan()->horse_lines.empty());
    ASSERT_FALSE(desk.plan()->off_lines.empty());
    EXPECT_TRUE(desk.plan()->lines.empty()) << "none unless the coach says so";
    desk.next_line(true);
    desk.next_line(false);
    settle();
    ASSERT_EQ(desk.plan()->lines.size(), 2U);
    for (const auto& [way, text] : all_that_leaves(yard, desk, maude, folder)) {
        for (const core::HomeworkLine& line : desk.plan()->lines)
            EXPECT_TRUE(says(text, line.spoken())) << way << ": " << line.spoken();
    }
    // What is shut in the meantime does not go.
    set_limitations(yard, maude, "concussion two weeks ago");
    settle();
    desk.refresh();
    EXPECT_TRUE(desk.plan()->lines.empty());
    EXPECT_THAT(desk.plan()->given->shut, HasSubstr("holds all work"))
        << "it began after the last ride, and holds what is ridden from now on";
    yard.steps().undo();
    settle();
    desk.refresh();
    const auto could = desk.plan()->horse_lines.size();
    for (std::size_t i = 0; i < could; ++i) desk.next_line(true);
    settle();
    EXPECT_EQ(desk.plan()->lines.size(), 1U) << "after the last one none";
    yard.steps().undo();
    settle();
    EXPECT_EQ(desk.plan()->lines.size(), 2U);
}

TEST_F(Plan, WhatWasOpenedAndIsShutAgainDoesNotLeave) {
    sign_off(yard, maude, fig, "no_stirrups");
    sign_off(yard, maude, fig, "sits_trot");
    desk.choose(yard.knowledge().exercises.find("two_point_walk_trot"));
    desk.give();
    yard.quietly([&] {  // as it was given when the word still stood
        auto p = yard.records().work.prescriptions(yard.records().work.corrections(maude)[0].id)[0];
        test::to_write(yard).work.withdraw(p.id, true);
        p.id = {};
        p.exercise = "no_stirrups_short";
        p.withdrawn = false;
        test::to_write(yard).add(p);
    });
    desk.toggle_day(2);
    settle();
    desk.refresh();
    const QString file = QString::fromStdString((folder / "f.pdf").string());
    EXPECT_THAT(desk.save_fridge_page(file).toStdString(), HasSubstr("Saved"));
    take_back_sign_off(yard, yard.records().people.sign_offs(maude)[0]);
    settle();
    EXPECT_THAT(desk.save_fridge_page(file).toStdString(), HasSubstr("may work without stirrups"));
    EXPECT_THAT(desk.save_log_page(file).toStdString(), HasSubstr("does not leave"));
    EXPECT_THAT(desk.save_calendar(file).toStdString(), HasSubstr("does not leave"));
}

TEST_F(Plan, WhatTheYardHasNotGotCountsAgainstAnExercise) {
    auto c = yard.records().work.corrections(maude)[0];
    yard.quietly([&] {
        c.fault = "late_with_the_horse";
        test::to_write(yard).update(c);
    });
    settle();
    desk.refresh();
    const auto against = [&](const char* id) {
        for (const core::Candidate& one : desk.plan()->candidates) {
            if (one.exercise->id == id) return one.against;
        }
        return std::string("not among the three");
    };
    EXPECT_THAT(against("trot_poles_on_the_spring"), testing::Not(HasSubstr("there is no")));
    desk.set_equipment("two to four poles", false);
    EXPECT_FALSE(desk.has_equipment("two to four poles"));
    EXPECT_THAT(against("trot_poles_on_the_spring"),
                testing::AnyOf(HasSubstr("there is no two to four poles"), "not among the three"));
    desk.set_equipment("two to four poles", true);
    EXPECT_THAT(against("trot_poles_on_the_spring"), testing::Not(HasSubstr("there is no")));
}

TEST_F(Plan, ASignOffOpensTheRungThatWaits) {
    auto c = yard.records().work.corrections(maude)[0];
    yard.quietly([&] {
        c.fault = "locked_seat_in_canter";
        test::to_write(yard).update(c);
    });
    settle();
    desk.refresh();
    EXPECT_THAT(desk.gates(), testing::Contains("canter"));
    EXPECT_EQ(desk.sign_off("canter"), QString());
    settle();
    EXPECT_THAT(desk.gates(), testing::Not(testing::Contains("canter")));
    EXPECT_THAT(desk.gates(), testing::Contains("sits_trot")) << "then the next that is missing";
    EXPECT_EQ(desk.sign_off("sits_trot"), QString());
    settle();
    EXPECT_TRUE(desk.gates().empty());
}

TEST_F(Plan, TheCoachsOwnExercisesStandBesideThoseThatShip) {
    put_own_exercise(yard, "two_point_walk_trot",
                     R"({"id":"two_point_walk_trot","name":"Two-point my way"})");
    EXPECT_EQ(yard.knowledge().exercises.find("two_point_walk_trot")->name, "Two-point my way");
    EXPECT_EQ(yard.knowledge().exercises.find("two_point_walk_trot")->dose.ladder.size(), 6U)
        << "the rest as it ships";
    try {
        put_own_exercise(yard, "mine", R"({"id":"mine","name":"Mine"})");
        FAIL() << "half an exercise";
    } catch (const core::Refused& e) {
        EXPECT_THAT(e.what(), HasSubstr("exercise \"mine\": field \"purpose\""));
    }
    EXPECT_EQ(own_exercise(yard, "mine"), "");
    hide_exercise(yard, "two_point_walk_trot", true);
    settle();
    for (const core::Candidate& c : desk.plan()->candidates) EXPECT_NE(c.exercise->id, "two_point_walk_trot");
    remove_own_exercise(yard, "two_point_walk_trot");
    EXPECT_EQ(yard.knowledge().exercises.find("two_point_walk_trot")->name, "Two-point, walk then trot");
    yard.steps().undo();
    EXPECT_TRUE(yard.knowledge().exercises.find("two_point_walk_trot")->hidden);
}

}  // namespace
}  // namespace aspen::app
