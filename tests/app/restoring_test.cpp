// A backup takes the place of the records, whoever else reads them, whatever the folder is called.

#include <SQLiteCpp/SQLiteCpp.h>
#include <sys/wait.h>

#include <QFile>

#include "app/bench_fixture.hpp"
#include "app/files/data_files.hpp"
#include "app/leaving/consents.hpp"
#include "app/random_steps.hpp"
#include "app/yard/changes.hpp"
#include "app/yard/restoring.hpp"
#include "core/reading/refused.hpp"
#include "store/yard_store.hpp"

namespace aspen::app {
namespace {

namespace fs = std::filesystem;
using testing::HasSubstr;

class Restoring : public testing::Test {
  protected:
    /// A yard with a backup, and one rider more since.
    void make(const std::string& name = "yard") {
        yard = QString::fromStdString((folder / name).string());
        copy = QString::fromStdString((folder / "copy.aspen-yard").string());
        Yard y(yard, shipped_knowledge());
        plant_yard(y);
        riders = y.records().people.riders().size();
        back_up(y, copy);
        add_rider(y, test::rider("Pell Marrow", 1970, "gaited"));
    }
    std::string said() {
        const Yard y(yard, shipped_knowledge());
        return y.said_at_start().toStdString();
    }
    std::size_t now() {
        store::YardStore y(std::filesystem::path(yard.toStdString()) / "yard.db");
        EXPECT_EQ(y.database().raw().execAndGet("PRAGMA integrity_check").getString(), "ok");
        return y.people.riders().size();
    }
    test::TempFolder folder;
    QString yard, copy;
    std::size_t riders = 0;
};

TEST_F(Restoring, WaitsWhileAnotherProgramReads) {
    make();
    ASSERT_EQ(restore_at_start(yard, copy), "");
    {
        store::YardStore reader(std::filesystem::path(yard.toStdString()) / "yard.db");
        EXPECT_THAT(said(), HasSubstr("The backup waits: "));
        EXPECT_EQ(reader.people.riders().size(), riders + 1);
    }
    EXPECT_EQ(now(), riders + 1) << "as they were";
    EXPECT_THAT(said(), HasSubstr("was restored"));
    EXPECT_EQ(now(), riders);
}

TEST_F(Restoring, WaitsForAProgramThatIsNotOurs) {
    make();
    ASSERT_EQ(restore_at_start(yard, copy), "");
    {
        SQLite::Database other(yard.toStdString() + "/yard.db", SQLite::OPEN_READWRITE);
        SQLite::Statement reading(other, "SELECT name FROM rider");
        ASSERT_TRUE(reading.executeStep());
        EXPECT_THAT(said(), HasSubstr("The backup waits: "));
    }
    EXPECT_THAT(said(), HasSubstr("was restored"));
}

// One that lets nobody in keeps its log: only of a file that is damaged is it put aside.
TEST_F(Restoring, TakesNoLogFromAProgramThatHoldsTheRecordsAlone) {
    make();
    ASSERT_EQ(restore_at_start(yard, copy), "");
    SQLite::Database other(yard.toStdString() + "/yard.db", SQLite::OPEN_READWRITE);
    other.exec("PRAGMA locking_mode = EXCLUSIVE");
    other.exec("INSERT INTO rider(name, key) VALUES('Wick Tansley', 'w')");
    EXPECT_THAT(put_restored(QDir(yard)).toStdString(), HasSubstr("The backup waits: "));
    EXPECT_TRUE(QDir(yard).entryList({"yard.db.replaced-*"}).isEmpty());
    EXPECT_EQ(other.execAndGet("SELECT count(*) FROM rider").getInt(), static_cast<int>(riders) + 2);
}

TEST_F(Restoring, TheOldLogNeverMeetsTheNewRecords) {
    make();
    // Killed with its log unread: what was written last stands in the log alone.
    if (const pid_t child = fork(); child == 0) {
        SQLite::Database db(yard.toStdString() + "/yard.db", SQLite::OPEN_READWRITE);
        db.exec("INSERT INTO rider(name, key) VALUES('Wick Tansley', 'w')");
        _exit(db.execAndGet("SELECT count(*) FROM rider").getInt() > 0 ? 0 : 1);
    } else {
        waitpid(child, nullptr, 0);
    }
    ASSERT_TRUE(QFile::exists(yard + "/yard.db-wal"));
    ASSERT_EQ(restore_at_start(yard, copy), "");
    EXPECT_THAT(said(), HasSubstr("was restored"));
    EXPECT_EQ(now(), riders);
    const auto kept = QDir(yard).entryList({"yard.db.replaced-*"});
    ASSERT_EQ(kept.size(), 1);
    SQLite::Database before((yard + "/" + kept[0]).toStdString());
    EXPECT_EQ(before.execAndGet("SELECT count(*) FROM rider").getInt(), static_cast<int>(riders) + 2)
        << "what the log held is in the kept file";
}

class RestoringBelow : public Restoring, public testing::WithParamInterface<std::string> {};
TEST_P(RestoringBelow, AnyNameOfAFolder) {
    make(GetParam());
    ASSERT_EQ(restore_at_start(yard, copy), "");
    EXPECT_THAT(said(), HasSubstr("was restored"));
    EXPECT_EQ(now(), riders);
}
INSTANTIATE_TEST_SUITE_P(Names, RestoringBelow,
                         testing::Values("a # b", "what?", "%41", "two  spaces", "Gest\xC3\xBCt", "a;b'c\"d",
                                         std::string(200, 'x')));

// Who is who goes by the card's key: a name and a number may both have changed since.
TEST_F(Restoring, AWithdrawalHoldsThoughTheRiderWasRenamed) {
    make();
    store::RiderId who;
    {
        Yard y(yard, shipped_knowledge());
        y.set_clock(test::noon_of(QDate(2026, 11, 25)));
        who = add_rider(y, test::rider("Bram Oddleif", 2014, "hunter"));
        give_consent(y, {{}, who, "page", "Ada Marrable", "2026-01-01", "2026-12-31"});
        back_up(y, copy);
        store::Rider card = *y.records().people.rider(who);
        card.name = "Bram Oddleif-Fenn";
        change_rider(y, card);
        withdraw_consent(y, y.records().leaving.consents_of(who).at(0));
    }
    ASSERT_EQ(restore_at_start(yard, copy), "");
    Yard again(yard, shipped_knowledge());
    ASSERT_EQ(again.records().people.rider(who)->name, "Bram Oddleif");
    const auto consents = again.records().leaving.consents_of(who);
    ASSERT_EQ(consents.size(), 1U);
    EXPECT_EQ(consents[0].withdrawn_on, "2026-11-25");
}

TEST_F(Restoring, WhoGotTheNumberAnewGetsNeitherConsentNorLog) {
    make();
    store::RiderId gone, next;
    {
        Yard y(yard, shipped_knowledge());
        y.set_clock(test::noon_of(QDate(2026, 11, 25)));
        gone = add_rider(y, test::rider("Bram Oddleif", 2014, "hunter"));
        back_up(y, copy);
        delete_for_good(y, gone);
        next = add_rider(y, test::rider("Bram Oddleif", 2014, "hunter"));
        ASSERT_EQ(next, gone) << "the number is given anew, and even the name is the same";
        give_consent(y, {{}, next, "page", "Ada Marrable", "2026-01-01", "2026-12-31"});
    }
    ASSERT_EQ(restore_at_start(yard, copy), "");
    Yard again(yard, shipped_knowledge());
    EXPECT_TRUE(again.records().leaving.consents_of(gone).empty());
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
    EXPECT_EQ(opened.records().people.riders().size(), 4U);
    EXPECT_FALSE(QFile::exists(yard + "/yard.db.to-restore"));
    EXPECT_EQ(QFile::permissions(yard) & (QFile::ReadGroup | QFile::ReadOther), QFile::Permissions())
        << "the folder is private";
}

}  // namespace
}  // namespace aspen::app
