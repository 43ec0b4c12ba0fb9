#include "core/motion/telling_moments.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "core/motion/motion_parts.hpp"
#include "core/motion/series.hpp"

namespace aspen::core {
namespace {

using detail::EvenTracks;
using L = Landmark;
using Series = EvenTracks::Series;

constexpr double kWindowS = 2.4, kStepS = 0.4, kShortestStretchS = 2.0;
/// Shares of a canter's stride after the withers' lowest point, from memory.
constexpr std::array kBeats{std::pair{"suspension", 0.42}, std::pair{"beat_1", 0.48},
                            std::pair{"beat_2", 0.74}, std::pair{"beat_3", 0.95}};

/// Which of n strides to look at.
std::vector<std::size_t> spread(std::size_t n, int wanted) {
    std::vector<std::size_t> out;
    const auto most = std::min<std::size_t>(n, static_cast<std::size_t>(std::max(0, wanted)));
    for (std::size_t k = 0; k < most; ++k) out.push_back((2 * k + 1) * n / (2 * most));
    return out;
}

void add_rise(const MotionReport& r, const StrideSpan& s, std::vector<TellingMoment>& out) {
    if (r.stride_source == "rider") {  // strides begin where the rider is lowest
        out.push_back({s.start_s, "rise_bottom"});
        out.push_back({(s.start_s + s.end_s) / 2, "rise_top"});
        return;
    }
    const auto curve = std::ranges::find(r.curves, std::string("seat_height"), &MotionCurve::id);
    if (curve == r.curves.end()) return;
    std::optional<std::size_t> top, bottom;
    for (std::size_t i = 0; i < r.times.size(); ++i) {
        const double v = curve->values[i];
        if (r.times[i] < s.start_s || r.times[i] >= s.end_s || std::isnan(v)) continue;
        if (!top || v > curve->values[*top]) top = i;
        if (!bottom || v < curve->values[*bottom]) bottom = i;
    }
    if (bottom) out.push_back({r.times[*bottom], "rise_bottom"});
    if (top) out.push_back({r.times[*top], "rise_top"});
}

void add_beats(const MotionReport& r, const StrideSpan& s, std::vector<TellingMoment>& out) {
    const double whole = s.end_s - s.start_s;
    const auto& h = r.hooves;
    const bool known = h && h->left_lead && h->landing[0] && h->landing[1] && h->landing[2] &&
                       h->landing[3] && r.stride_source == "hooves";
    if (!known) {
        for (const auto& [phase, share] : kBeats) out.push_back({s.start_s + share * whole, phase});
        return;
    }
    const bool left = *h->left_lead;
    const std::pair<const char*, Hoof> first[] = {{"beat_1", left ? Hoof::right_hind : Hoof::left_hind},
                                                  {"beat_2", left ? Hoof::left_hind : Hoof::right_hind},
                                                  {"beat_3", left ? Hoof::left_fore : Hoof::right_fore}};
    for (const auto& [phase, hoof] : first)
        out.push_back({s.start_s + *h->landing[index(hoof)] * whole, phase});
}

struct Bounce {
    double period_s = 0, pp_pct = 0;  ///< highest minus lowest, % of the trunk
    bool rider = false;               ///< of the rider, for want of withers
};

/// In a window, with what slowly drifts taken out.
std::optional<Bounce> bounce_in(const std::vector<double>& u, std::size_t from, std::size_t to, double step_s,
                                double trunk_px, bool rider) {
    std::vector<double> x(u.begin() + static_cast<std::ptrdiff_t>(from),
                          u.begin() + static_cast<std::ptrdiff_t>(to));
    if (std::ranges::count_if(x, [](double v) { return std::isnan(v); }) * 5 > std::ssize(x))
        return std::nullopt;
    const auto period = period_of(x, step_s);
    const std::vector<double> drift = moving_mean(x, static_cast<int>(std::round(1.0 / step_s)));
    double squares = 0, n = 0;
    for (std::size_t i = 0; i < x.size(); ++i) {
        const double d = x[i] - drift[i];
        if (!std::isnan(d)) squares += d * d, ++n;
    }
    if (n == 0) return std::nullopt;
    // A sine's highest minus lowest is 2 √2 times its standard deviation.
    return Bounce{period.value_or(0), 100 * 2 * std::numbers::sqrt2 * std::sqrt(squares / n) / trunk_px,
                  rider};
}

std::optional<GaitGuess> guess_of(const Bounce& b) {
    constexpr double kStillPct = 1.5;  // % of the trunk
    if (b.pp_pct < kStillPct) return GaitGuess{Gait::halt, false};
    if (b.period_s <= 0) return std::nullopt;
    const double per_min = 60 / b.period_s;
    // Twice a stride: the trot's two bounces are high, the walk's and the gaited walks' low.
    if (per_min > 130 && per_min < 200)
        return GaitGuess{b.pp_pct > 9 ? Gait::trot : Gait::running_walk, false};
    if (b.pp_pct > 16 && per_min > 88 && per_min < 125) return GaitGuess{Gait::canter, false};
    // The rider's own trunk in rising trot goes up once a stride, and higher than any horse throws.
    if (b.rider && b.pp_pct > 14 && per_min > 66 && per_min <= 88) return GaitGuess{Gait::trot, true};
    if (b.pp_pct < 13 && per_min > 85 && per_min <= 130) return GaitGuess{Gait::walk, false};
    return std::nullopt;
}

/// Whether the hip goes up and down over the horse once a stride, by more than a quiet seat.
bool rises(const EvenTracks& even, std::size_t from, std::size_t to, double bounce_s, double trunk_px) {
    if (!even.has(L::withers) || !even.has(L::hip)) return false;
    const Series u = even.in_horse(L::hip, even.nominal()).u;
    const auto b = bounce_in(u, from, to, even.step_s(), trunk_px, true);
    return b && b->pp_pct > 8 && b->period_s > 1.6 * bounce_s;
}

}  // namespace

std::vector<TellingMoment> telling_moments(const MotionReport& r, const MotionSetting& s, int strides) {
    std::vector<TellingMoment> out;
    const bool rising = s.seat_said && s.setting.seat == Seat::rising && s.setting.gait == Gait::trot;
    for (const FlightSeen& f : r.flights) {
        out.push_back({f.take_off_s, "take_off"});
        out.push_back({f.top_s, "top"});
        out.push_back({f.landing_s, "landing"});
    }
    for (const std::size_t i : spread(r.strides.size(), strides)) {
        const StrideSpan& span = r.strides[i];
        const bool in_air = std::ranges::any_of(r.flights, [&](const FlightSeen& f) {
            return f.landing_s > span.start_s && f.take_off_s < span.end_s;
        });
        if (in_air) continue;
        if (rising)
            add_rise(r, span, out);
        else if (s.setting.gait == Gait::canter)
            add_beats(r, span, out);
        else if (r.flights.empty())
            out.push_back({span.start_s, ""});
    }
    std::ranges::stable_sort(out, {}, &TellingMoment::time_s);
    return out;
}

std::vector<GuessedStretch> guess_stretches(const Tracks& tracks, const MotionSetting& setting,
                                            const Body& body) {
    const EvenTracks even(tracks, setting, body);
    std::vector<GuessedStretch> out;
    const double trunk = even.trunk_px();
    const bool withers = even.has(L::withers);
    if (even.size() < 16 || !(trunk > 0) || setting.view != View::side) return out;
    Series u = even.plane(withers ? L::withers : L::shoulder, even.nominal()).u;
    if (!withers) {
        const Series hip = even.plane(L::hip, even.nominal()).u;
        for (std::size_t i = 0; i < u.size(); ++i) u[i] = (u[i] + hip[i]) / 2;
    }
    const double step = even.step_s();
    const auto wide = std::min(u.size(), static_cast<std::size_t>(kWindowS / step)),
               hop = std::max<std::size_t>(1, static_cast<std::size_t>(kStepS / step));
    for (std::size_t from = 0; from + wide <= u.size(); from += hop) {
        const auto b = bounce_in(u, from, from + wide, step, trunk, !withers);
        auto guess = b ? guess_of(*b) : std::nullopt;
        if (!guess) continue;
        if (withers && guess->gait == Gait::trot)
            guess->rising = rises(even, from, from + wide, b->period_s, trunk);
        // A window says what holds in its middle; the first and last also what lies before and after it.
        const double middle = even.grid()[from + wide / 2];
        const double start = from == 0 ? even.grid().front() : middle - kStepS / 2,
                     end = from + wide + hop > u.size() ? even.grid().back() : middle + kStepS / 2;
        if (!out.empty() && out.back().guess == *guess && start - out.back().to_s < 2 * kStepS)
            out.back().to_s = end;
        else
            out.push_back({start, end, *guess});
    }
    std::erase_if(out, [](const GuessedStretch& s) { return s.to_s - s.from_s < kShortestStretchS; });
    // What lay between two of the same was too short to be anything.
    std::vector<GuessedStretch> joined;
    for (const GuessedStretch& s : out) {
        if (!joined.empty() && joined.back().guess == s.guess)
            joined.back().to_s = s.to_s;
        else
            joined.push_back(s);
    }
    return joined;
}

}  // namespace aspen::core
