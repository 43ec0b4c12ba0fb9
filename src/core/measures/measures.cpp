#include "core/measures/measures.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/measures/measure_table.hpp"

namespace aspen::core {
namespace {

using detail::Formula;
using detail::Inputs;

constexpr std::array<std::string_view, 11> kPartWords{"head", "shoulder",  "elbow", "hand", "trunk", "hip",
                                                      "knee", "lower_leg", "heel",  "iron", "horse"};
constexpr std::array<std::string_view, 11> kPartSpoken{"head", "shoulder",  "elbow", "hand", "trunk", "seat",
                                                       "knee", "lower leg", "heel",  "iron", "horse"};

std::span<const Formula> formulas_of(View view) {
    return view == View::side ? detail::side_formulas() : detail::frontal_formulas();
}

std::vector<MeasureInfo> infos_of(View view) {
    std::vector<MeasureInfo> out;
    for (const Formula& formula : formulas_of(view)) out.push_back(formula.info);
    return out;
}

double folded(const Formula& formula, double raw) { return formula.folded ? std::abs(raw) : raw; }

/// Difference of two raw values; angles modulo a full turn, so that no derivative jumps at +-180 degrees.
double difference(const Formula& formula, double a, double b) {
    return formula.angular ? std::remainder(a - b, 360.0) : a - b;
}

/// Adds up (dm/dq * sd_q)^2 over the inputs q of one formula.
class DeltaMethod {
  public:
    DeltaMethod(const Formula& formula, const Figure& figure, Inputs inputs)
        : formula_(formula), figure_(figure), inputs_(inputs) {}

    double slope(double& input, double step) {
        const double kept = input;
        input = kept + step;
        const double up = formula_.raw(inputs_, figure_);
        input = kept - step;
        const double down = formula_.raw(inputs_, figure_);
        input = kept;
        return difference(formula_, up, down) / (2 * step);
    }
    void add(double& input, double step, double sd) {
        const double part = slope(input, step) * sd;
        variance_ += part * part;
    }
    void add_variance(double v) { variance_ += v; }
    double sd() const { return std::sqrt(variance_); }
    Inputs& inputs() { return inputs_; }

  private:
    const Formula& formula_;
    const Figure& figure_;
    Inputs inputs_;
    double variance_ = 0;
};

/// A trunk length in pixels judged from whatever segment is marked, for figures without shoulder or hip.
double guessed_trunk_px(const Figure& figure, const Body& body) {
    using L = Landmark;
    const struct {
        L a, b;
        double metres;
    } segments[] = {{L::hip, L::knee, body.thigh_m},
                    {L::knee, L::ankle, body.shank_m},
                    {L::shoulder, L::elbow, body.upper_arm_m},
                    {L::elbow, L::wrist, body.forearm_m},
                    {L::heel, L::toe, body.foot_m}};
    double longest = 0;
    for (const auto& s : segments) {
        if (!figure.measurable(s.a) || !figure.measurable(s.b)) continue;
        longest = std::max(longest, distance(figure[s.a].at, figure[s.b].at) * body.trunk_m / s.metres);
    }
    return longest;
}

/// Which landmark keeps the measure from being taken, in words; empty when all are there.
std::string missing(const MeasureInfo& info, const Figure& figure) {
    for (const Landmark l : info.needs) {
        const Mark& m = figure[l];
        if (m.visibility == Visibility::absent) return fmt::format("{} not marked", spoken(l));
        if (m.visibility == Visibility::hidden) return fmt::format("{} hidden", spoken(l));
        if (!m.confirmed) return fmt::format("{} not confirmed", spoken(l));
    }
    return {};
}

std::string view_trouble(const Figure& figure) {
    if (figure.view != View::side) return {};
    if (figure.travel == Travel::unknown) return "direction of travel not said";
    if (std::abs(figure.camera.yaw_deg) > kLargestYawDeg) return "seen too much from in front or behind";
    return {};
}

void add_side_errors(DeltaMethod& error, const Formula& formula, const Figure& figure, const Body& body,
                     double trunk_guess_px) {
    const double yaw = radians(figure.camera.yaw_deg);
    const double yaw_sd = radians(figure.camera.yaw_sd_deg);
    error.add(error.inputs().yaw_rad, 1e-5, yaw_sd);
    for (const Landmark l : formula.info.needs) {
        if (error.inputs().trunk_known) {
            error.add(error.inputs().depth[index(l)], 1e-4, body.depth_sd);
            continue;
        }
        // Without a trunk the depth was left out of the value, so all of it stands in the error.
        const double per_px = error.slope(error.inputs().at[index(l)].x, 1e-3);
        const double c = std::cos(yaw);
        const double nominal = body.depth[index(l)] * std::hypot(std::tan(yaw), yaw_sd / (c * c));
        const double scatter = body.depth_sd * std::tan(yaw);
        error.add_variance(std::pow(per_px * c * trunk_guess_px * std::hypot(nominal, scatter), 2));
    }
}

Measured evaluate(const Formula& formula, const MeasureInfo& info, const Figure& figure, const Body& body,
                  const Inputs& inputs, double trunk_guess_px) {
    Measured out{&info, std::nullopt, 0, view_trouble(figure)};
    if (out.reason.empty()) out.reason = missing(info, figure);
    if (!out.reason.empty()) return out;
    const double raw = formula.raw(inputs, figure);
    if (!std::isfinite(raw)) {
        out.reason = "two joints lie on one spot";
        return out;
    }
    DeltaMethod error(formula, figure, inputs);
    std::vector<Landmark> inputs_used = info.needs;
    if (figure.view == View::side && inputs.trunk_known && figure.camera.yaw_deg != 0) {
        for (const Landmark l :
             {Landmark::shoulder, Landmark::hip}) {  // they set trunk0, and with it all depths
            if (std::ranges::find(inputs_used, l) == inputs_used.end()) inputs_used.push_back(l);
        }
    }
    for (const Landmark l : inputs_used) {
        error.add(error.inputs().at[index(l)].x, 1e-3, figure[l].sd_px);
        error.add(error.inputs().at[index(l)].y, 1e-3, figure[l].sd_px);
    }
    error.add(error.inputs().roll_rad, 1e-5, radians(figure.camera.roll_sd_deg));
    if (figure.view == View::side) add_side_errors(error, formula, figure, body, trunk_guess_px);
    if (!std::isfinite(error.sd())) {
        out.reason = "two joints lie on one spot";
        return out;
    }
    out.value = folded(formula, raw);
    out.sd = error.sd();
    return out;
}

}  // namespace

std::string_view word(BodyPart p) { return kPartWords[static_cast<std::size_t>(p)]; }
std::string_view spoken(BodyPart p) { return kPartSpoken[static_cast<std::size_t>(p)]; }
std::optional<BodyPart> body_part_from(std::string_view w) {
    const auto it = std::ranges::find(kPartWords, w);
    if (it == kPartWords.end()) return std::nullopt;
    return static_cast<BodyPart>(it - kPartWords.begin());
}

std::span<const MeasureInfo> measures_of(View view) {
    static const std::vector<MeasureInfo> side = infos_of(View::side);
    static const std::vector<MeasureInfo> frontal = infos_of(View::rear);
    return view == View::side ? side : frontal;
}

const MeasureInfo* find_measure(std::string_view wanted) {
    for (const View view : {View::side, View::rear}) {
        for (const MeasureInfo& info : measures_of(view)) {
            if (info.id == wanted) return &info;
        }
    }
    return nullptr;
}

std::vector<Measured> measure(const Figure& figure, const Body& body) {
    Inputs inputs;
    for (std::size_t i = 0; i < kLandmarkCount; ++i) inputs.at[i] = figure.marks[i].at;
    inputs.depth = body.depth;
    inputs.roll_rad = radians(figure.camera.roll_deg);
    inputs.yaw_rad = radians(figure.camera.yaw_deg);
    inputs.trunk_known = figure.measurable(Landmark::shoulder) && figure.measurable(Landmark::hip);
    const double trunk_guess_px = guessed_trunk_px(figure, body);
    const auto formulas = formulas_of(figure.view);
    const auto infos = measures_of(figure.view);
    std::vector<Measured> out;
    for (std::size_t i = 0; i < formulas.size(); ++i) {
        out.push_back(evaluate(formulas[i], infos[i], figure, body, inputs, trunk_guess_px));
    }
    return out;
}

}  // namespace aspen::core
