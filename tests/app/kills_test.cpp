// Killed at any instant, and opened again: whole, by the last step or the next, and one goes on.

#include <gmock/gmock.h>
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QCryptographicHash>
#include <QDir>
#include <QRegularExpression>
#include <cstdlib>
#include <filesystem>
#include <random>

#include "app/files/data_files.hpp"
#include "app/killing.hpp"
#include "app/leaving/bundle_in.hpp"
#include "app/leaving/bundle_out.hpp"
#include "app/leaving/consents.hpp"
#include "app/leaving/outbox.hpp"
#include "app/random_steps.hpp"
#include "app/yard/importer.hpp"
#include "app/yard/restoring.hpp"
#include "core/reading/refused.hpp"
#include "support/dump.hpp"
#include "support/support.hpp"

namespace aspen::app {
namespace {

namespace fs = std::filesystem;
using test::kills;
using test::run_and_kill;
using testing::HasSubstr;

/// Keys of cards are drawn by lot: two runs of the same steps differ in nothing else.
QByteArray without_keys(const std::string& dump) {
    return QString::fromStdString(dump).replace(QRegularExpression("\\b[0-9a-f]{32}\\b"), "KEY").toUtf8();
}

std::string fingerprint(Yard& yard) {
    return QCryptographicHash::hash(without_keys(test::dump_of(test::to_write(yard))),
                                    QCryptographicHash::Sha256)
               .toHex()
               .toStdString() +
           "\n";
}

TEST(KilledSteps, LeaveTheRecordsAsAfterTheLastCommittedStep) {
    std::mt19937 chance(3);
    for (int round = 0; round < kills(8); ++round) {
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
        EXPECT_EQ(after.steps().undo(), "There is nothing to take back.") << "undo starts anew";
    }
}

TEST(KilledMigration, LosesNothing) {
    std::mt19937 chance(11);
    for (int round = 0; round < kills(12); ++round) {
        const test::TempFolder folder;
        fs::create_directories(folder.path());
        const auto file = folder / "yard.db";
        fs::copy_file(ASPEN_SOURCE_DIR "/tests/data/yard-version-4.db", file);
        run_and_kill({"open", folder.path().string(), "-"}, 1, static_cast<int>(chance() % 30000));
        store::YardStore yard(file);
        EXPECT_EQ(yard.database().version(), static_cast<int>(store::migrations().size()));
        EXPECT_EQ(yard.rides.clips().size(), 4U) << "round " << round;
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
                test::to_write(y).add(
                    store::Horse{{}, "Horse " + std::to_string(i), {}, std::string(200, 'x')});
        });
        back_up(y, QString::fromStdString(copy));
    }
    std::mt19937 chance(5);
    for (int round = 0; round < kills(12); ++round) {
        run_and_kill({"backup", yard.toStdString(), copy}, 1, static_cast<int>(chance() % 15000));
        ASSERT_NO_THROW(store::check_is_yard(copy)) << "round " << round;
    }
}

/// Opens it as the next start does: whole, nothing to take back, and its words are found.
void expect_whole(Yard& yard, const std::string& word) {
    auto& db = test::to_write(yard).database().raw();
    ASSERT_EQ(db.execAndGet("PRAGMA integrity_check").getString(), "ok");
    EXPECT_EQ(yard.steps().undo(), "There is nothing to take back.");
    EXPECT_FALSE(yard.records().search.places(word, 20).empty());
    EXPECT_TRUE(QDir(yard.folder().path())
                    .entryList({".bundle-*", ".leaving-*"}, QDir::Dirs | QDir::Hidden)
                    .isEmpty());
}

/// A yard of four riders as a backup, and of five as it stands.
class KilledRestore : public testing::Test {
  protected:
    KilledRestore() {
        Yard y(QString::fromStdString(yard), shipped_knowledge());
        plant_yard(y);
        back_up(y, QString::fromStdString(copy));
        add_rider(y, fifth());
    }
    static store::Rider fifth() { return test::rider("Pell Marrow", 1970, "gaited"); }
    void kill_in_the_middle(int round, int us) { run_and_kill({"restore", yard, copy}, round % 3, us); }
    /// The one or the other, whole; ready for the next round.
    void expect_one_of_both() {
        const QString at = QString::fromStdString(yard);
        Yard opened(at, shipped_knowledge());
        const auto riders = opened.records().people.riders().size();
        ASSERT_TRUE(riders == 4 || riders == 5);
        expect_whole(opened, "Fig");
        if (riders == 4) add_rider(opened, fifth());
        for (const QString& kept : QDir(at).entryList({"yard.db.replaced-*"})) QFile::remove(at + "/" + kept);
    }
    test::TempFolder folder;
    const std::string yard = (folder / "yard").string(), copy = (folder / "copy.aspen-yard").string();
};

TEST_F(KilledRestore, OpensOldOrNewWhole) {
    std::mt19937 chance(7);
    for (int round = 0; round < kills(12) && !HasFatalFailure(); ++round) {
        SCOPED_TRACE(round);
        kill_in_the_middle(round, static_cast<int>(5000 + chance() % 60000));
        expect_one_of_both();
    }
}

TEST_F(KilledRestore, BesideAReaderIsWhole) {
    std::mt19937 chance(13);
    for (int round = 0; round < kills(6) && !HasFatalFailure(); ++round) {
        SCOPED_TRACE(round);
        const pid_t reader = fork();
        if (reader == 0) {
            execl(STEP_WRITER, STEP_WRITER, "read", yard.c_str(), "-", nullptr);
            _exit(127);
        }
        kill_in_the_middle(round, static_cast<int>(chance() % 60000));
        int status = 0;
        EXPECT_EQ(waitpid(reader, &status, WNOHANG), 0) << "the reader saw something that was not whole";
        kill(reader, SIGKILL);
        waitpid(reader, &status, 0);
        expect_one_of_both();
    }
}

/// A yard with a reviewed clip of somebody grown up.
void plant_film(const std::string& at) {
    Yard yard(QString::fromStdString(at), shipped_knowledge());
    Importer importer(yard);
    bool known = false;
    const auto film = test::simulated_clip(test::faulty_plan(), "bench");
    const auto clip = importer.record(look_at(QString::fromStdString(film.string())), known);
    test::Said said;
    said.rider = add_rider(yard, test::rider("Maude Estrell", 1970, "hunter"));
    test::say(yard, clip, said);
    give_consent(yard, {{}, said.rider, "clip", "Maude Estrell", "2026-01-01", "", true});
}

class KilledBundle : public testing::Test {
  protected:
    KilledBundle() { plant_film(from); }
    std::string zip(const char* name) const { return (folder / name).string(); }
    test::TempFolder folder;
    const std::string from = (folder / "from").string(), to = (folder / "to").string();
};

TEST_F(KilledBundle, WritingItLeavesTheEarlierOneOrTheNewOneWhole) {
    run_and_kill({"bundle", from, zip("a.zip")}, 1, 0);
    ASSERT_NO_THROW((void)exchange::read_manifest(zip("a.zip")));
    std::mt19937 chance(17);
    for (int round = 0; round < kills(4); ++round) {
        run_and_kill({"bundle", from, zip("a.zip")}, 0, static_cast<int>(chance() % 1500000));
        fs::create_directories(folder / "into");
        ASSERT_NO_THROW((void)exchange::unpack_bundle(zip("a.zip"), folder / "into")) << "round " << round;
        fs::remove_all(folder / "into");
        Yard opened(QString::fromStdString(from), shipped_knowledge());
        expect_whole(opened, "Maude");
    }
    run_and_kill({"bundle", from, zip("a.zip")}, 2, 0);  // to its own end
    EXPECT_TRUE(QDir(QString::fromStdString(folder.path().string()))
                    .entryList({".leaving-*"}, QDir::Dirs | QDir::Hidden)
                    .isEmpty())
        << "what killed ones left goes with the next";
}

TEST_F(KilledBundle, TakingItInIsTakenUpAgain) {
    run_and_kill({"bundle", from, zip("a.zip")}, 1, 0);
    std::mt19937 chance(19);
    for (int round = 0; round < kills(6); ++round) {
        fs::remove_all(to);
        run_and_kill({"import", to, zip("a.zip")}, 1, static_cast<int>(chance() % 60000));
        Yard opened(QString::fromStdString(to), shipped_knowledge());
        const bool in = !opened.records().people.riders().empty();
        if (in) expect_whole(opened, "Maude");
        Job job(0, {}, true);
        const auto again = [&] {
            const UnpackedBundle bundle(QString::fromStdString(zip("a.zip")), QString::fromStdString(to),
                                        opened.knowledge().figure_errors, job);
            return take_bundle(opened, bundle).rides;
        };
        if (in) {
            EXPECT_THROW(again(), core::Refused) << "taken in before";
        } else {
            EXPECT_EQ(again(), 1);
        }
        ASSERT_EQ(opened.records().rides.clips().size(), 1U);
        EXPECT_EQ(static_cast<std::int64_t>(
                      fs::file_size(opened.file_of(opened.records().rides.clips()[0]).toStdString())),
                  opened.records().rides.clips()[0].bytes);
        expect_whole(opened, "Maude");
    }
}

TEST(KilledOutbox, EveryMessageIsWholeOrWaits) {
    const test::TempFolder folder;
    const QString at = QString::fromStdString((folder / "yard").string());
    std::mt19937 chance(23);
    for (int round = 0; round < kills(6); ++round) {
        QDir(at).removeRecursively();
        run_and_kill({"outbox", at.toStdString(), "-"}, 1, static_cast<int>(chance() % 150000));
        Yard opened(at, shipped_knowledge());
        expect_whole(opened, "Maude");
        const auto all = opened.records().following.outbox({}, 100);
        ASSERT_EQ(all.size(), 12U);
        for (const store::Outgoing& o : all) {
            const QString file = at + "/outbox/" + QString::fromStdString(o.file);
            EXPECT_TRUE(o.state != "written" || QFileInfo(file).size() > 500) << o.file;
        }
        write_outbox(opened);
        for (const store::Outgoing& o : opened.records().following.outbox({}, 100))
            EXPECT_EQ(o.state, "written");
        EXPECT_EQ(QDir(at + "/outbox").entryList({"*.eml"}).size(), 12);
    }
}

}  // namespace
}  // namespace aspen::app
