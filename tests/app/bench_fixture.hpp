#pragma once

#include <gmock/gmock.h>

#include <QCoreApplication>
#include <QElapsedTimer>
#include <functional>

#include "app/bench.hpp"
#include "app/data_files.hpp"
#include "app/importer.hpp"
#include "support/support.hpp"

namespace aspen::app {

/// A yard of its own with one simulated clip, and its bench.
class BenchTest : public testing::Test {
  protected:
    BenchTest() : yard(QString::fromStdString((folder / "yard").string()), shipped_knowledge()), bench(yard) {
        yard.set_today(QDate(2026, 11, 24));
        source = test::simulated_clip(test::faulty_plan(), "bench");
        Importer importer(yard);
        bool known = false;
        clip = importer.record(look_at(QString::fromStdString(source.string())), known);
        QObject::connect(&bench, &Bench::trouble, [this](const QString& line) { lines << line; });
    }
    bool wait_for(const std::function<bool()>& there, int ms = 20000) {
        QElapsedTimer clock;
        clock.start();
        while (!there() && clock.elapsed() < ms) QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
        return there();
    }
    void open() {
        bench.open(clip);
        ASSERT_TRUE(wait_for([&] { return bench.ready() && bench.picture_is_current(); }));
    }
    void go_to(int frame) {
        bench.go_to(frame);
        ASSERT_TRUE(wait_for([&] { return bench.picture_is_current(); }));
    }
    void say_everything() {
        store::ClipContext c = bench.clip().context;
        c.rider = yard.add_rider({{}, "Joss Penhallow", 2012, "hunter", "novice", "", "", "", "", ""});
        c.horse = yard.add_horse({{}, "Fig", 157, ""});
        c.school = "hunter";
        c.gait = core::Gait::trot;
        c.seat = core::Seat::rising;
        c.travel = core::Travel::right;
        bench.set_context(c, "everything");
    }
    void mark_all_asked() {
        const core::Figure truth = test::true_figure(source, bench.frame());
        while (bench.asked()) bench.place(truth[*bench.asked()].at, 1.0);
    }

    test::TempFolder folder;
    Yard yard;
    Bench bench;
    std::filesystem::path source;
    store::ClipId clip;
    QStringList lines;
};

}  // namespace aspen::app
