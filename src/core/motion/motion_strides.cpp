#include <algorithm>
#include <array>
#include <cmath>

#include "core/motion/motion_parts.hpp"
#include "core/motion/series.hpp"

/// Where the strides of a stretch come from: its hooves, its withers, else the rider.
namespace aspen::core::detail {
namespace {

using L = Landmark;
using Series = EvenTracks::Series;

constexpr double kAroundJumpS = 0.12;        // the canter is drawn in before and picked up after
constexpr double kLowestAfterLanding = 0.2;  // of the stride, in trot; from memory
constexpr double kUnevenShare = 1.0 / 3, kSurelyThere = 2.5;  // standard errors
constexpr double kFewestTrotBeats =
    125;  // a minute: a canter throws the withers up about 100 times, a trot 150

std::vector<Happening> in_real_time(const MotionSetting& in) {
    std::vector<Happening> out = in.events;
    for (Happening& e : out) e.time_s *= in.time_scale;
    return out;
}

std::vector<HoofPoint> without_camera(const Tracks& tracks, double time_scale) {
    std::vector<HoofPoint> out;
    for (const HoofSeen& h : tracks.hooves) {
        Point at = h.at;
        if (const auto c = tracks.camera.find(h.frame); c != tracks.camera.end())
            at = {(at.x - c->second.x) / c->second.scale, (at.y - c->second.y) / c->second.scale};
        out.push_back({h.time_s * time_scale, h.hoof, at});
    }
    return out;
}

struct BounceCurve {
    Series u;
    bool rider = false;
};
BounceCurve bounce_of(const MotionSetting& in, const EvenTracks& even) {
    const auto stand = even.nominal();
    BounceCurve out{Series(even.size(), kNaN)};
    if (in.view != View::side) {
        // From front and rear the picture's own upright is all there is: the horse's middle, else the
        // rider's.
        out.rider = !even.has(L::horse_mid);
        out.u = even.plane(out.rider ? L::chin : L::horse_mid, stand).u;
    } else if (even.has(L::withers)) {
        out.u = even.plane(L::withers, stand).u;
    } else if (even.has(L::shoulder) && even.has(L::hip)) {
        const Series a = even.plane(L::shoulder, stand).u, b = even.plane(L::hip, stand).u;
        for (std::size_t i = 0; i < a.size(); ++i) out.u[i] = (a[i] + b[i]) / 2;
        out.rider = true;
    }
    return out;
}

void leave_out_flights(const EvenTracks& even, const MotionReport& r, Series& u) {
    for (const FlightSeen& f : r.flights) {
        for (std::size_t i = 0; i < u.size(); ++i) {
            const double t = even.grid()[i];
            if (t > f.take_off_s - kAroundJumpS && t < f.landing_s + kAroundJumpS) u[i] = kNaN;
        }
    }
}

/// The instant at which an even lowest point lies, and what told it.
struct Even {
    std::optional<double> at_s{};
    std::string by = "unknown";
};
Even even_by(const std::vector<Happening>& events, const std::vector<Footfall>& falls, double stride_s) {
    for (const Happening& e : events) {
        if (e.event == "diagonal_left" || e.event == "diagonal_right") return {e.time_s, "diagonal"};
    }
    // The left hind's, else the right hind's half a stride on, so that two clips of a horse begin alike.
    for (const auto& [hoof, on] : {std::pair{Hoof::left_hind, 0.0}, std::pair{Hoof::right_fore, 0.0},
                                   std::pair{Hoof::right_hind, 0.5}, std::pair{Hoof::left_fore, 0.5}}) {
        const auto at = std::ranges::find(falls, hoof, &Footfall::hoof);
        if (at != falls.end()) return {at->landing_s + (kLowestAfterLanding + on) * stride_s, "hoof"};
    }
    return {};
}

/// The once-per-stride part of a bounce as a share of the twice-per-stride one, where it is a third or more
/// and more than chance between the strides (common practice: a horse that is lame puts one diagonal down
/// less; the third from memory).
std::optional<double> unevenness(const EvenTracks& even, const Series& u,
                                 const std::vector<StrideSpan>& strides) {
    std::vector<std::array<double, 4>> all;  // cosine and sine of once, of twice
    for (const StrideSpan& s : strides) {
        const auto part = part_of(even, u, s);
        const auto h = part ? fit_harmonics(part->places, part->values, 3, true) : std::nullopt;
        if (h) all.push_back({h->cosine[0], h->sine[0], h->cosine[1], h->sine[1]});
    }
    if (all.size() < kFewestStrides) return std::nullopt;
    const auto n = static_cast<double>(all.size());
    std::array<double, 4> mean{};
    for (const auto& one : all) {
        for (std::size_t k = 0; k < 4; ++k) mean[k] += one[k] / n;
    }
    double spread = 0;
    for (const auto& one : all)
        spread += (std::pow(one[0] - mean[0], 2) + std::pow(one[1] - mean[1], 2)) / (2 * (n - 1));
    const double once = std::hypot(mean[0], mean[1]), twice = std::hypot(mean[2], mean[3]);
    if (!(twice > 0) || once < kUnevenShare * twice || once < kSurelyThere * std::sqrt(spread / n))
        return std::nullopt;
    return once / twice;
}

}  // namespace

void find_strides(const Tracks& tracks, const MotionSetting& in, const EvenTracks& even, MotionReport& r) {
    const std::vector<Happening> events = in_real_time(in);
    bool canter = in.setting.gait == Gait::canter;
    const auto followed =
        footfalls_of(without_camera(tracks, in.time_scale), !tracks.camera.empty(), in.camera.roll_deg);
    const auto falls = followed.empty() ? footfalls_of(events) : followed;
    r.hooves = gait_by_hooves(falls);
    if (r.hooves && !followed.empty()) {
        r.strides = as_said(between_landings(r.hooves->starts_s), events);
        r.stride_source = "hooves";
        if (!canter) r.parity = "hoof";
        return;
    }
    BounceCurve bounce = bounce_of(in, even);
    leave_out_flights(even, r, bounce.u);
    auto period = even.size() < 8 ? std::nullopt : period_of(bounce.u, even.step_s());
    if (!period) return;
    // Every second beat of an uneven trot is alike, every beat of an even one.
    if (in.setting.gait == Gait::trot) {
        const double usual = typical_tempo_per_min(Gait::trot);
        const bool slow = std::abs(std::log(30 / *period / usual)) > std::abs(std::log(60 / *period / usual));
        if (const auto half = slow ? half_period_of(bounce.u, even.step_s(), *period) : std::nullopt)
            period = half;
    }
    // The way to a fence is cantered or trotted: a trot throws the horse up more often.
    canter |= in.setting.gait == Gait::jump && 60 / *period < kFewestTrotBeats;
    const bool rising = in.seat_said && in.setting.seat == Seat::rising && in.setting.gait == Gait::trot;
    const bool each = canter || (bounce.rider && rising);
    const StrideEvery every = each ? StrideEvery::lowest : StrideEvery::second_lowest;
    const Even first = even_by(events, falls, 2 * *period);
    r.strides =
        as_said(strides_of(lowest_points(even.grid(), bounce.u, *period, every), every, first.at_s), events);
    r.stride_source = bounce.rider ? "rider" : "withers";
    if (!each) r.parity = first.by;
    if (in.setting.gait == Gait::trot && !bounce.rider) r.uneven = unevenness(even, bounce.u, r.strides);
}

std::vector<MotionMeasure> hoof_measures(const MotionReport& r) {
    if (!r.hooves) return {};
    std::vector<MotionMeasure> out;
    const auto add = [&](const char* id, std::optional<double> value, double sd) {
        MotionMeasure m;
        m.id = id;
        m.unit = "%";
        m.strides = r.hooves->strides;
        m.value = value;
        m.verdict = value ? Verdict::no_band : Verdict::not_judged;
        m.reason = value ? "no band" : "the hooves that it needs were not seen";
        if (value) m.spread = sd;
        m.sd = value ? sd / std::sqrt(static_cast<double>(r.hooves->strides)) : 0;
        out.push_back(std::move(m));
    };
    add("hind_duty", r.hooves->duty_pct, 0);
    add("limb_phase", r.hooves->limb_phase_pct, r.hooves->limb_phase_sd_pct);
    return out;
}

}  // namespace aspen::core::detail
