// One undo step is one transaction: back and forth to the byte, whatever is refused or killed in between.

#include <gmock/gmock.h>
#include <signal.h>
#include <sqlite3.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QCryptographicHash>
#include <QDir>
#include <filesystem>

#include "app/files/data_files.hpp"
#include "app/random_steps.hpp"
#include "core/reading/refused.hpp"
#include "support/dump.hpp"
#include "support/support.hpp"

namespace aspen::app {
namespace {

namespace fs = std::filesystem;

class Steps : public testing::Test {
  protected:
    Steps() : yard(QString::fromStdString((folder / "yard").string()), shipped_knowledge()) {
        yard.set_clock(test::noon_of(QDate(2026, 11, 26)));
        plant_yard(yard);
    }
    std::string dump() { return test::dump_of(yard.records()); }
    test::TempFolder folder;
    Yard yard;
};

/// Lets SQLite itself break off after a while, as a full disk or a signal would.
class BreakOff {
  public:
    BreakOff(Yard& yard, int after_steps) : db_(yard.records().database().raw().getHandle()) {
        sqlite3_progress_handler(
            db_, after_steps, [](void*) { return 1; }, nullptr);
    }
    ~BreakOff() { sqlite3_progress_handler(db_, 0, nullptr, nullptr); }

  private:
    sqlite3* db_;
};

TEST_F(Steps, RandomOnesLeadBackToTheBottomAndUpToTheTop) {
    for (unsigned seed = 1; seed <= 4; ++seed) {
        yard.forget_steps();
        std::mt19937 engine(seed);
        const std::string bottom = dump();
        std::vector<std::string> after;  // the records as they were after every step that counts
        int refused = 0;
        for (int i = 0; i < 200; ++i) {
            const std::string before = dump();
            const int steps = yard.undo_stack().count();
            try {
                if (engine() % 7 == 0) {
                    const BreakOff injected(yard, static_cast<int>(20 + engine() % 400));
                    random_step(yard, engine);
                } else {
                    random_step(yard, engine);
                }
            } catch (const core::Refused& e) {
                ++refused;
                ASSERT_EQ(dump(), before) << e.what();
                ASSERT_EQ(yard.undo_stack().count(), steps) << "what was refused cannot be taken back either";
                ASSERT_EQ(std::string(e.what()).find('\n'), std::string::npos);
            }
            const int now = yard.undo_stack().count();
            if (now > steps)
                after.push_back(dump());
            else if (!after.empty() && dump() != before)
                after.back() = dump();  // merged into the step before
        }
        EXPECT_GT(refused, 10);
        ASSERT_GT(after.size(), 60U);
        for (std::size_t i = after.size(); i-- > 0;) {
            ASSERT_EQ(dump(), after[i]) << "seed " << seed << ", step " << i << " back";
            ASSERT_TRUE(yard.undo().startsWith("Taken back"));
        }
        ASSERT_EQ(dump(), bottom);
        EXPECT_EQ(yard.undo(), "There is nothing to take back.");
        for (std::size_t i = 0; i < after.size(); ++i) {
            const std::string what = yard.undo_stack().redoText().toStdString();
            const QString line = yard.redo();
            ASSERT_TRUE(line.startsWith("Done again"))
                << line.toStdString() << ": " << what << ", seed " << seed << ", step " << i;
            ASSERT_EQ(dump(), after[i]) << "seed " << seed << ", step " << i << " again";
        }
    }
}

TEST_F(Steps, IdsAreAnnouncedAfterTheCommitAndOnce) {
    const store::ClipId clip = yard.records().clips()[0].id;
    int announced = 0;
    bool committed = false;
    QObject::connect(&yard, &Yard::marks_changed, [&](store::ClipId id) {
        EXPECT_EQ(id, clip);
        ++announced;
        committed = !yard.records().in_transaction();
    });
    yard.step("Three moments", [&] {
        for (int frame = 0; frame < 3; ++frame) {
            store::Moment m;
            m.clip = clip;
            m.frame = frame;
            add_moment(yard, m);
            EXPECT_EQ(announced, 0) << "not in the middle";
        }
    });
    EXPECT_EQ(announced, 1);
    EXPECT_TRUE(committed);
    EXPECT_EQ(yard.steps(), QStringList{"Three moments"});
    yard.undo();
    EXPECT_EQ(announced, 2);
}

TEST_F(Steps, AListenerThatFailsTakesNothingBack) {
    QString said;
    QObject::connect(&yard, &Yard::trouble, [&](const QString& line) { said = line; });
    QObject::connect(&yard, &Yard::riders_changed, [] { throw core::Refused("record: could not be read"); });
    EXPECT_NO_THROW(add_rider(yard, test::rider("Pell Marrow", 1970, "gaited")));
    EXPECT_EQ(said, "record: could not be read");
    EXPECT_EQ(yard.records().riders().size(), 5U);
}

TEST_F(Steps, PuttingBackIsAStepLikeAnyOther) {
    const store::ClipId clip = yard.records().clips()[0].id;
    trash_clip(yard, clip);
    put_back(yard, clip);
    yard.undo();
    EXPECT_TRUE(yard.records().clip(clip)->trashed);
    yard.undo();
    EXPECT_FALSE(yard.records().clip(clip)->trashed);
    yard.redo();
    yard.redo();
    EXPECT_FALSE(yard.records().clip(clip)->trashed) << "and never meets itself";
}

/// Runs the writer until a random instant, then kills it. Gives the lines it told.
std::vector<std::string> run_and_kill(const std::vector<std::string>& args, int lines_at_least, int more_us) {
    int ends[2];
    if (pipe(ends) != 0) return {};
    const pid_t child = fork();
    if (child == 0) {
        dup2(ends[1], 1);
        close(ends[0]);
        execl(STEP_WRITER, STEP_WRITER, args[0].c_str(), args[1].c_str(), args[2].c_str(), nullptr);
        _exit(127);
    }
    close(ends[1]);
    FILE* told = fdopen(ends[0], "r");
    std::vector<std::string> out;
    char line[256];
    while (static_cast<int>(out.size()) < lines_at_least && fgets(line, sizeof line, told))
        out.emplace_back(line);
    usleep(static_cast<useconds_t>(more_us));
    kill(child, SIGKILL);
    while (fgets(line, sizeof line, told)) out.emplace_back(line);
    fclose(told);
    waitpid(child, nullptr, 0);
    return out;
}

std::string fingerprint(Yard& yard) {
    return QCryptographicHash::hash(QByteArray::fromStdString(test::dump_of(yard.records())),
                                    QCryptographicHash::Sha256)
               .toHex()
               .toStdString() +
           "\n";
}

TEST(KilledSteps, LeaveTheRecordsAsAfterTheLastCommittedStep) {
    std::mt19937 chance(3);
    for (int round = 0; round < 8; ++round) {
        const test::TempFolder folder;
        const std::string yard = (folder / "yard").string();
        const std::string seed = std::to_string(100 + round);
        auto told = run_and_kill({"steps", yard, seed}, 10 + round * 9, static_cast<int>(chance() % 20000));
        ASSERT_GT(told.size(), 10U);
        // What it would have gone on to, had it lived: the same steps on a yard of its own.
        const auto longer =
            run_and_kill({"steps", (folder / "other").string(), seed}, static_cast<int>(told.size()) + 1, 0);
        Yard after(QString::fromStdString(yard), shipped_knowledge());
        const std::string now = fingerprint(after);
        EXPECT_TRUE(now == told.back() || now == longer.at(told.size()))
            << "round " << round << ": neither the last step nor the next";
        EXPECT_EQ(after.undo(), "There is nothing to take back.") << "undo starts anew";
    }
}

TEST(KilledMigration, LosesNothing) {
    std::mt19937 chance(11);
    for (int round = 0; round < 12; ++round) {
        const test::TempFolder folder;
        fs::create_directories(folder.path());
        const auto file = folder / "yard.db";
        fs::copy_file(ASPEN_SOURCE_DIR "/tests/data/yard-version-4.db", file);
        run_and_kill({"open", folder.path().string(), "-"}, 1, static_cast<int>(chance() % 30000));
        store::YardStore yard(file);
        EXPECT_EQ(yard.database().version(), static_cast<int>(store::migrations().size()));
        EXPECT_EQ(yard.clips().size(), 4U) << "round " << round;
        EXPECT_EQ(yard.database().raw().execAndGet("SELECT count(*) FROM mark").getInt(), 45);
        EXPECT_EQ(yard.database().raw().execAndGet("SELECT count(*) FROM ride").getInt(), 7);
        EXPECT_EQ(yard.database().raw().execAndGet("PRAGMA quick_check(1)").getString(), "ok");
    }
}

TEST(KilledBackup, IsTheOldOrTheNewOneWhole) {
    const test::TempFolder folder;
    const QString yard = QString::fromStdString((folder / "yard").string());
    const std::string copy = (folder / "copy.aspen-yard").string();
    {
        Yard y(yard, shipped_knowledge());
        plant_yard(y);
        y.quietly([&] {
            for (int i = 0; i < 400; ++i)
                y.records().add(store::Horse{{}, "Horse " + std::to_string(i), {}, std::string(200, 'x')});
        });
        back_up(y, QString::fromStdString(copy));
    }
    std::mt19937 chance(5);
    for (int round = 0; round < 12; ++round) {
        run_and_kill({"backup", yard.toStdString(), copy}, 1, static_cast<int>(chance() % 15000));
        ASSERT_NO_THROW(store::check_is_yard(copy)) << "round " << round;
    }
}

TEST(KilledRestore, OpensOldOrNewWhole) {
    const test::TempFolder folder;
    const QString yard = QString::fromStdString((folder / "yard").string());
    const std::string copy = (folder / "copy.aspen-yard").string();
    {
        Yard y(yard, shipped_knowledge());
        plant_yard(y);
        back_up(y, QString::fromStdString(copy));
        add_rider(y, test::rider("Pell Marrow", 1970, "gaited"));
    }
    std::mt19937 chance(7);
    for (int round = 0; round < 12; ++round) {
        run_and_kill({"restore", yard.toStdString(), copy}, round % 3,
                     static_cast<int>(5000 + chance() % 60000));
        Yard opened(yard, shipped_knowledge());
        const auto riders = opened.records().riders().size();
        ASSERT_TRUE(riders == 4 || riders == 5) << "round " << round;
        ASSERT_EQ(opened.records().database().raw().execAndGet("PRAGMA quick_check(1)").getString(), "ok");
        if (riders == 4) add_rider(opened, test::rider("Pell Marrow", 1970, "gaited"));
        for (const QString& kept : QDir(yard).entryList({"yard.db.replaced-*"}))
            QFile::remove(yard + "/" + kept);
    }
}

TEST(Restore, ABadBackupThatWaitsStopsNoStart) {
    const test::TempFolder folder;
    const QString yard = QString::fromStdString((folder / "yard").string());
    {
        Yard y(yard, shipped_knowledge());
        plant_yard(y);
    }
    QFile bad(yard + "/yard.db.to-restore");
    ASSERT_TRUE(bad.open(QIODevice::WriteOnly));
    bad.write("half of something");
    bad.close();
    Yard opened(yard, shipped_knowledge());
    EXPECT_TRUE(opened.said_at_start().contains("not restored")) << opened.said_at_start().toStdString();
    EXPECT_EQ(opened.records().riders().size(), 4U);
    EXPECT_FALSE(QFile::exists(yard + "/yard.db.to-restore"));
    EXPECT_EQ(QFile::permissions(yard) & (QFile::ReadGroup | QFile::ReadOther), QFile::Permissions())
        << "the folder is private";
}

}  // namespace
}  // namespace aspen::app
