#pragma once

#include <limits>
#include <optional>
#include <span>
#include <vector>

/// Values over time: evenly spaced, smoothed without lag, and what harmonics say of one stride of them.
namespace aspen::core {

/// What was not followed.
inline constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

/// A hole longer than this splits a series.
inline constexpr double kLongestHoleS = 0.15;
/// Where the smoothing has fallen by 3 dB after both passes.
inline constexpr double kCutoffHz = 6.0;

/// Times at the median rate of `times` (rising), from the first to the last. Empty below two.
std::vector<double> even_times(std::span<const double> times);

/// One value at a time; `times` rising.
struct Sample {
    double time_s, value;
};
/// Samples between their neighbours on the grid, straight; NaN outside them and in holes longer than
/// kLongestHoleS.
std::vector<double> on_grid(std::span<const Sample> samples, std::span<const double> grid);

/// Butterworth of second order, forwards and backwards, so that there is no lag and -3 dB after both passes
/// lie at the cut-off (bilinear transform, corrected as in Winter, "Biomechanics and Motor Control of Human
/// Movement"); the ends are continued by odd reflection. Parts between NaN are smoothed each by itself; at a
/// rate that cannot hold the cut-off nothing is done.
void smooth(std::vector<double>& x, double rate_hz, double cutoff_hz = kCutoffHz);

/// The cut-off that leaves as much of the signal's bending as of the noise, by residual analysis (Winter,
/// "Biomechanics and Motor Control of Human Movement"): what smoothing takes away falls in a straight line
/// where it is noise alone; that line, drawn on to 0 Hz, says how much noise there is, and the cut-off is
/// where just so much is taken away. Hz; empty where there is too little to tell noise from signal by.
std::optional<double> residual_cutoff_hz(const std::vector<double>& x, double rate_hz);

/// Pearson's correlation of `a` with `b` so many samples later, over the samples of `a` in [from, to); pairs
/// with a NaN are left out. 0 with fewer than eight pairs, or where one of them does not move.
double correlation(std::span<const double> a, std::span<const double> b, int shift, std::size_t from,
                   std::size_t to);

/// A moving mean over so many samples (an odd number is made of it), centred, without lag; shorter at the
/// ends.
std::vector<double> moving_mean(std::span<const double> x, int samples);

/// Least-squares fit of a constant and the first harmonics to one period of samples.
struct Harmonics {
    double mean = 0;
    std::vector<double> cosine, sine;  ///< from the first harmonic on
    /// At a place of the period, 0 … 1.
    double at(double place) const;
    /// The same of one harmonic alone, counted from 1.
    double of(int harmonic, double place) const;
    /// Highest minus lowest of the fit, looked at in so many places.
    double peak_to_peak(int steps = 360) const;
    /// Where one harmonic is highest, 0 … 1 of the period, the first such place.
    double highest(int harmonic) const;
};
/// `places`: 0 … 1 of the period for each value; `drift`: a straight line is fitted beside them and left out.
/// Empty with fewer values than twice what is fitted, or a NaN.
std::optional<Harmonics> fit_harmonics(std::span<const double> places, std::span<const double> values,
                                       int harmonics, bool drift = false);

/// How much noise lifts highest minus lowest of three harmonics on average: drawn from a fixed seed around
/// the mean curve of the strides, with noise of this variance in each of their coefficients; and how far it
/// throws a single stride's value about.
struct NoiseIn {
    double lift = 0, sd = 0;
};
NoiseIn noise_in(const Harmonics& mean_curve, double coefficient_variance);

/// The series with full turns taken out, degrees.
void unwrap(std::vector<double>& degrees);

}  // namespace aspen::core
