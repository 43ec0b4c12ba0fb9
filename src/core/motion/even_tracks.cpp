#include "core/motion/even_tracks.hpp"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/motion/series.hpp"

namespace aspen::core::detail {
namespace {

constexpr double kNearlyAll = 0.95;
/// Residual analysis has to be this far above the usual 6 Hz to be heeded, and is heeded no further.
constexpr double kQuickerHz = 9, kMostHz = 12;

EvenTracks::Residual taken_away(const EvenTracks::Series& raw, const EvenTracks::Series& smoothed) {
    double squares = 0, products = 0, before = kNaN;
    int n = 0, pairs = 0;
    for (std::size_t i = 0; i < raw.size(); ++i) {
        const double off = raw[i] - smoothed[i];
        if (!std::isnan(off)) {
            squares += off * off;
            ++n;
            if (!std::isnan(before)) products += off * before, ++pairs;
        }
        before = off;
    }
    if (n < 8 || pairs < 4 || !(squares > 0)) return {};
    return {std::sqrt(squares / n), (products / pairs) / (squares / n)};
}

double median_of(std::vector<double> v) {
    std::erase_if(v, [](double x) { return std::isnan(x); });
    if (v.empty()) return kNaN;
    std::ranges::sort(v);
    return v.size() % 2 ? v[v.size() / 2] : (v[v.size() / 2 - 1] + v[v.size() / 2]) / 2;
}

}  // namespace

EvenTracks::EvenTracks(const Tracks& tracks, const MotionSetting& setting, const Body& body)
    : camera_(setting.camera), body_(body) {
    figure_.view = setting.view;
    figure_.travel = setting.view == View::side ? setting.travel : Travel::unknown;
    std::set<double> times;
    for (const TrackPoint& p : tracks.points) times.insert(p.time_s * setting.time_scale);
    const std::vector<double> rising(times.begin(), times.end());
    grid_ = even_times(rising);
    std::array<std::vector<Sample>, kLandmarkCount> xs, ys;
    for (const TrackPoint& p : tracks.points) {
        if (p.hidden) continue;
        Point at = p.at;
        if (const auto c = tracks.camera.find(p.frame); c != tracks.camera.end())
            at = {(at.x - c->second.x) / c->second.scale, (at.y - c->second.y) / c->second.scale};
        xs[index(p.landmark)].push_back({p.time_s * setting.time_scale, at.x});
        ys[index(p.landmark)].push_back({p.time_s * setting.time_scale, at.y});
    }
    for (std::size_t l = 0; l < kLandmarkCount; ++l) {
        std::ranges::stable_sort(xs[l], {}, &Sample::time_s);
        std::ranges::stable_sort(ys[l], {}, &Sample::time_s);
        has_[l] = xs[l].size() > 2;
        if (!xs[l].empty()) followed_.push_back(l);
        x_[l] = on_grid(xs[l], grid_);
        y_[l] = on_grid(ys[l], grid_);
    }
    smooth_all(setting.cutoff_hz);
}

void EvenTracks::smooth_all(std::optional<double> cutoff_hz) {
    const double rate = grid_.size() < 2 ? 0 : 1 / step_s();
    cutoff_hz_ = cutoff_hz.value_or(kCutoffHz);
    if (!cutoff_hz) {
        // Never below: the third harmonic of a quick stride lies at 5 Hz, and has to pass.
        std::vector<double> all;
        for (std::size_t l = 0; l < kLandmarkCount; ++l) {
            if (!has_[l]) continue;
            if (const auto f = residual_cutoff_hz(y_[l], rate)) all.push_back(*f);
        }
        const double said = median_of(all);
        if (said > kQuickerHz) cutoff_hz_ = std::min(said, kMostHz);
    }
    for (std::size_t l = 0; l < kLandmarkCount; ++l) {
        if (!has_[l]) continue;
        smooth(x_[l], rate, cutoff_hz_);
        const Series raw = y_[l];
        smooth(y_[l], rate, cutoff_hz_);
        residual_[l] = taken_away(raw, y_[l]);
    }
}

bool EvenTracks::there(std::size_t i, Landmark l) const { return !std::isnan(x_[index(l)][i]); }

std::optional<Point> EvenTracks::smoothed(Landmark l, double real_s) const {
    if (grid_.size() < 2 || !has(l)) return std::nullopt;
    const double place = (real_s - grid_.front()) / step_s();
    const auto i = static_cast<std::size_t>(std::clamp(place, 0.0, static_cast<double>(grid_.size()) - 2));
    const double on = std::clamp(place - static_cast<double>(i), 0.0, 1.0);
    const auto between = [&](const Series& x) { return x[i] + on * (x[i + 1] - x[i]); };
    const Point out{between(x_[index(l)]), between(y_[index(l)])};
    return std::isnan(out.x) || std::isnan(out.y) ? std::nullopt : std::optional(out);
}

template <typename F>
EvenTracks::Series EvenTracks::each(const Stand& stand, std::initializer_list<Landmark> needs, F f) const {
    Series out(grid_.size(), kNaN);
    Inputs in;
    in.at.fill({kNaN, kNaN});
    const bool side = figure_.view == View::side;
    in.out_of_plane = side ? body_.depth : figure_.view == View::front ? body_.along_front : body_.along_rear;
    in.roll_rad = radians(stand.roll_deg);
    in.yaw_rad = radians(stand.yaw_deg);
    for (std::size_t i = 0; i < grid_.size(); ++i) {
        if (!std::ranges::all_of(needs, [&](Landmark l) { return there(i, l); })) continue;
        for (const std::size_t l : followed_) in.at[l] = {x_[l][i], y_[l][i]};
        const bool trunk = side ? there(i, Landmark::shoulder) && there(i, Landmark::hip)
                                : there(i, Landmark::left_shoulder) && there(i, Landmark::right_shoulder) &&
                                      there(i, Landmark::left_hip) && there(i, Landmark::right_hip);
        in.guessed_trunk_px = trunk ? 0 : 1;  // depth cannot be scaled then; square on it does not matter
        out[i] = f(in);
    }
    return out;
}

EvenTracks::Plane EvenTracks::plane(Landmark l, const Stand& stand) const {
    if (figure_.view != View::side) {  // the picture's own plane, upright: there is no depth to take out
        const auto upright = [l](const Inputs& in) { return unrolled(in.at[index(l)], in.roll_rad); };
        return {each(stand, {l}, [&](const Inputs& in) { return upright(in).x; }),
                each(stand, {l}, [&](const Inputs& in) { return -upright(in).y; })};
    }
    return {each(stand, {l}, [&](const Inputs& in) { return Side(in, figure_).at(l).f; }),
            each(stand, {l}, [&](const Inputs& in) { return Side(in, figure_).at(l).u; })};
}

/// A croup that is lost for a part of the way would lose the seat with it: upright axes then.
bool EvenTracks::followed_with(Landmark one, Landmark other) const {
    int both = 0, all = 0;
    for (std::size_t i = 0; i < grid_.size(); ++i) {
        if (!there(i, other)) continue;
        ++all;
        both += there(i, one);
    }
    return all > 0 && both >= kNearlyAll * all;
}

EvenTracks::Plane EvenTracks::in_horse(Landmark l, const Stand& stand) const {
    const Plane p = plane(l, stand), w = plane(Landmark::withers, stand);
    Series turn(grid_.size(), 0);
    if (followed_with(Landmark::croup, Landmark::withers)) {
        const Plane c = plane(Landmark::croup, stand);
        for (std::size_t i = 0; i < turn.size(); ++i)
            turn[i] = degrees(std::atan2(w.u[i] - c.u[i], w.f[i] - c.f[i]));
        unwrap(turn);
        double sum = 0;
        int n = 0;
        for (const double t : turn) {
            if (std::isnan(t)) continue;
            sum += t;
            ++n;
        }
        for (double& t : turn) t -= n > 0 ? sum / n : 0;
    }
    Plane out{Series(grid_.size(), kNaN), Series(grid_.size(), kNaN)};
    for (std::size_t i = 0; i < grid_.size(); ++i) {
        const double f = p.f[i] - w.f[i], u = p.u[i] - w.u[i], a = radians(turn[i]);
        out.f[i] = f * std::cos(a) + u * std::sin(a);
        out.u[i] = -f * std::sin(a) + u * std::cos(a);
    }
    return out;
}

EvenTracks::Series EvenTracks::measured(const Formula& formula, const Stand& stand) const {
    Series out(grid_.size(), kNaN);
    const Series values = each(stand, {}, [&](const Inputs& in) { return formula.raw(in, figure_); });
    for (std::size_t i = 0; i < out.size(); ++i) {
        const bool all = std::ranges::all_of(formula.info.needs, [&](Landmark l) { return there(i, l); });
        if (all) out[i] = formula.folded ? std::abs(values[i]) : values[i];
    }
    if (formula.info.unit == "deg" && !formula.folded) unwrap(out);
    return out;
}

double EvenTracks::trunk_px() const {
    return median_of(each(nominal(), {Landmark::shoulder, Landmark::hip},
                          [&](const Inputs& in) { return Side(in, figure_).trunk(); }));
}
double EvenTracks::leg_px() const {
    return median_of(each(nominal(), {Landmark::hip, Landmark::knee, Landmark::ankle},
                          [&](const Inputs& in) { return Side(in, figure_).leg(); }));
}

}  // namespace aspen::core::detail
