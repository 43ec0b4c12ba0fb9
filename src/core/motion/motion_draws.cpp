#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numbers>
#include <random>

#include "core/motion/motion_parts.hpp"

/// How sure what is read at one instant is: the same tracks with other noise.
namespace aspen::core::detail {
namespace {

constexpr int kDraws = 200;
constexpr unsigned kDrawSeed = 20260;
constexpr double kMostAlike = 0.76;  // what noise goes on longer hardly leaves anything to tell it by
constexpr double kBeforeS = 3, kAfterS = 3.2;  // of the tracks around what happened
constexpr std::array kOfEvents{"trunk_lag_ms", "lateral_lag_ms", "overshoot_pct", "seat_early_ms",
                               "leg_slip",     "fold",           "release",       "after_landing_leg",
                               "aid_leg_back", "aid_trunk"};

/// Noise whose neighbours are alike by `r` a frame, as smoothing would leave and take it.
struct Noise {
    double r = 0;
    double taken_share = 1;  ///< of its variance, that smoothing takes away
};

/// First-order autoregressive noise through what two passes of a Butterworth take away: what share of the
/// variance that is, and how alike neighbours are in it.
struct Taken {
    double share = 0, r = 0;
};
Taken taken_from(double r, double cutoff_share) {
    constexpr int kFrequencies = 400;
    const double edge =
        std::tan(std::numbers::pi * cutoff_share);  // the bilinear transform bends frequencies
    double whole = 0, taken = 0, alike = 0;
    for (int i = 0; i < kFrequencies; ++i) {
        const double f = (i + 0.5) / kFrequencies / 2;  // of the rate
        const double w = 2 * std::numbers::pi * f;
        const double spectrum = 1 / (1 - 2 * r * std::cos(w) + r * r);
        const double kept =
            1 / (1 + (std::numbers::sqrt2 - 1) * std::pow(std::tan(std::numbers::pi * f) / edge, 4));
        const double gone = spectrum * (1 - kept) * (1 - kept);
        whole += spectrum;
        taken += gone;
        alike += gone * std::cos(w);
    }
    return {taken / whole, taken > 0 ? alike / taken : 0};
}

/// The noise whose remains look like those that smoothing took away; one for all landmarks.
Noise noise_of(const EvenTracks& even) {
    std::vector<double> all;
    for (std::size_t l = 0; l < kLandmarkCount; ++l) {
        const auto& taken = even.residual(static_cast<Landmark>(l));
        if (taken.sd_px > 0) all.push_back(taken.r);
    }
    const double rate = even.step_s() > 0 ? 1 / even.step_s() : 0;
    if (all.empty() || rate <= 2 * even.cutoff_hz()) return {};
    std::ranges::nth_element(all, all.begin() + static_cast<std::ptrdiff_t>(all.size() / 2));
    const double seen = all[all.size() / 2];
    Noise out;
    double nearest = 2;
    for (double r = 0; r <= kMostAlike; r += 0.02) {
        const Taken t = taken_from(r, even.cutoff_hz() / rate);
        if (const double off = std::abs(t.r - seen); off < nearest) nearest = off, out = {r, t.share};
    }
    return out;
}

/// The tracks as they were smoothed, again and again with other noise.
class Redrawn {
  public:
    Redrawn(const Tracks& smoothed, const EvenTracks& even)
        : smoothed_(smoothed), noise_(noise_of(even)), random_(kDrawSeed) {
        for (std::size_t l = 0; l < kLandmarkCount; ++l)
            sd_px_[l] = even.residual(static_cast<Landmark>(l)).sd_px / std::sqrt(noise_.taken_share);
    }
    Tracks next() {
        Tracks out = smoothed_;
        struct Off {
            int frame = 0;
            double x = 0, y = 0;
        };
        std::map<Landmark, Off> before;
        for (TrackPoint& p : out.points) {
            const double sd = p.sd_px > 0 ? p.sd_px : sd_px_[index(p.landmark)];
            const auto [at, first] = before.try_emplace(p.landmark);
            Off& off = at->second;
            const double r = first ? 0 : std::pow(noise_.r, std::max(1, p.frame - off.frame));
            const double fresh = std::sqrt(1 - r * r);
            off = {p.frame, r * off.x + fresh * unit_(random_), r * off.y + fresh * unit_(random_)};
            p.at.x += sd * off.x;
            p.at.y += sd * off.y;
        }
        return out;
    }

  private:
    const Tracks& smoothed_;
    Noise noise_;
    std::array<double, kLandmarkCount> sd_px_{};
    std::mt19937 random_;
    std::normal_distribution<double> unit_;
};

bool of_events(const MotionMeasure& m) {
    return std::ranges::any_of(kOfEvents, [&](const char* id) { return m.id == id; });
}

/// The tracks around what happened as they were smoothed, the camera's motion taken out.
Tracks around(const Tracks& tracks, const MotionSetting& in, const EvenTracks& even, double from, double to) {
    Tracks out;
    for (const TrackPoint& p : tracks.points) {
        const double t = p.time_s * in.time_scale;
        if (p.hidden || t < from - kBeforeS || t > to + kAfterS) continue;
        if (const auto at = even.smoothed(p.landmark, t)) {
            out.points.push_back(p);
            out.points.back().at = *at;
        }
    }
    return out;
}

/// What is read at an instant of some tracks, by "fence/id"; 0 stands for the whole.
using ReadAt = std::map<std::pair<std::size_t, std::string>, double>;
ReadAt read_at(const Tracks& tracks, const MotionSetting& in, const Body& body, const Schools& schools,
               const MotionReport& report, bool camera_known) {
    const EvenTracks even(tracks, in, body);
    const MotionParts parts{in, even, schools, report, camera_known, even.leg_px()};
    ReadAt out;
    const auto take = [&](std::size_t fence, const std::vector<MotionMeasure>& all) {
        for (const MotionMeasure& m : all) {
            if (m.value && of_events(m)) out[{fence, m.id}] = *m.value;
        }
    };
    if (in.change_at_s) take(0, change_measures(parts));
    take(0, aid_measures(parts));
    const auto logged = fences_logged(in);
    const std::vector<FenceSeen> fences = fences_of(parts);
    for (std::size_t f = 0; f < fences.size(); ++f) take(f + 1, fences[f].measures);
    const bool first_is_whole =
        !fences.empty() && !logged.empty() && logged.front().take_off_s == fences.front().take_off_s;
    if (first_is_whole)
        take(0, fences.front().measures);
    else if (!logged.empty())
        take(0, fence_measures(parts, logged.front()));
    return out;
}

}  // namespace

void state_event_errors(const Tracks& tracks, const MotionSetting& in, const Body& body,
                        const Schools& schools, const EvenTracks& even, MotionReport& report) {
    const auto told = [](const std::vector<MotionMeasure>& all) {
        return std::ranges::any_of(all, [](const MotionMeasure& m) { return m.value && of_events(m); });
    };
    if (!told(report.measures) &&
        std::ranges::none_of(report.fences, [&](const FenceSeen& f) { return told(f.measures); }))
        return;
    double from = 1e300, to = -1e300;
    const auto at = [&](double t) { from = std::min(from, t), to = std::max(to, t); };
    if (in.change_at_s) at(*in.change_at_s * in.time_scale);
    for (const Happening& e : in.events) {
        if (e.event == "take_off" || e.event == "landing" || e.event == "aid") at(e.time_s * in.time_scale);
    }
    MotionSetting again = in;
    again.cutoff_hz = even.cutoff_hz();
    const bool camera_known = !tracks.camera.empty();
    const Tracks smoothed = around(tracks, in, even, from, to);
    const ReadAt without = read_at(smoothed, again, body, schools, report, camera_known);
    Redrawn redrawn(smoothed, even);
    std::map<std::pair<std::size_t, std::string>, std::pair<double, int>> squares;
    for (int n = 0; n < kDraws; ++n) {
        const ReadAt now = read_at(redrawn.next(), again, body, schools, report, camera_known);
        for (const auto& [what, value] : now) {
            const auto before = without.find(what);
            if (before == without.end()) continue;
            auto& [sum, drawn] = squares[what];
            sum += (value - before->second) * (value - before->second);
            ++drawn;
        }
    }
    const auto state = [&](std::size_t fence, std::vector<MotionMeasure>& all) {
        for (MotionMeasure& m : all) {
            if (!m.value || !of_events(m)) continue;
            const auto& [sum, drawn] = squares[{fence, m.id}];
            if (2 * drawn >= kDraws) {
                m.sd = std::hypot(m.sd, std::sqrt(sum / drawn));
                continue;
            }
            // What comes out of few draws was luck once.
            m.value.reset();
            m.sd = 0;
            m.verdict = Verdict::not_judged;
            m.reason = "cannot be told: it hangs on the noise";
        }
    };
    state(0, report.measures);
    for (std::size_t f = 0; f < report.fences.size(); ++f) state(f + 1, report.fences[f].measures);
}

}  // namespace aspen::core::detail
