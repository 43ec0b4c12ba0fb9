#include "core/measures/measures.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/measures/measure_table.hpp"

namespace aspen::core {
namespace {

using detail::Formula;
using detail::Inputs;
using detail::Span;
using L = Landmark;

constexpr double kShortest = 5;      // errors of its own that a segment has to be long
constexpr double kEarsYawSdDeg = 5;  // of a view's turn read from the horse's ears (from memory)
constexpr double kBesideHooves =
    0.08;                           // trunk lengths that the ground lies beside the hooves' middle, in flight
constexpr double kBentHorse = 0.1;  // trunk lengths that the dock of a bent horse lies off (from memory)

constexpr std::array<std::string_view, 11> kPartWords{"head", "shoulder",  "elbow", "hand", "trunk", "hip",
                                                      "knee", "lower_leg", "heel",  "iron", "horse"};
constexpr std::array<std::string_view, 11> kPartSpoken{"head", "shoulder",  "elbow", "hand", "trunk", "seat",
                                                       "knee", "lower leg", "heel",  "iron", "horse"};

std::span<const Formula> formulas_of(View view) {
    return view == View::side ? detail::side_formulas() : detail::frontal_formulas();
}

std::vector<MeasureInfo> infos_of(View view) {
    std::vector<MeasureInfo> out;
    for (const Formula& formula : formulas_of(view)) {
        out.push_back(formula.info);
        out.back().full_turn = formula.info.unit == "deg" && !formula.folded;
    }
    return out;
}

/// A measure's value under a nudge of one of its inputs: the delta method, part by part.
class DeltaMethod {
  public:
    DeltaMethod(const Formula& formula, const Figure& figure, const Inputs& inputs)
        : formula_(formula), figure_(figure), inputs_(inputs) {}

    /// (dm/dq * sd)^2 of inputs that move together.
    double variance(std::initializer_list<double*> together, double step, double sd) {
        const double up = moved(together, step), down = moved(together, -step);
        const double by =
            (formula_.info.unit == "deg" ? std::remainder(up - down, 360.0) : up - down) / (2 * step);
        return by * by * sd * sd;
    }
    Inputs& inputs() { return inputs_; }

  private:
    double moved(std::initializer_list<double*> together, double by) {
        for (double* q : together) *q += by;
        const double value = formula_.raw(inputs_, figure_);
        for (double* q : together) *q -= by;
        return value;
    }
    const Formula& formula_;
    const Figure& figure_;
    Inputs inputs_;
};

/// A trunk length in pixels from the longest segment that is marked and its typical proportion to the trunk,
/// for figures without one; 0 when no segment is marked.
double guessed_trunk_px(const Figure& figure, const Body& body) {
    const struct {
        L a, b;
        double metres;
    } segments[] = {{L::hip, L::knee, body.thigh_m},
                    {L::knee, L::ankle, body.shank_m},
                    {L::shoulder, L::elbow, body.upper_arm_m},
                    {L::elbow, L::wrist, body.forearm_m},
                    {L::heel, L::toe, body.foot_m},
                    {L::withers, L::croup, body.withers_croup_m},
                    {L::cantle, L::withers, body.cantle_withers_m},
                    {L::poll, L::bit, body.poll_bit_m},
                    {L::left_shoulder, L::right_shoulder, body.shoulder_width_m},
                    {L::left_hip, L::right_hip, body.hip_width_m}};
    double longest = 0, trunk = 0;
    for (const auto& s : segments) {
        if (!figure.measurable(s.a) || !figure.measurable(s.b)) continue;
        const double px = distance(figure[s.a].at, figure[s.b].at);
        if (px <= longest) continue;
        longest = px;
        trunk = px * body.trunk_m / s.metres;
    }
    return trunk;
}

bool trunk_marked(const Figure& figure) {
    const auto all = [&](std::initializer_list<L> joints) {
        return std::ranges::all_of(joints, [&](L l) { return figure.measurable(l); });
    };
    return figure.view == View::side ? all({L::shoulder, L::hip})
                                     : all({L::left_shoulder, L::right_shoulder, L::left_hip, L::right_hip});
}

/// Which landmark keeps the measure from being taken, in words; empty when all are there.
std::string missing(std::span<const Landmark> needs, const Figure& figure) {
    for (const Landmark l : needs) {
        const Mark& m = figure[l];
        if (m.visibility == Visibility::absent) return fmt::format("{} not marked", spoken(l));
        if (m.visibility == Visibility::hidden) return fmt::format("{} hidden", spoken(l));
        if (!m.confirmed && m.origin == Origin::laid) return fmt::format("{} not placed by you", spoken(l));
        if (!m.confirmed) return fmt::format("{} not confirmed", spoken(l));
    }
    return {};
}

/// Everything one figure's measures share.
class Evaluation {
  public:
    Evaluation(const Figure& figure, const Body& body, const MeasuredIn& in)
        : figure_(figure), body_(body), turn_(view_turn(figure, body, in)) {
        const bool side = figure.view == View::side;
        for (std::size_t i = 0; i < kLandmarkCount; ++i) inputs_.at[i] = figure.marks[i].at;
        inputs_.out_of_plane = side                         ? body.depth
                               : figure.view == View::front ? body.along_front
                                                            : body.along_rear;
        if (!side) {
            const double ahead = std::sin(radians(in.trunk_lean_deg));
            for (const Landmark l : {Landmark::left_shoulder, Landmark::right_shoulder, Landmark::chin})
                inputs_.out_of_plane[index(l)] += ahead;
        }
        inputs_.roll_rad = radians(figure.camera.roll_deg);
        inputs_.yaw_rad = radians(turn_.yaw_deg);
        inputs_.turned = in.turned && !side;
        has_trunk_ = trunk_marked(figure);
        if (!has_trunk_) inputs_.guessed_trunk_px = guessed_trunk_px(figure, body);
        trunk_px_ = side ? detail::side_trunk_px(inputs_, figure) : detail::frontal_trunk_px(inputs_, figure);
    }

    Measured of(const Formula& formula, const MeasureInfo& info) const {
        Measured out{&info, std::nullopt, 0, trouble(formula), 0, 0, 0};
        if (!out.reason.empty()) return out;
        const double raw = formula.raw(inputs_, figure_);
        add_errors(formula, out);
        if (!std::isfinite(raw) || !std::isfinite(out.sd)) {
            out = {&info, std::nullopt, 0, "two joints too close together", 0, 0, 0};
            return out;
        }
        out.value = formula.folded ? std::abs(raw) : raw;
        return out;
    }

  private:
    std::string trouble(const Formula& formula) const {
        if (figure_.view == View::side && figure_.travel == Travel::unknown)
            return "direction of travel not said";
        if (std::abs(turn_.yaw_deg) > formula.largest_yaw_deg)
            return figure_.view == View::side ? "seen too much from in front or behind"
                                              : "seen too much from the side";
        if (auto words = missing(formula.info.needs, figure_); !words.empty()) return words;
        if (inputs_.turned && formula.by_horses_axis) {
            constexpr std::array kAxis{Landmark::horse_mid, Landmark::ground_mid};
            if (auto words = missing(kAxis, figure_); !words.empty()) return "the horse leans in: " + words;
        }
        for (const Span& s : formula.spans) {
            const bool side = figure_.view == View::side;
            const double px =
                side ? detail::side_length(s, inputs_, figure_) : detail::frontal_length(s, inputs_, figure_);
            if (!(px >= kShortest * std::hypot(end_sd(s.a, s.a_pair), end_sd(s.b, s.b_pair))))
                return "two joints too close together";
        }
        return {};
    }
    double end_sd(Landmark l, std::optional<Landmark> pair) const {
        return pair ? std::hypot(figure_[l].sd_px, figure_[*pair].sd_px) / 2 : figure_[l].sd_px;
    }

    void add_errors(const Formula& formula, Measured& out) const {
        DeltaMethod delta(formula, figure_, inputs_);
        Inputs& in = delta.inputs();
        double random = 0, build = 0;
        for (const Landmark l : clicked_for(formula)) {
            random += delta.variance({&in.at[index(l)].x}, 1e-3, figure_[l].sd_px);
            random += delta.variance({&in.at[index(l)].y}, 1e-3, figure_[l].sd_px);
        }
        const double roll = delta.variance({&in.roll_rad}, 1e-5, radians(figure_.camera.roll_sd_deg));
        const double turn = delta.variance({&in.yaw_rad}, 1e-5, radians(turn_.sd_deg));
        const double yaw = radians(turn_.yaw_deg), c = std::cos(yaw), t = std::tan(yaw);
        const double off = std::hypot(t, radians(turn_.sd_deg) / (c * c)) * trunk_px_;
        for (const Landmark l : moved_by_place(formula)) {
            if (const auto other = other_of_pair(l))
                build += delta.variance({&in.shift[index(l)], &in.shift[index(*other)]}, 1e-3,
                                        body_.along_sd * off);
            else
                build += delta.variance({&in.shift[index(l)]}, 1e-3,
                                        (figure_.view == View::side ? body_.depth_sd : body_.along_sd) * off);
        }
        if (!has_trunk_ && in.guessed_trunk_px > 0)
            build += delta.variance({&in.guessed_trunk_px}, 1e-3, body_.trunk_guess_sd * trunk_px_);
        if (inputs_.turned && formula.from_horses_middle && figure_.view == View::rear)
            build += delta.variance(
                {&in.shift[index(Landmark::horse_mid)], &in.shift[index(Landmark::ground_mid)]}, 1e-3,
                kBentHorse * trunk_px_);
        if (inputs_.turned && formula.by_horses_axis)
            build +=
                delta.variance({&in.shift[index(Landmark::ground_mid)]}, 1e-3, kBesideHooves * trunk_px_);
        out.sd_random = std::sqrt(random);
        out.sd_roll = std::sqrt(roll);
        out.sd_yaw = std::sqrt(turn);
        out.sd_camera = std::sqrt(roll + turn);
        out.sd_build = std::sqrt(build);
        out.sd = std::sqrt(random + roll + turn + build);
        out.axis_unknown = formula.from_horses_middle && !figure_.camera.yaw_marked && !turn_.from_ears;
    }

    /// The landmarks whose place moves the value: its own, what sets the trunk where the view is turned, and
    /// the horse's axis on a circle.
    std::vector<Landmark> clicked_for(const Formula& formula) const {
        std::vector<L> out = formula.info.needs;
        const auto also = [&](std::initializer_list<L> more) {
            for (const L l : more) {
                if (std::ranges::find(out, l) == out.end()) out.push_back(l);
            }
        };
        if (has_trunk_ && turn_.yaw_deg != 0) {
            if (figure_.view == View::side)
                also({L::shoulder, L::hip});
            else
                also({L::left_shoulder, L::right_shoulder, L::left_hip, L::right_hip});
        }
        if (inputs_.turned && formula.by_horses_axis) also({L::horse_mid, L::ground_mid});
        return out;
    }
    /// One landmark for each nominal place that counts: of a pair the left one.
    std::vector<Landmark> moved_by_place(const Formula& formula) const {
        std::vector<Landmark> out = formula.info.needs;
        if (inputs_.turned && formula.by_horses_axis) {
            for (const Landmark l : {Landmark::horse_mid, Landmark::ground_mid}) {
                if (std::ranges::find(out, l) == out.end()) out.push_back(l);
            }
        }
        std::erase_if(out, [](Landmark l) { return id(l).starts_with("right_"); });
        return out;
    }
    static std::optional<Landmark> other_of_pair(Landmark l) {
        const std::string_view name = id(l);
        return name.starts_with("left_") ? landmark_from("right_" + std::string(name.substr(5)))
                                         : std::nullopt;
    }

    const Figure& figure_;
    const Body& body_;
    ViewTurn turn_;
    Inputs inputs_;
    bool has_trunk_ = false;
    double trunk_px_ = 0;
};

}  // namespace

ViewTurn view_turn(const Figure& figure, const Body& body, const MeasuredIn& in) {
    const CameraPose& camera = figure.camera;
    if (camera.yaw_marked || figure.view == View::side) return {camera.yaw_deg, camera.yaw_sd_deg, false};
    const bool unmarked = camera.yaw_sd_deg == CameraPose::kUnmarkedYawSdDeg;
    const ViewTurn plain{camera.yaw_deg, unmarked ? CameraPose::kUnmarkedFrontalYawSdDeg : camera.yaw_sd_deg,
                         false};
    if (in.turned || !figure.measurable(L::ears_mid) || !figure.measurable(L::horse_mid)) return plain;
    Inputs inputs;
    for (std::size_t i = 0; i < kLandmarkCount; ++i) inputs.at[i] = figure.marks[i].at;
    if (!trunk_marked(figure)) inputs.guessed_trunk_px = guessed_trunk_px(figure, body);
    const double trunk = detail::frontal_trunk_px(inputs, figure);
    const auto& along = figure.view == View::front ? body.along_front : body.along_rear;
    const double apart = (along[index(L::ears_mid)] - along[index(L::horse_mid)]) * trunk;
    const double roll = radians(camera.roll_deg);
    const double x = unrolled(figure[L::ears_mid].at, roll).x - unrolled(figure[L::horse_mid].at, roll).x;
    const double sine = (figure.view == View::front ? -x : x) / apart;
    if (!(std::abs(sine) < 1)) return plain;
    return {degrees(std::asin(sine)), kEarsYawSdDeg, true};
}

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

std::span<const MeasureInfo> measures_of_strides() {
    static const std::vector<MeasureInfo> all{
        {"leg_swing", "lower leg swing", "deg", BodyPart::lower_leg, View::side, {L::knee, L::ankle}},
        {"seat_rise", "seat over the horse", "%", BodyPart::hip, View::side, {L::hip, L::withers}},
        {"rise_phase", "rise against the beat", "stride", BodyPart::hip, View::side, {L::hip, L::withers}, 2},
        {"hip_still_pct", "hip standing still", "%", BodyPart::hip, View::side, {L::hip, L::withers}}};
    return all;
}

bool stride_measure(std::string_view id) {
    return std::ranges::any_of(measures_of_strides(), [&](const MeasureInfo& m) { return m.id == id; });
}

const MeasureInfo* find_measure(std::string_view wanted) {
    for (const auto all : {measures_of(View::side), measures_of(View::rear), measures_of_strides()}) {
        for (const MeasureInfo& info : all) {
            if (info.id == wanted) return &info;
        }
    }
    return nullptr;
}

bool says_side(const MeasureInfo& info) { return info.view == View::rear && info.id != "hands_width"; }

std::vector<Measured> measure(const Figure& figure, const Body& body, const MeasuredIn& in) {
    const Evaluation evaluation(figure, body, in);
    const auto formulas = formulas_of(figure.view);
    const auto infos = measures_of(figure.view);
    std::vector<Measured> out;
    for (std::size_t i = 0; i < formulas.size(); ++i) out.push_back(evaluation.of(formulas[i], infos[i]));
    return out;
}

}  // namespace aspen::core
