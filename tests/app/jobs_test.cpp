#include "app/jobs/jobs.hpp"

#include <gmock/gmock.h>

#include <QAbstractItemModelTester>
#include <QCoreApplication>
#include <fstream>
#include <thread>

#include "app/bench_fixture.hpp"
#include "app/models/thumbs.hpp"
#include "app/review/figure_maker.hpp"
#include "core/reading/refused.hpp"
#include "media/reading/content_hash.hpp"
#include "support/wait_for.hpp"

namespace aspen::app {
namespace {

using namespace std::chrono_literals;

TEST(Jobs, HandOverOnTheOwnersThreadAndLeaveTheList) {
    Jobs jobs;
    QAbstractItemModelTester checked(&jobs);
    QObject owner;
    int got = 0;
    std::thread::id worked, handed;
    jobs.run(
        JobLane::look, "Counting", &owner,
        [&](Job& job) {
            worked = std::this_thread::get_id();
            job.progress(0.5);
            return 41 + 1;
        },
        [&](const Outcome<int>& out) {
            handed = std::this_thread::get_id();
            got = *out.value;
        });
    EXPECT_EQ(jobs.rowCount(), 1);
    EXPECT_TRUE(jobs.index(0).data().toString().startsWith("Counting"));
    ASSERT_TRUE(wait_for([&] { return got == 42; }));
    EXPECT_EQ(handed, std::this_thread::get_id());
    EXPECT_NE(worked, handed);
    EXPECT_EQ(jobs.rowCount(), 0);
}

TEST(Jobs, APanicIsOneLineAndNotTheEnd) {
    Jobs jobs;
    QObject owner;
    QStringList lines;
    const auto note = [&](const Outcome<int>& out) { lines << out.trouble; };
    jobs.run(
        JobLane::look, "First", &owner, [](Job&) -> int { throw core::Refused("a.mp4: no such file"); },
        note);
    jobs.run(
        JobLane::look, "Second", &owner, [](Job&) -> int { throw std::bad_alloc(); }, note);
    jobs.run(
        JobLane::look, "Third", &owner, [](Job&) -> int { throw 7; }, note);
    ASSERT_TRUE(wait_for([&] { return lines.size() == 3; }));
    EXPECT_EQ(lines[0], "a.mp4: no such file");
    EXPECT_TRUE(lines[1].startsWith("Second: failed"));
    EXPECT_TRUE(lines[2].startsWith("Third: failed"));
    for (const QString& l : lines) EXPECT_FALSE(l.contains('\n'));
}

TEST(Jobs, NothingIsHandedToWhoIsGoneOrStopped) {
    Jobs jobs;
    auto owner = std::make_unique<QObject>();
    QObject other;
    std::atomic<bool> go{false};
    int handed = 0;
    const auto wait = [&](Job& job) {
        while (!go && !job.stopped()) std::this_thread::sleep_for(1ms);
        return 1;
    };
    jobs.run(JobLane::look, "Of one who goes", owner.get(), wait, [&](const Outcome<int>&) { ++handed; });
    const JobHandle stopped =
        jobs.run(JobLane::pose, "Stopped", &other, wait, [&](const Outcome<int>&) { ++handed; });
    owner.reset();
    jobs.stop(stopped->number());
    go = true;
    ASSERT_TRUE(wait_for([&] { return jobs.all_running() == 0; }));
    EXPECT_EQ(handed, 0);
}

TEST(Jobs, OfALaneRunOneAfterTheOther) {
    Jobs jobs;
    QObject owner;
    std::atomic<int> at_once{0}, most{0};
    int done = 0;
    for (int i = 0; i < 5; ++i) {
        jobs.run_quietly(
            JobLane::import, "One", &owner,
            [&](Job&) {
                most = std::max(most.load(), ++at_once);
                std::this_thread::sleep_for(2ms);
                --at_once;
                return 0;
            },
            [&](const Outcome<int>&) { ++done; });
    }
    EXPECT_EQ(jobs.rowCount(), 0) << "quiet ones are not listed";
    ASSERT_TRUE(wait_for([&] { return done == 5; }));
    EXPECT_EQ(most, 1);
}

TEST(Jobs, ClosingDoesNotWaitForeverForOneThatWillNotHear) {
    Jobs jobs;
    QObject owner;
    std::atomic<bool> let_go{false}, runs{false};
    jobs.run(
        JobLane::look, "Deaf", &owner,
        [&](Job&) {
            runs = true;
            while (!let_go) std::this_thread::sleep_for(1ms);
            return 0;
        },
        [](const Outcome<int>&) {});
    ASSERT_TRUE(wait_for([&] { return runs.load(); }));
    EXPECT_FALSE(jobs.shut_down(200)) << "it comes back though the job never ends";
    const JobHandle late = jobs.run(
        JobLane::look, "Late", &owner, [](Job&) { return 0; }, [](const Outcome<int>&) {});
    EXPECT_TRUE(late->stopped()) << "nothing starts any more";
    let_go = true;
    EXPECT_TRUE(jobs.shut_down(5000));
}

TEST(Jobs, AHashIsBrokenOffAtOnce) {
    const test::TempFolder folder;
    const auto file = folder / "large.bin";
    std::filesystem::create_directories(folder.path());
    std::ofstream(file).put('x');
    std::filesystem::resize_file(file, std::uintmax_t{4} << 30);  // sparse: four gigabytes of nothing
    std::atomic<bool> stop{false};
    std::thread meanwhile([&] { stop = true; });
    EXPECT_THROW(media::content_hash(file, {&stop, {}}), media::ReadCancelled)
        << "long before four gigabytes are read";
    meanwhile.join();
}

using JobsOfABench = BenchTest;

TEST_F(JobsOfABench, AResultReachesItsRecordThoughAnotherClipIsOpen) {
    open();
    say_everything();
    go_to(10);
    mark_all_asked();
    store::Clip other = *yard.records().rides.clip(clip);
    other.id = {};
    other.hash = "other";
    other.id = take_in_clip(yard, other);
    FigureMaker maker(bench);
    go_to(16);
    maker.carry();
    bench.open(other.id);  // the coach moves on
    ASSERT_TRUE(wait_for([&] { return yard.records().reviews.moments(clip).size() == 2; }))
        << "carried all the same";
    EXPECT_GT(yard.records().reviews.moments(clip)[1].figure.marked(), 4);
    EXPECT_TRUE(yard.records().reviews.moments(other.id).empty());
}

TEST_F(JobsOfABench, TheYardEndsWithoutWaitingForWhatRuns) {
    const auto kept = folder / "busy";
    {
        Yard busy(QString::fromStdString(kept.string()), shipped_knowledge());
        Importer importer(busy);
        QStringList files;
        const QString large = QString::fromStdString((folder / "large.mp4").string());
        ASSERT_TRUE(QFile::copy(QString::fromStdString(source.string()), large));
        std::filesystem::resize_file(large.toStdString(), std::uintmax_t{6} << 30);
        for (int i = 0; i < 20; ++i) files << large << QString::fromStdString(source.string());
        importer.bring_in(files);
        EXPECT_EQ(importer.waiting(), 40);
        ASSERT_TRUE(wait_for([&] { return busy.jobs().all_running() > 0; }));
    }
    store::YardStore after(kept / "yard.db");
    EXPECT_TRUE(after.rides.clips().empty()) << "nobody waited until six gigabytes were read";
}

}  // namespace
}  // namespace aspen::app
