#include "core/arena/laid_ground.hpp"

#include <fmt/format.h>

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <limits>

#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

using Vector8 = Eigen::Matrix<double, 8, 1>;
using Vector9 = Eigen::Matrix<double, 9, 1>;
using Matrix8 = Eigen::Matrix<double, 8, 8>;

constexpr double kLowestTriangleSd = 3;      // ARCHITECTURE: a triangle lower than this is a line
constexpr double kLeastGroundHeight = 0.05;  // metres
constexpr double kWorstFitSd = 6;            // of reprojection: no click is that wrong, a name is
constexpr int kLayRounds = 60;

Eigen::Matrix3d matrix_of(const Vector9& h) {
    Eigen::Matrix3d out;
    out << h(0), h(1), h(2), h(3), h(4), h(5), h(6), h(7), h(8);
    return out;
}

/// Moves points to their middle and their mean distance from it to √2.
Eigen::Matrix3d normaliser(const std::vector<Eigen::Vector2d>& points) {
    Eigen::Vector2d middle = Eigen::Vector2d::Zero();
    for (const auto& p : points) middle += p / static_cast<double>(points.size());
    double spread = 0;
    for (const auto& p : points) spread += (p - middle).norm() / static_cast<double>(points.size());
    const double s = std::sqrt(2.0) / std::max(spread, 1e-9);
    Eigen::Matrix3d out;
    out << s, 0, -s * middle.x(), 0, s, -s * middle.y(), 0, 0, 1;
    return out;
}

/// The smallest height of the triangle of three points.
double lowest_height(const Eigen::Vector2d& a, const Eigen::Vector2d& b, const Eigen::Vector2d& c) {
    const Eigen::Vector2d u = b - a, v = c - a;
    const double area = std::abs(u.x() * v.y() - u.y() * v.x());
    const double longest = std::max({u.norm(), v.norm(), (c - b).norm(), 1e-12});
    return area / longest;
}

}  // namespace

void check_spread(const std::vector<GroundMark>& marks) {
    if (marks.size() < 4)
        throw Refused(
            fmt::format("{} marks on the ground: four are needed, no three of them on a line", marks.size()));
    const auto triangle = [&](std::size_t i, std::size_t j, std::size_t k) {
        const double sd = std::max({marks[i].sd_px, marks[j].sd_px, marks[k].sd_px});
        return lowest_height({marks[i].x, marks[i].y}, {marks[j].x, marks[j].y}, {marks[k].x, marks[k].y}) >=
                   kLowestTriangleSd * sd &&
               lowest_height({marks[i].at.x, marks[i].at.y}, {marks[j].at.x, marks[j].at.y},
                             {marks[k].at.x, marks[k].at.y}) >= kLeastGroundHeight;
    };
    const std::size_t n = marks.size();
    for (std::size_t a = 0; a < n; ++a)
        for (std::size_t b = a + 1; b < n; ++b)
            for (std::size_t c = b + 1; c < n; ++c) {
                if (!triangle(a, b, c)) continue;
                for (std::size_t d = c + 1; d < n; ++d)
                    if (triangle(a, b, d) && triangle(a, c, d) && triangle(b, c, d)) return;
            }
    throw Refused(
        "the marks lie too much on one line: click four of which no three do, corners or letters of both "
        "long sides");
}

LaidGround::LaidGround(const std::vector<GroundMark>& marks, const std::vector<GroundLength>& lengths)
    : points_(marks.size()) {
    check_spread(marks);
    start(marks);
    refine(marks, lengths);
    double sum = 0;
    for (const GroundMark& m : marks) {
        const Eigen::Vector3d g(m.at.x, m.at.y, 1), p = h_ * g;
        if (p.z() * (h_ * Eigen::Vector3d(marks.front().at.x, marks.front().at.y, 1)).z() <= 0)
            throw Refused(
                "the marks cannot be seen from one place: two names are swapped, or one belongs to another "
                "arena");
        sum += (p.head<2>() / p.z() - Eigen::Vector2d(m.x, m.y)).squaredNorm();
        // Seen from above, left of the way from A to C lies left of it in the picture, whose y runs down.
        constexpr double kStep = 0.01;
        const Eigen::Vector2d along = picture({m.at.x + kStep, m.at.y}) - picture(m.at),
                              across = picture({m.at.x, m.at.y + kStep}) - picture(m.at);
        if (along.x() * across.y() - along.y() * across.x() > 0)
            throw Refused("the marks stand as in a mirror: two names are swapped");
    }
    residual_ = std::sqrt(sum / (2.0 * static_cast<double>(marks.size())));
    find_camera(marks);
}

LaidGround::LaidGround(const SeenCamera& camera, const std::vector<GroundMark>& marks)
    : camera_(camera.at), points_(marks.size()) {
    normalise(marks);
    const auto vector_of = [this](const Eigen::Matrix3d& h) {
        const Eigen::Matrix3d m = to_picture_ * h * to_ground_.inverse();
        Vector9 out;
        out << m(0, 0), m(0, 1), m(0, 2), m(1, 0), m(1, 1), m(1, 2), m(2, 0), m(2, 1), m(2, 2);
        return out;
    };
    h_ = camera.homography;
    unit_ = vector_of(h_).normalized();
    lay_basis();
    roots_.setZero();
    for (std::size_t k = 0; k < camera.moved.size(); ++k) {
        const Vector9 v = vector_of(camera.moved[k]);
        roots_.col(static_cast<Eigen::Index>(k)) = basis_.transpose() * v / unit_.dot(v);
    }
    covariance_ = roots_ * roots_.transpose();
    double sum = 0;
    for (const GroundMark& m : marks) sum += (picture(m.at) - Eigen::Vector2d(m.x, m.y)).squaredNorm();
    residual_ = std::sqrt(sum / (2.0 * static_cast<double>(marks.size())));
}

LaidGround lay_ground(const std::vector<GroundMark>& marks, const std::vector<GroundLength>& lengths,
                      const CameraSaid& said) {
    std::optional<LaidGround> plain;
    bool spread = marks.size() >= 4;
    if (spread) {
        try {
            check_spread(marks);
        } catch (const Refused&) {
            spread = false;  // the camera may still be told, by what is said of it
        }
    }
    if (spread) plain.emplace(marks, lengths);
    const SeenCamera camera = see_camera(marks, lengths, said);
    constexpr double kNoPlainCamera = 9;  // chi squared a degree of freedom
    if (plain && camera.chi2_per_dof > kNoPlainCamera) return *plain;
    if (camera.chi2_per_dof > kWorstFitSd * kWorstFitSd)
        throw Refused("the marks contradict each other: a name is another's, or one was clicked elsewhere");
    return {camera, marks};
}

void LaidGround::normalise(const std::vector<GroundMark>& marks) {
    std::vector<Eigen::Vector2d> ground, picture;
    for (const GroundMark& m : marks) {
        ground.emplace_back(m.at.x, m.at.y);
        picture.emplace_back(m.x, m.y);
    }
    to_ground_ = normaliser(ground);
    to_picture_ = normaliser(picture);
}

void LaidGround::lay_basis() {
    const Eigen::JacobiSVD<Eigen::Matrix<double, 1, 9>> svd(unit_.transpose(), Eigen::ComputeFullV);
    basis_ = svd.matrixV().rightCols<8>();
}

void LaidGround::start(const std::vector<GroundMark>& marks) {
    normalise(marks);
    Eigen::MatrixXd a(2 * static_cast<Eigen::Index>(marks.size()), 9);
    for (std::size_t i = 0; i < marks.size(); ++i) {
        const Eigen::Vector3d g = to_ground_ * Eigen::Vector3d(marks[i].at.x, marks[i].at.y, 1),
                              p = to_picture_ * Eigen::Vector3d(marks[i].x, marks[i].y, 1);
        const auto row = 2 * static_cast<Eigen::Index>(i);
        a.row(row) << 0, 0, 0, -g.x(), -g.y(), -1, p.y() * g.x(), p.y() * g.y(), p.y();
        a.row(row + 1) << g.x(), g.y(), 1, 0, 0, 0, -p.x() * g.x(), -p.x() * g.y(), -p.x();
    }
    const Eigen::JacobiSVD<Eigen::MatrixXd> svd(a, Eigen::ComputeFullV);
    unit_ = svd.matrixV().col(8).normalized();
    h_ = to_picture_.inverse() * matrix_of(unit_) * to_ground_;
}

Eigen::Vector2d LaidGround::ground(const Eigen::Matrix3d& h, double x, double y) const {
    const Eigen::Vector3d g = h.inverse() * Eigen::Vector3d(x, y, 1);
    return g.head<2>() / g.z();
}

/// The homography with its unit vector moved in the plane that stands square on it: eight numbers, not nine.
Eigen::Matrix3d LaidGround::moved(const Vector8& by) const {
    const Vector9 h = (unit_ + basis_ * by).normalized();
    return to_picture_.inverse() * matrix_of(h) * to_ground_;
}

void LaidGround::refine(const std::vector<GroundMark>& marks, const std::vector<GroundLength>& lengths) {
    const auto n = 2 * static_cast<Eigen::Index>(marks.size()) + static_cast<Eigen::Index>(lengths.size());
    const auto residuals = [&](const Eigen::Matrix3d& h) {
        Eigen::VectorXd r(n);
        for (std::size_t i = 0; i < marks.size(); ++i) {
            const Eigen::Vector3d p = h * Eigen::Vector3d(marks[i].at.x, marks[i].at.y, 1);
            const double w = std::abs(p.z()) < 1e-12 ? 1e-12 : p.z();
            r(2 * static_cast<Eigen::Index>(i)) = (p.x() / w - marks[i].x) / marks[i].sd_px;
            r(2 * static_cast<Eigen::Index>(i) + 1) = (p.y() / w - marks[i].y) / marks[i].sd_px;
        }
        for (std::size_t i = 0; i < lengths.size(); ++i) {
            const GroundLength& l = lengths[i];
            const auto ends = [&](double dx1, double dy1, double dx2, double dy2) {
                return (ground(h, l.x1 + dx1, l.y1 + dy1) - ground(h, l.x2 + dx2, l.y2 + dy2)).norm();
            };
            double variance = 0;  // of the length, by the clicks at its ends
            for (int k = 0; k < 4; ++k) {
                const double d[4] = {k == 0 ? 0.5 : 0, k == 1 ? 0.5 : 0, k == 2 ? 0.5 : 0, k == 3 ? 0.5 : 0};
                const double slope = ends(d[0], d[1], d[2], d[3]) - ends(-d[0], -d[1], -d[2], -d[3]);
                variance += slope * slope * l.sd_px * l.sd_px;
            }
            r(2 * static_cast<Eigen::Index>(marks.size() + 0) + static_cast<Eigen::Index>(i)) =
                (ends(0, 0, 0, 0) - l.length_m) / std::sqrt(std::max(variance, 1e-8));
        }
        return r;
    };
    const auto jacobian = [&] {
        Eigen::MatrixXd j(n, 8);
        constexpr double kStep = 1e-6;
        for (int k = 0; k < 8; ++k) {
            Vector8 by = Vector8::Zero();
            by(k) = kStep;
            j.col(k) = (residuals(moved(by)) - residuals(moved(-by))) / (2 * kStep);
        }
        return j;
    };
    double damping = 1e-3;
    lay_basis();
    double cost = residuals(h_).squaredNorm();
    for (int round = 0; round < kLayRounds; ++round) {
        const Eigen::MatrixXd j = jacobian();
        const Matrix8 jj = j.transpose() * j;
        const Vector8 g = j.transpose() * residuals(h_);
        const Vector8 step = -(jj + damping * Matrix8(jj.diagonal().asDiagonal())).ldlt().solve(g);
        if (!step.allFinite()) break;
        const double next = residuals(moved(step)).squaredNorm();
        if (!(next < cost)) {
            damping *= 8;
            if (damping > 1e8) break;
            continue;
        }
        const bool still = cost - next < 1e-12 * (1 + cost);
        unit_ = (unit_ + basis_ * step).normalized();
        h_ = to_picture_.inverse() * matrix_of(unit_) * to_ground_;
        lay_basis();
        cost = next;
        damping = std::max(damping / 6, 1e-10);
        if (still) break;
    }
    const auto dof = static_cast<double>(n - 8);
    if (dof > 0 && cost / dof > kWorstFitSd * kWorstFitSd)
        throw Refused(fmt::format(
            "the marks contradict each other (off by {:.0f} of their errors): a name is another's, "
            "or one was clicked elsewhere",
            std::sqrt(cost / dof)));
    const Eigen::MatrixXd j = jacobian();
    covariance_ = (j.transpose() * j).ldlt().solve(Matrix8::Identity());
    if (dof > 0) covariance_ *= std::max(1.0, cost / dof);
    covariance_ = (covariance_ + covariance_.transpose().eval()) / 2;
    const Eigen::SelfAdjointEigenSolver<Matrix8> eigen(covariance_);
    roots_ = eigen.eigenvectors() * eigen.eigenvalues().cwiseMax(0).cwiseSqrt().asDiagonal();
}

namespace {

/// Camera and how badly the ground's axes fit it: they must be square on each other and equally long.
struct FoundCamera {
    Eigen::Vector3d at{0, 0, 0};
    double misfit = std::numeric_limits<double>::max();
};

/// Square pixels and a principal point: the focal length by the two conditions on the ground's axes, then
/// where the camera stands (Z. Zhang, A flexible new technique for camera calibration, 2000, section 3.1).
FoundCamera camera_with(const Eigen::Matrix3d& homography, const Eigen::Vector2d& middle,
                        const GroundPoint& seen) {
    FoundCamera out;
    Eigen::Matrix3d centred = Eigen::Matrix3d::Identity();
    centred(0, 2) = -middle.x();
    centred(1, 2) = -middle.y();
    const Eigen::Matrix3d h = centred * homography;
    const Eigen::Vector3d a = h.col(0), b = h.col(1);
    // a·ω·b = 0 and a·ω·a = b·ω·b with ω = diag(1/f², 1/f², 1): each says f².
    const double n1 = -(a.x() * b.x() + a.y() * b.y()), d1 = a.z() * b.z();
    const double n2 = b.x() * b.x() + b.y() * b.y() - a.x() * a.x() - a.y() * a.y(),
                 d2 = a.z() * a.z() - b.z() * b.z();
    const double below = d1 * d1 + d2 * d2;
    constexpr double kShortestFocal = 100, kLongestFocal = 20000;  // focal lengths, pixels
    const double f2 = below < 1e-30 ? 0 : (n1 * d1 + n2 * d2) / below;
    if (!(f2 > kShortestFocal * kShortestFocal && f2 < kLongestFocal * kLongestFocal)) return out;
    Eigen::Matrix3d bare = h;
    bare.topRows<2>() /= std::sqrt(f2);
    bare /= (bare.col(0).norm() + bare.col(1).norm()) / 2;
    if (bare(2, 2) + bare(2, 0) * seen.x + bare(2, 1) * seen.y < 0) bare = -bare;
    Eigen::Matrix3d rotation;
    rotation.col(0) = bare.col(0).normalized();
    rotation.col(1) = (bare.col(1) - bare.col(1).dot(rotation.col(0)) * rotation.col(0)).normalized();
    rotation.col(2) = rotation.col(0).cross(rotation.col(1));
    const Eigen::Vector3d at = -rotation.transpose() * bare.col(2);
    constexpr double kLowest = 0.3;
    if (std::abs(at.z()) < kLowest) return out;
    out.at = {at.x(), at.y(), std::abs(at.z())};
    out.misfit = std::abs(bare.col(0).dot(bare.col(1))) + std::abs(bare.col(0).norm() - bare.col(1).norm());
    return out;
}

}  // namespace

/// The principal point lies in the middle of the picture, whose size nobody says: of the usual sizes that
/// hold the marks the one that fits the ground's axes best.
void LaidGround::find_camera(const std::vector<GroundMark>& marks) {
    double right = 0, low = 0;
    for (const GroundMark& m : marks) right = std::max(right, m.x), low = std::max(low, m.y);
    constexpr std::pair<double, double> kSizes[] = {{640, 480},   {960, 540},   {1280, 720},  {1440, 1080},
                                                    {1920, 1080}, {2560, 1440}, {2704, 1520}, {3840, 2160},
                                                    {720, 1280},  {1080, 1920}, {2160, 3840}};
    FoundCamera best;
    for (const auto& [w, h] : kSizes) {
        if (right > w || low > h) continue;
        const FoundCamera found = camera_with(h_, {w / 2, h / 2}, marks.front().at);
        if (found.misfit < best.misfit) best = found;
    }
    if (best.misfit < std::numeric_limits<double>::max()) camera_ = best.at;
}

Eigen::Vector2d LaidGround::picture(GroundPoint at) const {
    const Eigen::Vector3d p = h_ * Eigen::Vector3d(at.x, at.y, 1);
    return p.head<2>() / p.z();
}

GroundPoint LaidGround::place_moved(double x, double y, int direction, double by) const {
    const Eigen::Vector2d g = ground(moved(by * roots_.col(direction)), x, y);
    return {g.x(), g.y()};
}

GroundPlace LaidGround::place(double x, double y, double sd_px, double height_m, double height_sd_m) const {
    const Eigen::Vector3d raw = h_.inverse() * Eigen::Vector3d(x, y, 1);
    const Eigen::Vector3d middle = h_.inverse() * to_picture_.inverse() * Eigen::Vector3d(0, 0, 1);
    if (raw.z() * middle.z() <= 0)
        throw Refused(
            fmt::format("({:.0f}, {:.0f}) lies above the horizon: that is no place on the ground", x, y));
    Eigen::Vector2d at = raw.head<2>() / raw.z();
    GroundPlace out;
    const Eigen::Vector2d dx = ground(h_, x + 0.5, y) - ground(h_, x - 0.5, y),
                          dy = ground(h_, x, y + 0.5) - ground(h_, x, y - 0.5);
    out.covariance = sd_px * sd_px * (dx * dx.transpose() + dy * dy.transpose());
    constexpr double kStep = 1e-3;
    for (int k = 0; k < kDirections; ++k) {
        const GroundPoint a = place_moved(x, y, k, kStep), b = place_moved(x, y, k, -kStep);
        const Eigen::Vector2d slope = Eigen::Vector2d(a.x - b.x, a.y - b.y) / (2 * kStep);
        out.covariance += slope * slope.transpose();
    }
    if (camera_ && (height_m != 0 || height_sd_m > 0)) {
        const Eigen::Vector2d away = at - camera_->head<2>();
        const double high = std::max(camera_->z(), 0.5);
        at -= away * height_m / high;
        out.covariance += (height_sd_m / high) * (height_sd_m / high) * away * away.transpose();
    }
    out.at = {at.x(), at.y()};
    const Eigen::SelfAdjointEigenSolver<Eigen::Matrix2d> eigen(out.covariance);
    out.sd_m = std::sqrt(std::max(0.0, eigen.eigenvalues().maxCoeff()));
    return out;
}

}  // namespace aspen::core
