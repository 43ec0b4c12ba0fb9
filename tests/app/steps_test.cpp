// One undo step is one transaction: back and forth to the byte, whatever is refused or killed in between.

#include <gmock/gmock.h>
#include <sqlite3.h>

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
    std::string dump() { return test::dump_of(test::to_write(yard)); }
    test::TempFolder folder;
    Yard yard;
};

/// Lets SQLite itself break off after a while, as a full disk or a signal would.
class BreakOff {
  public:
    BreakOff(Yard& yard, int after_steps) : db_(test::to_write(yard).database().raw().getHandle()) {
        sqlite3_progress_handler(
            db_, after_steps, [](void*) { return 1; }, nullptr);
    }
    ~BreakOff() { sqlite3_progress_handler(db_, 0, nullptr, nullptr); }

  private:
    sqlite3* db_;
};

TEST_F(Steps, RandomOnesLeadBackToTheBottomAndUpToTheTop) {
    for (unsigned seed = 1; seed <= 4; ++seed) {
        yard.steps().forget();
        std::mt19937 engine(seed);
        const std::string bottom = dump();
        std::vector<std::string> after;  // the records as they were after every step that counts
        int refused = 0;
        for (int i = 0; i < 200; ++i) {
            const std::string before = dump();
            const int steps = yard.steps().stack().count();
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
                ASSERT_EQ(yard.steps().stack().count(), steps)
                    << "what was refused cannot be taken back either";
                ASSERT_EQ(std::string(e.what()).find('\n'), std::string::npos);
            }
            const int now = yard.steps().stack().count();
            if (now > steps)
                after.push_back(dump());
            else if (!after.empty() && dump() != before)
                after.back() = dump();  // merged into the step before
        }
        EXPECT_GT(refused, 10);
        ASSERT_GT(after.size(), 60U);
        for (std::size_t i = after.size(); i-- > 0;) {
            ASSERT_EQ(dump(), after[i]) << "seed " << seed << ", step " << i << " back";
            ASSERT_TRUE(yard.steps().undo().startsWith("Taken back"));
        }
        ASSERT_EQ(dump(), bottom);
        EXPECT_EQ(yard.steps().undo(), "There is nothing to take back.");
        for (std::size_t i = 0; i < after.size(); ++i) {
            const std::string what = yard.steps().stack().redoText().toStdString();
            const QString line = yard.steps().redo();
            ASSERT_TRUE(line.startsWith("Done again"))
                << line.toStdString() << ": " << what << ", seed " << seed << ", step " << i;
            ASSERT_EQ(dump(), after[i]) << "seed " << seed << ", step " << i << " again";
        }
    }
}

TEST_F(Steps, IdsAreAnnouncedAfterTheCommitAndOnce) {
    const store::ClipId clip = yard.records().rides.clips()[0].id;
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
    EXPECT_EQ(yard.steps().taken(), QStringList{"Three moments"});
    yard.steps().undo();
    EXPECT_EQ(announced, 2);
}

TEST_F(Steps, AListenerThatFailsTakesNothingBack) {
    QString said;
    QObject::connect(&yard, &Yard::trouble, [&](const QString& line) { said = line; });
    QObject::connect(&yard, &Yard::riders_changed, [] { throw core::Refused("record: could not be read"); });
    EXPECT_NO_THROW(add_rider(yard, test::rider("Pell Marrow", 1970, "gaited")));
    EXPECT_EQ(said, "record: could not be read");
    EXPECT_EQ(yard.records().people.riders().size(), 5U);
}

TEST_F(Steps, PuttingBackIsAStepLikeAnyOther) {
    const store::ClipId clip = yard.records().rides.clips()[0].id;
    trash_clip(yard, clip);
    put_back(yard, clip);
    yard.steps().undo();
    EXPECT_TRUE(yard.records().rides.clip(clip)->trashed);
    yard.steps().undo();
    EXPECT_FALSE(yard.records().rides.clip(clip)->trashed);
    yard.steps().redo();
    yard.steps().redo();
    EXPECT_FALSE(yard.records().rides.clip(clip)->trashed) << "and never meets itself";
}

}  // namespace
}  // namespace aspen::app
