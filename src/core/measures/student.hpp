#pragma once

#include <optional>
#include <span>

/// Student's t with any number of degrees of freedom, and what neighbours that are alike leave of a count.
namespace aspen::core {

/// Chance that |t| is at least this large: the regularised incomplete beta function I(df / (df + t^2); df /
/// 2, 1 / 2) (Abramowitz & Stegun 26.5.27, from memory). df above 0.
double t_two_sided(double t, double df);

/// The 0.95 quantile, of the two-sided 90 % interval; df above 0.
double t_quantile_95(double df);

/// Correlation of neighbouring values (an empty one has no neighbours), its bias of -(1 + 3 r) / n taken out
/// (Kendall 1954, from memory), drawn towards kUsualCorrelation as if five pairs said so, within 0 ... 0.7.
double neighbours_correlation(std::span<const std::optional<double>> values);
inline constexpr double kUsualCorrelation = 0.2;

/// How many independent values these are worth: n (1 - r) / (1 + r).
double worth(int n, double r);

}  // namespace aspen::core
