#include "core/motion/hip_loop.hpp"

#include <Eigen/Dense>
#include <Eigen/Eigenvalues>
#include <cmath>

#include "core/body/geometry.hpp"

namespace aspen::core {

std::optional<Loop> fit_loop(std::span<const double> a, std::span<const double> b) {
    const auto n = static_cast<Eigen::Index>(a.size());
    if (n < 6) return std::nullopt;
    const Eigen::Map<const Eigen::VectorXd> x0(a.data(), n), y0(b.data(), n);
    // About the middle and by the size of the points, so that the squares stay alike.
    const double mx = x0.mean(), my = y0.mean();
    const double size = std::max((x0.array() - mx).abs().maxCoeff(), (y0.array() - my).abs().maxCoeff());
    if (!(size > 0)) return std::nullopt;
    const Eigen::ArrayXd x = (x0.array() - mx) / size, y = (y0.array() - my) / size;
    Eigen::MatrixXd d1(n, 3), d2(n, 3);
    d1 << x.square(), x * y, y.square();
    d2 << x, y, Eigen::ArrayXd::Ones(n);
    const Eigen::Matrix3d s1 = d1.transpose() * d1, s2 = d1.transpose() * d2, s3 = d2.transpose() * d2;
    const Eigen::FullPivLU<Eigen::Matrix3d> lu(s3);
    if (!lu.isInvertible()) return std::nullopt;
    const Eigen::Matrix3d t = -lu.solve(s2.transpose());
    const Eigen::Matrix3d m = s1 + s2 * t;
    Eigen::Matrix3d reduced;
    reduced << m.row(2) / 2, -m.row(1), m.row(0) / 2;
    const Eigen::EigenSolver<Eigen::Matrix3d> solver(reduced);
    for (int k = 0; k < 3; ++k) {
        const Eigen::Vector3cd v = solver.eigenvectors().col(k);
        if (v.imag().norm() > 1e-9 * v.norm()) continue;
        const Eigen::Vector3d q = v.real();
        if (!(4 * q(0) * q(2) - q(1) * q(1) > 0)) continue;
        const Eigen::Vector3d l = t * q;
        // A x² + B xy + C y² + D x + E y + F = 0 about its centre: z' M z = c.
        Eigen::Matrix2d conic;
        conic << q(0), q(1) / 2, q(1) / 2, q(2);
        const Eigen::Vector2d linear(l(0), l(1));
        const Eigen::Vector2d centre = -0.5 * conic.inverse() * linear;
        const double c = centre.dot(conic * centre) - l(2);
        const Eigen::SelfAdjointEigenSolver<Eigen::Matrix2d> axes(conic / c);
        if (!(axes.eigenvalues().minCoeff() > 0)) continue;
        const Eigen::Matrix2d spread = (conic / c).inverse();  // extents are the roots of its diagonal
        Loop out;
        out.width = 2 * size * std::sqrt(spread(0, 0));
        out.height = 2 * size * std::sqrt(spread(1, 1));
        out.longer = std::sqrt(axes.eigenvalues()(1) / axes.eigenvalues()(0));
        const Eigen::Vector2d along = axes.eigenvectors().col(0);  // of the smaller eigenvalue: the long axis
        out.tilt_deg = degrees(std::atan2(along.y(), along.x()));
        if (out.tilt_deg > 90) out.tilt_deg -= 180;
        if (out.tilt_deg <= -90) out.tilt_deg += 180;
        return out;
    }
    return std::nullopt;
}

}  // namespace aspen::core
