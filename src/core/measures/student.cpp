#include "core/measures/student.hpp"

#include <algorithm>
#include <unsupported/Eigen/SpecialFunctions>

namespace aspen::core {

double t_two_sided(double t, double df) { return Eigen::numext::betainc(df / 2, 0.5, df / (df + t * t)); }

double t_quantile_95(double df) {
    double low = 0, high = 1;
    while (t_two_sided(high, df) > 0.1) high *= 2;
    for (int i = 0; i < 40; ++i) {
        const double middle = (low + high) / 2;
        (t_two_sided(middle, df) > 0.1 ? low : high) = middle;
    }
    return (low + high) / 2;
}

double neighbours_correlation(std::span<const std::optional<double>> values) {
    double sum = 0, squares = 0, products = 0;
    int n = 0, pairs = 0;
    for (const auto& v : values) {
        if (v) sum += *v, ++n;
    }
    if (n < 3) return kUsualCorrelation;
    const double mean = sum / n;
    for (std::size_t i = 0; i < values.size(); ++i) {
        if (!values[i]) continue;
        squares += (*values[i] - mean) * (*values[i] - mean);
        if (i == 0 || !values[i - 1]) continue;
        products += (*values[i] - mean) * (*values[i - 1] - mean);
        ++pairs;
    }
    if (!(squares > 0)) return kUsualCorrelation;
    constexpr double kLikePairs = 5;  // that much the usual one weighs
    double r = products / squares;
    r = n > 5 ? (n * r + 1) / (n - 3) : r + (1 + 3 * std::max(r, 0.0)) / n;
    return std::clamp((pairs * r + kLikePairs * kUsualCorrelation) / (pairs + kLikePairs), 0.0, 0.7);
}

double worth(int n, double r) { return n * (1 - r) / (1 + r); }

}  // namespace aspen::core
