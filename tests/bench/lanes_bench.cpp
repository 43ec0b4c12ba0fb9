// How long a rider's lanes take to read: 300 rides, 900 moments, two corrections; and a picture of them.
//   lanes_bench     figures on standard output, for docs/performance.md

#include <fmt/format.h>

#include <QApplication>
#include <QElapsedTimer>
#include <algorithm>

#include "app/rides/lanes.hpp"
#include "app/yard_fixture.hpp"
#include "ui/progress/lanes_widget.hpp"
#include "ui/shared/theme.hpp"

namespace {

using namespace aspen;

class Years : public app::YardTest {
  public:
    void TestBody() override {}
    std::vector<app::Lane> lanes() {
        return app::lanes_of(yard.records(), yard.knowledge(), rider, yard.today_iso());
    }
    std::vector<app::Lane> again() {
        if (!read_) read_ = app::read_years(yard.records(), yard.knowledge(), rider);
        return app::lanes_of(yard.records(), yard.knowledge(), rider, yard.today_iso(), *read_);
    }
    void fill() {
        add_clip("seed", "2016-01-01");
        yard.quietly([&] {
            for (int i = 0; i < 300; ++i) {
                const std::string day = QDate(2016, 1, 2).addDays(13 * i).toString(Qt::ISODate).toStdString();
                const store::Clip clip = add_clip(("years" + std::to_string(i)).c_str(), day.c_str());
                for (const int frame : {10, 40, 70}) add_leg(clip, frame, 45 - i / 8.0);
                if (i == 0)
                    app::prescribe(yard, test::ride_of(yard, clip.id), {"lower_leg_back", app::kTrotRight},
                                   {{"lower_leg_back", app::kTrotRight}, {"tipped_forward", app::kTrotRight}},
                                   *yard.knowledge().exercises.find("two_point_walk_trot"));
            }
        });
    }
    app::Yard& its_yard() { return yard; }

  private:
    std::shared_ptr<const app::RiddenYears> read_;
};

template <typename Work>
double median_ms(int times, Work work) {
    std::vector<double> all;
    for (int i = 0; i < times; ++i) {
        QElapsedTimer clock;
        clock.start();
        work();
        all.push_back(static_cast<double>(clock.nsecsElapsed()) / 1e6);
    }
    std::ranges::sort(all);
    return all[all.size() / 2];
}

}  // namespace

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    ui::load_fonts();
    ui::apply_theme(application, ui::ThemeChoice::light);
    Years years;
    years.fill();
    std::vector<app::Lane> lanes;
    fmt::print("lanes read: {:.0f} ms\n", median_ms(9, [&] { lanes = years.lanes(); }));
    fmt::print("put together again after a decision: {:.0f} ms\n",
               median_ms(9, [&] { lanes = years.again(); }));
    app::Thumbs thumbs(years.its_yard());
    ui::TimeAxis axis;
    axis.set_whole(ui::TimeAxis::days(QString("2016-01-01")), ui::TimeAxis::days(QString("2026-11-24")));
    ui::Lanes widget(axis, thumbs);
    widget.resize(1060, 600);
    while (lanes.size() < 4) lanes.push_back(lanes.front());
    widget.show_lanes(lanes, ui::TimeAxis::days(QString("2026-11-24")));
    fmt::print("four lanes of 300 rides painted: {:.1f} ms\n", median_ms(15, [&] {
                   axis.zoom(1.01, 600);
                   widget.grab();
               }));
    return 0;
}
