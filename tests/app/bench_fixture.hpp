#pragma once

#include <gmock/gmock.h>

#include <QCoreApplication>

#include "app/files/data_files.hpp"
#include "app/review/bench.hpp"
#include "app/yard/changes.hpp"
#include "app/yard/importer.hpp"
#include "support/support.hpp"
#include "support/wait_for.hpp"

namespace aspen::app {

using test::wait_for;

/// A yard of its own with one simulated clip of 25 frames a second, and its bench.
class BenchTest : public testing::Test {
  protected:
    explicit BenchTest(double clip_s = 2)
        : yard(QString::fromStdString((folder / "yard").string()), shipped_knowledge()), bench(yard) {
        yard.set_clock(test::noon_of(QDate(2026, 11, 24)));
        simulate::ClipPlan plan = test::faulty_plan();
        plan.duration_s = clip_s;
        source = test::simulated_clip(plan, "bench-" + std::to_string(clip_s));
        Importer importer(yard);
        bool known = false;
        clip = importer.record(look_at(QString::fromStdString(source.string())), known);
        QObject::connect(&bench, &Bench::trouble, [this](const QString& line) { lines << line; });
    }
    void open() {
        bench.open(clip);
        ASSERT_TRUE(wait_for([&] { return bench.deck().ready() && bench.deck().picture_is_current(); }));
    }
    void go_to(int frame) {
        bench.deck().go_to(frame);
        ASSERT_TRUE(wait_for([&] { return bench.deck().picture_is_current(); }));
    }
    void say_everything() {
        test::Said c;
        c.rider = add_rider(yard, test::rider("Joss Penhallow", 2012, "hunter", "novice"));
        c.horse = add_horse(yard, {{}, "Fig", 157, ""});
        test::say(yard, clip, c);
    }
    void mark_all_asked() {
        const core::Figure truth = test::true_figure(source, bench.deck().frame());
        while (bench.marking().asked()) bench.marking().place(truth[*bench.marking().asked()].at, 1.0);
    }

    test::TempFolder folder;
    Yard yard;
    Bench bench;
    std::filesystem::path source;
    store::ClipId clip;
    QStringList lines;
};

}  // namespace aspen::app
