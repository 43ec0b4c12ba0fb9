#include "core/motion/hip_loop.hpp"

#include <Eigen/Core>
#include <Eigen/LU>
#include <algorithm>
#include <cmath>

#include "core/body/geometry.hpp"

namespace aspen::core {
namespace {

using Eigen::Matrix3d;
using Eigen::Vector3d;

/// The largest real eigenvalue of a matrix whose eigenvalues are all real: the largest root of its
/// characteristic cubic, by the cosines of its third (Viète), then Newton's steps on the cubic itself.
/// Eigen's general solver gives the same, and costs every build twenty seconds.
double largest_eigenvalue(const Matrix3d& m) {
    const double trace = m.trace(), det = m.determinant();
    const double minors = m(0, 0) * m(1, 1) - m(0, 1) * m(1, 0) + m(0, 0) * m(2, 2) - m(0, 2) * m(2, 0) +
                          m(1, 1) * m(2, 2) - m(1, 2) * m(2, 1);
    const double third = trace / 3, p = third * third - minors / 3;
    const double q = third * third * third - third * minors / 2 + det / 2;
    const double radius = std::sqrt(std::max(0.0, p));
    const double cosine = radius > 0 ? std::clamp(q / (radius * radius * radius), -1.0, 1.0) : 1.0;
    double x = third + 2 * radius * std::cos(std::acos(cosine) / 3);
    for (int i = 0; i < 3; ++i) {
        const double slope = (3 * x - 2 * trace) * x + minors;
        if (slope == 0) break;
        x -= (((x - trace) * x + minors) * x - det) / slope;
    }
    return x;
}

/// What m - value turns to nothing, of length 1: across two of its rows, the two that lie furthest apart.
Vector3d eigenvector(Matrix3d m, double value) {
    m.diagonal().array() -= value;
    Vector3d best = Vector3d::Zero();
    for (int i = 0; i < 3; ++i) {
        const Vector3d a = m.row(i), b = m.row((i + 1) % 3);
        const Vector3d across(a(1) * b(2) - a(2) * b(1), a(2) * b(0) - a(0) * b(2),
                              a(0) * b(1) - a(1) * b(0));
        if (across.squaredNorm() > best.squaredNorm()) best = across;
    }
    return best.norm() > 0 ? Vector3d(best / best.norm()) : best;
}

}  // namespace

std::optional<Loop> fit_loop(std::span<const double> a, std::span<const double> b) {
    const std::size_t n = a.size();
    if (n < 6) return std::nullopt;
    const auto mean = [n](std::span<const double> v) {
        double sum = 0;
        for (const double x : v) sum += x;
        return sum / static_cast<double>(n);
    };
    // About the middle and by the size of the points, so that the squares stay alike.
    const double mx = mean(a), my = mean(b);
    double size = 0;
    for (std::size_t i = 0; i < n; ++i) size = std::max({size, std::abs(a[i] - mx), std::abs(b[i] - my)});
    if (!(size > 0)) return std::nullopt;
    Matrix3d s1 = Matrix3d::Zero(), s2 = Matrix3d::Zero(), s3 = Matrix3d::Zero();
    for (std::size_t i = 0; i < n; ++i) {
        const double x = (a[i] - mx) / size, y = (b[i] - my) / size;
        const Vector3d squares(x * x, x * y, y * y), plain(x, y, 1);
        s1 += squares * squares.transpose();
        s2 += squares * plain.transpose();
        s3 += plain * plain.transpose();
    }
    const Eigen::FullPivLU<Matrix3d> lu(s3);
    if (!lu.isInvertible()) return std::nullopt;
    const Matrix3d t = -lu.solve(s2.transpose());
    const Matrix3d m = s1 + s2 * t;
    // Of the three conics that fit best the ellipse is the one of the largest eigenvalue: the constraint 4 A
    // C - B² = 1 has one positive direction, and what is left over, m, has none that is negative.
    Matrix3d reduced;
    reduced << m.row(2) / 2, -m.row(1), m.row(0) / 2;
    const Vector3d q = eigenvector(reduced, largest_eigenvalue(reduced));
    if (!(4 * q(0) * q(2) - q(1) * q(1) > 0)) return std::nullopt;
    const Vector3d l = t * q;
    // A x² + B xy + C y² + D x + E y + F = 0 about its centre: z' M z = c.
    Eigen::Matrix2d conic;
    conic << q(0), q(1) / 2, q(1) / 2, q(2);
    const Eigen::Vector2d centre = -0.5 * conic.inverse() * l.head<2>();
    const double c = centre.dot(conic * centre) - l(2);
    conic /= c;
    // Its axes: the eigenvalues of a symmetric matrix of two rows.
    const double middle = conic.trace() / 2, off = conic(0, 1);
    const double half = std::hypot((conic(0, 0) - conic(1, 1)) / 2, off);
    if (!(middle - half > 0)) return std::nullopt;
    const Eigen::Matrix2d spread = conic.inverse();  // extents are the roots of its diagonal
    Loop out;
    out.width = 2 * size * std::sqrt(spread(0, 0));
    out.height = 2 * size * std::sqrt(spread(1, 1));
    out.longer = std::sqrt((middle + half) / (middle - half));
    // Of the smaller eigenvalue: the long axis, across that of the larger.
    out.tilt_deg = degrees(std::atan2(2 * off, conic(0, 0) - conic(1, 1)) / 2) + 90;
    if (out.tilt_deg > 90) out.tilt_deg -= 180;
    if (out.tilt_deg <= -90) out.tilt_deg += 180;
    return out;
}

}  // namespace aspen::core
