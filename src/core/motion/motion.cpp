#include "core/motion/motion.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <numeric>

#include "core/following/following.hpp"
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
constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

using detail::formula_of, detail::mean_of, detail::part_of, detail::spread_of;

/// One measure as the strides give it, with how it hangs on the camera.
struct Given {
    std::vector<double> by_stride;
    std::string reason{};
    bool phase = false;  ///< a share of the stride, 0.5 apart is the same again
    double turn = 1;     ///< ± half of this is as far as a share can go
};

class Moving {
  public:
    Moving(const Tracks& tracks, const MotionSetting& setting, const Body& body, const Schools& schools)
        : tracks_(tracks), in_(setting), schools_(schools), even_(tracks, setting, body) {
        find_strides();
        tempo();
        trunk_px_ = even_.trunk_px();
        leg_px_ = even_.leg_px();
        swings();
        rise();
        loop();
        const detail::MotionParts parts{in_, even_, schools_, report_, !tracks_.camera.empty(), leg_px_};
        for (auto more : {detail::change_measures(parts), detail::fence_measures(parts)})
            report_.measures.insert(report_.measures.end(), more.begin(), more.end());
        report_.measures.push_back(detail::strides_held(parts));
    }
    MotionReport take() { return std::move(report_); }

  private:
    bool canter() const { return in_.setting.gait == Gait::canter; }
    bool rising() const {
        return in_.seat_said && in_.setting.seat == Seat::rising && in_.setting.gait == Gait::trot;
    }
    bool side() const { return in_.view == View::side; }

    void find_strides() {
        Series bounce(even_.size(), kNaN);
        const Stand stand = even_.nominal();
        bool rider = false;
        if (!side()) {
            // From front and rear the picture's own upright is all there is: the horse's middle, else the
            // rider's.
            bounce = even_.plane(even_.has(L::horse_mid) ? L::horse_mid : L::chin, stand).u;
            rider = !even_.has(L::horse_mid);
        } else if (even_.has(L::withers)) {
            bounce = even_.plane(L::withers, stand).u;
        } else if (even_.has(L::shoulder) && even_.has(L::hip)) {
            const Series a = even_.plane(L::shoulder, stand).u, b = even_.plane(L::hip, stand).u;
            for (std::size_t i = 0; i < bounce.size(); ++i) bounce[i] = (a[i] + b[i]) / 2;
            rider = true;
        }
        const auto period = even_.size() < 8 ? std::nullopt : period_of(bounce, even_.step_s());
        if (!period) return;
        const bool each = canter() || (rider && rising());
        const StrideEvery every = each ? StrideEvery::lowest : StrideEvery::second_lowest;
        std::optional<double> even;
        for (const Happening& e : in_.events) {
            if (e.event == "diagonal_left" || e.event == "diagonal_right") even = e.time_s * in_.time_scale;
            if (even) break;
        }
        const auto lowest = lowest_points(even_.grid(), bounce, *period, every);
        report_.strides = strides_of(lowest, every, even);
        report_.stride_source = rider ? "rider" : "withers";
        if (!each) report_.parity = even ? "diagonal" : "unknown";
    }

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
    std::vector<double> swing_by_stride(const Series& x) const {
        std::vector<double> out;
        Harmonics mean{0, std::vector<double>(3, 0), std::vector<double>(3, 0)};
        for (const StrideSpan& s : report_.strides) {
            const auto p = part(x, s);
            const auto h = p ? fit_harmonics(p->places, p->values, 3) : std::nullopt;
            if (!h) continue;
            out.push_back(h->peak_to_peak());
            for (std::size_t k = 0; k < 3; ++k) {
                mean.cosine[k] += h->cosine[k];
                mean.sine[k] += h->sine[k];
            }
        }
        if (out.empty()) return out;
        for (std::size_t k = 0; k < 3; ++k) {
            mean.cosine[k] /= static_cast<double>(out.size());
            mean.sine[k] /= static_cast<double>(out.size());
        }
        const double lift = std::min(noise_lift(mean, coefficient_noise(x)), mean_of(out));
        for (double& v : out) v -= lift;
        return out;
    }

    /// Adds a measure: `of` gives its strides for a camera that stands so; its common error comes from moving
    /// that.
    void add(const std::string& id, const std::string& unit, const std::function<Given(const Stand&)>& of) {
        MotionMeasure m;
        m.id = id;
        m.unit = unit;
        const Given given = of(even_.nominal());
        m.strides = static_cast<int>(given.by_stride.size());
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
        const auto value = [&](const Given& g) { return g.phase ? circular_mean(g) : mean_of(g.by_stride); };
        m.value = value(given);
        m.spread = given.phase ? circular_spread(given, *m.value) : spread_of(given.by_stride);
        double common = 0;
        for (const Stand by : {Stand{in_.camera.roll_sd_deg, 0}, Stand{0, in_.camera.yaw_sd_deg}}) {
            Stand moved = even_.nominal();
            moved.roll_deg += by.roll_deg;
            moved.yaw_deg += by.yaw_deg;
            const Given there = of(moved);
            if (there.by_stride.empty()) continue;
            double d = value(there) - *m.value;
            if (given.phase) d = std::remainder(d, given.turn);
            common += d * d;
        }
        m.sd = std::sqrt(*m.spread * *m.spread / m.strides + common);
        judge(m, std::sqrt(common));
        report_.measures.push_back(std::move(m));
    }
    static double circular_mean(const Given& g) {
        double c = 0, s = 0;
        for (const double v : g.by_stride) {
            c += std::cos(2 * std::numbers::pi * v / g.turn);
            s += std::sin(2 * std::numbers::pi * v / g.turn);
        }
        return std::atan2(s, c) * g.turn / (2 * std::numbers::pi);
    }
    static double circular_spread(const Given& g, double mean) {
        double ss = 0;
        for (const double v : g.by_stride) ss += std::pow(std::remainder(v - mean, g.turn), 2);
        return g.by_stride.size() < 2 ? 0 : std::sqrt(ss / static_cast<double>(g.by_stride.size() - 1));
    }
    void judge(MotionMeasure& m, double common) {
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
            // Few strides reach further: Student's quantile in place of the normal one.
            const double t =
                m.strides > 1 && m.strides < 30 ? t_quantile_95(m.strides - 1) / kNinetyPercent : 1;
            const double random = *m.spread * t / std::sqrt(m.strides);
            m.band = *band;
            m.verdict = verdict_of(*m.value, std::hypot(random, common), *band);
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
    void swing_of(const std::string& id, const char* measure) {
        const detail::Formula& formula = formula_of(measure);
        std::string why;
        for (const Landmark l : formula.info.needs) {
            if (why.empty()) why = missing({l});
        }
        add(id, std::string(formula.info.unit), [this, why, &formula](const Stand& s) -> Given {
            if (!why.empty()) return {{}, why};
            return {swing_by_stride(even_.measured(formula, s))};
        });
    }
    /// A bounce along the upright, in per cent of a length.
    void bounce_of(const std::string& id, std::string why, double whole_px,
                   const std::function<Series(const Stand&)>& series) {
        if (why.empty() && std::isnan(whole_px)) why = "trunk or leg not followed";
        add(id, "%", [this, why, whole_px, series](const Stand& s) -> Given {
            if (!why.empty()) return {{}, why};
            auto by_stride = swing_by_stride(series(s));
            for (double& v : by_stride) v *= 100 / whole_px;
            return {by_stride};
        });
    }
    void swings() {
        swing_of("leg_swing", "lower_leg");
        swing_of("trunk_swing", "trunk_lean");
        swing_of("chin_nod", "head_pitch");
        swing_of("horse_nod", "poll_height");
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
        bounce_of("seat_rise", missing({L::hip, L::withers, L::knee, L::ankle}), leg_px_, in_horse(L::hip));
    }

    /// When the seat is highest against the horse's own highest point.
    void rise() {
        std::string why = missing({L::hip, L::withers});
        if (why.empty() && in_.setting.gait != Gait::trot) why = "only in trot";
        if (why.empty() && in_.seat_said && in_.setting.seat != Seat::rising) why = "only in rising trot";
        add("rise_phase", "stride", [this, why](const Stand& s) -> Given {
            Given out{{}, why, true, 0.5};
            if (!why.empty()) return out;
            const Series hip = even_.in_horse(L::hip, s).u, withers = even_.plane(L::withers, s).u;
            for (const StrideSpan& span : report_.strides) {
                const auto a = part(hip, span), b = part(withers, span);
                const auto h = a ? fit_harmonics(a->places, a->values, 3) : std::nullopt;
                const auto w = b ? fit_harmonics(b->places, b->values, 3) : std::nullopt;
                if (h && w) out.by_stride.push_back(std::remainder(h->highest(1) - w->highest(2), 0.5));
            }
            return out;
        });
        MotionMeasure& m = report_.measures.back();
        if (m.value && 0.25 - std::abs(*m.value) < 2 * m.sd) {
            m.value.reset();
            m.spread.reset();
            m.verdict = Verdict::not_judged;
            m.reason = "early or late cannot be told";
        }
    }

    void loop() {
        std::string why = missing({L::hip, L::withers, L::shoulder});
        if (why.empty() && !canter()) why = "only in canter";
        struct One {
            Loop loop;
            double phase = 0, still = 0;
            int sense = 0;
        };
        const auto loops = [this, why](const Stand& s) {
            std::vector<One> out;
            if (!why.empty()) return out;
            const EvenTracks::Plane hip = even_.in_horse(L::hip, s);
            const Series withers = even_.plane(L::withers, s).u;
            for (const StrideSpan& span : report_.strides) {
                const auto f = part(hip.f, span), u = part(hip.u, span), w = part(withers, span);
                if (!f || !u || !w) continue;
                const auto fitted = fit_loop(f->values, u->values);
                const auto across = fit_harmonics(f->places, f->values, 3),
                           up = fit_harmonics(w->places, w->values, 3);
                if (!fitted || !across || !up) continue;
                One one{*fitted};
                one.phase = std::remainder(extreme(*across, -1) - extreme(*up, 1), 1.0);
                one.sense = area(f->values, u->values) > 0 ? 1 : -1;
                one.still = still_share(f->values, u->values);
                out.push_back(one);
            }
            return out;
        };
        const auto add_of = [&](const char* id, const char* unit, double (*value)(const One&, double trunk),
                                bool phase) {
            add(id, unit, [this, loops, why, value, phase](const Stand& s) -> Given {
                Given out{{}, why, phase};
                for (const One& one : loops(s)) out.by_stride.push_back(value(one, trunk_px_));
                return out;
            });
        };
        add_of(
            "hip_loop_width", "%", [](const One& o, double t) { return 100 * o.loop.width / t; }, false);
        add_of(
            "hip_loop_height", "%", [](const One& o, double t) { return 100 * o.loop.height / t; }, false);
        const auto all = loops(even_.nominal());
        const auto round = [](const One& o) { return o.loop.longer < kClearlyLonger; };
        const bool told = !all.empty() && std::ranges::count_if(all, round) * 2 < std::ssize(all);
        add("hip_loop_tilt", "deg", [&, told](const Stand& s) -> Given {
            Given out{{}, why.empty() && !told ? "too round for a long axis" : why, true, 180};
            for (const One& one : loops(s)) {
                if (!round(one)) out.by_stride.push_back(one.loop.tilt_deg);
            }
            return out;
        });
        add_of(
            "hip_loop_phase", "stride", [](const One& o, double) { return o.phase; }, true);
        add_of(
            "hip_still_pct", "%", [](const One& o, double) { return o.still; }, false);
        int sense = 0;
        for (const One& one : all) sense += one.sense;
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
        report_.measures.push_back(std::move(m));
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
    MotionReport report_;
};

}  // namespace

MotionReport motion_of(const Tracks& tracks, const MotionSetting& setting, const Body& body,
                       const Schools& schools) {
    return Moving(tracks, setting, body, schools).take();
}

}  // namespace aspen::core
