#include "core/arena/seen_camera.hpp"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

#include "core/body/geometry.hpp"
#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

using Seven = Eigen::Matrix<double, 7, 1>;
/// x, y, logarithm of the height, turn about the upright, dip below the horizon, roll, logarithm of focal.
enum CameraNumber { kX, kY, kLogHeight, kTurn, kDip, kRoll, kLogFocal };

constexpr double kUnsaidHeightM = 2.5, kUnsaidHeightLogSd = 0.47;  // from memory: eye, fence, gallery
constexpr double kCameraReachM = 40;  // from the marks: nobody films from farther (from memory)
constexpr int kFitRounds = 80, kStarts = 16;

double focal_of(const CameraSaid& said, double wide_deg) {
    return std::max(said.picture_width_px, said.picture_height_px) / 2 / std::tan(radians(wide_deg) / 2);
}

Eigen::Matrix3d rotation_of(const Seven& c) {
    const double ct = std::cos(c(kTurn)), st = std::sin(c(kTurn)), cd = std::cos(c(kDip)),
                 sd = std::sin(c(kDip)), cr = std::cos(c(kRoll)), sr = std::sin(c(kRoll));
    const Eigen::Vector3d ahead(cd * ct, cd * st, -sd), right(st, -ct, 0), down = ahead.cross(right);
    Eigen::Matrix3d out;
    out.row(0) = (cr * right + sr * down).transpose();
    out.row(1) = (-sr * right + cr * down).transpose();
    out.row(2) = ahead.transpose();
    return out;
}

Eigen::Matrix3d homography_of(const Seven& c, const CameraSaid& said) {
    const Eigen::Matrix3d r = rotation_of(c);
    const Eigen::Vector3d at(c(kX), c(kY), std::exp(c(kLogHeight)));
    Eigen::Matrix3d k = Eigen::Matrix3d::Identity(), bare;
    k(0, 0) = k(1, 1) = std::exp(c(kLogFocal));
    k(0, 2) = said.picture_width_px / 2;
    k(1, 2) = said.picture_height_px / 2;
    bare << r.col(0), r.col(1), -r * at;
    return k * bare;
}

/// Everything that pulls at the camera, each over its standard deviation.
class Pull {
  public:
    Pull(const std::vector<GroundMark>& marks, const std::vector<GroundLength>& lengths,
         const CameraSaid& said)
        : marks_(marks), lengths_(lengths), said_(said) {
        for (const GroundMark& m : marks) {
            middle_.x += m.at.x / static_cast<double>(marks.size());
            middle_.y += m.at.y / static_cast<double>(marks.size());
        }
    }
    GroundPoint middle() const { return middle_; }
    Eigen::Index count() const {
        return static_cast<Eigen::Index>(2 * marks_.size() + lengths_.size() + kSaid);
    }
    /// What is left to contradict the seven numbers; the two pulls towards the arena are no facts.
    Eigen::Index dof() const { return count() - 2 - 7; }
    Eigen::VectorXd operator()(const Seven& c) const {
        const Eigen::Matrix3d h = homography_of(c, said_), back = h.inverse();
        Eigen::VectorXd r(count());
        Eigen::Index i = 0;
        for (const GroundMark& m : marks_) {
            const Eigen::Vector3d p = h * Eigen::Vector3d(m.at.x, m.at.y, 1);
            // Behind the camera: pushed back before it instead of seen upside down.
            constexpr double kNear = 0.1;
            const double deep = std::max(p.z(), kNear), behind = 1e3 * std::max(0.0, kNear - p.z());
            r(i++) = (p.x() / deep - m.x + behind) / m.sd_px;
            r(i++) = (p.y() / deep - m.y + behind) / m.sd_px;
        }
        for (const GroundLength& l : lengths_) {
            const auto at = [&](double x, double y) {
                const Eigen::Vector3d g = back * Eigen::Vector3d(x, y, 1);
                return Eigen::Vector2d(g.head<2>() / g.z());
            };
            const Eigen::Vector2d a = at(l.x1, l.y1), b = at(l.x2, l.y2);
            const double pixel = ((at(l.x1, l.y1 + 1) - a).norm() + (at(l.x2, l.y2 + 1) - b).norm()) / 2;
            r(i++) = ((a - b).norm() - l.length_m) / std::max(1e-4, l.sd_px * pixel);
        }
        const double height = said_.height_m.value_or(kUnsaidHeightM);
        r(i++) = (c(kLogHeight) - std::log(height)) /
                 (said_.height_m ? said_.height_sd_m / height : kUnsaidHeightLogSd);
        const double f = focal_of(said_, said_.wide_deg);
        const double f_sd = std::log(focal_of(said_, said_.wide_deg - said_.wide_sd_deg / 2) /
                                     focal_of(said_, said_.wide_deg + said_.wide_sd_deg / 2));
        r(i++) = (c(kLogFocal) - std::log(f)) / f_sd;
        r(i++) = (c(kRoll) - radians(said_.roll_deg)) / radians(said_.roll_sd_deg);
        r(i++) = (c(kX) - middle_.x) / kCameraReachM;
        r(i++) = (c(kY) - middle_.y) / kCameraReachM;
        return r;
    }
    Eigen::MatrixXd slopes(const Seven& c) const {
        Eigen::MatrixXd out(count(), 7);
        constexpr double kStep = 1e-6;
        for (int k = 0; k < 7; ++k) {
            Seven by = Seven::Zero();
            by(k) = kStep;
            out.col(k) = ((*this)(c + by) - (*this)(c - by)) / (2 * kStep);
        }
        return out;
    }

  private:
    static constexpr std::size_t kSaid = 5;
    const std::vector<GroundMark>& marks_;
    const std::vector<GroundLength>& lengths_;
    const CameraSaid& said_;
    GroundPoint middle_{};
};

double fit(Seven& c, const Pull& pull) {
    double damping = 1e-2, cost = pull(c).squaredNorm();
    for (int round = 0; round < kFitRounds; ++round) {
        const Eigen::MatrixXd j = pull.slopes(c);
        const Eigen::Matrix<double, 7, 7> jj = j.transpose() * j;
        const Seven g = j.transpose() * pull(c);
        Eigen::Matrix<double, 7, 7> a = jj;
        a.diagonal() += damping * jj.diagonal();
        const Seven step = -a.ldlt().solve(g);
        if (!step.allFinite()) break;
        const double next = pull(c + step).squaredNorm();
        if (!(next < cost)) {
            damping *= 6;
            if (damping > 1e9) break;
            continue;
        }
        const bool still = cost - next < 1e-10 * (1 + cost);
        c += step;
        cost = next;
        damping = std::max(damping / 6, 1e-9);
        if (still) break;
    }
    return cost;
}

/// Standing so far from the marks on one side of them, looking at their middle.
Seven start_at(const Pull& pull, const CameraSaid& said, double angle, double away_m) {
    Seven c = Seven::Zero();
    c(kX) = pull.middle().x + away_m * std::cos(angle);
    c(kY) = pull.middle().y + away_m * std::sin(angle);
    const double height = said.height_m.value_or(kUnsaidHeightM);
    c(kLogHeight) = std::log(height);
    c(kTurn) = angle + std::numbers::pi;
    c(kDip) = std::atan2(height, away_m);
    c(kRoll) = radians(said.roll_deg);
    c(kLogFocal) = std::log(focal_of(said, said.wide_deg));
    return c;
}

}  // namespace

SeenCamera see_camera(const std::vector<GroundMark>& marks, const std::vector<GroundLength>& lengths,
                      const CameraSaid& said) {
    if (marks.size() < 2) throw Refused("the camera: two places of the arena have to be marked first");
    constexpr double kTooCloseM = 1;
    if (marks.size() == 2 && distance(marks[0].at, marks[1].at) < kTooCloseM)
        throw Refused("the camera: the two marks are one place; click another letter");
    const Pull pull(marks, lengths, said);
    Seven best = Seven::Zero();
    double least = std::numeric_limits<double>::max();
    for (int k = 0; k < kStarts; ++k) {
        for (const double away : {12.0, 30.0}) {
            Seven c = start_at(pull, said, 2 * std::numbers::pi * k / kStarts, away);
            const double cost = fit(c, pull);
            if (cost < least) least = cost, best = c;
        }
    }
    constexpr double kLowestM = 0.3;
    if (!std::isfinite(least) || std::exp(best(kLogHeight)) < kLowestM)
        throw Refused("the camera: no place above the ground sees the marks so; two names may be swapped");
    SeenCamera out;
    out.homography = homography_of(best, said);
    out.at = {best(kX), best(kY), std::exp(best(kLogHeight))};
    out.focal_px = std::exp(best(kLogFocal));
    out.chi2_per_dof = pull.dof() > 0 ? least / static_cast<double>(pull.dof()) : 0;
    const Eigen::MatrixXd j = pull.slopes(best);
    Eigen::Matrix<double, 7, 7> covariance =
        (j.transpose() * j).ldlt().solve(Eigen::Matrix<double, 7, 7>::Identity());
    covariance *= std::max(1.0, out.chi2_per_dof);
    const Eigen::SelfAdjointEigenSolver<Eigen::Matrix<double, 7, 7>> eigen(
        (covariance + covariance.transpose()) / 2);
    for (int k = 0; k < 7; ++k)
        out.moved.push_back(homography_of(
            best + std::sqrt(std::max(0.0, eigen.eigenvalues()(k))) * eigen.eigenvectors().col(k), said));
    return out;
}

}  // namespace aspen::core
