// The measures against outside truth: angles and lengths once more with Eigen's rotations and its own angle
// between vectors (a published library, not our code), and the stated errors against simulation.

#include <gtest/gtest.h>

#include <Eigen/Geometry>

#include "core/core_support.hpp"
#include "core/judging/judgement.hpp"

namespace aspen {
namespace {

using core::Landmark;
using Eigen::Vector2d;

/// The rider's plane by rotation matrices and homogeneous thinking instead of the definitions' formulas.
class Plane {
  public:
    explicit Plane(const core::Figure& f, const core::Body& body) : figure_(f), body_(body) {
        const Vector2d trunk = flat(Landmark::shoulder) - flat(Landmark::hip);
        trunk0_ = trunk.norm();
    }
    Vector2d at(Landmark l) const {
        const double yaw = core::radians(figure_.camera.yaw_deg);
        // A point (f, d) on the horse, seen by a camera turned by yaw, appears at f cos(yaw) + d sin(yaw):
        // solve for f.
        const Eigen::Matrix2d turn = Eigen::Rotation2Dd(-yaw).toRotationMatrix();
        const double depth = body_.depth[core::index(l)] * trunk0_;
        const double seen = flat(l).x() * std::cos(yaw);
        const double f = (seen - turn(0, 1) * depth) / turn(0, 0);
        return {f, flat(l).y()};
    }

  private:
    Vector2d flat(Landmark l) const {
        const Eigen::Rotation2Dd unroll(-core::radians(figure_.camera.roll_deg));
        const Vector2d p = unroll * Vector2d(figure_[l].at.x, figure_[l].at.y);
        const double sign = figure_.travel == core::Travel::left ? -1 : 1;
        return {sign * p.x() / std::cos(core::radians(figure_.camera.yaw_deg)), -p.y()};
    }
    core::Figure figure_;
    core::Body body_;
    double trunk0_ = 0;
};

double between(const Vector2d& a, const Vector2d& b) {
    return core::degrees(std::acos(std::clamp(a.normalized().dot(b.normalized()), -1.0, 1.0)));
}
double from_up(const Vector2d& v) {
    return core::degrees(Eigen::Rotation2Dd(0).angle() + std::atan2(v.x(), v.y()));
}

TEST(AgainstEigen, EverySideMeasureOfRandomRiders) {
    using L = Landmark;
    for (unsigned seed = 0; seed < 60; ++seed) {
        const core::Figure f = test::random_rider(seed);
        const Plane p(f, test::knowledge().body);
        const auto v = [&](L a, L b) { return Vector2d(p.at(b) - p.at(a)); };
        const double trunk = v(L::hip, L::shoulder).norm(), thigh = v(L::hip, L::knee).norm(),
                     leg = thigh + v(L::knee, L::ankle).norm();
        const Vector2d reach = v(L::elbow, L::knuckle), rein = v(L::knuckle, L::bit);
        const std::map<std::string, double> wanted{
            {"trunk_lean", from_up(v(L::hip, L::shoulder))},
            {"ear_offset", 100 * v(L::shoulder, L::ear).x() / trunk},
            {"heel_offset", 100 * v(L::hip, L::heel).x() / leg},
            {"head_pitch", 90 - from_up(v(L::ear, L::eye))},
            {"hip_angle", between(v(L::hip, L::shoulder), v(L::hip, L::knee))},
            {"knee_angle", between(v(L::knee, L::hip), v(L::knee, L::ankle))},
            {"elbow_angle", between(v(L::elbow, L::shoulder), v(L::elbow, L::wrist))},
            {"ankle_angle", between(v(L::ankle, L::knee), v(L::ankle, L::toe))},
            {"heel_drop", 90 - from_up(v(L::heel, L::toe))},
            {"upper_arm", from_up({v(L::shoulder, L::elbow).x(), -v(L::shoulder, L::elbow).y()})},
            {"lower_leg", from_up({v(L::knee, L::ankle).x(), -v(L::knee, L::ankle).y()})},
            {"leather", from_up({v(L::leather_top, L::iron).x(), -v(L::leather_top, L::iron).y()})},
            {"hand_line", core::degrees(std::atan2(reach.y(), reach.x()) - std::atan2(rein.y(), rein.x()))},
            {"hand_height", 100 * v(L::withers, L::knuckle).y() / trunk},
            {"hand_ahead", 100 * v(L::withers, L::knuckle).x() / trunk},
            {"shoulder_past_knee", 100 * v(L::knee, L::shoulder).x() / thigh},
            {"seat_place", 100 * v(L::cantle, L::hip).x() / v(L::cantle, L::withers).x()},
            {"poll_height", 100 * v(L::withers, L::poll).y() / v(L::croup, L::withers).norm()},
            {"horse_nose", from_up({v(L::poll, L::bit).x(), -v(L::poll, L::bit).y()})}};
        const auto measured = core::measure(f, test::knowledge().body);
        ASSERT_EQ(measured.size(), wanted.size());
        for (const core::Measured& m : measured) {
            const double away = *m.value - wanted.at(std::string(m.info->id));
            // Directions are the same a full turn apart; shares are not.
            EXPECT_NEAR(m.info->unit == "deg" ? std::remainder(away, 360.0) : away, 0, 1e-6)
                << m.info->id << " seed " << seed;
        }
    }
}

// Propagation of uncertainty by first derivatives: JCGM 100:2008 (GUM) clause 5.1.2, held against repeated
// draws as in JCGM 101:2008 (both from memory). Every measure, with click, roll, yaw and depth errors at
// once.
TEST(DeltaMethod, AgreesWithDrawingEveryInputManyTimes) {
    core::Figure f = test::sitting_rider();
    f.camera = {2, 0.8, 9, 2.5, true, true};
    const core::Body& body = test::knowledge().body;
    const auto stated = core::measure(f, body);
    std::mt19937 engine(31);
    std::normal_distribution<double> normal;
    constexpr int kDraws = 6000;
    std::vector<double> sum(stated.size()), squares(stated.size());
    for (int i = 0; i < kDraws; ++i) {
        core::Figure drawn = f;
        core::Body drawn_body = body;
        for (const Landmark l : core::landmarks_of(core::View::side)) {
            drawn[l].at.x += normal(engine) * f[l].sd_px;
            drawn[l].at.y += normal(engine) * f[l].sd_px;
            drawn_body.depth[core::index(l)] += normal(engine) * body.depth_sd;
        }
        drawn.camera.roll_deg += normal(engine) * f.camera.roll_sd_deg;
        drawn.camera.yaw_deg += normal(engine) * f.camera.yaw_sd_deg;
        const auto values = core::measure(drawn, drawn_body);
        for (std::size_t k = 0; k < values.size(); ++k) {
            const double away = *values[k].value - *stated[k].value;
            sum[k] += away;
            squares[k] += away * away;
        }
    }
    for (std::size_t k = 0; k < stated.size(); ++k) {
        const double sd = std::sqrt(squares[k] / kDraws - std::pow(sum[k] / kDraws, 2));
        EXPECT_NEAR(stated[k].sd, sd, 0.06 * sd) << stated[k].info->id;
    }
}

// 90 % intervals: value +- 1.645 sd covers the true value in nine of ten draws (table of the normal
// distribution).
TEST(Intervals, CoverTheTruthInNineOfTen) {
    core::Figure truth = test::sitting_rider();
    truth.camera = {0, 0, 0, 0, true, true};
    core::Body body = test::knowledge().body;
    body.depth_sd = 0;
    const auto exact = core::measure(truth, body);
    std::mt19937 engine(8);
    std::normal_distribution<double> normal;
    std::vector<int> covered(exact.size());
    constexpr int kDraws = 3000;
    for (int i = 0; i < kDraws; ++i) {
        core::Figure clicked = truth;
        for (core::Mark& m : clicked.marks)
            m.at = {m.at.x + normal(engine) * m.sd_px, m.at.y + normal(engine) * m.sd_px};
        const auto measured = core::measure(clicked, body);
        for (std::size_t k = 0; k < exact.size(); ++k)
            covered[k] +=
                std::abs(*measured[k].value - *exact[k].value) <= core::kNinetyPercent * measured[k].sd;
    }
    for (std::size_t k = 0; k < exact.size(); ++k)
        EXPECT_NEAR(covered[k] / double{kDraws}, 0.90, 0.02) << exact[k].info->id;
}

}  // namespace
}  // namespace aspen
