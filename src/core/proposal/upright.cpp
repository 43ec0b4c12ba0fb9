#include "core/proposal/upright.hpp"

#include <Eigen/Dense>
#include <cmath>
#include <vector>

namespace aspen::core {
namespace {

/// Edges that lean more than this stand for nothing upright; such as are shorter than this share of the
/// picture's height are grass and leaves.
constexpr double kLeansAtMostDeg = 15, kShortestEdge = 0.04;
/// An edge that disagrees by this counts a quarter.
constexpr double kScaleDeg = 1;
constexpr double kAgreesDeg = 2;
/// What is tried first, degrees: the lean and its change from the middle to a side.
constexpr double kFarthestDeg = 12, kStepDeg = 1, kChangeAtMostDeg = 6, kChangeStepDeg = 3;
constexpr int kUprightRounds = 15;
/// How much edges' height a frame must have that agree, in picture heights, and which share of all.
constexpr double kLeastHeight = 0.7, kLeastShare = 0.3;
constexpr int kFewestEdges = 5;
/// Trees, posts and walls that lean in common, degrees (chosen on drawn clips and on riders that were not
/// drawn here); the changing lean draws to none as so much length would.
constexpr double kLeanInCommonDeg = 0.8, kNoChangeWeight = 0.02;

struct Leaning {
    double deg;     ///< positive to the right
    double across;  ///< of its middle, -1 to 1
    double length;  ///< of the picture's height
};

std::vector<Leaning> leaning_in(std::span<const StraightEdge> edges, int width, int height) {
    std::vector<Leaning> out;
    for (const StraightEdge& e : edges) {
        const Point top = e.from.y < e.to.y ? e.from : e.to, foot = e.from.y < e.to.y ? e.to : e.from;
        const Leaning l{degrees(std::atan2(top.x - foot.x, foot.y - top.y)), (top.x + foot.x) / width - 1,
                        distance(top, foot) / height};
        if (std::abs(l.deg) <= kLeansAtMostDeg && l.length >= kShortestEdge) out.push_back(l);
    }
    return out;
}

/// Lean in the middle, and how much more at the right side.
using Lean = Eigen::Vector2d;

double off(const Leaning& l, const Lean& lean) { return l.deg - lean[0] - lean[1] * l.across; }
double weight(double off_deg) {
    const double share = 1 + off_deg * off_deg / (kScaleDeg * kScaleDeg);
    return 1 / (share * share);
}

/// Where most of the edges' length agrees, tried over the whole range: the beginning for what follows.
Lean roughly(const std::vector<Leaning>& all) {
    Lean best{0, 0};
    double most = -1;
    for (double lean = -kFarthestDeg; lean <= kFarthestDeg; lean += kStepDeg) {
        for (double change = -kChangeAtMostDeg; change <= kChangeAtMostDeg; change += kChangeStepDeg) {
            double sum = 0;
            for (const Leaning& l : all) sum += l.length * weight(off(l, {lean, change}));
            // Of two that agree alike the camera that looks straight ahead.
            sum *= 1 - 0.02 * std::abs(change) / kChangeAtMostDeg;
            if (sum > most) most = sum, best = {lean, change};
        }
    }
    return best;
}

Lean closer(const std::vector<Leaning>& all, Lean lean) {
    for (int round = 0; round < kUprightRounds; ++round) {
        Eigen::Matrix2d normal = Eigen::Matrix2d::Zero();
        Eigen::Vector2d right = Eigen::Vector2d::Zero();
        for (const Leaning& l : all) {
            const double w = l.length * weight(off(l, lean));
            const Eigen::Vector2d row{1, l.across};
            normal += w * row * row.transpose();
            right += w * l.deg * row;
        }
        if (normal(0, 0) <= 0) return lean;
        normal(1, 1) += kNoChangeWeight * normal(0, 0);
        lean = normal.ldlt().solve(right);
    }
    return lean;
}

}  // namespace

std::optional<ReadUpright> read_upright(std::span<const StraightEdge> edges, int width, int height,
                                        int frames) {
    const std::vector<Leaning> all = leaning_in(edges, width, height);
    if (static_cast<int>(all.size()) < kFewestEdges) return std::nullopt;
    const Lean lean = closer(all, roughly(all));
    double length = 0, agrees = 0, weights = 0, squares = 0, square_weights = 0;
    int edges_agree = 0;
    for (const Leaning& l : all) {
        const double e = off(l, lean), w = l.length * weight(e);
        length += l.length;
        weights += w;
        square_weights += w * w;
        squares += w * e * e;
        if (std::abs(e) > kAgreesDeg) continue;
        agrees += l.length;
        ++edges_agree;
    }
    if (edges_agree < kFewestEdges || agrees < kLeastHeight * frames || agrees < kLeastShare * length)
        return std::nullopt;
    // The same posts over again say nothing new.
    const double apart = weights * weights / square_weights / frames;
    const double sd = std::hypot(kLeanInCommonDeg, std::sqrt(squares / weights / std::max(1.0, apart)));
    return ReadUpright{lean[0], sd, edges_agree};
}

}  // namespace aspen::core
