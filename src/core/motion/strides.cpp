#include "core/motion/strides.hpp"

#include <algorithm>
#include <cmath>

#include "core/motion/series.hpp"

namespace aspen::core {
namespace {

constexpr double kShortestBounceS = 0.15,
                 kLongestBounceS = 3.0;  // of a bounce, slow motion that was not said included
constexpr double kNearlyAsHigh = 0.8, kAnyRhythm = 0.25;
constexpr double kNearHalf = 0.08, kStandsOut = 0.15;  // of the period; of the likeness
constexpr double kProminence = 0.30, kApart = 0.60;
constexpr int kSplit = 100;
constexpr double kNearStart = 0.33;                      // of a stride
constexpr double kShortStride = 0.5, kLongStride = 1.6;  // of the usual one, to fill a hole

/// The longest part without a NaN.
std::span<const double> longest_part(std::span<const double> x) {
    std::span<const double> best;
    for (std::size_t from = 0; from < x.size();) {
        std::size_t to = from;
        while (to < x.size() && !std::isnan(x[to])) ++to;
        if (to - from > best.size()) best = x.subspan(from, to - from);
        from = to + 1;
    }
    return best;
}

/// How far a lowest point lies under the lower of the two rises beside it, as far as those go without a lower
/// one.
double prominence_at(std::span<const double> x, std::size_t i) {
    double left = x[i], right = x[i];
    for (std::size_t j = i; j-- > 0 && !std::isnan(x[j]) && x[j] >= x[i];) left = std::max(left, x[j]);
    for (std::size_t j = i + 1; j < x.size() && !std::isnan(x[j]) && x[j] >= x[i]; ++j)
        right = std::max(right, x[j]);
    return std::min(left, right) - x[i];
}

}  // namespace

namespace {

/// How alike a series is to itself so many samples later, 0 … half its longest whole part, a straight line
/// taken out first: a slow drift is no rhythm. Empty where it is too short for any bounce.
std::vector<double> likeness(std::span<const double> whole, double step_s) {
    const auto part = longest_part(whole);
    const int n = static_cast<int>(part.size());
    const int most = std::min(n / 2, static_cast<int>(kLongestBounceS / step_s));
    if (most <= static_cast<int>(kShortestBounceS / step_s) + 3) return {};
    std::vector<double> x(part.begin(), part.end());
    double mean = 0, slope_top = 0, slope_bottom = 0;
    for (const double v : x) mean += v / n;
    for (int i = 0; i < n; ++i) {
        const double d = i - (n - 1) / 2.0;
        slope_top += d * (x[static_cast<std::size_t>(i)] - mean);
        slope_bottom += d * d;
    }
    for (int i = 0; i < n; ++i)
        x[static_cast<std::size_t>(i)] -= mean + slope_top / slope_bottom * (i - (n - 1) / 2.0);
    std::vector<double> r(static_cast<std::size_t>(most) + 1, 0);
    for (int lag = 0; lag <= most; ++lag) {
        double top = 0, one = 0, other = 0;
        for (int i = 0; i + lag < n; ++i) {
            const double u = x[static_cast<std::size_t>(i)],
                         v = x[static_cast<std::size_t>(i) + static_cast<std::size_t>(lag)];
            top += u * v;
            one += u * u;
            other += v * v;
        }
        r[static_cast<std::size_t>(lag)] = one > 0 && other > 0 ? top / std::sqrt(one * other) : 0;
    }
    return r;
}

/// Places of the maxima from the shortest bounce on.
std::vector<std::size_t> peaks_of(const std::vector<double>& r, double step_s) {
    std::vector<std::size_t> out;
    const auto least = static_cast<std::size_t>(std::max(2.0, std::ceil(kShortestBounceS / step_s)));
    for (std::size_t l = least; l + 1 < r.size(); ++l) {
        if (r[l] >= r[l - 1] && r[l] > r[l + 1]) out.push_back(l);
    }
    return out;
}

double between_samples(const std::vector<double>& r, std::size_t l, double step_s) {
    const double bend = r[l - 1] - 2 * r[l] + r[l + 1];
    const double off = bend < 0 ? 0.5 * (r[l - 1] - r[l + 1]) / bend : 0;
    return (static_cast<double>(l) + off) * step_s;
}

}  // namespace

std::optional<double> period_of(std::span<const double> whole, double step_s) {
    const std::vector<double> r = likeness(whole, step_s);
    const std::vector<std::size_t> peaks = peaks_of(r, step_s);
    double highest = 0;
    for (const std::size_t l : peaks) highest = std::max(highest, r[l]);
    if (highest < kAnyRhythm) return std::nullopt;
    for (const std::size_t l : peaks) {
        if (r[l] >= kNearlyAsHigh * highest) return between_samples(r, l, step_s);
    }
    return std::nullopt;
}

std::optional<double> half_period_of(std::span<const double> whole, double step_s, double period_s) {
    const std::vector<double> r = likeness(whole, step_s);
    for (const std::size_t l : peaks_of(r, step_s)) {
        const double at = between_samples(r, l, step_s);
        if (std::abs(at - period_s / 2) > kNearHalf * period_s) continue;
        const std::size_t quarter = l / 2, three_quarters = std::min(r.size() - 1, l + l / 2);
        if (r[l] - std::max(r[quarter], r[three_quarters]) >= kStandsOut) return at;
    }
    return std::nullopt;
}

std::vector<LowestPoint> lowest_points(std::span<const double> grid, std::span<const double> given,
                                       double period_s, StrideEvery every) {
    if (grid.size() < 3) return {};
    const double step = grid[1] - grid[0];
    const double stride_s = every == StrideEvery::lowest ? period_s : 2 * period_s;
    const auto trend = moving_mean(given, static_cast<int>(std::round(2 * stride_s / step)));
    std::vector<double> x(given.size());
    for (std::size_t i = 0; i < x.size(); ++i) x[i] = given[i] - trend[i];
    struct Candidate {
        std::size_t at;
        double prominence;
    };
    std::vector<Candidate> all;
    for (std::size_t i = 1; i + 1 < x.size(); ++i) {
        if (!(x[i] < x[i - 1]) || !(x[i] <= x[i + 1])) continue;
        all.push_back({i, prominence_at(x, i)});
    }
    // The deeper of two that stand too close is the one; then the shallow ones of all go.
    std::ranges::stable_sort(all, std::greater<>{}, &Candidate::prominence);
    std::vector<Candidate> kept;
    for (const Candidate& c : all) {
        const bool close = std::ranges::any_of(
            kept, [&](const Candidate& k) { return std::abs(grid[k.at] - grid[c.at]) < kApart * period_s; });
        if (!close) kept.push_back(c);
    }
    if (kept.empty()) return {};
    const double middle = kept[kept.size() / 2].prominence;  // they are sorted by it
    std::erase_if(kept, [&](const Candidate& c) { return c.prominence < kProminence * middle; });
    std::ranges::sort(kept, {}, &Candidate::at);
    std::vector<LowestPoint> out;
    std::size_t before = 0;
    for (const Candidate& c : kept) {
        const std::size_t i = c.at;
        const double bend = x[i - 1] - 2 * x[i] + x[i + 1];
        const double off = bend > 0 ? 0.5 * (x[i - 1] - x[i + 1]) / bend : 0;
        LowestPoint point{grid[i] + off * step, 0};
        if (!out.empty()) {
            bool split = false;
            for (std::size_t j = before; j < i; ++j) split |= std::isnan(x[j]);
            const int on =
                std::max(1, static_cast<int>(std::lround((point.time_s - out.back().time_s) / period_s)));
            point.place = split ? (out.back().place / kSplit + 1) * kSplit : out.back().place + on;
        }
        before = i;
        out.push_back(point);
    }
    return out;
}

std::vector<StrideSpan> strides_of(const std::vector<LowestPoint>& lowest, StrideEvery every,
                                   std::optional<double> first_even) {
    const int each = every == StrideEvery::lowest ? 1 : 2;
    int odd = 0;
    if (first_even && !lowest.empty()) {
        const auto near = std::ranges::min_element(
            lowest, {}, [&](const LowestPoint& p) { return std::abs(p.time_s - *first_even); });
        odd = near->place % each;
    }
    std::vector<StrideSpan> out;
    for (std::size_t i = 0; i + static_cast<std::size_t>(each) < lowest.size(); ++i) {
        const LowestPoint &a = lowest[i], &b = lowest[i + static_cast<std::size_t>(each)];
        if (a.place % each == odd && b.place - a.place == each) out.push_back({a.time_s, b.time_s});
    }
    return out;
}

namespace {

double usual_of(const std::vector<StrideSpan>& strides) {
    std::vector<double> all;
    for (const StrideSpan& s : strides) all.push_back(s.end_s - s.start_s);
    std::ranges::sort(all);
    return all[all.size() / 2];
}

void start_at(std::vector<StrideSpan>& strides, double t) {
    const double usual = usual_of(strides);
    double best = kNearStart * usual, nearest = t;
    for (const StrideSpan& s : strides) {
        for (const double edge : {s.start_s, s.end_s}) {
            if (std::abs(edge - t) < best) best = std::abs(edge - t), nearest = edge;
        }
    }
    if (best < kNearStart * usual) {
        for (StrideSpan& s : strides) {
            if (std::abs(s.start_s - nearest) < 1e-6) s.start_s = t;
            if (std::abs(s.end_s - nearest) < 1e-6) s.end_s = t;
        }
        std::erase_if(strides, [](const StrideSpan& s) { return s.end_s <= s.start_s; });
        return;
    }
    const auto in =
        std::ranges::find_if(strides, [&](const StrideSpan& s) { return s.start_s < t && t < s.end_s; });
    if (in != strides.end()) {
        const StrideSpan rest{t, in->end_s};
        in->end_s = t;
        strides.insert(in + 1, rest);
        return;
    }
    const auto after = std::ranges::find_if(strides, [&](const StrideSpan& s) { return s.start_s >= t; });
    const auto fits = [&](double from, double to) {
        return to - from > kShortStride * usual && to - from < kLongStride * usual;
    };
    std::vector<StrideSpan> filled;
    if (after != strides.begin() && fits((after - 1)->end_s, t)) filled.push_back({(after - 1)->end_s, t});
    if (after != strides.end() && fits(t, after->start_s)) filled.push_back({t, after->start_s});
    strides.insert(after, filled.begin(), filled.end());
}

}  // namespace

std::vector<StrideSpan> as_said(std::vector<StrideSpan> strides, const std::vector<Happening>& said) {
    for (const Happening& e : said) {
        if (e.event == "stride_start" && !strides.empty()) start_at(strides, e.time_s);
    }
    // What does not count is taken out last, so that no start is moved into the hole it leaves.
    for (const Happening& e : said) {
        if (e.event != "stride_off") continue;
        std::erase_if(strides,
                      [&](const StrideSpan& s) { return s.start_s <= e.time_s && e.time_s < s.end_s; });
    }
    return strides;
}

}  // namespace aspen::core
