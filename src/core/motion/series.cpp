#include "core/motion/series.hpp"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>
#include <utility>

namespace aspen::core {
namespace {

constexpr double kTau = 2 * std::numbers::pi;

struct Biquad {
    double b0, b1, b2, a1, a2;
};

/// Two passes of a Butterworth of order n are at -3 dB together where one is at -1.5 dB: the cut-off of each
/// is moved up by 1 / (sqrt 2 - 1)^(1/4).
Biquad butterworth(double rate_hz, double cutoff_hz) {
    const double w =
        std::tan(std::numbers::pi * cutoff_hz / rate_hz) / std::pow(std::numbers::sqrt2 - 1, 0.25);
    const double k = std::numbers::sqrt2 * w, d = 1 + k + w * w;
    const double b = w * w / d;
    return {b, 2 * b, b, 2 * (w * w - 1) / d, (1 - k + w * w) / d};
}

void run(const Biquad& f, std::vector<double>& x) {
    // It starts as if the first value had always been there.
    double x1 = x.front(), x2 = x1, y1 = x1, y2 = x1;
    for (double& v : x) {
        const double y = f.b0 * v + f.b1 * x1 + f.b2 * x2 - f.a1 * y1 - f.a2 * y2;
        x2 = std::exchange(x1, v);
        y2 = std::exchange(y1, y);
        v = y;
    }
}

void smooth_part(std::span<double> x, const Biquad& f, std::size_t pad) {
    const std::size_t n = x.size();
    pad = std::min(pad, n - 1);
    std::vector<double> long_one;
    for (std::size_t i = pad; i > 0; --i) long_one.push_back(2 * x.front() - x[i]);
    long_one.insert(long_one.end(), x.begin(), x.end());
    for (std::size_t i = 1; i <= pad; ++i) long_one.push_back(2 * x.back() - x[n - 1 - i]);
    for (int pass = 0; pass < 2; ++pass) {
        run(f, long_one);
        std::ranges::reverse(long_one);
    }
    std::copy_n(long_one.begin() + static_cast<std::ptrdiff_t>(pad), n, x.begin());
}

}  // namespace

std::vector<double> even_times(std::span<const double> times) {
    if (times.size() < 2) return {};
    std::vector<double> steps;
    for (std::size_t i = 1; i < times.size(); ++i) steps.push_back(times[i] - times[i - 1]);
    std::ranges::nth_element(steps, steps.begin() + static_cast<std::ptrdiff_t>(steps.size() / 2));
    const double step = steps[steps.size() / 2];
    if (!(step > 0)) return {};
    std::vector<double> out;
    const auto n = static_cast<std::size_t>((times.back() - times.front()) / step + 1e-6) + 1;
    for (std::size_t i = 0; i < n; ++i) out.push_back(times.front() + static_cast<double>(i) * step);
    return out;
}

std::vector<double> on_grid(std::span<const Sample> samples, std::span<const double> grid) {
    std::vector<double> out(grid.size(), kNaN);
    if (samples.empty()) return out;
    std::size_t after = 0;
    for (std::size_t i = 0; i < grid.size(); ++i) {
        const double t = grid[i];
        while (after < samples.size() && samples[after].time_s < t - 1e-9) ++after;
        if (after == samples.size()) break;
        const Sample& b = samples[after];
        if (b.time_s <= t + 1e-9) {
            out[i] = b.value;
            continue;
        }
        if (after == 0) continue;
        const Sample& a = samples[after - 1];
        if (b.time_s - a.time_s > kLongestHoleS) continue;
        out[i] = a.value + (b.value - a.value) * (t - a.time_s) / (b.time_s - a.time_s);
    }
    return out;
}

void smooth(std::vector<double>& x, double rate_hz, double cutoff_hz) {
    if (!(cutoff_hz < 0.45 * rate_hz)) return;
    const Biquad f = butterworth(rate_hz, cutoff_hz);
    const auto pad =
        static_cast<std::size_t>(std::ceil(rate_hz));  // a second: long past what is left of a start
    for (std::size_t from = 0; from < x.size();) {
        if (std::isnan(x[from])) {
            ++from;
            continue;
        }
        std::size_t to = from;
        while (to < x.size() && !std::isnan(x[to])) ++to;
        if (to - from > 3) smooth_part(std::span(x).subspan(from, to - from), f, pad);
        from = to;
    }
}

namespace {

constexpr double kLeastHz = 1, kStepHz = 0.5, kHighestHz = 30, kOfNyquist = 0.8, kTailShare = 0.5;
constexpr double kStraight = 0.9, kNoNoise = 1e-3;
constexpr std::size_t kFewestForResidual = 45;

struct FittedLine {
    double at_0 = 0, slope = 0, r2 = 0;
};
FittedLine line_through(std::span<const double> xs, std::span<const double> ys) {
    double mx = 0, my = 0, xx = 0, xy = 0, yy = 0;
    const auto n = static_cast<double>(xs.size());
    for (std::size_t i = 0; i < xs.size(); ++i) mx += xs[i] / n, my += ys[i] / n;
    for (std::size_t i = 0; i < xs.size(); ++i) {
        xx += (xs[i] - mx) * (xs[i] - mx);
        xy += (xs[i] - mx) * (ys[i] - my);
        yy += (ys[i] - my) * (ys[i] - my);
    }
    const double slope = xx > 0 ? xy / xx : 0;
    return {my - slope * mx, slope, xx > 0 && yy > 0 ? xy * xy / (xx * yy) : 0};
}

double rms_apart(const std::vector<double>& a, const std::vector<double>& b) {
    double sum = 0, n = 0;
    for (std::size_t i = 0; i < a.size(); ++i) {
        if (std::isnan(a[i]) || std::isnan(b[i])) continue;
        sum += (a[i] - b[i]) * (a[i] - b[i]);
        ++n;
    }
    return n > 0 ? std::sqrt(sum / n) : 0;
}

}  // namespace

std::optional<double> residual_cutoff_hz(const std::vector<double>& x, double rate_hz) {
    std::vector<double> mean(x.size(), 0);
    double sum = 0, n = 0;
    for (const double v : x) {
        if (!std::isnan(v)) sum += v, ++n;
    }
    if (n < kFewestForResidual) return std::nullopt;
    std::ranges::fill(mean, sum / n);
    const double moves = rms_apart(x, mean);
    std::vector<double> at, residual;
    for (double f = kLeastHz; f <= std::min(kHighestHz, kOfNyquist * rate_hz / 2) + 1e-9; f += kStepHz) {
        std::vector<double> smoothed = x;
        smooth(smoothed, rate_hz, f);
        at.push_back(f);
        residual.push_back(rms_apart(x, smoothed));
    }
    const auto tail = static_cast<std::size_t>(kTailShare * static_cast<double>(at.size()));
    if (at.size() < tail + 6) return std::nullopt;
    const FittedLine noise = line_through(std::span(at).subspan(tail), std::span(residual).subspan(tail));
    if (noise.slope >= 0 || noise.r2 < kStraight || noise.at_0 < kNoNoise * moves) return std::nullopt;
    for (std::size_t i = 1; i < at.size(); ++i) {
        if (residual[i] > noise.at_0) continue;
        const double fall = residual[i - 1] - residual[i];
        return fall > 0 ? at[i] - kStepHz * (noise.at_0 - residual[i]) / fall : at[i];
    }
    return std::nullopt;
}

double correlation(std::span<const double> a, std::span<const double> b, int shift, std::size_t from,
                   std::size_t to) {
    constexpr double kFewest = 8;
    double sa = 0, sb = 0, saa = 0, sbb = 0, sab = 0, count = 0;
    for (std::size_t i = from; i < std::min(to, a.size()); ++i) {
        const auto j = static_cast<std::ptrdiff_t>(i) + shift;
        if (j < 0 || j >= std::ssize(b)) continue;
        const double x = a[i], y = b[static_cast<std::size_t>(j)];
        if (std::isnan(x) || std::isnan(y)) continue;
        sa += x, sb += y, saa += x * x, sbb += y * y, sab += x * y, ++count;
    }
    if (count < kFewest) return 0;
    const double va = saa - sa * sa / count, vb = sbb - sb * sb / count;
    return va > 0 && vb > 0 ? (sab - sa * sb / count) / std::sqrt(va * vb) : 0;
}

std::vector<double> moving_mean(std::span<const double> x, int samples) {
    const int half = std::max(0, samples / 2), n = static_cast<int>(x.size());
    std::vector<double> out(x.size(), kNaN);
    for (int i = 0; i < n; ++i) {
        if (std::isnan(x[static_cast<std::size_t>(i)])) continue;
        double sum = 0;
        int count = 0;
        for (int j = std::max(0, i - half); j <= std::min(n - 1, i + half); ++j) {
            if (std::isnan(x[static_cast<std::size_t>(j)])) continue;
            sum += x[static_cast<std::size_t>(j)];
            ++count;
        }
        out[static_cast<std::size_t>(i)] = sum / count;
    }
    return out;
}

double Harmonics::of(int harmonic, double place) const {
    const auto k = static_cast<std::size_t>(harmonic - 1);
    const double angle = kTau * harmonic * place;
    return cosine[k] * std::cos(angle) + sine[k] * std::sin(angle);
}
double Harmonics::at(double place) const {
    double out = mean;
    for (std::size_t k = 0; k < cosine.size(); ++k) out += of(static_cast<int>(k) + 1, place);
    return out;
}
double Harmonics::peak_to_peak(int steps) const {
    double lowest = at(0), highest = lowest;
    for (int i = 1; i < steps; ++i) {
        const double v = at(static_cast<double>(i) / steps);
        lowest = std::min(lowest, v);
        highest = std::max(highest, v);
    }
    return highest - lowest;
}
double Harmonics::highest(int harmonic) const {
    const auto k = static_cast<std::size_t>(harmonic - 1);
    double place = std::atan2(sine[k], cosine[k]) / kTau / harmonic;
    if (place < 0) place += 1.0 / harmonic;
    return place;
}

std::optional<Harmonics> fit_harmonics(std::span<const double> places, std::span<const double> values,
                                       int harmonics, bool drift) {
    const auto n = static_cast<Eigen::Index>(values.size());
    const Eigen::Index m = 1 + 2 * harmonics + (drift ? 1 : 0);
    if (n < m + 2) return std::nullopt;
    Eigen::MatrixXd a(n, m);
    Eigen::VectorXd y(n);
    for (Eigen::Index i = 0; i < n; ++i) {
        const auto at = static_cast<std::size_t>(i);
        if (std::isnan(values[at])) return std::nullopt;
        y(i) = values[at];
        a(i, 0) = 1;
        if (drift) a(i, m - 1) = places[at] - 0.5;
        for (int k = 1; k <= harmonics; ++k) {
            a(i, 2 * k - 1) = std::cos(kTau * k * places[at]);
            a(i, 2 * k) = std::sin(kTau * k * places[at]);
        }
    }
    const Eigen::VectorXd x = a.colPivHouseholderQr().solve(y);
    Harmonics out;
    out.mean = x(0);
    for (int k = 1; k <= harmonics; ++k) {
        out.cosine.push_back(x(2 * k - 1));
        out.sine.push_back(x(2 * k));
    }
    return out;
}

NoiseIn noise_in(const Harmonics& curve, double coefficient_variance) {
    if (!(coefficient_variance > 0)) return {};
    constexpr int kDraws = 100;
    std::mt19937 engine(20261127);
    std::normal_distribution<double> normal(0, std::sqrt(coefficient_variance));
    double sum = 0, squares = 0;
    for (int i = 0; i < kDraws; ++i) {
        Harmonics drawn = curve,
                  mirrored = curve;  // each draw and its mirror: what is odd in the noise cancels
        for (std::size_t k = 0; k < curve.cosine.size(); ++k) {
            const double a = normal(engine), b = normal(engine);
            drawn.cosine[k] += a, drawn.sine[k] += b;
            mirrored.cosine[k] -= a, mirrored.sine[k] -= b;
        }
        const double a = drawn.peak_to_peak(72), b = mirrored.peak_to_peak(72);
        sum += a + b;
        squares += a * a + b * b;
    }
    const double mean = sum / (2 * kDraws);
    return {mean - curve.peak_to_peak(72), std::sqrt(std::max(0.0, squares / (2 * kDraws) - mean * mean))};
}

void unwrap(std::vector<double>& x) {
    double before = kNaN, turns = 0;
    for (double& v : x) {
        if (std::isnan(v)) continue;
        if (!std::isnan(before)) turns += 360 * std::round((before - (v + turns)) / 360);
        v += turns;
        before = v;
    }
}

}  // namespace aspen::core
