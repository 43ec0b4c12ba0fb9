// The figure's kinematics: laid from three clicks, fitted to what is known, dragged with its neighbours,
// mirrored.

#include "core/proposal/pose.hpp"

#include <gmock/gmock.h>

#include "core/core_support.hpp"
#include "core/proposal/proposal.hpp"

namespace aspen::core {
namespace {

using L = Landmark;
using test::knowledge;
using test::random_rider;
using test::sitting_rider;

PoseFrame pose_frame(const Figure& f, Seat seat = Seat::sitting) {
    Setting s;
    s.seat = seat;
    return {f.travel, f.camera, typical_limbs(knowledge().body), usual_pose(s, knowledge().schools)};
}

double trunk_of(const Figure& f) { return distance(f[L::shoulder].at, f[L::hip].at); }

/// A figure whose joints are a pose of the chain itself, so that everything fits exactly.
Figure chain_rider(Travel travel, CameraPose camera, double lean_deg) {
    Figure f;
    f.travel = travel;
    f.camera = camera;
    PoseFrame frame = pose_frame(f);
    frame.usual.trunk_lean = lean_deg;
    const Point top{640, 120}, heel{620, 470};
    const std::vector<KnownJoint> known{{L::heel, heel, 0.01}};
    const auto pose = fit_pose(frame, knowledge().body, known, top);
    for (const L l : posed_landmarks()) f[l] = {(*pose)[l], Visibility::seen, 1.3, Origin::clicked, true, {}};
    return f;
}

TEST(Pose, MeetsAllJointsOfARiderOfItsOwnLimbs) {
    for (const Travel travel : {Travel::right, Travel::left}) {
        for (const double yaw : {-20.0, 0.0, 15.0}) {
            CameraPose camera;
            camera.roll_deg = 3;
            camera.yaw_deg = yaw;
            const Figure f = chain_rider(travel, camera, 12);
            std::vector<KnownJoint> known;
            for (const L l : posed_landmarks()) known.push_back({l, f[l].at, 1});
            const auto pose = fit_pose(pose_frame(f), knowledge().body, known, std::nullopt);
            ASSERT_TRUE(pose);
            for (const L l : posed_landmarks())
                EXPECT_LT(distance((*pose)[l], f[l].at), 0.04 * trunk_of(f)) << id(l) << " yaw " << yaw;
        }
    }
}

TEST(Pose, ThreeClicksLayAWholeFigureBetweenThem) {
    const Figure f = sitting_rider();
    Figure clicks;
    clicks.travel = f.travel;
    clicks[L::heel] = f[L::heel];
    clicks[L::toe] = f[L::toe];
    const Figure laid =
        laid_figure(clicks, pose_frame(f), knowledge().body, knowledge().figure_errors, {600, 98});
    for (const L l : first_nine()) {
        EXPECT_EQ(laid[l].visibility, Visibility::seen) << id(l);
        EXPECT_LT(distance(laid[l].at, f[l].at), 0.3 * trunk_of(f)) << id(l);
    }
    EXPECT_EQ(laid[L::heel], f[L::heel]) << "what was clicked stays as it is";
    EXPECT_FALSE(laid.measurable(L::hip)) << "nobody confirmed it";
    EXPECT_EQ(laid[L::hip].origin, Origin::laid);
    EXPECT_NEAR(laid[L::hip].sd_px, knowledge().figure_errors.of(Origin::laid, L::hip) * trunk_of(laid),
                0.2 * laid[L::hip].sd_px);
    EXPECT_EQ(laid[L::bit].visibility, Visibility::absent) << "the horse is not guessed";
}

TEST(Pose, NeedsTwoPointsApart) {
    const Figure f = sitting_rider();
    const std::vector<KnownJoint> one{{L::hip, f[L::hip].at, 1}},
        same{{L::hip, {5, 5}, 1}, {L::knee, {5, 5}, 1}};
    EXPECT_FALSE(fit_pose(pose_frame(f), knowledge().body, one, std::nullopt));
    EXPECT_FALSE(fit_pose(pose_frame(f), knowledge().body, same, std::nullopt));
    EXPECT_TRUE(fit_pose(pose_frame(f), knowledge().body, one, Point{600, 98}));
    const std::vector<KnownJoint> horse{{L::bit, {1, 2}, 1}, {L::poll, {300, 2}, 1}};
    EXPECT_FALSE(fit_pose(pose_frame(f), knowledge().body, horse, std::nullopt))
        << "only the horse is marked";
}

Figure unconfirmed(Figure f) {
    for (const L l : posed_landmarks()) f[l].confirmed = false;
    return f;
}

TEST(Dragging, NeighboursFollowAndConfirmedOnesStay) {
    Figure f = unconfirmed(sitting_rider());
    f[L::hip].confirmed = true;
    const Point to{f[L::knee].at.x + 30, f[L::knee].at.y - 20};
    const Figure after = drag_joint(f, knowledge().body, typical_limbs(knowledge().body), {}, L::knee, to);
    EXPECT_EQ(after[L::knee].at, to);
    EXPECT_EQ(after[L::hip].at, f[L::hip].at);
    EXPECT_GT(after[L::ankle].at.x, f[L::ankle].at.x + 3) << "the shin comes along";
    EXPECT_LT(distance(after[L::ear].at, f[L::ear].at), 6) << "the head hardly";
    EXPECT_EQ(after[L::bit].at, f[L::bit].at) << "the horse not at all";
}

TEST(Dragging, NowhereChangesNothing) {
    const Figure f = unconfirmed(sitting_rider());
    const Figure after =
        drag_joint(f, knowledge().body, typical_limbs(knowledge().body), {}, L::elbow, f[L::elbow].at);
    for (const L l : posed_landmarks()) EXPECT_LT(distance(after[l].at, f[l].at), 1e-6) << id(l);
}

TEST(Dragging, OutOfReachTheJointIsWhereItWasPut) {
    const Figure f = unconfirmed(sitting_rider());
    for (const Point to :
         {Point{3000, -900}, Point{f[L::shoulder].at.x, f[L::shoulder].at.y}, Point{-500, 4000}}) {
        const Figure after =
            drag_joint(f, knowledge().body, typical_limbs(knowledge().body), {}, L::wrist, to);
        EXPECT_EQ(after[L::wrist].at, to);
        for (const L l : posed_landmarks())
            EXPECT_TRUE(std::isfinite(after[l].at.x) && std::isfinite(after[l].at.y)) << id(l);
    }
}

TEST(Dragging, SmallStepsAndOneLongStepEndAlike) {
    const Figure f = unconfirmed(sitting_rider());
    const Limbs limbs = typical_limbs(knowledge().body);
    const Point to{f[L::hip].at.x - 25, f[L::hip].at.y + 12};
    const Figure once = drag_joint(f, knowledge().body, limbs, {}, L::hip, to);
    EXPECT_GT(distance(once[L::knee].at, f[L::knee].at), 2);
    // The bench always drags from where the figure stood when it was taken hold of, so halfway gives about
    // half.
    const Figure half = drag_joint(f, knowledge().body, limbs, {}, L::hip,
                                   {(to.x + f[L::hip].at.x) / 2, (to.y + f[L::hip].at.y) / 2});
    EXPECT_NEAR(distance(half[L::knee].at, f[L::knee].at), distance(once[L::knee].at, f[L::knee].at) / 2,
                2.0);
}

TEST(Dragging, FromTheFrontOnlyTheJointMoves) {
    Figure f;
    f.view = View::rear;
    for (const L l : landmarks_of(View::rear))
        f[l] = {{static_cast<double>(10 * index(l)), 50}, Visibility::seen, 1, Origin::laid, false, {}};
    const Figure after = drag_joint(f, knowledge().body, {}, {}, L::left_knee, {7, 8});
    EXPECT_EQ(after[L::left_knee].at, (Point{7, 8}));
    EXPECT_EQ(after[L::left_hip].at, f[L::left_hip].at);
}

TEST(Bending, KeepsBothLimbsWithinReachAndFailsSoftlyBeyond) {
    const PlanePoint a{0, 0}, b{0, -7};
    const PlanePoint knee = bend_between(a, b, 4, 5, 1);
    EXPECT_NEAR(distance(a, knee), 4, 1e-9);
    EXPECT_NEAR(distance(b, knee), 5, 1e-9);
    EXPECT_GT(knee.f, 0) << "forward of the line from hip down to ankle";
    EXPECT_NEAR(bend_between(a, b, 4, 5, -1).f, -knee.f, 1e-9);
    const PlanePoint stretched = bend_between(a, {0, -18}, 4, 5, 1);
    EXPECT_NEAR(stretched.f, 0, 1e-9);
    EXPECT_NEAR(stretched.u, -8, 1e-9) << "both limbs stretched alike";
    const PlanePoint folded = bend_between(a, {0, -0.5}, 4, 5, 1);
    EXPECT_NEAR(distance(a, folded), 4, 1e-9);
    EXPECT_EQ(bend_between(a, b, 0, 0, 1).f, 0) << "no limbs at all";
    EXPECT_TRUE(std::isfinite(bend_between(a, a, 4, 4, 1).f)) << "both ends on one spot";
}

TEST(Mirroring, TwiceIsTheSameAndMeasuresStay) {
    for (unsigned seed = 1; seed <= 20; ++seed) {
        const Figure f = random_rider(seed), m = mirrored(f, 1280), again = mirrored(m, 1280);
        EXPECT_NE(m.travel, f.travel);
        for (const L l : landmarks_of(View::side)) EXPECT_LT(distance(again[l].at, f[l].at), 1e-9);
        EXPECT_EQ(again.travel, f.travel);
        const auto one = measure(f, knowledge().body), other = measure(m, knowledge().body);
        for (std::size_t i = 0; i < one.size(); ++i)
            EXPECT_NEAR(*one[i].value, *other[i].value, 1e-9) << one[i].info->id;
    }
}

TEST(Mirroring, FromBehindLeftBecomesRight) {
    Figure f;
    f.view = View::rear;
    for (const L l : landmarks_of(View::rear))
        f[l] = {{100.0 + static_cast<double>(index(l)), 50}, Visibility::seen, 1};
    const Figure m = mirrored(f, 640);
    EXPECT_EQ(m[L::left_knee].at.x, 640 - f[L::right_knee].at.x);
    EXPECT_EQ(m[L::horse_mid].at.x, 640 - f[L::horse_mid].at.x);
    for (const L l : landmarks_of(View::rear)) EXPECT_LT(distance(mirrored(m, 640)[l].at, f[l].at), 1e-9);
}

TEST(LaidOnto, TakesAFigureToThreePoints) {
    const Figure f = sitting_rider();
    const auto moved = [](Point p) {
        return Point{300 + 1.2 * p.x - 0.1 * p.y, -40 + 0.1 * p.x + 1.2 * p.y};
    };
    const Point top{602, 100};
    const Figure laid = laid_onto(f, top, moved(top), moved(f[L::heel].at), moved(f[L::toe].at));
    for (const L l : landmarks_of(View::side)) EXPECT_LT(distance(laid[l].at, moved(f[l].at)), 1e-6) << id(l);
    EXPECT_FALSE(laid[L::hip].confirmed);
    Figure empty;
    EXPECT_EQ(laid_onto(empty, std::nullopt, top, top, top), empty);
}

TEST(Limbs, AreTheRidersOwnAfterSomeFigures) {
    const Limbs typical = typical_limbs(knowledge().body);
    EXPECT_EQ(limbs_of({}, knowledge().body), typical);
    Figure f = sitting_rider();
    f.camera.yaw_deg = 0;
    const double thigh = distance(f[L::hip].at, f[L::knee].at) / trunk_of(f);
    const std::vector<Figure> one(1, f), many(40, f);
    EXPECT_NEAR(limbs_of(many, knowledge().body).thigh, (40 * thigh + 2 * typical.thigh) / 42, 1e-9);
    const double after_one = limbs_of(one, knowledge().body).thigh;
    EXPECT_NEAR(after_one, (thigh + 2 * typical.thigh) / 3, 1e-9) << "one figure moves it a third of the way";
    Figure oblique = f;
    oblique.camera.yaw_deg = 25;
    EXPECT_EQ(limbs_of(std::vector<Figure>(5, oblique), knowledge().body).thigh, typical.thigh);
    for (Mark& m : f.marks) m.confirmed = false;
    EXPECT_EQ(limbs_of(std::vector<Figure>(5, f), knowledge().body).thigh, typical.thigh);
}

TEST(Doubt, FallsOnAFootThatWasLost) {
    const Figure before = sitting_rider();
    Figure after = before;
    EXPECT_TRUE(doubtful_by_limbs(before, after).empty());
    for (Mark& m : after.marks) m.at.x += 40;
    EXPECT_TRUE(doubtful_by_limbs(before, after).empty()) << "all moved alike";
    for (const L l : {L::ankle, L::heel, L::toe, L::iron}) after[l].at.x += 70;
    EXPECT_THAT(doubtful_by_limbs(before, after),
                testing::IsSupersetOf({L::ankle, L::heel, L::toe, L::iron}));
    EXPECT_THAT(doubtful_by_limbs(before, after), testing::Not(testing::Contains(L::knee)));
}

TEST(Doubt, IsNoZoomAndBlamesTheJointThatWasLost) {
    const Figure before = sitting_rider();
    Figure after = before;
    for (Mark& m : after.marks) m.at = {600 + 1.3 * (m.at.x - 600), 300 + 1.3 * (m.at.y - 300)};
    EXPECT_TRUE(doubtful_by_limbs(before, after).empty()) << "a zoom loses nothing";
    after[L::knee].at.x += 90;
    EXPECT_THAT(doubtful_by_limbs(before, after), testing::ElementsAre(L::knee))
        << "not the ankle, whose foot is where it was";
}

TEST(Drag, OneThatCannotBeSeenIsNotKnown) {
    Figure f = sitting_rider();
    for (const L l : {L::knee, L::ankle}) f[l].confirmed = false;
    f[L::wrist].visibility = Visibility::hidden;
    Figure away = f;
    away[L::wrist].at = {900, 600};  // wherever a hidden joint was guessed
    const UsualPose usual = usual_pose({}, knowledge().schools);
    const Limbs limbs = typical_limbs(knowledge().body);
    const Point to{f[L::hip].at.x + 20, f[L::hip].at.y};
    const Figure a = drag_joint(f, knowledge().body, limbs, usual, L::hip, to),
                 b = drag_joint(away, knowledge().body, limbs, usual, L::hip, to);
    EXPECT_LT(distance(a[L::knee].at, b[L::knee].at), 1e-6);
}

TEST(UsualPose, FollowsTheSchoolsBandsWhereItHasThem) {
    Setting s{"hunter", Gait::trot, Seat::sitting, "", ""};
    const UsualPose hunter = usual_pose(s, knowledge().schools);
    EXPECT_NEAR(hunter.knee_angle, (98 + 125) / 2.0, 1e-9);
    s.school = "";
    EXPECT_NE(usual_pose(s, knowledge().schools).knee_angle, hunter.knee_angle);
    s.seat = Seat::two_point;
    EXPECT_GT(usual_pose(s, knowledge().schools).trunk_lean, 15);
}

TEST(Joints, BendOnlyTheWayTheyCan) {
    Figure f = test::sitting_rider();
    EXPECT_TRUE(against_the_joints(f).empty());
    EXPECT_TRUE(against_the_joints(mirrored(f, 1000)).empty()) << "and the other way round";
    Figure knee = f;
    const Point hip = f[Landmark::hip].at, ankle = f[Landmark::ankle].at;
    const double way = f.travel == Travel::right ? 1 : -1;
    knee[Landmark::knee].at = {(hip.x + ankle.x) / 2 - way * 60, (hip.y + ankle.y) / 2};
    EXPECT_EQ(against_the_joints(knee), std::vector{Landmark::knee}) << "a knee that bends backwards";
    Figure elbow = f;
    const Point shoulder = f[Landmark::shoulder].at, wrist = f[Landmark::wrist].at;
    elbow[Landmark::elbow].at = {(shoulder.x + wrist.x) / 2 + way * 90, (shoulder.y + wrist.y) / 2 - 60};
    EXPECT_EQ(against_the_joints(elbow), std::vector{Landmark::elbow});
    f.travel = Travel::unknown;
    EXPECT_TRUE(against_the_joints(f).empty());
}

}  // namespace
}  // namespace aspen::core
