// The signal chain against a numerical and a computer-vision library (OpenCV): what the filter lets through,
// spectra, correlation, and the ellipse.

#include <gtest/gtest.h>

#include <numbers>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>
#include <random>

#include "core/motion/hip_loop.hpp"
#include "core/motion/series.hpp"

namespace aspen::core {
namespace {

/// What a smoothing leaves of each frequency: the spectrum of its answer to a single spike, by cv::dft.
std::vector<double> gains(double rate, int n) {
    std::vector<double> spike(static_cast<std::size_t>(n), 0);
    spike[static_cast<std::size_t>(n / 2)] = 1;
    smooth(spike, rate);
    cv::Mat in(1, n, CV_64F, spike.data()), out;
    cv::dft(in, out, cv::DFT_COMPLEX_OUTPUT);
    std::vector<double> gain;
    for (int k = 0; k <= n / 2; ++k) {
        const auto c = out.at<cv::Vec2d>(0, k);
        gain.push_back(std::hypot(c[0], c[1]));
    }
    return gain;
}

// A Butterworth of second order run both ways has the gain 1 / (1 + (W/Wc)^4), W = tan(pi f / rate) by the
// bilinear transform; -3 dB at the cut-off fix Wc (Winter, "Biomechanics and Motor Control of Human
// Movement", from memory).
TEST(AgainstOpenCv, TheFilterIsAButterworthBothWays) {
    for (const double rate : {25.0, 30.0, 50.0, 120.0}) {
        constexpr int n = 4096;
        const auto gain = gains(rate, n);
        const double at_cutoff = std::tan(std::numbers::pi * kCutoffHz / rate);
        const double corner = at_cutoff / std::pow(std::numbers::sqrt2 - 1, 0.25);
        for (int k = 0; k <= n / 2 - 8; k += 16) {
            const double f = k * rate / n, w = std::tan(std::numbers::pi * f / rate);
            EXPECT_NEAR(gain[static_cast<std::size_t>(k)], 1 / (1 + std::pow(w / corner, 4)), 1e-4)
                << f << " Hz at " << rate;
        }
        const auto at = static_cast<std::size_t>(std::lround(kCutoffHz * n / rate));
        EXPECT_NEAR(20 * std::log10(gain[at]), -3.01, 0.05) << rate;
    }
}

TEST(AgainstOpenCv, NothingIsMovedInTime) {
    std::vector<double> x;
    for (int i = 0; i < 400; ++i) x.push_back(std::cos(2 * std::numbers::pi * 1.3 * i / 30));
    auto y = x;
    smooth(y, 30);
    double best = -2;
    int at = 99;
    for (int lag = -5; lag <= 5; ++lag) {
        cv::Mat a(1, 300, CV_64F, x.data() + 50), b(1, 300, CV_64F, y.data() + 50 + lag);
        const double r = a.dot(b) / (cv::norm(a) * cv::norm(b));
        if (r > best) {
            best = r;
            at = lag;
        }
    }
    EXPECT_EQ(at, 0);
}

TEST(AgainstOpenCv, HarmonicsAreTheLibrarysSpectrum) {
    std::mt19937 engine(5);
    std::uniform_real_distribution<double> any(-5, 5);
    for (int round = 0; round < 20; ++round) {
        constexpr int n = 48;
        std::vector<double> places, values;
        for (int i = 0; i < n; ++i) {
            places.push_back(i / static_cast<double>(n));
            values.push_back(any(engine));
        }
        const auto h = fit_harmonics(places, values, 3);
        ASSERT_TRUE(h);
        cv::Mat in(1, n, CV_64F, values.data()), out;
        cv::dft(in, out, cv::DFT_COMPLEX_OUTPUT);
        EXPECT_NEAR(h->mean, out.at<cv::Vec2d>(0, 0)[0] / n, 1e-9);
        for (int k = 1; k <= 3; ++k) {
            EXPECT_NEAR(h->cosine[static_cast<std::size_t>(k - 1)], 2 * out.at<cv::Vec2d>(0, k)[0] / n, 1e-9);
            EXPECT_NEAR(h->sine[static_cast<std::size_t>(k - 1)], -2 * out.at<cv::Vec2d>(0, k)[1] / n, 1e-9);
        }
    }
}

TEST(AgainstOpenCv, CorrelationIsTheLibrarys) {
    std::mt19937 engine(9);
    std::normal_distribution<double> normal(0, 1);
    std::vector<double> a, b;
    for (int i = 0; i < 200; ++i) a.push_back(std::sin(0.21 * i) + 0.2 * normal(engine));
    for (int i = 0; i < 200; ++i) b.push_back(std::sin(0.21 * (i - 7)) + 0.2 * normal(engine));
    // The library's own for a window of a against every place of b.
    cv::Mat window(1, 100, CV_32F), all(1, 200, CV_32F), r;
    for (int i = 0; i < 100; ++i)
        window.at<float>(0, i) = static_cast<float>(a[static_cast<std::size_t>(50 + i)]);
    for (int i = 0; i < 200; ++i) all.at<float>(0, i) = static_cast<float>(b[static_cast<std::size_t>(i)]);
    cv::matchTemplate(all, window, r, cv::TM_CCOEFF_NORMED);
    int best = 0, library = 0;
    for (int shift = -20; shift <= 20; ++shift) {
        EXPECT_NEAR(correlation(a, b, shift, 50, 150), r.at<float>(0, 50 + shift), 1e-4) << shift;
        if (correlation(a, b, shift, 50, 150) > correlation(a, b, best, 50, 150)) best = shift;
        if (r.at<float>(0, 50 + shift) > r.at<float>(0, 50 + library)) library = shift;
    }
    EXPECT_EQ(best, library);
    EXPECT_NEAR(best, 7, 1);
    EXPECT_EQ(correlation(a, b, 0, 0, 5), 0) << "too few";
}

TEST(AgainstOpenCv, TheEllipseIsTheLibrarys) {
    std::mt19937 engine(20261127);
    std::normal_distribution<double> noise(0, 0.3);
    std::uniform_real_distribution<double> any(0, 1);
    for (int i = 0; i < 60; ++i) {
        const double a = 8 + 20 * any(engine), b = a * (0.3 + 0.6 * any(engine)),
                     tilt = std::numbers::pi * any(engine);
        std::vector<double> f, u;
        std::vector<cv::Point2f> points;
        for (int k = 0; k < 24; ++k) {
            const double p = 2 * std::numbers::pi * k / 24;
            const double x = a * std::cos(p), y = b * std::sin(p);
            f.push_back(500 + x * std::cos(tilt) - y * std::sin(tilt) + noise(engine));
            u.push_back(-300 + x * std::sin(tilt) + y * std::cos(tilt) + noise(engine));
            points.emplace_back(static_cast<float>(f.back()), static_cast<float>(u.back()));
        }
        const auto loop = fit_loop(f, u);
        ASSERT_TRUE(loop);
        const cv::RotatedRect box = cv::fitEllipseDirect(points);
        const double angle = box.angle * std::numbers::pi / 180, half_w = box.size.width / 2,
                     half_h = box.size.height / 2;
        const double width = 2 * std::hypot(half_w * std::cos(angle), half_h * std::sin(angle));
        const double height = 2 * std::hypot(half_w * std::sin(angle), half_h * std::cos(angle));
        EXPECT_NEAR(loop->width, width, 0.02 * width) << i;
        EXPECT_NEAR(loop->height, height, 0.02 * height) << i;
        const double longer = std::max(half_w, half_h) / std::min(half_w, half_h);
        EXPECT_NEAR(loop->longer, longer, 0.03 * longer);
        double library = half_w > half_h ? box.angle : box.angle + 90;
        EXPECT_NEAR(std::remainder(loop->tilt_deg - library, 180), 0, longer > 1.2 ? 2 : 20) << i;
    }
    const double line[] = {0, 1, 2, 3, 4, 5, 6};
    EXPECT_FALSE(fit_loop(line, line)) << "a line is no loop";
}

}  // namespace
}  // namespace aspen::core
