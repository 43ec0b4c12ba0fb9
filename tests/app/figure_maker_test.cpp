// Figures laid, carried, pasted and mirrored on a simulated clip whose joints are known.

#include "app/review/figure_maker.hpp"

#include "app/bench_fixture.hpp"
#include "media/pose/limb_ends_network.hpp"
#include "media/pose/pose_network.hpp"

namespace aspen::app {
namespace {

using L = core::Landmark;

class FigureMakerTest : public BenchTest {
  protected:
    FigureMakerTest() : without_(qputenv("ASPEN_MODELS", "/no/such/folder")), maker(bench) {
        QObject::connect(&maker, &FigureMaker::say, [this](const QString& line) { lines << line; });
    }
    ~FigureMakerTest() override { qunsetenv("ASPEN_MODELS"); }

    core::Figure truth() { return test::true_figure(source, bench.deck().frame()); }
    double trunk(const core::Figure& t) const { return core::distance(t[L::shoulder].at, t[L::hip].at); }
    /// The helmet's top as one would click it: above the ear by what the simulator draws.
    core::Point head_top(const core::Figure& t) const {
        return {t[L::ear].at.x + 2, t[L::ear].at.y - 0.28 * trunk(t)};
    }
    void lay() {
        const core::Figure t = truth();
        maker.lay(head_top(t), t[L::heel].at, t[L::toe].at, 1);
    }
    double median_error(std::span<const L> of) {
        const core::Figure t = truth(), f = bench.marking().figure();
        std::vector<double> errors;
        for (const L l : of) {
            if (f[l].visibility != core::Visibility::absent)
                errors.push_back(core::distance(f[l].at, t[l].at) / trunk(t));
        }
        std::ranges::sort(errors);
        return errors.empty() ? 1 : errors[errors.size() / 2];
    }

    bool without_;
    FigureMaker maker;
};

TEST_F(FigureMakerTest, ThreeClicksLayAFigureAndSayTheTravelInOneStep) {
    open();
    go_to(10);
    lay();
    EXPECT_EQ(bench.review().stretch().travel, core::Travel::right) << "the toe points where the horse goes";
    EXPECT_EQ(bench.marking().figure().marked(), static_cast<int>(core::posed_landmarks().size()));
    EXPECT_LT(median_error(core::first_nine()), 0.12) << "aim: 12 % of the trunk before any correction";
    EXPECT_TRUE(lines.join(' ').contains("./aspen setup")) << "one line says what is missing";
    yard.steps().undo();
    EXPECT_TRUE(bench.review().moments().empty());
    EXPECT_EQ(bench.review().stretch().travel, core::Travel::unknown);
}

TEST_F(FigureMakerTest, WhatWasOnlyLaidJudgesNothingUntilEachJointIsConfirmed) {
    open();
    go_to(10);
    lay();
    for (const core::Judged& j : bench.marking().judged())
        EXPECT_TRUE(!j.measured.value || j.info().id == "heel_drop")
            << j.info().id << " of joints nobody confirmed";
    bench.marking().confirm();
    EXPECT_TRUE(bench.marking().has_unconfirmed()) << "what was only laid is not confirmed in one go";
    EXPECT_FALSE(core::find(bench.marking().judged(), "trunk_lean")->measured.value)
        << "a usual pose judges nothing";
    EXPECT_EQ(bench.marking().selected(), L::ear) << "they are walked from the head down";
    while (!bench.marking().waiting().empty()) bench.marking().confirm(bench.marking().waiting().front());
    EXPECT_FALSE(bench.marking().has_unconfirmed());
    EXPECT_TRUE(core::find(bench.marking().judged(), "trunk_lean")->measured.value);
    EXPECT_NEAR(bench.marking().figure()[L::hip].sd_px,
                0.03 * core::marked_trunk_px(bench.marking().figure()), 1e-6)
        << "found right in place: 3 % of the trunk";
}

TEST_F(FigureMakerTest, ADraggedJointPullsTheUnconfirmedAndIsOneStep) {
    open();
    go_to(10);
    lay();
    const core::Figure before = bench.marking().figure();
    for (int i = 1; i <= 10; ++i)
        bench.marking().drag(L::knee, {before[L::knee].at.x + i, before[L::knee].at.y - i}, 1);
    bench.marking().end_drag();
    EXPECT_TRUE(bench.marking().figure()[L::knee].confirmed);
    EXPECT_EQ(bench.marking().figure()[L::knee].origin, core::Origin::clicked);
    EXPECT_NE(bench.marking().figure()[L::ankle].at, before[L::ankle].at);
    EXPECT_EQ(bench.marking().figure()[L::heel].at, before[L::heel].at) << "clicked, so it stays";
    yard.steps().undo();
    EXPECT_EQ(bench.marking().figure(), before);
    bench.marking().drag(L::knee, {before[L::knee].at.x + 10, before[L::knee].at.y}, 1, true);
    bench.marking().end_drag();
    EXPECT_EQ(bench.marking().figure()[L::ankle].at, before[L::ankle].at) << "alone";
}

TEST_F(FigureMakerTest, JointsAreCarriedOverHalfASecond) {
    open();
    say_everything();
    bench.marking().ask_for_others(true);
    go_to(10);
    mark_all_asked();
    go_to(25);
    maker.carry();
    ASSERT_TRUE(wait_for([&] { return !maker.busy(); }));
    EXPECT_GE(bench.marking().figure().marked(), 14) << "most of the twenty";
    EXPECT_LT(median_error(core::landmarks_of(core::View::side)), 0.05) << "aim: 5 % of the trunk";
    EXPECT_EQ(bench.marking().figure()[L::shoulder].origin, core::Origin::carried);
    EXPECT_FALSE(bench.marking().figure()[L::shoulder].confirmed);
    bench.marking().confirm();
    EXPECT_TRUE(core::find(bench.marking().judged(), "trunk_lean")->measured.value);
    yard.steps().undo();
    yard.steps().undo();
    EXPECT_FALSE(bench.review().moment()) << "carrying is one step";
}

TEST_F(FigureMakerTest, CarryingBackwardsWorksAndLeavesConfirmedJoints) {
    open();
    say_everything();
    go_to(25);
    mark_all_asked();
    go_to(15);
    bench.marking().place({333, 222}, 1);  // the ear, elsewhere: the coach's word
    maker.carry();
    ASSERT_TRUE(wait_for([&] { return !maker.busy(); }));
    EXPECT_EQ(bench.marking().figure()[L::ear].at, (core::Point{333, 222}));
    EXPECT_LT(median_error(core::first_nine()), 0.05);
}

TEST_F(FigureMakerTest, WithoutAMarkedMomentItSaysSo) {
    open();
    maker.carry();
    maker.paste();
    EXPECT_EQ(lines.filter("mark one first").size(), 2);
    EXPECT_FALSE(maker.busy());
    EXPECT_FALSE(bench.review().moment());
}

TEST_F(FigureMakerTest, CarryingCanBeStopped) {
    open();
    say_everything();
    go_to(5);
    mark_all_asked();
    go_to(55);
    maker.carry();
    EXPECT_TRUE(maker.busy());
    maker.cancel();
    EXPECT_FALSE(maker.busy());
    QCoreApplication::processEvents();
    EXPECT_FALSE(bench.review().moment());
}

TEST_F(FigureMakerTest, PastedJointsWaitForTheCoach) {
    open();
    say_everything();
    go_to(10);
    mark_all_asked();
    const core::Figure there = bench.marking().figure();
    go_to(20);
    maker.paste();
    EXPECT_EQ(bench.marking().figure()[L::hip].at, there[L::hip].at);
    EXPECT_FALSE(bench.marking().figure()[L::hip].confirmed);
    EXPECT_GT(bench.marking().figure()[L::hip].sd_px, there[L::hip].sd_px);
}

TEST_F(FigureMakerTest, TheOtherReinIsMirroredOntoTheClicks) {
    open();
    say_everything();
    go_to(10);
    mark_all_asked();
    EXPECT_FALSE(maker.has_other_rein()) << "only this rein so far";
    // The same rider's clip on the other rein: this one's record, travelling left.
    store::Clip other = *yard.records().rides.clip(clip);
    other.id = {};
    other.hash = "other";
    other.id = take_in_clip(yard, other);
    test::say(yard, other.id,
              {bench.review().rider(), bench.review().horse(), "hunter", core::Gait::trot, core::Seat::rising,
               core::Travel::left});
    store::Moment m = *bench.review().moment();
    m.id = {};
    m.clip = other.id;
    m.figure = core::mirrored(bench.marking().figure(), 1280);
    add_moment(yard, m);
    ASSERT_TRUE(maker.has_other_rein());
    go_to(33);
    const core::Figure t = truth();
    maker.lay(head_top(t), t[L::heel].at, t[L::toe].at, 1, FigureMaker::Way::mirrored);
    EXPECT_LT(median_error(core::first_nine()), 0.15);
    EXPECT_FALSE(bench.marking().figure()[L::hip].confirmed);
}

void expect_refusal(const std::string& file) {
    try {
        media::PoseNetwork net(file);
        ADD_FAILURE() << file;
    } catch (const std::exception& e) {
        EXPECT_THAT(e.what(), testing::HasSubstr("./aspen setup"));
    }
}

TEST(PoseNetwork, IsMissingInOneLine) { expect_refusal("/no/such/network.onnx"); }

TEST(PoseNetwork, FindsAWalkerInTheOpenCvClip) {
    if (!FigureMaker::has_model())
        GTEST_SKIP() << "the body-pose network is not there (./aspen setup fetches it)";
    // vtest.avi of Debian's opencv-doc: the walker beyond the sign in frame 0, head and feet read off the
    // picture by eye.
    const std::string clip = "/usr/share/doc/opencv-doc/examples/data/vtest.avi";
    ASSERT_TRUE(std::filesystem::exists(clip)) << "install opencv-doc";
    media::VideoReader reader(clip);
    const media::Picture picture = reader.picture(0);
    media::PoseNetwork net(FigureMaker::model_file().toStdString());
    const core::Point top{513, 157}, heel{516, 232};
    std::vector<core::NetworkRun> runs;
    for (const core::Crop& c : core::crops_for(top, heel)) {
        for (const bool mirror : {false, true}) runs.push_back(net.run(picture, c.centre, c.side, mirror));
    }
    const core::Proposal p = core::combine(runs, core::View::rear, core::Travel::unknown, 32);
    EXPECT_TRUE(p.rider_found) << p.mean_score;
    double head = 0, feet = 0;
    for (const core::NetworkRun& r : runs) head += r.at[0].y / 6, feet += (r.at[15].y + r.at[16].y) / 12;
    EXPECT_NEAR(head, 164, 8);
    EXPECT_NEAR(feet, 226, 10);
}

// A picture seen in a mirror says the same of the other side: exact, whatever the network thinks of a walker.
TEST(LimbEndsNetwork, SaysTheSameOfAMirroredPicture) {
    if (!QFileInfo::exists(FigureMaker::ends_file()))
        GTEST_SKIP() << "the network for heel and toe is not there (./aspen setup fetches it)";
    media::VideoReader reader("/usr/share/doc/opencv-doc/examples/data/vtest.avi");
    const media::Picture plain = reader.picture(0);
    media::Picture mirrored = plain;
    // Pixel n of a row shows what was at width - n before, as the networks' own mirror does.
    for (int y = 0; y < plain.height; ++y) {
        for (int x = 1; x < plain.width; ++x) {
            const auto at = [&](int column) {
                return 4 * (static_cast<std::size_t>(y) * plain.width + column);
            };
            std::copy_n(plain.bgra.begin() + static_cast<std::ptrdiff_t>(at(plain.width - x)), 4,
                        mirrored.bgra.begin() + static_cast<std::ptrdiff_t>(at(x)));
        }
    }
    media::LimbEndsNetwork net(FigureMaker::ends_file().toStdString());
    const core::Crop crop = core::crops_for({513, 157}, {516, 232}).front();
    const auto one = net.run(plain, crop, core::Travel::right, false),
               other = net.run(mirrored, {{plain.width - crop.centre.x, crop.centre.y}, crop.side},
                               core::Travel::left, true);
    ASSERT_TRUE(one && other) << "a walker";
    const auto expect_same = [&](const media::SeenEnd& a, const media::SeenEnd& b, const char* what) {
        EXPECT_NEAR(a.at.x, plain.width - b.at.x, 2) << what;
        EXPECT_NEAR(a.at.y, b.at.y, 2) << what;
        EXPECT_NEAR(a.score, b.score, 0.1) << what;
    };
    expect_same(one->heel, other->heel, "heel");
    expect_same(one->toe, other->toe, "toe");
    expect_same(one->knuckle, other->knuckle, "knuckle");
    EXPECT_NEAR(one->toe.at.y, 230, 8) << "where the walker's feet are";
}

TEST(LimbEndsNetwork, FindsNobodyOnGrey) {
    if (!QFileInfo::exists(FigureMaker::ends_file()))
        GTEST_SKIP() << "the network for heel and toe is not there (./aspen setup fetches it)";
    media::Picture grey;
    grey.width = grey.height = 256;
    grey.bgra.assign(256 * 256 * 4, 120);
    media::LimbEndsNetwork net(FigureMaker::ends_file().toStdString());
    EXPECT_FALSE(net.run(grey, {{128, 128}, 256}, core::Travel::right, false));
}

}  // namespace
}  // namespace aspen::app
