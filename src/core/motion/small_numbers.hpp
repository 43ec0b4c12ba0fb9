#pragma once

#include <optional>
#include <span>
#include <utility>
#include <vector>

/// Figures that fit small numbers: what a coach counts in a lesson is rarely more than a dozen.
namespace aspen::core {

/// The middle value, the mean of both middle ones for an even number; empty for none.
std::optional<double> median(std::vector<double> values);

/// The innermost pair of order statistics that holds the median of the population with at least 90 %
/// (distribution-free: the sign test's interval, Binomial(n, 1/2)); empty below five values, where no pair
/// does.
std::optional<std::pair<double, double>> median_interval(std::vector<double> values);

/// Normal quantile of 0.95: the two-sided 90 % interval.
inline constexpr double kZ90 = 1.6448536269514722;

/// A share of so many with its interval (Wilson 1927, two-sided, without continuity correction), each 0…1;
/// empty for none. `z`: normal quantile of the interval.
struct Share {
    double share = 0, lo = 0, hi = 0;
};
std::optional<Share> wilson(int good, int of, double z = kZ90);

/// Least-squares slope of values against their place 0, 1, 2 …; empty below two.
std::optional<double> slope(std::span<const double> values);

/// 100·standard deviation / mean, with n − 1; empty below two or around 0.
std::optional<double> cv_pct(std::span<const double> values);

}  // namespace aspen::core
