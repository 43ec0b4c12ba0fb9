#include "core/motion/small_numbers.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace aspen::core {
namespace {

constexpr double kCover = 0.90;

double mean(std::span<const double> v) {
    return std::accumulate(v.begin(), v.end(), 0.0) / static_cast<double>(v.size());
}

}  // namespace

std::optional<double> median(std::vector<double> v) {
    if (v.empty()) return std::nullopt;
    std::ranges::sort(v);
    const std::size_t n = v.size();
    return n % 2 ? v[n / 2] : (v[n / 2 - 1] + v[n / 2]) / 2;
}

std::optional<std::pair<double, double>> median_interval(std::vector<double> v) {
    const std::size_t n = v.size();
    // Binomial(n, 1/2) summed from below in logarithms: no overflow for long lists.
    const double dn = static_cast<double>(n);
    double below = 0;       // P(fewer than k + 1 below the median)
    std::size_t inner = 0;  // the largest k whose pair (k, n + 1 - k) still covers enough
    for (std::size_t k = 1; 2 * k <= n; ++k) {
        const double i = static_cast<double>(k - 1);
        below +=
            std::exp(std::lgamma(dn + 1) - std::lgamma(i + 1) - std::lgamma(dn - i + 1) - dn * std::log(2.0));
        if (1 - 2 * below < kCover) break;
        inner = k;
    }
    if (inner == 0) return std::nullopt;
    std::ranges::sort(v);
    return std::pair{v[inner - 1], v[n - inner]};
}

std::optional<Share> wilson(int good, int of, double z) {
    if (of <= 0) return std::nullopt;
    const double n = of, p = good / n, z2 = z * z;
    const double middle = (p + z2 / (2 * n)) / (1 + z2 / n);
    const double half = z / (1 + z2 / n) * std::sqrt(p * (1 - p) / n + z2 / (4 * n * n));
    return Share{p, std::max(0.0, middle - half), std::min(1.0, middle + half)};
}

std::optional<double> slope(std::span<const double> v) {
    if (v.size() < 2) return std::nullopt;
    const double mid = static_cast<double>(v.size() - 1) / 2, at = mean(v);
    double sxy = 0, sxx = 0;
    for (std::size_t i = 0; i < v.size(); ++i) {
        const double x = static_cast<double>(i) - mid;
        sxy += x * (v[i] - at);
        sxx += x * x;
    }
    return sxy / sxx;
}

std::optional<double> cv_pct(std::span<const double> v) {
    if (v.size() < 2) return std::nullopt;
    const double at = mean(v);
    if (at == 0) return std::nullopt;
    double ss = 0;
    for (const double x : v) ss += (x - at) * (x - at);
    return 100 * std::sqrt(ss / static_cast<double>(v.size() - 1)) / at;
}

}  // namespace aspen::core
