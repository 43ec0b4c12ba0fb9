#include "core/proposal/reader_offset.hpp"

#include <algorithm>
#include <cmath>

#include "core/body/geometry.hpp"

namespace aspen::core {
namespace {

using L = Landmark;

constexpr double kRidersDiffer = 0.03, kOneCorrection = 0.03;  // trunk lengths, from memory
/// Nothing is known better than this of a spot on clothes.
constexpr double kLeastSd = 0.01;
/// Of the trunk: a tenth less 1.65 standard deviations of the reader's scatter.
constexpr double kBeside = 0.065;
constexpr double kShortestLimb = 0.7, kLongestLimb = 1.4;

/// Into the sums of `out`.
void add_corrections(const Figure& figure, RiderCorrections& out) {
    if (figure.view != View::side || figure.travel == Travel::unknown || !figure.measurable(L::shoulder) ||
        !figure.measurable(L::hip))
        return;
    const double trunk = distance(figure[L::shoulder].at, figure[L::hip].at);
    if (trunk < 1) return;
    const double forward = figure.travel == Travel::left ? -1 : 1, roll = radians(figure.camera.roll_deg);
    for (const L l : landmarks_of(View::side)) {
        const Mark& m = figure[l];
        if (!m.measurable() || !m.put_at || m.origin != Origin::clicked) continue;
        const Point by = unrolled({m.at.x - m.put_at->x, m.at.y - m.put_at->y}, roll);
        Corrected& c = out[l];
        c.mean.f += forward * by.x / trunk;
        c.mean.u -= by.y / trunk;
        ++c.n;
    }
}

double squared(double v) { return v * v; }

/// What is known of a value along each axis.
struct KnownOffset {
    PlanePoint mean;
    double variance;
    void and_also(PlanePoint value, double of_variance) {
        const double weight = variance / (variance + of_variance);
        mean.f += weight * (value.f - mean.f);
        mean.u += weight * (value.u - mean.u);
        variance *= 1 - weight;
    }
    void and_also(const Corrected& c, double between_riders) {
        and_also(c.mean, squared(between_riders) + squared(kOneCorrection) / c.n);
    }
};

}  // namespace

double usual_reader_offset_sd(Landmark landmark) {
    switch (landmark) {
        case L::heel:
        case L::toe:
            return 0.07;
        case L::knuckle:
            return 0.05;
        case L::poll:
            return 0.08;
        case L::withers:
            return 0.1;
        case L::croup:
            return 0.12;
        default:
            return 0.04;
    }
}

RiderCorrections corrections_in(std::span<const Figure> figures) {
    RiderCorrections out;
    for (const Figure& f : figures) add_corrections(f, out);
    for (auto& [l, c] : out) c.mean = {c.mean.f / c.n, c.mean.u / c.n};
    return out;
}

std::map<Landmark, ReaderOffset> reader_offsets(const RiderCorrections& own,
                                                std::span<const RiderCorrections> others) {
    std::map<L, KnownOffset> common;
    const auto common_of = [&](L l) -> KnownOffset& {
        const double variance = squared(usual_reader_offset_sd(l)) - squared(kRidersDiffer);
        return common.try_emplace(l, KnownOffset{{0, 0}, variance}).first->second;
    };
    for (const RiderCorrections& other : others) {
        for (const auto& [l, c] : other) common_of(l).and_also(c, kRidersDiffer);
    }
    for (const auto& [l, c] : own) common_of(l);
    std::map<Landmark, ReaderOffset> out;
    for (const auto& [l, known] : common) {
        KnownOffset here{known.mean, known.variance + squared(kRidersDiffer)};
        if (const auto c = own.find(l); c != own.end()) here.and_also(c->second, 0);
        out[l] = {here.mean, std::max(kLeastSd, std::sqrt(here.variance))};
    }
    return out;
}

Point offset_taken(Point read, const ReaderOffset& offset, const Figure& figure, double trunk_px) {
    const double forward = figure.travel == Travel::left ? -1 : 1;
    // Turned by the camera's roll, the other way about from unrolled().
    const Point by = unrolled({forward * offset.by.f * trunk_px, -offset.by.u * trunk_px},
                              -radians(figure.camera.roll_deg));
    return {read.x + by.x, read.y + by.y};
}

bool lies_beside(Point read, Point put, double trunk_px) { return distance(read, put) > kBeside * trunk_px; }

std::vector<Landmark> ends_of_unlike_limbs(const Figure& figure, const Limbs& usual) {
    struct NamedLimb {
        L from, to;
        double trunks;
    };
    const NamedLimb limbs[] = {{L::shoulder, L::elbow, usual.upper_arm},
                               {L::elbow, L::wrist, usual.forearm},
                               {L::hip, L::knee, usual.thigh},
                               {L::knee, L::ankle, usual.shank},
                               {L::ankle, L::toe, std::hypot(usual.foot - usual.ankle_ahead, usual.ankle_up)},
                               {L::heel, L::toe, usual.foot}};
    const double trunk = distance(figure[L::shoulder].at, figure[L::hip].at);
    std::vector<L> out;
    for (const NamedLimb& limb : limbs) {
        if (figure[limb.from].visibility == Visibility::absent ||
            figure[limb.to].visibility == Visibility::absent)
            continue;
        const double share =
            distance(figure[limb.from].at, figure[limb.to].at) / (limb.trunks * std::max(1.0, trunk));
        const bool from_too = std::ranges::find(out, limb.from) != out.end();
        if (from_too || share < kShortestLimb || share > kLongestLimb) out.push_back(limb.to);
    }
    return out;
}

}  // namespace aspen::core
