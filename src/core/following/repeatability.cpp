#include "core/following/repeatability.hpp"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

/// Mean squares of a two-way table.
struct MeanSquares {
    double between = 0;  ///< targets
    double within = 0;   ///< inside targets
    double judges = 0;
    double residual = 0;
    double n = 0, k = 0;
};

MeanSquares mean_squares(const Ratings& ratings) {
    const std::size_t n = ratings.size(), k = n == 0 ? 0 : ratings.front().size();
    if (n < 2 || k < 2) throw Refused("ratings: two targets and two ratings of each are needed at least");
    double grand = 0;
    std::vector<double> of_judge(k, 0), of_target(n, 0);
    for (std::size_t i = 0; i < n; ++i) {
        if (ratings[i].size() != k) throw Refused("ratings: every target needs the same number of ratings");
        for (std::size_t j = 0; j < k; ++j) {
            grand += ratings[i][j];
            of_target[i] += ratings[i][j] / static_cast<double>(k);
            of_judge[j] += ratings[i][j] / static_cast<double>(n);
        }
    }
    MeanSquares out;
    out.n = static_cast<double>(n);
    out.k = static_cast<double>(k);
    grand /= out.n * out.k;
    double between = 0, judges = 0, total = 0;
    for (const double t : of_target) between += out.k * (t - grand) * (t - grand);
    for (const double j : of_judge) judges += out.n * (j - grand) * (j - grand);
    for (const auto& row : ratings) {
        for (const double v : row) total += (v - grand) * (v - grand);
    }
    out.between = between / (out.n - 1);
    out.within = (total - between) / (out.n * (out.k - 1));
    out.judges = judges / (out.k - 1);
    out.residual = (total - between - judges) / ((out.n - 1) * (out.k - 1));
    return out;
}

}  // namespace

Intraclass intraclass(const Ratings& ratings) {
    const MeanSquares m = mean_squares(ratings);
    return {
        (m.between - m.within) / (m.between + (m.k - 1) * m.within),
        (m.between - m.residual) / (m.between + (m.k - 1) * m.residual + m.k * (m.judges - m.residual) / m.n),
        (m.between - m.residual) / (m.between + (m.k - 1) * m.residual)};
}

Agreement agreement(std::span<const double> a, std::span<const double> b) {
    if (a.size() != b.size() || a.size() < 2)
        throw Refused("agreement: two lists of the same length are needed, with two pairs at least");
    const auto n = static_cast<double>(a.size());
    Agreement out;
    for (std::size_t i = 0; i < a.size(); ++i) out.mean += (a[i] - b[i]) / n;
    for (std::size_t i = 0; i < a.size(); ++i) {
        const double off = a[i] - b[i] - out.mean;
        out.sd += off * off / (n - 1);
    }
    out.sd = std::sqrt(out.sd);
    out.lo = out.mean - 2 * out.sd;
    out.hi = out.mean + 2 * out.sd;
    return out;
}

ClickError click_error(std::span<const MarkedTwice> pairs) {
    ClickError out;
    std::set<std::pair<std::int64_t, int>> frames;
    double squares = 0;
    for (const MarkedTwice& p : pairs) {
        const double dx = p.again.x - p.first.x, dy = p.again.y - p.first.y;
        squares += dx * dx + dy * dy;
        frames.emplace(p.clip, p.frame);
        ++out.joints;
    }
    out.frames = static_cast<int>(frames.size());
    // Two directions and two clicks share the sum.
    if (out.joints > 0) out.sd_px = std::max(0.25, std::sqrt(squares / (4.0 * out.joints)));
    return out;
}

}  // namespace aspen::core
