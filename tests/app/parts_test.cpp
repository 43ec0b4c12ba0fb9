// What work in the background is put together from, and text between floors.

#include <gmock/gmock.h>

#include <QAbstractItemModelTester>
#include <QEvent>
#include <atomic>
#include <numeric>
#include <stdexcept>
#include <thread>

#include "app/files/text.hpp"
#include "app/files/whole_file.hpp"
#include "app/jobs/beside.hpp"
#include "app/jobs/mail_box.hpp"
#include "app/jobs/once_later.hpp"
#include "app/models/riders_model.hpp"
#include "app/models/rides_model.hpp"
#include "app/yard_fixture.hpp"

namespace aspen::app {
namespace {

using test::run_queued;

/// Owns a mail box, as a job's owner does.
class Owner : public QObject {
  public:
    MailBox box{*this};

  protected:
    void customEvent(QEvent*) override { box.empty(); }
};

TEST(MailBox, WorkIsDoneOnTheOwnersThreadInTheOrderItCame) {
    Owner owner;
    std::vector<int> done;
    const auto here = std::this_thread::get_id();
    std::thread other([&] {
        for (int i = 0; i < 100; ++i)
            owner.box.post([&, i] {
                EXPECT_EQ(std::this_thread::get_id(), here);
                done.push_back(i);
            });
    });
    other.join();
    EXPECT_TRUE(done.empty()) << "nothing before the event loop is reached";
    run_queued();
    ASSERT_EQ(done.size(), 100U);
    EXPECT_TRUE(std::ranges::is_sorted(done));
}

TEST(MailBox, WorkMayPostWork) {
    Owner owner;
    int done = 0;
    owner.box.post([&] { owner.box.post([&] { done = 2; }), done = 1; });
    run_queued();
    EXPECT_EQ(done, 2);
}

TEST(MailBox, NothingIsDoneOnceTheOwnerIsGone) {
    int done = 0;
    {
        Owner owner;
        owner.box.post([&] { ++done; });
    }
    run_queued();
    EXPECT_EQ(done, 0);
}

TEST(OnceLater, ManyAskAndItIsDoneOnce) {
    QObject owner;
    int done = 0;
    OnceLater later(owner, [&] { ++done; });
    later(), later(), later();
    EXPECT_EQ(done, 0) << "never from within the button that made the change";
    run_queued();
    EXPECT_EQ(done, 1);
    later();
    run_queued();
    EXPECT_EQ(done, 2) << "asked anew, done anew";
}

TEST(OnceLater, AChangeThatItMakesItselfIsAskedForAgain) {
    QObject owner;
    int done = 0;
    std::function<void()> again;
    OnceLater later(owner, [&] {
        if (++done < 3) again();
    });
    again = [&] { later(); };
    later();
    run_queued();
    EXPECT_EQ(done, 3);
}

TEST(BesideEachOther, EveryOneIsDoneOnce) {
    std::vector<int> all(1000);
    std::iota(all.begin(), all.end(), 0);
    beside_each_other(all, [](int& one) { one = 2 * one + 1; });
    for (std::size_t i = 0; i < all.size(); ++i) ASSERT_EQ(all[i], static_cast<int>(2 * i + 1));
    std::vector<int> none;
    EXPECT_NO_THROW(beside_each_other(none, [](int&) { FAIL(); }));
}

TEST(BesideEachOther, WhatOneThrowsIsThrownWhenAllHaveEnded) {
    std::vector<int> all(64);
    std::iota(all.begin(), all.end(), 0);
    std::atomic<int> done{0};
    EXPECT_THROW(beside_each_other(all,
                                   [&](int& one) {
                                       if (one == 40) throw std::runtime_error("forty");
                                       ++done;
                                   }),
                 std::runtime_error);
    EXPECT_GE(done, 20) << "the others went on";
    EXPECT_LT(done, 64);
}

TEST(Text, IsUtf8BothWays) {
    EXPECT_EQ(text("Größe 3° · “so”").toStdString(), "Größe 3° · “so”");
    EXPECT_EQ(text(std::string_view("Fig and more", 3)), "Fig");
    EXPECT_TRUE(text({}).isEmpty());
}

class WholeFile : public testing::Test {
  protected:
    WholeFile() { std::filesystem::create_directories(folder.path()); }
    QString path(const char* name) const { return QString::fromStdString((folder / name).string()); }
    QStringList lie_there() const {
        return QDir(QString::fromStdString(folder.path().string())).entryList(QDir::Files | QDir::Hidden);
    }
    test::TempFolder folder;
};

TEST_F(WholeFile, HasItsNameOnlyWhenItIsWhole) {
    EXPECT_EQ(write_whole(path("a.csv"), "one,two\n"), QString());
    EXPECT_EQ(lie_there(), QStringList{"a.csv"});
    EXPECT_EQ(write_whole(path("a.csv"), "three\n"), QString());
    QFile back(path("a.csv"));
    ASSERT_TRUE(back.open(QIODevice::ReadOnly));
    EXPECT_EQ(back.readAll(), "three\n");
}

TEST_F(WholeFile, SaysInOneLineWhyNot) {
    const QString line = write_whole("/nowhere/at/all/a.csv", "one");
    EXPECT_TRUE(line.contains("/nowhere/at/all/a.csv")) << line.toStdString();
    EXPECT_FALSE(line.contains('\n'));
    QDir(QString::fromStdString(folder.path().string())).mkdir("taken");
    EXPECT_FALSE(write_whole(path("taken"), "one").isEmpty()) << "a folder is no file";
    EXPECT_TRUE(lie_there().isEmpty()) << "nothing half-written lies there";
}

/// The lists of the yard keep Qt's own rules for models through every change.
class Lists : public YardTest {};

TEST_F(Lists, RidesKeepTheRulesOfModels) {
    RidesModel rides(yard);
    const QAbstractItemModelTester tester(&rides, QAbstractItemModelTester::FailureReportingMode::Fatal);
    const store::Clip one = add_clip("aa", "2026-11-01"), two = add_clip("bb", "2026-11-20");
    rides.refresh();
    const int both = rides.rowCount();
    EXPECT_GE(both, 2);
    trash_clip(yard, two.id);
    rides.refresh();
    EXPECT_LT(rides.rowCount(), both);
    yard.steps().undo();
    rides.refresh();
    EXPECT_EQ(rides.rowCount(), both);
    set_ride_state(yard, test::ride_of(yard, one.id), store::RideState::done);
    EXPECT_NO_FATAL_FAILURE(rides.refresh());
}

TEST_F(Lists, EveryRowOfRidesSaysWhatItIs) {
    add_clip("aa", "2026-11-01");
    add_clip("bb", "2026-11-20");
    RidesModel rides(yard);
    rides.refresh();
    ASSERT_GT(rides.rowCount(), 0);
    for (int row = 0; row < rides.rowCount(); ++row) {
        const QModelIndex at = rides.index(row);
        EXPECT_FALSE(rides.data(at, RidesModel::facts_role).toString().isEmpty()) << row;
        EXPECT_FALSE(rides.data(at, Qt::AccessibleTextRole).toString().isEmpty()) << row;
    }
}

TEST_F(Lists, RidersKeepTheRulesOfModels) {
    RidersModel riders(yard);
    const QAbstractItemModelTester tester(&riders, QAbstractItemModelTester::FailureReportingMode::Fatal);
    add_clip("aa", "2026-11-01");
    ASSERT_TRUE(wait_for([&] { return riders.rowCount() == 1; }));
    const auto pell = add_rider(yard, test::rider("Pell Marrow", 1970, "gaited"));
    ASSERT_TRUE(wait_for([&] { return riders.rowCount() == 2; }));
    yard.steps().undo();
    ASSERT_TRUE(wait_for([&] { return riders.rowCount() == 1; })) << pell.value;
    EXPECT_TRUE(riders.data(riders.index(0), Qt::DisplayRole).toString().contains("Joss"));
}

}  // namespace
}  // namespace aspen::app
