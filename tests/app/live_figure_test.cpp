// The rider's figure in a live picture: read beside it, near the truth, between two readings where none was;
// nothing where nobody rides or the machine does not keep up.

#include <gmock/gmock.h>

#include "app/lesson/live_figure.hpp"
#include "app/review/figure_maker.hpp"
#include "app/yard_fixture.hpp"
#include "core/body/geometry.hpp"
#include "simulate/clip_maker.hpp"
#include "support/support.hpp"
#include "support/wait_for.hpp"

namespace aspen::app {
namespace {

using L = core::Landmark;
using test::wait_for;

class Live : public testing::Test {
  protected:
    void SetUp() override {
        if (!FigureMaker::has_model())
            GTEST_SKIP() << "the body-pose network is not there (./aspen setup fetches it)";
        QObject::connect(&figure, &LiveFigure::read, &figure, [this](qint64) { ++readings; });
    }
    static simulate::ClipPlan ride_of_demo() {
        auto plan = test::faulty_plan();
        plan.camera.fps = 30;
        return plan;
    }
    QImage picture(qint64 at_ms) const {
        const double t = static_cast<double>(at_ms) / 1000;
        return simulate::paint_frame(plan, arena, simulate::projection_at(plan, ride, t), ride.at(t));
    }
    core::Point truth(const char* joint, qint64 at_ms) const {
        const double t = static_cast<double>(at_ms) / 1000;
        const auto p = simulate::projection_at(plan, ride, t).display(ride.at(t).rider_right.at(joint));
        return {p.x(), p.y()};
    }
    bool read(qint64 at_ms, const QImage& image) {
        const int before = readings;
        figure.push(image, at_ms);
        return wait_for([&] { return readings > before; });
    }
    bool read(qint64 at_ms) { return read(at_ms, picture(at_ms)); }

    simulate::ClipPlan plan = ride_of_demo();
    simulate::Simulation ride{plan.ride};
    simulate::ArenaPainter arena{plan.camera, plan.ride.seed};
    LiveFigure figure;
    int readings = 0;
};

TEST_F(Live, IsNearTheRiderAndLiesBetweenTwoReadings) {
    for (qint64 at = 1000; at <= 1600; at += 200) ASSERT_TRUE(read(at));
    const auto on = figure.at(1200), between = figure.at(1300);
    ASSERT_TRUE(on && between);
    const double trunk = core::distance(truth("shoulder", 1200), truth("hip", 1200));
    EXPECT_LT(core::distance((*on)[L::shoulder].at, truth("shoulder", 1200)), 0.25 * trunk);
    EXPECT_LT(core::distance((*on)[L::hip].at, truth("hip", 1200)), 0.35 * trunk);
    const auto after = figure.at(1400);
    ASSERT_TRUE(after);
    EXPECT_NEAR((*between)[L::shoulder].at.x, ((*on)[L::shoulder].at.x + (*after)[L::shoulder].at.x) / 2,
                1e-6);
    EXPECT_EQ((*on)[L::shoulder].origin, core::Origin::proposed);
    EXPECT_FALSE((*on)[L::shoulder].confirmed) << "to be looked at; it counts for nothing";
    EXPECT_FALSE(figure.at(1700)) << "the next was not read yet";
    EXPECT_FALSE(figure.at(900));
    figure.clear();
    EXPECT_FALSE(figure.at(1200));
}

TEST_F(Live, ReadingsFarApartSayNothingBetween) {
    ASSERT_TRUE(read(1000));
    ASSERT_TRUE(read(1600));
    EXPECT_TRUE(figure.at(1000));
    EXPECT_FALSE(figure.at(1300)) << "a stride went by";
}

TEST_F(Live, WhereNobodyRidesThereIsNoFigure) {
    QImage grass(640, 360, QImage::Format_RGB32);
    grass.fill(QColor(96, 120, 70));
    ASSERT_TRUE(read(1000, grass));
    EXPECT_FALSE(figure.at(1000));
    ASSERT_TRUE(read(1200)) << "whoever rides in is found then";
    EXPECT_TRUE(figure.at(1200));
}

TEST_F(Live, OneReadingThatSawNobodyTakesNoFigureAway) {
    QImage grass(plan.camera.width, plan.camera.height, QImage::Format_RGB32);
    grass.fill(QColor(96, 120, 70));
    ASSERT_TRUE(read(1000));
    ASSERT_TRUE(read(1150, grass));
    ASSERT_TRUE(read(1300));
    ASSERT_TRUE(figure.at(1150)) << "between the ones before and after";
    const core::Point before = (*figure.at(1000))[L::shoulder].at, after = (*figure.at(1300))[L::shoulder].at;
    EXPECT_NEAR((*figure.at(1150))[L::shoulder].at.x, (before.x + after.x) / 2, 1e-6);
}

TEST_F(Live, KeepsUpOrSaysThatItDoesNot) {
    for (qint64 at = 0; at <= 4000; at += 250) ASSERT_TRUE(read(at));
    EXPECT_NEAR(figure.per_second(), 4, 0.4);
    EXPECT_FALSE(figure.keeps_up());
    figure.clear();
    EXPECT_TRUE(figure.keeps_up()) << "nobody knows yet";
    for (qint64 at = 5000; at <= 9000; at += 125) ASSERT_TRUE(read(at));
    EXPECT_NEAR(figure.per_second(), 8, 0.5);
    EXPECT_TRUE(figure.keeps_up());
}

TEST_F(Live, APictureThatComesWhileOneIsReadIsLeftOut) {
    for (int i = 0; i < 5; ++i) figure.push(picture(1000 + 40 * i), 1000 + 40 * i);
    ASSERT_TRUE(wait_for([&] { return readings == 1; }));
    EXPECT_TRUE(figure.at(1000));
    ASSERT_TRUE(read(1240));
    EXPECT_EQ(readings, 2);
}

TEST(ALiveFigureWithoutANetwork, SaysItOnceAndReadsNothing) {
    const QByteArray was = qgetenv("ASPEN_MODELS");
    test::TempFolder empty;
    qputenv("ASPEN_MODELS", QByteArray::fromStdString(empty.path().string()));
    {
        LiveFigure figure;
        QStringList said;
        QObject::connect(&figure, &LiveFigure::trouble, &figure, [&](const QString& line) { said << line; });
        figure.push(QImage(64, 64, QImage::Format_RGB32), 0);
        ASSERT_TRUE(wait_for([&] { return !said.isEmpty(); }));
        figure.push(QImage(64, 64, QImage::Format_RGB32), 100);
        EXPECT_EQ(said.size(), 1);
        EXPECT_EQ(said[0].count('\n'), 0);
    }
    was.isNull() ? qunsetenv("ASPEN_MODELS") : qputenv("ASPEN_MODELS", was);
}

}  // namespace
}  // namespace aspen::app
