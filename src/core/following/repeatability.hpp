#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "core/body/geometry.hpp"

/// How well measuring the same thing again gives the same value.
namespace aspen::core {

/// Standard deviations of a difference beyond which it is more than measuring error, in 95 of 100 (Weir
/// 2005).
inline constexpr double kDetectable = 1.96;

/// Ratings of n targets (rows) by k judges or occasions (columns), the same k for every target.
using Ratings = std::vector<std::vector<double>>;

/// Intraclass correlations of single ratings (Shrout & Fleiss 1979): (1,1) each target rated by other judges,
/// (2,1) all by the same judges drawn at random, (3,1) all by the same fixed judges.
struct Intraclass {
    double icc_1_1 = 0, icc_2_1 = 0, icc_3_1 = 0;
};
/// Throws Refused with fewer than two targets or judges, or rows of different length.
Intraclass intraclass(const Ratings& ratings);

/// Mean difference of paired values and its limits of agreement, mean -+ 2 standard deviations (Bland &
/// Altman 1986).
struct Agreement {
    double mean = 0, sd = 0, lo = 0, hi = 0;
};
/// `a` minus `b`, pair by pair. Throws Refused with fewer than two pairs or lists of different length.
Agreement agreement(std::span<const double> a, std::span<const double> b);

/// A joint marked twice by the same coach, the second time blind; pixels where the shorter side is 1080.
struct MarkedTwice {
    std::int64_t clip = 0;
    int frame = 0;
    Point first, again;
};
/// The standard deviation of one click in one direction: both clicks of a pair are off by it, so that the
/// mean square of the difference is twice its square. Never below a quarter of a pixel.
struct ClickError {
    double sd_px = 0;
    int frames = 0, joints = 0;
};
ClickError click_error(std::span<const MarkedTwice> pairs);
/// Frames from which a coach's own error takes the place of the usual one.
inline constexpr int kFewestBlindFrames = 3;

}  // namespace aspen::core
