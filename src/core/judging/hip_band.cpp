#include "core/judging/hip_band.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>
#include <vector>

namespace aspen::core {
namespace {

constexpr int kPoses = 20000;
constexpr unsigned kSeed = 20261126;
constexpr double kTrunkM = 0.50, kThighM = 0.43, kShankM = 0.42, kBuild = 0.08;
constexpr double kHeelBehindM = 0.05, kHeelBelowM = 0.07;
constexpr double kTail = 0.015;
constexpr double kRad = std::numbers::pi / 180;

/// Uniform draws that come out the same with every standard library.
class Draw {
  public:
    double between(double lo, double hi) { return lo + (hi - lo) * (static_cast<double>(bits_()) / 0x1p32); }
    double in(const HipCell::Limits& l) { return between(l.lo, l.hi); }
    double about(double length_m) { return length_m * between(1 - kBuild, 1 + kBuild); }

  private:
    std::mt19937 bits_{kSeed};
};

/// One rider of the cell, seen from the side with the hip at the origin; false where the leg cannot be laid.
struct HipPose {
    double hip_deg = 0, shoulder_past_knee = 0;
};
std::optional<HipPose> draw(const HipCell& cell, Draw& from) {
    const double lean = from.in(cell.trunk_lean) * kRad, drop = from.in(cell.heel_drop) * kRad;
    const double knee = from.in(cell.knee_angle) * kRad, offset = from.in(cell.heel_offset) / 100;
    const double trunk = from.about(kTrunkM), thigh = from.about(kThighM), shank = from.about(kShankM);
    const double ankle_f =
        offset * (thigh + shank) + kHeelBehindM * std::cos(drop) - kHeelBelowM * std::sin(drop);
    const double reach = std::sqrt(thigh * thigh + shank * shank - 2 * thigh * shank * std::cos(knee));
    if (std::abs(ankle_f) >= reach) return std::nullopt;
    const double at_hip = (thigh * thigh + reach * reach - shank * shank) / (2 * thigh * reach);
    // Forward of straight down: the line to the ankle, and from there to the thigh.
    const double forward = std::asin(ankle_f / reach) + std::acos(std::clamp(at_hip, -1.0, 1.0));
    const double past = 100 * (trunk * std::sin(lean) - thigh * std::sin(forward)) / thigh;
    return HipPose{180 - (forward + lean) / kRad, past};
}

double percentile(std::vector<double>& sorted, double share) {
    const double at = share * static_cast<double>(sorted.size() - 1);
    const auto below = static_cast<std::size_t>(at);
    const auto above = std::min(below + 1, sorted.size() - 1);
    return sorted[below] + (at - static_cast<double>(below)) * (sorted[above] - sorted[below]);
}

}  // namespace

HipBand hip_band(const HipCell& cell) {
    Draw from;
    std::vector<double> hips;
    hips.reserve(kPoses);
    for (int i = 0; i < kPoses; ++i) {
        const auto pose = draw(cell, from);
        if (!pose || (cell.shoulder_past_knee && pose->shoulder_past_knee > *cell.shoulder_past_knee))
            continue;
        hips.push_back(pose->hip_deg);
    }
    HipBand out;
    out.stay = static_cast<double>(hips.size()) / kPoses;
    if (hips.empty()) return out;
    std::ranges::sort(hips);
    out.lo = std::floor(percentile(hips, kTail));
    out.hi = std::ceil(percentile(hips, 1 - kTail));
    return out;
}

}  // namespace aspen::core
