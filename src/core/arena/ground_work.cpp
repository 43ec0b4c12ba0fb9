#include "core/arena/ground_work.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/reading/refused.hpp"

namespace aspen::core {
namespace {

constexpr double kOpenBy = 0.05;       // m a visit: a horse notices more than that
constexpr double kPlacingPoleM = 2.7;  // 9 ft, for trotting in (from memory)
constexpr double kGravity = 9.80665;

struct PoleRange {
    double start, least, most;  // m
};

/// Where to start, and how far a horse's own measure is believed. Trot by common practice, no source; walk
/// and canter from memory.
PoleRange range_of(PoleGait gait) {
    switch (gait) {
        case PoleGait::walk:
            return {0.80, 0.70, 1.05};
        case PoleGait::trot:
            return {kFirstTrotPoleM, 0.90, 1.50};
        default:
            return {3.0, 2.4, 3.8};
    }
}

template <typename T>
void within(const char* what, T value, T least, T most, const char* unit) {
    if (!(value >= least) || !(value <= most))
        throw Refused(fmt::format("{} {}: must be {} to {}{}", what, value, least, most, unit));
}

void lay_on_circle(PoleRow& row, double radius, double pole) {
    within("circle radius", radius, 4.0, 20.0, " m");
    if (radius <= pole / 2 + 1)
        throw Refused(fmt::format("circle radius {} m: too small for poles of {} m", radius, pole));
    // The horse's step is the arc along the middle; a tape between two poles is its chord.
    const double angle = row.working_m / radius;
    const auto chord = [&](double r) { return 2 * r * std::sin(angle / 2); };
    row.inner_m = chord(radius - pole / 2);
    row.middle_m = chord(radius);
    row.outer_m = chord(radius + pole / 2);
    row.angle_deg = angle * 180 / std::numbers::pi;
    row.assumptions.emplace_back(
        "the middle of each pole lies on the circle; the tape is stretched straight between neighbours");
    row.assumptions.emplace_back("ride the inner end for a shorter step, the outer end for a longer one");
}

}  // namespace

PoleGait pole_gait_from(std::string_view word) {
    if (word == "walk") return PoleGait::walk;
    if (word == "trot") return PoleGait::trot;
    if (word == "canter") return PoleGait::canter;
    throw Refused(fmt::format("gait \"{}\": poles are laid for walk, trot or canter", word));
}

PoleRow pole_row(const PoleWish& wish) {
    within("poles", wish.poles, 1, 8, "");
    within("raised", wish.raised_cm, 0.0, 30.0, " cm");
    within("pole length", wish.pole_m, 2.0, 4.0, " m");
    const PoleRange range = range_of(wish.gait);
    PoleRow row;
    row.first_m = range.start;
    row.working_m = range.start;
    if (wish.step_m) {
        within(wish.gait == PoleGait::canter ? "stride" : "step", *wish.step_m, range.least, range.most,
               " m");
        row.working_m = *wish.step_m;
        // A horse whose step is shorter starts at its own: a distance beyond its reach makes it jump.
        row.first_m = std::min(range.start, row.working_m);
        row.assumptions.emplace_back("opened to this horse's own step, measured on the flat");
    } else {
        row.assumptions.emplace_back("this horse's step is not known: look, and move them by a hand");
    }
    if (wish.raised_cm > 0)
        row.assumptions.emplace_back(
            "raised at alternate ends; the step gets rounder, not longer: begin one hand (10 cm) shorter and "
            "look");
    const int visits =
        std::max(0, static_cast<int>(std::ceil((row.working_m - row.first_m) / kOpenBy - 1e-9)));
    for (int i = 0; i <= visits; ++i)
        row.openings.push_back(visits == 0 ? row.working_m
                                           : row.first_m + (row.working_m - row.first_m) * i / visits);
    for (int i = 0; i < wish.poles; ++i) row.tape_m.push_back(i * row.working_m);
    for (int n = std::min(2, wish.poles); n <= wish.poles; ++n) row.laid.push_back(n);
    if (wish.circle_radius_m) lay_on_circle(row, *wish.circle_radius_m, wish.pole_m);
    row.assumptions.emplace_back("a starting point: the person on the ground looks at the horse and adjusts");
    return row;
}

GridKind grid_kind_from(std::string_view word) {
    if (word == "crosses") return GridKind::crosses;
    if (word == "uprights") return GridKind::uprights;
    if (word == "rising") return GridKind::rising;
    if (word == "middle_highest") return GridKind::middle_highest;
    throw Refused(fmt::format("grid \"{}\": must be crosses, uprights, rising or middle_highest", word));
}

Grid grid(const GridWish& wish) {
    within("fences", wish.fences, 2, 4, "");
    const double top = wish.last_height_cm.value_or(40);
    within("height", top, 20.0, 80.0, " cm");
    Grid out;
    // From the small pony's to the big horse's within the bounds of a bounce; a horse that comes in at a
    // canter has more ground under it than one that trots in (from memory).
    double share = wish.canter_in ? 0.75 : 0.25;
    if (wish.withers_cm) {
        within("horse's height", *wish.withers_cm, 100.0, 190.0, " cm");
        share += (*wish.withers_cm - 160) / 60;
        out.assumptions.emplace_back("the bounce grows with the horse's height between 3.0 and 3.4 m");
    }
    out.bounce_m = kBounceM[0] + std::clamp(share, 0.0, 1.0) * (kBounceM[1] - kBounceM[0]);
    out.bounce_m = std::round(out.bounce_m * 20) / 20;  // to 5 cm: nobody lays closer
    if (!wish.canter_in) {
        out.placing_pole_m = kPlacingPoleM;
        out.assumptions.emplace_back("trot in over a pole, two or three canter strides after the last fence");
    } else {
        out.assumptions.emplace_back("a very collected canter in; else the bounces are short");
    }
    for (int i = 0; i < wish.fences; ++i) {
        const double at = out.placing_pole_m.value_or(0) + i * out.bounce_m;
        const bool middle = i == wish.fences / 2;
        double height = top;
        if (wish.kind == GridKind::rising) height = top * (wish.fences + i + 1) / (2.0 * wish.fences);
        if (wish.kind == GridKind::middle_highest && !middle) height = top * 0.75;
        out.fences.push_back({at, height, wish.kind == GridKind::crosses ? "cross" : "upright"});
    }
    out.assumptions.emplace_back("one fence first, then two, then three; low until every one goes quietly");
    out.assumptions.emplace_back("a starting point: the person on the ground looks at the horse and adjusts");
    return out;
}

Pace pace(double tempo_per_min, double stride_m) {
    within("tempo", tempo_per_min, 10.0, 200.0, " strides a minute");
    within("stride", stride_m, 0.3, 8.0, " m");
    const double m = tempo_per_min * stride_m;
    return {m, m * 0.06, m * 60 / 1609.344, stride_m, tempo_per_min};
}

double strides_over(const Pace& p, double metres) { return metres / p.stride_m; }
double seconds_over(const Pace& p, double metres) { return metres / p.metres_per_min * 60; }

double lean_deg(const Pace& p, double radius_m) {
    within("circle radius", radius_m, 3.0, 100.0, " m");
    const double v = p.metres_per_min / 60;
    return std::atan(v * v / (kGravity * radius_m)) * 180 / std::numbers::pi;
}

}  // namespace aspen::core
