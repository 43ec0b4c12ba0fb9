#include "core/motion/motion.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <numeric>

#include "core/measures/student.hpp"
#include "core/motion/hip_loop.hpp"
#include "core/motion/motion_parts.hpp"
#include "core/motion/series.hpp"

namespace aspen::core {
namespace {

using detail::EvenTracks;
using L = Landmark;
using Series = EvenTracks::Series;
using Stand = EvenTracks::Stand;

using detail::kFewestStrides;
constexpr double kStillShare = 0.2, kClearlyLonger = 1.25;
constexpr double kFaceOfTrunk = 0.2;  // ear to eye, from memory

using detail::formula_of, detail::mean_of, detail::part_of, detail::spread_of;

/// One measure as the strides give it, with how it hangs on the camera.
struct Given {
    std::vector<double> by_stride;  ///< one for each stride, NaN where it was not followed
    std::string reason{};
    bool phase = false;    ///< a share of the stride, 0.5 apart is the same again
    double turn = 1;       ///< ± half of this is as far as a share can go
    double noise = 0;      ///< standard deviation that the tracks' noise gives one stride
    double length_px = 0;  ///< what it is read from or a share of; 0: none

    std::vector<double> followed() const {
        std::vector<double> out;
        std::ranges::copy_if(by_stride, std::back_inserter(out), [](double v) { return !std::isnan(v); });
        return out;
    }
};
/// Swings of a series, stride by stride.
struct Swings {
    std::vector<double> by_stride;
    double noise = 0;
};

class Moving {
  public:
    Moving(const Tracks& tracks, const MotionSetting& setting, const Body& body, const Schools& schools)
        : tracks_(tracks), in_(setting), schools_(schools), even_(tracks, setting, body) {
        trunk_px_ = even_.trunk_px();
        leg_px_ = even_.leg_px();
        const detail::MotionParts parts{in_, even_, schools_, report_, !tracks_.camera.empty(), leg_px_};
        report_.flights = detail::flights_of(parts);
        detail::find_strides(tracks, setting, even_, report_);
        report_.cutoff_hz = even_.cutoff_hz();
        tempo();
        swings();
        rise();
        loop();
        if (in_.px_per_m > 0) speed();
        const auto fences = detail::fences_logged(setting);
        for (auto more : {detail::change_measures(parts), detail::aid_measures(parts),
                          detail::fence_measures(parts, fences.empty() ? detail::FenceAt{} : fences.front()),
                          detail::hoof_measures(report_)})
            report_.measures.insert(report_.measures.end(), more.begin(), more.end());
        report_.measures.push_back(detail::strides_held(parts));
        report_.times = even_.grid();
        report_.curves = detail::curves_of(parts, trunk_px_);
        report_.around = detail::around_events(parts);
        report_.fences = detail::fences_of(parts);
        detail::state_event_errors(tracks_, in_, body, schools_, even_, report_);
    }
    MotionReport take() { return std::move(report_); }

  private:
    bool canter() const { return in_.setting.gait == Gait::canter; }

    void tempo() {
        std::vector<double> times;
        for (const StrideSpan& s : report_.strides) times.push_back(s.end_s - s.start_s);
        if (times.size() < kFewestStrides) return;
        report_.tempo_per_min = 60 / mean_of(times);
        report_.tempo_cv_pct = 100 * spread_of(times) / mean_of(times);
    }

    std::optional<detail::StridePart> part(const Series& x, const StrideSpan& s) const {
        return part_of(even_, x, s);
    }

    /// What noise leaves in each coefficient of a stride, read where no riding is: between the harmonics.
    /// Over two strides on end everything that comes again each stride stands in the even multiples; the odd
    /// ones beside the first three harmonics hold the noise of just that band, whatever its colour, with half
    /// the variance.
    double coefficient_noise(const Series& x) const {
        double sum = 0;
        int n = 0;
        for (std::size_t i = 0; i + 1 < report_.strides.size(); ++i) {
            const StrideSpan &a = report_.strides[i], &b = report_.strides[i + 1];
            if (std::abs(b.start_s - a.end_s) > 1e-6) continue;
            const auto p = part(x, {a.start_s, b.end_s});
            // A drift over both strides would leak into all of them.
            const auto h = p ? fit_harmonics(p->places, p->values, 8, true) : std::nullopt;
            if (!h) continue;
            for (const std::size_t k : {2u, 4u, 6u}) {
                sum += h->cosine[k] * h->cosine[k] + h->sine[k] * h->sine[k];
                ++n;
            }
        }
        return n > 0 ? sum / n : 0;
    }

    /// Highest minus lowest in each stride, with what noise adds on average taken out.
    Swings swing_by_stride(const Series& x) {
        Swings out{std::vector<double>(report_.strides.size(), kNaN)};
        Harmonics mean{0, std::vector<double>(3, 0), std::vector<double>(3, 0)};
        int n = 0;
        for (std::size_t i = 0; i < report_.strides.size(); ++i) {
            const auto p = part(x, report_.strides[i]);
            const auto h = p ? fit_harmonics(p->places, p->values, 3) : std::nullopt;
            if (!h) continue;
            out.by_stride[i] = h->peak_to_peak();
            ++n;
            for (std::size_t k = 0; k < 3; ++k) {
                mean.cosine[k] += h->cosine[k];
                mean.sine[k] += h->sine[k];
            }
        }
        if (n == 0) return out;
        for (std::size_t k = 0; k < 3; ++k) {
            mean.cosine[k] /= n;
            mean.sine[k] /= n;
        }
        // A camera that is moved a little to see what its error does sees the same noise.
        if (!moved_) noise_ = noise_in(mean, coefficient_noise(x));
        double sum = 0;
        for (const double v : out.by_stride) sum += std::isnan(v) ? 0 : v;
        const double lift = std::min(noise_.lift, sum / n);
        for (double& v : out.by_stride) v -= lift;
        out.noise = noise_.sd;
        return out;
    }

    /// Adds a measure: `of` gives its strides for a camera that stands so; its common error comes from moving
    /// that.
    void add(const std::string& id, const std::string& unit, const std::function<Given(const Stand&)>& of) {
        MotionMeasure m;
        m.id = id;
        m.unit = unit;
        moved_ = false;
        const Given given = of(even_.nominal());
        moved_ = true;
        const std::vector<double> followed = given.followed();
        m.strides = static_cast<int>(followed.size());
        m.reason = given.reason;
        if (m.reason.empty() && report_.strides.size() < kFewestStrides)
            m.reason = "fewer than three whole strides";
        if (m.reason.empty() && m.strides < kFewestStrides)
            m.reason = "followed through fewer than three strides";
        if (!m.reason.empty()) {
            m.strides = 0;
            report_.measures.push_back(std::move(m));
            return;
        }
        const auto value = [&](const Given& g) {
            const std::vector<double> all = g.followed();
            return g.phase ? circular_mean(all, g.turn) : mean_of(all);
        };
        m.value = value(given);
        m.spread = given.phase ? circular_spread(followed, given.turn, *m.value) : spread_of(followed);
        double common = 0;
        for (const Stand by : {Stand{in_.camera.roll_sd_deg, 0}, Stand{0, in_.camera.yaw_sd_deg}}) {
            Stand moved = even_.nominal();
            moved.roll_deg += by.roll_deg;
            moved.yaw_deg += by.yaw_deg;
            const Given there = of(moved);
            if (there.followed().empty()) continue;
            double d = value(there) - *m.value;
            if (given.phase) d = std::remainder(d, given.turn);
            common += d * d;
        }
        // Both ends of a length were clicked, and what they miss is missed in every stride.
        if (given.length_px > 0)
            common += std::pow(*m.value * std::numbers::sqrt2 * in_.anchor_sd_px / given.length_px, 2);
        common += pulled(given, m.unit);
        for (const double v : given.by_stride)
            m.by_stride.push_back(std::isnan(v) ? std::nullopt : std::optional(v));
        // Neighbours are alike: so many strides are worth fewer, and fewer reach further.
        const double m_strides = worth(m.strides, neighbours_correlation(off_mean(m, given)));
        const double reach = t_quantile_95(std::max(1.0, m_strides - 1)) / kNinetyPercent;
        m.sd = std::sqrt(reach * reach * *m.spread * *m.spread / m_strides + common);
        m.stride_sd = std::sqrt(given.noise * given.noise + common);
        judge(m);
        report_.measures.push_back(std::move(m));
    }
    /// Stride by stride, phases the shorter way from their mean.
    static std::vector<std::optional<double>> off_mean(const MotionMeasure& m, const Given& given) {
        std::vector<std::optional<double>> out = m.by_stride;
        for (auto& v : out) {
            if (v && given.phase) v = std::remainder(*v - *m.value, given.turn);
        }
        return out;
    }
    /// The square of what following does to a measure when it pulls two joints by their error: a turn, a
    /// share of a length, or a shift of the highest point of a swing.
    double pulled(const Given& given, const std::string& unit) const {
        if (in_.follow_sd_px <= 0 || !(given.length_px > 0)) return 0;
        const double share = std::numbers::sqrt2 * in_.follow_sd_px / given.length_px;
        if (unit == "deg") return std::pow(degrees(share), 2);
        if (unit == "stride") return std::pow(share / (2 * std::numbers::pi), 2);
        return std::pow(100 * share, 2);
    }
    static double circular_mean(const std::vector<double>& all, double turn) {
        double c = 0, s = 0;
        for (const double v : all) {
            c += std::cos(2 * std::numbers::pi * v / turn);
            s += std::sin(2 * std::numbers::pi * v / turn);
        }
        return std::atan2(s, c) * turn / (2 * std::numbers::pi);
    }
    static double circular_spread(const std::vector<double>& all, double turn, double mean) {
        double ss = 0;
        for (const double v : all) ss += std::pow(std::remainder(v - mean, turn), 2);
        return all.size() < 2 ? 0 : std::sqrt(ss / static_cast<double>(all.size() - 1));
    }
    void judge(MotionMeasure& m) {
        if (in_.setting.school.empty()) {
            m.verdict = Verdict::no_band;
            m.reason = "no school was said";
            return;
        }
        const BandHere here = schools_.here(m.id, in_.setting);
        if (!here.suspended.empty()) {
            m.verdict = Verdict::not_judged;
            m.reason = here.suspended;
            return;
        }
        if (const auto* band = std::get_if<Band>(&here.band)) {
            m.band = *band;
            m.verdict = verdict_of(*m.value, m.sd, *band);
            m.reason = band->note;
            return;
        }
        m.verdict = Verdict::no_band;
        m.reason = std::get<std::string>(here.band);
    }
    std::string missing(std::initializer_list<Landmark> needs) const {
        return detail::missing(in_, even_, std::vector(needs));
    }

    /// A direction's swing in degrees.
    void swing_of(const std::string& id, const char* measure, double length_px) {
        const detail::Formula& formula = formula_of(measure);
        std::string why;
        for (const Landmark l : formula.info.needs) {
            if (why.empty()) why = missing({l});
        }
        add(id, std::string(formula.info.unit), [this, why, length_px, &formula](const Stand& s) -> Given {
            if (!why.empty()) return {{}, why};
            Swings swings = swing_by_stride(even_.measured(formula, s));
            return {std::move(swings.by_stride), {}, false, 1, swings.noise, length_px};
        });
    }
    /// A bounce along the upright, in per cent of a length.
    void bounce_of(const std::string& id, std::string why, double whole_px,
                   const std::function<Series(const Stand&)>& series) {
        if (why.empty() && std::isnan(whole_px)) why = "trunk or leg not followed";
        add(id, "%", [this, why, whole_px, series](const Stand& s) -> Given {
            if (!why.empty()) return {{}, why};
            Swings swings = swing_by_stride(series(s));
            for (double& v : swings.by_stride) v *= 100 / whole_px;
            return {std::move(swings.by_stride), {}, false, 1, swings.noise * 100 / whole_px, whole_px};
        });
    }
    void swings() {
        swing_of("leg_swing", "lower_leg", leg_px_ / 2);
        swing_of("trunk_swing", "trunk_lean", trunk_px_);
        swing_of("chin_nod", "head_pitch", kFaceOfTrunk * trunk_px_);
        swing_of("horse_nod", "poll_height", 0);
        const auto in_horse = [this](Landmark l) {
            return [this, l](const Stand& s) { return even_.in_horse(l, s).u; };
        };
        bounce_of("heel_bob", missing({L::heel, L::withers, L::shoulder, L::hip}), trunk_px_,
                  in_horse(L::heel));
        bounce_of("hand_bounce", missing({L::knuckle, L::withers, L::shoulder, L::hip}), trunk_px_,
                  in_horse(L::knuckle));
        bounce_of("head_bob", missing({L::ear, L::shoulder, L::hip}), trunk_px_, [this](const Stand& s) {
            Series a = even_.plane(L::ear, s).u;
            const Series b = even_.plane(L::shoulder, s).u;
            for (std::size_t i = 0; i < a.size(); ++i) a[i] -= b[i];
            return a;
        });
        std::string why = missing({L::hip, L::withers, L::knee, L::ankle});
        if (why.empty() && report_.uneven) why = kUnevenTrot;
        bounce_of("seat_rise", why, leg_px_, in_horse(L::hip));
    }

    /// When the seat is highest against the horse's own highest point.
    void rise() {
        std::string why = missing({L::hip, L::withers});
        if (why.empty() && in_.setting.gait != Gait::trot) why = "only in trot";
        if (why.empty() && in_.seat_said && in_.setting.seat != Seat::rising) why = "only in rising trot";
        if (why.empty() && report_.uneven) why = kUnevenTrot;
        const bool known = report_.parity == "diagonal";
        add("rise_phase", "stride", [this, why, known](const Stand& s) -> Given {
            Given out{{}, why, true, known ? 1.0 : 0.5};
            if (!why.empty()) return out;
            const Series hip = even_.in_horse(L::hip, s).u, withers = even_.plane(L::withers, s).u;
            double amplitude = 0;
            for (const StrideSpan& span : report_.strides) {
                const auto a = part(hip, span), b = part(withers, span);
                const auto h = a ? fit_harmonics(a->places, a->values, 3) : std::nullopt;
                const auto w = b ? fit_harmonics(b->places, b->values, 3) : std::nullopt;
                // With a known diagonal strides start at the beat the rider sits on, and the highest point
                // that belongs to it is the one it throws up: about a quarter of a stride later.
                const double crest = w ? 0.25 + std::remainder(w->highest(2) - 0.25, 0.5) : kNaN;
                out.by_stride.push_back(h && w ? std::remainder(h->highest(1) - crest, out.turn) : kNaN);
                if (h)
                    amplitude +=
                        std::hypot(h->cosine[0], h->sine[0]) / static_cast<double>(report_.strides.size());
            }
            out.length_px = amplitude;
            return out;
        });
        MotionMeasure& m = report_.measures.back();
        if (!known && m.value && 0.25 - std::abs(*m.value) < 2 * m.sd) {
            m.value.reset();
            m.spread.reset();
            m.by_stride.clear();
            m.verdict = Verdict::not_judged;
            m.reason = "early or late cannot be told";
        }
    }

    /// How fast the horse goes over the ground, where a scale was said: the withers' way from stride to
    /// stride, against the background. Its error is the spread and the scale's own.
    void speed() {
        std::string why = missing({L::withers});
        if (why.empty() && tracks_.camera.empty()) why = "the camera's motion is not known";
        add("speed", "m/s", [this, why](const Stand& s) -> Given {
            Given out{{}, why};
            if (!why.empty()) return out;
            const Series forward = even_.plane(L::withers, s).f;
            for (const StrideSpan& span : report_.strides) {
                const auto p = part(forward, span);
                const bool whole = p && p->values.size() > 2;
                const double along = whole ? p->values.back() - p->values.front() : kNaN,
                             share = whole ? p->places.back() - p->places.front() : kNaN;
                out.by_stride.push_back(along / in_.px_per_m / (share * (span.end_s - span.start_s)));
            }
            return out;
        });
        MotionMeasure& m = report_.measures.back();
        if (!m.value) return;
        const double by_scale = *m.value * in_.px_per_m_sd / in_.px_per_m;
        m.sd = std::hypot(m.sd, by_scale);
        m.stride_sd = std::hypot(m.stride_sd, by_scale);
    }

    /// One stride's loop of the hip over the horse.
    struct HipLoop {
        Loop loop;
        double phase = 0, still = 0;
        int sense = 0;
    };

    std::vector<std::optional<HipLoop>> hip_loops(const Stand& s) const {
        std::vector<std::optional<HipLoop>> out;
        const EvenTracks::Plane hip = even_.in_horse(L::hip, s);
        const Series withers = even_.plane(L::withers, s).u;
        for (const StrideSpan& span : report_.strides) {
            const auto f = part(hip.f, span), u = part(hip.u, span), w = part(withers, span);
            out.emplace_back();
            if (!f || !u || !w) continue;
            const auto fitted = fit_loop(f->values, u->values);
            const auto across = fit_harmonics(f->places, f->values, 3),
                       up = fit_harmonics(w->places, w->values, 3);
            if (!fitted || !across || !up) continue;
            HipLoop one{*fitted};
            one.phase = std::remainder(extreme(*across, -1) - extreme(*up, 1), 1.0);
            one.sense = area(f->values, u->values) > 0 ? 1 : -1;
            one.still = still_share(f->values, u->values);
            out.back() = one;
        }
        return out;
    }

    /// Which way the loop is ridden, said once for all strides.
    MotionMeasure loop_sense(const std::vector<HipLoop>& all, const std::string& why) const {
        int sense = 0;
        for (const HipLoop& one : all) sense += one.sense;
        MotionMeasure m;
        m.id = "hip_loop_sense";
        m.unit = "";
        m.reason = !why.empty() ? why : all.size() < kFewestStrides ? "fewer than three whole strides" : "";
        if (m.reason.empty()) {
            // Seen with the horse travelling to the right: forward is right, up is up.
            m.strides = static_cast<int>(all.size());
            m.value = sense < 0 ? 1 : -1;
            m.words["sense"] = sense < 0 ? "clockwise" : "anticlockwise";
            m.verdict = Verdict::no_band;
        }
        return m;
    }

    void loop() {
        std::string why = missing({L::hip, L::withers, L::shoulder});
        if (why.empty() && !canter()) why = "only in canter";
        const auto loops = [this, why](const Stand& s) {
            return why.empty() ? hip_loops(s) : std::vector<std::optional<HipLoop>>{};
        };
        const auto add_of = [&](const char* id, const char* unit,
                                double (*value)(const HipLoop&, double trunk), bool phase) {
            add(id, unit, [this, loops, why, value, phase](const Stand& s) -> Given {
                Given out{{}, why, phase};
                double half_widths = 0;
                int loops_found = 0;
                for (const auto& one : loops(s)) {
                    out.by_stride.push_back(one ? value(*one, trunk_px_) : kNaN);
                    if (!one) continue;
                    half_widths += one->loop.width / 2;
                    ++loops_found;
                }
                // Where the rearmost point lies is the less sure the smaller the loop.
                out.length_px = !phase ? trunk_px_ : loops_found > 0 ? half_widths / loops_found : 0;
                return out;
            });
        };
        add_of(
            "hip_loop_width", "%", [](const HipLoop& o, double t) { return 100 * o.loop.width / t; }, false);
        add_of(
            "hip_loop_height", "%", [](const HipLoop& o, double t) { return 100 * o.loop.height / t; },
            false);
        std::vector<HipLoop> all;
        for (const auto& one : loops(even_.nominal())) {
            if (one) all.push_back(*one);
        }
        const auto round = [](const HipLoop& o) { return o.loop.longer < kClearlyLonger; };
        const bool told = !all.empty() && std::ranges::count_if(all, round) * 2 < std::ssize(all);
        add("hip_loop_tilt", "deg", [&, told](const Stand& s) -> Given {
            Given out{{}, why.empty() && !told ? "too round for a long axis" : why, true, 180};
            for (const auto& one : loops(s))
                out.by_stride.push_back(one && !round(*one) ? one->loop.tilt_deg : kNaN);
            return out;
        });
        add_of(
            "hip_loop_phase", "stride", [](const HipLoop& o, double) { return o.phase; }, true);
        add_of(
            "hip_still_pct", "%", [](const HipLoop& o, double) { return o.still; }, false);
        report_.measures.push_back(loop_sense(all, why));
    }
    static double extreme(const Harmonics& h, int sign) {
        double best = 0, at = -std::numeric_limits<double>::infinity();
        for (int i = 0; i < 720; ++i) {
            const double v = sign * h.at(i / 720.0);
            if (v > at) {
                at = v;
                best = i / 720.0;
            }
        }
        return best;
    }
    static double area(const std::vector<double>& f, const std::vector<double>& u) {
        double out = 0;
        for (std::size_t i = 0; i < f.size(); ++i) {
            const std::size_t j = (i + 1) % f.size();
            out += f[i] * u[j] - f[j] * u[i];
        }
        return out;
    }
    static double still_share(const std::vector<double>& f, const std::vector<double>& u) {
        std::vector<double> speed;
        for (std::size_t i = 1; i < f.size(); ++i)
            speed.push_back(std::hypot(f[i] - f[i - 1], u[i] - u[i - 1]));
        const double slow = kStillShare * mean_of(speed);
        const auto n = std::ranges::count_if(speed, [&](double v) { return v < slow; });
        return 100 * static_cast<double>(n) / static_cast<double>(speed.size());
    }

    const Tracks& tracks_;
    const MotionSetting& in_;
    const Schools& schools_;
    EvenTracks even_;
    double trunk_px_ = kNaN, leg_px_ = kNaN;
    bool moved_ = false;  ///< the camera, to see what its error does
    NoiseIn noise_;       ///< of the measure at hand
    MotionReport report_;
};

}  // namespace

const MotionMeasure* find(const MotionReport& report, std::string_view id) {
    const auto at = std::ranges::find(report.measures, id, &MotionMeasure::id);
    return at == report.measures.end() ? nullptr : &*at;
}

MotionReport motion_of(const Tracks& tracks, const MotionSetting& setting, const Body& body,
                       const Schools& schools) {
    return Moving(tracks, setting, body, schools).take();
}

}  // namespace aspen::core
