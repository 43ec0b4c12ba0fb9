#pragma once

#include <optional>
#include <span>
#include <vector>

#include "core/following/following.hpp"

/// A straight line through values of unequal error.
namespace aspen::core {

/// Least squares weighted by 1 / sd² (Press et al., Numerical Recipes, 15.2, from memory).
struct LineFit {
    double slope = 0, intercept = 0;        ///< at x = 0
    double slope_sd = 0, intercept_sd = 0;  ///< from the stated errors alone
    /// Root of chi² by its degrees of freedom: 1 where the stated errors explain the scatter. Errors times
    /// this are those of ordinary regression, whatever the scale of the stated ones.
    double scatter = 0;
    double middle = 0;  ///< weighted mean of x
    int n = 0;
};
/// Empty below three values, where all x are the same, or where a standard deviation is not positive.
/// Throws Refused where the lists differ in length.
std::optional<LineFit> fit_line(std::span<const double> x, std::span<const double> y,
                                std::span<const double> sd);

/// The larger error of two: what was stated for each value and the form of its day, or what their scatter
/// about the line shows.
struct Trend {
    LineFit line;                        ///< x in days since `first_day`, y in the measure's unit
    double a_month = 0, lo = 0, hi = 0;  ///< change in 30.44 days with its two-sided 90 % interval
    bool told = false;                   ///< the interval leaves out 0
    double at(double day) const { return line.intercept + line.slope * day; }
    /// Half-width of the line's own 90 % interval at a day.
    double reach(double day) const;
    double t = 0;  ///< quantile used
};
/// `days` since the first review, ascending. `form`: the standard deviation of a day about the line, which no
/// residual falls below. Angles that can turn right round are unwrapped first.
std::optional<Trend> trend_of(std::span<const double> days, std::span<const ReviewValue> values, double form,
                              bool full_turn = false);

/// One rider's rides of one correction, oldest first: days since the first, and their values.
struct OwnLine {
    std::vector<double> days;
    std::vector<ReviewValue> values;
};
/// The form of the day as the rides themselves show it: from five rides of a line on its residual variance
/// less the mean of the stated ones, never below a quarter of the usual variance; pooled over all lines by
/// degrees of freedom, among which the usual one counts as kFormDegrees. The usual form where no line has
/// five rides.
double learned_form(std::span<const OwnLine> lines, double usual, bool full_turn = false);
inline constexpr int kRidesForForm = 5, kFormDegrees = 6;

}  // namespace aspen::core
