#include <SQLiteCpp/SQLiteCpp.h>
#include <gmock/gmock.h>
#include <signal.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <sstream>

#include "core/reading/refused.hpp"
#include "store/yard_store.hpp"
#include "support/dump.hpp"

namespace aspen::store {
namespace {

namespace fs = std::filesystem;
using testing::HasSubstr;

class Store : public testing::Test {
  protected:
    Store() {
        std::string pattern = (fs::temp_directory_path() / "aspen-store-XXXXXX").string();
        folder_ = mkdtemp(pattern.data());
    }
    ~Store() override { fs::remove_all(folder_); }
    fs::path file() const { return folder_ / "yard.db"; }
    std::string refusal() const {
        try {
            YardStore yard(file());
        } catch (const core::Refused& e) {
            return e.what();
        }
        return "opened";
    }
    void run_sql(const std::string& sql) const {
        SQLite::Database db(file().string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
        db.exec(sql);
    }
    fs::path folder_;
};

/// A clip with its ride.
struct Some {
    Ride ride;
    Clip clip;
    core::Stretches stretches = core::whole_clip();
};

Some some_clip(YardStore& yard) {
    Some s;
    Rider joss;
    joss.name = "Joss Penhallow";
    joss.birth_year = 2012;
    joss.consent_until = "2026-12-31";
    s.ride.rider = yard.add(joss);
    s.ride.horse = yard.add(Horse{{}, "Fig", 157, "stiff to the left", "green", "left", true, true});
    s.ride.day = "2026-11-20";
    s.ride.school = "hunter";
    s.ride.place = Place::show;
    s.ride.own = {"steady leg", "is it back?", "left knee"};
    s.ride.promised = "2026-11-22";
    s.ride.id = yard.add(s.ride);
    s.clip.path = "clips/a.mp4";
    s.clip.hash = "0123";
    s.clip.bytes = 77;
    s.clip.recorded_at = "2026-11-20T17:05:12";
    s.clip.told_by = ToldBy::container;
    s.clip.id = yard.add(s.clip);
    yard.put(Slot{s.clip.id, 0, s.ride.id});
    core::Stretch& all = s.stretches.front();
    all.gait = core::Gait::trot;
    all.seat = core::Seat::rising;
    all.travel = core::Travel::left;
    all.camera = {1.5, 0.25, -4, 3, true, true};
    all.stirrups = core::Stirrups::off;
    all.hands = core::Hands::strap;
    yard.put_stretches(s.clip.id, s.stretches);
    return s;
}

Moment moment_of(ClipId clip, int frame, int slot = 0) {
    Moment m;
    m.clip = clip;
    m.frame = frame;
    m.time_s = 0.1;
    m.slot = slot;
    return m;
}

Finding finding_of(RideId ride, const char* fault, Decision decision, const char* day = "2026-11-21") {
    Finding f;
    f.ride = ride;
    f.fault = fault;
    f.seen = {core::Gait::trot, core::Seat::rising, "left"};
    f.measured_verdict = "outside";
    f.measured_severity = 0.8;
    f.decision = decision;
    f.decided_on = day;
    return f;
}

Correction correction_of(const Ride& ride, const char* fault) {
    Correction c;
    c.rider = ride.rider;
    c.horse = ride.horse;
    c.fault = fault;
    c.seen = {core::Gait::trot, core::Seat::rising, "left"};
    c.noticed_on = ride.day;
    return c;
}

TEST_F(Store, EverythingComesBackAfterClosing) {
    Some s;
    {
        YardStore yard(file());
        s = some_clip(yard);
        Moment m = moment_of(s.clip.id, 37);
        m.phase = "rise_top";
        m.head_top = core::Point{601, 90};
        m.figure[core::Landmark::ear] = {
            {600.125, 130.75}, core::Visibility::seen, 1.3, core::Origin::clicked, true};
        m.figure[core::Landmark::hip] = {{595, 292}, core::Visibility::hidden, 2, core::Origin::laid, false};
        yard.add(m);
        Finding f = finding_of(s.ride.id, "lower_leg_back", Decision::changed);
        f.changed_to = "heel_up";
        yard.put(f);
        Correction c = correction_of(s.ride, "lower_leg_back");
        c.focus = true;
        c.focus_since = s.ride.id;
        const auto id = yard.add(c);
        Prescription p;
        p.correction = id;
        p.exercise = "two_point_walk_trot";
        p.step = 1;
        p.ride = s.ride.id;
        yard.add(p);
        Event e;
        e.ride = s.ride.id;
        e.clip = s.clip.id;
        e.time_s = 3.25;
        e.event = "aid";
        e.detail = "side=left with=calf";
        yard.add(e);
        yard.put_limitations(s.ride.rider, {{{}, {}, "left hip", "left", "2026-01-01", ""}});
        yard.set_setting("coach", "Tamsin Quillfeather");
    }
    YardStore yard(file());
    EXPECT_EQ(yard.ride(s.ride.id), s.ride);
    EXPECT_EQ(yard.stretches(s.clip.id), s.stretches);
    EXPECT_EQ(yard.clip(s.clip.id)->told_by, ToldBy::container);
    EXPECT_EQ(yard.rider(s.ride.rider)->consent_until, "2026-12-31");
    const auto horse = yard.horse(s.ride.horse);
    EXPECT_EQ(horse->stage, "green");
    EXPECT_TRUE(horse->half_seat_better && horse->cold_backed);
    const auto moments = yard.moments(s.clip.id);
    ASSERT_EQ(moments.size(), 1U);
    EXPECT_EQ(moments[0].phase, "rise_top");
    EXPECT_EQ(moments[0].head_top, (core::Point{601, 90}));
    EXPECT_EQ(moments[0].figure[core::Landmark::ear].at, (core::Point{600.125, 130.75}));
    EXPECT_EQ(moments[0].figure[core::Landmark::hip].origin, core::Origin::laid);
    EXPECT_FALSE(moments[0].figure[core::Landmark::hip].confirmed);
    EXPECT_EQ(moments[0].figure.travel, core::Travel::left) << "the stretch's";
    EXPECT_EQ(moments[0].figure.camera, s.stretches[0].camera);
    EXPECT_EQ(yard.moment(moments[0].id)->figure, moments[0].figure);
    ASSERT_EQ(yard.findings(s.ride.id).size(), 1U);
    EXPECT_EQ(yard.findings(s.ride.id)[0].changed_to, "heel_up");
    EXPECT_EQ(yard.findings(s.ride.id)[0].seen.side, "left");
    const auto corrections = yard.corrections(s.ride.rider);
    ASSERT_EQ(corrections.size(), 1U);
    EXPECT_EQ(corrections[0].focus_since, s.ride.id);
    EXPECT_EQ(yard.prescriptions(corrections[0].id)[0].step, 1);
    ASSERT_EQ(yard.events(s.ride.id).size(), 1U);
    EXPECT_EQ(yard.events(s.ride.id)[0].detail, "side=left with=calf");
    EXPECT_EQ(yard.limitations(s.ride.rider).at(0).side, "left");
    EXPECT_EQ(yard.setting("coach"), "Tamsin Quillfeather");
    EXPECT_EQ(yard.setting("none", "otherwise"), "otherwise");
}

TEST_F(Store, WhatIsNotSaidStaysUnsaid) {
    YardStore yard(file());
    Clip c;
    c.path = "a";
    c.hash = "b";
    c.added_on = "2026-11-26";
    c.id = yard.add(c);
    const auto seen = yard.stretches(c.id);
    ASSERT_EQ(seen.size(), 1U) << "every frame lies in exactly one stretch";
    EXPECT_FALSE(seen[0].gait);
    EXPECT_EQ(seen[0].travel, core::Travel::unknown);
    EXPECT_EQ(seen[0].missing().size(), 3U);
    EXPECT_EQ(Ride{}.missing().size(), 3U);
    Ride mechanical;
    mechanical.mount = core::Mount::mechanical;
    EXPECT_EQ(mechanical.missing().size(), 2U) << "the mechanical horse has no name";
    EXPECT_EQ(c.day(), "2026-11-26");
}

TEST_F(Store, TheRecordersClockMovesTheDay) {
    Clip c;
    c.recorded_at = "2026-11-20T23:50:00";
    EXPECT_EQ(c.day(), "2026-11-20");
    c.clock_off_s = 900;
    EXPECT_EQ(c.day(), "2026-11-21");
    c.recorded_at = "2026-11-20";
    EXPECT_EQ(c.day(), "2026-11-20") << "a day alone is not moved";
}

TEST_F(Store, AnAbsentMarkIsTakenAway) {
    YardStore yard(file());
    const Clip c = some_clip(yard).clip;
    const auto id = yard.add(moment_of(c.id, 3));
    yard.put(id, core::Landmark::knee, {{1, 2}, core::Visibility::seen, 1});
    yard.put(id, core::Landmark::knee, {{3, 4}, core::Visibility::seen, 1});
    EXPECT_EQ(yard.moments(c.id)[0].figure[core::Landmark::knee].at, (core::Point{3, 4}));
    yard.put(id, core::Landmark::knee, {});
    EXPECT_EQ(yard.moments(c.id)[0].figure.marked(), 0);
}

TEST_F(Store, TrashedClipsAreLeftOutButNotLost) {
    YardStore yard(file());
    const Some s = some_clip(yard);
    Clip c = s.clip;
    c.trashed = true;
    yard.update(c);
    EXPECT_TRUE(yard.clips().empty());
    EXPECT_TRUE(yard.ridden_by(s.ride.rider).empty());
    EXPECT_TRUE(yard.waiting().empty());
    EXPECT_TRUE(yard.clip_with_hash("0123"));
}

TEST_F(Store, BrokenRowsAreRefusedAndChangeNothing) {
    YardStore yard(file());
    const Clip c = some_clip(yard).clip;
    EXPECT_THROW(yard.add(Rider{}), core::Refused) << "a rider without a name";
    yard.add(moment_of(c.id, 3));
    EXPECT_THROW(yard.add(moment_of(c.id, 3)), core::Refused) << "two moments on one frame";
    EXPECT_THROW(yard.add(moment_of(ClipId{999}, 4)), core::Refused) << "a moment of no clip";
    EXPECT_EQ(yard.moments(c.id).size(), 1U);
    EXPECT_EQ(yard.riders().size(), 1U);
}

TEST_F(Store, AGroupIsAllOrNothing) {
    YardStore yard(file());
    EXPECT_THROW(yard.within([&] {
        yard.add(Horse{{}, "Cobalt", {}, ""});
        yard.within([&] { yard.add(Horse{{}, "Saffron", {}, ""}); });
        throw core::Refused("stop");
    }),
                 core::Refused);
    EXPECT_TRUE(yard.horses().empty());
    yard.within([&] { yard.add(Horse{{}, "Cobalt", {}, ""}); });
    EXPECT_EQ(yard.horses().size(), 1U) << "and the next group works";
}

TEST_F(Store, WritesAheadWithForeignKeysAndFullSync) {
    YardStore yard(file());
    auto& db = yard.database().raw();
    EXPECT_EQ(db.execAndGet("PRAGMA journal_mode").getString(), "wal");
    EXPECT_EQ(db.execAndGet("PRAGMA foreign_keys").getInt(), 1);
    EXPECT_EQ(db.execAndGet("PRAGMA synchronous").getInt(), 2);
    EXPECT_EQ(yard.database().version(), static_cast<int>(migrations().size()));
}

TEST_F(Store, MigrationsAreNumberedWithoutAGap) {
    int next = 1;
    for (const Migration& m : migrations()) {
        EXPECT_EQ(m.number, next++);
        EXPECT_STRNE(m.description, "");
    }
}

TEST_F(Store, AKeptFileOfVersionOneComesUpWholeAfterABackup) {
    std::stringstream sql;
    sql << std::ifstream(ASPEN_SOURCE_DIR "/tests/data/yard-version-1.sql").rdbuf();
    run_sql(sql.str());
    {
        YardStore yard(file());
        EXPECT_EQ(yard.database().version(), static_cast<int>(migrations().size()));
        const auto clips = yard.clips();
        ASSERT_EQ(clips.size(), 1U);
        EXPECT_EQ(yard.moments(clips[0].id)[0].figure[core::Landmark::ear].at, (core::Point{600.5, 130.25}));
        const auto ride = yard.ride(yard.places(clips[0].id).at(0).ride);
        const auto corrections = yard.corrections(ride->rider);
        ASSERT_EQ(corrections.size(), 1U);
        EXPECT_EQ(yard.prescriptions(corrections[0].id).size(), 1U);
    }
    const fs::path backup = file().string() + ".before-" + std::to_string(migrations().size());
    ASSERT_TRUE(fs::exists(backup));
    SQLite::Database before(backup.string(), SQLite::OPEN_READONLY);
    EXPECT_EQ(before.execAndGet("PRAGMA user_version").getInt(), 1) << "the backup is from before";
    EXPECT_EQ(before.execAndGet("SELECT count(*) FROM mark").getInt(), 1);
}

TEST_F(Store, EachStepAloneGivesTheNextVersion) {
    for (const Migration& m : migrations()) {
        Database step(file(), m.number);
        EXPECT_EQ(step.version(), m.number);
    }
}

TEST_F(Store, NewerYardsAreRefusedUntouched) {
    { YardStore yard(file()); }
    run_sql("PRAGMA user_version = 99");
    EXPECT_THAT(refusal(), HasSubstr("newer version (99"));
    SQLite::Database db(file().string());
    EXPECT_EQ(db.execAndGet("PRAGMA user_version").getInt(), 99);
}

TEST_F(Store, ForeignAndDamagedFilesAreRefused) {
    run_sql("CREATE TABLE other(a)");
    EXPECT_THAT(refusal(), HasSubstr("database of another program"));
    std::ofstream(file(), std::ios::trunc)
        << "This is no database at all, but it is long enough to look at, line after line after line.";
    EXPECT_THAT(refusal(), HasSubstr("is damaged or no yard"));
}

TEST_F(Store, AFolderThatIsNotThereOrNotWritableIsRefused) {
    const auto nowhere = folder_ / "nowhere" / "yard.db";
    try {
        YardStore yard(nowhere);
        FAIL() << "opened";
    } catch (const core::Refused& e) {
        EXPECT_THAT(e.what(), HasSubstr("cannot be written"));
    }
    if (geteuid() == 0) return;  // root may write everywhere: nothing more to see
    chmod(folder_.c_str(), 0500);
    EXPECT_THAT(refusal(), HasSubstr("cannot be written"));
    chmod(folder_.c_str(), 0700);
}

TEST_F(Store, BackupIsWhole) {
    YardStore yard(file());
    const Clip c = some_clip(yard).clip;
    yard.database().back_up(folder_ / "copy.db");
    YardStore copy(folder_ / "copy.db");
    EXPECT_TRUE(copy.clip(c.id));
    EXPECT_THROW(yard.database().back_up(folder_ / "nowhere" / "copy.db"), core::Refused);
}

TEST_F(Store, KilledInTheMiddleOfWritingNothingCommittedIsLost) {
    for (int round = 0; round < 3; ++round) {
        fs::remove_all(folder_);
        fs::create_directories(folder_);
        int ends[2];
        ASSERT_EQ(pipe(ends), 0);
        const pid_t child = fork();
        ASSERT_GE(child, 0);
        if (child == 0) {
            dup2(ends[1], 1);
            close(ends[0]);
            execl(STORE_WRITER, STORE_WRITER, file().c_str(), nullptr);
            _exit(127);
        }
        close(ends[1]);
        FILE* told = fdopen(ends[0], "r");
        int last = -1, n = 0;
        while (last < 25 + 17 * round && fscanf(told, "%d", &n) == 1) last = n;
        kill(child, SIGKILL);
        while (fscanf(told, "%d", &n) == 1) last = n;  // what it still said before it died
        fclose(told);
        waitpid(child, nullptr, 0);
        ASSERT_GT(last, 10);
        YardStore yard(file());
        const auto clips = yard.clips();
        ASSERT_EQ(clips.size(), 1U);
        const auto moments = yard.moments(clips[0].id);
        ASSERT_GE(static_cast<int>(moments.size()), last + 1) << "committed and told, but gone";
        for (const Moment& m : moments)
            EXPECT_EQ(m.figure.marked(), 20) << "a moment is written whole or not at all";
        EXPECT_EQ(yard.database().raw().execAndGet("PRAGMA integrity_check").getString(), "ok");
    }
}

/// Files written by the program of that time (its own store, at the commits that first had these versions).
class KeptFile : public Store, public testing::WithParamInterface<int> {};
INSTANTIATE_TEST_SUITE_P(Versions, KeptFile, testing::Values(2, 3, 4));

TEST_P(KeptFile, ComesUpWithAllItsRecords) {
    const int version = GetParam();
    fs::copy_file(ASPEN_SOURCE_DIR "/tests/data/yard-version-" + std::to_string(version) + ".db", file());
    YardStore yard(file());
    const auto find = [&](const char* name) {
        for (const Rider& r : yard.riders()) {
            if (r.name == name) return r;
        }
        return Rider{};
    };
    const Rider joss = find("Joss Penhallow"), ines = find("Ines Varga-Holt");
    EXPECT_EQ(joss.consent_by, "Guardian of Joss Penhallow");
    ASSERT_EQ(yard.limitations(ines.id).size(), 2U);
    EXPECT_EQ(yard.limitations(ines.id)[0].words, "left hip");
    EXPECT_EQ(yard.limitations(ines.id)[0].side, "left");
    EXPECT_EQ(yard.limitations(ines.id)[1].words, "wrist");
    EXPECT_EQ(yard.clips().size(), 4U);
    EXPECT_EQ(yard.trashed_clips().size(), 1U);
    const auto one = yard.clip_with_hash("aaaa").value();
    EXPECT_EQ(one.last_frame, 17);
    const auto ride = yard.ride(yard.places(one.id).at(0).ride).value();
    EXPECT_EQ(ride.rider, joss.id);
    EXPECT_EQ(yard.horse(ride.horse)->words, "stiff to the left");
    EXPECT_EQ(ride.day, "2026-10-24");
    EXPECT_EQ(ride.state, RideState::done);
    const auto seen = yard.stretches(one.id);
    EXPECT_EQ(seen[0].gait, core::Gait::trot);
    EXPECT_EQ(seen[0].seat, core::Seat::rising);
    EXPECT_EQ(seen[0].travel, core::Travel::left);
    EXPECT_TRUE(seen[0].camera.roll_marked);
    const auto moments = yard.moments(one.id);
    ASSERT_EQ(moments.size(), 2U);
    EXPECT_EQ(moments[0].figure[core::Landmark::ear].at, (core::Point{600.5, 130.25}));
    EXPECT_EQ(moments[0].figure.marked(), 9);
    ASSERT_EQ(yard.findings(ride.id).size(), 2U);
    EXPECT_EQ(yard.findings(ride.id)[1].decision, Decision::accepted);
    EXPECT_EQ(yard.findings(ride.id)[1].seen, (SeenIn{core::Gait::trot, core::Seat::rising, "left"}));
    const auto corrections = yard.corrections(joss.id);
    ASSERT_EQ(corrections.size(), 1U);
    EXPECT_TRUE(corrections[0].focus);
    EXPECT_EQ(corrections[0].seen, yard.findings(ride.id)[1].seen) << "the lane goes on from the decision";
    EXPECT_EQ(yard.prescriptions(corrections[0].id).at(0).step, 1);
    EXPECT_EQ(yard.setting("coach"), "Tamsin Quillfeather");
    if (version >= 3) {
        EXPECT_EQ(one.capture.filmed_fps, 120);
        EXPECT_EQ(one.capture.to_s, 2.5);
    }
    if (version < 4) return;
    EXPECT_EQ(ride.own.question, "is my leg back?");
    EXPECT_EQ(one.px_per_m, 210);
    EXPECT_EQ(yard.trashed_moments().size(), 1U);
    EXPECT_EQ(yard.trashed_riders().at(0).name, "Bram Oddleif");
    EXPECT_EQ(moments[0].head_top, (core::Point{601, 90}));
    ASSERT_EQ(seen.size(), 2U);
    EXPECT_EQ(seen[1].gait, core::Gait::canter);
    EXPECT_FALSE(seen[1].judged);
    EXPECT_EQ(seen[1].asked, "straight");
    EXPECT_EQ(seen[1].travel, core::Travel::left) << "what was the clip's is every stretch's";
    const auto places = yard.places(one.id);
    ASSERT_EQ(places.size(), 3U);
    EXPECT_EQ(places[2].slot, 3);
    EXPECT_EQ(yard.ride(places[1].ride)->rider, ines.id);
    ASSERT_EQ(yard.findings(places[1].ride).size(), 1U);
    EXPECT_EQ(yard.findings(places[1].ride)[0].frame, 10);
    EXPECT_EQ(yard.notes(one.id).size(), 2U);
    EXPECT_EQ(yard.remarks(ride.id).at(0).words, "soft back");
    EXPECT_EQ(yard.phrases().at(0), "leg slid back again");
    EXPECT_FALSE(yard.search("soft back joss").empty()) << "old words are found too";
}

TEST_F(Store, MomentsInTheTrashLeaveTheirFrameFree) {
    YardStore yard(file());
    const Clip c = some_clip(yard).clip;
    const auto a = yard.add(moment_of(c.id, 3));
    yard.trash(a, true);
    const auto b = yard.add(moment_of(c.id, 3));
    EXPECT_THROW(yard.trash(a, false), core::Refused) << "its frame has another one";
    yard.add(moment_of(c.id, 3, 1));
    EXPECT_EQ(yard.moments(c.id).size(), 2U) << "another rider's is apart";
    yard.remove(b);
    yard.trash(a, false);
    EXPECT_EQ(yard.moments(c.id).size(), 2U);
}

TEST_F(Store, AFigureIsSeenAsItsOwnStretchIs) {
    YardStore yard(file());
    const Some s = some_clip(yard);
    core::Stretches two = core::split_at(s.stretches, 50);
    two[1].travel = core::Travel::right;
    two[1].camera.roll_deg = 9;
    yard.put_stretches(s.clip.id, two);
    for (const int frame : {49, 50}) {
        Moment m = moment_of(s.clip.id, frame);
        m.figure[core::Landmark::ear] = {{1, 2}, core::Visibility::seen, 1, core::Origin::laid,
                                         false,  core::Point{1, 2}};
        yard.add(m);
    }
    EXPECT_EQ(yard.moments(s.clip.id)[0].figure.travel, core::Travel::left);
    EXPECT_EQ(yard.moments(s.clip.id)[1].figure.travel, core::Travel::right);
    const auto figures = yard.figures_of(s.ride.rider);
    ASSERT_EQ(figures.size(), 2U);
    EXPECT_EQ(figures[0].camera.roll_deg, 9) << "the newest first";
    EXPECT_EQ(figures[1].travel, core::Travel::left);
    EXPECT_EQ(yard.placed_figures(1).size(), 1U);
}

TEST_F(Store, ChangesGoBackAndForthToTheByte) {
    YardStore yard(file());
    const Some s = some_clip(yard);
    const auto dump = [&] { return test::dump_of(yard); };
    const std::string before = dump();
    const ChangeSet change = yard.recorded([&] {
        Moment m = moment_of(s.clip.id, 5);
        m.figure[core::Landmark::ear] = {{1, 2}, core::Visibility::seen, 1};
        const auto id = yard.add(m);
        yard.put(id, core::Landmark::ear, {{3, 4}, core::Visibility::seen, 1});
        yard.put(finding_of(s.ride.id, "heel_up", Decision::accepted));
        yard.add(Horse{{}, "Cobalt", {}, ""});
    });
    const std::string after = dump();
    const Touched t = yard.touched_by(change);
    EXPECT_TRUE(t.horses);
    EXPECT_TRUE(t.marks.contains(s.clip.id));
    EXPECT_TRUE(t.findings.contains(s.ride.id));
    EXPECT_FALSE(t.riders);
    for (int i = 0; i < 3; ++i) {
        yard.apply(change.inverted());
        EXPECT_EQ(dump(), before);
        EXPECT_TRUE(yard.search("heel up").empty()) << "the search follows";
        yard.apply(change);
        EXPECT_EQ(dump(), after);
        EXPECT_EQ(yard.search("heel up").size(), 1U);
    }
    Horse cobalt = yard.horses()[0];
    cobalt.words = "cold this morning";
    yard.update(cobalt);
    const ChangeSet rename = yard.recorded([&] {
        cobalt.words = "fine";
        yard.update(cobalt);
    });
    cobalt.words = "changed behind its back";
    yard.update(cobalt);
    EXPECT_THROW(yard.apply(rename.inverted()), core::Refused) << "never written over what came after";
    EXPECT_EQ(yard.horses()[0].words, "changed behind its back");
}

TEST_F(Store, AChangeInsideALargerOneBelongsToThat) {
    YardStore yard(file());
    const ChangeSet all = yard.recorded([&] {
        EXPECT_TRUE(yard.recorded([&] { yard.add(Horse{{}, "Cobalt", {}, ""}); }).empty());
        yard.add(Horse{{}, "Saffron", {}, ""});
    });
    yard.apply(all.inverted());
    EXPECT_TRUE(yard.horses().empty());
    EXPECT_THROW(yard.recorded([&] {
        yard.add(Horse{{}, "Cobalt", {}, ""});
        throw core::Refused("stop");
    }),
                 core::Refused);
    EXPECT_TRUE(yard.horses().empty());
}

TEST_F(Store, TwoRidersBecomeOneWithAllTheirRecords) {
    YardStore yard(file());
    const Some s = some_clip(yard);
    Rider twin;
    twin.name = "Joss P.";
    twin.goal = "first class";
    const RiderId other = yard.add(twin);
    Ride second = s.ride;
    second.id = {};
    second.rider = other;
    second.id = yard.add(second);
    Correction mine = correction_of(s.ride, "heel_up"), theirs = correction_of(second, "heel_up");
    theirs.focus = true;
    theirs.noticed_on = "2026-10-01";
    mine.id = yard.add(mine);
    theirs.id = yard.add(theirs);
    yard.add(correction_of(second, "lower_leg_back"));
    Prescription p;
    p.correction = theirs.id;
    p.exercise = "x";
    yard.add(p);
    yard.put_limitations(other, {{{}, {}, "left hip", "left", "", ""}});
    const ChangeSet merged = yard.recorded([&] { yard.merge(other, s.ride.rider); });
    EXPECT_FALSE(yard.rider(other));
    EXPECT_EQ(yard.rider(s.ride.rider)->goal, "first class") << "what only the other card said is kept";
    EXPECT_EQ(yard.rides_of(s.ride.rider).size(), 2U);
    const auto corrections = yard.corrections(s.ride.rider);
    ASSERT_EQ(corrections.size(), 2U) << "the same thing once";
    EXPECT_EQ(corrections[0].id, mine.id);
    EXPECT_TRUE(corrections[0].focus);
    EXPECT_EQ(corrections[0].noticed_on, "2026-10-01");
    EXPECT_EQ(yard.prescriptions(mine.id).size(), 1U);
    EXPECT_EQ(yard.limitations(s.ride.rider).size(), 1U);
    yard.apply(merged.inverted());
    EXPECT_EQ(yard.corrections(other).size(), 2U) << "and taken back they are two again";
}

TEST_F(Store, OfTwoRidesTheLaterDecisionStays) {
    YardStore yard(file());
    const Some s = some_clip(yard);
    Ride second;
    second.day = s.ride.day;
    second.own.hurts = "back";
    second.id = yard.add(second);
    yard.put(finding_of(s.ride.id, "heel_up", Decision::accepted, "2026-11-21"));
    yard.put(finding_of(second.id, "heel_up", Decision::rejected, "2026-11-23"));
    yard.put(finding_of(second.id, "lower_leg_back", Decision::accepted));
    yard.merge(second.id, s.ride.id);
    const auto findings = yard.findings(s.ride.id);
    ASSERT_EQ(findings.size(), 2U);
    EXPECT_EQ(findings[0].decision, Decision::rejected);
    EXPECT_EQ(yard.ride(s.ride.id)->own.hurts, "left knee; back");
    EXPECT_THROW(yard.merge(s.ride.id, s.ride.id), core::Refused);
}

TEST_F(Store, ARiderGoesForGoodWithEverythingButOthersClips) {
    YardStore yard(file());
    const Some s = some_clip(yard);
    Rider maude;
    maude.name = "Maude Estrell";
    Ride hers;
    hers.rider = yard.add(maude);
    hers.id = yard.add(hers);
    Clip shared = s.clip;
    shared.id = {};
    shared.hash = "4567";
    shared.id = yard.add(shared);
    yard.put(Slot{shared.id, 0, s.ride.id});
    yard.put(Slot{shared.id, 1, hers.id});
    yard.add(moment_of(shared.id, 1, 0));
    yard.add(moment_of(shared.id, 1, 1));
    yard.put(finding_of(s.ride.id, "heel_up", Decision::accepted));
    yard.add(correction_of(s.ride, "heel_up"));
    const auto gone = yard.remove(s.ride.rider);
    ASSERT_EQ(gone.size(), 1U);
    EXPECT_EQ(gone[0].id, s.clip.id);
    EXPECT_TRUE(yard.clip(shared.id));
    EXPECT_EQ(yard.moments(shared.id).size(), 1U) << "the other rider's figure stays";
    EXPECT_FALSE(yard.rider(s.ride.rider));
    EXPECT_TRUE(yard.search("heel").empty());
    EXPECT_EQ(yard.database().raw().execAndGet("SELECT count(*) FROM correction").getInt(), 0);
}

TEST_F(Store, WordsAreFoundWhereverTheyStand) {
    YardStore yard(file());
    const Some s = some_clip(yard);
    Note n;
    n.clip = s.clip.id;
    n.frame = 3;
    n.kind = NoteKind::words;
    n.words = "leg slid back again";
    yard.add(n);
    yard.put(finding_of(s.ride.id, "lower_leg_back", Decision::accepted));
    const auto kinds = [&](const char* words) {
        std::vector<HitKind> out;
        for (const Hit& h : yard.search(words)) out.push_back(h.kind);
        std::sort(out.begin(), out.end());
        return out;
    };
    using testing::ElementsAre;
    EXPECT_THAT(kinds("slid joss"), ElementsAre(HitKind::note)) << "with the rider's name beside it";
    EXPECT_THAT(kinds("lower leg"), ElementsAre(HitKind::finding));
    EXPECT_THAT(kinds("penh"), testing::Contains(HitKind::rider)) << "a beginning is enough";
    EXPECT_THAT(kinds("fig"), testing::Contains(HitKind::horse));
    EXPECT_THAT(kinds("november hunter"), ElementsAre(HitKind::ride));
    EXPECT_THAT(kinds("2026-11-20 knee"), ElementsAre(HitKind::ride));
    EXPECT_TRUE(yard.search("\"; DROP TABLE rider; --").empty()) << "words are words";
    EXPECT_TRUE(yard.search("   ").empty());
    Rider joss = *yard.rider(s.ride.rider);
    joss.name = "Josephine Penhallow";
    yard.update(joss);
    EXPECT_TRUE(yard.search("slid joss").empty());
    EXPECT_EQ(yard.search("slid josephine").size(), 1U) << "a new name is known at once";
    EXPECT_EQ(yard.search("slid")[0].ride, s.ride.id);
    EXPECT_EQ(yard.search("slid")[0].day, "2026-11-20");
}

TEST_F(Store, NothingThatIsAskedOftenScansATable) {
    YardStore yard(file());
    const Some s = some_clip(yard);
    std::vector<std::string> asked;
    yard.database().listen([&](const std::string& sql) { asked.push_back(sql); });
    const auto id = yard.add(moment_of(s.clip.id, 3));
    yard.put(id, core::Landmark::ear, {{1, 2}, core::Visibility::seen, 1});
    yard.moments(s.clip.id);
    yard.moment(id);
    yard.stretches(s.clip.id);
    yard.notes(s.clip.id);
    yard.places(s.clip.id);
    yard.clips_of(s.ride.id);
    yard.ridden_by(s.ride.rider);
    yard.rides_of(s.ride.rider);
    yard.findings(s.ride.id);
    yard.remarks(s.ride.id);
    yard.events(s.ride.id);
    yard.corrections(s.ride.rider);
    yard.prescriptions(CorrectionId{1});
    yard.correction_like(correction_of(s.ride, "heel_up"));
    yard.figures_of(s.ride.rider);
    yard.placed_figures();
    yard.clip_with_hash("0123");
    yard.trashed_clips();
    yard.trashed_moments();
    yard.waiting();
    yard.done(0, 40);
    yard.limitations(s.ride.rider);
    yard.phrases();
    yard.put(finding_of(s.ride.id, "heel_up", Decision::accepted));
    yard.search("heel");
    yard.remove(s.clip.id);
    yard.database().listen({});
    ASSERT_GT(asked.size(), 30U);
    for (const std::string& sql : asked) {
        SQLite::Statement plan(yard.database().raw(), "EXPLAIN QUERY PLAN " + sql);
        while (plan.executeStep()) {
            const std::string step = plan.getColumn(3).getString();
            const bool whole = step.find("SCAN") != std::string::npos &&
                               step.find("USING INDEX") == std::string::npos &&
                               step.find("USING COVERING INDEX") == std::string::npos &&
                               step.find("chosen") == std::string::npos &&
                               step.find("search VIRTUAL TABLE") == std::string::npos &&
                               step.find("CONSTANT ROW") == std::string::npos;
            EXPECT_FALSE(whole) << step << " in " << sql;
        }
    }
}

TEST_F(Store, TheYardIsTheCoachsAlone) {
    { YardStore yard(file()); }
    struct stat info {};
    ASSERT_EQ(::stat(file().c_str(), &info), 0);
    EXPECT_EQ(info.st_mode & 0777U, 0600U);
}

TEST_F(Store, AFileWithInstructionsOfItsOwnIsRefused) {
    { YardStore yard(file()); }
    EXPECT_NO_THROW(check_is_yard(file()));
    run_sql("CREATE TRIGGER sneaky AFTER INSERT ON rider BEGIN DELETE FROM rider; END");
    EXPECT_THAT(refusal(), HasSubstr("instructions that are not this program's"));
    EXPECT_THROW(check_is_yard(file()), core::Refused);
}

TEST_F(Store, ADamagedFileIsNoBackup) {
    {
        YardStore yard(file());
        for (int i = 0; i < 200; ++i)
            yard.add(Horse{{}, "Cobalt " + std::to_string(i), {}, std::string(300, 'x')});
    }
    std::fstream damage(file(), std::ios::in | std::ios::out | std::ios::binary);
    damage.seekp(static_cast<std::streamoff>(fs::file_size(file()) / 2));
    damage << std::string(9000, '\xff');
    damage.close();
    try {
        check_is_yard(file());
        FAIL() << "taken for whole";
    } catch (const core::Refused& e) {
        EXPECT_THAT(e.what(), HasSubstr("damaged"));
    }
}

}  // namespace
}  // namespace aspen::store
