#include "core/motion/hooves.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

#include "core/motion/motion_parts.hpp"
#include "core/motion/series.hpp"

namespace aspen::core {
namespace {

constexpr std::string_view kIds[] = {"left_hind", "left_fore", "right_hind", "right_fore"};
constexpr std::string_view kHoofSpoken[] = {"left hind", "left fore", "right hind", "right fore"};

constexpr double kHoofCutoffHz = 12;   // a landing is quicker than anything the rider does
constexpr double kFloorWithinS = 0.8;  // the ground under a hoof may rise in the picture as it goes along
constexpr double kDown = 0.10, kStill = 0.15;  // of how high it goes, of how fast it swings
constexpr double kShortestStanceS = 0.06, kShortestSwingS = 0.06;
constexpr double kShortestHoofS = 0.35, kLongestHoofS = 2.5;  // of a stride
constexpr double kOneBeat = 0.08;       // landings closer than this share of the stride are one beat
constexpr double kHalf = 0.10;          // how far from half a stride left and right may come and still match
constexpr double kMissedLanding = 1.5;  // of the usual stride
constexpr int kFewestHoofStrides = 2;

struct HoofSpan {
    std::size_t from, to;  ///< samples [from, to)
};

double quantile(std::vector<double> v, double q) {
    std::erase_if(v, [](double x) { return std::isnan(x); });
    if (v.empty()) return 0;
    std::ranges::sort(v);
    return v[static_cast<std::size_t>(q * static_cast<double>(v.size() - 1))];
}

/// Height over the lowest that the hoof goes around that time.
std::vector<double> above_ground(const std::vector<double>& u, double step_s) {
    const auto reach = static_cast<std::ptrdiff_t>(kFloorWithinS / step_s);
    const auto n = static_cast<std::ptrdiff_t>(u.size());
    std::vector<double> out(u.size(), std::nan(""));
    for (std::ptrdiff_t i = 0; i < n; ++i) {
        double floor = std::nan("");
        for (auto j = std::max<std::ptrdiff_t>(0, i - reach); j < std::min(n, i + reach + 1); ++j)
            floor = std::fmin(floor, u[static_cast<std::size_t>(j)]);  // fmin passes over NaN
        out[static_cast<std::size_t>(i)] = u[static_cast<std::size_t>(i)] - floor;
    }
    return out;
}

/// Runs of true; gaps shorter than a swing are closed, runs shorter than a stance dropped.
std::vector<HoofSpan> runs_of(const std::vector<bool>& down, double step_s) {
    std::vector<HoofSpan> out;
    for (std::size_t i = 0; i < down.size(); ++i) {
        if (!down[i]) continue;
        std::size_t j = i;
        while (j < down.size() && down[j]) ++j;
        const bool joins = !out.empty() && static_cast<double>(i - out.back().to) * step_s < kShortestSwingS;
        if (joins)
            out.back().to = j;
        else
            out.push_back({i, j});
        i = j;
    }
    std::erase_if(out, [&](const HoofSpan& s) {
        return static_cast<double>(s.to - s.from) * step_s < kShortestStanceS;
    });
    return out;
}

void add_falls(Hoof hoof, const std::vector<Sample>& xs, const std::vector<Sample>& us, bool camera_known,
               std::vector<Footfall>& out) {
    std::vector<double> times;
    for (const Sample& s : us) times.push_back(s.time_s);
    const std::vector<double> grid = even_times(times);
    if (grid.size() < 8) return;
    const double step = grid[1] - grid[0];
    std::vector<double> x = on_grid(xs, grid), u = on_grid(us, grid);
    smooth(x, 1 / step, kHoofCutoffHz);
    smooth(u, 1 / step, kHoofCutoffHz);
    const std::vector<double> h = above_ground(u, step);
    const double high = quantile(h, 0.95);
    if (!(high > 0)) return;
    std::vector<double> speed(grid.size(), 0);
    for (std::size_t i = 1; i + 1 < grid.size(); ++i) speed[i] = std::abs(x[i + 1] - x[i - 1]) / (2 * step);
    const double fast = quantile(speed, 0.95);
    std::vector<bool> down(grid.size());
    for (std::size_t i = 0; i < grid.size(); ++i)
        down[i] = h[i] < kDown * high && (!camera_known || speed[i] < kStill * fast);
    for (const HoofSpan& s : runs_of(down, step)) {
        if (s.from == 0) continue;  // it stood there from the start: no landing was seen
        Footfall fall{hoof, grid[s.from] - step / 2, std::nullopt};
        if (s.to < grid.size()) fall.lift_s = grid[s.to] - step / 2;
        out.push_back(fall);
    }
}

/// Landings of one hoof, by time.
std::vector<double> landings_of(std::span<const Footfall> all, Hoof hoof) {
    std::vector<double> out;
    for (const Footfall& f : all) {
        if (f.hoof == hoof) out.push_back(f.landing_s);
    }
    std::ranges::sort(out);
    return out;
}

double plain_mean(const std::vector<double>& v) {
    return std::accumulate(v.begin(), v.end(), 0.0) / static_cast<double>(v.size());
}

/// Mean and standard deviation of shares of a turn of 1, the mean in 0 … 1.
std::pair<double, double> round_mean(const std::vector<double>& v) {
    double c = 0, s = 0;
    for (const double x : v) {
        c += std::cos(2 * std::numbers::pi * x);
        s += std::sin(2 * std::numbers::pi * x);
    }
    double mean = std::atan2(s, c) / (2 * std::numbers::pi);
    if (mean < 0) mean += 1;
    double ss = 0;
    for (const double x : v) ss += std::pow(std::remainder(x - mean, 1.0), 2);
    return {mean, v.size() < 2 ? 0 : std::sqrt(ss / static_cast<double>(v.size() - 1))};
}

bool half_apart(const std::optional<double>& a, const std::optional<double>& b) {
    return a && b && std::abs(std::abs(std::remainder(*a - *b, 1.0)) - 0.5) < kHalf;
}

void say_phase(std::span<const Footfall> falls, const std::vector<StrideSpan>& strides, GaitByHooves& out) {
    // From each hind landing to the next fore one of the same side, so that a stride that wanders counts as
    // itself.
    std::vector<double> phases;
    for (const auto& [hind, fore] :
         {std::pair{Hoof::left_hind, Hoof::left_fore}, std::pair{Hoof::right_hind, Hoof::right_fore}}) {
        const auto hinds = landings_of(falls, hind), fores = landings_of(falls, fore);
        for (const StrideSpan& one : detail::between_landings(hinds)) {
            const double whole = one.end_s - one.start_s;
            const auto near = std::ranges::min_element(
                fores, {}, [&](double t) { return std::abs(t - one.start_s - whole / 2); });
            if (near != fores.end() && std::abs(*near - one.start_s) < whole)
                phases.push_back((*near - one.start_s) / whole);
        }
    }
    if (static_cast<int>(phases.size()) < kFewestHoofStrides || strides.empty()) return;
    const auto [mean, sd] = round_mean(phases);
    out.limb_phase_pct = 100 * mean;
    out.limb_phase_sd_pct = 100 * sd;
    const bool hinds_even =
                   half_apart(out.landing[index(Hoof::left_hind)], out.landing[index(Hoof::right_hind)]),
               fores_even =
                   half_apart(out.landing[index(Hoof::left_fore)], out.landing[index(Hoof::right_fore)]);
    const bool hinds_known = out.landing[index(Hoof::left_hind)] && out.landing[index(Hoof::right_hind)],
               fores_known = out.landing[index(Hoof::left_fore)] && out.landing[index(Hoof::right_fore)];
    if ((!hinds_known || hinds_even) && (!fores_known || fores_even))
        out.name = symmetrical_gait(*out.limb_phase_pct);
}

void say_beats(GaitByHooves& out) {
    std::vector<double> at;
    for (const auto& share : out.landing) {
        if (!share) return;
        at.push_back(*share);
    }
    std::ranges::sort(at);
    int beats = 0;
    double gap = 0;
    std::size_t before_gap = 0;
    for (std::size_t i = 0; i < at.size(); ++i) {
        const double next = i + 1 < at.size() ? at[i + 1] : at.front() + 1;
        if (next - at[i] >= kOneBeat) ++beats;
        if (next - at[i] > gap) gap = next - at[i], before_gap = i;
    }
    out.beats = std::max(1, beats);
    // Three beats, or four that are not even: the last fore to land before the longest gap leads.
    if (!out.name.empty()) return;
    for (const Hoof fore : {Hoof::left_fore, Hoof::right_fore}) {
        if (*out.landing[index(fore)] == at[before_gap]) out.left_lead = fore == Hoof::left_fore;
    }
}

}  // namespace

std::string_view id(Hoof hoof) { return kIds[index(hoof)]; }
std::string_view spoken(Hoof hoof) { return kHoofSpoken[index(hoof)]; }
std::optional<Hoof> hoof_from(std::string_view word) {
    for (const Hoof h : kHooves) {
        if (id(h) == word) return h;
    }
    return std::nullopt;
}

std::vector<Footfall> footfalls_of(std::span<const HoofPoint> points, bool camera_known, double roll_deg) {
    std::array<std::vector<Sample>, 4> xs, us;
    const double roll = radians(roll_deg);
    for (const HoofPoint& p : points) {
        const Point at = unrolled(p.at, roll);
        xs[index(p.hoof)].push_back({p.time_s, at.x});
        us[index(p.hoof)].push_back({p.time_s, -at.y});
    }
    std::vector<Footfall> out;
    for (const Hoof h : kHooves) {
        for (auto* all : {&xs[index(h)], &us[index(h)]}) std::ranges::stable_sort(*all, {}, &Sample::time_s);
        add_falls(h, xs[index(h)], us[index(h)], camera_known, out);
    }
    std::ranges::stable_sort(out, {}, &Footfall::landing_s);
    return out;
}

std::vector<Footfall> footfalls_of(const std::vector<Happening>& events) {
    std::vector<Footfall> out;
    std::vector<Happening> by_time = events;
    std::ranges::stable_sort(by_time, {}, &Happening::time_s);
    for (const Happening& e : by_time) {
        const auto hoof = hoof_from(detail_of(e.detail, "hoof"));
        if (!hoof) continue;
        if (e.event == "hoof_on") out.push_back({*hoof, e.time_s, std::nullopt});
        if (e.event != "hoof_off") continue;
        const auto last =
            std::find_if(out.rbegin(), out.rend(), [&](const Footfall& f) { return f.hoof == *hoof; });
        if (last != out.rend() && !last->lift_s) last->lift_s = e.time_s;
    }
    return out;
}

std::vector<StrideSpan> detail::between_landings(const std::vector<double>& at) {
    std::vector<double> lengths;
    for (std::size_t i = 0; i + 1 < at.size(); ++i) lengths.push_back(at[i + 1] - at[i]);
    if (lengths.empty()) return {};
    std::vector<double> sorted = lengths;
    std::ranges::sort(sorted);
    const double usual = sorted[sorted.size() / 2];
    std::vector<StrideSpan> out;
    for (std::size_t i = 0; i < lengths.size(); ++i) {
        const bool one = lengths[i] < kMissedLanding * usual && lengths[i] > usual / kMissedLanding;
        if (one && lengths[i] >= kShortestHoofS && lengths[i] <= kLongestHoofS)
            out.push_back({at[i], at[i + 1]});
    }
    return out;
}

std::optional<GaitByHooves> gait_by_hooves(std::span<const Footfall> falls) {
    GaitByHooves out;
    std::vector<StrideSpan> strides;
    for (const Hoof h : {Hoof::left_hind, Hoof::right_hind, Hoof::left_fore, Hoof::right_fore}) {
        const auto at = landings_of(falls, h);
        const std::vector<StrideSpan> of = detail::between_landings(at);
        if (of.size() <= strides.size()) continue;
        strides = of;
        out.reference = h;
        out.starts_s = at;
    }
    if (static_cast<int>(strides.size()) < kFewestHoofStrides) return std::nullopt;
    out.strides = static_cast<int>(strides.size());
    std::vector<double> lengths;
    for (const StrideSpan& s : strides) lengths.push_back(s.end_s - s.start_s);
    out.stride_s = plain_mean(lengths);
    for (const Hoof h : kHooves) {
        std::vector<double> shares, duties;
        for (const Footfall& f : falls) {
            if (f.hoof != h) continue;
            for (const StrideSpan& s : strides) {
                // The reference's own landing that ends a stride starts the next one.
                if (f.landing_s >= s.start_s - 1e-9 && f.landing_s < s.end_s - 1e-9)
                    shares.push_back((f.landing_s - s.start_s) / (s.end_s - s.start_s));
            }
            if (f.lift_s) duties.push_back((*f.lift_s - f.landing_s) / out.stride_s);
        }
        if (static_cast<int>(shares.size()) >= kFewestHoofStrides)
            out.landing[index(h)] = round_mean(shares).first;
        if (static_cast<int>(duties.size()) >= kFewestHoofStrides) out.duty[index(h)] = plain_mean(duties);
    }
    std::vector<double> hind;
    for (const Hoof h : {Hoof::left_hind, Hoof::right_hind}) {
        if (out.duty[index(h)]) hind.push_back(100 * *out.duty[index(h)]);
    }
    if (!hind.empty()) out.duty_pct = plain_mean(hind);
    say_phase(falls, strides, out);
    say_beats(out);
    return out;
}

std::vector<std::string> in_words(const GaitByHooves& g) {
    std::vector<std::string> out;
    std::string line = fmt::format("By the hooves: {} strides, {:.0f} a minute", g.strides, 60 / g.stride_s);
    if (g.beats) line += fmt::format(", {} beat{}", *g.beats, *g.beats == 1 ? "" : "s");
    if (!g.name.empty()) line += ", " + g.name;
    if (g.left_lead) line += *g.left_lead ? ", left lead" : ", right lead";
    out.push_back(std::move(line));
    if (g.limb_phase_pct)
        out.push_back(
            fmt::format("The fore foot lands {:.0f} % ± {:.0f} of the stride after the hind one of its side",
                        *g.limb_phase_pct, g.limb_phase_sd_pct));
    if (g.duty_pct)
        out.push_back(fmt::format("A hind foot is on the ground for {:.0f} % of the stride{}", *g.duty_pct,
                                  *g.duty_pct > 50 ? ": a walk, never both off the ground" : ""));
    return out;
}

std::optional<Hoof> sits_on(std::span<const Footfall> falls, std::span<const double> sits_s) {
    int left = 0, right = 0;
    for (const double sit : sits_s) {
        const Footfall* near = nullptr;
        for (const Footfall& f : falls) {
            if (is_fore(f.hoof) && (!near || std::abs(f.landing_s - sit) < std::abs(near->landing_s - sit)))
                near = &f;
        }
        if (near) ++(is_left(near->hoof) ? left : right);
    }
    if (left == right) return std::nullopt;
    return left > right ? Hoof::left_fore : Hoof::right_fore;
}

std::string_view symmetrical_gait(double phase_pct) {
    static constexpr std::string_view kNames[] = {"pace",
                                                  "lateral sequence, lateral couplets",
                                                  "lateral sequence, single foot",
                                                  "lateral sequence, diagonal couplets",
                                                  "trot",
                                                  "diagonal sequence, diagonal couplets",
                                                  "diagonal sequence, single foot",
                                                  "diagonal sequence, lateral couplets"};
    const double turn = phase_pct / 12.5;
    const auto n = static_cast<int>(std::floor(turn + 0.5));
    return kNames[static_cast<std::size_t>(((n % 8) + 8) % 8)];
}

}  // namespace aspen::core
