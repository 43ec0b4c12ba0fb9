#include <SQLiteCpp/SQLiteCpp.h>
#include <gmock/gmock.h>
#include <signal.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cstdio>
#include <filesystem>
#include <fstream>
#include <sstream>

#include "core/refused.hpp"
#include "store/yard_store.hpp"

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

Clip some_clip(YardStore& yard) {
    Clip c;
    c.path = "clips/a.mp4";
    c.hash = "0123";
    c.bytes = 77;
    c.filmed_on = "2026-11-20";
    c.context.rider = yard.add(Rider{
        {}, "Joss Penhallow", 2012, "hunter", "novice", "", "", "Guardian", "2026-01-01", "2026-12-31"});
    c.context.horse = yard.add(Horse{{}, "Fig", 157, "green"});
    c.context.school = "hunter";
    c.context.gait = core::Gait::trot;
    c.context.seat = core::Seat::rising;
    c.context.travel = core::Travel::left;
    c.context.camera = {1.5, 0.25, -4, 3, true, true};
    c.id = yard.add(c);
    return c;
}

TEST_F(Store, EverythingComesBackAfterClosing) {
    Clip c;
    {
        YardStore yard(file());
        c = some_clip(yard);
        Moment m{{}, c.id, 37, 1.2333, "rise_top", {}};
        m.figure[core::Landmark::ear] = {
            {600.125, 130.75}, core::Visibility::seen, 1.3, core::Origin::clicked, true};
        m.figure[core::Landmark::hip] = {{595, 292}, core::Visibility::hidden, 2, core::Origin::laid, false};
        yard.add(m);
        yard.put(Finding{c.id, "lower_leg_back", "outside", 0.8, Decision::changed, "heel_up", "2026-11-21"});
        const auto id = yard.add(Correction{{},
                                            c.context.rider,
                                            c.context.horse,
                                            "lower_leg_back",
                                            core::Travel::left,
                                            core::Gait::trot,
                                            core::View::side,
                                            core::Seat::rising,
                                            "2026-11-20",
                                            true});
        yard.add(Prescription{{}, id, "two_point_walk_trot", "2026-11-20", "2026-12-04", 1, false});
        yard.set_setting("coach", "Tamsin Quillfeather");
    }
    YardStore yard(file());
    const auto clip = yard.clip(c.id);
    ASSERT_TRUE(clip);
    EXPECT_EQ(clip->context, c.context);
    EXPECT_EQ(clip->bytes, 77);
    const auto rider = yard.rider(c.context.rider);
    EXPECT_EQ(rider->birth_year, 2012);
    EXPECT_EQ(rider->consent_until, "2026-12-31");
    EXPECT_EQ(yard.horse(c.context.horse)->note, "green");
    const auto moments = yard.moments(c.id);
    ASSERT_EQ(moments.size(), 1U);
    EXPECT_EQ(moments[0].phase, "rise_top");
    EXPECT_EQ(moments[0].figure[core::Landmark::ear].at, (core::Point{600.125, 130.75}));
    EXPECT_EQ(moments[0].figure[core::Landmark::hip].origin, core::Origin::laid);
    EXPECT_FALSE(moments[0].figure[core::Landmark::hip].confirmed);
    EXPECT_EQ(moments[0].figure.travel, core::Travel::left) << "the clip's";
    EXPECT_EQ(moments[0].figure.camera, c.context.camera);
    ASSERT_EQ(yard.findings(c.id).size(), 1U);
    EXPECT_EQ(yard.findings(c.id)[0].changed_to, "heel_up");
    const auto corrections = yard.corrections(c.context.rider);
    ASSERT_EQ(corrections.size(), 1U);
    EXPECT_TRUE(corrections[0].focus);
    EXPECT_EQ(yard.prescriptions(corrections[0].id)[0].step, 1);
    EXPECT_EQ(yard.setting("coach"), "Tamsin Quillfeather");
    EXPECT_EQ(yard.setting("none", "otherwise"), "otherwise");
}

TEST_F(Store, WhatIsNotSaidStaysUnsaid) {
    YardStore yard(file());
    Clip c;
    c.path = "a";
    c.hash = "b";
    c.id = yard.add(c);
    const auto back = yard.clip(c.id);
    EXPECT_FALSE(back->context.rider);
    EXPECT_FALSE(back->context.gait);
    EXPECT_EQ(back->context.travel, core::Travel::unknown);
    EXPECT_EQ(back->context.missing().size(), 6U);
}

TEST_F(Store, AnAbsentMarkIsTakenAway) {
    YardStore yard(file());
    const Clip c = some_clip(yard);
    const auto id = yard.add(Moment{{}, c.id, 3, 0.1, "", {}});
    yard.put(id, core::Landmark::knee, {{1, 2}, core::Visibility::seen, 1});
    yard.put(id, core::Landmark::knee, {{3, 4}, core::Visibility::seen, 1});
    EXPECT_EQ(yard.moments(c.id)[0].figure[core::Landmark::knee].at, (core::Point{3, 4}));
    yard.put(id, core::Landmark::knee, {});
    EXPECT_EQ(yard.moments(c.id)[0].figure.marked(), 0);
}

TEST_F(Store, TrashedClipsAreLeftOutButNotLost) {
    YardStore yard(file());
    Clip c = some_clip(yard);
    c.trashed = true;
    yard.update(c);
    EXPECT_TRUE(yard.clips().empty());
    EXPECT_TRUE(yard.clips_of(c.context.rider).empty());
    EXPECT_TRUE(yard.clip_with_hash("0123"));
}

TEST_F(Store, BrokenRowsAreRefusedAndChangeNothing) {
    YardStore yard(file());
    const Clip c = some_clip(yard);
    EXPECT_THROW(yard.add(Rider{}), core::Refused) << "a rider without a name";
    yard.add(Moment{{}, c.id, 3, 0.1, "", {}});
    EXPECT_THROW(yard.add(Moment{{}, c.id, 3, 0.1, "", {}}), core::Refused) << "two moments on one frame";
    EXPECT_THROW(yard.add(Moment{{}, ClipId{999}, 4, 0.1, "", {}}), core::Refused) << "a moment of no clip";
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
        EXPECT_EQ(clips[0].last_frame, 0);
        EXPECT_EQ(yard.moments(clips[0].id)[0].figure[core::Landmark::ear].at, (core::Point{600.5, 130.25}));
        const auto corrections = yard.corrections(clips[0].context.rider);
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
    const Clip c = some_clip(yard);
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

TEST_F(Store, AYardOfVersionThreeKeepsItsMomentsJointsAndFindings) {
    { Database old(file(), 3); }
    run_sql("INSERT INTO rider(id, name) VALUES(1, 'Maude Estrell')");
    run_sql("INSERT INTO clip(id, path, hash, bytes, rider) VALUES(1, 'a.mp4', 'h', 1, 1)");
    run_sql("INSERT INTO moment(id, clip, frame, time_s, phase, field) VALUES(5, 1, 12, 0.4, 'rise_top', 1)");
    run_sql(
        "INSERT INTO mark(moment, landmark, x, y, visibility, sd_px, origin) VALUES(5, 'hip', 10, 20, 2, "
        "1.3, 'clicked')");
    run_sql("INSERT INTO finding(clip, fault, decision) VALUES(1, 'heel_up', 'accepted')");
    YardStore yard(file());
    const auto moments = yard.moments(ClipId{1});
    ASSERT_EQ(moments.size(), 1U);
    EXPECT_EQ(moments[0].id, MomentId{5});
    EXPECT_EQ(moments[0].phase, "rise_top");
    EXPECT_EQ(moments[0].field, 1);
    EXPECT_EQ(moments[0].slot, 0);
    EXPECT_EQ(moments[0].figure[core::Landmark::hip].at, (core::Point{10, 20}))
        << "building the table anew takes nothing along";
    ASSERT_EQ(yard.findings(ClipId{1}).size(), 1U);
    EXPECT_EQ(yard.findings(ClipId{1})[0].decision, Decision::accepted);
    EXPECT_TRUE(fs::exists(file().string() + ".before-4"));
    yard.remove(ClipId{1});  // foreign keys are on again
    EXPECT_TRUE(yard.moments(ClipId{1}).empty());
    EXPECT_EQ(yard.database().raw().execAndGet("SELECT count(*) FROM mark").getInt(), 0);
}

TEST_F(Store, ReviewRecordsComeBackTheSame) {
    ClipId id;
    core::Stretches stretches(2);
    stretches[1] = {30,          core::Gait::canter, core::Rein::left, core::Seat::two_point,
                    "half_pass", "leg_yield",        "short side",     false};
    {
        YardStore yard(file());
        const Clip c = some_clip(yard);
        id = c.id;
        yard.put_stretches(id, stretches);
        yard.put_companions(id, {{1, c.context.rider, {}}, {3, {}, c.context.horse}});
        yard.add(Note{{}, id, 4, NoteKind::words, "heel", 1});
        yard.add(Remark{{}, id, RemarkKind::strength, "hand", "quiet", 7, 0});
        yard.put(Finding{id, "heel_up", "outside", 1, Decision::asked_back, "", "2026-11-25", 1, 7});
        yard.put(Finding{id, "heel_up", "outside", 1, Decision::accepted, "", "2026-11-25"});
        yard.use_phrase("heel", 2);
        yard.use_phrase("quiet");
        yard.use_phrase("never mind");
        yard.use_phrase("never mind", -1);
        Moment m;
        m.clip = id;
        m.frame = 9;
        m.slot = 1;
        m.head_top = core::Point{3, 4};
        m.figure[core::Landmark::hip] = {{1, 2}, core::Visibility::seen, 3, core::Origin::proposed,
                                         false,  core::Point{5, 6}};
        yard.add(m);
        m.slot = 0;
        yard.add(m);
        EXPECT_THROW(yard.add(m), core::Refused) << "one moment for a rider at a frame";
        Clip own = *yard.clip(id);
        own.context.own = {"a class in spring", "is my leg quiet", "left hip"};
        own.duration_s = 12.5;
        yard.update(own);
    }
    YardStore yard(file());
    EXPECT_EQ(yard.stretches(id), stretches);
    ASSERT_EQ(yard.companions(id).size(), 2U);
    EXPECT_EQ(yard.companions(id)[1].slot, 3);
    ASSERT_EQ(yard.clips_as_companion(yard.riders()[0].id).size(), 1U);
    EXPECT_EQ(yard.notes(id)[0].words, "heel");
    EXPECT_EQ(yard.notes(id)[0].slot, 1);
    EXPECT_EQ(yard.remarks(id)[0].kind, RemarkKind::strength);
    EXPECT_EQ(yard.phrases(), (std::vector<std::string>{"heel", "quiet"}))
        << "most used first, unused ones gone";
    const auto findings = yard.findings(id);
    ASSERT_EQ(findings.size(), 2U) << "the same fault of two riders";
    EXPECT_EQ(findings[1].decision, Decision::asked_back);
    EXPECT_EQ(findings[1].frame, 7);
    const auto moments = yard.moments(id);
    ASSERT_EQ(moments.size(), 2U);
    EXPECT_EQ(moments[1].head_top, (core::Point{3, 4}));
    EXPECT_EQ(moments[1].figure[core::Landmark::hip].put_at, (core::Point{5, 6}));
    EXPECT_FALSE(moments[1].figure[core::Landmark::hip].confirmed);
    EXPECT_EQ(yard.placed_figures().size(), 2U);
    EXPECT_EQ(yard.clip(id)->context.own.hurts, "left hip");
    EXPECT_EQ(yard.clip(id)->duration_s, 12.5);
    yard.trash(moments[0].id, true);
    EXPECT_EQ(yard.moments(id).size(), 1U);
    EXPECT_EQ(yard.trashed_moments().size(), 1U);
}

}  // namespace
}  // namespace aspen::store
