#include <QDir>
#include <QFile>

#include "app/models/thumbs.hpp"
#include "app/rides/lanes.hpp"
#include "app/yard/importer.hpp"
#include "app/yard_fixture.hpp"
#include "core/reading/refused.hpp"

namespace aspen::app {
namespace {

/// Eight changes of as many kinds, each a step.
class EightSteps : public YardTest {
  protected:
    EightSteps() : clip(add_clip("aa", "2026-11-01")), ride(test::ride_of(yard, clip.id)) {
        yard.steps().stack().clear();
        moment = add_leg(clip, 10, 40);
        const store::Moment m = yard.records().reviews.moments(clip.id).at(0);
        put_mark(yard, m, core::Landmark::toe, {{640, 435}, core::Visibility::seen, 1});
        set_phase(yard, m, "rise_top");
        auto changed = *yard.records().rides.ride(ride);
        changed.school = "classical";
        change_ride(yard, changed, "school");
        store::Finding said;
        said.ride = ride;
        said.fault = "lower_leg_back";
        said.decision = store::Decision::accepted;
        decide(yard, said);
        prescribe(yard, ride, {"lower_leg_back", kTrotRight},
                  {{"lower_leg_back", kTrotRight}, {"tipped_forward", kTrotRight}},
                  *yard.knowledge().exercises.find("two_point_walk_trot"));
        trash_clip(yard, clip.id);
        auto card = *yard.records().people.rider(rider);
        card.goal = "first class in spring";
        change_rider(yard, card);
    }
    void take_all_back() {
        while (yard.steps().stack().canUndo()) yard.steps().stack().undo();
    }
    void do_all_again() {
        while (yard.steps().stack().canRedo()) yard.steps().stack().redo();
    }
    store::Clip clip;
    store::RideId ride;
    store::MomentId moment;
};

TEST_F(EightSteps, CanBeReadInWords) {
    EXPECT_EQ(yard.steps().stack().count(), 8);
    EXPECT_EQ(yard.steps().taken().front(), "Mark this moment");
    take_all_back();
    EXPECT_TRUE(yard.steps().taken().isEmpty());
}

TEST_F(EightSteps, TakenBackLeaveNothing) {
    take_all_back();
    EXPECT_TRUE(yard.records().reviews.moments(clip.id).empty());
    EXPECT_TRUE(yard.records().reviews.findings(ride).empty());
    EXPECT_TRUE(yard.records().work.corrections(rider).empty());
    EXPECT_EQ(yard.records().rides.ride(ride)->school, "hunter");
    EXPECT_EQ(yard.records().rides.ride(ride)->state, store::RideState::fresh);
    EXPECT_FALSE(yard.records().rides.clip(clip.id)->trashed);
    EXPECT_EQ(yard.records().people.rider(rider)->goal, "");
}

TEST_F(EightSteps, DoneAgainAreTheSameRows) {
    for (int round = 0; round < 2; ++round) {
        take_all_back();
        do_all_again();
        EXPECT_TRUE(yard.records().rides.clips().empty());
        EXPECT_EQ(yard.records().work.corrections(rider).size(), 2U);
        ASSERT_EQ(yard.records().reviews.moments(clip.id).size(), 1U);
        const store::Moment again = yard.records().reviews.moments(clip.id)[0];
        EXPECT_EQ(again.id, moment) << "so that later steps still find it";
        EXPECT_EQ(again.figure.marked(), 6);
        EXPECT_EQ(again.phase, "rise_top");
        EXPECT_EQ(yard.records().people.rider(rider)->goal, "first class in spring");
    }
}

TEST_F(YardTest, ADragIsOneStepAndTwoDragsAreTwo) {
    const store::Clip clip = add_clip("aa", "2026-11-01");
    add_leg(clip, 10, 0);
    store::Moment moment = yard.records().reviews.moments(clip.id)[0];
    const core::Mark at = moment.figure[core::Landmark::heel];
    const int before = yard.steps().stack().count();
    core::Mark moved = at;
    const int gesture = yard.steps().new_gesture();
    for (int i = 0; i < 5; ++i) {
        core::Mark next = moved;
        next.at.x += 1;
        moment.figure[core::Landmark::heel] = moved;
        put_mark(yard, moment, core::Landmark::heel, next, gesture);
        moved = next;
    }
    EXPECT_EQ(yard.steps().stack().count(), before + 1);
    core::Mark other = moved;
    other.at.x += 9;
    moment.figure[core::Landmark::heel] = moved;
    put_mark(yard, moment, core::Landmark::heel, other, yard.steps().new_gesture());
    EXPECT_EQ(yard.steps().stack().count(), before + 2) << "another gesture does not merge";
    yard.steps().undo();
    yard.steps().undo();
    EXPECT_EQ(yard.records().reviews.moments(clip.id)[0].figure[core::Landmark::heel].at, at.at);
}

TEST_F(YardTest, ANewFocusTakesTheOldOnesPlaceUntilTakenBack) {
    const store::Clip clip = add_clip("aa", "2026-11-01");
    prescribe(yard, test::ride_of(yard, clip.id), {"lower_leg_back", kTrotRight}, {},
              *yard.knowledge().exercises.find("two_point_walk_trot"));
    prescribe(yard, test::ride_of(yard, clip.id), {"heel_up", kTrotRight}, {},
              *yard.knowledge().exercises.find("heel_drop_transitions"));
    const auto focus = [&] {
        std::vector<std::string> out;
        for (const auto& c : yard.records().work.corrections(rider)) {
            if (c.focus) out.push_back(c.fault);
        }
        return out;
    };
    EXPECT_THAT(focus(), testing::ElementsAre("heel_up"));
    yard.steps().undo();
    EXPECT_THAT(focus(), testing::ElementsAre("lower_leg_back"));
    EXPECT_EQ(yard.records().work.prescriptions(yard.records().work.corrections(rider)[0].id).size(), 1U);
}

TEST_F(YardTest, LanesFollowTheMeasureThroughTheReviews) {
    const store::Clip first = add_clip("aa", "2026-09-01");
    add_leg(first, 10, 45);
    add_leg(first, 25, 43);
    add_leg(first, 40, 41);
    prescribe(yard, test::ride_of(yard, first.id), {"lower_leg_back", kTrotRight}, {},
              *yard.knowledge().exercises.find("two_point_walk_trot"));
    const store::Clip second = add_clip("bb", "2026-10-01");
    for (const int frame : {12, 17, 22, 27, 32, 37}) add_leg(second, frame, 2);
    store::Clip other_rein = add_clip("cc", "2026-10-02");
    test::say(yard, other_rein.id,
              {rider, horse, "hunter", core::Gait::trot, core::Seat::two_point, core::Travel::left});
    add_leg(other_rein, 5, 30);
    auto lanes = lanes_of(yard.records(), yard.knowledge(), rider, yard.today_iso());
    ASSERT_EQ(lanes.size(), 1U);
    ASSERT_EQ(lanes[0].points.size(), 2U) << "the other rein has a lane of its own";
    EXPECT_EQ(lanes[0].points[0].value.moments, 3);
    EXPECT_EQ(lanes[0].points[0].value.verdict, core::Verdict::outside);
    EXPECT_EQ(lanes[0].stage, core::Stage::holding);
    EXPECT_TRUE(lanes[0].change.contains("better")) << lanes[0].change.toStdString();
    // The value is what core says of the stored joints, not a number written down once.
    const auto moment = yard.records().reviews.moments(second.id)[0];
    const auto judged =
        core::judge(moment.figure, {"hunter", core::Gait::trot, core::Seat::two_point, "", {}},
                    yard.knowledge().body, yard.knowledge().schools);
    EXPECT_DOUBLE_EQ(lanes[0].points[1].value.value, *core::find(judged, "heel_offset")->measured.value);
    trash_clip(yard, second.id);
    lanes = lanes_of(yard.records(), yard.knowledge(), rider, yard.today_iso());
    EXPECT_EQ(lanes[0].points.size(), 1U) << "a deleted clip takes its point along";
    EXPECT_EQ(lanes[0].stage, core::Stage::in_work);
}

TEST_F(YardTest, WithoutUndoLeavesThePersonsStepsAlone) {
    const store::Clip clip = add_clip("aa", "2026-09-01");
    const int before = yard.steps().stack().count();
    yard.quietly([&] { add_leg(clip, 3, 1); });
    EXPECT_EQ(yard.steps().stack().count(), before);
    EXPECT_EQ(yard.records().reviews.moments(clip.id).size(), 1U);
    EXPECT_THROW(yard.quietly([&] {
        add_leg(clip, 4, 1);
        throw core::Refused("stop");
    }),
                 core::Refused);
    EXPECT_EQ(yard.records().reviews.moments(clip.id).size(), 1U) << "all or nothing";
    add_leg(clip, 5, 1);
    EXPECT_EQ(yard.steps().stack().count(), before + 1) << "and steps count again";
}

TEST_F(YardTest, AFolderThatCannotBeMadeIsRefused) {
    QFile blocker(QString::fromStdString((folder / "file").string()));
    ASSERT_TRUE(blocker.open(QIODevice::WriteOnly));
    EXPECT_THROW(Yard(blocker.fileName() + "/yard", shipped_knowledge()), core::Refused);
}

class ImporterTest : public YardTest {
  protected:
    ImporterTest() : importer(yard) {
        QObject::connect(&importer, &Importer::imported,
                         [this](store::ClipId id, bool known) { came.emplace_back(id, known); });
        QObject::connect(&importer, &Importer::failed, [this](const QString& line) { lines << line; });
        auto plan = test::faulty_plan();
        plan.duration_s = 0.5;
        source = test::simulated_clip(plan, "import");
    }
    Importer importer;
    std::vector<std::pair<store::ClipId, bool>> came;
    QStringList lines;
    std::filesystem::path source;
};

TEST_F(ImporterTest, OfAClipThatComesInNothingIsAssumed) {
    importer.bring_in({QString::fromStdString(source.string())});
    ASSERT_TRUE(wait_for([&] { return came.size() == 1; }));
    const auto clip = yard.records().rides.clip(came[0].first);
    EXPECT_EQ(clip->hash.size(), 64U);
    EXPECT_GT(clip->bytes, 1000);
    const auto ride = yard.records().rides.ride(test::ride_of(yard, clip->id));
    EXPECT_EQ(ride->state, store::RideState::fresh);
    EXPECT_EQ(ride->missing().size(), 3U);
    EXPECT_EQ(yard.records().rides.stretches(clip->id).at(0).missing().size(), 3U);
    EXPECT_EQ(clip->told_by, store::ToldBy::file);
    EXPECT_EQ(clip->recorded_at.size(), 19U) << "an instant, not only a day";
}

TEST_F(ImporterTest, AClipComesInOnceAndIsKnownAgain) {
    for (const std::size_t n : {1, 2}) {
        importer.bring_in({QString::fromStdString(source.string())});
        ASSERT_TRUE(wait_for([&] { return came.size() == n; }));
    }
    EXPECT_FALSE(came[0].second);
    EXPECT_TRUE(came[1].second);
    EXPECT_EQ(came[1].first, came[0].first);
    EXPECT_EQ(yard.records().rides.clips().size(), 1U);
}

TEST_F(ImporterTest, BadOnesAreNamedAndTheGoodOnesStillCome) {
    QFile text(QString::fromStdString((folder / "letter.mp4").string()));
    ASSERT_TRUE(text.open(QIODevice::WriteOnly));
    text.write("Dear coach");
    text.close();
    importer.bring_in({text.fileName(), QString::fromStdString(source.string()), "/nowhere.mp4"});
    ASSERT_TRUE(wait_for([&] { return came.size() == 1 && lines.size() == 2; }));
    EXPECT_TRUE(lines[0].contains("letter.mp4: not a video"));
    EXPECT_TRUE(lines[1].contains("no such file"));
}

TEST_F(ImporterTest, ACopyInTheYardIsReferredToFromThenOn) {
    importer.bring_in({QString::fromStdString(source.string())});
    ASSERT_TRUE(wait_for([&] { return came.size() == 1; }));
    importer.keep_copy(came[0].first);
    ASSERT_TRUE(wait_for([&] {
        return !QDir::isAbsolutePath(QString::fromStdString(yard.records().rides.clip(came[0].first)->path));
    }));
    EXPECT_TRUE(QFile::exists(yard.file_of(*yard.records().rides.clip(came[0].first))));
}

TEST_F(ImporterTest, WhatIsInTheTrashStaysThereThoughItsCopyEndsLater) {
    importer.bring_in({QString::fromStdString(source.string())});
    ASSERT_TRUE(wait_for([&] { return came.size() == 1; }));
    importer.keep_copy(came[0].first);
    trash_clip(yard, came[0].first);
    ASSERT_TRUE(wait_for([&] {
        return !QDir::isAbsolutePath(QString::fromStdString(yard.records().rides.clip(came[0].first)->path));
    }));
    EXPECT_TRUE(yard.records().rides.clip(came[0].first)->trashed);
}

TEST_F(ImporterTest, ACopyOfWhatWasDeletedMeanwhileIsNotKept) {
    importer.bring_in({QString::fromStdString(source.string())});
    ASSERT_TRUE(wait_for([&] { return came.size() == 1; }));
    importer.keep_copy(came[0].first);
    delete_for_good(yard, came[0].first);
    ASSERT_TRUE(wait_for([&] { return yard.jobs().all_running() == 0; }));
    EXPECT_TRUE(QDir(yard.folder().filePath("clips")).entryList(QDir::Files).isEmpty());
}

TEST_F(ImporterTest, AMovedClipIsFoundByItsContent) {
    const QString deep = QString::fromStdString((folder / "a").string());
    QDir().mkpath(deep + "/b/c");
    QFile::copy(QString::fromStdString(source.string()), deep + "/b/c/other-name.mp4");
    const IncomingClip known = look_at(QString::fromStdString(source.string()));
    EXPECT_EQ(find_moved(known.hash, known.bytes, {deep}), deep + "/b/c/other-name.mp4");
    EXPECT_TRUE(find_moved(known.hash, known.bytes + 1, {deep}).isEmpty());
    // Dropped again from its new place, the record goes on and the path follows.
    QFile::copy(QString::fromStdString(source.string()), deep + "/here.mp4");
    importer.bring_in({deep + "/here.mp4"});
    ASSERT_TRUE(wait_for([&] { return came.size() == 1; }));
    QFile::remove(deep + "/here.mp4");
    importer.bring_in({deep + "/b/c/other-name.mp4"});
    ASSERT_TRUE(wait_for([&] { return came.size() == 2; }));
    EXPECT_EQ(came[0].first, came[1].first);
    EXPECT_TRUE(yard.file_of(*yard.records().rides.clip(came[0].first)).endsWith("other-name.mp4"));
}

TEST_F(ImporterTest, AMovedFolderIsFoundAgainAsAWhole) {
    const QString was = QString::fromStdString((folder / "summer").string()),
                  is = QString::fromStdString((folder / "attic").string());
    QDir().mkpath(was + "/day two");
    QStringList files;
    for (const char* name : {"/a.mp4", "/b.mp4", "/day two/c.mp4"}) {
        ASSERT_TRUE(QFile::copy(QString::fromStdString(source.string()), was + name));
        QFile more(was + name);
        ASSERT_TRUE(more.open(QIODevice::Append));
        more.write(name);
        files << was + name;
    }
    importer.bring_in(files);
    ASSERT_TRUE(wait_for([&] { return came.size() == 3; }));
    ASSERT_TRUE(QDir().rename(was, is));
    int again = 0;
    QObject::connect(&importer, &Importer::found_again, [&](int clips) { again = clips; });
    importer.bring_in({is + "/a.mp4"});
    ASSERT_TRUE(wait_for([&] { return again > 0; }));
    EXPECT_EQ(again, 2) << "the others, too, also those deeper in it";
    for (const store::Clip& c : yard.records().rides.clips())
        EXPECT_TRUE(QFile::exists(yard.file_of(c))) << c.path;
}

TEST_F(ImporterTest, AFolderComesInWhole) {
    const QString place = QString::fromStdString((folder / "sunday").string());
    QDir().mkpath(place);
    ASSERT_TRUE(QFile::copy(QString::fromStdString(source.string()), place + "/a.mp4"));
    QFile notes(place + "/notes.txt");
    ASSERT_TRUE(notes.open(QIODevice::WriteOnly));
    importer.bring_in({place});
    EXPECT_EQ(importer.waiting(), 1) << "what is no film stays out";
    ASSERT_TRUE(wait_for([&] { return came.size() == 1; }));
    EXPECT_GT(yard.records().rides.clip(came[0].first)->batch, 0);
}

TEST_F(ImporterTest, ThumbsAreMadeOnceAndKept) {
    importer.bring_in({QString::fromStdString(source.string())});
    ASSERT_TRUE(wait_for([&] { return came.size() == 1; }));
    const auto clip = *yard.records().rides.clip(came[0].first);
    {
        Thumbs thumbs(yard);
        EXPECT_TRUE(thumbs.of(clip, 3).isNull());
        ASSERT_TRUE(wait_for([&] { return !thumbs.of(clip, 3).isNull(); }));
        EXPECT_EQ(thumbs.of(clip, 3).width(), 320);
    }
    EXPECT_EQ(QDir(yard.folder().filePath("cache")).entryList({"*.jpg"}).size(), 1);
}

}  // namespace
}  // namespace aspen::app
