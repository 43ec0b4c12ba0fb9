// The file that a yard is: versions kept and brought up, backups, damage, strangers, and a kill in the
// middle.

#include "store/store_support.hpp"

namespace aspen::store {
namespace {

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
        const auto clips = yard.rides.clips();
        ASSERT_EQ(clips.size(), 1U);
        EXPECT_EQ(yard.reviews.moments(clips[0].id)[0].figure[core::Landmark::ear].at,
                  (core::Point{600.5, 130.25}));
        const auto ride = yard.rides.ride(yard.rides.places(clips[0].id).at(0).ride);
        const auto corrections = yard.work.corrections(ride->rider);
        ASSERT_EQ(corrections.size(), 1U);
        EXPECT_EQ(yard.work.prescriptions(corrections[0].id).size(), 1U);
    }
    const fs::path backup = file().string() + ".before-" + std::to_string(migrations().size());
    ASSERT_TRUE(fs::exists(backup));
    SQLite::Database before(backup.string(), SQLite::OPEN_READONLY);
    EXPECT_EQ(before.execAndGet("PRAGMA user_version").getInt(), 1) << "the backup is from before";
    EXPECT_EQ(before.execAndGet("SELECT count(*) FROM mark").getInt(), 1);
}

// A new file is a copy of one that all steps made at once, an old one goes step by step: to the same.
TEST_F(Store, ANewYardIsTheOneThatAllStepsMake) {
    const auto schema = [](const fs::path& of) {
        const SQLite::Database db(of.string());
        std::string out;
        SQLite::Statement all(
            db, "SELECT type || name || ifnull(sql, '') FROM sqlite_schema ORDER BY type, name");
        while (all.executeStep()) out += all.getColumn(0).getString() + "\n";
        return out +
               std::to_string(SQLite::Database(of.string()).execAndGet("PRAGMA application_id").getInt());
    };
    { const YardStore yard(file()); }
    const int newest = static_cast<int>(migrations().size());
    for (int n = 1; n <= newest; ++n) const Database step(folder_ / "steps.db", n == newest ? 0 : n);
    EXPECT_EQ(schema(file()), schema(folder_ / "steps.db"));
    for (const auto& e : fs::directory_iterator(folder_))
        EXPECT_EQ(e.path().filename().string().find(".new"), std::string::npos)
            << "nothing is left beside it";
}

TEST_F(Store, TwoProgramsThatMakeOneYardTogetherHaveOne) {
    for (int round = 0; round < 5; ++round) {
        fs::remove_all(folder_);
        fs::create_directories(folder_);
        std::vector<pid_t> children;
        for (int i = 0; i < 4; ++i) {
            children.push_back(fork());
            if (children.back() != 0) continue;
            YardStore yard(file());
            Rider r;
            r.name = "Rider " + std::to_string(i);
            yard.add(r);
            _exit(0);
        }
        for (const pid_t child : children) waitpid(child, nullptr, 0);
        YardStore yard(file());
        EXPECT_EQ(yard.people.riders().size(), 4U) << "nobody's words are written over";
    }
}

TEST_F(Store, AnEarlierSafetyCopyIsNeverWrittenOver) {
    { const Database eight(file(), 8); }
    const fs::path kept = file().string() + ".before-9";
    std::ofstream(kept) << "what an attempt before this one kept";
    { const Database nine(file(), 9); }
    std::ifstream in(kept);
    EXPECT_EQ(std::string(std::istreambuf_iterator<char>(in), {}), "what an attempt before this one kept");
    SQLite::Database before(kept.string() + "-2");
    EXPECT_EQ(before.execAndGet("PRAGMA user_version").getInt(), 8);
}

TEST_F(Store, TheSameSafetyCopyIsKeptOnce) {
    { const Database eight(file(), 8); }
    const auto copies = [&] {
        return std::ranges::count_if(fs::directory_iterator(folder_), [](const fs::directory_entry& e) {
            return e.path().filename().string().starts_with("yard.db.before-");
        });
    };
    { const Database nine(file(), 9); }
    fs::copy_file(file().string() + ".before-9", file(), fs::copy_options::overwrite_existing);
    { const Database nine(file(), 9); }
    EXPECT_EQ(copies(), 1);
}

TEST_F(Store, TwoProgramsThatBringOneFileUpTogetherBothOpenIt) {
    for (int round = 0; round < 5; ++round) {
        fs::remove_all(folder_);
        fs::create_directories(folder_);
        fs::copy_file(ASPEN_SOURCE_DIR "/tests/data/yard-version-4.db", file());
        std::vector<pid_t> children;
        for (int i = 0; i < 4; ++i) {
            children.push_back(fork());
            if (children.back() == 0) _exit(refusal() == "opened" ? 0 : 1);
        }
        for (const pid_t child : children) {
            int status = 0;
            waitpid(child, &status, 0);
            EXPECT_TRUE(WIFEXITED(status) && WEXITSTATUS(status) == 0) << "round " << round;
        }
        YardStore yard(file());
        EXPECT_EQ(yard.rides.clips().size(), 4U);
    }
}

TEST_F(Store, EachStepAloneGivesTheNextVersion) {
    for (const Migration& m : migrations()) {
        Database step(file(), m.number);
        EXPECT_EQ(step.version(), m.number);
    }
}

TEST_F(Store, TheLogOfVersionTwelveComesUpWholeAndOnlyGrows) {
    { const Database twelve(file(), 12); }
    run_sql(
        "INSERT INTO rider(id, name) VALUES(7, 'Pell Marrow');"
        "INSERT INTO departure(at, rider, use, what, about, file, faces) VALUES"
        "('2026-10-01T10:00:00', 7, 'page', 'page', 'a ride', 'p.pdf', 'covered'),"
        "('2026-10-02T10:00:00', 7, 'clip', 'review', 'a film', 'f.mp4', 'bare');");
    YardStore yard(file());
    const auto left = yard.leaving.departures({7});
    ASSERT_EQ(left.size(), 2U);
    EXPECT_EQ(left[0].what, "review") << "newest first";
    EXPECT_EQ(left[1].file, "p.pdf");
    EXPECT_THROW(yard.database().raw().exec("DELETE FROM departure"), SQLite::Exception);
    yard.remove(RiderId{7});
    const auto after = yard.leaving.departures();
    ASSERT_EQ(after.size(), 2U) << "that something left stays";
    EXPECT_TRUE(std::ranges::all_of(after, [](const Departure& d) { return !d.rider && d.file.empty(); }));
    const RiderId next = yard.add([] {
        Rider r;
        r.name = "Bram Oddleif";
        return r;
    }());
    EXPECT_TRUE(yard.leaving.departures(next).empty()) << "who gets the number anew gets no log with it";
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
    EXPECT_TRUE(copy.rides.clip(c.id));
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
        const auto clips = yard.rides.clips();
        ASSERT_EQ(clips.size(), 1U);
        const auto moments = yard.reviews.moments(clips[0].id);
        ASSERT_GE(static_cast<int>(moments.size()), last + 1) << "committed and told, but gone";
        for (const Moment& m : moments)
            EXPECT_EQ(m.figure.marked(), 20) << "a moment is written whole or not at all";
        EXPECT_EQ(yard.database().raw().execAndGet("PRAGMA integrity_check").getString(), "ok");
    }
}

/// Files written by the program of that time (its own store, at the commits that first had these versions).
class KeptFile : public Store, public testing::WithParamInterface<int> {
  protected:
    void SetUp() override {
        fs::copy_file(ASPEN_SOURCE_DIR "/tests/data/yard-version-" + std::to_string(version) + ".db", file());
        yard = std::make_unique<YardStore>(file());
        for (const Rider& r : yard->people.riders()) {
            if (r.name == "Joss Penhallow") joss = r;
            if (r.name == "Ines Varga-Holt") ines = r;
        }
        one = yard->rides.clip_with_hash("aaaa").value();
        ride = yard->rides.ride(yard->rides.places(one.id).at(0).ride).value();
    }
    const int version = GetParam();
    std::unique_ptr<YardStore> yard;
    Rider joss, ines;
    Clip one;
    Ride ride;  ///< of the clip's first rider
};
INSTANTIATE_TEST_SUITE_P(Versions, KeptFile, testing::Values(2, 3, 4));
class KeptFileOfRides : public KeptFile {};  ///< from version 4 on, which the ride came with
INSTANTIATE_TEST_SUITE_P(Versions, KeptFileOfRides, testing::Values(4));

TEST_F(Store, AKeptFileOfVersionEightComesUpWhole) {
    fs::copy_file(ASPEN_SOURCE_DIR "/tests/data/yard-version-8.db", file());
    YardStore yard(file());
    EXPECT_EQ(yard.database().version(), static_cast<int>(migrations().size()));
    const auto riders = yard.people.riders();
    ASSERT_EQ(riders.size(), 2U);
    std::size_t rides = 0;
    for (const Rider& r : riders) rides += yard.rides.rides_of(r.id).size();
    EXPECT_EQ(rides, 4U);
    EXPECT_EQ(yard.rides.clips().size(), 4U);
    EXPECT_TRUE(yard.people.sign_offs(riders[0].id).empty());
    yard.put(SignOff{{}, riders[0].id, yard.people.horses().at(0).id, "canter", "2026-11-27"});
    EXPECT_EQ(yard.people.sign_offs(riders[0].id).size(), 1U);
}

TEST_F(Store, AKeptFileOfVersionTenComesUpWithItsPracticeAndTakesTheNewRecords) {
    fs::copy_file(ASPEN_SOURCE_DIR "/tests/data/yard-version-10.db", file());
    YardStore yard(file());
    EXPECT_EQ(yard.database().version(), static_cast<int>(migrations().size()));
    const auto riders = yard.people.riders();
    ASSERT_FALSE(riders.empty());
    const auto practice = yard.training.practice_of(riders[0].id);
    ASSERT_EQ(practice.size(), 1U);
    EXPECT_EQ(practice[0].done.good, 7);
    EXPECT_EQ(yard.training.plan_of(riders[0].id).clip_on, "2026-12-04");
    ASSERT_EQ(yard.training.lessons().size(), 1U);
    EXPECT_EQ(yard.training.places(yard.training.lessons()[0].id).at(0).said, "quiet leg");
    yard.add(Milestone{{}, riders[0].id, {}, "2026-11-27", "", "saddle", "jumping"});
    EXPECT_EQ(yard.following.milestones_of(riders[0].id).size(), 1U);
}

TEST_F(Store, AKeptFileOfVersionElevenKeepsItsConsentsInTheRegister) {
    fs::copy_file(ASPEN_SOURCE_DIR "/tests/data/yard-version-11.db", file());
    YardStore yard(file());
    int all = 0;
    for (const Rider& r : yard.people.riders()) {
        const auto given = yard.leaving.consents_of(r.id);
        all += static_cast<int>(given.size());
        if (given.empty()) continue;
        EXPECT_EQ(r.name, "Joss Penhallow");
        EXPECT_EQ(given[0].use, "page");
        EXPECT_EQ(given[1].use, "clip");
        EXPECT_EQ(given[1].given_by, "Guardian of Joss Penhallow");
        EXPECT_EQ(given[1].given_on, "2026-07-30");
        EXPECT_FALSE(given[1].face) << "until now every face was covered";
    }
    EXPECT_EQ(all, 2);
    EXPECT_EQ(yard.rides.clips().size(), 24U);
}

TEST_P(KeptFile, ComesUpWithRidersTheirBodiesAndConsents) {
    EXPECT_EQ(yard->leaving.consents_of(joss.id).size(), 2U);
    EXPECT_EQ(yard->leaving.consents_of(joss.id).at(0).given_by, "Guardian of Joss Penhallow");
    const auto body = yard->people.limitations(ines.id);
    ASSERT_EQ(body.size(), 2U);
    EXPECT_EQ(body[0].words + ", " + body[0].side + "; " + body[1].words, "left hip, left; wrist");
    EXPECT_EQ(yard->settings.setting("coach"), "Tamsin Quillfeather");
}

TEST_P(KeptFile, ComesUpWithClipsAndTheirRides) {
    EXPECT_EQ(yard->rides.clips().size(), 4U);
    EXPECT_EQ(yard->rides.trashed_clips().size(), 1U);
    EXPECT_EQ(one.last_frame, 17);
    EXPECT_EQ(ride.rider, joss.id);
    EXPECT_EQ(yard->people.horse(ride.horse)->words, "stiff to the left");
    EXPECT_EQ(ride.day, "2026-10-24");
    EXPECT_EQ(ride.state, RideState::done);
}

TEST_P(KeptFile, ComesUpWithStretchesAndMarkedMoments) {
    const core::Stretch first = yard->rides.stretches(one.id).at(0);
    EXPECT_EQ(first.gait, core::Gait::trot);
    EXPECT_EQ(first.seat, core::Seat::rising);
    EXPECT_EQ(first.travel, core::Travel::left);
    EXPECT_TRUE(first.camera.roll_marked);
    const auto moments = yard->reviews.moments(one.id);
    ASSERT_EQ(moments.size(), 2U);
    EXPECT_EQ(moments[0].figure[core::Landmark::ear].at, (core::Point{600.5, 130.25}));
    EXPECT_EQ(moments[0].figure.marked(), 9);
}

TEST_P(KeptFile, ComesUpWithDecisionsAndWhatFollowedFromThem) {
    const auto findings = yard->reviews.findings(ride.id);
    ASSERT_EQ(findings.size(), 2U);
    EXPECT_EQ(findings[1].decision, Decision::accepted);
    EXPECT_EQ(findings[1].seen, (SeenIn{core::Gait::trot, core::Seat::rising, "left"}));
    const auto corrections = yard->work.corrections(joss.id);
    ASSERT_EQ(corrections.size(), 1U);
    EXPECT_TRUE(corrections[0].focus);
    EXPECT_EQ(corrections[0].seen, findings[1].seen) << "the lane goes on from the decision";
    EXPECT_EQ(yard->work.prescriptions(corrections[0].id).at(0).step, 1);
}

TEST_P(KeptFile, ComesUpWithSlowMotion) {
    // Files before version 3 knew none.
    EXPECT_EQ(one.capture.filmed_fps, version >= 3 ? 120 : 0);
    EXPECT_EQ(one.capture.to_s, version >= 3 ? std::optional(2.5) : std::nullopt);
}

TEST_P(KeptFileOfRides, ComesUpWithWhatTheRiderAsked) {
    EXPECT_EQ(ride.own.question, "is my leg back?");
    EXPECT_EQ(one.px_per_m, 210);
    EXPECT_EQ(yard->reviews.trashed_moments().size(), 1U);
    EXPECT_EQ(yard->people.trashed_riders().at(0).name, "Bram Oddleif");
    EXPECT_EQ(yard->reviews.moments(one.id).at(0).head_top, (core::Point{601, 90}));
}

TEST_P(KeptFileOfRides, ComesUpWithEveryStretch) {
    const auto seen = yard->rides.stretches(one.id);
    ASSERT_EQ(seen.size(), 2U);
    EXPECT_EQ(seen[1].gait, core::Gait::canter);
    EXPECT_FALSE(seen[1].judged);
    EXPECT_EQ(seen[1].asked, "straight");
    EXPECT_EQ(seen[1].travel, core::Travel::left) << "what was the clip's is every stretch's";
}

TEST_P(KeptFileOfRides, ComesUpWithEveryRiderInAClip) {
    const auto places = yard->rides.places(one.id);
    ASSERT_EQ(places.size(), 3U);
    EXPECT_EQ(places[2].slot, 3);
    EXPECT_EQ(yard->rides.ride(places[1].ride)->rider, ines.id);
    ASSERT_EQ(yard->reviews.findings(places[1].ride).size(), 1U);
    EXPECT_EQ(yard->reviews.findings(places[1].ride)[0].frame, 10);
}

TEST_P(KeptFileOfRides, ComesUpWithTheCoachsWords) {
    EXPECT_EQ(yard->reviews.notes(one.id).size(), 2U);
    EXPECT_EQ(yard->reviews.remarks(ride.id).at(0).words, "soft back");
    EXPECT_EQ(yard->reviews.phrases().at(0), "leg slid back again");
    EXPECT_FALSE(yard->search.places("soft back joss").empty()) << "old words are found too";
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
