// What the runs of the body-pose network say together, and what of it may be proposed.

#include "core/proposal/proposal.hpp"

#include <gmock/gmock.h>

#include <cmath>

#include "core/core_support.hpp"

namespace aspen::core {
namespace {

using L = Landmark;
using test::knowledge;
using test::sitting_rider;

/// A run that sees the rider's right side where the figure has it, each joint off by the same vector.
NetworkRun run_of(const Figure& f, double dx, double dy, double score = 0.8) {
    NetworkRun r;
    const std::pair<L, std::size_t> places[] = {{L::eye, 2},   {L::ear, 4},    {L::shoulder, 6},
                                                {L::elbow, 8}, {L::wrist, 10}, {L::hip, 12},
                                                {L::knee, 14}, {L::ankle, 16}};
    for (const auto& [l, i] : places) {
        r.at[i] = {f[l].at.x + dx, f[l].at.y + dy};
        r.score[i] = score;
        r.at[i - 1] = {1, 1};  // the far side, elsewhere
        r.score[i - 1] = 0.1;
    }
    return r;
}

const ProposedJoint& joint(const Proposal& p, L l) {
    return *std::ranges::find(p.joints, l, &ProposedJoint::landmark);
}

PoseFrame frame_of(const Figure& f) { return {f.travel, f.camera, typical_limbs(knowledge().body), {}}; }

TEST(Combine, TakesTheMedianAndItsSpread) {
    const Figure f = sitting_rider();
    std::vector<NetworkRun> runs;
    for (const double dx : {-2.0, -1.0, 0.0, 0.0, 1.0, 300.0}) runs.push_back(run_of(f, dx, 0));
    const Proposal p = combine(runs, View::side, Travel::right, 110);
    EXPECT_TRUE(p.rider_found);
    EXPECT_NEAR(joint(p, L::hip).at.x, f[L::hip].at.x, 1e-9) << "one wild run changes nothing";
    EXPECT_NEAR(joint(p, L::hip).spread_px, 1.0, 1e-9) << "median of 2 1 0 0 1 300";
    EXPECT_TRUE(joint(p, L::hip).sure);
}

TEST(Combine, TheNearSideGoesByTheTravel) {
    const Figure f = sitting_rider();
    const std::vector<NetworkRun> runs(6, run_of(f, 0, 0));
    EXPECT_NEAR(joint(combine(runs, View::side, Travel::right, 110), L::knee).at.x, f[L::knee].at.x, 1e-9);
    EXPECT_NEAR(joint(combine(runs, View::side, Travel::left, 110), L::knee).at.x, 1, 1e-9);
}

TEST(Combine, LowScoresAndWideSpreadsAreUnsureAndNobodyIsSaidSo) {
    const Figure f = sitting_rider();
    std::vector<NetworkRun> wide;
    for (const double dx : {-20.0, -12.0, 0.0, 3.0, 12.0, 20.0}) wide.push_back(run_of(f, dx, 0));
    EXPECT_FALSE(joint(combine(wide, View::side, Travel::right, 110), L::hip).sure)
        << "spread over 4 % of the trunk";
    EXPECT_TRUE(joint(combine(wide, View::side, Travel::right, 1000), L::hip).sure)
        << "of a trunk this long it is less";
    const std::vector<NetworkRun> low(6, run_of(f, 0, 0, 0.34));
    const Proposal doubted = combine(low, View::side, Travel::right, 110);
    EXPECT_TRUE(doubted.rider_found);
    EXPECT_FALSE(joint(doubted, L::hip).sure);
    EXPECT_FALSE(combine(std::vector<NetworkRun>(6, run_of(f, 0, 0, 0.2)), View::side, Travel::right, 110)
                     .rider_found);
    EXPECT_FALSE(combine({}, View::side, Travel::right, 110).rider_found);
}

TEST(Runs, MirroredTwiceAreTheSame) {
    const NetworkRun r = run_of(sitting_rider(), 3, 4);
    const NetworkRun once = unmirrored(r, 256), twice = unmirrored(once, 256);
    EXPECT_EQ(twice.at, r.at);
    EXPECT_EQ(twice.score, r.score);
    EXPECT_NEAR(once.at[13].x, 256 - r.at[14].x, 1e-12) << "left and right change places";
}

TEST(Crops, LieAroundTheRiderTwelveTenthsHigh) {
    const auto crops = crops_for({600, 100}, {600, 500});
    EXPECT_NEAR(crops[0].side, 480, 1e-9);
    EXPECT_NEAR(crops[0].centre.y, 300, 1e-9);
    for (const Crop& c : crops) {
        EXPECT_LT(c.centre.y - c.side / 2, 100);
        EXPECT_GT(c.centre.y + c.side / 2, 500);
    }
}

Figure three_clicks(const Figure& f) {
    Figure out;
    out.travel = f.travel;
    out[L::heel] = f[L::heel];
    out[L::toe] = f[L::toe];
    return out;
}

TEST(ProposedFigure, KeepsTheErrorOfItsSpreadAndOfItsJoint) {
    const Figure f = sitting_rider();
    std::vector<NetworkRun> runs;
    for (const double dx : {-2.0, -2.0, -2.0, 2.0, 2.0, 2.0}) runs.push_back(run_of(f, dx, 0));
    const Proposal p = combine(runs, View::side, f.travel, 110);
    const Figure out = proposed_figure(three_clicks(f), p, frame_of(f), knowledge().body,
                                       knowledge().figure_errors, {}, {600, 98});
    EXPECT_EQ(out[L::elbow].origin, Origin::proposed);
    EXPECT_FALSE(out.measurable(L::elbow)) << "judges nothing until it is confirmed";
    const Figure laid =
        laid_figure(three_clicks(f), frame_of(f), knowledge().body, knowledge().figure_errors, {600, 98});
    const double trunk = distance(laid[L::shoulder].at, laid[L::hip].at),
                 b = knowledge().figure_errors.of(Origin::proposed, L::elbow) * trunk;
    const Figure yes = confirmed(out);
    EXPECT_TRUE(yes.measurable(L::elbow));
    EXPECT_NEAR(yes[L::elbow].sd_px, std::sqrt(std::pow(2.0 / 1.18, 2) + b * b), 1e-9);
    EXPECT_GT(yes[L::elbow].sd_px, click_sd_px(1280, 720)) << "larger than a click's";
    EXPECT_EQ(yes[L::heel], f[L::heel]);
}

TEST(ProposedFigure, LeavesLaidWhatTheNetworkDoubtsAndTakesTheLegFromTheLimbs) {
    const Figure f = sitting_rider();
    std::vector<NetworkRun> runs(6, run_of(f, 0, 0));
    for (NetworkRun& r : runs) r.score[8] = r.score[14] = r.score[16] = 0.1;  // elbow, knee, ankle
    for (NetworkRun& r : runs) r.at[16] = {900, 700};                         // the ankle on a horse's leg
    const Figure out = proposed_figure(three_clicks(f), combine(runs, View::side, f.travel, 110), frame_of(f),
                                       knowledge().body, knowledge().figure_errors, {}, {600, 98});
    EXPECT_EQ(out[L::elbow].origin, Origin::laid) << "it takes nothing away";
    const Figure laid =
        laid_figure(three_clicks(f), frame_of(f), knowledge().body, knowledge().figure_errors, {600, 98});
    EXPECT_EQ(out[L::elbow].at, laid[L::elbow].at);
    EXPECT_FALSE(out[L::elbow].measurable()) << "and judges nothing";
    EXPECT_EQ(out[L::knee].origin, Origin::laid);
    EXPECT_LT(distance(out[L::ankle].at, f[L::ankle].at), 0.1 * 110) << "from the heel that was clicked";
    EXPECT_LT(distance(out[L::knee].at, f[L::knee].at), 0.2 * 110);
}

TEST(ProposedFigure, LeavesWhatTheCoachPlaced) {
    const Figure f = sitting_rider();
    Figure start = three_clicks(f);
    start[L::hip] = {{500, 300}, Visibility::seen, 1.0};
    start[L::knee] = {{640, 340}, Visibility::hidden, 1.0};
    const Figure out = proposed_figure(
        start, combine(std::vector<NetworkRun>(6, run_of(f, 0, 0)), View::side, f.travel, 110), frame_of(f),
        knowledge().body, knowledge().figure_errors, {}, {600, 98});
    EXPECT_EQ(out[L::hip], start[L::hip]);
    EXPECT_EQ(out[L::knee], start[L::knee]) << "can't see it is the coach's word too";
}

TEST(Offsets, AreLearnedFromCorrectionsAndTakenOff) {
    Figure f = sitting_rider();
    const double trunk = distance(f[L::shoulder].at, f[L::hip].at);
    for (const L l : {L::hip, L::elbow})
        f[l].put_at = Point{f[l].at.x - 0.1 * trunk, f[l].at.y + 0.05 * trunk};  // proposed behind and below
    f[L::elbow].origin = Origin::laid;
    f[L::wrist].put_at = Point{f[L::wrist].at.x - 20, f[L::wrist].at.y};
    f[L::wrist].origin = Origin::proposed;  // it followed the elbow; nobody put it there
    const std::vector<Figure> four(4, f);
    const JointOffsets o = learned_offsets(four);
    EXPECT_NEAR(o.at(L::hip).f, 0.05, 1e-9) << "four corrections count as much as nothing does";
    EXPECT_NEAR(o.at(L::hip).u, 0.025, 1e-9);
    EXPECT_FALSE(o.contains(L::elbow)) << "laid, not proposed";
    EXPECT_FALSE(o.contains(L::wrist)) << "it only followed";
    // The same rider travelling left teaches the same, in the body's own directions.
    std::vector<Figure> left;
    for (const Figure& one : four) left.push_back(mirrored(one, 1280));
    EXPECT_NEAR(learned_offsets(left).at(L::hip).f, 0.05, 1e-9);
    const auto p =
        combine(std::vector<NetworkRun>(6, run_of(sitting_rider(), 0, 0)), View::side, Travel::right, 110);
    const Figure plain = proposed_figure(three_clicks(f), p, frame_of(f), knowledge().body,
                                         knowledge().figure_errors, {}, {600, 98});
    const Figure helped = proposed_figure(three_clicks(f), p, frame_of(f), knowledge().body,
                                          knowledge().figure_errors, o, {600, 98});
    EXPECT_GT(helped[L::hip].at.x, plain[L::hip].at.x + 3);
    EXPECT_LT(helped[L::hip].at.y, plain[L::hip].at.y - 1);
}

TEST(LaidFrontal, StandsBetweenHeadAndHeels) {
    Figure f;
    f.view = View::rear;
    f[L::left_heel] = {{560, 600}, Visibility::seen, 1};
    f[L::right_heel] = {{720, 600}, Visibility::seen, 1};
    const Figure laid = laid_figure(f, {}, knowledge().body, knowledge().figure_errors, {640, 160});
    EXPECT_LT(laid[L::left_hip].at.x, laid[L::right_hip].at.x)
        << "the rider's left is on the left seen from behind";
    EXPECT_LT(laid[L::left_shoulder].at.y, laid[L::left_hip].at.y);
    EXPECT_NEAR((laid[L::left_shoulder].at.x + laid[L::right_shoulder].at.x) / 2, 640, 1e-6);
    f.view = View::front;
    std::swap(f[L::left_heel], f[L::right_heel]);
    const Figure front = laid_figure(f, {}, knowledge().body, knowledge().figure_errors, {640, 160});
    EXPECT_GT(front[L::left_hip].at.x, front[L::right_hip].at.x);
}

TEST(FigureErrors, AreReadAndRefusedInOneLine) {
    std::istringstream good(
        R"({"otherwise": 0.2, "laid": {"hip": 0.05}, "carried": {}, "proposed": {"knee": 0.03}})");
    const FigureErrors e = load_figure_errors(good, "x.json");
    EXPECT_EQ(e.of(Origin::laid, L::hip), 0.05);
    EXPECT_EQ(e.of(Origin::laid, L::knee), 0.2);
    EXPECT_EQ(e.of(Origin::clicked, L::knee), 0.2);
    std::istringstream bad(R"({"otherwise": 0.2, "laid": {"hipp": 0.05}, "carried": {}, "proposed": {}})");
    EXPECT_THROW(load_figure_errors(bad, "x.json"), Refused);
    std::istringstream zero(R"({"otherwise": 0.2, "laid": {"hip": 0}, "carried": {}, "proposed": {}})");
    EXPECT_THROW(load_figure_errors(zero, "x.json"), Refused);
}

}  // namespace
}  // namespace aspen::core
