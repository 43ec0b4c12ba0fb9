#include "core/following/trend.hpp"

#include <algorithm>
#include <cmath>

#include "core/measures/student.hpp"
#include "core/reading/refused.hpp"

namespace aspen::core {

constexpr double kDaysOfMonth = 30.44;

std::optional<LineFit> fit_line(std::span<const double> x, std::span<const double> y,
                                std::span<const double> sd) {
    if (x.size() != y.size() || x.size() != sd.size())
        throw Refused("trend: as many errors as values and times are needed");
    if (x.size() < 3 || std::ranges::any_of(sd, [](double s) { return !(s > 0); })) return std::nullopt;
    double w = 0, wx = 0, wy = 0;
    for (std::size_t i = 0; i < x.size(); ++i) {
        const double k = 1 / (sd[i] * sd[i]);
        w += k;
        wx += k * x[i];
        wy += k * y[i];
    }
    const double mx = wx / w, my = wy / w;
    double xx = 0, xy = 0;
    for (std::size_t i = 0; i < x.size(); ++i) {
        const double k = 1 / (sd[i] * sd[i]);
        xx += k * (x[i] - mx) * (x[i] - mx);
        xy += k * (x[i] - mx) * (y[i] - my);
    }
    if (!(xx > 0)) return std::nullopt;
    LineFit out;
    out.n = static_cast<int>(x.size());
    out.middle = mx;
    out.slope = xy / xx;
    out.intercept = my - out.slope * mx;
    out.slope_sd = std::sqrt(1 / xx);
    out.intercept_sd = std::sqrt(1 / w + mx * mx / xx);
    double chi = 0;
    for (std::size_t i = 0; i < x.size(); ++i)
        chi += std::pow((y[i] - my - out.slope * (x[i] - mx)) / sd[i], 2);
    out.scatter = std::sqrt(chi / (out.n - 2));
    return out;
}

double Trend::reach(double day) const {
    // The variance at the middle, and what the slope's own error adds away from it.
    const double at_middle =
        std::sqrt(std::max(0.0, line.intercept_sd * line.intercept_sd -
                                    line.middle * line.middle * line.slope_sd * line.slope_sd));
    return t * std::max(1.0, line.scatter) * std::hypot(at_middle, line.slope_sd * (day - line.middle));
}

namespace {

/// Values one after the other, an angle that can turn right round the shorter way on.
std::vector<double> unwrapped(std::span<const ReviewValue> values, bool full_turn) {
    std::vector<double> out;
    for (const ReviewValue& v : values) {
        const double last = out.empty() ? v.value : out.back();
        out.push_back(full_turn ? last + std::remainder(v.value - last, 360.0) : v.value);
    }
    return out;
}

}  // namespace

double learned_form(std::span<const OwnLine> lines, double usual, bool full_turn) {
    double sum = kFormDegrees * usual * usual, degrees = kFormDegrees;
    for (const OwnLine& line : lines) {
        const auto n = line.values.size();
        if (n < kRidesForForm || line.days.size() != n) continue;
        const std::vector<double> y = unwrapped(line.values, full_turn), alike(n, 1.0);
        const auto fit = fit_line(line.days, y, alike);
        if (!fit) continue;
        double stated = 0;
        for (const ReviewValue& v : line.values) stated += v.sd * v.sd / static_cast<double>(n);
        const double own = std::max(fit->scatter * fit->scatter - stated, usual * usual / 4);
        const auto freedom = static_cast<double>(n - 2);
        sum += freedom * own;
        degrees += freedom;
    }
    return std::sqrt(sum / degrees);
}

std::optional<Trend> trend_of(std::span<const double> days, std::span<const ReviewValue> values, double form,
                              bool full_turn) {
    const std::vector<double> y = unwrapped(values, full_turn);
    std::vector<double> sd;
    for (const ReviewValue& v : values) sd.push_back(std::hypot(v.sd, form));
    const auto line = fit_line(days, y, sd);
    if (!line) return std::nullopt;
    Trend out;
    out.line = *line;
    out.t = t_quantile_95(line->n - 2);
    out.a_month = line->slope * kDaysOfMonth;
    const double reach = out.t * line->slope_sd * std::max(1.0, line->scatter) * kDaysOfMonth;
    out.lo = out.a_month - reach;
    out.hi = out.a_month + reach;
    out.told = out.lo > 0 || out.hi < 0;
    return out;
}

}  // namespace aspen::core
