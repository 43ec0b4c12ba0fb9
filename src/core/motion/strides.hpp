#pragma once

#include <optional>
#include <span>
#include <vector>

#include "core/motion/happenings.hpp"

namespace aspen::core {

/// How the lowest points of a bounce make strides.
enum class StrideEvery { lowest, second_lowest };

struct StrideSpan {
    double start_s, end_s;
};

/// The period of a bouncing series, seconds: the first maximum of its autocorrelation that comes up to most
/// of its largest one. Empty where nothing repeats.
std::optional<double> period_of(std::span<const double> x, double step_s);

/// Half of a period, where the series comes again there too, if less alike: a trot that puts one diagonal
/// down harder than the other repeats itself only every second beat. Empty where it does not.
std::optional<double> half_period_of(std::span<const double> x, double step_s, double period_s);

/// Lowest points of a series in time order: detrended over four periods when two lowest points make a stride,
/// else over two, with a prominence of at least 30 % of the median and 60 % of the period apart; between
/// samples by a parabola. NaN splits the series.
struct LowestPoint {
    double time_s;
    int place;  ///< counted on over missed ones; a split starts a new hundred
};
std::vector<LowestPoint> lowest_points(std::span<const double> grid, std::span<const double> x,
                                       double period_s, StrideEvery every);

/// Whole strides between them. `first_even`: a time near which an even one lies (by diagonal or hoof); empty:
/// the first counts as even. A stride with a missed point inside is left out.
std::vector<StrideSpan> strides_of(const std::vector<LowestPoint>& lowest, StrideEvery every,
                                   std::optional<double> first_even);

/// What a coach said of strides that were found wrongly, as events: `stride_start` moves the start that lies
/// nearest (closer than a third of a stride), else cuts the stride it lies in, or fills a hole with two;
/// `stride_off` takes the stride it lies in out of the count.
std::vector<StrideSpan> as_said(std::vector<StrideSpan> strides, const std::vector<Happening>& said);

}  // namespace aspen::core
