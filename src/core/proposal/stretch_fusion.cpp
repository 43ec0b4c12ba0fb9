#include "core/proposal/stretch_fusion.hpp"

#include <Eigen/SparseCholesky>
#include <algorithm>
#include <boost/math/statistics/univariate_statistics.hpp>
#include <cmath>
#include <stdexcept>

namespace aspen::core {
namespace {

constexpr int kRounds = 12;
// Squared residuals, in standard deviations, at which a sight, a step or a limb counts half.
constexpr double kHalfSight = 2, kHalfStep = 8, kHalfLimb = 4;
/// And at which all steps between two sights do.
constexpr double kHalfWay = 9;
/// Of the trunk: a joint for which nothing was seen from one frame to the next moves no further.
constexpr double kLoosestStep = 0.3;
/// Frames each way over which the rider's size is taken.
constexpr std::size_t kSizeReach = 15;

using Places = std::vector<std::vector<Point>>;

/// How long each limb is on each frame, by what the places say now.
class Sizes {
  public:
    Sizes(const StretchToFuse& s, const Places& at) {
        std::vector<double> trunk;
        for (std::size_t f = 0; f < s.frames; ++f)
            trunk.push_back(distance(at[s.trunk_from][f], at[s.trunk_to][f]));
        for (std::size_t f = 0; f < s.frames; ++f) {
            const std::size_t from = f > kSizeReach ? f - kSizeReach : 0,
                              to = std::min(s.frames, f + kSizeReach + 1);
            std::vector<double> near(trunk.begin() + static_cast<std::ptrdiff_t>(from),
                                     trunk.begin() + static_cast<std::ptrdiff_t>(to));
            trunk_.push_back(std::max(1.0, boost::math::statistics::median(near)));
        }
        for (const LimbBetween& limb : s.limbs) {
            std::vector<double> share;
            for (std::size_t f = 0; f < s.frames; ++f)
                share.push_back(distance(at[limb.from][f], at[limb.to][f]) / trunk_[f]);
            limbs_.push_back(boost::math::statistics::median(share));
        }
    }
    double trunk(std::size_t frame) const { return trunk_[frame]; }
    double limb(std::size_t which, std::size_t frame) const { return limbs_[which] * trunk_[frame]; }

  private:
    std::vector<double> trunk_, limbs_;
};

/// How far the steps from one sight to a later one agree with where the two lie: 1 where they do, or where a
/// step is missing between.
double agree(const std::vector<SeenStep>& steps, const SeenJoint& from, const SeenJoint& to) {
    Point end = from.at;
    double variance = from.sd_px * from.sd_px + to.sd_px * to.sd_px;
    for (std::size_t f = from.frame; f < to.frame; ++f) {
        if (!std::isfinite(steps[f].sd_px)) return 1;
        end.x += steps[f].by.x, end.y += steps[f].by.y;
        variance += steps[f].sd_px * steps[f].sd_px;
    }
    const double off = distance(end, to.at) * distance(end, to.at) / variance;
    return 1 / (1 + off * off / (kHalfWay * kHalfWay));
}

/// By joint and frame, how far the steps there agree with the sights before and after. A background that was
/// followed instead is even from step to step, so no step alone gives it away. One sight of something else
/// must not count against the steps on both its sides: they may agree with the sights one further.
std::vector<std::vector<double>> agreement(const StretchToFuse& s) {
    std::vector<std::vector<double>> out(s.joints, std::vector<double>(s.frames, 1));
    for (std::size_t j = 0; j < s.joints; ++j) {
        std::vector<const SeenJoint*> seen;
        for (const SeenJoint& o : s.seen) {
            if (o.joint == j) seen.push_back(&o);
        }
        std::ranges::stable_sort(seen, {}, [](const SeenJoint* o) { return o->frame; });
        // At the ends there is no sight further out to tell who is wrong: the steps are believed.
        for (std::size_t k = 1; k + 2 < seen.size(); ++k) {
            double best = 0;
            for (const std::size_t from : {k - 1, k}) {
                for (const std::size_t to : {k + 1, k + 2})
                    best = std::max(best, agree(s.steps[j], *seen[from], *seen[to]));
            }
            for (std::size_t f = seen[k]->frame; f < seen[k + 1]->frame; ++f) out[j][f] = best;
        }
    }
    return out;
}

/// The weights of one round: of each sight, and of each joint's step on each frame.
struct Weights {
    std::vector<double> sights;
    std::vector<std::vector<double>> steps;
};

Weights weights_of(const StretchToFuse& s, const std::vector<std::vector<double>>& steps_agree,
                   const Places& at, const Sizes& sizes) {
    Weights out;
    for (const SeenJoint& o : s.seen) {
        const double off = distance(o.at, at[o.joint][o.frame]) / o.sd_px;
        out.sights.push_back(1 / (o.sd_px * o.sd_px * (1 + off * off / kHalfSight)));
    }
    out.steps.assign(s.joints, std::vector<double>(s.frames, 0));
    for (std::size_t j = 0; j < s.joints; ++j) {
        for (std::size_t f = 0; f + 1 < s.frames; ++f) {
            const SeenStep& step = s.steps[j][f];
            const double loosest = kLoosestStep * sizes.trunk(f);
            double weight = 0;
            if (std::isfinite(step.sd_px)) {
                const Point to{at[j][f].x + step.by.x, at[j][f].y + step.by.y};
                const double off = distance(to, at[j][f + 1]) / step.sd_px;
                weight = steps_agree[j][f] / (step.sd_px * step.sd_px * (1 + off * off / kHalfStep));
            }
            out.steps[j][f] = std::max(weight, 1 / (loosest * loosest));
        }
    }
    return out;
}

/// The sparse normal equations for the changes of all places; frame by frame, so that they stay narrow.
class Equations {
  public:
    explicit Equations(const StretchToFuse& s) : s_(s), right_(Eigen::VectorXd::Zero(size())) {}

    /// weight |x_a + change - wanted|^2
    void pull(std::size_t joint, std::size_t frame, Point by, double weight) {
        const Eigen::Index a = index(joint, frame);
        for (const auto& [k, v] : {std::pair{a, by.x}, std::pair{a + 1, by.y}}) {
            cells_.emplace_back(k, k, weight);
            right_[k] += weight * v;
        }
    }
    /// weight |(x_b - x_a) - wanted|^2, `by`: what is missing of it.
    void step(std::size_t joint, std::size_t frame, Point by, double weight) {
        const Eigen::Index a = index(joint, frame), b = index(joint, frame + 1);
        for (const auto& [k, v] : {std::pair{Eigen::Index{0}, by.x}, std::pair{Eigen::Index{1}, by.y}})
            tie(a + k, b + k, v, weight);
    }
    /// The distance of two joints along the unit vector between them; `by`: what is missing of it.
    void stretch(std::size_t from, std::size_t to, std::size_t frame, Point unit, double by, double weight) {
        const Eigen::Index a = index(from, frame), b = index(to, frame);
        const double u[2] = {unit.x, unit.y};
        for (int i = 0; i < 2; ++i) {
            for (int k = 0; k < 2; ++k) {
                const double w = weight * u[i] * u[k];
                cells_.emplace_back(a + i, a + k, w);
                cells_.emplace_back(b + i, b + k, w);
                cells_.emplace_back(a + i, b + k, -w);
                cells_.emplace_back(b + i, a + k, -w);
            }
            right_[a + i] -= weight * u[i] * by;
            right_[b + i] += weight * u[i] * by;
        }
    }
    Eigen::VectorXd solved() const {
        Eigen::SparseMatrix<double> m(size(), size());
        m.setFromTriplets(cells_.begin(), cells_.end());
        Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>, Eigen::Lower, Eigen::NaturalOrdering<int>> solver(
            m);
        return solver.solve(right_);
    }
    Eigen::Index index(std::size_t joint, std::size_t frame) const {
        return static_cast<Eigen::Index>(2 * (frame * s_.joints + joint));
    }

  private:
    Eigen::Index size() const { return static_cast<Eigen::Index>(2 * s_.frames * s_.joints); }
    void tie(Eigen::Index a, Eigen::Index b, double by, double weight) {
        cells_.emplace_back(a, a, weight);
        cells_.emplace_back(b, b, weight);
        cells_.emplace_back(a, b, -weight);
        cells_.emplace_back(b, a, -weight);
        right_[a] -= weight * by;
        right_[b] += weight * by;
    }
    const StretchToFuse& s_;
    std::vector<Eigen::Triplet<double>> cells_;
    Eigen::VectorXd right_;
};

void improve(const StretchToFuse& s, const std::vector<std::vector<double>>& steps_agree, Places& at) {
    const Sizes sizes(s, at);
    const Weights weights = weights_of(s, steps_agree, at, sizes);
    Equations equations(s);
    for (std::size_t i = 0; i < s.seen.size(); ++i) {
        const SeenJoint& o = s.seen[i];
        const Point now = at[o.joint][o.frame];
        equations.pull(o.joint, o.frame, {o.at.x - now.x, o.at.y - now.y}, weights.sights[i]);
    }
    for (std::size_t f = 0; f < s.frames; ++f) {
        // Nothing at all was seen of some joint: it stays where it is.
        const double faint = 1e-6 / (sizes.trunk(f) * sizes.trunk(f));
        for (std::size_t j = 0; j < s.joints; ++j) {
            equations.pull(j, f, {0, 0}, faint);
            if (f + 1 == s.frames) continue;
            const SeenStep& step = s.steps[j][f];
            const Point went{at[j][f + 1].x - at[j][f].x, at[j][f + 1].y - at[j][f].y};
            const Point by = std::isfinite(step.sd_px) ? step.by : went;
            equations.step(j, f, {by.x - went.x, by.y - went.y}, weights.steps[j][f]);
        }
        for (std::size_t k = 0; k < s.limbs.size(); ++k) {
            const LimbBetween& limb = s.limbs[k];
            const Point a = at[limb.from][f], b = at[limb.to][f];
            const double long_now = distance(a, b), should = sizes.limb(k, f);
            if (long_now < 1e-3 || should < 1e-3) continue;
            const double sd = limb.sd_share * should, off = (should - long_now) / sd;
            equations.stretch(limb.from, limb.to, f, {(b.x - a.x) / long_now, (b.y - a.y) / long_now},
                              should - long_now, 1 / (sd * sd * (1 + off * off / kHalfLimb)));
        }
    }
    const Eigen::VectorXd by = equations.solved();
    for (std::size_t j = 0; j < s.joints; ++j) {
        for (std::size_t f = 0; f < s.frames; ++f) {
            at[j][f].x += by[equations.index(j, f)];
            at[j][f].y += by[equations.index(j, f) + 1];
        }
    }
}

/// Variances along one joint's chain: what comes from before and from after, put together.
std::vector<double> chain_sd(const std::vector<double>& sights, const std::vector<double>& steps) {
    const std::size_t n = sights.size();
    // The information that reaches a frame through its neighbour: seen there, less what the step loses.
    const auto through = [](double information, double step) {
        return information <= 0 ? 0 : 1 / (1 / information + 1 / step);
    };
    std::vector<double> before(n, 0), after(n, 0), out;
    for (std::size_t f = 1; f < n; ++f) before[f] = through(before[f - 1] + sights[f - 1], steps[f - 1]);
    for (std::size_t f = n - 1; f-- > 0;) after[f] = through(after[f + 1] + sights[f + 1], steps[f]);
    for (std::size_t f = 0; f < n; ++f) {
        const double all = before[f] + sights[f] + after[f];
        out.push_back(all > 0 ? 1 / std::sqrt(all) : std::numeric_limits<double>::infinity());
    }
    return out;
}

void check(const StretchToFuse& s) {
    bool fits = s.steps.size() == s.joints && s.start.size() == s.joints && s.trunk_from < s.joints &&
                s.trunk_to < s.joints && s.frames > 0;
    for (std::size_t j = 0; fits && j < s.joints; ++j)
        fits = s.steps[j].size() == s.frames && s.start[j].size() == s.frames;
    for (const SeenJoint& o : s.seen) fits = fits && o.joint < s.joints && o.frame < s.frames && o.sd_px > 0;
    for (const LimbBetween& l : s.limbs) fits = fits && l.from < s.joints && l.to < s.joints;
    if (!fits) throw std::invalid_argument("fused: the stretch's lists do not fit together");
}

}  // namespace

std::vector<std::vector<Observed>> fused(const StretchToFuse& s) {
    check(s);
    Places at = s.start;
    const auto steps_agree = agreement(s);
    for (int round = 0; round < kRounds; ++round) improve(s, steps_agree, at);
    const Weights weights = weights_of(s, steps_agree, at, Sizes(s, at));
    std::vector<std::vector<double>> sights(s.joints, std::vector<double>(s.frames, 0));
    for (std::size_t i = 0; i < s.seen.size(); ++i)
        sights[s.seen[i].joint][s.seen[i].frame] += weights.sights[i];
    std::vector<std::vector<Observed>> out(s.joints);
    for (std::size_t j = 0; j < s.joints; ++j) {
        const std::vector<double> sd = chain_sd(sights[j], weights.steps[j]);
        for (std::size_t f = 0; f < s.frames; ++f) out[j].push_back({at[j][f], sd[f], 0});
    }
    return out;
}

}  // namespace aspen::core
