// The demo yard: five riders, their reviews computed from painted clips through the same way as any other.

#include "app/demo/demo_yard.hpp"

#include <gmock/gmock.h>

#include <QCoreApplication>
#include <QDir>
#include <map>

#include "app/files/data_files.hpp"
#include "app/rides/lanes.hpp"
#include "app/rides/stride_values.hpp"
#include "support/support.hpp"
#include "support/wait_for.hpp"

namespace aspen::app {
namespace {

using test::wait_for;

TEST(DemoPlan, HasFiveRidersWithThreeToSixReviewsAndFewFrames) {
    std::map<std::string, int> reviews;
    double frames = 0;
    for (const DemoReview& r : demo_reviews()) {
        if (r.reviewed) ++reviews[r.rider];
        frames += r.plan.duration_s * r.plan.camera.fps;
        EXPECT_GE(r.plan.duration_s, 4);
        EXPECT_LE(r.plan.duration_s, 6);
    }
    EXPECT_EQ(reviews.size(), 5U);
    for (const auto& [rider, n] : reviews) {
        EXPECT_GE(n, 3) << rider;
        EXPECT_LE(n, 6) << rider;
    }
    EXPECT_LE(frames, 3000);
    EXPECT_FALSE(demo_reviews().front().reviewed) << "something to do comes first";
}

TEST(DemoClicks, AreTheTruthPlusTwoPixelsOfNoise) {
    std::map<std::string, simulate::TruePoint> truth;
    for (const core::Landmark l : core::landmarks_of(core::View::side))
        truth[std::string(core::id(l))] = {600, 300, l == core::Landmark::bit};
    double squares = 0;
    int n = 0;
    for (unsigned seed = 0; seed < 200; ++seed) {
        const core::Figure f = clicked_figure(truth, core::View::side, 2.0, seed);
        EXPECT_EQ(f[core::Landmark::bit].visibility, core::Visibility::hidden);
        for (const core::Landmark l : core::landmarks_of(core::View::side)) {
            squares += std::pow(f[l].at.x - 600, 2) + std::pow(f[l].at.y - 300, 2);
            n += 2;
        }
    }
    EXPECT_NEAR(std::sqrt(squares / n), 2.0, 0.05);
    EXPECT_EQ(clicked_figure(truth, core::View::side, 2, 5), clicked_figure(truth, core::View::side, 2, 5));
}

/// A measure over the strides of a painted clip, from the truth of every frame.
std::optional<double> true_strides(Yard& yard, const store::Clip& clip, const std::string& measure) {
    const core::Stretches stretches = yard.records().stretches(clip.id);
    const store::Ride ride = *yard.records().ride(yard.records().places(clip.id).front().ride);
    core::Tracks tracks;
    for (int n = 0; n < clip.frames; ++n) {
        const double t = clip.duration_s * n / clip.frames;
        const core::Figure f = test::true_figure(yard.file_of(clip).toStdString(), n);
        for (const core::Landmark l : core::landmarks_of(core::View::side)) {
            if (f[l].visibility == core::Visibility::seen) tracks.points.push_back({n, t, l, f[l].at});
        }
    }
    const core::MotionSetting in = motion_setting(RiddenIn(yard.records(), yard.knowledge(), ride), stretches,
                                                  0, 0, yard.records().events_in(clip.id), {1280, 720}, 100);
    const auto report = core::motion_of(tracks, in, yard.knowledge().body, yard.knowledge().schools);
    const core::MotionMeasure* m = core::find(report, measure);
    return m ? m->value : std::nullopt;
}

TEST(DemoYard, IsMadeInTheBackgroundResumesAndComesOutTheSame) {
    const test::TempFolder folder;
    const QString place = QString::fromStdString(folder.path().string());
    std::vector<DemoReview> few;
    for (const DemoReview& r : demo_reviews()) {
        const std::string rider = r.rider;
        if (r.reviewed && (rider == "Joss Penhallow" || rider == "Bram Oddleif")) few.push_back(r);
    }
    int before_stop = 0;
    {
        Yard yard(place, shipped_knowledge());
        DemoYard demo(yard, few);
        QObject::connect(&demo, &DemoYard::progress, [&](int done, int) { before_stop = done; });
        demo.start();
        EXPECT_EQ(yard.records().riders().size(), 5U) << "the riders are there at once";
        ASSERT_TRUE(wait_for([&] { return before_stop >= 3; }, 600000));
    }  // stopped in the middle of the next clip
    Yard yard(place, shipped_knowledge());
    const auto kept = yard.records().clips().size();
    EXPECT_GE(kept, 3U);
    EXPECT_LT(kept, few.size());
    bool finished = false;
    QString trouble;
    DemoYard demo(yard, few);
    QObject::connect(&demo, &DemoYard::finished, [&] { finished = true; });
    QObject::connect(&demo, &DemoYard::failed, [&](const QString& line) { trouble = line; });
    demo.start();
    ASSERT_TRUE(wait_for([&] { return finished || !trouble.isEmpty(); }, 600000)) << trouble.toStdString();
    EXPECT_EQ(yard.records().clips().size(), few.size()) << "none twice, none lost";
    EXPECT_EQ(yard.undo_stack().count(), 0) << "nothing of it can be taken back by mistake";
    EXPECT_TRUE(QDir(place + "/clips").entryList({".*.part"}, QDir::Files | QDir::Hidden).isEmpty());

    // The lanes against the truth of the painted clips: every value within four of its errors.
    int compared = 0, over_strides = 0;
    for (const store::Rider& rider : yard.records().riders()) {
        for (const Lane& lane : lanes_of(yard.records(), yard.knowledge(), rider.id, yard.today_iso())) {
            for (const LanePoint& point : lane.points) {
                const auto clip = *yard.records().clip(point.clip);
                if (core::stride_measure(lane.measure->id)) {
                    const auto wanted = true_strides(yard, clip, std::string(lane.measure->id));
                    ASSERT_TRUE(wanted) << rider.name << ' ' << lane.fault->id;
                    EXPECT_NEAR(point.value.value, *wanted, 4 * point.value.sd)
                        << rider.name << ' ' << lane.fault->id;
                    ++over_strides;
                    continue;
                }
                double sum = 0;
                const auto moments = yard.records().moments(point.clip);
                for (const store::Moment& m : moments) {
                    core::Figure truth = test::true_figure(yard.file_of(clip).toStdString(), m.frame);
                    for (const core::Measured& measured : core::measure(truth, yard.knowledge().body)) {
                        if (measured.info == lane.measure) sum += *measured.value;
                    }
                }
                EXPECT_NEAR(point.value.value, sum / static_cast<double>(moments.size()), 4 * point.value.sd)
                    << rider.name << ' ' << lane.fault->id;
                ++compared;
            }
        }
        const auto lanes = lanes_of(yard.records(), yard.knowledge(), rider.id, yard.today_iso());
        if (rider.name == "Joss Penhallow") {
            ASSERT_FALSE(lanes.empty());
            EXPECT_EQ(lanes[0].fault->id, "lower_leg_back");
            EXPECT_TRUE(lanes[0].correction.focus);
            EXPECT_EQ(lanes[0].points.size(), 5U);
            EXPECT_GT(lanes[0].points.back().value.value, lanes[0].points.front().value.value + 10)
                << "the leg came under the hip";
            EXPECT_FALSE(lanes[0].prescriptions.empty());
        }
        if (rider.name == "Bram Oddleif") {
            ASSERT_FALSE(lanes.empty());
            EXPECT_EQ(lanes[0].fault->id, "lower_leg_forward")
                << "a leg ahead; that the seat is back too the demo does not mark";
            EXPECT_EQ(lanes[0].stage, core::Stage::in_work);
        }
    }
    EXPECT_GT(over_strides, 0) << "the ride with the swinging leg";
    EXPECT_GT(compared, 10);
}

}  // namespace
}  // namespace aspen::app
