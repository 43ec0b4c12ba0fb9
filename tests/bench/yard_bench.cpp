// What a yard of twenty years costs: yard_bench FOLDER, a folder that make_yard has filled. Prints one line a
// thing, median and longest of several runs, in milliseconds.

#include <QApplication>
#include <QElapsedTimer>
#include <QListView>
#include <QPainter>
#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <functional>
#include <string>

#include "app/files/data_files.hpp"
#include "app/rides/lanes.hpp"
#include "app/yard/changes.hpp"
#include "core/reading/refused.hpp"
#include "ui/main_window.hpp"
#include "ui/shared/theme.hpp"
#include "ui/yard/yard_view.hpp"

using namespace aspen;

namespace {

void measure(const char* what, int runs, const std::function<void(int)>& work) {
    std::vector<double> ms;
    for (int i = 0; i < runs; ++i) {
        QElapsedTimer clock;
        clock.start();
        work(i);
        ms.push_back(static_cast<double>(clock.nsecsElapsed()) / 1e6);
    }
    std::ranges::sort(ms);
    std::printf("%-52s %8.1f %8.1f\n", what, ms[ms.size() / 2], ms.back());
    std::fflush(stdout);
}

double megabytes() {
    std::ifstream in("/proc/self/status");
    std::string line;
    while (std::getline(in, line)) {
        if (line.starts_with("VmRSS:")) return std::stod(line.substr(6)) / 1024;
    }
    return 0;
}

void settle(int ms) {
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < ms) QApplication::processEvents(QEventLoop::AllEvents, 10);
}

}  // namespace

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    if (argc < 2) return 2;
    ui::load_fonts();
    ui::apply_theme(application, ui::ThemeChoice::light);
    const QString folder = argv[1];
    const QString empty = folder + "-empty";
    {
        app::Yard yard(empty, app::shipped_knowledge());
        ui::MainWindow window(yard);
        window.show();
        settle(500);
    }
    const double before = megabytes();
    std::printf("%-52s %8s %8s\n", "", "median", "longest");
    std::unique_ptr<app::Yard> yard;
    std::unique_ptr<ui::MainWindow> window;
    measure("opening the yard and its window, painted", 3, [&](int) {
        window.reset();
        yard.reset();
        yard = std::make_unique<app::Yard>(folder, app::shipped_knowledge());
        window = std::make_unique<ui::MainWindow>(*yard);
        window->resize(1280, 800);
        window->show();
        window->grab();
    });
    settle(500);
    const store::YardStore& records = yard->records();
    QListView& rides = window->the<YardView>().rides();
    QImage page(rides.viewport()->size(), QImage::Format_RGB32);
    measure("a page of the list painted", 30, [&](int i) {
        rides.scrollTo(rides.model()->index(i % rides.model()->rowCount(), 0),
                       QAbstractItemView::PositionAtTop);
        QPainter p(&page);
        rides.viewport()->render(&p);
    });
    measure("the list read anew after a change", 10, [&](int) { window->the<YardView>().model().refresh(); });
    const auto riders = records.people.riders();
    measure("a rider's progress", 20, [&](int i) {
        app::lanes_of(yard->records(), yard->knowledge(),
                      riders[static_cast<std::size_t>(i) % riders.size()].id, yard->today_iso());
    });
    for (const char* words : {"leg", "leg slid back", "rider 017 leg", "2019-06", "horse 4", "corner"}) {
        measure((std::string("search: ") + words).c_str(), 10, [&](int) { records.search.places(words); });
    }
    const auto done = records.rides.done(0, 30);
    app::Bench& bench = window->bench();
    measure("opening a ride (records, figure, findings)", 20,
            [&](int i) { bench.review().open(done[static_cast<std::size_t>(i)].first.id); });
    const auto moments = records.reviews.moments(done[0].first.id);
    bench.review().open(done[0].first.id);
    core::Mark mark = moments[0].figure[core::Landmark::heel];
    const auto settled = [&] { QApplication::sendPostedEvents(); };
    measure("a joint moved, to the screen", 50, [&](int) {
        auto now = records.reviews.moments(done[0].first.id)[0];
        mark.at.x += 1;
        app::put_mark(*yard, now, core::Landmark::heel, mark);
        settled();
    });
    measure("the same taken back", 50, [&](int) {
        yard->steps().undo();
        settled();
    });
    measure("figures of a rider, for limb lengths", 10,
            [&](int i) { records.reviews.figures_of(riders[static_cast<std::size_t>(i)].id); });
    measure("figures the program placed, for a proposal", 10, [&](int) { records.reviews.placed_figures(); });
    measure("a backup", 3, [&](int) { app::back_up(*yard, folder + "-copy.aspen-yard"); });
    std::printf("%-52s %8.1f\n", "memory above an empty yard, megabytes", megabytes() - before);
}
