// The straight line against certified values and another library.

#include <gtest/gtest.h>

#include <Eigen/Dense>
#include <cmath>
#include <random>

#include "core/following/trend.hpp"

namespace aspen::core {
namespace {

// NIST Statistical Reference Datasets, linear regression, "Norris" (lower difficulty, 36 observations): data
// and certified values from memory; that they fit each other to ten digits is the check on the memory.
TEST(NistStrd, Norris) {
    constexpr double kData[36][2] = {
        {0.1, 0.2},     {338.8, 337.4}, {118.1, 118.2}, {888.0, 884.6}, {9.2, 10.1},    {228.1, 226.5},
        {668.5, 666.3}, {998.5, 996.3}, {449.1, 448.6}, {778.9, 777.0}, {559.2, 558.2}, {0.3, 0.4},
        {0.1, 0.6},     {778.1, 775.5}, {668.8, 666.9}, {339.3, 338.0}, {448.9, 447.5}, {10.8, 11.6},
        {557.7, 556.0}, {228.3, 228.1}, {998.0, 995.8}, {888.8, 887.6}, {119.6, 120.2}, {0.3, 0.3},
        {0.6, 0.3},     {557.6, 556.8}, {339.3, 339.1}, {888.0, 887.2}, {998.5, 999.0}, {778.9, 779.0},
        {10.2, 11.1},   {117.6, 118.3}, {228.9, 229.2}, {668.4, 669.1}, {449.2, 448.9}, {0.2, 0.5}};
    std::vector<double> x, y;
    for (const auto& [b, a] : kData) {
        y.push_back(b);
        x.push_back(a);
    }
    const auto fit = fit_line(x, y, std::vector<double>(x.size(), 1.0));
    ASSERT_TRUE(fit);
    EXPECT_NEAR(fit->slope, 1.00211681802045, 1e-12);
    EXPECT_NEAR(fit->intercept, -0.262323073774029, 1e-11);
    EXPECT_NEAR(fit->slope_sd * fit->scatter, 0.429796848199937e-03, 1e-13);
    EXPECT_NEAR(fit->intercept_sd * fit->scatter, 0.232818234301152, 1e-11);
    EXPECT_NEAR(fit->scatter, 0.884796396144373, 1e-11) << "residual standard deviation";
}

// Weighted least squares by another way, Eigen's: the normal equations' inverse is the covariance.
TEST(AgainstEigen, TheWeightedLineAndItsErrors) {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> unit(0, 1);
    for (int n = 0; n < 60; ++n) {
        const int m = 3 + n % 20;
        Eigen::MatrixXd a(m, 2);
        Eigen::VectorXd b(m);
        std::vector<double> x, y, sd;
        for (int i = 0; i < m; ++i) {
            x.push_back(400 * unit(random));
            sd.push_back(0.2 + 3 * unit(random));
            y.push_back(5 - 0.03 * x.back() + 2 * sd.back() * (unit(random) - 0.5));
            a(i, 0) = x.back() / sd.back();
            a(i, 1) = 1 / sd.back();
            b(i) = y.back() / sd.back();
        }
        const Eigen::Vector2d theirs = a.colPivHouseholderQr().solve(b);
        const Eigen::Matrix2d covariance = (a.transpose() * a).inverse();
        const double chi = (a * theirs - b).squaredNorm();
        const auto ours = fit_line(x, y, sd);
        ASSERT_TRUE(ours);
        EXPECT_NEAR(ours->slope, theirs(0), 1e-9);
        EXPECT_NEAR(ours->intercept, theirs(1), 1e-7);
        EXPECT_NEAR(ours->slope_sd, std::sqrt(covariance(0, 0)), 1e-9);
        EXPECT_NEAR(ours->intercept_sd, std::sqrt(covariance(1, 1)), 1e-8);
        EXPECT_NEAR(ours->scatter, std::sqrt(chi / (m - 2)), 1e-8);
    }
}

}  // namespace
}  // namespace aspen::core
